"""Children of touched faces looked at one after the other: what makes one unsound."""

from __future__ import annotations

import numpy as np

from cutcore.arrays import Bools, Floats, Ints
from cutcore.kernels.compiled import compiled


@compiled
def unsound_rows(points: Floats, places: Floats, loops: Ints, starts: Ints, weld: float, wrong: Bools, thin: Bools) -> None:
    """Mark loops of vertices (those from len(points) on are `places`) that name one twice, have fewer than three, or a new
    vertex within the tolerance of the next; and, apart from these, those that are no wider than the tolerance."""
    old = len(points)
    for row in range(len(starts) - 1):
        begin, end = starts[row], starts[row + 1]
        if end - begin < 3:
            wrong[row] = True
            continue
        v = loops[begin]
        if v < old:
            fx, fy, fz = points[v, 0], points[v, 1], points[v, 2]
        else:
            fx, fy, fz = places[v - old, 0], places[v - old, 1], places[v - old, 2]
        nx = ny = nz = longest = 0.0
        hx = hy = hz = 0.0
        for c in range(begin, end):
            v = loops[c]
            w = loops[c + 1] if c + 1 < end else loops[begin]
            for d in range(c + 1, end):
                if loops[d] == v:
                    wrong[row] = True
            if w < old:
                tx, ty, tz = points[w, 0] - fx, points[w, 1] - fy, points[w, 2] - fz
            else:
                tx, ty, tz = places[w - old, 0] - fx, places[w - old, 1] - fy, places[w - old, 2] - fz
            nx += hy * tz - hz * ty
            ny += hz * tx - hx * tz
            nz += hx * ty - hy * tx
            side = (tx - hx) ** 2 + (ty - hy) ** 2 + (tz - hz) ** 2
            longest = max(longest, side)
            if (v >= old or w >= old) and side <= weld * weld:
                wrong[row] = True
            hx, hy, hz = tx, ty, tz
        # The normal is twice the area long.
        thin[row] = np.sqrt(nx * nx + ny * ny + nz * nz) <= np.sqrt(longest) * weld


@compiled
def wrong_sides(
    loops: Ints,
    starts: Ints,
    edges: Ints,
    faces: Ints,
    face_starts: Ints,
    of_corner: Ints,
    old: int,
    first_inner: int,
    vertex_count: int,
    uses: Ints,
    turns: Ints,
    wrong: Bools,
) -> bool:
    """Mark rows with a side that does not lie as it should: an old edge, up to `old`, that has not as many rows beside it as
    it had of `faces`; or one inside a face, from `first_inner` on, that has not two, run in opposite directions.

    `uses` and `turns` are zeros, as many as there are edges. Gives whether an edge inside a face joins two old vertices.
    """
    joins_old = False
    for k in range(len(faces)):
        for c in range(face_starts[faces[k]], face_starts[faces[k] + 1]):
            uses[of_corner[c]] -= 1
    for row in range(len(starts) - 1):
        begin, end = starts[row], starts[row + 1]
        for c in range(begin, end):
            edge = edges[c]
            uses[edge] += 1
            if edge >= first_inner:
                w = loops[c + 1] if c + 1 < end else loops[begin]
                turns[edge] += 1 if loops[c] < w else -1
                joins_old |= loops[c] < vertex_count and w < vertex_count
    for row in range(len(starts) - 1):
        for c in range(starts[row], starts[row + 1]):
            edge = edges[c]
            if (edge < old and uses[edge] != 0) or (edge >= first_inner and (uses[edge] != 2 or turns[edge] != 0)):
                wrong[row] = True
    return joins_old
