"""Traces on edges and vertices put together, whole arrays at a time."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from scipy.spatial import cKDTree

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.mesh.mesh import Mesh
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, Trace


def places_on_edges(mesh: Mesh, element: Ints, on_edge: Bools, share: Floats) -> Floats:
    """The places (n, 3) at shares (n,) of edges (n,) from their lower vertices, or on vertices."""
    ends = np.where(on_edge[:, None], mesh.edges.ends[element * on_edge], element[:, None])
    low, high = mesh.points[ends[:, 0]], mesh.points[ends[:, 1]]
    return np.asarray(low + share[:, None] * (high - low))


def merged_on_edges(mesh: Mesh, trace: Trace, weld: float) -> Trace:
    """A trace in which places within the tolerance, on an edge or inside a face, are one anchor, and
    those at the ends of an edge its vertices; of such the first given says where. Spans that join
    nothing, or the same twice, go."""
    element, share = trace.element.copy(), trace.share.copy()
    on_edge = trace.kind == ON_EDGE
    inside = trace.kind == IN_FACE
    ends = mesh.edges.ends[element * on_edge]
    length = np.linalg.norm(mesh.points[ends[:, 1]] - mesh.points[ends[:, 0]], axis=1)
    place = trace.place.copy()
    for end, gap in ((0, share), (1, 1.0 - share)):
        there = np.flatnonzero(on_edge & (gap * length <= weld))
        element[there], on_edge[there] = ends[there, end], False
        place[there] = mesh.points[element[there]]
    share[~on_edge] = 0.0
    kind = np.where(inside, IN_FACE, np.where(on_edge, ON_EDGE, ON_VERTEX)).astype(np.int8)
    # Those inside faces are told apart by the first of those at the same place.
    first_there = _first_there(place, np.where(inside, element, -1), weld)
    order = np.lexsort((share, first_there, element, kind))
    fresh = np.ones(len(order), dtype=bool)
    same = np.ones(max(len(order) - 1, 0), dtype=bool)
    for key in (kind, element, first_there):
        same &= key[order][1:] == key[order][:-1]
    fresh[1:] = ~(same & (np.diff(share[order]) * length[order][1:] <= weld))
    number = np.empty(len(order), dtype=np.int64)
    number[order] = np.cumsum(fresh) - 1
    kept = np.minimum.reduceat(order, np.flatnonzero(fresh))
    joined = np.sort(number[trace.ends], axis=1)
    order = np.lexsort((trace.face, joined[:, 1], joined[:, 0]))
    again = (joined[order][1:] == joined[order][:-1]).all(axis=1)
    again &= trace.face[order][1:] == trace.face[order][:-1]
    first = order[np.append(np.ones(min(len(order), 1), dtype=bool), ~again)]
    spans = np.sort(first[joined[first, 0] != joined[first, 1]])
    kind = kind[kept]
    return replace(
        trace,
        kind=kind,
        element=element[kept],
        share=share[kept],
        place=place[kept],
        ends=number[trace.ends[spans]],
        face=_along_edges(mesh, trace.face[spans], kind, element[kept], number[trace.ends[spans]]),
        line=trace.line[spans],
        stretch=trace.stretch[spans],
        far=trace.far[spans],
        trimmed=trace.trimmed[spans],
    )


def _first_there(place: Floats, face: Ints, weld: float) -> Ints:
    """For anchors inside a face (n,) the first of those in the same one within the tolerance, by its
    row; 0 for others, whose face is -1."""
    found = np.zeros(len(face), dtype=np.int64)
    rows = np.flatnonzero(face >= 0)
    if len(rows) == 0:
        return found
    found[rows] = rows
    near = cKDTree(place[rows]).query_pairs(weld, output_type="ndarray")
    near = rows[near[np.lexsort((near[:, 1], near[:, 0]))]]
    for one, other in near[face[near[:, 0]] == face[near[:, 1]]].tolist():
        found[other] = min(found[other], found[one])
    return found


def _along_edges(mesh: Mesh, face: Ints, kind: Ints, element: Ints, ends: Ints) -> Ints:
    """The faces (s,) of spans, -1 for those that run along an edge of theirs."""
    found = face.copy()
    a, b = ends.T
    edges = (kind[a] == ON_EDGE) & (kind[b] == ON_EDGE)
    found[edges & (element[a] == element[b])] = -1
    for one, other in ((a, b), (b, a)):
        mixed = np.flatnonzero((kind[one] == ON_EDGE) & (kind[other] == ON_VERTEX))
        touches = (mesh.edges.ends[element[one[mixed]]] == element[other[mixed]][:, None]).any(
            axis=1
        )
        found[mixed[touches]] = -1
    for s in np.flatnonzero((kind[a] == ON_VERTEX) & (kind[b] == ON_VERTEX)).tolist():
        edge = mesh.edges.between(int(element[a[s]]), int(element[b[s]]))
        if edge >= 0 and face[s] in mesh.edges.faces_at(edge):
            found[s] = -1
    return found
