"""A flat polygon cut into quads: by chords alone, and bettered by vertices inside."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.compiled import compiled

# What a quad costs beside its form: of two ways as good, the one with fewer quads is taken.
EACH = 0.4

# The cost of a square corner is nothing, of one that is folded or straight at least this; it goes
# on growing with the fold.
FOLDED = 24.0

# So much for every time that a side is longer than the one across from it: else a vertex could go
# all but onto another. No more than this is asked for it.
UNEVEN = 0.06
MOST_UNEVEN = 12.0

# The smallest scaled Jacobian that is not as good as folded.
FLAT = 0.04

# A better way must be better by more than rounding.
BETTER = 1e-9

# Two quads this near to rectangles are not made three.
WELL = 0.3

# How often the steps of an inner vertex on its way to where its quads are best are tried, and how
# often while it is not yet settled whether it stays.
ROUNDS = 10
TRIAL_ROUNDS = 5

# How often all pairs of quads are looked at once more.
PASSES = 3


@compiled
def form_of(quad: Floats) -> float:
    """The scaled Jacobian of a flat quad (4, 2): the least of its four corner determinants of unit
    edges, 1 for a rectangle, nothing or less where a corner is straight or folded."""
    least = 2.0
    for k in range(4):
        ax = quad[(k + 1) % 4, 0] - quad[k, 0]
        ay = quad[(k + 1) % 4, 1] - quad[k, 1]
        bx = quad[(k + 3) % 4, 0] - quad[k, 0]
        by = quad[(k + 3) % 4, 1] - quad[k, 1]
        size = np.sqrt((ax * ax + ay * ay) * (bx * bx + by * by))
        here = (ax * by - ay * bx) / size if size > 0 else -1.0
        least = min(least, here)
    return least


@compiled
def cost_of(quad: Floats) -> float:
    """What a quad (4, 2) costs: little for a rectangle, much for one that is all but folded."""
    form = form_of(quad)
    cost = EACH + (1.0 / form - 1.0 if form >= FLAT else FOLDED * (1.0 + FLAT - form))
    for k in range(2):
        one = (quad[k + 1, 0] - quad[k, 0]) ** 2 + (quad[k + 1, 1] - quad[k, 1]) ** 2
        other = (quad[k + 2, 0] - quad[(k + 3) % 4, 0]) ** 2
        other += (quad[k + 2, 1] - quad[(k + 3) % 4, 1]) ** 2
        longer, shorter = max(one, other), min(one, other)
        times = np.sqrt(longer / shorter) if shorter > 0 else np.inf
        cost += min(UNEVEN * (times - 1.0), MOST_UNEVEN)
    return cost


@compiled
def cost_of_all(quads: Floats) -> float:
    """What quads (n, 4, 2) cost together."""
    total = 0.0
    for q in range(len(quads)):
        total += cost_of(quads[q])
    return total


@compiled
def _turn(a: Floats, b: Floats, c: Floats) -> float:
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])


@compiled
def open_chords(flat: Floats, clear: float) -> Bools:
    """Which pairs (n, n) of corners of a simple loop (n, 2) can be joined inside it, further than
    `clear` from all others."""
    n = len(flat)
    found = np.zeros((n, n), np.bool_)
    for i in range(n):
        before, after = flat[i - 1], flat[(i + 1) % n]
        for j in range(i + 2, n):
            if i == 0 and j == n - 1:
                continue
            # Into the corner at i.
            turns = _turn(before, flat[i], after) > 0
            left, right = _turn(flat[i], after, flat[j]) > 0, _turn(before, flat[i], flat[j]) > 0
            if not ((left and right) if turns else (left or right)):
                continue
            ahead, behind = flat[(j + 1) % n], flat[j - 1]
            turns = _turn(behind, flat[j], ahead) > 0
            left, right = _turn(flat[j], ahead, flat[i]) > 0, _turn(behind, flat[j], flat[i]) > 0
            if not ((left and right) if turns else (left or right)):
                continue
            ax, ay = flat[j, 0] - flat[i, 0], flat[j, 1] - flat[i, 1]
            size = np.sqrt(ax * ax + ay * ay)
            if not size > clear:
                continue
            fine = True
            for k in range(n):
                if k != i and k != j:
                    px, py = flat[k, 0] - flat[i, 0], flat[k, 1] - flat[i, 1]
                    along = (px * ax + py * ay) / size
                    if -clear < along < size + clear and abs(px * ay - py * ax) / size <= clear:
                        fine = False
                        break
                following = (k + 1) % n
                if k != i and k != j and following != i and following != j:
                    one = (_turn(flat[i], flat[j], flat[k]) > 0) != (
                        _turn(flat[i], flat[j], flat[following]) > 0
                    )
                    other = (_turn(flat[k], flat[following], flat[i]) > 0) != (
                        _turn(flat[k], flat[following], flat[j]) > 0
                    )
                    if one and other:
                        fine = False
                        break
            found[i, j] = found[j, i] = fine
    return found


@compiled
def quads_by_chords(flat: Floats, joined: Bools) -> Ints:
    """The cheapest quads (m, 4) that chords alone make of a loop (n, 2), n even; none if they can't.

    `joined (n, n)` says which corners chords may join. Dynamic programming over chords, as for the
    best triangulation of a polygon (G. T. Klincsek, Minimal triangulations of polygonal domains,
    Annals of Discrete Mathematics 9, 1980), with quads instead of triangles: O(n^4)."""
    n = len(flat)
    best = np.full((n, n), np.inf)
    first, second = np.full((n, n), -1, np.int64), np.full((n, n), -1, np.int64)
    quad = np.empty((4, 2))
    for i in range(n - 1):
        best[i, i + 1] = 0.0
    for reach in range(3, n, 2):
        for i in range(n - reach):
            j = i + reach
            if not (joined[i, j] or reach == n - 1):
                continue
            for k in range(i + 1, j - 1, 2):
                if not best[i, k] < best[i, j]:
                    continue
                for other in range(k + 1, j, 2):
                    cost = best[i, k] + best[k, other] + best[other, j]
                    if cost < best[i, j]:
                        quad[0], quad[1], quad[2], quad[3] = flat[i], flat[k], flat[other], flat[j]
                        cost += cost_of(quad)
                        if cost < best[i, j] - BETTER:
                            best[i, j] = cost
                            first[i, j], second[i, j] = k, other
    made = np.empty(((n - 2) // 2, 4), np.int64)
    if not best[0, n - 1] < np.inf:
        return made[:0]
    waiting = [(0, n - 1)]
    count = 0
    while len(waiting):
        i, j = waiting.pop()
        if j - i == 1:
            continue
        k, other = first[i, j], second[i, j]
        made[count, 0], made[count, 1], made[count, 2], made[count, 3] = i, k, other, j
        count += 1
        waiting.append((i, k))
        waiting.append((k, other))
        waiting.append((other, j))
    return made


@compiled
def _cost_round(places: Floats, quads: Ints, count: int, vertex: int) -> float:
    """What all quads at a vertex cost together; infinite where one of them is folded."""
    quad = np.empty((4, 2))
    total = 0.0
    for q in range(count):
        for c in range(4):
            if quads[q, c] == vertex:
                for k in range(4):
                    quad[k] = places[quads[q, k]]
                if not form_of(quad) > 0:
                    return np.inf
                total += cost_of(quad)
    return total


@compiled
def _settle(places: Floats, quads: Ints, count: int, vertex: int, rounds: int) -> float:
    """Move a vertex to where its quads cost least, by steps that get shorter; what they cost then.

    Quads that are folded stay as they are unless a step unfolds all of them: what is folded further
    may overlap."""
    here = places[vertex].copy()
    least = _cost_round(places, quads, count, vertex)
    reach = 0.0
    for q in range(count):
        for c in range(4):
            if quads[q, c] == vertex:
                ahead = places[quads[q, (c + 1) % 4]]
                reach = max(reach, np.sqrt((ahead[0] - here[0]) ** 2 + (ahead[1] - here[1]) ** 2))
    step = 0.3 * reach
    for _ in range(rounds):
        moved = False
        for way in range(8):
            turn = way * np.pi / 4
            places[vertex, 0] = here[0] + step * np.cos(turn)
            places[vertex, 1] = here[1] + step * np.sin(turn)
            cost = _cost_round(places, quads, count, vertex)
            if cost < least - BETTER:
                least = cost
                here[:] = places[vertex]
                moved = True
        places[vertex] = here
        if not moved:
            step *= 0.5
    return least


@compiled
def bettered(flat: Floats, inner: Floats, quads: Ints) -> tuple[Floats, Ints]:
    """Quads of a loop (n, 2) with inner vertices (k, 2) made better: two side by side become three
    round a new vertex where that is better, and inner vertices go where their quads are best.

    Returns inner vertices and quads; vertices are numbered with the loop first."""
    n, given = len(flat), len(inner)
    # Every quad may give its place to a vertex of its own.
    most = n + given + 2 * len(quads) + 8
    places = np.empty((most, 2))
    places[:n], places[n : n + given] = flat, inner
    made = np.empty((len(quads) + most, 4), np.int64)
    made[: len(quads)] = quads
    count, there = len(quads), n + given
    for vertex in range(n, there):
        _settle(places, made, count, vertex, ROUNDS)
    trial = np.empty((3, 4), np.int64)
    quad = np.empty((4, 2))
    ring = np.empty(6, np.int64)
    for _ in range(PASSES):
        changed = False
        one = 0
        while one < count and there < most - 1:
            taken = False
            for side in range(4):
                a, b = made[one, side], made[one, (side + 1) % 4]
                other, at = -1, -1
                for q in range(count):
                    if q != one:
                        for c in range(4):
                            if made[q, c] == b and made[q, (c + 1) % 4] == a:
                                other, at = q, c
                if other < one:
                    continue
                # The six corners round both, from b on.
                ring[0], ring[1], ring[2] = b, made[one, (side + 2) % 4], made[one, (side + 3) % 4]
                ring[3], ring[4], ring[5] = a, made[other, (at + 2) % 4], made[other, (at + 3) % 4]
                twice = False
                for k in range(6):
                    for m in range(k):
                        twice = twice or ring[k] == ring[m]
                if twice:
                    continue
                before = 0.0
                for k in range(4):
                    quad[k] = places[made[one, k]]
                before += cost_of(quad)
                for k in range(4):
                    quad[k] = places[made[other, k]]
                before += cost_of(quad)
                if before < 3.0 * EACH + WELL:
                    continue
                least, way = before - BETTER, -1
                spot = np.zeros(2)
                for begin in range(2):
                    for k in range(3):
                        trial[k, 0] = ring[(begin + 2 * k) % 6]
                        trial[k, 1] = ring[(begin + 2 * k + 1) % 6]
                        trial[k, 2] = ring[(begin + 2 * k + 2) % 6]
                        trial[k, 3] = there
                    places[there] = 0.0
                    for k in range(6):
                        places[there] += places[ring[k]] / 6.0
                    cost = _settle(places, trial, 3, there, TRIAL_ROUNDS)
                    if cost < least:
                        least, way = cost, begin
                        spot[:] = places[there]
                if way >= 0:
                    places[there] = spot
                    for k in range(3):
                        row = one if k == 0 else other if k == 1 else count
                        made[row, 0] = ring[(way + 2 * k) % 6]
                        made[row, 1] = ring[(way + 2 * k + 1) % 6]
                        made[row, 2] = ring[(way + 2 * k + 2) % 6]
                        made[row, 3] = there
                    count += 1
                    there += 1
                    taken = changed = True
                    break
            if not taken:
                one += 1
        if not changed:
            break
        for vertex in range(n, there):
            _settle(places, made, count, vertex, ROUNDS)
    return places[n:there].copy(), made[:count].copy()
