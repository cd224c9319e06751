"""Follow for every line: new vertices on edges leave the surface for the curves that the edges
suggest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from cutcore.geometry.plane import Plane
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Note, position
from cutcore.queries.follow import EdgeCurves
from cutcore.trace.trace import ON_EDGE, Trace
from cutcore.words import count_of


def followed(
    mesh: Mesh, trace: Trace, follow: float, planes: Sequence[Plane] | None = None
) -> Trace:
    """A trace whose anchors on edges are lifted by `follow` (0..1) of the way to the curve of the
    row that the crossed edge is in (`EdgeCurves` has the formula).

    With `planes`, one for each line of the trace, they stay in the plane of their line. Those on
    edges that go on at neither end are not lifted, and noted."""
    if follow == 0.0:
        return trace
    anchor = np.unique(trace.ends[trace.cut])
    anchor = anchor[trace.kind[anchor] == ON_EDGE]
    curves = EdgeCurves.of(mesh, trace.element[anchor])
    if planes is None:
        lifts = curves.lifts(trace.share[anchor], follow)
    else:
        line = np.zeros(len(trace.kind), dtype=np.int64)
        line[trace.ends] = trace.line[:, None]
        normal = np.array([plane.normal for plane in planes])
        level = np.array([float(plane.normal @ plane.point) for plane in planes])
        of = line[anchor]
        lifts = curves.lifts_in_planes(trace.share[anchor], follow, normal[of], level[of])
    lift = np.zeros((len(trace.kind), 3)) if trace.lift is None else trace.lift.copy()
    lift[anchor] = lifts
    left = trace.place[anchor[~curves.known]]
    notes = trace.notes
    if len(left):
        words = (
            f"{count_of(len(left), 'new vertex', 'new vertices')} stay on the edge: the line that "
            "it is part of does not go on at either end."
        )
        notes = (*notes, Note("not-lifted", words, tuple(map(position, left[:50]))))
    return replace(trace, lift=lift, notes=notes)
