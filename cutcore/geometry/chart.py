"""A face's own plane, and places in it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.vectors import least_axis


@dataclass(frozen=True)
class Chart:
    """A face's own plane with two axes in it: `right` × `up` = `normal`."""

    origin: Floats
    right: Floats
    up: Floats
    normal: Floats

    def flatten(self, places: Floats) -> Floats:
        """Coordinates (N, 2) in the chart of places (N, 3)."""
        local = places - self.origin
        return np.stack([local @ self.right, local @ self.up], axis=1)


def chart_of(places: Floats) -> Chart:
    """The chart of one loop of places (k, 3): its plane by Newell's normal, seen from outside."""
    origin = places[0]
    local = places - origin
    # Newell's normal, column by column: np.cross is slow on so few rows.
    (x, y, z), (u, v, w) = local.T, np.concatenate([local[1:], local[:1]]).T
    normal = np.array([y @ w - z @ v, z @ u - x @ w, x @ v - y @ u])
    length = float(np.sqrt(normal @ normal))
    if length == 0.0:
        longest = local[int(np.argmax((local**2).sum(axis=1)))]
        normal = cross(longest, least_axis(longest))
        length = float(np.linalg.norm(normal)) or 1.0
    normal = normal / length
    helper = least_axis(normal)
    right = cross(helper, normal)
    size = float(np.sqrt(right @ right))
    right = right / size if size else np.array([1.0, 0.0, 0.0])
    return Chart(origin, right, cross(normal, right), normal)
