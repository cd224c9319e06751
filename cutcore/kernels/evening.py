"""Vertices of a mesh moved to where the corners of their faces are better, on the surface they are
on."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, Ints
from cutcore.kernels.compiled import compiled, inlined
from cutcore.kernels.nearest import nearest_of_triangle

# How a vertex may move.
STAYS, ON_LINE, ON_SURFACE, ON_SEGMENT = 0, 1, 2, 3

# A corner costs the square of what it lacks to the best it can be, so many times more of what it
# lacks to this, and more still to that.
POOR, POOR_COSTS = 0.6, 4.0
WORST, WORST_COSTS = 0.3, 60.0

# How much unequal sides across from each other cost.
UNEVEN = 0.15

# The first step, as a share of the edges there, and the least.
STEP = 0.2
LEAST_STEP = 0.004

# What slides between two others keeps so large a share of the way away from each.
ASIDE = 0.15

# Vertices whose faces cost less are left where they are, if being away from where they were costs
# less than that.
FINE = 0.3
AWAY = 0.003

# A move has to better what it costs by more than this share of it.
WORTH = 1e-2

# The share of an edge by which places are moved to see which way is better.
PROBE = 1e-3


@compiled
def nearest_round(
    triangles: Floats,
    starts: Ints,
    boxes: Floats,
    beside_starts: Ints,
    beside: Ints,
    x: float,
    y: float,
    z: float,
    face: int,
) -> tuple[float, float, float, int, int]:
    """The nearest place to (x, y, z) that is found by going from a face to ever nearer ones beside
    it; with the triangle (of `triangles (t, 3, 3)`, rows by face, which `boxes (f, 6)` hold, low and
    high) and the face it lies in."""
    best = np.inf
    px, py, pz = x, y, z
    on, found = -1, face
    for t in range(starts[face], starts[face + 1]):
        qx, qy, qz = nearest_of_triangle(triangles[t], x, y, z)
        gap = (qx - x) ** 2 + (qy - y) ** 2 + (qz - z) ** 2
        if gap < best:
            best, px, py, pz, on = gap, qx, qy, qz, t
    while True:
        here = found
        for k in range(beside_starts[here], beside_starts[here + 1]):
            f = beside[k]
            dx = max(boxes[f, 0] - x, x - boxes[f, 3], 0.0)
            dy = max(boxes[f, 1] - y, y - boxes[f, 4], 0.0)
            dz = max(boxes[f, 2] - z, z - boxes[f, 5], 0.0)
            if dx * dx + dy * dy + dz * dz >= best:
                continue
            for t in range(starts[f], starts[f + 1]):
                qx, qy, qz = nearest_of_triangle(triangles[t], x, y, z)
                gap = (qx - x) ** 2 + (qy - y) ** 2 + (qz - z) ** 2
                if gap < best:
                    best, px, py, pz, on, found = gap, qx, qy, qz, t, f
        if found == here:
            return px, py, pz, on, found


@compiled
def nearest_round_all(
    triangles: Floats,
    starts: Ints,
    boxes: Floats,
    beside_starts: Ints,
    beside: Ints,
    places: Floats,
    faces: Ints,
) -> tuple[Floats, Ints, Ints]:
    """`nearest_round` for places (n, 3), each from a face (n,): nearest places, triangles, faces."""
    found = np.empty((len(places), 3))
    on, face = np.empty(len(places), dtype=np.int64), np.empty(len(places), dtype=np.int64)
    for k in range(len(places)):
        x, y, z, t, f = nearest_round(
            triangles,
            starts,
            boxes,
            beside_starts,
            beside,
            places[k, 0],
            places[k, 1],
            places[k, 2],
            faces[k],
        )
        found[k, 0], found[k, 1], found[k, 2], on[k], face[k] = x, y, z, t, f
    return found, on, face


@compiled
def relax(
    places: Floats,
    moving: Ints,
    starts: Ints,
    corners: Ints,
    at_starts: Ints,
    at: Ints,
    rounds: int,
) -> None:
    """Move vertices (n,) of `places` towards the middle of those next to them, so many times; what
    is near at first counts more, by the square, so that narrow rows keep their order. Faces are
    rows of corners; the faces' corners at the moving vertices are rows, `at_starts (n+1,)`, `at` as
    (face, place in it)."""
    other = np.empty((len(at), 2), dtype=np.int64)
    weight = np.empty((len(at), 2))
    for k in range(len(moving)):
        v = moving[k]
        for r in range(at_starts[k], at_starts[k + 1]):
            f, c = at[r, 0], at[r, 1]
            n = starts[f + 1] - starts[f]
            other[r, 0] = corners[starts[f] + (c + 1) % n]
            other[r, 1] = corners[starts[f] + (c + n - 1) % n]
            for side in range(2):
                w = other[r, side]
                gap = 0.0
                for d in range(3):
                    gap += (places[w, d] - places[v, d]) ** 2
                weight[r, side] = 1.0 / gap if gap > 0 else 0.0
    for _ in range(rounds):
        for k in range(len(moving)):
            v = moving[k]
            sx, sy, sz, total = 0.0, 0.0, 0.0, 0.0
            for r in range(at_starts[k], at_starts[k + 1]):
                for side in range(2):
                    w, much = other[r, side], weight[r, side]
                    sx += much * places[w, 0]
                    sy += much * places[w, 1]
                    sz += much * places[w, 2]
                    total += much
            if total > 0:
                places[v, 0], places[v, 1], places[v, 2] = sx / total, sy / total, sz / total


@compiled
def _face_cost(
    places: Floats, corners: Ints, first: int, n: int, nx: float, ny: float, nz: float, best: float
) -> float:
    """What a face costs; `n` corners from `first` on, seen along a normal; the sine of its corners
    at best."""
    ux, uy, uz = 0.0, 0.0, 0.0
    o = corners[first]
    for k in range(1, n - 1):
        a, b = corners[first + k], corners[first + k + 1]
        ax, ay, az = (
            places[a, 0] - places[o, 0],
            places[a, 1] - places[o, 1],
            places[a, 2] - places[o, 2],
        )
        bx, by, bz = (
            places[b, 0] - places[o, 0],
            places[b, 1] - places[o, 1],
            places[b, 2] - places[o, 2],
        )
        ux += ay * bz - az * by
        uy += az * bx - ax * bz
        uz += ax * by - ay * bx
    size = np.sqrt(ux * ux + uy * uy + uz * uz)
    if size > 0:
        if ux * nx + uy * ny + uz * nz < 0:
            size = -size
        ux, uy, uz = ux / size, uy / size, uz / size
    cost = 0.0
    last = corners[first + n - 1]
    here = corners[first]
    bx, by, bz = (
        places[last, 0] - places[here, 0],
        places[last, 1] - places[here, 1],
        places[last, 2] - places[here, 2],
    )
    bs = np.sqrt(bx * bx + by * by + bz * bz)
    s0, s1, s2 = bs, bs, bs
    for k in range(n):
        there = corners[first + k + 1 if k + 1 < n else first]
        ax, ay, az = (
            places[there, 0] - places[here, 0],
            places[there, 1] - places[here, 1],
            places[there, 2] - places[here, 2],
        )
        length = np.sqrt(ax * ax + ay * ay + az * az)
        turn = ux * (ay * bz - az * by) + uy * (az * bx - ax * bz) + uz * (ax * by - ay * bx)
        size = length * bs
        q = turn / size / best if size > 0 else -1.0
        if q > 1.0:
            q = 1.0
        lack = 1.0 - q
        cost += lack * lack
        if q < POOR:
            cost += POOR_COSTS * (POOR - q) ** 2
            if q < WORST:
                cost += WORST_COSTS * (WORST - q) ** 2
        if n == 4:
            if k == 0:
                s0 = length
            elif k == 1:
                s1 = length
            elif k == 2:
                s2 = length
            else:
                cost += UNEVEN * ((s0 - s2) / (s0 + s2 + 1e-300)) ** 2
                cost += UNEVEN * ((s1 - length) / (s1 + length + 1e-300)) ** 2
        bx, by, bz, bs = -ax, -ay, -az, length
        here = there
    return cost


@inlined
def _gap(places: Floats, v: int, homes: Floats, k: int) -> float:
    """The square of how far a place is from another."""
    return (
        (places[v, 0] - homes[k, 0]) ** 2
        + (places[v, 1] - homes[k, 1]) ** 2
        + (places[v, 2] - homes[k, 2]) ** 2
    )


@compiled
def _cost_at(
    places: Floats,
    starts: Ints,
    corners: Ints,
    normals: Floats,
    best: Floats,
    at: Ints,
    low: int,
    high: int,
) -> float:
    total = 0.0
    for r in range(low, high):
        f = at[r, 0]
        first = starts[f]
        total += _face_cost(
            places,
            corners,
            first,
            starts[f + 1] - first,
            normals[f, 0],
            normals[f, 1],
            normals[f, 2],
            best[f],
        )
    return total


@compiled
def _on_line(line: Floats, lengths: Floats, low: int, high: int, s: float, place: Floats) -> None:
    """The place so far along one line of many, whose points are `low` to `high`."""
    a, b = low, high - 1
    while b - a > 1:
        m = (a + b) // 2
        if lengths[m] <= s:
            a = m
        else:
            b = m
    size = lengths[b] - lengths[a]
    t = (s - lengths[a]) / size if size > 0 else 0.0
    for c in range(3):
        place[c] = line[a, c] + t * (line[b, c] - line[a, c])


@compiled
def even_out(
    places: Floats,
    moving: Ints,
    kind: Ints,
    starts: Ints,
    corners: Ints,
    normals: Floats,
    best: Floats,
    at_starts: Ints,
    at: Ints,
    around_starts: Ints,
    around: Ints,
    sizes: Floats,
    on_face: Ints,
    triangles: Floats,
    triangle_starts: Ints,
    boxes: Floats,
    beside_starts: Ints,
    beside: Ints,
    line: Floats,
    lengths: Floats,
    row: Ints,
    along: Floats,
    between: Ints,
    homes: Floats,
    drawn: Floats,
    rounds: int,
) -> int:
    """Move vertices to where the corners of their faces are better; returns how many moves were
    made.

    places (n, 3); `moving (k,)` the vertices, `kind (k,)` how each may move, `sizes (k,)` the edges
    there; faces as ragged rows with a normal (f, 3) each and the sine of their corners at best
    (f,); `at` the corners at each moving vertex as (face, place in it), `around` the rows of moving
    ones beside each; `on_face (k,)` the face of the surface each is on, of `triangles (t, 3, 3)`
    by face, their boxes, and the faces beside each face; `line (p, 3)` with `lengths (p,)`, `row (k, 4)` where
    the line of each begins and ends, and the rows before and after on it (-1 where that is an end),
    `along (k,)` how far each is; `between (k, 2)` the vertices
    each slides between; `homes (k, 3)` where each was, and how much each is `drawn (k,)` there: what
    the square of an edge away from it costs."""
    count = len(moving)
    step = np.full(count, STEP)
    awake = np.ones(count, np.bool_)
    before, probe = np.empty(3), np.empty(3)
    moves = 0
    for _ in range(rounds):
        moved = 0
        for k in range(count):
            if not awake[k]:
                continue
            v = moving[k]
            low, high = at_starts[k], at_starts[k + 1]
            size = sizes[k]
            before[:] = places[v]
            home = drawn[k] / (size * size)
            here = _cost_at(places, starts, corners, normals, best, at, low, high)
            away = home * _gap(places, v, homes, k)
            here += away
            better = False
            if here < FINE and away < AWAY:
                awake[k] = False
                continue
            if kind[k] == ON_SURFACE:
                # Two directions along the surface.
                f = on_face[k]
                t = triangle_starts[f]
                ux, uy, uz = (
                    triangles[t, 1, 0] - triangles[t, 0, 0],
                    triangles[t, 1, 1] - triangles[t, 0, 1],
                    triangles[t, 1, 2] - triangles[t, 0, 2],
                )
                wx, wy, wz = (
                    triangles[t, 2, 0] - triangles[t, 0, 0],
                    triangles[t, 2, 1] - triangles[t, 0, 1],
                    triangles[t, 2, 2] - triangles[t, 0, 2],
                )
                un = np.sqrt(ux * ux + uy * uy + uz * uz)
                if not un > 0:
                    awake[k] = False
                    continue
                ux, uy, uz = ux / un, uy / un, uz / un
                dot = ux * wx + uy * wy + uz * wz
                wx, wy, wz = wx - dot * ux, wy - dot * uy, wz - dot * uz
                wn = np.sqrt(wx * wx + wy * wy + wz * wz)
                if not wn > 0:
                    awake[k] = False
                    continue
                wx, wy, wz = wx / wn, wy / wn, wz / wn
                e = PROBE * size
                places[v, 0], places[v, 1], places[v, 2] = (
                    before[0] + e * ux,
                    before[1] + e * uy,
                    before[2] + e * uz,
                )
                gu = _cost_at(places, starts, corners, normals, best, at, low, high) - here
                gu += home * _gap(places, v, homes, k)
                places[v, 0], places[v, 1], places[v, 2] = (
                    before[0] + e * wx,
                    before[1] + e * wy,
                    before[2] + e * wz,
                )
                gw = _cost_at(places, starts, corners, normals, best, at, low, high) - here
                gw += home * _gap(places, v, homes, k)
                g = np.sqrt(gu * gu + gw * gw)
                if g > 0:
                    dx, dy, dz = (
                        -(gu * ux + gw * wx) / g,
                        -(gu * uy + gw * wy) / g,
                        -(gu * uz + gw * wz) / g,
                    )
                    far = step[k]
                    while far >= LEAST_STEP:
                        x, y, z, _, fresh = nearest_round(
                            triangles,
                            triangle_starts,
                            boxes,
                            beside_starts,
                            beside,
                            before[0] + far * size * dx,
                            before[1] + far * size * dy,
                            before[2] + far * size * dz,
                            f,
                        )
                        places[v, 0], places[v, 1], places[v, 2] = x, y, z
                        there = _cost_at(places, starts, corners, normals, best, at, low, high)
                        there += home * _gap(places, v, homes, k)
                        if there < here - WORTH * (WORTH + here):
                            better = True
                            on_face[k] = fresh
                            step[k] = min(1.5 * far, STEP)
                            break
                        far *= 0.5
            elif kind[k] == ON_LINE:
                a, b = row[k, 0], row[k, 1]
                s_low = lengths[a] if row[k, 2] < 0 else along[row[k, 2]]
                s_high = lengths[b - 1] if row[k, 3] < 0 else along[row[k, 3]]
                s = along[k]
                far = step[k]
                while far >= LEAST_STEP and not better:
                    for way in (-1.0, 1.0):
                        there_s = s + way * far * size
                        room = ASIDE * (s_high - s_low)
                        if s_low + room < there_s < s_high - room:
                            _on_line(line, lengths, a, b, there_s, probe)
                            places[v] = probe
                            there = _cost_at(places, starts, corners, normals, best, at, low, high)
                            if there < here - WORTH * (WORTH + here):
                                better = True
                                along[k] = there_s
                                step[k] = min(1.5 * far, STEP)
                                break
                    far *= 0.5
            else:
                a, b = between[k, 0], between[k, 1]
                dx, dy, dz = (
                    places[b, 0] - places[a, 0],
                    places[b, 1] - places[a, 1],
                    places[b, 2] - places[a, 2],
                )
                gap = np.sqrt(dx * dx + dy * dy + dz * dz)
                if not gap > 0:
                    awake[k] = False
                    continue
                now = (
                    (before[0] - places[a, 0]) * dx
                    + (before[1] - places[a, 1]) * dy
                    + (before[2] - places[a, 2]) * dz
                ) / (gap * gap)
                far = step[k]
                while far >= LEAST_STEP and not better:
                    for way in (-1.0, 1.0):
                        t = now + way * far * size / gap
                        if ASIDE < t < 1.0 - ASIDE:
                            places[v, 0], places[v, 1], places[v, 2] = (
                                places[a, 0] + t * dx,
                                places[a, 1] + t * dy,
                                places[a, 2] + t * dz,
                            )
                            there = _cost_at(places, starts, corners, normals, best, at, low, high)
                            if there < here - WORTH * (WORTH + here):
                                better = True
                                step[k] = min(1.5 * far, STEP)
                                break
                    far *= 0.5
            if better:
                moved += 1
                for r in range(around_starts[k], around_starts[k + 1]):
                    awake[around[r]] = True
            else:
                places[v] = before
                awake[k] = False
        moves += moved
        if moved == 0:
            break
    return moves
