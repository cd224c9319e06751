/** What the picked elements are to be worked into, and by how much; nothing is done until it is made. */
import { createStore } from 'zustand/vanilla';
import type { Schemas } from '../../api/client';

export type Work =
  | 'extrude'
  | 'inset'
  | 'take-off'
  | 'separate'
  | 'join'
  | 'bridge'
  | 'round'
  | 'flip'
  | 'dissolve'
  | 'collapse';
export type ExtrudeAlong = NonNullable<Schemas['ExtrudeParams']['along']>;

export interface ReshapeState {
  work: Work | null;
  distance: number;
  along: ExtrudeAlong;
  width: number;
  twist: number;
  diameter: number | null;
  even: boolean;
  /** The centre and the axis of the circle; as they fit, if null. */
  centre: [number, number, number] | null;
  axis: 'x' | 'y' | 'z' | null;
  /** Where the handle of an extrusion stands. */
  standing: Schemas['PlaneAimOut'] | null;
  dragging: boolean;
}

export const NO_RESHAPE = {
  work: null,
  twist: 0,
  diameter: null,
  centre: null,
  axis: null,
  standing: null,
  dragging: false,
} satisfies Partial<ReshapeState>;

export const reshapeStore = createStore<ReshapeState>(() => ({
  ...NO_RESHAPE,
  distance: 5,
  along: 'normal',
  width: 2,
  even: false,
}));
