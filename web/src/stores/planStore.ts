/** What is being planned. Nothing here is part of the document until the cut is made. */
import { createStore } from 'zustand/vanilla';
import type { KnifePoint, Schemas, View } from '../api/client';
import { DEFAULT_STOP_STEP } from '../options';

export interface PlanLine {
  points: KnifePoint[];
  /** Where the line was aimed from; null as long as it has no point. */
  view: View | null;
  /** The line goes on from the end of the one before, from where the view had turned. */
  goesOn: boolean;
}

export interface PlanState {
  lines: PlanLine[];
  /** Points taken back, the last one first. */
  retaken: { point: KnifePoint; view: View | null }[];
  plan: Schemas['PlanOut'] | null;
  aim: Schemas['AimOut'] | null;
  /** The pointer that `aim` is the answer for. */
  aimedAt: [number, number] | null;
  pointer: [number, number] | null;
  /** Share between stops; null for none. */
  step: number | null;
  through: boolean;
  /** No settling on stops and vertices while Alt is held. */
  free: boolean;
  /** The next point sits on the half of the edge under the pointer. */
  half: boolean;
  /** Why the plan can't be made or shown just now. */
  trouble: string | null;
  /** A row or point that is pointed at, as "line.point". */
  lit: string | null;
}

export const EMPTY_PLAN = {
  lines: [],
  retaken: [],
  plan: null,
  trouble: null,
  lit: null,
  half: false,
} satisfies Partial<PlanState>;

export const planStore = createStore<PlanState>(() => ({
  ...EMPTY_PLAN,
  aim: null,
  aimedAt: null,
  pointer: null,
  step: DEFAULT_STOP_STEP,
  through: false,
  free: false,
}));

export function pointCount(lines: PlanLine[]): number {
  return lines.reduce((sum, line) => sum + line.points.length - (line.goesOn ? 1 : 0), 0);
}
