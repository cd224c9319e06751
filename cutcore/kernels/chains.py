"""Faces that one path crosses from border to border, over places inside them or straight: all at
once."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.areas import area_vector
from cutcore.kernels.compiled import compiled, inlined


@compiled
def _clear_of_chord(place: Floats, i: int, j: int, size: int, weld: float) -> bool:
    """Whether the slots of a row strictly between i and j, in its order, all lie further than
    `weld` from the chord i j."""
    start, end = place[i], place[j]
    length = 0.0
    for axis in range(3):
        length += (end[axis] - start[axis]) ** 2
    s = i + 1 if i + 1 < size else 0
    while s != j:
        along = 0.0
        for axis in range(3):
            along += (place[s, axis] - start[axis]) * (end[axis] - start[axis])
        share = min(1.0, max(0.0, along / length)) if length > 0.0 else 0.0
        away = 0.0
        for axis in range(3):
            away += (place[s, axis] - start[axis] - share * (end[axis] - start[axis])) ** 2
        if away <= weld * weld:
            return False
        s = s + 1 if s + 1 < size else 0
    return True


@compiled
def order_paths(starts: Ints, ends: Ints, inner: Bools) -> tuple[Ints, Bools]:
    """Spans (S, 2) in ragged groups as paths of anchors, one more than spans each, group g at
    starts[g] + g on; and which groups are paths between two anchors on a border, with every anchor
    `inner (A,)` to the face in between."""
    path = np.full(len(ends) + len(starts) - 1, -1, np.int64)
    whole = np.zeros(len(starts) - 1, np.bool_)
    for g in range(len(starts) - 1):
        begin, end = starts[g], starts[g + 1]
        at = begin + g
        rims = 0
        for s in range(begin, end):
            for k in range(2):
                if not inner[ends[s, k]]:
                    rims += 1
                    if rims == 1:
                        path[at] = ends[s, k]
        if rims != 2:
            continue
        came = -1
        reached = 0
        while reached < end - begin:
            here, following = path[at + reached], -1
            for s in range(begin, end):
                if s != came and (ends[s, 0] == here or ends[s, 1] == here):
                    # More than one way on: no path.
                    following = s if following < 0 else -2
            if following < 0:
                break
            came = following
            reached += 1
            path[at + reached] = ends[came, 0] + ends[came, 1] - here
        whole[g] = (
            reached == end - begin
            and not inner[path[at + reached]]
            and path[at] != path[at + reached]
        )
    return path, whole


@compiled
def gap_to_segment(px: float, py: float, ax: float, ay: float, bx: float, by: float) -> float:
    """The square of the distance from a place to a segment."""
    x, y = bx - ax, by - ay
    length = x * x + y * y
    share = min(1.0, max(0.0, ((px - ax) * x + (py - ay) * y) / length)) if length > 0.0 else 0.0
    return (px - ax - share * x) ** 2 + (py - ay - share * y) ** 2


@compiled
def segments_cross(flat: Floats, a: int, b: int, c: int, d: int) -> bool:
    """Whether segments between places of `flat (n, 2)` cross."""
    one = (flat[b, 0] - flat[a, 0]) * (flat[c, 1] - flat[a, 1]) - (flat[b, 1] - flat[a, 1]) * (
        flat[c, 0] - flat[a, 0]
    )
    two = (flat[b, 0] - flat[a, 0]) * (flat[d, 1] - flat[a, 1]) - (flat[b, 1] - flat[a, 1]) * (
        flat[d, 0] - flat[a, 0]
    )
    if (one > 0) == (two > 0):
        return False
    one = (flat[d, 0] - flat[c, 0]) * (flat[a, 1] - flat[c, 1]) - (flat[d, 1] - flat[c, 1]) * (
        flat[a, 0] - flat[c, 0]
    )
    two = (flat[d, 0] - flat[c, 0]) * (flat[b, 1] - flat[c, 1]) - (flat[d, 1] - flat[c, 1]) * (
        flat[b, 0] - flat[c, 0]
    )
    return (one > 0) != (two > 0)


@compiled
def _area(flat: Floats, loop: Ints, count: int) -> float:
    total = 0.0
    for k in range(count):
        a, b = loop[k], loop[k + 1 if k + 1 < count else 0]
        total += flat[a, 0] * flat[b, 1] - flat[b, 0] * flat[a, 1]
    return 0.5 * total


@compiled
def flattened(place: Floats, size: int, x: float, y: float, z: float) -> Floats:
    """The first places of a table, about the first of them, in the plane square to a unit normal:
    (size, 2)."""
    # Any direction square to the normal, from the axis it leans to least.
    ux, uy, uz = 0.0, 0.0, 0.0
    if abs(x) <= abs(y) and abs(x) <= abs(z):
        uy, uz = z, -y
    elif abs(y) <= abs(z):
        ux, uz = -z, x
    else:
        ux, uy = y, -x
    length = np.sqrt(ux * ux + uy * uy + uz * uz)
    ux, uy, uz = ux / length, uy / length, uz / length
    vx, vy, vz = y * uz - z * uy, z * ux - x * uz, x * uy - y * ux
    flat = np.empty((size, 2))
    for s in range(size):
        px, py, pz = place[s, 0] - place[0, 0], place[s, 1] - place[0, 1], place[s, 2] - place[0, 2]
        flat[s, 0] = px * ux + py * uy + pz * uz
        flat[s, 1] = px * vx + py * vy + pz * vz
    return flat


@compiled
def _chain_is_clear(place: Floats, size: int, i: int, j: int, inside: Floats, weld: float) -> bool:
    """Whether a chain from slot i over places inside (m, 3) to slot j of a row (size, 3) splits it
    into two loops with an area, nothing of it crossing or within `weld` of what it does not join.
    The row and the chain are judged in its mean plane."""
    m = len(inside)
    x, y, z = area_vector(place, size)
    area = np.sqrt(x * x + y * y + z * z)
    if not 0.0 < area < np.inf:
        return False
    flat = np.empty((size + m, 2))
    flat[:size] = flattened(place, size, x / area, y / area, z / area)
    between = np.empty((m + 1, 3))
    between[0] = place[0]
    between[1:] = inside
    flat[size:] = flattened(between, m + 1, x / area, y / area, z / area)[1:]
    chain = np.empty(m + 2, np.int64)
    chain[0], chain[m + 1] = i, j
    for k in range(m):
        chain[k + 1] = size + k
    near = weld * weld
    for k in range(m + 1):
        a, b = chain[k], chain[k + 1]
        for n in range(size + m):
            if (
                n != a
                and n != b
                and gap_to_segment(
                    flat[n, 0], flat[n, 1], flat[a, 0], flat[a, 1], flat[b, 0], flat[b, 1]
                )
                <= near
            ):
                return False
        for s in range(size):
            t = s + 1 if s + 1 < size else 0
            if s != a and s != b and t != a and t != b and segments_cross(flat, a, b, s, t):
                return False
        for other in range(k + 2, m + 1):
            if segments_cross(flat, a, b, chain[other], chain[other + 1]):
                return False
    for k in range(m):
        n = size + k
        for s in range(size):
            t = s + 1 if s + 1 < size else 0
            if (
                gap_to_segment(
                    flat[n, 0], flat[n, 1], flat[s, 0], flat[s, 1], flat[t, 0], flat[t, 1]
                )
                <= near
            ):
                return False
    loop = np.empty(size + m + 2, np.int64)
    count = 0
    for s in range(i, j + 1):
        loop[count] = s
        count += 1
    for k in range(m - 1, -1, -1):
        loop[count] = size + k
        count += 1
    if not _area(flat, loop, count) > 0.0:
        return False
    count = 0
    for s in range(i + 1):
        loop[count] = s
        count += 1
    for k in range(m):
        loop[count] = size + k
        count += 1
    for s in range(j, size):
        loop[count] = s
        count += 1
    return _area(flat, loop, count) > 0.0


@inlined
def _chord_is_clear(place: Floats, size: int, i: int, j: int, weld: float) -> bool:
    """Whether a chord from slot i to slot j of a row splits it into two halves with an area and no
    corner within `weld` of it."""
    # Area vectors of the half from i to j and of the whole, and how long either half is at most.
    x = y = z = u = v = w = 0.0
    chord = (
        abs(place[j, 0] - place[i, 0])
        + abs(place[j, 1] - place[i, 1])
        + abs(place[j, 2] - place[i, 2])
    )
    rim = other_rim = chord
    origin_x, origin_y, origin_z = place[i, 0], place[i, 1], place[i, 2]
    ax = ay = az = 0.0
    s = i
    for step in range(size):
        s = s + 1 if s + 1 < size else 0
        bx, by, bz = place[s, 0] - origin_x, place[s, 1] - origin_y, place[s, 2] - origin_z
        length = abs(bx - ax) + abs(by - ay) + abs(bz - az)
        u += 0.5 * (ay * bz - az * by)
        v += 0.5 * (az * bx - ax * bz)
        w += 0.5 * (ax * by - ay * bx)
        if step < j - i:
            rim += length
        else:
            other_rim += length
        if step == j - i - 1:
            x, y, z = u, v, w
        ax, ay, az = bx, by, bz
    least = weld * np.sqrt(u * u + v * v + w * w)
    one, other = x * u + y * v + z * w, (u - x) * u + (v - y) * v + (w - z) * w
    if not (one > least * rim or (one > 0.0 and _clear_of_chord(place, i, j, size, weld))):
        return False
    return other > least * other_rim or (other > 0.0 and _clear_of_chord(place, j, i, size, weld))


@compiled
def chain_slots(
    row_starts: Ints,
    vertex: Ints,
    points: Floats,
    new_points: Floats,
    rows: Ints,
    starts: Ints,
    path: Ints,
    whole: Bools,
    names: Ints,
    places: Floats,
    weld: float,
) -> tuple[Ints, Ints]:
    """Where paths of anchors meet the borders of their rows (n,): the lower and the higher slot of
    each row (T,), or -1.

    Vertices are numbered through `points (V, 3)` and then `new_points`. `path` is as `order_paths`
    gives it, turned here so that it runs from the lower slot to the higher; `names (A,)` are the
    vertices of anchors on borders, `places (A, 3)` where anchors are. -1 too where the border names
    an end more than once, or what the path parts the face into would be no two faces wider than
    `weld`."""
    low = np.full(len(row_starts) - 1, -1, np.int64)
    high = np.full(len(row_starts) - 1, -1, np.int64)
    longest = 0
    for n in range(len(rows)):
        longest = max(longest, row_starts[rows[n] + 1] - row_starts[rows[n]])
    place = np.empty((longest, 3), np.float64)
    for n in range(len(rows)):
        if not whole[n]:
            continue
        begin = row_starts[rows[n]]
        size = row_starts[rows[n] + 1] - begin
        first, last = starts[n] + n, starts[n + 1] + n
        one, other = names[path[first]], names[path[last]]
        i = j = -1
        met = 0
        for s in range(size):
            if vertex[begin + s] == one or vertex[begin + s] == other:
                met += 1
                if i < 0:
                    i = s
                else:
                    j = s
        if met != 2 or vertex[begin + i] == vertex[begin + j]:
            continue
        if vertex[begin + i] == other:
            for k in range((last - first + 1) // 2):
                path[first + k], path[last - k] = path[last - k], path[first + k]
        inside = last - first - 1
        if inside == 0 and (j - i == 1 or (i == 0 and j == size - 1)):
            continue
        for s in range(size):
            v = vertex[begin + s]
            for axis in range(3):
                place[s, axis] = (
                    points[v, axis] if v < len(points) else new_points[v - len(points), axis]
                )
        if inside == 0:
            if not _chord_is_clear(place, size, i, j, weld):
                continue
        else:
            between = np.empty((inside, 3))
            for k in range(inside):
                for axis in range(3):
                    between[k, axis] = places[path[first + 1 + k], axis]
            if not _chain_is_clear(place, size, i, j, between, weld):
                continue
        low[rows[n]], high[rows[n]] = i, j
    return low, high


@compiled
def pieces_of_paths(
    rows: Ints, starts: Ints, path: Ints, low: Ints, names: Ints, first_inside: int
) -> tuple[Ints, Ints, Ints, Ints]:
    """What the paths of rows (n,) with a lower slot (T,) are made of: the anchors between their
    ends (k,), where those of each row begin (T+1,); the vertices that pieces join (s, 2), where
    those of each row begin (T+1,).

    Anchors between the ends are numbered from `first_inside` on, in the order they are given; the
    ends have `names (A,)`."""
    inside_of, segment_of = np.zeros(len(low) + 1, np.int64), np.zeros(len(low) + 1, np.int64)
    for n in range(len(rows)):
        if low[rows[n]] >= 0:
            segment_of[rows[n] + 1] = starts[n + 1] - starts[n]
            inside_of[rows[n] + 1] = starts[n + 1] - starts[n] - 1
    for r in range(len(low)):
        segment_of[r + 1] += segment_of[r]
        inside_of[r + 1] += inside_of[r]
    inside = np.empty(inside_of[len(low)], np.int64)
    pairs = np.empty((segment_of[len(low)], 2), np.int64)
    for n in range(len(rows)):
        if low[rows[n]] < 0:
            continue
        at, between, piece = starts[n] + n, inside_of[rows[n]], segment_of[rows[n]]
        last = starts[n + 1] - starts[n] - 1
        for k in range(last + 1):
            pairs[piece + k, 0] = names[path[at]] if k == 0 else first_inside + between + k - 1
            pairs[piece + k, 1] = (
                names[path[at + k + 1]] if k == last else first_inside + between + k
            )
            if k < last:
                inside[between + k] = path[at + k + 1]
    return inside, inside_of, pairs, segment_of


@compiled
def lay_rows(
    row_starts: Ints,
    vertex: Ints,
    edge: Ints,
    low: Ints,
    high: Ints,
    segment: Ints,
    segment_edge: Ints,
    inside: Ints,
    inside_vertex: int,
    alone: Bools,
    loop_starts: Ints,
    further: Ints,
    source: Ints,
    loops: Ints,
    loop_edge: Ints,
) -> None:
    """Write the loops of rows into `source` (slots), `loops` (their vertices) and `loop_edge` (the
    edge to the next corner).

    Loop r is the child of row r that holds its first slot, loop further[r] the other one of a row
    with a path from slot low[r] to slot high[r]. The edges of that path are
    segment_edge[segment[r]:segment[r + 1]], its places inside the face are numbered from inside[r]
    on: -1 - number in `source`, `inside_vertex` + number in `loops`. Rows with alone[r] are worked
    out elsewhere and left out."""
    for r in range(len(row_starts) - 1):
        if alone[r]:
            continue
        begin = row_starts[r]
        size = row_starts[r + 1] - begin
        at = loop_starts[r]
        if low[r] < 0:
            for s in range(size):
                source[at + s], loops[at + s], loop_edge[at + s] = (
                    begin + s,
                    vertex[begin + s],
                    edge[begin + s],
                )
            continue
        i, j, first = low[r], high[r], segment[r]
        count = segment[r + 1] - first - 1
        # The part of the border from i to j keeps the first slot only if it begins there.
        between = at if i == 0 else loop_starts[further[r]]
        for s in range(i, j + 1):
            source[between], loops[between] = begin + s, vertex[begin + s]
            loop_edge[between] = segment_edge[first + count] if s == j else edge[begin + s]
            between += 1
        for k in range(count - 1, -1, -1):
            source[between], loops[between] = -1 - (inside[r] + k), inside_vertex + inside[r] + k
            loop_edge[between] = segment_edge[first + k]
            between += 1
        outer = loop_starts[further[r]] if i == 0 else at
        for s in range(i + 1):
            source[outer], loops[outer] = begin + s, vertex[begin + s]
            loop_edge[outer] = segment_edge[first] if s == i else edge[begin + s]
            outer += 1
        for k in range(count):
            source[outer], loops[outer] = -1 - (inside[r] + k), inside_vertex + inside[r] + k
            loop_edge[outer] = segment_edge[first + k + 1]
            outer += 1
        for s in range(j, size):
            source[outer], loops[outer], loop_edge[outer] = (
                begin + s,
                vertex[begin + s],
                edge[begin + s],
            )
            outer += 1
