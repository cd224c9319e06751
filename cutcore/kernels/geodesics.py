"""Shortest ways over a surface of triangles, from a way from vertex to vertex made straight.

A way is kept as the strip of triangles it runs through. In the plane the strip unfolds to, its
shortest way is found by the funnel of Lee and Preparata, "Euclidean shortest paths in the presence
of rectilinear barriers", Networks 14 (1984). Where that bends round a vertex with less than half a
turn left on the vertex's other side, the strip is laid round that side instead, which shortens it;
when none is left, the way is a geodesic: a straightest one in Polthier and Schmies' sense, save
that it may bend at vertices with more than a full turn about them.
"""

from __future__ import annotations

import heapq

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.compiled import compiled

# Bends and gains of less than this angle are rounding.
NO_BEND = 1e-9


@compiled
def vertex_way(
    points: Floats,
    starts: Ints,
    corners: Ints,
    ends: Ints,
    faces: Ints,
    around_starts: Ints,
    around: Ints,
    open_: Bools,
    sources: Ints,
    source_cost: Floats,
    goals: Ints,
    goal_cost: Floats,
    goal: Floats,
) -> Ints:
    """The vertices (n,) of the shortest way from one of some vertices to one of others, each at a
    cost of its own, along edges of faces that are `open_ (F,)` and straight across quads of these;
    none if there is no way.

    By Dijkstra's algorithm, led by the straight distance to the place of the goal (A*)."""
    count = len(around_starts) - 1
    cost = np.full(count, np.inf)
    before = np.full(count, -1, np.int64)
    done = np.zeros(count, np.bool_)
    last = np.full(count, np.inf)
    for k in range(len(goals)):
        last[goals[k]] = goal_cost[k]
    queue = [(0.0, np.int64(-1))]
    queue.clear()
    for k in range(len(sources)):
        v = sources[k]
        if source_cost[k] < cost[v]:
            cost[v] = source_cost[k]
            heapq.heappush(queue, (cost[v], np.int64(v)))
    best, at = np.inf, np.int64(-1)
    while len(queue):
        reach, v = heapq.heappop(queue)
        if reach >= best:
            break
        if done[v]:
            continue
        done[v] = True
        if cost[v] + last[v] < best:
            best, at = cost[v] + last[v], v
        for k in range(around_starts[v], around_starts[v + 1]):
            e = around[k]
            along = True
            other = ends[e, 0] + ends[e, 1] - v
            for side in range(2):
                f = faces[e, side]
                if f < 0 or not open_[f]:
                    continue
                for across in range(2):
                    w = other
                    if across == 0:
                        if not along:
                            continue
                        along = False
                    else:
                        # Each quad at v once: from its edge that leads on from there.
                        begin = starts[f]
                        if starts[f + 1] - begin != 4:
                            continue
                        at_v = 0
                        while corners[begin + at_v] != v:
                            at_v += 1
                        if corners[begin + (at_v + 1) % 4] != other:
                            continue
                        w = corners[begin + (at_v + 2) % 4]
                    if done[w]:
                        continue
                    length = away = 0.0
                    for axis in range(3):
                        length += (points[w, axis] - points[v, axis]) ** 2
                    total = cost[v] + np.sqrt(length)
                    if total < cost[w]:
                        for axis in range(3):
                            away += (points[w, axis] - goal[axis]) ** 2
                        cost[w], before[w] = total, v
                        heapq.heappush(queue, (total + np.sqrt(away), np.int64(w)))
    way = [np.int64(0)]
    way.clear()
    while at >= 0:
        way.append(at)
        at = before[at]
    return np.array(way[::-1], np.int64)


@compiled
def _corner_of(tri: Ints, t: int, v: int) -> int:
    for i in range(3):
        if tri[t, i] == v:
            return i
    return -1


@compiled
def _turned(tri: Ints, beside: Ints, t: int, v: int, x: int) -> tuple[int, int]:
    """The triangle next to t round a vertex, over the edge from there to x, and the vertex that
    leads on round it; -1 twice at a border. Triangles may be turned against each other."""
    i = _corner_of(tri, t, v)
    over = beside[t, i if tri[t, (i + 1) % 3] == x else (i + 2) % 3]
    if over < 0:
        return -1, -1
    for k in range(3):
        if tri[over, k] != v and tri[over, k] != x:
            return int(over), int(tri[over, k])
    return -1, -1


@compiled
def _angle_at(points: Floats, tri: Ints, t: int, v: int) -> float:
    i = _corner_of(tri, t, v)
    a, b = tri[t, (i + 1) % 3], tri[t, (i + 2) % 3]
    dot = one = two = 0.0
    for axis in range(3):
        p, q = points[a, axis] - points[v, axis], points[b, axis] - points[v, axis]
        dot += p * q
        one += p * p
        two += q * q
    size = np.sqrt(one * two)
    return np.arccos(min(1.0, max(-1.0, dot / size))) if size > 0.0 else 0.0


