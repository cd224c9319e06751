"""The shortest way over a surface of triangles, exactly: windows over edges.

A window is a stretch of an edge that straight ways from one place reach through the same triangles,
unfolded into a plane. It is carried on over triangle after triangle; where the surface has more than
a full turn about a vertex, or ends there, ways bend, and new windows begin. (J. S. B. Mitchell, D. M.
Mount, C. H. Papadimitriou, "The discrete geodesic problem", SIAM Journal on Computing 16, 1987; one
angle one split: J. Chen, Y. Han, "Shortest paths on a polyhedron", 1990; windows that a vertex
already beats go: S.-Q. Xin, G.-J. Wang, "Improving Chen and Han's algorithm on the discrete geodesic
problem", ACM Transactions on Graphics 28, 2009.) Windows are taken up by the least length that a way
through them can have, with a straight last stretch to the goal, as long as that is less than what is
known."""

from __future__ import annotations

import heapq

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.compiled import compiled

# Shares of a length that are rounding.
EPS = 1e-12
# Less than a full turn by more than this: no shortest way bends at such a vertex.
CONVEX = 1e-9
# What a way is found to be: not shorter than the one known, shorter, or given up.
NONE, FOUND, GIVEN_UP = 0, 1, 2


@compiled
def triangles_at(tri: Ints, count: int) -> tuple[Ints, Ints]:
    """The triangles at each of so many vertices: row starts, and 3 t + i for corner i of t."""
    starts = np.zeros(count + 1, np.int64)
    for t in range(len(tri)):
        for i in range(3):
            starts[tri[t, i] + 1] += 1
    for v in range(count):
        starts[v + 1] += starts[v]
    at = starts[:-1].copy()
    found = np.empty(3 * len(tri), np.int32)
    for t in range(len(tri)):
        for i in range(3):
            v = tri[t, i]
            found[at[v]] = 3 * t + i
            at[v] += 1
    return starts, found


@compiled
def _gap(points: Floats, a: int, b: int) -> float:
    return np.sqrt(
        (points[a, 0] - points[b, 0]) ** 2
        + (points[a, 1] - points[b, 1]) ** 2
        + (points[a, 2] - points[b, 2]) ** 2
    )


@compiled
def _off(points: Floats, v: int, place: Floats) -> float:
    return np.sqrt(
        (points[v, 0] - place[0]) ** 2
        + (points[v, 1] - place[1]) ** 2
        + (points[v, 2] - place[2]) ** 2
    )


@compiled
def _beside_edge(points: Floats, a: int, b: int, place: Floats) -> tuple[float, float]:
    """How far along the edge from a to b a place lies, and how far from its line."""
    length = along = away = 0.0
    for k in range(3):
        e, p = points[b, k] - points[a, k], place[k] - points[a, k]
        length += e * e
        along += e * p
    size = np.sqrt(length)
    if size == 0.0:
        return 0.0, _off(points, a, place)
    along /= size
    for k in range(3):
        p = place[k] - points[a, k] - along * (points[b, k] - points[a, k]) / size
        away += p * p
    return along, np.sqrt(away)


@compiled
def _least(
    points: Floats, a: int, b: int, s0: float, s1: float, x: float, h: float, goal: Floats
) -> float:
    """The least length from a place at (x, -h) beside the edge from a to b, through its stretch from
    s0 to s1, straight on to a goal."""
    tx, th = _beside_edge(points, a, b, goal)
    s = x + (tx - x) * h / (h + th) if h + th > 0.0 else x
    s = min(max(s, s0), s1)
    return np.sqrt((s - x) ** 2 + h * h) + np.sqrt((s - tx) ** 2 + th * th)


