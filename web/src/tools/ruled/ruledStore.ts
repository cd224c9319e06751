/** The bases that lines are ruled from, and how. */
import { createStore } from 'zustand/vanilla';
import type { Schemas } from '../../api/client';
import type { PointerPlace } from '../../hand/tool';

export type Ruled = Schemas['RuledParams'];
export type EdgeEnds = [number, number];

/** How the places of lines are given. */
export type Places =
  | { by: 'count'; count: number; ratio: number }
  | { by: 'spacing'; every: number }
  | { by: 'list'; at: number[]; measure: NonNullable<Ruled['measure']>; text: string };

export interface RuledBase {
  edge: EdgeEnds;
  /** The lines wanted of its places, by number; null for all. */
  lines: number[] | null;
}

export interface RuledState {
  bases: RuledBase[];
  side: NonNullable<Ruled['side']>;
  places: Places;
  degrees: number;
  /** The edge that lines run along, in place of an angle. */
  along: EdgeEnds | null;
  ends: NonNullable<Ruled['ends']>;
  leaning: NonNullable<Ruled['leaning']>;
  /** The next click says which edge lines run along. */
  asking: boolean;
  /** The edge under the pointer, by number. */
  under: number | null;
  aimedAt: PointerPlace | null;
}

export const NO_RULED = { bases: [], asking: false, under: null } satisfies Partial<RuledState>;

export const RULED_DEFAULTS = {
  side: 'edge',
  places: { by: 'count', count: 3, ratio: 1 },
  degrees: 90,
  along: null,
  ends: 'border',
  leaning: 'one way',
} satisfies Partial<RuledState>;

export const ruledStore = createStore<RuledState>(() => ({ ...NO_RULED, ...RULED_DEFAULTS, aimedAt: null }));
