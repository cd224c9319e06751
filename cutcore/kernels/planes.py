"""Where one plane, or many parallel ones, cross the edges and faces of a mesh.

Many planes are told apart by rank: with ascending levels, a vertex on level k has rank 2k + 1, one
above k levels and on none has rank 2k. So plane k crosses an edge between vertices of ranks p < q
if p < 2k + 1 < q."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.compiled import compiled


@compiled
def sides_and_crossed(
    points: Floats, normal: Floats, offset: float, weld: float, ends: Ints
) -> tuple[NDArray[np.int8], Ints]:
    """The side (V,) of points (V, 3) of a plane: -1, 0 within `weld` of it, +1; and the edges (n,)
    between sides."""
    side = np.empty(len(points), np.int8)
    for v in range(len(points)):
        height = (
            points[v, 0] * normal[0] + points[v, 1] * normal[1] + points[v, 2] * normal[2] - offset
        )
        side[v] = 1 if height > weld else -1 if height < -weld else 0
    crossed = np.empty(len(ends), np.int64)
    count = 0
    for e in range(len(ends)):
        if side[ends[e, 0]] * side[ends[e, 1]] < 0:
            crossed[count] = e
            count += 1
    return side, crossed[:count].copy()


@compiled
def reach_along(points: Floats, along: Floats, used: Bools) -> tuple[float, float]:
    """The lowest and the highest height along a direction of those points (V, 3) that are used
    (V,)."""
    low, high = np.inf, -np.inf
    for v in range(len(points)):
        if used[v]:
            height = points[v, 0] * along[0] + points[v, 1] * along[1] + points[v, 2] * along[2]
            low, high = min(low, height), max(high, height)
    return low, high


@compiled
def ranks_of(points: Floats, normal: Floats, levels: Floats, weld: float) -> Ints:
    """The ranks (V,) of points (V, 3) by their heights along a normal among ascending levels (n,)
    that lie more than twice `weld` apart."""
    count = len(levels)
    rank = np.empty(len(points), np.int32)
    low = 0
    for v in range(len(points)):
        height = points[v, 0] * normal[0] + points[v, 1] * normal[1] + points[v, 2] * normal[2]
        # A vertex mostly lies between the same levels as the one before it.
        if (low > 0 and levels[low - 1] + weld >= height) or (
            low < count and levels[low] + weld < height
        ):
            low, high = 0, count
            while low < high:
                middle = (low + high) // 2
                if levels[middle] + weld < height:
                    low = middle + 1
                else:
                    high = middle
        rank[v] = 2 * low + (1 if low < count and levels[low] - weld <= height else 0)
    return rank


@compiled
def crossings_between(
    points: Floats, normal: Floats, levels: Floats, rank: Ints, ends: Ints
) -> tuple[Ints, Ints, Ints, Floats, Floats, Ints]:
    """The crossings of edges (E, 2) and levels, edge by edge from the lower vertex on: where those
    of each edge begin (E+1,), the edge and the level of each (n,), its share from the lower vertex
    (n,) and its place (n, 3). And the edges (m,) that have an end on a level."""
    first = np.empty(len(ends) + 1, np.int64)
    count = ending = 0
    for e in range(len(ends)):
        first[e] = count
        p, q = rank[ends[e, 0]], rank[ends[e, 1]]
        count += max(0, (max(p, q) >> 1) - ((min(p, q) + 1) >> 1))
        ending += (p | q) & 1
    first[len(ends)] = count
    edge, plane = np.empty(count, np.int64), np.empty(count, np.int64)
    share = np.empty(count, np.float64)
    place = np.empty((count, 3), np.float64)
    for e in range(len(ends)):
        if first[e] == first[e + 1]:
            continue
        a, b = ends[e, 0], ends[e, 1]
        low = points[a, 0] * normal[0] + points[a, 1] * normal[1] + points[a, 2] * normal[2]
        high = points[b, 0] * normal[0] + points[b, 1] * normal[1] + points[b, 2] * normal[2]
        for n in range(first[e], first[e + 1]):
            k = (
                ((rank[a] + 1) >> 1) + n - first[e]
                if rank[a] < rank[b]
                else (rank[a] >> 1) - 1 - (n - first[e])
            )
            from_low = low - levels[k]
            edge[n], plane[n] = e, k
            share[n] = from_low / (from_low - (high - levels[k]))
            for axis in range(3):
                place[n, axis] = points[a, axis] + share[n] * (points[b, axis] - points[a, axis])
    # Looked for apart: few planes meet a vertex, and in the first loop this would slow down all the
    # rest.
    touching = np.empty(ending, np.int64)
    if ending > 0:
        found = 0
        for e in range(len(ends)):
            if (rank[ends[e, 0]] | rank[ends[e, 1]]) & 1:
                touching[found] = e
                found += 1
    return first, edge, plane, share, place, touching


@compiled
def pairs_in_faces(
    edge: Ints, plane: Ints, faces: Ints, careful: Bools
) -> tuple[Ints, Ints, Ints, Ints]:
    """The segments of planes across the faces that two crossings (n,) of one plane meet: crossings
    they join (m, 2), faces (m,) and planes (m,). And the other faces that crossings meet (k,),
    together with those to be taken with care (F,).

    `faces (E, 2)` are those at each edge.
    """
    one, other = np.full(len(careful), -1, np.int32), np.full(len(careful), -1, np.int32)
    for n in range(len(edge)):
        for side in range(2):
            f = faces[edge[n], side]
            if f < 0:
                continue
            if one[f] < 0:
                one[f] = n
            else:
                other[f] = n if other[f] == -1 else -2
    nodes = np.empty((len(edge), 2), np.int64)
    face, across = np.empty(len(edge), np.int64), np.empty(len(edge), np.int64)
    left = np.empty(len(careful), np.int64)
    made = more = 0
    for f in range(len(careful)):
        if one[f] < 0 and not careful[f]:
            continue
        if careful[f] or other[f] < 0 or plane[one[f]] != plane[other[f]]:
            left[more] = f
            more += 1
        else:
            nodes[made, 0], nodes[made, 1], face[made], across[made] = (
                one[f],
                other[f],
                f,
                plane[one[f]],
            )
            made += 1
    return nodes[:made], face[:made], across[:made], left[:more].copy()


@compiled
def segments_between(
    faces: Ints, starts: Ints, corners: Ints, of_corner: Ints, rank: Ints, first: Ints, on: Ints
) -> tuple[Ints, Ints, Ints]:
    """The segments of planes across some faces of any form: the nodes they join (n, 2), their faces
    (n,) and planes (n,).

    Nodes are the crossings, and after them the vertices `on` a level, ascending. A face that has
    more than two nodes on a plane is given once for that plane, with -1 as its second."""
    most = 0
    for f in faces:
        for c in range(starts[f], starts[f + 1]):
            most += first[of_corner[c] + 1] - first[of_corner[c]] + (rank[corners[c]] & 1)
    nodes = np.empty((most, 2), np.int64)
    face, plane = np.empty(most, np.int64), np.empty(most, np.int64)
    crossings = first[len(first) - 1]
    made = 0
    for f in faces:
        begin, end = starts[f], starts[f + 1]
        low = high = rank[corners[begin]]
        for c in range(begin + 1, end):
            here = rank[corners[c]]
            low, high = min(low, here), max(high, here)
        for k in range((low + 1) >> 1, high >> 1):
            level = 2 * k + 1
            found = 0
            last = corners[end - 1]
            before = rank[last]
            e = of_corner[end - 1]
            for c in range(begin, end):
                v = corners[c]
                here = rank[v]
                node = -1
                if here == level:
                    node = crossings + np.searchsorted(on, v)
                elif before != level and (before < level) != (here < level):
                    # The crossings of an edge are counted from its lower vertex.
                    p, q = (before, here) if last < v else (here, before)
                    node = first[e] + (k - ((p + 1) >> 1) if p < q else (p >> 1) - 1 - k)
                if node >= 0:
                    if found < 2:
                        nodes[made, found] = node
                    found += 1
                last, before, e = v, here, of_corner[c]
            if found > 2:
                nodes[made, 1] = -1
            if found > 1:
                face[made], plane[made] = f, k
                made += 1
    return nodes[:made], face[:made], plane[:made]


@compiled
def thin_corners(
    nodes: Ints, edge: Ints, place: Floats, ends: Ints, points: Floats, weld: float, reach: float
) -> tuple[Ints, Ints]:
    """Segments between places (n, 3) on two edges that part off a corner no wider than `weld` and
    nowhere longer than `reach`: which of `nodes (S, 2)` they are (k,), and the vertices at their
    corners (k,).

    `edge (m,)` is the edge of a node, -1 or beyond its end for those on vertices.
    """
    segment, apex = np.empty(len(nodes), np.int64), np.empty(len(nodes), np.int64)
    count = 0
    for s in range(len(nodes)):
        a, b = nodes[s, 0], nodes[s, 1]
        if max(a, b) >= len(edge) or min(edge[a], edge[b]) < 0:
            continue
        apart = (
            (place[a, 0] - place[b, 0]) ** 2
            + (place[a, 1] - place[b, 1]) ** 2
            + (place[a, 2] - place[b, 2]) ** 2
        )
        if apart > reach * reach:
            continue
        low, high = ends[edge[a], 0], ends[edge[a], 1]
        v = low if low == ends[edge[b], 0] or low == ends[edge[b], 1] else high
        if v != ends[edge[b], 0] and v != ends[edge[b], 1]:
            continue
        px, py, pz = (
            place[a, 0] - points[v, 0],
            place[a, 1] - points[v, 1],
            place[a, 2] - points[v, 2],
        )
        qx, qy, qz = (
            place[b, 0] - points[v, 0],
            place[b, 1] - points[v, 1],
            place[b, 2] - points[v, 2],
        )
        longest = max(px * px + py * py + pz * pz, qx * qx + qy * qy + qz * qz, apart)
        if longest > reach * reach:
            continue
        x, y, z = py * qz - pz * qy, pz * qx - px * qz, px * qy - py * qx
        if x * x + y * y + z * z <= longest * weld * weld:
            segment[count], apex[count] = s, v
            count += 1
    return segment[:count].copy(), apex[:count].copy()
