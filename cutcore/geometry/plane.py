"""The one plane type: a point and a unit normal; heights are positive on the side the normal points
to."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats


@dataclass(frozen=True)
class Plane:
    point: Floats
    normal: Floats

    @staticmethod
    def through(point: Floats, normal: Floats) -> Plane:
        """A plane from a point (3,) and a normal (3,) of any length but zero."""
        normal = np.asarray(normal, dtype=np.float64)
        length = float(np.linalg.norm(normal))
        if not np.isfinite(length) or length == 0.0:
            raise StepError("a plane needs a normal that is not zero")
        return Plane(np.asarray(point, dtype=np.float64), normal / length)

    def heights(self, points: Floats) -> Floats:
        """Signed distances (N,) of points (N, 3)."""
        return points @ self.normal - float(self.point @ self.normal)
