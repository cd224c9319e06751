"""The edges that an operation moves, or makes where nothing was: what a plan of it draws."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result


def edges_of_moved_vertices(before: Mesh, result: Result) -> Ints:
    """The edges (n,) of a result with an end that lies elsewhere than before, or is new."""
    after = result.mesh
    changed = np.ones(after.vertex_count, dtype=bool)
    changed[: before.vertex_count] = (after.points[: before.vertex_count] != before.points).any(
        axis=1
    )
    return np.flatnonzero(changed[after.edges.ends].any(axis=1))


def edges_of_picked_faces(before: Mesh, result: Result) -> Ints:
    """The edges (n,) of the faces that a result picks."""
    after = result.mesh
    return np.unique(after.edges.of_corner[np.isin(after.face_of_corner, result.picked.faces)])
