"""What all cutting tools share: the limit, and the mirror."""

from __future__ import annotations

from typing import Literal

import numpy as np

from cutcore.arrays import Floats
from cutcore.params import Index, Params, Real
from cutcore.plane import Plane

Axis = Literal["x", "y", "z"]
AXES: dict[Axis, int] = {"x": 0, "y": 1, "z": 2}


def axis_vector(axis: Axis) -> Floats:
    """The unit vector (3,) of an axis."""
    return np.eye(3)[AXES[axis]]


class Mirror(Params):
    """A plane square to an axis, across which everything is done a second time."""

    axis: Axis
    offset: Real = 0.0

    def places(self, places: Floats) -> Floats:
        """Places (.., 3) on the other side of the mirror."""
        mirrored = np.array(places, dtype=np.float64)
        mirrored[..., AXES[self.axis]] = 2 * self.offset - mirrored[..., AXES[self.axis]]
        return mirrored

    def directions(self, directions: Floats) -> Floats:
        """Directions (.., 3) as seen in the mirror."""
        mirrored = np.array(directions, dtype=np.float64)
        mirrored[..., AXES[self.axis]] *= -1.0
        return mirrored

    def plane(self, plane: Plane) -> Plane:
        return Plane(self.places(plane.point), self.directions(plane.normal))


class Cutting(Params):
    """Any step that draws lines on the part."""

    limit: tuple[Index, ...] | None = None
    mirror: Mirror | None = None
