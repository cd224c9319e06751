"""The borders of touched faces, with the new vertices of their edges put in."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import INDEX, Floats, Ints
from cutcore.kernels import rim_rows, rim_uv
from cutcore.mesh.mesh import Mesh
from cutcore.trace.trace import ON_EDGE, ON_VERTEX, Trace


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
    """One vertex for each place of an edge where a span is cut or an anchor stands; places within
    the weld tolerance are one."""
    vertex = np.where(trace.kind == ON_VERTEX, trace.element, -1)
    used = np.zeros(len(trace.kind), dtype=bool)
    used[trace.ends.take(np.flatnonzero(trace.cut), axis=0)] = True
    if trace.stands is not None:
        used |= trace.stands
    chosen = np.flatnonzero(used & (trace.kind == ON_EDGE))
    order = chosen
    edge, share = trace.element[order], trace.share[order]
    if not ((edge[1:] > edge[:-1]) | ((edge[1:] == edge[:-1]) & (share[1:] >= share[:-1]))).all():
        order = chosen[np.lexsort((share, edge))]
        edge, share = trace.element[order], trace.share[order]
    fresh = np.ones(len(order), dtype=bool)
    again = np.flatnonzero(edge[1:] == edge[:-1]) + 1
    low, high = mesh.points[mesh.edges.ends[edge[again]]].transpose(1, 0, 2)
    with np.errstate(over="ignore"):
        fresh[again] = (share[again] - share[again - 1]) * np.linalg.norm(high - low, axis=1) > weld
    vertex[order] = mesh.vertex_count + np.cumsum(fresh) - 1
    new = np.flatnonzero(fresh)
    places, edge = trace.place.take(order[new], axis=0), edge[new]
    heads = (
        np.flatnonzero(np.concatenate([[True], edge[1:] != edge[:-1]]))
        if len(edge)
        else np.zeros(0, np.int64)
    )
    lift = None if trace.lift is None else trace.lift[order[new]]
    return Crossings(edge[heads], np.append(heads, len(edge)), share[new], places, lift, vertex)


@dataclass(frozen=True, eq=False)
class Rim:
    """Borders in ragged rows of slots, one row a touched face: `vertex`, `edge` to the next slot
    and `uv (.., 2)` or None. Edges are numbered as they are after the cut."""

    faces: Ints
    starts: Ints
    vertex: Ints
    edge: Ints
    uv: Floats | None

    @staticmethod
    def of(mesh: Mesh, faces: Ints, crossings: Crossings) -> Rim:
        """The borders of these faces, each beginning at the face's first corner."""
        table = mesh.edges
        split = np.full(len(table), -1, dtype=INDEX)
        split[crossings.edges] = np.arange(len(crossings.edges))
        rows = (
            faces,
            mesh.starts,
            mesh.corners,
            table.of_corner,
            table.ends,
            split,
            crossings.starts,
        )
        # A new vertex is on the borders of two faces, or of as many as are crowded at its edge.
        most = int(mesh.sizes[faces].sum()) + len(crossings.places) * max(
            [2, *map(len, table.crowded.values())]
        )
        starts, vertex, edge = rim_rows(*rows, mesh.vertex_count, most)
        uv = None
        if mesh.uv is not None:
            uv = np.empty((len(vertex), 2))
            rim_uv(*rows, crossings.share, mesh.uv, uv)
        return Rim(faces, starts, vertex, edge, uv)
