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
    found = np.empty(3 * len(tri), np.int64)
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
def _across(tri: Ints, n: int, p: int, q: int) -> int:
    """The side of triangle n that joins vertices p and q, -1 if none does."""
    for j in range(3):
        a, b = tri[n, j], tri[n, (j + 1) % 3]
        if (a == p and b == q) or (a == q and b == p):
            return j
    return -1


@compiled
def _among(values: Ints, value: int) -> bool:
    found = False
    for k in range(len(values)):
        found = found or values[k] == value
    return found


@compiled
def _push_over(
    points: Floats,
    tri: Ints,
    beside: Ints,
    branch_starts: Ints,
    branches: Ints,
    open_: Bools,
    dist: Floats,
    goal: Floats,
    best: float,
    window: Ints,
    span: Floats,
    made: int,
    queue: list[tuple[float, int]],
    came: tuple[int, int],
    t: int,
    j: int,
    stretch: tuple[float, float, float, float, float],
) -> int:
    """Carry a window over side j of triangle t into those beyond: its `stretch` is the shares of that
    side it reaches from and to, how far along the side and off it the place lies that it is seen
    from, and the length before that; it `came` from an earlier window or a vertex, -1 for none.
    Returns how many windows there are now."""
    r0, r1, along, off, before = stretch
    p, q = tri[t, j], tri[t, (j + 1) % 3]
    size = _gap(points, p, q)
    n = beside[t, j]
    if not (r1 - r0 > EPS and off > EPS * size) or n == -1:
        return made
    first, last = (0, 1) if n >= 0 else (branch_starts[-2 - n], branch_starts[-1 - n])
    for m in range(first, last):
        over = n if n >= 0 else branches[m]
        if over == t or not open_[over]:
            continue
        jj = _across(tri, over, p, q)
        if jj < 0:
            continue
        same = tri[over, jj] == p
        t0, t1 = (r0 * size, r1 * size) if same else ((1.0 - r1) * size, (1.0 - r0) * size)
        x = along if same else size - along
        a, b = tri[over, jj], tri[over, (jj + 1) % 3]
        # A way along the edge from either end may beat all of it.
        to_far = before + np.sqrt((x - t1) ** 2 + off * off)
        to_near = before + np.sqrt((x - t0) ** 2 + off * off)
        if to_far > (dist[a] + t1) * (1.0 + EPS) or to_near > (dist[b] + size - t0) * (1.0 + EPS):
            continue
        bound = before + _least(points, a, b, t0, t1, x, off, goal)
        if bound < best:
            window[made, 0], window[made, 1] = 3 * over + jj, came[0]
            window[made, 2], window[made, 3] = came[1], t
            span[made, 0], span[made, 1], span[made, 2] = t0, t1, x
            span[made, 3], span[made, 4] = off, before
            heapq.heappush(queue, (bound, made))
            made += 1
    return made


@compiled
def _hit(x: float, h: float, s: float, px: float, py: float, qx: float, qy: float) -> float:
    """At which share from p to q a way from (x, -h) through (s, 0) passes the stretch between
    them."""
    dx, dy = s - x, h
    below = dx * (qy - py) - dy * (qx - px)
    if below == 0.0:
        return 0.5
    return min(max(-(dx * (py + h) - dy * (px - x)) / below, 0.0), 1.0)


