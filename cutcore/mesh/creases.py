"""Creases: hard edges of less than full strength, carried through whatever is done to a mesh."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.mesh.edge_data import EdgeData
from cutcore.mesh.mesh import Mesh


def strengths_of(mesh: Mesh) -> Floats:
    """How sharp each edge (E,) is: 1 for hard ones, borders and those of more than two faces, less
    for creases, 0 for soft ones."""
    found = np.where(mesh.edges.border, 1.0, 0.0)
    found[list(mesh.edges.crowded)] = 1.0
    at = np.flatnonzero(mesh.edges.joining(mesh.hard))
    found[at] = np.maximum(found[at], strengths_of_pairs(mesh, mesh.edges.ends[at]))
    return found


def strengths_of_pairs(mesh: Mesh, pairs: Ints) -> Floats:
    """How sharp some hard edges (n,) are, given as vertex pairs (n, 2), lower vertex first."""
    return mesh.edge_data.of_pairs(pairs, mesh.vertex_count)


def with_hard(mesh: Mesh, hard: Bools, strength: Floats | None = None) -> Mesh:
    """The mesh with just some edges (E,) hard, each as sharp as is said (E,)."""
    at = np.flatnonzero(hard)
    sharp = np.ones(len(at)) if strength is None else strength[at]
    return mesh.carrying(EdgeData.of(mesh.edges.ends[at], sharp))
