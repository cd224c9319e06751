"""Chains of edges: the loop an edge lies on, the ring across it, and the shortest path between two
vertices."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import dijkstra

from cutcore.errors import StepError
from cutcore.geometry.arrays import Ints
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.mesh import Mesh
from cutcore.queries.edge_rings import edge_ring
from cutcore.queries.follow import continued


def edge_loop(mesh: Mesh, edge: int) -> Ints:
    """The edges that run on from an edge both ways, at vertices with exactly four edges straight
    on, along a border the border."""
    if mesh.edges.border[edge]:
        return _border_run(mesh, edge)
    found = [edge]
    for end in mesh.edges.ends[edge].tolist():
        at, vertex = edge, end
        while (goal := continued(mesh, at, vertex)) >= 0:
            at, vertex = mesh.edges.between(vertex, goal), goal
            if at == edge:
                return np.unique(found)
            found.append(at)
    return np.unique(found)


def ring(mesh: Mesh, edge: int) -> Ints:
    """The edges of the ring across an edge; the edge alone where no quad lies beside it."""
    try:
        return np.unique(edge_ring(mesh, edge, int(mesh.edges.ends[edge, 0]), None).edges)
    except StepError:
        return np.array([edge])


def shortest_path(mesh: Mesh, start: int, end: int) -> Ints:
    """The edges of the shortest way along edges from a vertex to another; none if there is no
    way."""
    ends = mesh.edges.ends
    length = np.linalg.norm(np.diff(mesh.points[ends], axis=1)[:, 0], axis=1)
    count = mesh.vertex_count
    table = csr_matrix(
        (np.maximum(length, NOT_ZERO), (ends[:, 0], ends[:, 1])), shape=(count, count)
    )
    distance, before = dijkstra(table, directed=False, indices=start, return_predecessors=True)
    if not np.isfinite(distance[end]):
        return np.zeros(0, dtype=np.int64)
    found = []
    vertex = end
    while vertex != start:
        earlier = int(before[vertex])
        found.append(mesh.edges.between(vertex, earlier))
        vertex = earlier
    return np.array(found[::-1], dtype=np.int64)


def _border_run(mesh: Mesh, edge: int) -> Ints:
    """The border edges joined to a border edge."""
    border = set(np.flatnonzero(mesh.edges.border).tolist())
    found, waiting = {edge}, [edge]
    while waiting:
        for vertex in mesh.edges.ends[waiting.pop()].tolist():
            for near in mesh.edges.at_vertex(vertex).tolist():
                if near in border and near not in found:
                    found.add(near)
                    waiting.append(near)
    return np.array(sorted(found), dtype=np.int64)
