"""Texture places where corners move within their faces."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, Ints, row_positions
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.mesh.mesh import Mesh


def texture_gradient(places: Floats, values: Floats) -> Floats:
    """The linear map (3, 2) from places (n, 3) to texture places (n, 2) of one face that fits its
    corners best; nothing where a corner has none."""
    if not np.isfinite(values).all():
        return np.zeros((3, 2))
    fitted, *_ = np.linalg.lstsq(
        places - places.mean(axis=0), values - values.mean(axis=0), rcond=NEGLIGIBLE
    )
    return np.asarray(fitted)


def texture_shift(mesh: Mesh, faces: Ints, shift: Floats) -> Floats:
    """How far the texture places of the corners of some faces go (c, 2), in order, when the corners
    are shifted (c, 3): by the map of each face."""
    assert mesh.uv is not None
    corner, starts = row_positions(mesh.starts, faces)
    moved = np.zeros((len(corner), 2))
    for begin, end in zip(starts[:-1].tolist(), starts[1:].tolist(), strict=True):
        if shift[begin:end].any():
            at = corner[begin:end]
            gradient = texture_gradient(mesh.points[mesh.corners[at]], mesh.uv[at])
            moved[begin:end] = shift[begin:end] @ gradient
    return moved
