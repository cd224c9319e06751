"""What all cutting tools share: the limit, and the mirror."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, FiniteFloat

from cutcore.arrays import Floats
from cutcore.plane import Plane
from cutcore.spots import Index

Axis = Literal["x", "y", "z"]
AXES: dict[Axis, int] = {"x": 0, "y": 1, "z": 2}


def axis_vector(axis: Axis) -> Floats:
    """The unit vector (3,) of an axis."""
    return np.eye(3)[AXES[axis]]


class Mirror(BaseModel):
    """A plane square to an axis, across which everything is done a second time."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    axis: Axis
    offset: FiniteFloat = 0.0

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


class Cutting(BaseModel):
    """Any step that draws lines on the part."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    limit: tuple[Index, ...] | None = None
    mirror: Mirror | None = None
