/** The outlines in hand, the sheet they stand on before the part, and how they come onto it. */
import { createStore } from 'zustand/vanilla';
import type { Schemas, View } from '../../api/client';

export type OutlineStep = Schemas['OutlineParams'];
export type Standing = Schemas['SheetAimOut'];
export type PlacedSheet = Schemas['PlacedSheet'];
export type Facing = NonNullable<Schemas['SheetAimIn']['facing']>;
export type SheetHandle = NonNullable<Schemas['SheetAimIn']['handle']>;
type Weave = Required<Schemas['Weave']>;
export type Copies = Schemas['SheetAimIn']['copies'];

export interface OutlineState {
  /** The outlines that are to be projected, by number, and what the patch inside is to be called. */
  chosen: number[];
  patch: string;
  /** The sheet that was placed, and the view it was placed in. */
  standing: Standing | null;
  view: View | null;
  /** Where the sheet would be placed under the pointer. */
  ghost: Standing | null;
  dragged: SheetHandle | null;
  facing: Facing;
  along: 'sheet' | 'view';
  through: boolean;
  settle: number;
  count: number | null;
  collar: number;
  tie: NonNullable<OutlineStep['tie']>;
  /** Woven into its surroundings, with what lies inside; null for cut in as it falls. */
  weave: Weave['inside'] | null;
  /** How far the surface may move by that; null for as far as it does. */
  mostOff: number | null;
  /** What lies inside is taken out: right through, or to a depth. */
  takes: 'nothing' | 'hole' | 'pocket';
  depth: number;
  floor: NonNullable<Schemas['Pocket']['floor']>;
  copies: Copies;
  turn: number;
  scale: number;
}

export const NO_SHEET = { standing: null, view: null, ghost: null, dragged: null } satisfies Partial<OutlineState>;

export const OUTLINE_DEFAULTS = {
  facing: 'face' as Facing,
  along: 'sheet',
  through: false,
  settle: 0,
  count: null,
  collar: 0,
  tie: 'links' as const,
  weave: null,
  mostOff: null,
  takes: 'nothing' as const,
  depth: 5,
  floor: 'as the surface' as const,
  copies: null,
  turn: 0,
  scale: 1,
} satisfies Partial<OutlineState>;

export const outlineStore = createStore<OutlineState>(() => ({
  ...NO_SHEET,
  ...OUTLINE_DEFAULTS,
  chosen: [],
  patch: '',
}));
