"""Spokes: a closed line inside a face tied to every corner of it."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.chart import chart_of
from cutcore.trace.trace import IN_FACE, TraceBuilder


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
