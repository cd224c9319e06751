/** The strokes drawn over the part, and what they are to do. */
import { createStore } from 'zustand/vanilla';
import type { KnifePoint, Schemas, View } from '../../api/client';
import type { PointerPlace } from '../../hand/tool';

export type Score = Schemas['FreehandParams'];
export type Thin = Schemas['ThinParams'];

export interface DrawnStroke {
  points: PointerPlace[];
  /** Where its ends settled on the part, if they did. */
  start: KnifePoint | null;
  end: KnifePoint | null;
  view: View;
}

/** Where along the edges it crosses a score lies. */
export type At = 'as crossed' | 'share' | 'spread';

/** What becomes of the edges that a thinning stroke crosses. */
export type Goes = 'dissolve' | 'crossing' | 'middle' | 'share';

export interface FreehandState {
  does: 'score' | 'thin';
  strokes: DrawnStroke[];
  /** Strokes taken back, the last one first. */
  retaken: DrawnStroke[];
  /** The stroke under way: what the button has drawn, or the place of a first click. */
  drawing: { points: PointerPlace[]; start: KnifePoint | null; clicked: boolean } | null;
  aim: Schemas['AimOut'] | null;
  aimedAt: PointerPlace | null;
  keeps: NonNullable<Score['keeps']>;
  straight: boolean;
  within: number;
  smooth: number;
  at: At;
  share: number;
  count: number;
  ratio: number;
  openEnds: NonNullable<Score['open_ends']>;
  goes: Goes;
  loops: boolean;
  keepVertices: boolean;
  /** Turn in degrees up to which a vertex left with two edges counts as straight, and goes. */
  straightWithin: number;
  through: boolean;
}

export const NO_STROKES = { strokes: [], retaken: [], drawing: null } satisfies Partial<FreehandState>;

export const FREEHAND_DEFAULTS = {
  does: 'score',
  keeps: 'shape',
  straight: false,
  within: 1.5,
  smooth: 0,
  at: 'as crossed',
  share: 0.5,
  count: 3,
  ratio: 1,
  openEnds: 'trim',
  goes: 'dissolve',
  loops: false,
  keepVertices: false,
  straightWithin: 1,
  through: false,
} satisfies Partial<FreehandState>;

export const freehandStore = createStore<FreehandState>(() => ({
  ...NO_STROKES,
  ...FREEHAND_DEFAULTS,
  aim: null,
  aimedAt: null,
}));
