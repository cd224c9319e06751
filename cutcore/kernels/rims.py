"""The borders of touched faces, laid out with the new vertices of their edges."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, Ints
from cutcore.kernels.compiled import compiled


@compiled
def rim_rows(
    faces: Ints,
    starts: Ints,
    corners: Ints,
    of_corner: Ints,
    ends: Ints,
    split: Ints,
    first: Ints,
    old_vertices: int,
    most: int,
) -> tuple[Ints, Ints, Ints]:
    """Rows of slots, one row a face: where they start (T+1,), and of each slot the vertex and the
    edge to the next slot.

    `split (E,)` is which of the split edges an edge is, or -1; first[m]:first[m+1] are the new
    vertices on split edge m from its lower vertex up. New vertices are numbered after the old ones.
    The piece of an edge at its lower vertex keeps the edge's number; the others come after all
    edges: first those that end in a new vertex, then the last of each edge. `most` is how many
    slots there can be."""
    row_starts = np.empty(len(faces) + 1, np.int64)
    vertex = np.empty(most, np.int32)
    edge = np.empty(most, np.int32)
    old_edges = len(ends)
    last_pieces = old_edges + first[len(first) - 1] - (len(first) - 1)
    at = 0
    for r in range(len(faces)):
        row_starts[r] = at
        for c in range(starts[faces[r]], starts[faces[r] + 1]):
            v, e = corners[c], of_corner[c]
            vertex[at] = v
            m = split[e]
            if m < 0:
                edge[at] = e
                at += 1
                continue
            rising = ends[e, 0] == v
            begin, end = first[m], first[m + 1]
            edge[at] = e if rising else last_pieces + m
            at += 1
            for step in range(end - begin):
                q = begin + step if rising else end - 1 - step
                vertex[at] = old_vertices + q
                # The piece this slot leads into ends in the new vertex above q, or in q itself on
                # the way down.
                upper = q + 1 if rising else q
                if upper == end:
                    edge[at] = last_pieces + m
                elif upper == begin:
                    edge[at] = e
                else:
                    edge[at] = old_edges + upper - m - 1
                at += 1
    row_starts[len(faces)] = at
    return row_starts, vertex[:at], edge[:at]


@compiled
def rim_uv(
    faces: Ints,
    starts: Ints,
    corners: Ints,
    of_corner: Ints,
    ends: Ints,
    split: Ints,
    first: Ints,
    share: Floats,
    uv: Floats,
    made: Floats,
) -> None:
    """Fill `made (.., 2)` with the texture place of every slot of `rim_rows`; `share` of new
    vertices from the lower one."""
    at = 0
    for r in range(len(faces)):
        for c in range(starts[faces[r]], starts[faces[r] + 1]):
            made[at, 0], made[at, 1] = uv[c, 0], uv[c, 1]
            at += 1
            m = split[of_corner[c]]
            if m < 0:
                continue
            following = c + 1 if c + 1 < starts[faces[r] + 1] else starts[faces[r]]
            rising = ends[of_corner[c], 0] == corners[c]
            begin, end = first[m], first[m + 1]
            for step in range(end - begin):
                along = share[begin + step] if rising else 1.0 - share[end - 1 - step]
                for axis in range(2):
                    made[at, axis] = (1.0 - along) * uv[c, axis] + along * uv[following, axis]
                at += 1
