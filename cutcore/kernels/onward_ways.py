"""The cheapest way over edges that goes ever onward along a line."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.compiled import compiled

# No edge leads so many times further along a line than it is long: it would cut across a bend.
LEAP = 3.0


@compiled
def nearest_on_line(
    line: Floats, lengths: Floats, places: Floats, low: Ints, high: Ints, closed: bool
) -> tuple[Floats, Floats]:
    """For each place (n, 3) how far along a line (m, 3) its nearest place is, and how far away that
    is; only the segments from `low (n,)` to `high (n,)` are looked at. `lengths (m,)` says how far
    along the line its points are; unless it is `closed` it goes on straight before its first and after its
    last."""
    count = len(line) - 1
    along, away = np.empty(len(places)), np.empty(len(places))
    for k in range(len(places)):
        best = np.inf
        for j in range(max(0, low[k]), min(count, high[k] + 1)):
            size, dot, whole = 0.0, 0.0, 0.0
            for c in range(3):
                u, w = line[j + 1, c] - line[j, c], places[k, c] - line[j, c]
                size += u * u
                dot += u * w
                whole += w * w
            if size == 0.0:
                continue
            t = dot / size
            if j > 0 or closed:
                t = max(t, 0.0)
            if j < count - 1 or closed:
                t = min(t, 1.0)
            gap = whole - 2 * t * dot + t * t * size
            if gap < best:
                best = gap
                along[k] = lengths[j] + t * np.sqrt(size)
        away[k] = np.sqrt(max(best, 0.0))
    return along, away


@compiled
def cheapest_onward(
    order: Ints,
    along: Floats,
    costs: Floats,
    length: Floats,
    starts: Ints,
    edges: Ints,
    ends: Ints,
    open_edges: Bools,
    first: int,
    last: int,
    whole: float,
    closed: bool,
) -> Ints:
    """The cheapest way from one vertex to another over edges, each vertex further `along (n,)` than
    the one before, except that the ends may lie anywhere: the vertices passed, both ends included;
    none if there is no way. Once round a `closed` line, `whole` in length, the first half is the
    way out and the second the way back to where it began.

    `order (k,)` are the vertices that may be passed, by how far along they are. An edge costs its
    `length (m,)`, or by how much it leads further along if that is more, times the mean of what its
    ends cost, `costs (n,)`. The edges at each vertex are
    rows, `starts (n+1,)` and `edges`; `ends (m, 2)`, and which of them are open. What comes before
    is settled before what follows, so one pass does."""
    count = len(along)
    cost = np.full(count, np.inf)
    back = np.full(count, -1, dtype=np.int64)
    passed = np.zeros(count, np.bool_)
    for v in order:
        passed[v] = True
    cost[first] = 0.0
    total = np.inf
    before = -1
    for k in range(-1, len(order)):
        v = first if k < 0 else order[k]
        if cost[v] == np.inf or (k >= 0 and v == first):
            continue
        for r in range(starts[v], starts[v + 1]):
            e = edges[r]
            if not open_edges[e]:
                continue
            w = ends[e, 0] if ends[e, 1] == v else ends[e, 1]
            here = 0.0 if k < 0 else along[v]
            there = whole if w == last and (k >= 0 or not closed) else along[w]
            if there - here > LEAP * length[e]:
                continue
            step = cost[v] + max(length[e], there - here) * 0.5 * (costs[v] + costs[w])
            step = cost[v] + length[e] * 0.5 * (costs[v] + costs[w])
            if w == last and (not closed or (k >= 0 and along[v] > 0.5 * whole)):
                if step < total:
                    total, before = step, v
            elif k < 0 and closed and along[w] > 0.5 * whole:
                continue
            elif passed[w] and w != first and (k < 0 or along[w] > along[v]) and step < cost[w]:
                cost[w], back[w] = step, v
    if total == np.inf:
        return np.zeros(0, dtype=np.int64)
    way = [last]
    while before >= 0 and before != first:
        way.append(before)
        before = back[before]
    way.append(first)
    return np.array(way[::-1])