@compiled
def _may_bend(
    points: Floats, tri: Ints, beside: Ints, open_: Bools, starts: Ints, around: Ints, v: int
) -> bool:
    """Whether a shortest way may bend at a vertex: the surface ends or branches there, or has no less
    than a full turn about it."""
    whole = 0.0
    for k in range(starts[v], starts[v + 1]):
        t, i = around[k] // 3, around[k] % 3
        if not open_[t]:
            return True
        for side in (i, (i + 2) % 3):
            n = beside[t, side]
            if n < 0 or not open_[n]:
                return True
        a, b = tri[t, (i + 1) % 3], tri[t, (i + 2) % 3]
        dot = one = two = 0.0
        for axis in range(3):
            p, q = points[a, axis] - points[v, axis], points[b, axis] - points[v, axis]
            dot += p * q
            one += p * p
            two += q * q
        size = np.sqrt(one * two)
        whole += np.arccos(min(1.0, max(-1.0, dot / size))) if size > 0.0 else 0.0
    return whole > 2.0 * np.pi + CONVEX


@compiled
def _third(points: Floats, a: int, b: int, c: int) -> tuple[float, float, float]:
    """The length of the edge from a to b, and where c lies beside it, above."""
    length = _gap(points, a, b)
    along, away = _beside_edge(points, a, b, points[c])
    return length, along, away


@compiled
def _grown(table: Floats) -> Floats:
    wider = np.empty((2 * len(table), table.shape[1]), table.dtype)
    wider[: len(table)] = table
    return wider


@compiled
def _grown_ints(table: Ints) -> Ints:
    wider = np.empty((2 * len(table), table.shape[1]), table.dtype)
    wider[: len(table)] = table
    return wider


@compiled
def _across(tri: Ints, n: int, p: int, q: int) -> int:
    """The side of triangle n that joins vertices p and q, -1 if none does."""
    for j in range(3):
        a, b = tri[n, j], tri[n, (j + 1) % 3]
        if (a == p and b == q) or (a == q and b == p):
            return j
    return -1


