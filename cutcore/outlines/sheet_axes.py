"""How a sheet lies in space."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.tolerances import NEGLIGIBLE


def sheet_axes(normal: Floats) -> tuple[Floats, Floats]:
    """The directions right and up on a sheet with a unit normal: up leans to y; on a level sheet it
    is -z, from below z."""
    right = cross(np.array([0.0, 1.0, 0.0]), normal)
    size = float(np.linalg.norm(right))
    right = right / size if size > NEGLIGIBLE else np.array([1.0, 0.0, 0.0])
    return right, cross(normal, right)
