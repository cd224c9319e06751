"""The ends of edges and the faces on either side of them, kept up through a cut."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Ints
from cutcore.kernels.compiled import compiled


@compiled
def split_ends(ends: Ints, before: int, split: Ints, first: Ints, old_vertices: int) -> None:
    """Put the pieces of split edges into `ends`, numbered as `rim_rows` says; `before` is how many
    edges there were."""
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
def faces_of_edges(
    faces: Ints, before: int, loop_starts: Ints, loop_edge: Ints, loop_face: Ints, parent: Ints
) -> Bools:
    """Change `faces (E, 2)` from before a cut to after it: the loops come to their edges, in place
    of their parents.

    The first `before` edges were there already; each of them is on the border of one child of every
    face it was on the border of, so where that child has its parent's number nothing changes. Each
    pair stays in ascending order. Returns which edges (E,) have more than two faces; those are not
    done."""
    over = np.zeros(len(faces), np.bool_)
    for n in range(len(loop_face)):
        f = loop_face[n]
        for c in range(loop_starts[n], loop_starts[n + 1]):
            e = loop_edge[c]
            if e < before:
                if f == parent[n]:
                    continue
                if faces[e, 0] == parent[n]:
                    faces[e, 0] = faces[e, 1]
                    faces[e, 1] = -1
                elif faces[e, 1] == parent[n]:
                    faces[e, 1] = -1
                else:
                    over[e] = True
                    continue
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
