"""Where a part stands on the table: turned, then moved."""

from __future__ import annotations

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats
from cutcore.geometry.axes import AXES, Axis
from cutcore.geometry.camera import Vector
from cutcore.geometry.vectors import PARALLEL
from cutcore.params import LARGEST, Params

# Angles and lengths that are worked out are rounded to so many decimals: a quarter turn stays one.
DECIMALS = 9
# Angles are smaller than others if their sum is, by so many degrees.
SMALLER_BY = 1e-6


class Placement(Params):
    """A place and a turn: `turn` in degrees, right-handed about the x axis, then the y axis, then
    the z axis of the table; then `move`."""

    move: Vector = (0.0, 0.0, 0.0)
    turn: Vector = (0.0, 0.0, 0.0)

    @property
    def rotation(self) -> Floats:
        """The turn as a matrix (3, 3); quarter turns are exact."""
        made = np.eye(3)
        for axis, degrees in enumerate(self.turn):
            made = _about(axis, degrees) @ made
        return made

    @property
    def at_home(self) -> bool:
        """Whether nothing is moved or turned."""
        return not any(self.move) and np.array_equal(self.rotation, np.eye(3))

    def places(self, points: Floats) -> Floats:
        """Points (n, 3) of the part as they stand on the table."""
        if self.at_home:
            return points
        return np.asarray(points @ self.rotation.T + np.array(self.move))

    def local(self, points: Floats) -> Floats:
        """Places (n, 3) on the table as points of the part."""
        return np.asarray((points - np.array(self.move)) @ self.rotation)

    def after(self, first: Placement) -> Placement:
        """What it comes to to be placed by another one, and then by this."""
        if self.at_home or first.at_home:
            return first if self.at_home else self
        move = self.rotation @ np.array(first.move) + np.array(self.move)
        return placed_by(self.rotation @ first.rotation, move)

    @property
    def undone(self) -> Placement:
        """What takes a part back from here."""
        return placed_by(self.rotation.T, -self.rotation.T @ np.array(self.move))

    def then(self, rotation: Floats, about: Floats, move: Floats) -> Placement:
        """This placement turned by a matrix (3, 3) about a place (3,), then moved by (3,)."""
        return placed_by(
            rotation @ self.rotation, rotation @ (np.array(self.move) - about) + about + move
        )


def placed_by(rotation: Floats, move: Floats) -> Placement:
    """The placement with a turn given as a matrix (3, 3) and a move (3,); of the turns that come to
    the same, one with small angles. Raises StepError if it is further away than can be reckoned
    with."""
    level = float(np.hypot(rotation[0, 0], rotation[1, 0]))
    y = float(np.arctan2(-rotation[2, 0], level))
    if level > PARALLEL:
        x = float(np.arctan2(rotation[2, 1], rotation[2, 2]))
        z = float(np.arctan2(rotation[1, 0], rotation[0, 0]))
    else:
        # The x and the z axis fall together: all of the turn about them is told as one about x.
        x, z = float(np.arctan2(-rotation[1, 2], rotation[1, 1])), 0.0
    turn = np.degrees([x, y, z])
    other = np.array([turn[0] - 180, 180 - turn[1], turn[2] - 180])
    other = (other + 180) % 360 - 180
    if np.abs(other).sum() < np.abs(turn).sum() - SMALLER_BY:
        turn = other
    return moved_and_turned(move, turn)


def moved_and_turned(move: Floats, turn: Floats) -> Placement:
    """A placement by its move (3,) and its turns (3,) in degrees. Raises StepError if it is further
    away than can be reckoned with."""
    # The comparison is false for what is no number, too.
    if not (np.abs([move, turn]) <= LARGEST).all():
        raise StepError("a part would stand too far away to be reckoned with")
    return Placement(move=_vector(move), turn=_vector(turn))


def turn_about(axis: Axis, degrees: float) -> Floats:
    """The matrix (3, 3) of a turn about an axis; exact for quarter turns."""
    return _about(AXES[axis], degrees)


def _vector(values: Floats) -> Vector:
    # Adding 0 makes a -0 a 0.
    x, y, z = (np.round(values, DECIMALS) + 0.0).tolist()
    return x, y, z


def _about(axis: int, degrees: float) -> Floats:
    quarters, rest = divmod(degrees, 90.0)
    if rest == 0.0:
        cos, sin = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[int(quarters) % 4]
    else:
        cos, sin = float(np.cos(np.radians(degrees))), float(np.sin(np.radians(degrees)))
    one, other = (axis + 1) % 3, (axis + 2) % 3
    made = np.eye(3)
    made[one, one] = made[other, other] = cos
    made[other, one], made[one, other] = sin, -sin
    return made