@compiled
def _seen_over(
    span: Floats,
    index: int,
    low: float,
    high: float,
    px: float,
    py: float,
    qx: float,
    qy: float,
) -> tuple[float, float, float, float, float]:
    """The stretch, as `_push_over` takes it, of a side from p to q that a window sees through its own
    from low to high."""
    x, h, before = span[index, 2], span[index, 3], span[index, 4]
    one, other = _hit(x, h, low, px, py, qx, qy), _hit(x, h, high, px, py, qx, qy)
    size = np.sqrt((qx - px) ** 2 + (qy - py) ** 2)
    along = ((x - px) * (qx - px) + (-h - py) * (qy - py)) / size
    off = abs((x - px) * (qy - py) - (-h - py) * (qx - px)) / size
    return min(one, other), max(one, other), along, off, before


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
    window: Ints,
    span: Floats,
    occupied: Floats,
    bends: Ints,
) -> tuple[int, float, Ints, Floats]:
    """The shortest way over triangles that are `open_ (T,)`, if it is shorter than a `known` length.

    `beside (T, 3)` are the triangles over each side, -1 for none, -2-k where they are the k-th row
    of `branches`. The start and the goal are places; either lies on a vertex, or -1, and inside or
    on a side of the triangles named; `around` as `triangles_at` gives it. To be written into are
    `window (n, 4)` and `span (n, 5)`, no more windows than these hold are looked at, and zeros
    `occupied (3 T, 2)` and `bends (V,)`.

    Returns whether it was found, how long it is, and what it passes on its way from the start:
    sides 3 t + i of the triangle t that it goes on in, preceded by -1 - t for the first triangle,
    and the shares (n,) from the side's first vertex at which it passes them: 0 where it bends at
    that."""
    # Of each window: the side it enters a triangle by, the window before, the vertex it begins at, the
    # triangle it comes out of; its ends along the side, how far along and off it the place lies that
    # it is seen from, and the length before that.
    made, none = 0, (-1)
    # A window may lead into several triangles, over two sides.
    most = len(window) - 2 * len(branches) - 8
    dist = np.full(len(points), np.inf)
    # How a vertex is reached: by a window, along an edge from -2 - v, from the start itself as -1; in
    # which triangle.
    via = np.full(len(points), -1, np.int64)
    via_in = np.full(len(points), -1, np.int64)
    best, best_vertex, best_in = known * (1.0 - 2.0 * EPS), -1, -1
    best_window = -1
    queue = [(0.0, none)]
    queue.clear()
    if start_vertex >= 0:
        # Vertices are begun at by the length they are reached at, as -1 - v.
        dist[start_vertex] = 0.0
        heapq.heappush(queue, (_off(points, start_vertex, goal), int(-1 - start_vertex)))
    else:
        for t in start_in:
            if _among(goal_in, t):
                straight = np.sqrt(
                    (start[0] - goal[0]) ** 2
                    + (start[1] - goal[1]) ** 2
                    + (start[2] - goal[2]) ** 2
                )
                return FOUND, straight, np.array([-1 - t], np.int64), np.zeros(1, np.float64)
        for t in start_in:
            for i in range(3):
                v = tri[t, i]
                away = _off(points, v, start)
                if away < dist[v]:
                    dist[v], via_in[v] = away, t
                    heapq.heappush(queue, (away + _off(points, v, goal), int(-1 - v)))
        for t in start_in:
            for i in range(3):
                along, off = _beside_edge(points, tri[t, i], tri[t, (i + 1) % 3], start)
                made = _push_over(
                    points, tri, beside, branch_starts, branches, open_, dist, goal, best,
                    window, span, made, queue, (none, none), int(t), int(i),
                    (0.0, 1.0, along, off, 0.0),
                )  # fmt: skip
    while len(queue):
        key, index = heapq.heappop(queue)
        if key >= best:
            break
        if made > most:
            return GIVEN_UP, best, np.empty(0, np.int64), np.empty(0, np.float64)
        if index < 0:
            v = -1 - index
            if key > dist[v] + _off(points, v, goal) or v == goal_vertex:
                continue  # it was reached sooner since
            if v != start_vertex:
                if bends[v] == 0:
                    may = _may_bend(points, tri, beside, open_, around_starts, around, v)
                    bends[v] = 1 if may else -1
                if bends[v] < 0:
                    continue
            for spot in range(around_starts[v], around_starts[v + 1]):
                t, i = int(around[spot] // 3), int(around[spot] % 3)
                if not open_[t]:
                    continue
                if goal_vertex < 0 and _among(goal_in, t):
                    total = dist[v] + _off(points, v, goal)
                    if total < best:
                        best, best_window, best_vertex, best_in = total, -1, v, t
                for turn in range(1, 3):
                    u = tri[t, (i + turn) % 3]
                    total = dist[v] + _gap(points, v, u)
                    if total < dist[u] * (1.0 - EPS):
                        dist[u], via[u], via_in[u] = total, -2 - v, t
                        heapq.heappush(queue, (total + _off(points, u, goal), int(-1 - u)))
                        if u == goal_vertex and total < best:
                            best, best_window, best_vertex, best_in = total, -1, u, t
                j = (i + 1) % 3
                along, off = _beside_edge(points, tri[t, j], tri[t, (j + 1) % 3], points[v])
                made = _push_over(
                    points, tri, beside, branch_starts, branches, open_, dist, goal, best,
                    window, span, made, queue, (none, v), t, j, (0.0, 1.0, along, off, dist[v]),
                )  # fmt: skip
            continue
        t, side = window[index, 0] // 3, window[index, 0] % 3
        s0, s1, x = span[index, 0], span[index, 1], span[index, 2]
        h, before = span[index, 3], span[index, 4]
        a, b, c = tri[t, side], tri[t, (side + 1) % 3], tri[t, (side + 2) % 3]
        length, cx, cy = _third(points, a, b, c)
        slack = EPS * length
        if goal_vertex < 0 and _among(goal_in, t):
            gx, gy = _beside_edge(points, a, b, goal)
            s = x + (gx - x) * h / (h + gy)
            total = before + np.sqrt((gx - x) ** 2 + (gy + h) ** 2)
            if s0 - slack <= s <= s1 + slack and total < best:
                best, best_window, best_vertex, best_in = total, index, -1, t
        # Where the way to the vertex ahead passes, and how far the stretches over both sides reach.
        sc = x + (cx - x) * h / (h + cy)
        over_ca, over_bc = min(s1, sc), max(s0, sc)
        if s0 - slack <= sc <= s1 + slack:
            total = before + np.sqrt((cx - x) ** 2 + (cy + h) ** 2)
            if total < dist[c] * (1.0 - EPS):
                dist[c], via[c], via_in[c] = total, index, t
                heapq.heappush(queue, (total + _off(points, c, goal), int(-1 - c)))
                if c == goal_vertex and total < best:
                    best, best_window, best_vertex, best_in = total, index, c, t
            # The least length at which windows over this side have reached the vertex, and where they
            # passed it.
            held = occupied[3 * t + side, 0]
            if 0.0 < held < total * (1.0 - EPS):
                # Ways that cross the shorter one to that vertex are no shortest ones.
                passed_at = occupied[3 * t + side, 1]
                if sc < passed_at:
                    over_bc = max(over_bc, passed_at)
                else:
                    over_ca = min(over_ca, passed_at)
            elif held == 0.0 or total < held:
                occupied[3 * t + side, 0], occupied[3 * t + side, 1] = total, sc
        if over_bc < s1:
            made = _push_over(
                points, tri, beside, branch_starts, branches, open_, dist, goal, best,
                window, span, made, queue, (index, none), t, (side + 1) % 3,
                _seen_over(span, index, over_bc, s1, length, 0.0, cx, cy),
            )  # fmt: skip
        if s0 < over_ca:
            made = _push_over(
                points, tri, beside, branch_starts, branches, open_, dist, goal, best,
                window, span, made, queue, (index, none), t, (side + 2) % 3,
                _seen_over(span, index, s0, over_ca, cx, cy, 0.0, 0.0),
            )  # fmt: skip
    if best_window < 0 and best_vertex < 0:
        return NONE, known, np.empty(0, np.int64), np.empty(0, np.float64)
    passed, shares = _told(
        points, tri, window, span, via, via_in, start_vertex, goal, best_window, best_vertex,
        best_in, goal_vertex,
    )  # fmt: skip
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
    windows: Ints,
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
    passed = [0]
    passed.clear()
    shares = [0.0]
    shares.clear()
    # The place in the window's triangle, beside its side, that the way comes to.
    x = y = 0.0
    at = vertex
    if window >= 0 and vertex < 0:
        t, j = windows[window, 0] // 3, windows[window, 0] % 3
        x, y = _beside_edge(points, tri[t, j], tri[t, (j + 1) % 3], goal)
    elif vertex >= 0:
        if vertex != goal_vertex and vertex != start_vertex:
            # Straight on from there in the last triangle.
            passed.append(int(3 * inside + _corner(tri, inside, vertex)))
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
                    passed.append(int(3 * t + _corner(tri, t, at)))
                    shares.append(0.0)
                continue
            window = via[at]
            t, j = windows[window, 0] // 3, windows[window, 0] % 3
            x, y = _beside_edge(points, tri[t, j], tri[t, (j + 1) % 3], points[at])
        # Down the windows.
        while window >= 0:
            t, j = windows[window, 0] // 3, windows[window, 0] % 3
            a, b = tri[t, j], tri[t, (j + 1) % 3]
            size = _gap(points, a, b)
            wx, wh = span[window, 2], span[window, 3]
            s = wx + (x - wx) * wh / (wh + y)
            s = min(max(s, span[window, 0]), span[window, 1])
            passed.append(int(3 * t + j))
            shares.append(min(max(s / size, 0.0), 1.0))
            parent = windows[window, 1]
            if parent >= 0:
                u, i = windows[parent, 0] // 3, windows[parent, 0] % 3
                place = np.empty(3)
                for k in range(3):
                    place[k] = points[a, k] + s / size * (points[b, k] - points[a, k])
                x, y = _beside_edge(points, tri[u, i], tri[u, (i + 1) % 3], place)
            at, t = windows[window, 2], windows[window, 3]
            window = parent
        if at < 0 or at == start_vertex:
            break
        passed.append(int(3 * t + _corner(tri, t, at)))
        shares.append(0.0)
    passed.append(int(-1 - t))
    shares.append(0.0)
    return np.array(passed[::-1], np.int64), np.array(shares[::-1], np.float64)
