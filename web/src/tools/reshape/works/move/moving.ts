/** How far the pick was moved by its handles. */
import type { Schemas } from '../../../../api/client';
import type { Three } from '../../../../ui/rows';

export type Grip = Schemas['Held']['grip'];
export type Curve = NonNullable<Schemas['Falloff']['curve']>;

/** Each way counts for itself. */
export interface Moving {
  way: Schemas['Held']['way'];
  by: Three;
  axis: Three;
  degrees: number;
  factors: Three;
  /** The handle that was held last: what is typed goes along it. */
  grip: Grip;
}

export const AT_REST: Moving = {
  way: 'shift',
  by: [0, 0, 0],
  axis: [0, 1, 0],
  degrees: 0,
  factors: [1, 1, 1],
  grip: 'y',
};

/** What the handles say, as a step has it; null while nothing is moved. */
export function moveOf(
  { way, by, axis, degrees, factors }: Moving,
  handles: Schemas['HandleAimOut'] | null,
): Schemas['MoveParams']['move'] | null {
  const about = handles?.middle;
  if (!about) return null;
  if (way === 'shift') return by.some((value) => value !== 0) ? { way, by } : null;
  if (way === 'turn') return degrees === 0 ? null : { way, about, axis, degrees };
  return factors.some((value) => value !== 1) ? { way, about, factors } : null;
}
