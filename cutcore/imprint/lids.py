"""Lids: flat faces that close a loop round holes."""

from __future__ import annotations

import numpy as np

from cutcore.errors import ImprintError
from cutcore.geometry.arrays import Floats, Ints, starts_of
from cutcore.geometry.chart import Chart
from cutcore.geometry.polygons import inside_loop
from cutcore.imprint.arrangement import FaceLines, arrange
from cutcore.mesh.triangles import places_inside


def faces_between(
    points: Floats, outer: Ints, holes: list[Ints], chart: Chart, *, weld: float
) -> list[Ints]:
    """The faces, as loops of vertices, between a loop (k,) of some points (n, 3) and the holes inside
    it, each tied by two links; seen in a chart, the loop runs counter-clockwise, holes either way.
    None where a hole touches its surround, or crosses it."""
    if not holes:
        return [outer]
    nodes = np.concatenate([outer, *holes])
    segments, first = [], len(outer)
    for hole in holes:
        ring = first + np.arange(len(hole))
        segments.append(np.stack([ring, np.roll(ring, -1)], axis=1))
        first += len(ring)
    try:
        children = arrange(
            FaceLines(-1, points[nodes], len(outer), np.concatenate(segments)), weld=weld
        ).children
    except ImprintError:
        return []
    if any(int(child.max()) >= len(nodes) for child in children):
        # They cross where no vertex is.
        return []
    middles = chart.flatten(
        places_inside(
            points[nodes],
            starts_of(np.array([len(c) for c in children])),
            np.concatenate(children),
        )
    )
    in_hole = np.any([inside_loop(chart.flatten(points[hole]), middles) for hole in holes], axis=0)
    return [
        nodes[child] for child, inside in zip(children, in_hole.tolist(), strict=True) if not inside
    ]