@compiled
def shortest_way(
    points: Floats,
    tri: Ints,
    beside: Ints,
    branch_starts: Ints,
    branches: Ints,
    open_: Bools,
    around_starts: Ints,
    around: Ints,
    start: Floats,
    start_vertex: int,
    start_in: Ints,
    goal: Floats,
    goal_vertex: int,
    goal_in: Ints,
    known: float,
    most: int,
) -> tuple[int, float, Ints, Floats]:
    """The shortest way over triangles that are `open_ (T,)`, if it is shorter than a `known` length.

    `beside (T, 3)` are the triangles over each side, -1 for none, -2-k where they are the k-th row
    of `branches`. The start and the goal are places; either lies on a vertex, or -1, and inside or
    on a side of the triangles named; `around` as `triangles_at` gives it. At most so many windows
    are looked at.

    Returns whether it was found, how long it is, and what it passes on its way from the start:
    sides 3 t + i of the triangle t that it goes on in, preceded by -1 - t for the first triangle,
    and the shares (n,) from the side's first vertex at which it passes them: 0 where it bends at
    that."""
    count = len(points)
    dist = np.full(count, np.inf)
    # How a vertex is reached: by a window, along an edge from -2 - v, from the start itself; in
    # which triangle.
    via = np.full(count, -1, np.int64)
    via_in = np.full(count, -1, np.int64)
    occupied = {np.int64(-1): (0.0, 0.0)}
    # Of each window: the side it enters a triangle by, the window before, the vertex it begins at, the
    # triangle it comes out of.
    side_of = np.empty((1024, 4), np.int64)
    span = np.empty((1024, 5), np.float64)  # s0, s1, x, h, length before
    made = 0
    best, best_window, best_vertex, best_in = known * (1.0 - EPS), -1, -1, -1
    slack = EPS * known if known < np.inf else 0.0
    queue = [(0.0, np.int64(0))]
    queue.clear()
    branch = np.empty(1, np.int64)
    bends = {np.int64(-1): False}

    # What is to be begun: straight from the start, or from vertices by the length they are reached
    # at (as -1 - v in the queue).
    if start_vertex >= 0:
        dist[start_vertex] = 0.0
        via[start_vertex] = -1
        heapq.heappush(queue, (_off(points, start_vertex, goal), np.int64(-1 - start_vertex)))
    seeds = start_in if start_vertex < 0 else start_in[:0]
    for k in range(len(seeds)):
        t = seeds[k]
        for g in range(len(goal_in)):
            if goal_in[g] == t:
                straight = 0.0
                for axis in range(3):
                    straight += (start[axis] - goal[axis]) ** 2
                if np.sqrt(straight) < best:
                    # Nothing is shorter.
                    return (
                        FOUND,
                        np.sqrt(straight),
                        np.array([-1 - t], np.int64),
                        np.zeros(1, np.float64),
                    )
        for i in range(3):
            v = tri[t, i]
            away = _off(points, v, start)
            if away < dist[v]:
                dist[v], via[v], via_in[v] = away, -1, t
                heapq.heappush(queue, (away + _off(points, v, goal), np.int64(-1 - v)))

    seeding = 0
    while True:
        # The triangle to carry windows out of, and the place they come from.
        if seeding < len(seeds):
            t, kind, index = seeds[seeding], 0, np.int64(-1)
            seeding += 1
        else:
            if len(queue) == 0:
                break
            key, index = heapq.heappop(queue)
            if key >= best - slack:
                break
            kind = 1 if index >= 0 else 2
            t = side_of[index, 0] // 3 if kind == 1 else 0
        if made > most:
            return GIVEN_UP, best, np.empty(0, np.int64), np.empty(0, np.float64)
        first, last = 0, 1
        from_vertex = np.int64(-1)
        if kind == 2:
            from_vertex = -1 - index
            if key > dist[from_vertex] + _off(points, from_vertex, goal):
                continue  # it was reached sooner since
            if from_vertex == goal_vertex:
                continue
            if from_vertex != start_vertex:
                if from_vertex not in bends:
                    bends[from_vertex] = _may_bend(
                        points, tri, beside, open_, around_starts, around, from_vertex
                    )
                if not bends[from_vertex]:
                    continue
            first, last = around_starts[from_vertex], around_starts[from_vertex + 1]
        for spot in range(first, last):
            # The sides that windows are carried over, and the stretch of each, as ends (0..1).
            sides = (-1, -1)
            if kind == 0:
                pass
            elif kind == 2:
                t = around[spot] // 3
                if not open_[t]:
                    continue
                i = around[spot] % 3
                for g in range(len(goal_in)):
                    if goal_in[g] == t:
                        total = dist[from_vertex] + _off(points, from_vertex, goal)
                        if goal_vertex < 0 and total < best - slack:
                            best, best_window, best_vertex, best_in = total, -1, from_vertex, t
                for other in ((i + 1) % 3, (i + 2) % 3):
                    u = tri[t, other]
                    total = dist[from_vertex] + _gap(points, from_vertex, u)
                    if total < dist[u] - EPS * total:
                        dist[u], via[u], via_in[u] = total, -2 - from_vertex, t
                        if u == goal_vertex and total < best - slack:
                            best, best_window, best_vertex, best_in = total, -1, u, t
                        heapq.heappush(queue, (total + _off(points, u, goal), np.int64(-1 - u)))
                sides = ((i + 1) % 3, -1)
            side = 0
            s0 = s1 = x = h = before = 0.0
            length = cx = cy = 0.0
            if kind == 1:
                side = side_of[index, 0] % 3
                s0, s1, x, h, before = (
                    span[index, 0],
                    span[index, 1],
                    span[index, 2],
                    span[index, 3],
                    span[index, 4],
                )
                a, b, c = tri[t, side], tri[t, (side + 1) % 3], tri[t, (side + 2) % 3]
                length, cx, cy = _third(points, a, b, c)
                # The goal in this triangle, if a straight way leads there.
                for g in range(len(goal_in)):
                    if goal_in[g] == t and goal_vertex < 0:
                        gx, gy = _beside_edge(points, a, b, goal)
                        s = x + (gx - x) * h / (h + gy)
                        if s0 - EPS * length <= s <= s1 + EPS * length:
                            total = before + np.sqrt((gx - x) ** 2 + (gy + h) ** 2)
                            if total < best - slack:
                                best, best_window, best_vertex, best_in = total, index, -1, t
                # Where the way to the vertex ahead passes.
                sc = x + (cx - x) * h / (h + cy)
                # How far the stretches over the one and the other side reach.
                over_ca, over_bc = min(s1, sc), max(s0, sc)
                if s0 - EPS * length <= sc <= s1 + EPS * length:
                    total = before + np.sqrt((cx - x) ** 2 + (cy + h) ** 2)
                    if total < dist[c] - EPS * total:
                        dist[c], via[c], via_in[c] = total, index, t
                        if c == goal_vertex and total < best - slack:
                            best, best_window, best_vertex, best_in = total, index, c, t
                        heapq.heappush(queue, (total + _off(points, c, goal), np.int64(-1 - c)))
                    corner = np.int64(side_of[index, 0])
                    taken = corner in occupied
                    if taken and occupied[corner][0] < total - EPS * total:
                        # Ways that cross the shorter one to that vertex are no shortest ones.
                        other = occupied[corner][1]
                        if sc < other:
                            over_bc = max(over_bc, other)
                        else:
                            over_ca = min(over_ca, other)
                    elif not taken or total < occupied[corner][0]:
                        occupied[corner] = (total, sc)
                sides = (
                    (side + 1) % 3 if over_bc < s1 else -1,
                    (side + 2) % 3 if s0 < over_ca else -1,
                )
            for which in range(3 if kind == 0 else 2):
                j = which if kind == 0 else sides[which]
                if j < 0:
                    continue
                p, q = tri[t, j], tri[t, (j + 1) % 3]
                size = _gap(points, p, q)
                if not size > 0.0:
                    continue
                # The stretch of this side, from p, and the place it is seen from.
                if kind == 1:
                    if which == 0:
                        # From b to c.
                        low, high = over_bc, s1
                        px, py, qx, qy = length, 0.0, cx, cy
                    else:
                        low, high = s0, over_ca
                        px, py, qx, qy = cx, cy, 0.0, 0.0
                    r0 = r1 = 0.0
                    for end in range(2):
                        s = low if end == 0 else high
                        dx, dy = s - x, h
                        ex, ey = qx - px, qy - py
                        below = dx * ey - dy * ex
                        wx, wy = px - x, py + h
                        r = -(dx * wy - dy * wx) / below if below != 0.0 else 0.5
                        r = min(max(r, 0.0), 1.0)
                        if end == 0:
                            r0 = r
                        else:
                            r1 = r
                    if r0 > r1:
                        r0, r1 = r1, r0
                    # The vertex ahead belongs to both sides.
                    along = ((x - px) * (qx - px) + (-h - py) * (qy - py)) / size
                    off = abs((x - px) * (qy - py) - (-h - py) * (qx - px)) / size
                else:
                    r0, r1 = 0.0, 1.0
                    along, off = _beside_edge(
                        points, p, q, start if kind == 0 else points[from_vertex]
                    )
                    before = 0.0 if kind == 0 else dist[from_vertex]
                if (r1 - r0) <= EPS or off <= EPS * size:
                    continue
                # The triangles beyond.
                n = beside[t, j]
                if n == -1:
                    continue
                begin, end_ = 0, 1
                branch[0] = n
                if n < -1:
                    begin, end_ = branch_starts[-2 - n], branch_starts[-1 - n]
                for m in range(begin, end_):
                    over = branch[0] if n >= 0 else branches[m]
                    if over == t or not open_[over]:
                        continue
                    jj = _across(tri, over, p, q)
                    if jj < 0:
                        continue
                    same = tri[over, jj] == p
                    t0, t1 = (r0 * size, r1 * size) if same else ((1 - r1) * size, (1 - r0) * size)
                    ax = along if same else size - along
                    one, other_ = tri[over, jj], tri[over, (jj + 1) % 3]
                    # A way along the edge from either end may beat all of it.
                    if before + np.sqrt((ax - t1) ** 2 + off * off) > (dist[one] + t1) * (1 + EPS):
                        continue
                    if before + np.sqrt((ax - t0) ** 2 + off * off) > (dist[other_] + size - t0) * (
                        1 + EPS
                    ):
                        continue
                    bound = before + _least(points, one, other_, t0, t1, ax, off, goal)
                    if bound >= best - slack:
                        continue
                    if made == len(side_of):
                        side_of, span = _grown_ints(side_of), _grown(span)
                    side_of[made, 0] = 3 * over + jj
                    side_of[made, 1] = index if kind == 1 else -1
                    side_of[made, 2] = from_vertex if kind == 2 else -1
                    side_of[made, 3] = t
                    span[made, 0], span[made, 1], span[made, 2] = t0, t1, ax
                    span[made, 3], span[made, 4] = off, before
                    heapq.heappush(queue, (bound, np.int64(made)))
                    made += 1
    if best_window < 0 and best_vertex < 0:
        return NONE, known, np.empty(0, np.int64), np.empty(0, np.float64)
    passed, shares = _told(
        points,
        tri,
        side_of,
        span,
        via,
        via_in,
        start_vertex,
        goal,
        best_window,
        best_vertex,
        best_in,
        goal_vertex,
    )
    return FOUND, best, passed, shares


