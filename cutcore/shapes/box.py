"""A box with divisions."""

from __future__ import annotations

import numpy as np

from cutcore.mesh.mesh import Mesh
from cutcore.shapes.merge import merged_by_place


def box(
    width: float, height: float, depth: float, divisions: tuple[int, int, int] = (1, 1, 1)
) -> Mesh:
    """A closed box about the origin, with so many divisions along x, y and z."""
    size = np.array([width, height, depth])
    faces = []
    for axis in range(3):
        u, v = (axis + 1) % 3, (axis + 2) % 3
        nu, nv = divisions[u], divisions[v]
        for sign in (-1, 1):
            grid = np.zeros((nu + 1, nv + 1, 3))
            grid[..., axis] = sign * 0.5
            grid[..., u] = (np.arange(nu + 1) / nu - 0.5)[:, None]
            grid[..., v] = (np.arange(nv + 1) / nv - 0.5)[None, :]
            quads = np.stack(
                [grid[:-1, :-1], grid[1:, :-1], grid[1:, 1:], grid[:-1, 1:]], axis=2
            ).reshape(-1, 4, 3)
            faces.append(quads if sign > 0 else quads[:, ::-1])
    return merged_by_place(np.concatenate(faces) * size)
