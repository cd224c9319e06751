"""A torus of quads: closed, with no pole anywhere."""

from __future__ import annotations

import numpy as np

from cutcore.mesh.mesh import Mesh


def torus(radius: float, tube: float, around: int, across: int) -> Mesh:
    """A torus about the y axis: `around` columns on the big circle, `across` rows on the tube."""
    turn, roll = np.meshgrid(
        2 * np.pi * np.arange(around) / around,
        2 * np.pi * np.arange(across) / across,
        indexing="ij",
    )
    reach = radius + tube * np.cos(roll)
    points = np.stack(
        [reach * np.cos(turn), tube * np.sin(roll), -reach * np.sin(turn)], axis=2
    ).reshape(-1, 3)
    i, j = (
        grid.ravel() for grid in np.meshgrid(np.arange(around), np.arange(across), indexing="ij")
    )
    a, b = i * across, ((i + 1) % around) * across
    up = (j + 1) % across
    return Mesh.of(points, np.stack([a + j, b + j, b + up, a + up], axis=1))
