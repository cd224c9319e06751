/** What the picked elements are to be worked into, and by how much; nothing is done until it is made. */
import { createStore } from 'zustand/vanilla';
import type { Schemas } from '../../api/client';
import type { Three } from '../../ui/rows';

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
  | 'collapse'
  | 'weld'
  | 'weld-onto'
  | 'split-apart'
  | 'fill'
  | 'circle'
  | 'quads'
  | 'triangulate'
  | 'join-triangles'
  | 'divide'
  | 'flatten'
  | 'line-up'
  | 'facing'
  | 'strays'
  | 'clean'
  | 'shards'
  | 'thicken'
  | 'each-body'
  | 'subdivide'
  | 'hard'
  | 'hard-by-angle'
  | 'move'
  | 'slide'
  | 'relax'
  | 'bevel';
export type ExtrudeAlong = NonNullable<Schemas['ExtrudeParams']['along']>;
export type CollapseTo = NonNullable<Schemas['CollapseParams']['to']>;
export type FillBy = NonNullable<Schemas['FillParams']['by']>;
export type CircleTie = NonNullable<Schemas['CircleParams']['tie']>;
export type CleanTo = NonNullable<Schemas['CleanPatchParams']['to']>;
export type LineUpTo = NonNullable<Schemas['LineUpParams']['to']>;

export type Axis = 'x' | 'y' | 'z';
export type Grip = Schemas['Held']['grip'];
export type Curve = NonNullable<Schemas['Falloff']['curve']>;

/** How far the pick was moved by its handles; each way counts for itself. */
export interface Moving {
  way: Schemas['Held']['way'];
  by: Three;
  axis: Three;
  degrees: number;
  factors: Three;
  /** The handle that was held last: what is typed goes along it. */
  grip: Grip;
}

export const AT_REST: Moving = {
  way: 'shift',
  by: [0, 0, 0],
  axis: [0, 1, 0],
  degrees: 0,
  factors: [1, 1, 1],
  grip: 'y',
};

type ShardsStep = Required<Schemas['ShardsParams']>;
export type ShardsBy = ShardsStep['by'];

export interface ReshapeState {
  work: Work | null;
  distance: number;
  along: ExtrudeAlong;
  width: number;
  twist: number;
  /** Rows of vertices between the ends of a bridge. */
  steps: number;
  diameter: number | null;
  even: boolean;
  /** The centre and the axis of the circle; as they fit, if null. */
  centre: [number, number, number] | null;
  axis: 'x' | 'y' | 'z' | null;
  /** Where a pick collapses to; a typed place goes before that. */
  to: CollapseTo;
  at: [number, number, number] | null;
  share: number;
  /** What would break the surface is done all the same. */
  anyway: boolean;
  within: number;
  keepVertices: boolean;
  fillBy: FillBy;
  circle: { diameter: number; count: number; turn: number; tie: CircleTie };
  columns: number;
  rows: number;
  /** How far faces that are joined may lean against each other, in degrees. */
  lean: number;
  /** Which way to cut a face is taken, which one is only looked at, and corners of it that are joined by hand. */
  way: number;
  seen: number | null;
  corners: [number, number][];
  /** Clicks join corners of the face; the first of a pair. */
  joining: boolean;
  corner: number | null;
  lineUp: LineUpTo;
  straight: number;
  borders: boolean;
  /** What a cleaned patch is laid in, whether what lies off its plane stays, and what counts as flat. */
  cleanTo: CleanTo;
  heights: boolean;
  flatWithin: number;
  /** How the part breaks. */
  shards: Pick<ShardsStep, 'by' | 'cap' | 'inside' | 'thickness' | 'as_parts'>;
  thickness: number;
  rounds: number;
  hardness: 'hard' | 'soft' | 'crease';
  creaseStrength: number;
  bend: number;
  moving: Moving;
  /** Where the handles of the pick stand, and what they have settled on. */
  handles: Schemas['HandleAimOut'] | null;
  /** The place they stand at instead of the middle. */
  pivot: Three | null;
  falloff: { rings: number; curve: Curve };
  /** Places settle on whole lengths instead of what they are moved by. */
  grid: boolean;
  slide: { by: number; measure: 'share' | 'distance'; even: boolean; towards: Axis };
  relax: { strength: number; rounds: number; onSurface: boolean };
  bevel: { width: number; rounds: number; profile: number };
  /** Where the handle of an extrusion stands. */
  standing: Schemas['PlaneAimOut'] | null;
  dragging: boolean;
}

export const NO_RESHAPE = {
  work: null,
  twist: 0,
  steps: 0,
  diameter: null,
  centre: null,
  axis: null,
  at: null,
  anyway: false,
  way: 0,
  seen: null,
  corners: [],
  joining: false,
  corner: null,
  standing: null,
  dragging: false,
  handles: null,
  pivot: null,
} satisfies Partial<ReshapeState>;

export const reshapeStore = createStore<ReshapeState>(() => ({
  ...NO_RESHAPE,
  distance: 5,
  along: 'normal',
  width: 2,
  even: false,
  to: 'middle',
  share: 0.5,
  within: 0.1,
  keepVertices: false,
  fillBy: 'one face',
  circle: { diameter: 10, count: 8, turn: 0, tie: 'spokes' },
  columns: 2,
  rows: 2,
  lean: 25,
  lineUp: 'straight',
  straight: 1,
  borders: false,
  cleanTo: 'one face',
  heights: false,
  flatWithin: 1e-4,
  shards: { by: { way: 'cells', count: 12, seed: 1 }, cap: true, inside: 'Inside', thickness: 0, as_parts: true },
  thickness: -2,
  rounds: 1,
  hardness: 'hard',
  creaseStrength: 0.5,
  bend: 40,
  moving: AT_REST,
  falloff: { rings: 0, curve: 'smooth' },
  grid: false,
  slide: { by: 0, measure: 'share', even: false, towards: 'x' },
  relax: { strength: 0.5, rounds: 10, onSurface: true },
  bevel: { width: 2, rounds: 1, profile: 1 },
}));
