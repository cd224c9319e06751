/** The slice being planned: its line or plane, and what becomes of the sides. */
import { createStore } from 'zustand/vanilla';
import type { Schemas, View } from '../../api/client';

export type SliceStep = Schemas['SliceParams'];
export type Then = SliceStep['then'];
export type Placed = Schemas['PlacedPlane'];
export type Handle = NonNullable<Schemas['PlaneAimIn']['handle']>;
type Pixel = [number, number];

export interface SliceState {
  /** A line across a view: what lies right of it, on the way along, is its scrap. */
  line: { from: Pixel; to: Pixel; view: View } | null;
  /** The first end of a line that has no other yet. */
  start: Pixel | null;
  /** A plane placed by axis, face or vertices, and where it stands. */
  placed: Placed | null;
  standing: Schemas['PlaneAimOut'] | null;
  after: Then;
  gap: [number, number, number];
  asParts: boolean;
  cap: boolean;
  through: boolean;
  count: number;
  spacing: number;
  aim: Schemas['SliceAimOut'] | null;
  /** The pointer that `aim` is the answer for. */
  aimedAt: Pixel | null;
  /** What is being dragged: a fresh line, an end of the planned one, or a handle of the plane. */
  dragged: 'fresh' | 'from' | 'to' | Handle | null;
}

export const NO_SLICE = {
  line: null,
  start: null,
  placed: null,
  standing: null,
  aim: null,
  dragged: null,
} satisfies Partial<SliceState>;

export const SLICE_DEFAULTS = {
  after: 'keep' as Then,
  gap: [0, 0, 0] as [number, number, number],
  asParts: false,
  cap: false,
  through: true,
  count: 1,
  spacing: 10,
} satisfies Partial<SliceState>;

export const sliceStore = createStore<SliceState>(() => ({ ...NO_SLICE, ...SLICE_DEFAULTS, aimedAt: null }));