@compiled
def _reached(tri: Ints, beside: Ints, face: Ints, t: int, v: int, w: int) -> int:
    """How a way from v to w goes on from a triangle at v: 0 if it has come to w, else the triangle
    that has w over the diagonal before v, plus one; -1 if w is elsewhere."""
    if _corner_of(tri, t, w) >= 0:
        return 0
    over = beside[t, (_corner_of(tri, t, v) + 1) % 3]
    if over >= 0 and face[over] == face[t] and _corner_of(tri, over, w) >= 0:
        return int(over) + 1
    return -1


@compiled
def strip_along(
    points: Floats, tri: Ints, beside: Ints, face: Ints, way: Ints, first: int, last: int
) -> Ints:
    """The strip of triangles (n,) from a first to a last one that passes every vertex of a way in
    turn, each on the side where it turns less; none if it can't."""
    strip = [first]
    for k in range(len(way)):
        v, here = int(way[k]), strip[-1]
        ends = k + 1 == len(way)
        best_turn, best_way = np.inf, -1
        i = _corner_of(tri, here, v)
        for side in range(1, 3):
            t, turn, x = here, 0.0, int(tri[here, (i + side) % 3])
            while t >= 0:
                if (t == last) if ends else _reached(tri, beside, face, t, v, way[k + 1]) >= 0:
                    if turn < best_turn:
                        best_turn, best_way = turn, side
                    break
                t, x = _turned(tri, beside, t, v, x)
                if t == here:
                    break
                if t >= 0:
                    turn += _angle_at(points, tri, t, v)
        if best_way < 0:
            return np.empty(0, np.int64)
        t, x = here, int(tri[here, (i + best_way) % 3])
        while True:
            reached = -1 if ends else _reached(tri, beside, face, t, v, way[k + 1])
            if (t == last) if ends else reached >= 0:
                break
            t, x = _turned(tri, beside, t, v, x)
            strip.append(t)
        if reached > 0:
            strip.append(reached - 1)
    return np.array(strip, np.int64)


@compiled
def _place_third(
    points: Floats, flat: Floats, a: int, b: int, c: int, from_side: float, out: Floats
) -> None:
    """Where vertex c comes to lie in the plane beside the edge from a to b, whose places there are
    the rows of `flat`: to the right of it, or to its left if `from_side` is negative."""
    to_a = to_b = between = 0.0
    for axis in range(3):
        to_a += (points[c, axis] - points[a, axis]) ** 2
        to_b += (points[c, axis] - points[b, axis]) ** 2
        between += (points[b, axis] - points[a, axis]) ** 2
    size = np.sqrt(between)
    if size == 0.0:
        out[0], out[1] = flat[0, 0], flat[0, 1]
        return
    along = (between + to_a - to_b) / (2.0 * size)
    off = np.sqrt(max(0.0, to_a - along * along)) * from_side
    x, y = (flat[1, 0] - flat[0, 0]) / size, (flat[1, 1] - flat[0, 1]) / size
    out[0] = flat[0, 0] + along * x + off * y
    out[1] = flat[0, 1] + along * y - off * x


@compiled
def _weights(points: Floats, tri: Ints, t: int, place: Floats) -> tuple[float, float, float]:
    """The barycentric weights of a place on a triangle."""
    a, b, c = tri[t, 0], tri[t, 1], tri[t, 2]
    d00 = d01 = d11 = d20 = d21 = 0.0
    for axis in range(3):
        p, q, r = (
            points[b, axis] - points[a, axis],
            points[c, axis] - points[a, axis],
            place[axis] - points[a, axis],
        )
        d00 += p * p
        d01 += p * q
        d11 += q * q
        d20 += r * p
        d21 += r * q
    det = d00 * d11 - d01 * d01
    if det <= 0.0:
        return 1.0, 0.0, 0.0
    v, w = (d11 * d20 - d01 * d21) / det, (d00 * d21 - d01 * d20) / det
    return 1.0 - v - w, v, w


