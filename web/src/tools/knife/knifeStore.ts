/** The lines being planned, and what the next point would be. */
import { createStore } from 'zustand/vanilla';
import type { KnifePoint, Schemas, View } from '../../api/client';

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

export type OpenEnds = Schemas['KnifeParams']['open_ends'];

export interface PointAt {
  line: number;
  point: number;
}

export interface KnifeState {
  lines: PlanLine[];
  /** Points taken back, the last one first. */
  retaken: { point: KnifePoint; view: View | null }[];
  aim: Schemas['AimOut'] | null;
  /** The pointer that `aim` is the answer for. */
  aimedAt: [number, number] | null;
  openEnds: OpenEnds;
  through: boolean;
  /** The next point goes in after this one. */
  insertAfter: PointAt | null;
  /** The planned point that is being dragged. */
  dragged: PointAt | null;
}

export const NO_LINES = { lines: [], retaken: [], insertAfter: null, dragged: null } satisfies Partial<KnifeState>;

export const KNIFE_DEFAULTS = { openEnds: 'trim', through: false } satisfies Partial<KnifeState>;

export const knifeStore = createStore<KnifeState>(() => ({
  ...NO_LINES,
  ...KNIFE_DEFAULTS,
  aim: null,
  aimedAt: null,
}));

export function pointCount(lines: PlanLine[]): number {
  return lines.reduce((sum, line) => sum + line.points.length - (line.goesOn ? 1 : 0), 0);
}
