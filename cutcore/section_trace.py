"""Plane sections as traces: whole, or only in some faces; one plane, or many parallel ones."""

from __future__ import annotations

import numpy as np

from cutcore.arrays import Bools
from cutcore.mesh import Mesh
from cutcore.plane import Plane
from cutcore.section import Section, section
from cutcore.trace import ON_EDGE, ON_VERTEX, Trace


def trace_of_section(mesh: Mesh, found: Section, limit: Bools | None) -> Trace:
    """The segments of a section that a limit (F,) allows, as spans of one line."""
    keep = np.ones(len(found.face), dtype=bool) if limit is None else segments_within(mesh, found, limit)
    on_vertex = found.vertex >= 0
    return Trace.of(
        np.where(on_vertex, ON_VERTEX, ON_EDGE),
        np.where(on_vertex, found.vertex, found.edge),
        found.share,
        found.place,
        found.ends[keep],
        found.face[keep],
    )


def traces_of_sections(mesh: Mesh, planes: list[Plane], limit: Bools | None, weld: float) -> list[Trace]:
    """The section by each of some parallel planes: one pass over the part, then only the faces each one meets."""
    if not planes:
        return []
    height = mesh.points @ planes[0].normal
    corner = height[mesh.corners]
    low = np.minimum.reduceat(corner, mesh.starts[:-1])
    high = np.maximum.reduceat(corner, mesh.starts[:-1])
    order = np.argsort(low, kind="stable")
    sorted_low = low[order]
    traces = []
    for plane in planes:
        level = float(plane.point @ planes[0].normal)
        candidates = order[: np.searchsorted(sorted_low, level + 2 * weld, side="right")]
        faces = np.sort(candidates[high[candidates] >= level - 2 * weld])
        traces.append(trace_of_section(mesh, section(mesh, plane, weld=weld, faces=faces), limit))
    return traces


def segments_within(mesh: Mesh, found: Section, limit: Bools) -> Bools:
    """Which segments a limit (F,) allows: those in its faces, and edges beside one of them."""
    allowed: Bools = limit[np.maximum(found.face, 0)] & (found.face >= 0)
    for s in np.flatnonzero(found.face < 0).tolist():
        a, b = (int(found.vertex[n]) for n in found.ends[s])
        allowed[s] = any(limit[f] for f in mesh.edges.faces_at(mesh.edges.between(a, b)))
    return allowed
