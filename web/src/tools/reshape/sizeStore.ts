/** The size that the pick, or the whole part, is to be given, and what stays where it is. */
import { createStore } from 'zustand/vanilla';
import type { Place } from '../../space/projection';

export type Triple<Value> = [Value, Value, Value];
export type About = 'centre' | 'part' | 'low' | 'high' | 'vertex';

export interface SizeState {
  extent: Triple<number | null>;
  diameter: number | null;
  move: Triple<number>;
  about: About;
  /** What is measured along beside the axes: the direction of an edge that was picked. */
  along: Place | null;
}

export const NO_SIZE = {
  extent: [null, null, null] as Triple<number | null>,
  diameter: null,
  move: [0, 0, 0] as Triple<number>,
} satisfies Partial<SizeState>;

export const sizeStore = createStore<SizeState>(() => ({ ...NO_SIZE, about: 'centre', along: null }));
