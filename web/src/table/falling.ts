/** The pictures of a fall, one after the other, at the speed of the fall. */
import { tableStore } from '../stores/tableStore';

let running = 0;

/** Play the fall from its beginning; where motion is to be spared, show how it ends. */
export function play(): void {
  cancelAnimationFrame(running);
  const { falling } = tableStore.getState();
  if (!falling) return;
  const last = falling.seen.seconds.length - 1;
  if (matchMedia('(prefers-reduced-motion: reduce)').matches) {
    showFrame(last);
    return;
  }
  const began = performance.now();
  const step = (now: number): void => {
    const passed = (now - began) / 1000;
    const frame = falling.seen.seconds.findLastIndex((second) => second <= passed);
    if (!showFrame(Math.max(frame, 0)) || frame >= last) return;
    running = requestAnimationFrame(step);
  };
  running = requestAnimationFrame(step);
}

/** Show one picture of the fall; false if there is none any more. */
export function showFrame(frame: number): boolean {
  const { falling } = tableStore.getState();
  if (!falling) return false;
  if (falling.frame !== frame) tableStore.setState({ falling: { ...falling, frame } });
  return true;
}

export function endFall(): void {
  cancelAnimationFrame(running);
  tableStore.setState({ falling: null });
}
