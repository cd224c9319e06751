/** Whether a pointer is near enough to something drawn to take hold of it. */
import { FINGER_REACH, GRAB_WITHIN_PX } from '../options';
import type { Pixel } from '../space/projection';
import { preferencesStore } from '../stores/preferencesStore';
import { pointedByFinger } from '../ui/modality';

export function inReach(at: Pixel | null, [x, y]: readonly [number, number]): boolean {
  const { marks } = preferencesStore.getState();
  const within = GRAB_WITHIN_PX * Math.max(1, marks) * (pointedByFinger() ? FINGER_REACH : 1);
  return at !== null && Math.hypot(at[0] - x, at[1] - y) <= within;
}
