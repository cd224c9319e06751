"""Stretches walked over the surface as a view shows it, from face to face."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.kernels.areas import area_vector
from cutcore.kernels.compiled import compiled


@compiled
def border_gaps(points: Floats, starts: Ints, corners: Ints, face: Ints, place: Floats) -> Floats:
    """How far places (n, 3) lie from the border of their faces (n,)."""
    gaps = np.empty(len(face), np.float64)
    for n in range(len(face)):
        begin, end = starts[face[n]], starts[face[n] + 1]
        nearest = np.inf
        for c in range(begin, end):
            a, b = corners[c], corners[c + 1 if c + 1 < end else begin]
            length = along = 0.0
            for axis in range(3):
                side = points[b, axis] - points[a, axis]
                length += side * side
                along += side * (place[n, axis] - points[a, axis])
            share = min(1.0, max(0.0, along / length)) if length > 0.0 else 0.0
            away = 0.0
            for axis in range(3):
                away += (
                    place[n, axis] - points[a, axis] - share * (points[b, axis] - points[a, axis])
                ) ** 2
            nearest = min(nearest, away)
        gaps[n] = np.sqrt(nearest)
    return gaps


@compiled
def face_boxes(pixels: Floats, starts: Ints, corners: Ints) -> Floats:
    """The boxes of faces in a view, as rows (4, F): the lowest x and y, the highest x and y."""
    boxes = np.empty((4, len(starts) - 1), np.float64)
    for f in range(len(starts) - 1):
        for axis in range(2):
            low = high = pixels[corners[starts[f]], axis]
            for c in range(starts[f] + 1, starts[f + 1]):
                here = pixels[corners[c], axis]
                low, high = min(low, here), max(high, here)
            boxes[axis, f], boxes[axis + 2, f] = low, high
    return boxes


@compiled
def _faces_us(pixels: Floats, starts: Ints, corners: Ints, face: int) -> bool:
    """Whether a face is convex in the view and turned to it: every corner turns right, as y runs
    down."""
    begin, end = starts[face], starts[face + 1]
    for c in range(begin, end):
        a, b, d = (
            corners[end - 1 if c == begin else c - 1],
            corners[c],
            corners[c + 1 if c + 1 < end else begin],
        )
        one_x, one_y = pixels[b, 0] - pixels[a, 0], pixels[b, 1] - pixels[a, 1]
        two_x, two_y = pixels[d, 0] - pixels[b, 0], pixels[d, 1] - pixels[b, 1]
        # A turn that is no rounding.
        if not one_x * two_y - one_y * two_x < -NEGLIGIBLE * (abs(one_x) + abs(one_y)) * (
            abs(two_x) + abs(two_y)
        ):
            return False
    return True


@compiled
def _side(pixels: Floats, vertex: int, from_x: float, from_y: float, x: float, y: float) -> float:
    """On which side of a way (x, y) from a pixel a vertex is seen."""
    return x * (pixels[vertex, 1] - from_y) - y * (pixels[vertex, 0] - from_x)


@compiled
def walk_stretches(
    pixels: Floats,
    depth: Floats,
    points: Floats,
    starts: Ints,
    corners: Ints,
    of_corner: Ints,
    ends: Ints,
    faces: Ints,
    barred: Bools,
    place: Floats,
    at: Floats,
    face: Ints,
    stretches: Ints,
    weld: float,
    most: int,
) -> tuple[Ints, Floats, Ints, Ints, Ints, Bools]:
    """Walk stretches (s, 2) of a line between its points, which lie at `at (n, 2)` in the view and
    inside faces `face (n,)`.

    `pixels (V, 2)` and `depth (V,)` are where vertices are seen and how deep; `barred (E,)` edges
    can't be walked over. A stretch goes from face to face over the edges it crosses, through faces
    that are convex in the view and turned to it. Returns the crossings, with their edges and shares
    from the lower vertex; the spans (m, 2) between places of the line (its points first, then the
    crossings), with their faces and stretches; and which stretches could be walked. One that passes
    within a few `weld` of a vertex, or of its last place, can't. `most` is how many crossings there
    is room for."""
    edge = np.empty(most, np.int64)
    share = np.empty(most, np.float64)
    spans = np.empty((most + len(stretches), 2), np.int64)
    span_face = np.empty(most + len(stretches), np.int64)
    span_of = np.empty(most + len(stretches), np.int64)
    done = np.zeros(len(stretches), np.bool_)
    last = np.empty(3, np.float64)
    crossings = laid = 0
    for s in range(len(stretches)):
        a, b = stretches[s, 0], stretches[s, 1]
        if face[a] < 0 or face[b] < 0:
            continue
        crossings_then, laid_then = crossings, laid
        from_x, from_y = at[a, 0], at[a, 1]
        x, y = at[b, 0] - from_x, at[b, 1] - from_y
        here, came, before, along = face[a], -1, a, 0.0
        last[:] = place[a]
        good = True
        while good:
            good = _faces_us(pixels, starts, corners, here)
            if not good:
                break
            if here == face[b]:
                gap = 0.0
                for axis in range(3):
                    gap += (place[b, axis] - last[axis]) ** 2
                good = gap > 16 * weld * weld
                spans[laid, 0], spans[laid, 1], span_face[laid], span_of[laid] = before, b, here, s
                laid += 1
                break
            # The way out of a convex face is the first edge met that it was not entered by.
            way, reached = -1, 0.0
            for c in range(starts[here], starts[here + 1]):
                e = of_corner[c]
                if e == came:
                    continue
                p, q = ends[e, 0], ends[e, 1]
                if (_side(pixels, p, from_x, from_y, x, y) > 0.0) == (
                    _side(pixels, q, from_x, from_y, x, y) > 0.0
                ):
                    continue
                side_x, side_y = pixels[q, 0] - pixels[p, 0], pixels[q, 1] - pixels[p, 1]
                t = ((pixels[p, 0] - from_x) * side_y - (pixels[p, 1] - from_y) * side_x) / (
                    x * side_y - y * side_x
                )
                if t > along and (way < 0 or t < reached):
                    way, reached = e, t
            if way < 0 or reached >= 1.0 or crossings == most or barred[way]:
                good = False
                break
            p, q = ends[way, 0], ends[way, 1]
            # Heights over the plane of sight go with the depth.
            low = _side(pixels, p, from_x, from_y, x, y) * depth[p]
            high = _side(pixels, q, from_x, from_y, x, y) * depth[q]
            where = low / (low - high)
            length = gap = 0.0
            for axis in range(3):
                side = points[q, axis] - points[p, axis]
                length += side * side
                there = points[p, axis] + where * side
                gap += (there - last[axis]) ** 2
                last[axis] = there
            length = np.sqrt(length)
            if (
                where * length <= 4 * weld
                or (1.0 - where) * length <= 4 * weld
                or gap <= 16 * weld * weld
            ):
                good = False
                break
            edge[crossings], share[crossings] = way, where
            spans[laid, 0], spans[laid, 1], span_face[laid], span_of[laid] = (
                before,
                len(place) + crossings,
                here,
                s,
            )
            before = len(place) + crossings
            crossings += 1
            laid += 1
            here, came, along = faces[way, 0] + faces[way, 1] - here, way, reached
        done[s] = good
        if not good:
            crossings, laid = crossings_then, laid_then
    return edge[:crossings], share[:crossings], spans[:laid], span_face[:laid], span_of[:laid], done


@compiled
def convex_normal(places: Floats) -> tuple[float, float, float, bool]:
    """The area vector of a loop of places (n, 3), and whether every corner of it turns the same
    way, by more than rounding."""
    count = len(places)
    x, y, z = area_vector(places, count)
    area = np.sqrt(x * x + y * y + z * z)
    convex = area > 0.0
    for k in range(count):
        here, before, after = places[k], places[k - 1], places[k + 1 - count]
        ax, ay, az = here[0] - before[0], here[1] - before[1], here[2] - before[2]
        bx, by, bz = after[0] - here[0], after[1] - here[1], after[2] - here[2]
        turn = (ay * bz - az * by) * x + (az * bx - ax * bz) * y + (ax * by - ay * bx) * z
        sides = np.sqrt((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz))
        convex = convex and turn > NEGLIGIBLE * sides * area
    return x, y, z, convex
