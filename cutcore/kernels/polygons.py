"""Many places and one long polygon."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats
from cutcore.kernels.compiled import compiled


@compiled
def inside_polygon(loop: Floats, places: Floats) -> Bools:
    """Which places (n, 2) lie inside a simple loop (k, 2), by crossing number; without a table of n
    by k."""
    found = np.zeros(len(places), np.bool_)
    for n in range(len(places)):
        x, y = places[n, 0], places[n, 1]
        inside = False
        before = len(loop) - 1
        for k in range(len(loop)):
            if (loop[before, 1] > y) != (loop[k, 1] > y):
                along = (y - loop[before, 1]) / (loop[k, 1] - loop[before, 1])
                if x < loop[before, 0] + along * (loop[k, 0] - loop[before, 0]):
                    inside = not inside
            before = k
        found[n] = inside
    return found
