"""Straight ways across faces that leave them: over a concave or bent one they may."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Ints, cross
from cutcore.geometry.chart import chart_of
from cutcore.geometry.polygons import inside_loop
from cutcore.geometry.predicates import segments_meet
from cutcore.mesh.mesh import Mesh
from cutcore.trace.trace import ON_EDGE, ON_VERTEX, Trace


def leaving_spans(mesh: Mesh, trace: Trace) -> Ints:
    """The spans (n,), ascending, between places on the border of a face that do not stay inside
    it."""
    inside = np.flatnonzero(trace.face >= 0)
    found = []
    faces, at = np.unique(trace.face[inside], return_inverse=True)
    plain = _convex_quads(mesh, faces) | (mesh.sizes[faces] == 3)
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


def _convex_quads(mesh: Mesh, faces: Ints) -> Bools:
    """Which faces (n,) are quads whose corners all turn the same way."""
    found = mesh.sizes[faces] == 4
    corners = mesh.points[mesh.corners[mesh.starts[faces[found]][:, None] + np.arange(4)]]
    along = np.roll(corners, -1, axis=1) - corners
    turns = cross(np.roll(along, 1, axis=1), along)
    found[found] = (np.einsum("ijk,ik->ij", turns, turns.sum(axis=1)) >= 0).all(axis=1)
    return found
