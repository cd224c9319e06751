"""Plane sections as traces: whole, or only in some faces."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools
from cutcore.mesh.mesh import Mesh
from cutcore.queries.section import Section
from cutcore.trace.trace import ON_EDGE, ON_VERTEX, Trace


def trace_of_section(mesh: Mesh, found: Section, limit: Bools | None) -> Trace:
    """The segments of a section that a limit (F,) allows, as spans of one line."""
    keep = (
        np.ones(len(found.face), dtype=bool)
        if limit is None
        else segments_within(mesh, found, limit)
    )
    on_vertex = found.vertex >= 0
    return Trace.of(
        np.where(on_vertex, ON_VERTEX, ON_EDGE),
        np.where(on_vertex, found.vertex, found.edge),
        found.share,
        found.place,
        found.ends[keep],
        found.face[keep],
    )


def segments_within(mesh: Mesh, found: Section, limit: Bools) -> Bools:
    """Which segments a limit (F,) allows: those in its faces, and edges beside one of them."""
    allowed: Bools = limit[np.maximum(found.face, 0)] & (found.face >= 0)
    for s in np.flatnonzero(found.face < 0).tolist():
        a, b = (int(found.vertex[n]) for n in found.ends[s])
        allowed[s] = any(limit[f] for f in mesh.edges.faces_at(mesh.edges.between(a, b)))
    return allowed
