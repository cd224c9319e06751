/** The fixed views. */
import type { Place } from '../space/projection';
import type { ViewName } from '../stores/viewStore';

/** What each looks along, and which way is up on the screen. */
export const STANDARD_VIEWS: Record<Exclude<ViewName, 'perspective'>, { forward: Place; up: Place }> = {
  front: { forward: [0, 0, -1], up: [0, 1, 0] },
  back: { forward: [0, 0, 1], up: [0, 1, 0] },
  left: { forward: [1, 0, 0], up: [0, 1, 0] },
  right: { forward: [-1, 0, 0], up: [0, 1, 0] },
  top: { forward: [0, -1, 0], up: [0, 0, -1] },
  bottom: { forward: [0, 1, 0], up: [0, 0, 1] },
};
