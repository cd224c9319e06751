"""Where one plane, or many parallel ones, cross the edges and faces of a mesh.

Many planes are told apart by rank: `above[v]` is how many of the ascending levels lie below vertex v, so plane k
crosses an edge between vertices of ranks p < q if p <= k < q.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from cutcore.arrays import Bools, Floats, Ints
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
def ranks_of(height: Floats, levels: Floats, weld: float) -> tuple[Ints, Bools]:
    """The rank (V,) of heights among ascending levels (n,), and which levels have a height within `weld` of them (n,)."""
    count = len(levels)
    above = np.empty(len(height), np.int32)
    met = np.zeros(count, np.bool_)
    for v in range(len(height)):
        low, high = 0, count
        while low < high:
            middle = (low + high) // 2
            if levels[middle] < height[v]:
                low = middle + 1
            else:
                high = middle
        above[v] = low
        k = low - 1
        while k >= 0 and height[v] - levels[k] <= weld:
            met[k] = True
            k -= 1
        k = low
        while k < count and levels[k] - height[v] <= weld:
            met[k] = True
            k += 1
    return above, met


@compiled
def crossings_between(height: Floats, above: Ints, levels: Floats, ends: Ints) -> tuple[Ints, Ints, Floats]:
    """The crossings of edges (E, 2) and levels, edge by edge from the lower vertex on: where those of each edge begin
    (E+1,), the edge of each (n,) and its share from the lower vertex (n,)."""
    first = np.empty(len(ends) + 1, np.int64)
    count = 0
    for e in range(len(ends)):
        first[e] = count
        count += abs(above[ends[e, 1]] - above[ends[e, 0]])
    first[len(ends)] = count
    edge = np.empty(count, np.int64)
    share = np.empty(count, np.float64)
    for e in range(len(ends)):
        a, b = ends[e, 0], ends[e, 1]
        for step in range(first[e + 1] - first[e]):
            k = above[a] + step if above[a] < above[b] else above[a] - 1 - step
            from_low = height[a] - levels[k]
            edge[first[e] + step] = e
            share[first[e] + step] = from_low / (from_low - (height[b] - levels[k]))
    return first, edge, share


@compiled
def segments_between(starts: Ints, corners: Ints, of_corner: Ints, ends: Ints, above: Ints, first: Ints) -> tuple[Ints, Ints, Ints]:
    """The segments of planes across faces: the crossings they join (n, 2), their faces (n,) and planes (n,).

    A face that a plane crosses more than twice is given once for that plane, with the first of its crossings and -1.
    """
    bound = 0
    for f in range(len(starts) - 1):
        low = high = above[corners[starts[f]]]
        for c in range(starts[f] + 1, starts[f + 1]):
            low, high = min(low, above[corners[c]]), max(high, above[corners[c]])
        bound += high - low
    nodes = np.empty((bound, 2), np.int64)
    face = np.empty(bound, np.int64)
    plane = np.empty(bound, np.int64)
    made = 0
    for f in range(len(starts) - 1):
        low = high = above[corners[starts[f]]]
        for c in range(starts[f] + 1, starts[f + 1]):
            low, high = min(low, above[corners[c]]), max(high, above[corners[c]])
        for k in range(low, high):
            found = 0
            for c in range(starts[f], starts[f + 1]):
                following = c + 1 if c + 1 < starts[f + 1] else starts[f]
                here, there = above[corners[c]], above[corners[following]]
                if (here <= k) != (there <= k):
                    if found < 2:
                        e = of_corner[c]
                        lower = above[ends[e, 0]]
                        nodes[made, found] = first[e] + (k - lower if lower <= k else lower - 1 - k)
                    found += 1
            if found > 2:
                nodes[made, 1] = -1
            face[made], plane[made] = f, k
            made += 1
    return nodes, face, plane
