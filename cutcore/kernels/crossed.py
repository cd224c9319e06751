"""Loops seen from some side: which cross themselves there, and which turn their back."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.areas import area_vector
from cutcore.kernels.compiled import compiled

# Sides that cross by less than this share of the square of the way round only touch: rounding
# leaves as much.
TOUCHING = 1e-12

# Of loops with more corners than this repeated ones are found by sorting.
SHORT = 32


@compiled
def crossed_rows(places: Floats, starts: Ints, normals: Floats) -> Bools:
    """Which loops of places (C, 3), in rows `starts (n+1,)`, have two sides that cross in the inside
    of both, each seen against a direction `normals (n, 3)`, of any length; none seen along
    nothing."""
    count = len(starts) - 1
    found = np.zeros(count, np.bool_)
    longest = 0
    for row in range(count):
        longest = max(longest, starts[row + 1] - starts[row])
    flat = np.empty((longest, 2))
    for row in range(count):
        size = starts[row + 1] - starts[row]
        if size > 3 and _seen(places, starts[row], size, normals[row], flat):
            found[row] = not _turns_left_once(flat, size) and _crosses(flat, size)
    return found


@compiled
def askew_rows(
    points: Floats,
    places: Floats,
    loops: Ints,
    starts: Ints,
    parents: Ints,
    face_starts: Ints,
    corners: Ints,
    lifted: bool,
    turned: Bools,
    crossed: Bools,
) -> None:
    """Mark loops of vertices (those from len(points) on are `places`), in rows `starts (n+1,)`, that
    seen square to the face they are of, `parents (n,)`, run round clockwise or enclose nothing, and
    those that cross themselves there; if `lifted` off it, also those that do so seen square to
    themselves. Of a face without a side to be seen from, neither."""
    old = len(points)
    longest = 4
    for row in range(len(starts) - 1):
        longest = max(longest, starts[row + 1] - starts[row])
    at, flat, normal = np.empty((longest, 3)), np.empty((longest, 2)), np.empty(3)
    own = np.empty(3)
    last = -1
    for row in range(len(starts) - 1):
        parent = parents[row]
        if parent != last:
            # Worked out about the face's first corner, so that far from the origin it keeps its
            # digits.
            begin, end = face_starts[parent], face_starts[parent + 1]
            normal[:] = 0.0
            first = corners[begin]
            for c in range(begin + 1, end - 1):
                v, w = corners[c], corners[c + 1]
                ax, ay = points[v, 0] - points[first, 0], points[v, 1] - points[first, 1]
                az = points[v, 2] - points[first, 2]
                bx, by = points[w, 0] - points[first, 0], points[w, 1] - points[first, 1]
                bz = points[w, 2] - points[first, 2]
                normal[0] += ay * bz - az * by
                normal[1] += az * bx - ax * bz
                normal[2] += ax * by - ay * bx
            last = parent
        begin, size = starts[row], starts[row + 1] - starts[row]
        for c in range(size):
            v = loops[begin + c]
            for k in range(3):
                at[c, k] = points[v, k] if v < old else places[v - old, k]
        x, y, z = area_vector(at, size)
        if normal[0] * normal[0] + normal[1] * normal[1] + normal[2] * normal[2] > 0.0:
            turned[row] = x * normal[0] + y * normal[1] + z * normal[2] <= 0.0
        if size < 4:
            continue
        if _seen(at, 0, size, normal, flat):
            crossed[row] = not _turns_left_once(flat, size) and _crosses(flat, size)
        if lifted and not crossed[row]:
            own[0], own[1], own[2] = x, y, z
            if _seen(at, 0, size, own, flat):
                crossed[row] = not _turns_left_once(flat, size) and _crosses(flat, size)


@compiled
def convex_faces(points: Floats, starts: Ints, corners: Ints, faces: Ints) -> Bools:
    """Which faces (n,) are triangles, or quads whose corners all turn the same way."""
    found = np.zeros(len(faces), np.bool_)
    turns = np.empty((4, 3))
    for k in range(len(faces)):
        begin = starts[faces[k]]
        size = starts[faces[k] + 1] - begin
        if size != 4:
            found[k] = size == 3
            continue
        for c in range(4):
            u = corners[begin + (c + 3) % 4]
            v, w = corners[begin + c], corners[begin + (c + 1) % 4]
            ax, ay = points[v, 0] - points[u, 0], points[v, 1] - points[u, 1]
            az = points[v, 2] - points[u, 2]
            bx, by = points[w, 0] - points[v, 0], points[w, 1] - points[v, 1]
            bz = points[w, 2] - points[v, 2]
            turns[c, 0] = ay * bz - az * by
            turns[c, 1] = az * bx - ax * bz
            turns[c, 2] = ax * by - ay * bx
        convex = True
        for c in range(4):
            along = 0.0
            for axis in range(3):
                whole = turns[0, axis] + turns[1, axis] + turns[2, axis] + turns[3, axis]
                along += turns[c, axis] * whole
            convex = convex and along >= 0.0
        found[k] = convex
    return found


@compiled
def repeating_rows(loops: Ints, starts: Ints) -> Bools:
    """Which loops of vertices, in rows `starts (n+1,)`, name one twice."""
    found = np.zeros(len(starts) - 1, np.bool_)
    for row in range(len(starts) - 1):
        begin, end = starts[row], starts[row + 1]
        if end - begin > SHORT:
            ordered = np.sort(loops[begin:end])
            found[row] = (ordered[1:] == ordered[:-1]).any()
            continue
        for c in range(begin, end):
            for d in range(c + 1, end):
                if loops[c] == loops[d]:
                    found[row] = True
    return found


@compiled
def _seen(places: Floats, begin: int, size: int, normal: Floats, flat: Floats) -> bool:
    """Write where the corners of a loop lie in a plane square to a normal, about the first of
    them; whether there is such a plane."""
    x, y, z = normal[0], normal[1], normal[2]
    length = np.sqrt(x * x + y * y + z * z)
    if not length > 0.0:
        return False
    x, y, z = x / length, y / length, z / length
    # Across to the axis that the normal leans to least.
    if abs(x) <= abs(y) and abs(x) <= abs(z):
        ux, uy, uz = 0.0, -z, y
    elif abs(y) <= abs(z):
        ux, uy, uz = z, 0.0, -x
    else:
        ux, uy, uz = -y, x, 0.0
    long = np.sqrt(ux * ux + uy * uy + uz * uz)
    ux, uy, uz = ux / long, uy / long, uz / long
    vx, vy, vz = y * uz - z * uy, z * ux - x * uz, x * uy - y * ux
    for c in range(size):
        px = places[begin + c, 0] - places[begin, 0]
        py = places[begin + c, 1] - places[begin, 1]
        pz = places[begin + c, 2] - places[begin, 2]
        flat[c, 0] = px * ux + py * uy + pz * uz
        flat[c, 1] = px * vx + py * vy + pz * vz
    return True


@compiled
def _turns_left_once(flat: Floats, size: int) -> bool:
    """Whether a loop of places clearly turns left at every corner, once round: such a one is
    convex."""
    changes = 0
    px, py = flat[0, 0] - flat[size - 1, 0], flat[0, 1] - flat[size - 1, 1]
    up = py > 0.0
    for c in range(size):
        d = c + 1 if c + 1 < size else 0
        qx, qy = flat[d, 0] - flat[c, 0], flat[d, 1] - flat[c, 1]
        if not px * qy - py * qx > 0.0:
            return False
        changes += (qy > 0.0) != up
        up = qy > 0.0
        px, py = qx, qy
    return changes == 2


@compiled
def _crosses(flat: Floats, size: int) -> bool:
    around = 0.0
    for c in range(size):
        d = c + 1 if c + 1 < size else 0
        around += np.sqrt((flat[d, 0] - flat[c, 0]) ** 2 + (flat[d, 1] - flat[c, 1]) ** 2)
    slack = TOUCHING * around * around
    for i in range(size - 2):
        left, right = min(flat[i, 0], flat[i + 1, 0]), max(flat[i, 0], flat[i + 1, 0])
        for j in range(i + 2, size - 1 if i == 0 else size):
            k = j + 1 if j + 1 < size else 0
            if (flat[j, 0] > right and flat[k, 0] > right) or (
                flat[j, 0] < left and flat[k, 0] < left
            ):
                continue
            one = _apart(flat, i, i + 1, j, k, slack)
            if one and _apart(flat, j, k, i, i + 1, slack):
                return True
    return False


@compiled
def _apart(flat: Floats, a: int, b: int, c: int, d: int, slack: float) -> bool:
    """Whether places c and d lie on different sides of the line through a and b, by more than an
    area."""
    x, y = flat[b, 0] - flat[a, 0], flat[b, 1] - flat[a, 1]
    one = x * (flat[c, 1] - flat[a, 1]) - y * (flat[c, 0] - flat[a, 0])
    other = x * (flat[d, 1] - flat[a, 1]) - y * (flat[d, 0] - flat[a, 0])
    return (one > slack and other < -slack) or (one < -slack and other > slack)
