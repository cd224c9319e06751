"""Faces that one chord crosses from border to border, all at once."""

from __future__ import annotations

import numpy as np

from cutcore.arrays import Floats, Ints
from cutcore.kernels.compiled import compiled


@compiled
def _area_and_rim(place: Floats, begin: int, i: int, count: int, size: int) -> tuple[float, float, float, float]:
    """The area vector of the loop of `count` slots from slot i on in a row of `size`, and how long the loop is."""
    x = y = z = rim = 0.0
    origin = begin + i % size
    for step in range(count):
        here = begin + (i + step) % size
        there = begin + (i + step + 1) % size if step + 1 < count else origin
        ax, ay, az = place[here, 0] - place[origin, 0], place[here, 1] - place[origin, 1], place[here, 2] - place[origin, 2]
        bx, by, bz = place[there, 0] - place[origin, 0], place[there, 1] - place[origin, 1], place[there, 2] - place[origin, 2]
        x += 0.5 * (ay * bz - az * by)
        y += 0.5 * (az * bx - ax * bz)
        z += 0.5 * (ax * by - ay * bx)
        rim += np.sqrt((bx - ax) ** 2 + (by - ay) ** 2 + (bz - az) ** 2)
    return x, y, z, rim


@compiled
def chord_ends(row_starts: Ints, vertex: Ints, place: Floats, rows: Ints, chords: Ints, weld: float) -> tuple[Ints, Ints]:
    """Where chords (n, 2) of vertices meet the borders of rows (n,): the lower and the higher slot of each row (T,), or -1.

    -1 too where the border names an end more than once, or a half would be all but flat or may be no wider than
    `weld`: such a half is not taken on trust.
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
        x, y, z, _ = _area_and_rim(place, begin, 0, size, size)
        whole = np.sqrt(x * x + y * y + z * z)
        u, v, w, rim = _area_and_rim(place, begin, i, j - i + 1, size)
        if u * x + v * y + w * z <= weld * rim * whole:
            continue
        u, v, w, rim = _area_and_rim(place, begin, j, size - (j - i) + 1, size)
        if u * x + v * y + w * z <= weld * rim * whole:
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
    source: Ints,
    loop_edge: Ints,
) -> None:
    """Write the loops of rows into `source` (slots) and `loop_edge` (the edge to the next corner).

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
                source[at + s], loop_edge[at + s] = begin + s, edge[begin + s]
            continue
        i, j = low[r], high[r]
        other = loop_starts[further[r]]
        for s in range(size):
            inside = i <= s <= j
            if inside:
                # The half between i and j keeps the first slot only if it begins there.
                if i == 0:
                    source[at], loop_edge[at] = begin + s, chord_edge[r] if s == j else edge[begin + s]
                    at += 1
                else:
                    source[other], loop_edge[other] = begin + s, chord_edge[r] if s == j else edge[begin + s]
                    other += 1
            if s <= i or s >= j:
                if i == 0:
                    source[other], loop_edge[other] = begin + s, chord_edge[r] if s == i else edge[begin + s]
                    other += 1
                else:
                    source[at], loop_edge[at] = begin + s, chord_edge[r] if s == i else edge[begin + s]
                    at += 1
