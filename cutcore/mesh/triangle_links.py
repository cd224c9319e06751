"""Which triangles of the faces lie beside which."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import INDEX, Ints, frozen, row_positions
from cutcore.mesh.mesh import Mesh


@dataclass(frozen=True, eq=False)
class TriangleLinks:
    """`beside (T, 3)` is the triangle over the edge from each corner to the next, -1 at a border,
    and -2 - k where more than two meet: these are row k of `branches`, with row starts
    `branch_starts`. `edge (T, 3)` is the edge of the mesh that this is, -1 for a diagonal;
    `first_of_face (F+1)` are the rows of each face."""

    beside: Ints
    edge: Ints
    first_of_face: Ints
    branch_starts: Ints
    branches: Ints


def triangle_links(mesh: Mesh) -> TriangleLinks:
    """The links of a mesh's triangles, kept as long as the mesh."""
    return mesh.held("_triangle_links", _linked)


def _linked(mesh: Mesh) -> TriangleLinks:
    tri = mesh.triangles.corners.astype(np.int64)
    a, b = tri.ravel(), np.roll(tri, -1, axis=1).ravel()
    keys = np.minimum(a, b) * mesh.vertex_count + np.maximum(a, b)
    face = np.repeat(mesh.triangles.face, 3)
    edge = _edges_of(mesh, keys, face)
    # The two sides of an edge meet, and those of a diagonal within its face.
    where = np.where(edge >= 0, edge, len(mesh.edges) + face)
    order = np.lexsort((keys, where))
    ordered = np.stack([where[order], keys[order]])
    fresh = np.flatnonzero(np.append(True, (ordered[:, 1:] != ordered[:, :-1]).any(axis=0)))
    count = np.diff(np.append(fresh, len(order)))
    pairs = fresh[count == 2]
    beside = np.full(len(keys), -1, dtype=np.int64)
    many = fresh[count > 2]
    at, branch_starts = row_positions(np.append(fresh, len(order)), np.flatnonzero(count > 2))
    beside[order[at]] = -2 - np.repeat(np.arange(len(many)), np.diff(branch_starts))
    one, other = order[pairs], order[pairs + 1]
    beside[one], beside[other] = other // 3, one // 3
    first = np.searchsorted(mesh.triangles.face, np.arange(mesh.face_count + 1))
    return TriangleLinks(
        frozen(beside.reshape(-1, 3), INDEX),
        frozen(edge.reshape(-1, 3), INDEX),
        first,
        branch_starts,
        order[at] // 3,
    )


def _edges_of(mesh: Mesh, keys: Ints, face: Ints) -> Ints:
    """The edges (n,) of some faces (n,) that pairs of vertices are, -1 for diagonals."""
    ends = mesh.edges.ends.astype(np.int64)
    named = ends[:, 0] * mesh.vertex_count + ends[:, 1]
    order = np.argsort(named, kind="stable")
    found = order[np.minimum(np.searchsorted(named, keys, sorter=order), len(order) - 1)]
    own = named[found] == keys
    crowded = np.zeros(len(ends), dtype=bool)
    crowded[list(mesh.edges.crowded)] = True
    own &= (mesh.edges.faces[found] == face[:, None]).any(axis=1) | crowded[found]
    return np.where(own, found, -1)
