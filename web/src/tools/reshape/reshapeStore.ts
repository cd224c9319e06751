/** Which work is planned on what is picked, and the numbers of every work; nothing is done until it is made. */
import { createStore } from 'zustand/vanilla';

interface ReshapeState {
  /** The name of the work that is planned. */
  work: string | null;
  /** The numbers of every work that were set, by its name. */
  numbers: Record<string, object>;
  /** A handle of the work is held. */
  dragging: boolean;
}

export const reshapeStore = createStore<ReshapeState>(() => ({ work: null, numbers: {}, dragging: false }));
