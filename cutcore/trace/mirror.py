"""The mirror of a plan: a plane across which everything is done a second time."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.geometry.axes import AXES, Axis
from cutcore.geometry.plane import Plane
from cutcore.params import Params, Real


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
