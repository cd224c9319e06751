/** The list of distances being planned, and what they are measured along. */
import { createStore } from 'zustand/vanilla';
import type { Schemas } from '../../api/client';
import type { Place } from '../../space/projection';

export type GaugeStep = Schemas['GaugeParams'];
export type ProfileStep = Schemas['ProfileParams'];
export type Axis = NonNullable<GaugeStep['axis']>;
export type Along = Axis | 'edge' | 'face';

export interface GaugeState {
  widths: number[];
  /** The diameter of the ring at each cut, where it is to be sized; as many as there are widths. */
  diameters: (number | null)[];
  along: Along;
  /** The direction of the edge or face that was picked. */
  direction: Place | null;
  start: GaugeStep['start'];
  measure: GaugeStep['measure'];
  tilt: { about: Axis; degrees: number };
  /** The cut that is being dragged. */
  dragged: number | null;
}

export const NO_WIDTHS = { widths: [], diameters: [], dragged: null } satisfies Partial<GaugeState>;

export const GAUGE_DEFAULTS = {
  along: 'y' as Along,
  direction: null,
  start: 'low',
  measure: 'gaps',
  tilt: { about: 'x' as Axis, degrees: 0 },
} satisfies Partial<GaugeState>;

export const gaugeStore = createStore<GaugeState>(() => ({ ...NO_WIDTHS, ...GAUGE_DEFAULTS }));
