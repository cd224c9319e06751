"""The three axes by name."""

from __future__ import annotations

from typing import Literal

import numpy as np

from cutcore.geometry.arrays import Floats

Axis = Literal["x", "y", "z"]


AXES: dict[Axis, int] = {"x": 0, "y": 1, "z": 2}


def axis_vector(axis: Axis) -> Floats:
    """The unit vector (3,) of an axis."""
    return np.eye(3)[AXES[axis]]
