"""Where one plane, or many parallel ones, cross the edges and faces of a mesh.

Many planes are told apart by rank: with ascending levels, a vertex on level k has rank 2k + 1, one above k levels and on
none has rank 2k. So plane k crosses an edge between vertices of ranks p < q if p < 2k + 1 < q.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from cutcore.arrays import Floats, Ints
from cutcore.kernels.compiled import compiled


@compiled
def sides_and_crossed(points: Floats, normal: Floats, offset: float, weld: float, ends: Ints) -> tuple[NDArray[np.int8], Ints]:
    """The side (V,) of points (V, 3) of a plane: -1, 0 within `weld` of it, +1; and the edges (n,) between sides."""
    side = np.empty(len(points), np.int8)
    for v in range(len(points)):
        height = points[v, 0] * normal[0] + points[v, 1] * normal[1] + points[v, 2] * normal[2] - offset
        side[v] = 1 if height > weld else -1 if height < -weld else 0
    crossed = np.empty(len(ends), np.int64)
    count = 0
    for e in range(len(ends)):
        if side[ends[e, 0]] * side[ends[e, 1]] < 0:
            crossed[count] = e
            count += 1
    return side, crossed[:count].copy()


@compiled
def ranks_of(height: Floats, levels: Floats, weld: float) -> Ints:
    """The rank (V,) of heights among ascending levels (n,) that lie more than twice `weld` apart."""
    count = len(levels)
    rank = np.empty(len(height), np.int32)
    for v in range(len(height)):
        low, high = 0, count
        while low < high:
            middle = (low + high) // 2
            if levels[middle] + weld < height[v]:
                low = middle + 1
            else:
                high = middle
        rank[v] = 2 * low + (1 if low < count and levels[low] - weld <= height[v] else 0)
    return rank


@compiled
def crossings_between(height: Floats, rank: Ints, levels: Floats, ends: Ints, points: Floats) -> tuple[Ints, Ints, Floats, Floats, Ints]:
    """The crossings of edges (E, 2) and levels, edge by edge from the lower vertex on: where those of each edge begin
    (E+1,), the edge of each (n,), its share from the lower vertex (n,) and its place (n, 3). And the edges (m,) that lie
    on a level."""
    first = np.empty(len(ends) + 1, np.int64)
    flat = np.empty(16, np.int64)
    count = level_ones = 0
    for e in range(len(ends)):
        first[e] = count
        p, q = rank[ends[e, 0]], rank[ends[e, 1]]
        if p != q:
            count += max(0, max(p, q) // 2 - (min(p, q) + 1) // 2)
        elif p & 1:
            if level_ones == len(flat):
                flat = np.concatenate((flat, np.empty(level_ones, np.int64)))
            flat[level_ones] = e
            level_ones += 1
    first[len(ends)] = count
    edge = np.empty(count, np.int64)
    share = np.empty(count, np.float64)
    place = np.empty((count, 3), np.float64)
    for e in range(len(ends)):
        if first[e] == first[e + 1]:
            continue
        a, b = ends[e, 0], ends[e, 1]
        for n in range(first[e], first[e + 1]):
            k = (rank[a] + 1) // 2 + n - first[e] if rank[a] < rank[b] else rank[a] // 2 - 1 - (n - first[e])
            from_low = height[a] - levels[k]
            edge[n] = e
            share[n] = from_low / (from_low - (height[b] - levels[k]))
            for axis in range(3):
                place[n, axis] = points[a, axis] + share[n] * (points[b, axis] - points[a, axis])
    return first, edge, share, place, flat[:level_ones]


@compiled
def segments_between(
    starts: Ints, corners: Ints, of_corner: Ints, ends: Ints, rank: Ints, first: Ints, on: Ints, most: int
) -> tuple[Ints, Ints, Ints]:
    """The segments of planes across faces: the nodes they join (n, 2), their faces (n,) and planes (n,).

    Nodes are the crossings, and after them the vertices `on` a level, ascending. A face that has more than two nodes on
    a plane is given once for that plane, with -1 as its second. `most` is how many segments there can be.
    """
    nodes = np.empty((most, 2), np.int64)
    face = np.empty(most, np.int64)
    plane = np.empty(most, np.int64)
    crossings = first[len(first) - 1]
    made = 0
    for f in range(len(starts) - 1):
        begin, end = starts[f], starts[f + 1]
        low = high = rank[corners[begin]]
        for c in range(begin + 1, end):
            here = rank[corners[c]]
            low, high = min(low, here), max(high, here)
        for k in range((low + 1) // 2, high // 2):
            level = 2 * k + 1
            found = 0
            before = rank[corners[end - 1]]
            for c in range(begin, end):
                here = rank[corners[c]]
                if (before < level and here > level) or (before > level and here < level):
                    # The edge before a corner starts from the corner before it.
                    e = of_corner[c - 1] if c > begin else of_corner[end - 1]
                    p, q = rank[ends[e, 0]], rank[ends[e, 1]]
                    if found < 2:
                        nodes[made, found] = first[e] + (k - (p + 1) // 2 if p < q else p // 2 - 1 - k)
                    found += 1
                if here == level:
                    if found < 2:
                        nodes[made, found] = crossings + np.searchsorted(on, corners[c])
                    found += 1
                before = here
            if found > 2:
                nodes[made, 1] = -1
            if found > 1:
                face[made], plane[made] = f, k
                made += 1
    return nodes[:made], face[:made], plane[:made]


@compiled
def short_segments(nodes: Ints, place: Floats, weld: float) -> Ints:
    """Which segments (n, 2) between places (m, 3) are no longer than `weld`."""
    found = np.empty(len(nodes), np.int64)
    count = 0
    for s in range(len(nodes)):
        gap = 0.0
        for axis in range(3):
            gap += (place[nodes[s, 0], axis] - place[nodes[s, 1], axis]) ** 2
        if gap <= weld * weld:
            found[count] = s
            count += 1
    return found[:count].copy()
