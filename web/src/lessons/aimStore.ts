/** The places on the part that a lesson names. */
import { createStore } from 'zustand/vanilla';
import type { Place } from '../space/projection';

export const aimStore = createStore<{ aims: readonly Place[] }>(() => ({ aims: [] }));

export function aimAt(aims: readonly Place[]): void {
  aimStore.setState({ aims });
}
