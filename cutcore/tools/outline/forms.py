"""What helps an outline fit its surroundings: another number of points, a collar round it, spokes
to the corners of its face."""

from __future__ import annotations

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints, cross
from cutcore.geometry.chart import chart_of
from cutcore.geometry.polygons import inside_loop
from cutcore.geometry.vectors import units
from cutcore.mesh.mesh import newell
from cutcore.trace.trace import IN_FACE, TraceBuilder

# A corner of a collar stands out at most this many times its distance.
MITRE = 4.0


def with_count(places: Floats, count: int) -> Floats:
    """A closed curve (n, 3) with `count` points: the one that matters least goes first, the longest
    side is halved first.

    What a point matters is the area of the triangle with its neighbours (M. Visvalingam and J. D.
    Whyatt, Line generalisation by repeated elimination of points, The Cartographic Journal 30,
    1993)."""
    points = list(places)
    while len(points) > count:
        loop = np.array(points)
        before, after = np.roll(loop, 1, axis=0), np.roll(loop, -1, axis=0)
        points.pop(int(np.argmin(np.linalg.norm(cross(loop - before, after - loop), axis=1))))
    while len(points) < count:
        loop = np.array(points)
        after = np.roll(loop, -1, axis=0)
        longest = int(np.argmax(np.linalg.norm(after - loop, axis=1)))
        points.insert(longest + 1, 0.5 * (loop[longest] + after[longest]))
    return np.array(points)


def collars(loops: list[Floats], distance: float) -> list[Floats]:
    """A loop at a distance beside each closed curve (n, 3), point for point: outside a shape,
    inside a hole of one.

    A corner goes by d (a + b) / (1 + a · b), a and b the unit normals of its sides, cut at MITRE
    times the distance. Raises StepError for a curve without area."""
    if not loops:
        return []
    normals = [newell(loop, np.array([0, len(loop)]))[0] for loop in loops]
    sizes = [float(np.linalg.norm(normal)) for normal in normals]
    if min(sizes) == 0.0:
        raise StepError("a shape without area has no collar", where="collar")
    # Nested shapes are told apart on the sheet of the largest.
    chart = chart_of(loops[int(np.argmax(sizes))])
    flat = [chart.flatten(loop) for loop in loops]
    made = []
    for k, loop in enumerate(loops):
        depth = sum(bool(inside_loop(flat[j], flat[k][:1])[0]) for j in range(len(loops)) if j != k)
        out = distance if depth % 2 == 0 else -distance
        ahead = np.roll(loop, -1, axis=0) - loop
        ahead = units(ahead)
        after = cross(ahead, np.broadcast_to(normals[k] / sizes[k], ahead.shape))
        before = np.roll(after, 1, axis=0)
        dot = np.einsum("ij,ij->i", before, after)
        reach = (before + after) / np.maximum(1.0 + dot, 2.0 / MITRE**2)[:, None]
        made.append(loop + out * reach)
    return made


def spokes_of(builder: TraceBuilder, line: int) -> list[tuple[int, int, int]]:
    """Spokes for a closed line that lies wholly inside one face: (vertex, anchor, face) for each
    corner of the face.

    Corners take points in the order both have round the face, so that no two spokes cross on a
    convex face, with the least total length; two take the same one only where the line has fewer
    points than the face corners."""
    spans = [key for key, of in builder.spans.items() if of.line == line]
    faces = {key[2] for key in spans}
    anchors = {anchor for key in spans for anchor in key[:2]}
    if len(faces) != 1 or -1 in faces or any(builder.kind[a] != IN_FACE for a in anchors):
        return []
    face = next(iter(faces))
    ring = _ring(spans)
    corners = builder.mesh.face(face)
    loop = builder.mesh.points[corners]
    chart = chart_of(loop)
    places = np.array([builder.place[a] for a in ring])
    if len(ring) < 3 or _area(chart.flatten(loop)) * _area(chart.flatten(places)) < 0:
        ring, places = ring[::-1], places[::-1]
    chosen = _in_order(np.linalg.norm(loop[:, None] - places[None], axis=2))
    return [(int(v), ring[k], face) for v, k in zip(corners.tolist(), chosen.tolist(), strict=True)]


def _ring(spans: list[tuple[int, int, int]]) -> list[int]:
    """The anchors of a closed line, one after another."""
    beside: dict[int, list[int]] = {}
    for a, b, _ in spans:
        beside.setdefault(a, []).append(b)
        beside.setdefault(b, []).append(a)
    ring = [spans[0][0]]
    while True:
        onward = [a for a in beside[ring[-1]] if len(ring) < 2 or a != ring[-2]]
        if not onward or onward[0] == ring[0] or len(ring) > len(beside):
            return ring
        ring.append(onward[0])


def _area(flat: Floats) -> float:
    x, y = flat[:, 0], flat[:, 1]
    return 0.5 * float(x @ np.roll(y, -1) - y @ np.roll(x, -1))


def _in_order(away: Floats) -> Ints:
    """For each row of distances (k, n) a column, in cyclic order, with the least sum; different
    ones if n >= k."""
    rows, columns = away.shape
    apart = 1 if columns >= rows else 0
    best, found = np.inf, np.zeros(rows, dtype=np.int64)
    for start in range(columns):
        turned = np.roll(away, -start, axis=1)
        # cost[j]: the least sum of the rows so far with the last one in column j; the first one is
        # in column 0.
        cost = np.full(columns, np.inf)
        cost[0] = turned[0, 0]
        came = []
        for row in range(1, rows):
            least = np.minimum.accumulate(cost)
            at = np.where(cost <= least, np.arange(columns), 0)
            at = np.maximum.accumulate(at)
            if apart:
                least, at = np.concatenate([[np.inf], least[:-1]]), np.concatenate([[0], at[:-1]])
            came.append(at)
            cost = least + turned[row]
        last = int(np.argmin(cost))
        if cost[last] < best:
            best = float(cost[last])
            path = [last]
            for at in reversed(came):
                path.append(int(at[path[-1]]))
            found = (np.array(path[::-1]) + start) % columns
    return found
