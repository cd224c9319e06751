"""A flat open sheet of quads."""

from __future__ import annotations

import numpy as np

from cutcore.mesh.mesh import Mesh


def sheet(width: float, depth: float, columns: int, rows: int) -> Mesh:
    """A sheet about the origin in the x-z plane, seen from above (+y), with texture places from 0
    to 1."""
    u, v = np.meshgrid(np.arange(columns + 1) / columns, np.arange(rows + 1) / rows, indexing="ij")
    points = np.stack([(u - 0.5) * width, np.zeros_like(u), (0.5 - v) * depth], axis=2).reshape(
        -1, 3
    )
    i, j = (
        grid.ravel() for grid in np.meshgrid(np.arange(columns), np.arange(rows), indexing="ij")
    )
    a = i * (rows + 1) + j
    faces = np.stack([a, a + rows + 1, a + rows + 2, a + 1], axis=1)
    places = np.stack([u.ravel(), v.ravel()], axis=1)
    return Mesh.of(points, faces, uv=places[faces.ravel()])
