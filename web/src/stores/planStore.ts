/** What is being planned. Nothing here is part of the document until the cut is made. */
import { createStore } from 'zustand/vanilla';
import type { KnifePoint, Schemas, View } from '../api/client';
import { DEFAULT_LOCK, DEFAULT_STOPS } from '../options';

export interface PlanLine {
  points: KnifePoint[];
  /** Where the line was aimed from; null as long as it has no point. */
  view: View | null;
  /** What that view is called. */
  viewName: string;
  closed: boolean;
  /** The line goes on from the end of the one before, from where the view had turned. */
  goesOn: boolean;
}

/** Equal stops along an edge: by share, by length from the lower vertex, or none. */
export type Stops = { share: number } | { length: number } | null;
export type Lock = Required<Schemas['Lock']>;
export type Mirror = Schemas['Mirror'];
export type OpenEnds = Schemas['KnifeParams']['open_ends'];
export type TypedKind = 'share' | 'angle' | 'length';

export interface PointAt {
  line: number;
  point: number;
}

export interface PlanState {
  lines: PlanLine[];
  /** Points taken back, the last one first. */
  retaken: { point: KnifePoint; view: View | null }[];
  plan: Schemas['PlanOut'] | null;
  /** The lines that `plan` is the answer for. */
  planFor: PlanLine[] | null;
  aim: Schemas['AimOut'] | null;
  /** The pointer that `aim` is the answer for. */
  aimedAt: [number, number] | null;
  pointer: [number, number] | null;
  stops: Stops;
  lock: Lock;
  mirror: Mirror | null;
  openEnds: OpenEnds;
  through: boolean;
  /** No settling on stops and vertices while Alt is held. */
  free: boolean;
  /** The next point sits on the half of the edge under the pointer. */
  half: boolean;
  /** The next point goes in after this one. */
  insertAfter: PointAt | null;
  /** The planned point that is being dragged. */
  dragged: PointAt | null;
  /** A number being typed at the pointer, and what it will be. */
  typing: { kind: TypedKind; text: string } | null;
  /** Why the plan can't be made or shown just now. */
  trouble: string | null;
  /** A row or point that is pointed at, as "line.point". */
  lit: string | null;
}

export const EMPTY_PLAN = {
  lines: [],
  retaken: [],
  plan: null,
  planFor: null,
  trouble: null,
  lit: null,
  half: false,
  insertAfter: null,
  dragged: null,
  typing: null,
} satisfies Partial<PlanState>;

export const DEFAULT_SETTINGS = {
  stops: DEFAULT_STOPS,
  lock: DEFAULT_LOCK,
  mirror: null,
  openEnds: 'trim',
  through: false,
} satisfies Partial<PlanState>;

export const planStore = createStore<PlanState>(() => ({
  ...EMPTY_PLAN,
  ...DEFAULT_SETTINGS,
  aim: null,
  aimedAt: null,
  pointer: null,
  free: false,
}));

export function pointCount(lines: PlanLine[]): number {
  return lines.reduce((sum, line) => sum + line.points.length - (line.goesOn ? 1 : 0), 0);
}
