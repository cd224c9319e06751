/** The stage that is on the screen, for commands that move the camera. */
import type { Stage } from './stage';

export const stageOf: { current: Stage | null } = { current: null };
