"""The borders of touched faces, with the new vertices of their edges put in."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.arrays import Floats, Ints, next_in_row, row_positions, starts_of
from cutcore.mesh import Mesh
from cutcore.trace import ON_EDGE, ON_VERTEX, Trace


@dataclass(frozen=True, eq=False)
class Crossings:
    """The new vertices on edges.

    edges   (M,)   split edges, ascending
    starts  (M+1,) which new vertices lie on each, from its lower vertex up
    share   (N,)   from the lower vertex
    places  (N, 3) worked out once, from the lower vertex
    lift    (N, 3) how far each is moved off the surface afterwards, or None
    vertex  (A,)   the vertex of every anchor of the trace, -1 for those inside faces
    """

    edges: Ints
    starts: Ints
    share: Floats
    places: Floats
    lift: Floats | None
    vertex: Ints


def vertices_on_edges(mesh: Mesh, trace: Trace, *, weld: float) -> Crossings:
    """One vertex for each place of an edge where a span is cut; places within the weld tolerance are one."""
    vertex = np.where(trace.kind == ON_VERTEX, trace.element, -1)
    used = np.zeros(len(trace.kind), dtype=bool)
    used[trace.ends[trace.cut].ravel()] = True
    chosen = np.flatnonzero(used & (trace.kind == ON_EDGE))
    order = chosen[np.lexsort((trace.share[chosen], trace.element[chosen]))]
    edge, share = trace.element[order], trace.share[order]
    low, high = mesh.points[mesh.edges.ends[edge, 0]], mesh.points[mesh.edges.ends[edge, 1]]
    length = np.linalg.norm(high - low, axis=1)
    fresh = np.ones(len(order), dtype=bool)
    fresh[1:] = (edge[1:] != edge[:-1]) | ((share[1:] - share[:-1]) * length[1:] > weld)
    vertex[order] = mesh.vertex_count + np.cumsum(fresh) - 1
    places = (low + share[:, None] * (high - low))[fresh]
    edges, counts = np.unique(edge[fresh], return_counts=True)
    lift = None if trace.lift is None else trace.lift[order][fresh]
    return Crossings(edges, starts_of(counts), share[fresh], places, lift, vertex)


@dataclass(frozen=True, eq=False)
class Rim:
    """Borders in ragged rows, one a touched face: `vertex`, `places (.., 3)` and `uv (.., 2)` or None."""

    faces: Ints
    starts: Ints
    vertex: Ints
    places: Floats
    uv: Floats | None

    @staticmethod
    def of(mesh: Mesh, faces: Ints, crossings: Crossings) -> Rim:
        """The borders of these faces, each beginning at the face's first corner."""
        at, starts = row_positions(mesh.starts, faces)
        corner_vertex = mesh.corners[at].astype(np.int64)
        edge = mesh.edges.of_corner[at]
        index = np.minimum(np.searchsorted(crossings.edges, edge), max(len(crossings.edges) - 1, 0))
        split = crossings.edges[index] == edge if len(crossings.edges) else np.zeros(len(at), dtype=bool)
        extra = np.where(split, np.diff(crossings.starts)[index], 0) if len(crossings.edges) else np.zeros(len(at), np.int64)
        begin = starts_of(1 + extra)
        forward = mesh.edges.ends[edge, 0] == corner_vertex

        vertex = np.empty(begin[-1], dtype=np.int64)
        vertex[begin[:-1]] = corner_vertex
        owner = np.repeat(np.arange(len(at)), extra)
        step = np.arange(len(owner)) - np.repeat(starts_of(extra)[:-1], extra)
        first, last = crossings.starts[index[owner]], crossings.starts[np.minimum(index[owner] + 1, len(crossings.starts) - 1)]
        new = np.where(forward[owner], first + step, last - 1 - step)
        slot = begin[owner] + 1 + step
        vertex[slot] = mesh.vertex_count + new

        places = np.empty((len(vertex), 3))
        places[begin[:-1]] = mesh.points[corner_vertex]
        places[slot] = crossings.places[new]
        uv = None
        if mesh.uv is not None:
            uv = np.empty((len(vertex), 2))
            uv[begin[:-1]] = mesh.uv[at]
            here, there = mesh.uv[at[owner]], mesh.uv[at[next_in_row(starts)[owner]]]
            share = crossings.share[new]
            share = np.where(forward[owner], share, 1.0 - share)[:, None]
            uv[slot] = (1.0 - share) * here + share * there
        return Rim(faces, begin[starts], vertex, places, uv)