@compiled
def _unfolded(
    points: Floats,
    tri: Ints,
    beside: Ints,
    strip: Ints,
    start: Floats,
    end: Floats,
    left: Floats,
    right: Floats,
    left_vertex: Ints,
    right_vertex: Ints,
) -> tuple[float, float]:
    """Unfold a strip: writes the ends of its portals and of the last, the goal itself, and returns
    where the start lies."""
    flat = np.empty((3, 2), np.float64)
    pair = np.empty((2, 2), np.float64)
    third = np.empty(2, np.float64)
    t = strip[0]
    length = 0.0
    for axis in range(3):
        length += (points[tri[t, 1], axis] - points[tri[t, 0], axis]) ** 2
    flat[0, 0] = flat[0, 1] = flat[1, 1] = 0.0
    flat[1, 0] = np.sqrt(length)
    pair[:] = flat[:2]
    _place_third(points, pair, tri[t, 0], tri[t, 1], tri[t, 2], -1.0, third)
    flat[2] = third
    u, v, w = _weights(points, tri, t, start)
    x = u * flat[0, 0] + v * flat[1, 0] + w * flat[2, 0]
    y = u * flat[0, 1] + v * flat[1, 1] + w * flat[2, 1]
    count = len(strip) - 1
    # The corners of a triangle run counter-clockwise in the plane until one is turned over.
    turned_over = False
    for k in range(count):
        here, there = strip[k], strip[k + 1]
        i = 0
        while beside[here, i] != there:
            i += 1
        j = (i + 1) % 3
        a, b = tri[here, i], tri[here, j]
        pair[0], pair[1] = flat[i], flat[j]
        on_left, on_right = (0, 1) if turned_over else (1, 0)
        left[k], right[k] = pair[on_left], pair[on_right]
        left_vertex[k], right_vertex[k] = (a, b) if turned_over else (b, a)
        m = 0
        while tri[there, m] == a or tri[there, m] == b:
            m += 1
        _place_third(points, pair, a, b, tri[there, m], -1.0 if turned_over else 1.0, third)
        same_way = tri[there, (m + 1) % 3] == a
        flat[m] = third
        flat[(m + 1) % 3] = pair[0 if same_way else 1]
        flat[(m + 2) % 3] = pair[1 if same_way else 0]
        # Neighbours that agree run along their edge against each other.
        if same_way:
            turned_over = not turned_over
    u, v, w = _weights(points, tri, strip[count], end)
    for axis in range(2):
        at = u * flat[0, axis] + v * flat[1, axis] + w * flat[2, axis]
        left[count, axis] = right[count, axis] = at
    left_vertex[count] = right_vertex[count] = -1
    return x, y


@compiled
def _cross(ox: float, oy: float, ax: float, ay: float, bx: float, by: float) -> float:
    return (ax - ox) * (by - oy) - (ay - oy) * (bx - ox)


@compiled
def _funnel(
    x: float, y: float, left: Floats, right: Floats, count: int, bends: Ints, sides: Ints
) -> int:
    """The shortest way through portals 0..count-1 to the goal, portal `count`: writes the portals
    whose left (side 0) or right end it bends at, and returns how many."""
    made = 0
    lx = rx = x
    ly = ry = y
    li = ri = ai = -1
    k = 0
    while k <= count:
        # The right side.
        px, py = right[k, 0], right[k, 1]
        if _cross(x, y, rx, ry, px, py) >= 0.0 or ri == ai:
            if ri == ai or li == ai or _cross(x, y, lx, ly, px, py) < 0.0:
                rx, ry, ri = px, py, k
            else:
                x, y, ai = lx, ly, li
                bends[made], sides[made] = li, 0
                made += 1
                lx, ly, rx, ry = x, y, x, y
                ri = li
                k = ai + 1
                continue
        px, py = left[k, 0], left[k, 1]
        if _cross(x, y, lx, ly, px, py) <= 0.0 or li == ai:
            if li == ai or ri == ai or _cross(x, y, rx, ry, px, py) > 0.0:
                lx, ly, li = px, py, k
            else:
                x, y, ai = rx, ry, ri
                bends[made], sides[made] = ri, 1
                made += 1
                lx, ly, rx, ry = x, y, x, y
                li = ri
                k = ai + 1
                continue
        k += 1
    return made


