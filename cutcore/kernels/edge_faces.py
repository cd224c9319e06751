"""The ends of edges and the faces on either side of them, kept up through a cut."""

from __future__ import annotations

import numpy as np

from cutcore.arrays import Bools, Ints
from cutcore.kernels.compiled import compiled


@compiled
def split_ends(ends: Ints, before: int, split: Ints, first: Ints, old_vertices: int) -> None:
    """Put the pieces of split edges into `ends`, numbered as `rim_rows` says; `before` is how many edges there were."""
    last_pieces = before + first[len(split)] - len(split)
    for m in range(len(split)):
        e = split[m]
        high = ends[e, 1]
        ends[e, 1] = old_vertices + first[m]
        for q in range(first[m] + 1, first[m + 1]):
            ends[before + q - m - 1, 0] = old_vertices + q - 1
            ends[before + q - m - 1, 1] = old_vertices + q
        ends[last_pieces + m, 0] = high
        ends[last_pieces + m, 1] = old_vertices + first[m + 1] - 1


@compiled
def faces_of_edges(faces: Ints, touched: Ints, starts: Ints, of_corner: Ints, loop_starts: Ints, loop_edge: Ints, loop_face: Ints) -> Bools:
    """Change `faces (E, 2)` from before a cut to after it: touched faces go from their edges, the loops come to theirs.

    Each pair stays in ascending order. Returns which edges (E,) came to have more than two faces; those are not done.
    """
    over = np.zeros(len(faces), np.bool_)
    for t in range(len(touched)):
        for c in range(starts[touched[t]], starts[touched[t] + 1]):
            e = of_corner[c]
            if faces[e, 0] == touched[t]:
                faces[e, 0] = faces[e, 1]
                faces[e, 1] = -1
            elif faces[e, 1] == touched[t]:
                faces[e, 1] = -1
    for n in range(len(loop_face)):
        f = loop_face[n]
        for c in range(loop_starts[n], loop_starts[n + 1]):
            e = loop_edge[c]
            if faces[e, 0] < 0:
                faces[e, 0] = f
            elif faces[e, 1] >= 0:
                over[e] = True
            elif faces[e, 0] <= f:
                faces[e, 1] = f
            else:
                faces[e, 1] = faces[e, 0]
                faces[e, 0] = f
    return over
