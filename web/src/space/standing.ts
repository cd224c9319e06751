/** Where a part stands on the table, as a picture needs it: a turn as a quaternion, then a move. */
import type { Place } from './projection';

export type Quaternion = readonly [number, number, number, number];

export interface Standing {
  move: Place;
  /** x, y, z and w. */
  turn: Quaternion;
}

interface Placement {
  move?: readonly number[];
  /** Degrees about the x, then the y, then the z axis of the table. */
  turn?: readonly number[];
}

export const AT_HOME: Standing = { move: [0, 0, 0], turn: [0, 0, 0, 1] };

export function standingOf({ move = [0, 0, 0], turn = [0, 0, 0] }: Placement): Standing {
  const [x = 0, y = 0, z = 0] = turn;
  const whole = times(about(2, z), times(about(1, y), about(0, x)));
  return { move: [move[0] ?? 0, move[1] ?? 0, move[2] ?? 0], turn: whole };
}

/** The same, moved on. */
export const movedBy = ({ move, turn }: Standing, by: Place): Standing => ({ move: plus(move, by), turn });

/** Where what stands somewhere comes to by a turn and then a move of the table. */
export const carriedBy = (standing: Standing, turn: Quaternion, move: Place): Standing => ({
  move: plus(turnedBy(turn, standing.move), move),
  turn: times(turn, standing.turn),
});

/** A place of the part as it stands on the table. */
export const onTable = ({ move, turn }: Standing, place: Place): Place => plus(turnedBy(turn, place), move);

/** A direction of the table as the part has it. */
export const asPartHas = ({ turn: [x, y, z, w] }: Standing, direction: Place): Place =>
  turnedBy([-x, -y, -z, w], direction);

const plus = (a: Place, b: Place): Place => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];

function about(axis: 0 | 1 | 2, degrees: number): Quaternion {
  const half = (degrees * Math.PI) / 360;
  const made: [number, number, number, number] = [0, 0, 0, Math.cos(half)];
  made[axis] = Math.sin(half);
  return made;
}

function times([a, b, c, d]: Quaternion, [x, y, z, w]: Quaternion): Quaternion {
  return [
    d * x + a * w + b * z - c * y,
    d * y - a * z + b * w + c * x,
    d * z + a * y - b * x + c * w,
    d * w - a * x - b * y - c * z,
  ];
}

function turnedBy([x, y, z, w]: Quaternion, [a, b, c]: Place): Place {
  // Twice the cross product of the axis and the place, and what follows of it.
  const [u, v, t] = [2 * (y * c - z * b), 2 * (z * a - x * c), 2 * (x * b - y * a)];
  return [a + w * u + y * t - z * v, b + w * v + z * u - x * t, c + w * t + x * v - y * u];
}
