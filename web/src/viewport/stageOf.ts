/** The stage that is on the screen, for what moves the camera or asks it for places. */
import type { ViewName } from '../stores/viewStore';
import type { Stage } from './stage';

export const stageOf: { current: Stage | null } = { current: null };

export function takeView(name: ViewName): void {
  void stageOf.current?.takeView(name);
}

/** What was opened over the part is closed: the keys go to the part again. */
export function goOnAtThePart(event: Event): void {
  event.preventDefault();
  stageOf.current?.focus();
}
