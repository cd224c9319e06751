/** The plan of the tool in hand, and the settings that tools share. Nothing here is part of the document until the cut is made. */
import { createStore } from 'zustand/vanilla';
import type { Schemas } from '../api/client';
import { LIMITS } from '../api/limits';
import { DEFAULT_LOCK } from '../options';
import { preferencesStore } from './preferencesStore';

/** Equal stops along an edge: by share, by length from the lower vertex, or none. */
export type Stops = { share: number } | { length: number } | null;
export type Lock = Required<Schemas['Lock']>;
export type Mirror = Schemas['Mirror'];
export type Finish = NonNullable<Schemas['KnifeParams']['finish']>;
export type Woven = Required<Omit<Schemas['Woven'], 'most_off'>>;
export type TypedKind = 'share' | 'angle' | 'length';

export interface PlanState {
  /** Something is planned that has not been made. */
  planned: boolean;
  plan: Schemas['PlanOut'] | null;
  /** The step that `plan` is the answer for, as text. */
  planFor: string | null;
  pointer: [number, number] | null;
  stops: Stops;
  lock: Lock;
  mirror: Mirror | null;
  /** What the faces that a cut touches end as. */
  finish: Finish;
  /** How a line is woven in. */
  woven: Woven;
  /** The plan finished in every way there is, for the step as text, and the row that is pointed at. */
  compared: { of: string; rows: Schemas['FinishOut'][] } | null;
  comparedAt: number | null;
  /** How far new vertices are set onto the curve of the row that each crossed edge is in. */
  follow: number;
  /** New edges at which the surface bends by more degrees than this are hard; null for none. */
  hardAbove: number | null;
  /** No settling on stops and vertices while Alt is held. */
  free: boolean;
  /** The mark sits on the half of the edge under the pointer. */
  half: boolean;
  /** A number being typed at the pointer, and what it will be. */
  typing: { kind: TypedKind; text: string } | null;
  /** The part is drawn as the plan would leave it. */
  drawn: boolean;
  /** The plan has been asked for, or its ways compared, and is not answered yet. */
  working: boolean;
  comparing: boolean;
  /** Why the plan can't be made or shown just now. */
  trouble: string | null;
  /** The plan was changed, which can be taken back; a change was taken back, which can be put again. */
  canTakeBack: boolean;
  canPutAgain: boolean;
  /** The tool whose plan was let go last, with nothing done since: undo brings it back. */
  letGo: string | null;
  /** A row or point that is pointed at, as "line.point". */
  lit: string | null;
}

type Extra = NonNullable<Schemas['PlanOut']['extra']>;

/** What the plan of one tool shows beyond the common part; null while that tool has no plan. */
export function extraOf<Of extends Extra['of']>(
  plan: Schemas['PlanOut'] | null,
  of: Of,
): Extract<Extra, { of: Of }> | null {
  return plan?.extra?.of === of ? (plan.extra as Extract<Extra, { of: Of }>) : null;
}

/** How lines are woven in unless it is said otherwise. */
export const WOVEN: Woven = { even_to: LIMITS.Woven.even_to.first, most_moved: LIMITS.Woven.most_moved.first };

export const NO_PLAN = {
  planned: false,
  plan: null,
  planFor: null,
  drawn: false,
  trouble: null,
  lit: null,
  half: false,
  typing: null,
  compared: null,
  comparedAt: null,
} satisfies Partial<PlanState>;

/** What the shared settings are until they are changed: as the person prefers. */
export function sharedDefaults(): Pick<
  PlanState,
  'stops' | 'lock' | 'mirror' | 'finish' | 'woven' | 'follow' | 'hardAbove'
> {
  const { stops, angleStep } = preferencesStore.getState();
  return {
    stops,
    lock: { ...DEFAULT_LOCK, degrees: angleStep },
    mirror: null,
    finish: 'as cut',
    woven: WOVEN,
    follow: 0,
    hardAbove: null,
  };
}

export const planStore = createStore<PlanState>(() => ({
  ...NO_PLAN,
  ...sharedDefaults(),
  pointer: null,
  free: false,
  working: false,
  comparing: false,
  canTakeBack: false,
  canPutAgain: false,
  letGo: null,
}));

/** How the mark settles, as the service takes it. */
export function settlingOf({ stops, free, half }: PlanState): Schemas['Settling'] {
  return {
    step: stops && 'share' in stops ? stops.share : null,
    every: stops && 'length' in stops ? stops.length : null,
    free,
    half,
  };
}
