"""Straight ways across faces that leave them: over a concave or bent one they may."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.geometry.chart import chart_of
from cutcore.geometry.polygons import inside_loop
from cutcore.geometry.predicates import segments_meet
from cutcore.kernels import convex_faces
from cutcore.mesh.mesh import Mesh
from cutcore.trace.trace import ON_EDGE, ON_VERTEX, Trace


def leaving_spans(mesh: Mesh, trace: Trace) -> Ints:
    """The spans (n,), ascending, between places on the border of a face that do not stay inside
    it."""
    inside = np.flatnonzero(trace.face >= 0)
    found = []
    faces, at = np.unique(trace.face[inside], return_inverse=True)
    plain = convex_faces(mesh.points, mesh.starts, mesh.corners, faces)
    for s in inside[~plain[at]].tolist():
        number = int(trace.face[s])
        corners = mesh.points[mesh.face(number)]
        chart = chart_of(corners)
        loop = chart.flatten(corners)
        p, q = chart.flatten(trace.place[trace.ends[s]])
        row = mesh.edges.of_corner[mesh.starts[number] : mesh.starts[number + 1]]
        ends = trace.ends[s]
        on_edges = trace.element[ends[trace.kind[ends] == ON_EDGE]]
        at_vertices = trace.element[ends[trace.kind[ends] == ON_VERTEX]]
        others = ~np.isin(row, on_edges)
        others &= ~np.isin(mesh.edges.ends[row], at_vertices).any(axis=1)
        crosses = segments_meet(p, q, loop[others], np.roll(loop, -1, axis=0)[others])
        if crosses.any() or not inside_loop(loop, 0.5 * (p + q)[None])[0]:
            found.append(s)
    return np.array(found, dtype=np.int64)
