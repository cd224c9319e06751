/** The points a seam is laid through, and how. */
import { createStore } from 'zustand/vanilla';
import type { KnifePoint, Schemas } from '../../api/client';
import type { PointerPlace } from '../../hand/tool';

export type Seam = Schemas['SeamParams'];

export interface SeamState {
  points: KnifePoint[];
  /** Points taken back, the last one first. */
  retaken: KnifePoint[];
  way: NonNullable<Seam['way']>;
  closed: boolean;
  aim: Schemas['AimOut'] | null;
  aimedAt: PointerPlace | null;
}

export const NO_SEAM = { points: [], retaken: [], closed: false } satisfies Partial<SeamState>;

export const SEAM_DEFAULTS = { way: 'shortest' } satisfies Partial<SeamState>;

export const seamStore = createStore<SeamState>(() => ({ ...NO_SEAM, ...SEAM_DEFAULTS, aim: null, aimedAt: null }));
