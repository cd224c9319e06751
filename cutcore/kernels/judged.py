"""Children of touched faces looked at one after the other: what makes one unsound."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.compiled import compiled

# Loops with more corners than this are not looked at for pinches: that takes the square of their
# number.
MOST_CORNERS = 64


@compiled
def unsound_rows(
    points: Floats,
    places: Floats,
    loops: Ints,
    starts: Ints,
    weld: float,
    wrong: Bools,
    thin: Bools,
) -> None:
    """Mark loops of vertices (those from len(points) on are `places`) that name one twice, have
    fewer than three, or a new vertex within the tolerance of another corner or side; and, apart
    from these, those no wider than the tolerance."""
    old = len(points)
    near = weld * weld
    # The corners of the loop in hand, about its first.
    at = np.empty((MOST_CORNERS, 3))
    for row in range(len(starts) - 1):
        begin, count = starts[row], starts[row + 1] - starts[row]
        if count < 3:
            wrong[row] = True
            continue
        v = loops[begin]
        if v < old:
            fx, fy, fz = points[v, 0], points[v, 1], points[v, 2]
        else:
            fx, fy, fz = places[v - old, 0], places[v - old, 1], places[v - old, 2]
        nx = ny = nz = longest = 0.0
        hx = hy = hz = 0.0
        for c in range(count):
            v = loops[begin + c]
            w = loops[begin + c + 1] if c + 1 < count else loops[begin]
            for d in range(c + 1, count):
                if loops[begin + d] == v:
                    wrong[row] = True
            if w < old:
                tx, ty, tz = points[w, 0] - fx, points[w, 1] - fy, points[w, 2] - fz
            else:
                tx, ty, tz = (
                    places[w - old, 0] - fx,
                    places[w - old, 1] - fy,
                    places[w - old, 2] - fz,
                )
            if c < MOST_CORNERS:
                at[c, 0], at[c, 1], at[c, 2] = hx, hy, hz
            nx += hy * tz - hz * ty
            ny += hz * tx - hx * tz
            nz += hx * ty - hy * tx
            side = (tx - hx) ** 2 + (ty - hy) ** 2 + (tz - hz) ** 2
            longest = max(longest, side)
            if (v >= old or w >= old) and side <= near:
                wrong[row] = True
            hx, hy, hz = tx, ty, tz
        # The normal is twice the area long; of a triangle this is all there is to know.
        thin[row] = nx * nx + ny * ny + nz * nz <= longest * near
        if 3 < count <= MOST_CORNERS and not wrong[row]:
            for c in range(count):
                if loops[begin + c] >= old and _pinched(at, count, c, near):
                    wrong[row] = True


@compiled
def _pinched(at: Floats, count: int, c: int, near: float) -> bool:
    """Whether corner c of a loop `at (count, 3)` lies within a distance, given squared, of a side
    it is no end of."""
    px, py, pz = at[c, 0], at[c, 1], at[c, 2]
    d = c
    for _ in range(count - 2):
        d = d + 1 if d + 1 < count else 0
        e = d + 1 if d + 1 < count else 0
        ax, ay, az = at[d, 0] - px, at[d, 1] - py, at[d, 2] - pz
        ux, uy, uz = at[e, 0] - at[d, 0], at[e, 1] - at[d, 1], at[e, 2] - at[d, 2]
        size = ux * ux + uy * uy + uz * uz
        cx, cy, cz = ay * uz - az * uy, az * ux - ax * uz, ax * uy - ay * ux
        # Mostly it is further from the whole line, which needs no division.
        if cx * cx + cy * cy + cz * cz > near * size:
            continue
        share = -(ax * ux + ay * uy + az * uz)
        share = min(max(share / size, 0.0), 1.0) if size > 0.0 else 0.0
        gx, gy, gz = ax + share * ux, ay + share * uy, az + share * uz
        if gx * gx + gy * gy + gz * gz <= near:
            return True
    return False


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
    """Mark rows with a side that does not lie as it should: an old edge, up to `old`, that has not
    as many rows beside it as it had of `faces`; or one inside a face, from `first_inner` on, that
    has not two, run in opposite directions.

    `uses` and `turns` are zeros, as many as there are edges. Gives whether an edge inside a face
    joins two old vertices."""
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
            if (edge < old and uses[edge] != 0) or (
                edge >= first_inner and (uses[edge] != 2 or turns[edge] != 0)
            ):
                wrong[row] = True
    return joins_old
