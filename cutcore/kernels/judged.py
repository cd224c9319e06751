"""Children of touched faces looked at one after the other: what makes one unsound."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.compiled import compiled, inlined

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
    near = weld * weld
    # Nearly all are convex, and told to be so in a loop that does nothing else.
    _mark_unclear(points, places, loops, starts, near, wrong)
    for row in range(len(starts) - 1):
        begin, count = starts[row], starts[row + 1] - starts[row]
        if wrong[row] and count >= 3:
            wrong[row] = False
            at = np.empty((count, 3))
            _place_about_first(points, places, loops, begin, count, at)
            _judge_row(at, loops, begin, len(points), near, row, wrong, thin)


@compiled
def _mark_unclear(
    points: Floats, places: Floats, loops: Ints, starts: Ints, near: float, unclear: Bools
) -> None:
    """Mark all loops but those that are clearly convex."""
    # The corners of the loop in hand, about its first.
    at = np.empty((MOST_CORNERS, 3))
    for row in range(len(starts) - 1):
        begin, count = starts[row], starts[row + 1] - starts[row]
        if count < 3 or count > MOST_CORNERS:
            unclear[row] = True
        else:
            _place_about_first(points, places, loops, begin, count, at)
            unclear[row] = not _clearly_convex(at, count, near)


@inlined
def _place_about_first(
    points: Floats, places: Floats, loops: Ints, begin: int, count: int, at: Floats
) -> None:
    """Put the corners of a loop, seen from its first, into the first rows of `at`."""
    old = len(points)
    fx = fy = fz = 0.0
    for c in range(count):
        v = loops[begin + c]
        if v < old:
            x, y, z = points[v, 0], points[v, 1], points[v, 2]
        else:
            x, y, z = places[v - old, 0], places[v - old, 1], places[v - old, 2]
        if c == 0:
            fx, fy, fz = x, y, z
        at[c, 0], at[c, 1], at[c, 2] = x - fx, y - fy, z - fz


@inlined
def _clearly_convex(at: Floats, count: int, near: float) -> bool:
    """Whether a loop `at (count, 3)`, seen along its normal, turns left at every corner, once round
    in all, with every corner further than a distance, given squared, from the lines of the sides
    next to it.

    Of such a loop, the lines of its sides come nearest to the corners next to them: no corner is
    near another or any side, and it is wider than the distance."""
    nx = ny = nz = 0.0
    for c in range(1, count - 1):
        nx += at[c, 1] * at[c + 1, 2] - at[c, 2] * at[c + 1, 1]
        ny += at[c, 2] * at[c + 1, 0] - at[c, 0] * at[c + 1, 2]
        nz += at[c, 0] * at[c + 1, 1] - at[c, 1] * at[c + 1, 0]
    size = nx * nx + ny * ny + nz * nz
    last = count - 1
    if last == 2:
        # Of a triangle, the height over its longest side.
        ax, ay, az = at[2, 0] - at[1, 0], at[2, 1] - at[1, 1], at[2, 2] - at[1, 2]
        longest = max(
            at[1, 0] * at[1, 0] + at[1, 1] * at[1, 1] + at[1, 2] * at[1, 2],
            at[2, 0] * at[2, 0] + at[2, 1] * at[2, 1] + at[2, 2] * at[2, 2],
            ax * ax + ay * ay + az * az,
        )
        return size > near * longest
    least = near * size
    px, py, pz = at[0, 0] - at[last, 0], at[0, 1] - at[last, 1], at[0, 2] - at[last, 2]
    before = px * px + py * py + pz * pz
    # To the left of the last side: in one turn the sides go that way first, then back, and the last
    # itself neither way.
    ax, ay, az = ny * pz - nz * py, nz * px - nx * pz, nx * py - ny * px
    changes, ahead = 0, True
    for c in range(count):
        d = c + 1 if c < last else 0
        ux, uy, uz = at[d, 0] - at[c, 0], at[d, 1] - at[c, 1], at[d, 2] - at[c, 2]
        size = ux * ux + uy * uy + uz * uz
        turn = nx * (py * uz - pz * uy) + ny * (pz * ux - px * uz) + nz * (px * uy - py * ux)
        # Put so that what is not a number fails.
        if not (turn > 0.0 and turn * turn > least * max(before, size)):
            return False
        sense = ax * ux + ay * uy + az * uz > 0.0
        changes += sense != ahead
        ahead = sense
        px, py, pz, before = ux, uy, uz, size
    return changes <= 2


@compiled
def _judge_row(
    at: Floats,
    loops: Ints,
    begin: int,
    old: int,
    near: float,
    row: int,
    wrong: Bools,
    thin: Bools,
) -> None:
    """What `unsound_rows` marks, of one loop whose corners are `at (count, 3)`."""
    count = len(at)
    nx = ny = nz = longest = 0.0
    for c in range(count):
        d = c + 1 if c + 1 < count else 0
        v, w = loops[begin + c], loops[begin + d]
        for e in range(c + 1, count):
            if loops[begin + e] == v:
                wrong[row] = True
        nx += at[c, 1] * at[d, 2] - at[c, 2] * at[d, 1]
        ny += at[c, 2] * at[d, 0] - at[c, 0] * at[d, 2]
        nz += at[c, 0] * at[d, 1] - at[c, 1] * at[d, 0]
        side = (at[d, 0] - at[c, 0]) ** 2 + (at[d, 1] - at[c, 1]) ** 2 + (at[d, 2] - at[c, 2]) ** 2
        longest = max(longest, side)
        if (v >= old or w >= old) and side <= near:
            wrong[row] = True
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
    # How many edges do not lie as they should, kept up to date at every use.
    amiss = 0
    for k in range(len(faces)):
        for c in range(face_starts[faces[k]], face_starts[faces[k] + 1]):
            edge = of_corner[c]
            amiss += uses[edge] == 0
            uses[edge] -= 1
    for row in range(len(starts) - 1):
        begin, end = starts[row], starts[row + 1]
        for c in range(begin, end):
            edge = edges[c]
            if edge < old:
                uses[edge] += 1
                amiss += (uses[edge] == 1) - (uses[edge] == 0)
            elif edge >= first_inner:
                w = loops[c + 1] if c + 1 < end else loops[begin]
                amiss -= uses[edge] > 0 and (uses[edge] != 2 or turns[edge] != 0)
                uses[edge] += 1
                turns[edge] += 1 if loops[c] < w else -1
                amiss += uses[edge] != 2 or turns[edge] != 0
                joins_old |= loops[c] < vertex_count and w < vertex_count
    if amiss == 0:
        return joins_old
    for row in range(len(starts) - 1):
        for c in range(starts[row], starts[row + 1]):
            edge = edges[c]
            if (edge < old and uses[edge] != 0) or (
                edge >= first_inner and (uses[edge] != 2 or turns[edge] != 0)
            ):
                wrong[row] = True
    return joins_old
