"""Faces that several straight lines cross from border to border without meeting: all at once."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.areas import area_vector
from cutcore.kernels.chains import flattened, gap_to_segment, segments_cross
from cutcore.kernels.compiled import compiled


@compiled
def _way_on(targets: Ints, first: int, last: int, v: int, u: int, size: int) -> int:
    """Arrived at slot v from slot u of a row: the chord, of those from v in first:last, that comes
    next clockwise; -1 for the border.

    Round a simple border directions are ordered as the slots they lead to: no coordinate is asked.
    """
    reach = (u - v) % size
    best, found = 1, -1
    for k in range(first, last):
        away = (targets[k] - v) % size
        if best < away < reach:
            best, found = away, k
    return found


@compiled
def _is_clear(flat: Floats, size: int, low: Ints, high: Ints, weld: float) -> bool:
    """Whether chords between slots of a row, at `flat (size, 2)`, cross neither each other nor the
    border, and no other slot lies within `weld` of one."""
    count = len(low)
    near = weld * weld
    for c in range(count):
        i, j = low[c], high[c]
        for s in range(size):
            if s in (i, j):
                continue
            if (
                gap_to_segment(
                    flat[s, 0], flat[s, 1], flat[i, 0], flat[i, 1], flat[j, 0], flat[j, 1]
                )
                <= near
            ):
                return False
            t = s + 1 if s + 1 < size else 0
            if t != i and t != j and segments_cross(flat, i, j, s, t):
                return False
        for d in range(c + 1, count):
            k, m = low[d], high[d]
            if k != i and k != j and m != i and m != j and segments_cross(flat, i, j, k, m):
                return False
    return True


@compiled
def comb_rows(
    row_starts: Ints,
    vertex: Ints,
    points: Floats,
    new_points: Floats,
    rows: Ints,
    starts: Ints,
    ends: Ints,
    names: Ints,
    weld: float,
) -> tuple[Bools, Ints, Ints, Ints, Ints]:
    """What lines between anchors on the borders of rows (n,) make of them: which rows they could be
    laid into (n,), how many children each of these has (n,), and of the children, row by row, their
    sizes, slots and, for each slot, the line that leads on to the next, -1 for the border.

    Row n has the lines `ends[starts[n]:starts[n + 1]]`; anchors are the vertices `names (A,)`,
    numbered through `points (V, 3)` and then `new_points`. The first child of a row begins with its
    first slot. A row can't be worked out here, and is left for a slower way, if its border names a
    vertex twice, or a line runs along it, or lines or slots meet within `weld`."""
    total = lines = longest = 0
    for n in range(len(rows)):
        size = row_starts[rows[n] + 1] - row_starts[rows[n]]
        total += size + 2 * (starts[n + 1] - starts[n])
        lines += starts[n + 1] - starts[n] + 1
        longest = max(longest, size)
    slots, leads = np.empty(total, np.int64), np.empty(total, np.int64)
    sizes = np.empty(lines, np.int64)
    laid, children = np.zeros(len(rows), np.bool_), np.zeros(len(rows), np.int64)
    place = np.empty((longest, 3), np.float64)
    at = child = 0
    for n in range(len(rows)):
        begin = row_starts[rows[n]]
        size = row_starts[rows[n] + 1] - begin
        count = starts[n + 1] - starts[n]
        low, high = np.full(count, -1, np.int64), np.full(count, -1, np.int64)
        fits = True
        for c in range(count):
            one, other = names[ends[starts[n] + c, 0]], names[ends[starts[n] + c, 1]]
            met = 0
            for s in range(size):
                if vertex[begin + s] == one or vertex[begin + s] == other:
                    met += 1
                    if low[c] < 0:
                        low[c] = s
                    else:
                        high[c] = s
            i, j = low[c], high[c]
            if met != 2 or j - i == 1 or (i == 0 and j == size - 1):
                fits = False
                break
            for d in range(c):
                if low[d] == i and high[d] == j:
                    fits = False
        if not fits:
            continue
        for s in range(size):
            v = vertex[begin + s]
            for axis in range(3):
                place[s, axis] = (
                    points[v, axis] if v < len(points) else new_points[v - len(points), axis]
                )
        x, y, z = area_vector(place, size)
        area = np.sqrt(x * x + y * y + z * z)
        if not 0.0 < area < np.inf:
            continue
        flat = flattened(place, size, x / area, y / area, z / area)
        if not _is_clear(flat, size, low, high, weld):
            continue
        # Lines both ways, by the slot they start from and the one they lead to.
        sources, targets, line = (
            np.empty(2 * count, np.int64),
            np.empty(2 * count, np.int64),
            np.empty(2 * count, np.int64),
        )
        key = np.concatenate((low * size + high, high * size + low))
        order = np.argsort(key)
        for k in range(2 * count):
            sources[k], targets[k], line[k] = (
                key[order[k]] // size,
                key[order[k]] % size,
                order[k] % count,
            )
        first = np.searchsorted(sources, np.arange(size + 1))
        walked, walked_rim = np.zeros(2 * count, np.bool_), np.zeros(size, np.bool_)
        made, written = 0, at
        sound = True
        for s in range(size):
            # Ways out of a slot by the slot they lead to; the border leads on to the next one.
            k = first[s]
            rim_done = False
            while k < first[s + 1] or not rim_done:
                onward = s + 1 if s + 1 < size else 0
                by_rim = not rim_done and (k == first[s + 1] or onward < targets[k])
                if by_rim:
                    rim_done = True
                    if walked_rim[s]:
                        continue
                    here, way = s, -1
                else:
                    k += 1
                    if walked[k - 1]:
                        continue
                    here, way = s, k - 1
                loop = written
                twice = 0.0
                while not (walked_rim[here] if way < 0 else walked[way]):
                    if way < 0:
                        walked_rim[here] = True
                        goal = here + 1 if here + 1 < size else 0
                    else:
                        walked[way] = True
                        goal = targets[way]
                    slots[written], leads[written] = (
                        begin + here,
                        -1 if way < 0 else starts[n] + line[way],
                    )
                    twice += flat[here, 0] * flat[goal, 1] - flat[goal, 0] * flat[here, 1]
                    written += 1
                    way = _way_on(targets, first[goal], first[goal + 1], goal, here, size)
                    here = goal
                # Back where it began, round some area.
                sound = sound and here == slots[loop] - begin and written - loop > 2 and twice > 0.0
                sizes[child + made] = written - loop
                made += 1
                if made > count + 1:
                    sound = False
                if not sound:
                    break
            if not sound:
                break
        if sound and made == count + 1:
            laid[n], children[n] = True, made
            at, child = written, child + made
    return laid, children, sizes[:child], slots[:at], leads[:at]
