"""Faces collected round vertices, over the edges they share."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Ints
from cutcore.kernels.compiled import compiled


@compiled
def grow_fans(
    starts: Ints,
    corners: Ints,
    of_corner: Ints,
    beside: Ints,
    taken: Bools,
    seeds: Ints,
    rings: int,
) -> Ints:
    """Faces (n,) round some `seeds (s,)`: so many times, all that can be reached from those found
    over edges that end at one of their vertices. `starts (F+1,)`, `corners (C,)` and `of_corner
    (C,)` are a mesh's, `beside (E, 2)` the faces at its edges; `taken (F,)` says which faces are
    found already, and is changed."""
    found = list(seeds)
    for f in seeds:
        taken[f] = True
    marked = set(corners[:0])
    for _ in range(rings):
        for f in found:
            for c in range(starts[f], starts[f + 1]):
                marked.add(corners[c])
        k = 0
        while k < len(found):
            f = found[k]
            k += 1
            first, last = starts[f], starts[f + 1]
            for c in range(first, last):
                here = corners[c]
                there = corners[c + 1 if c + 1 < last else first]
                if here in marked or there in marked:
                    for side in range(2):
                        g = beside[of_corner[c], side]
                        if g >= 0 and not taken[g]:
                            taken[g] = True
                            found.append(g)
    return np.array(found)
