"""A plane followed over the surface from one place on, from face to face."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.compiled import compiled


@compiled
def _height(points: Floats, v: int, at: Floats, normal: Floats, weld: float) -> float:
    """How far a vertex lies from the plane; nothing within the tolerance."""
    height = 0.0
    for axis in range(3):
        height += (points[v, axis] - at[axis]) * normal[axis]
    return 0.0 if abs(height) <= weld else height


@compiled
def _way_out(
    points: Floats,
    starts: Ints,
    corners: Ints,
    of_corner: Ints,
    ends: Ints,
    face: int,
    at: Floats,
    normal: Floats,
    heading: Floats,
    came_edge: int,
    came_vertex: int,
    here: Floats,
    weld: float,
    place: Floats,
) -> tuple[int, int, float]:
    """The first edge or vertex of a face that the plane meets after `here`, along a heading: (edge,
    -1, share), (-1, vertex, 0), or (-1, -1, 0) for none. Its place is written to `place`."""
    begin, end = starts[face], starts[face + 1]
    edge = vertex = -1
    share, nearest = 0.0, np.inf
    spot = np.empty(3, np.float64)
    for c in range(begin, end):
        a, b = corners[c], corners[c + 1 if c + 1 < end else begin]
        from_a, from_b = (
            _height(points, a, at, normal, weld),
            _height(points, b, at, normal, weld),
        )
        e = v = -1
        t = 0.0
        if from_a == 0.0:
            # At an edge that was come over its ends were passed by.
            if a == came_vertex or (
                came_edge >= 0 and (ends[came_edge, 0] == a or ends[came_edge, 1] == a)
            ):
                continue
            v = a
            spot[:] = points[a]
        elif from_b != 0.0 and (from_a > 0.0) != (from_b > 0.0):
            e = of_corner[c]
            if e == came_edge:
                continue
            low, high = ends[e, 0], ends[e, 1]
            from_low, from_high = (from_a, from_b) if low == a else (from_b, from_a)
            t = from_low / (from_low - from_high)
            for axis in range(3):
                spot[axis] = points[low, axis] + t * (points[high, axis] - points[low, axis])
        else:
            continue
        ahead = 0.0
        for axis in range(3):
            ahead += (spot[axis] - here[axis]) * heading[axis]
        if 0.0 < ahead < nearest:
            edge, vertex, share, nearest = e, v, t, ahead
            place[:] = spot
    return edge, vertex, share


@compiled
def walk_plane(
    points: Floats,
    starts: Ints,
    corners: Ints,
    of_corner: Ints,
    ends: Ints,
    faces: Ints,
    barred: Bools,
    around_starts: Ints,
    around: Ints,
    allowed: Bools,
    at: Floats,
    normal: Floats,
    direction: Floats,
    first_edge: int,
    first_vertex: int,
    first_face: int,
    weld: float,
    most: int,
) -> tuple[Ints, Ints, Floats, Ints]:
    """Follow the plane through `at` from an edge, into a face beside it, or from a vertex, towards
    a direction, over the faces that are `allowed (F,)`, until a border, an edge that is
    `barred (E,)`, a face that is not allowed, or the beginning.

    `around` are the edges round each vertex, as rows. Returns the places met after the beginning,
    at most so many: their edges (n,), -1 on a vertex; vertices (n,), -1 on an edge; shares (n,)
    from the lower vertex; and the faces (n,) they were reached through, -1 along an edge."""
    edge_met = np.empty(most, np.int64)
    vertex_met = np.empty(most, np.int64)
    share_met = np.empty(most, np.float64)
    face_met = np.empty(most, np.int64)
    count = 0
    here, heading = at.copy(), direction.copy()
    came_edge, came_vertex, face = first_edge, first_vertex, first_face
    place, best_place = np.empty(3, np.float64), np.empty(3, np.float64)
    while count < most:
        edge = vertex = -1
        share = 0.0
        if came_vertex >= 0:
            # Along an edge that lies in the plane, else into the one face ahead.
            came_face, face = face, -1
            for k in range(around_starts[came_vertex], around_starts[came_vertex + 1]):
                e = around[k]
                other = ends[e, 0] + ends[e, 1] - came_vertex
                if _height(points, other, at, normal, weld) != 0.0:
                    continue
                one, two = faces[e, 0], faces[e, 1]
                if not ((one >= 0 and allowed[one]) or (two >= 0 and allowed[two])):
                    continue
                ahead = 0.0
                for axis in range(3):
                    ahead += (points[other, axis] - here[axis]) * heading[axis]
                if ahead > 0.0:
                    vertex = other
                    best_place[:] = points[other]
            if vertex < 0:
                for k in range(around_starts[came_vertex], around_starts[came_vertex + 1]):
                    for side in range(2):
                        f = faces[around[k], side]
                        if f < 0 or not allowed[f] or f == face:
                            continue
                        e, v, t = _way_out(
                            points, starts, corners, of_corner, ends, f, at, normal, heading,
                            -1, came_vertex, here, weld, place,
                        )  # fmt: skip
                        opens = _opens_to(
                            points, starts, corners, f, came_vertex, at, normal, heading, weld,
                            f == came_face,
                        )  # fmt: skip
                        if (e < 0 and v < 0) or not opens:
                            continue
                        edge, vertex, share, face = e, v, t, f
                        best_place[:] = place
                if face < 0:
                    break
        else:
            edge, vertex, share = _way_out(
                points, starts, corners, of_corner, ends, face, at, normal, heading,
                came_edge, -1, here, weld, best_place,
            )  # fmt: skip
            if edge < 0 and vertex < 0:
                break
        edge_met[count], vertex_met[count], share_met[count] = edge, vertex, share
        face_met[count] = face
        count += 1
        if (edge >= 0 and edge == first_edge) or (vertex >= 0 and vertex == first_vertex):
            break
        for axis in range(3):
            heading[axis] = best_place[axis] - here[axis]
            here[axis] = best_place[axis]
        came_edge, came_vertex = edge, vertex
        if edge >= 0:
            if barred[edge]:
                break
            face = faces[edge, 0] + faces[edge, 1] - face
            if not allowed[face]:
                break
    return edge_met[:count], vertex_met[:count], share_met[:count], face_met[:count]


@compiled
def _opens_to(
    points: Floats,
    starts: Ints,
    corners: Ints,
    face: int,
    vertex: int,
    at: Floats,
    normal: Floats,
    heading: Floats,
    weld: float,
    passing: bool,
) -> bool:
    """Whether the plane runs from a corner of a face into it, ahead: its neighbours lie on the two
    sides of the plane, or it is only touched in `passing`, from inside the face."""
    begin, end = starts[face], starts[face + 1]
    for c in range(begin, end):
        if corners[c] != vertex:
            continue
        before = corners[end - 1 if c == begin else c - 1]
        after = corners[c + 1 if c + 1 < end else begin]
        from_before, from_after = (
            _height(points, before, at, normal, weld),
            _height(points, after, at, normal, weld),
        )
        if from_before == 0.0 or from_after == 0.0:
            return False
        if (from_before > 0.0) != (from_after > 0.0):
            t = from_before / (from_before - from_after)
            ahead = 0.0
            for axis in range(3):
                spot = points[before, axis] + t * (points[after, axis] - points[before, axis])
                ahead += (spot - points[vertex, axis]) * heading[axis]
            return ahead > 0.0
        return passing
    return False