@compiled
def _corner(tri: Ints, t: int, v: int) -> int:
    for i in range(3):
        if tri[t, i] == v:
            return i
    return -1


@compiled
def _told(
    points: Floats,
    tri: Ints,
    side_of: Ints,
    span: Floats,
    via: Ints,
    via_in: Ints,
    start_vertex: int,
    goal: Floats,
    window: int,
    vertex: int,
    inside: int,
    goal_vertex: int,
) -> tuple[Ints, Floats]:
    """What a way passes, from the start on, found from its end: as `shortest_way` tells it."""
    passed = [np.int64(0)]
    passed.clear()
    shares = [0.0]
    shares.clear()
    # The place in the window's triangle, beside its side, that the way comes to.
    x = y = 0.0
    at = vertex
    if window >= 0 and vertex < 0:
        t, j = side_of[window, 0] // 3, side_of[window, 0] % 3
        x, y = _beside_edge(points, tri[t, j], tri[t, (j + 1) % 3], goal)
    elif vertex >= 0:
        if vertex != goal_vertex and vertex != start_vertex:
            # Straight on from there in the last triangle.
            passed.append(np.int64(3 * inside + _corner(tri, inside, vertex)))
            shares.append(0.0)
        window = -1
    t = inside
    while True:
        if window < 0:
            # At a vertex: how was it reached?
            if at == start_vertex or via[at] == -1:
                t = via_in[at] if at != start_vertex else t
                break
            if via[at] < -1:
                t = via_in[at]
                before = -2 - via[at]
                at = before
                if at != start_vertex:
                    passed.append(np.int64(3 * t + _corner(tri, t, at)))
                    shares.append(0.0)
                continue
            window = via[at]
            t, j = side_of[window, 0] // 3, side_of[window, 0] % 3
            x, y = _beside_edge(points, tri[t, j], tri[t, (j + 1) % 3], points[at])
        # Down the windows.
        while window >= 0:
            t, j = side_of[window, 0] // 3, side_of[window, 0] % 3
            a, b = tri[t, j], tri[t, (j + 1) % 3]
            size = _gap(points, a, b)
            wx, wh = span[window, 2], span[window, 3]
            s = wx + (x - wx) * wh / (wh + y)
            s = min(max(s, span[window, 0]), span[window, 1])
            passed.append(np.int64(3 * t + j))
            shares.append(min(max(s / size, 0.0), 1.0))
            parent = side_of[window, 1]
            if parent >= 0:
                u, i = side_of[parent, 0] // 3, side_of[parent, 0] % 3
                place = np.empty(3)
                for k in range(3):
                    place[k] = points[a, k] + s / size * (points[b, k] - points[a, k])
                x, y = _beside_edge(points, tri[u, i], tri[u, (i + 1) % 3], place)
            at, t = side_of[window, 2], side_of[window, 3]
            window = parent
        if at < 0 or at == start_vertex:
            break
        passed.append(np.int64(3 * t + _corner(tri, t, at)))
        shares.append(0.0)
    passed.append(np.int64(-1 - t))
    shares.append(0.0)
    return np.array(passed[::-1], np.int64), np.array(shares[::-1], np.float64)
