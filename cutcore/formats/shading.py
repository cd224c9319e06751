"""Hard edges as formats tell them that know only of smoothing groups or normals."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, Ints, next_in_row
from cutcore.geometry.components import components
from cutcore.mesh.creases import strengths_of, with_hard
from cutcore.mesh.mesh import Mesh
from cutcore.queries.normals import corners_across

# Corner normals whose cosine is above this are one.
SAME_NORMAL = 0.9999
# Faces that bend less than this cosine says look the same with either normals.
FLAT = 0.9999


def smoothing_groups(mesh: Mesh) -> Ints:
    """A group (F,) for each face, from 1: faces side by side over a soft edge are in one."""
    inner = np.flatnonzero(strengths_of(mesh) < 1.0)
    return components(mesh.edges.faces[inner].astype(np.int64), mesh.face_count)[1] + 1


def hard_by_groups(mesh: Mesh, group: Ints) -> Mesh:
    """The mesh with those edges hard whose faces (F,) are in different groups, or in none (0). Where
    all are in one, or all in none, nothing is said by it."""
    if (group == group[0]).all():
        return mesh
    pairs = mesh.edges.faces
    one, other = group[pairs[:, 0]], group[np.maximum(pairs[:, 1], 0)]
    return with_hard(mesh, (pairs[:, 1] >= 0) & ((one != other) | (one == 0)))


def hard_by_normals(mesh: Mesh, normals: Floats) -> Mesh:
    """The mesh with those edges hard at which the normals of corners (C, 3) differ from face to face.
    Where they do at every edge that bends it is drawn in facets, and nothing is said by it."""
    one, other, edge = corners_across(mesh)
    following = next_in_row(mesh.starts)
    ahead = mesh.corners[one] != mesh.corners[other]
    apart = np.zeros(len(mesh.edges), dtype=bool)
    for a, b in (
        (one, np.where(ahead, following[other], other)),
        (following[one], np.where(ahead, other, following[other])),
    ):
        differ = np.einsum("ij,ij->i", normals[a], normals[b]) < SAME_NORMAL
        apart[edge[differ]] = True
    faces = mesh.face_normals()
    size = np.linalg.norm(faces, axis=1)
    pairs = mesh.edges.faces
    two = pairs[:, 1] >= 0
    lean = np.einsum("ij,ij->i", faces[pairs[:, 0]], faces[np.maximum(pairs[:, 1], 0)])
    bent = two & (lean < FLAT * size[pairs[:, 0]] * size[np.maximum(pairs[:, 1], 0)])
    if not (bent & ~apart).any():
        return mesh
    return with_hard(mesh, apart & two)


def with_hard_pairs(mesh: Mesh, pairs: Ints, strength: Floats) -> Mesh:
    """The mesh with the edges between some pairs of vertices (n, 2) hard, as sharp as is said (n,);
    pairs without an edge, and strengths that are none, are left out."""
    good = (pairs >= 0).all(axis=1) & (pairs < mesh.vertex_count).all(axis=1)
    good &= np.isfinite(strength) & (strength > 0) & (strength <= 1)
    low_first = np.sort(pairs[good].astype(np.int64), axis=1)
    weights = np.array([np.int64(mesh.vertex_count), 1])
    keys, first = np.unique(low_first @ weights, return_index=True)
    found = mesh.edges.ends.astype(np.int64) @ weights
    there = np.isin(found, keys)
    sharp = np.zeros(len(mesh.edges))
    sharp[there] = strength[good][first][np.searchsorted(keys, found[there])]
    return with_hard(mesh, there, sharp)