@compiled
def straighten(
    points: Floats,
    tri: Ints,
    beside: Ints,
    strip: Ints,
    start: Floats,
    end: Floats,
    start_on: Ints,
    end_on: Ints,
    rounds: int,
) -> tuple[Ints, Ints, Ints, Floats]:
    """Make the way through a strip shortest, laying the strip anew round vertices as long as that
    shortens it. `start_on` and `end_on` are the vertices (0 to 2) that start and end lie on or
    between.

    Returns the strip; for each of its portals the vertices left and right of it (n, 2, as rows) and
    how far from the left to the right vertex the way passes it; and the portals whose end it bends
    at."""
    while True:
        strip = _trimmed(tri, strip, start_on, end_on)
        count = len(strip) - 1
        left = np.empty((count + 1, 2), np.float64)
        right = np.empty((count + 1, 2), np.float64)
        left_vertex = np.empty(count + 1, np.int64)
        right_vertex = np.empty(count + 1, np.int64)
        x, y = _unfolded(
            points, tri, beside, strip, start, end, left, right, left_vertex, right_vertex
        )
        bends = np.empty(2 * count + 2, np.int64)
        sides = np.empty(2 * count + 2, np.int64)
        made = _funnel(x, y, left, right, count, bends, sides)
        path = np.empty((made + 2, 2), np.float64)
        path[0, 0], path[0, 1] = x, y
        for k in range(made):
            path[k + 1] = left[bends[k]] if sides[k] == 0 else right[bends[k]]
        path[made + 1] = left[count]
        rounds -= 1
        changed = False
        if rounds > 0:
            laid = [0]
            laid.clear()
            taken = 0
            for k in range(made):
                portal = bends[k]
                v = left_vertex[portal] if sides[k] == 0 else right_vertex[portal]
                if portal < taken or v < 0:
                    continue
                i, j = portal, portal + 1
                while i > taken and _corner_of(tri, strip[i - 1], v) >= 0:
                    i -= 1
                while j < count and _corner_of(tri, strip[j + 1], v) >= 0:
                    j += 1
                turn = _turn(path, k + 1)
                if turn <= NO_BEND:
                    continue
                shared = left_vertex[i] + right_vertex[i] - v
                first = strip[i]
                x = tri[first, 0] + tri[first, 1] + tri[first, 2] - v - shared
                whole = 0.0
                for m in range(i, j + 1):
                    whole += _angle_at(points, tri, strip[m], v)
                other = [0]
                other.clear()
                t, x = _turned(tri, beside, first, v, x)
                while t >= 0 and t != strip[j] and len(other) < 10_000:
                    other.append(t)
                    whole += _angle_at(points, tri, t, v)
                    t, x = _turned(tri, beside, t, v, x)
                if t != strip[j] or whole - turn >= 2.0 * np.pi - NO_BEND:
                    continue
                for m in range(taken, i + 1):
                    _push(laid, int(strip[m]))
                for m in range(len(other)):
                    _push(laid, other[m])
                taken = j
                changed = True
            if changed:
                for m in range(taken, count + 1):
                    _push(laid, int(strip[m]))
                strip = np.array(laid, np.int64)
        if not changed:
            break
    shares = np.empty(count, np.float64)
    k = 0
    for portal in range(count):
        # On the way to the next bend, or at one.
        while k < made and bends[k] < portal:
            k += 1
        if k < made and bends[k] == portal:
            shares[portal] = 0.0 if sides[k] == 0 else 1.0
            continue
        shares[portal] = _passed(path[k], path[k + 1], left[portal], right[portal])
    return strip, left_vertex[:count], right_vertex[:count], shares


@compiled
def _turn(path: Floats, k: int) -> float:
    """How much a way turns at its k-th place."""
    ax, ay = path[k, 0] - path[k - 1, 0], path[k, 1] - path[k - 1, 1]
    bx, by = path[k + 1, 0] - path[k, 0], path[k + 1, 1] - path[k, 1]
    return abs(np.arctan2(ax * by - ay * bx, ax * bx + ay * by))


@compiled
def _passed(a: Floats, b: Floats, left: Floats, right: Floats) -> float:
    """The share from left to right at which a way from a to b passes a portal."""
    from_left = _cross(a[0], a[1], b[0], b[1], left[0], left[1])
    from_right = _cross(a[0], a[1], b[0], b[1], right[0], right[1])
    if from_left == from_right:
        return 0.5
    return min(1.0, max(0.0, from_left / (from_left - from_right)))


@compiled
def _push(strip: list[int], t: int) -> None:
    """Put a triangle at the end of a strip; where that leads back, the way there and back goes."""
    if len(strip) and strip[-1] == t:
        return
    if len(strip) > 1 and strip[-2] == t:
        strip.pop()
        return
    strip.append(t)


@compiled
def _trimmed(tri: Ints, strip: Ints, start_on: Ints, end_on: Ints) -> Ints:
    """A strip without triangles at its ends that it need not run through, as the next holds the
    start or the end, too."""
    begin, end = 0, len(strip)
    while end - begin > 1 and _holds(tri, strip[begin + 1], start_on):
        begin += 1
    while end - begin > 1 and _holds(tri, strip[end - 2], end_on):
        end -= 1
    return strip[begin:end]


@compiled
def _holds(tri: Ints, t: int, on: Ints) -> bool:
    missing = len(on) == 0
    for k in range(len(on)):
        missing |= _corner_of(tri, t, on[k]) < 0
    return not missing
