"""Faces that one chord crosses from border to border, all at once."""

from __future__ import annotations

import numpy as np

from cutcore.arrays import Floats, Ints
from cutcore.kernels.compiled import compiled


@compiled
def _area_and_rim(place: Floats, begin: int, i: int, count: int, size: int) -> tuple[float, float, float, float]:
    """The area vector of the loop of `count` slots from slot i on in a row of `size`, and how long the loop is at most."""
    x = y = z = rim = 0.0
    here = begin + i
    origin_x, origin_y, origin_z = place[here, 0], place[here, 1], place[here, 2]
    ax = ay = az = 0.0
    for step in range(count):
        here = here + 1 if here + 1 < begin + size else begin
        bx = by = bz = 0.0
        if step + 1 < count:
            bx, by, bz = place[here, 0] - origin_x, place[here, 1] - origin_y, place[here, 2] - origin_z
        x += 0.5 * (ay * bz - az * by)
        y += 0.5 * (az * bx - ax * bz)
        z += 0.5 * (ax * by - ay * bx)
        rim += abs(bx - ax) + abs(by - ay) + abs(bz - az)
        ax, ay, az = bx, by, bz
    return x, y, z, rim


@compiled
def _clear_of_chord(place: Floats, begin: int, i: int, j: int, size: int, weld: float) -> bool:
    """Whether the slots of a row strictly between i and j, in its order, all lie further than `weld` from the chord i j."""
    start, end = place[begin + i], place[begin + j]
    length = 0.0
    for axis in range(3):
        length += (end[axis] - start[axis]) ** 2
    s = i + 1 if i + 1 < size else 0
    while s != j:
        along = 0.0
        for axis in range(3):
            along += (place[begin + s, axis] - start[axis]) * (end[axis] - start[axis])
        share = min(1.0, max(0.0, along / length)) if length > 0.0 else 0.0
        away = 0.0
        for axis in range(3):
            away += (place[begin + s, axis] - start[axis] - share * (end[axis] - start[axis])) ** 2
        if away <= weld * weld:
            return False
        s = s + 1 if s + 1 < size else 0
    return True


@compiled
def chord_ends(row_starts: Ints, vertex: Ints, place: Floats, rows: Ints, chords: Ints, weld: float) -> tuple[Ints, Ints]:
    """Where chords (n, 2) of vertices meet the borders of rows (n,): the lower and the higher slot of each row (T,), or -1.

    -1 too where the border names an end more than once, or a half would have no area or a corner within `weld` of the
    chord.
    """
    low = np.full(len(row_starts) - 1, -1, np.int64)
    high = np.full(len(row_starts) - 1, -1, np.int64)
    for n in range(len(rows)):
        begin = row_starts[rows[n]]
        size = row_starts[rows[n] + 1] - begin
        i = j = -1
        met = 0
        for s in range(size):
            if vertex[begin + s] == chords[n, 0] or vertex[begin + s] == chords[n, 1]:
                met += 1
                if i < 0:
                    i = s
                else:
                    j = s
        if met != 2 or vertex[begin + i] == vertex[begin + j] or j - i == 1 or (i == 0 and j == size - 1):
            continue
        x, y, z, rim = _area_and_rim(place, begin, i, j - i + 1, size)
        u, v, w, other_rim = _area_and_rim(place, begin, j, size - (j - i) + 1, size)
        # The whole is the sum of its halves.
        u, v, w = x + u, y + v, z + w
        least = weld * np.sqrt(u * u + v * v + w * w)
        one, other = x * u + y * v + z * w, (u - x) * u + (v - y) * v + (w - z) * w
        if one <= least * rim and (one <= 0.0 or not _clear_of_chord(place, begin, i, j, size, weld)):
            continue
        if other <= least * other_rim and (other <= 0.0 or not _clear_of_chord(place, begin, j, i, size, weld)):
            continue
        low[rows[n]], high[rows[n]] = i, j
    return low, high


@compiled
def lay_rows(
    row_starts: Ints,
    edge: Ints,
    low: Ints,
    high: Ints,
    chord_edge: Ints,
    alone: Ints,
    loop_starts: Ints,
    further: Ints,
    vertex: Ints,
    source: Ints,
    loops: Ints,
    loop_edge: Ints,
) -> None:
    """Write the loops of rows into `source` (slots), `loops` (their vertices) and `loop_edge` (the edge to the next corner).

    Loop r is the child of row r that holds its first slot, loop further[r] the other one of a row with a chord; the
    chord's edge is chord_edge[r]. Rows with alone[r] are worked out elsewhere and left out.
    """
    for r in range(len(row_starts) - 1):
        if alone[r]:
            continue
        begin = row_starts[r]
        size = row_starts[r + 1] - begin
        at = loop_starts[r]
        if low[r] < 0:
            for s in range(size):
                source[at + s], loops[at + s], loop_edge[at + s] = begin + s, vertex[begin + s], edge[begin + s]
            continue
        i, j = low[r], high[r]
        other = loop_starts[further[r]]
        for s in range(size):
            inside = i <= s <= j
            if inside:
                # The half between i and j keeps the first slot only if it begins there.
                if i == 0:
                    source[at], loops[at] = begin + s, vertex[begin + s]
                    loop_edge[at] = chord_edge[r] if s == j else edge[begin + s]
                    at += 1
                else:
                    source[other], loops[other] = begin + s, vertex[begin + s]
                    loop_edge[other] = chord_edge[r] if s == j else edge[begin + s]
                    other += 1
            if s <= i or s >= j:
                if i == 0:
                    source[other], loops[other] = begin + s, vertex[begin + s]
                    loop_edge[other] = chord_edge[r] if s == i else edge[begin + s]
                    other += 1
                else:
                    source[at], loops[at] = begin + s, vertex[begin + s]
                    loop_edge[at] = chord_edge[r] if s == i else edge[begin + s]
                    at += 1
