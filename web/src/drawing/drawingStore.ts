/** The drawing behind the part: whether it is shown, which one, and what clicks on it mean just now. */
import { createStore } from 'zustand/vanilla';
import type { Flat } from '../space/projection';

export type DrawingMode = 'look' | 'move' | 'calibrate' | 'heights' | 'widths';

interface DrawingState {
  on: boolean;
  chosen: number | null;
  mode: DrawingMode;
  /** The places clicked so far, for what takes two. */
  clicked: Flat[];
}

export const drawingStore = createStore<DrawingState>(() => ({ on: false, chosen: null, mode: 'look', clicked: [] }));

export function toggleDrawing(): void {
  drawingStore.setState(({ on }) => ({ on: !on, mode: 'look', clicked: [] }));
}

export function setMode(mode: DrawingMode): void {
  drawingStore.setState((now) => ({ mode: now.mode === mode ? 'look' : mode, clicked: [] }));
}
