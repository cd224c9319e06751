/** The loop being planned, how loops run, and the one that a click would plan. */
import { createStore } from 'zustand/vanilla';
import type { Schemas } from '../../api/client';

export type LoopStep = Schemas['LoopParams'];
export type Measure = LoopStep['measure'];

/** Where the loops lie: at one place, spread over the ring, or at a typed list of places. */
export type Places =
  | { by: 'one' }
  | { by: 'spread'; count: number; ratio: number }
  | { by: 'list'; at: number[]; measure: Measure; text: string };

export interface LoopState {
  /** The edge that is planned, from the end that places count from, and the place of a single loop on it. */
  planned: { edge: [number, number]; at: number } | null;
  /** Faces of an even number of sides that the planned loop goes on through. */
  through: number[];
  places: Places;
  measure: Measure;
  extraPoints: number;
  /** The loop keeps to the picked edges of its ring. */
  alongPick: boolean;
  /** Places count from the other end of an edge. */
  flipped: boolean;
  aim: Schemas['LoopAimOut'] | null;
  /** The pointer that `aim` is the answer for. */
  aimedAt: [number, number] | null;
  /** The planned loop is being slid along its edge. */
  sliding: boolean;
}

export const NO_LOOP = { planned: null, through: [], aim: null, sliding: false } satisfies Partial<LoopState>;

export const LOOP_DEFAULTS = {
  places: { by: 'one' } as Places,
  measure: 'share',
  extraPoints: 0,
  alongPick: false,
  flipped: false,
} satisfies Partial<LoopState>;

export const loopStore = createStore<LoopState>(() => ({ ...NO_LOOP, ...LOOP_DEFAULTS, aimedAt: null }));
