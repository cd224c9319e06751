"""Single directions in space: of unit length, square to another, turned."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, cross

# Takes the place of a length of nothing where something is divided by it: what is divided is
# nothing, too.
NOT_ZERO = 1e-300

# Two unit directions are one if the sine of the angle between them is no more than this.
PARALLEL = 1e-9


def unit(vector: Floats) -> Floats:
    """A vector (n,) at unit length; one of no length as it is."""
    size = float(np.linalg.norm(vector))
    return np.asarray(vector / size) if size > 0 else vector


def units(vectors: Floats) -> Floats:
    """Vectors (N, n) at unit length; those of no length stay so."""
    return np.asarray(
        vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), NOT_ZERO)
    )


def least_axis(direction: Floats) -> Floats:
    """The unit vector (3,) of the axis that a direction leans to least: never parallel to it."""
    return np.asarray(np.eye(3)[int(np.argmin(np.abs(direction)))])


def turned(vector: Floats, axis: Floats, angle: float) -> Floats:
    """A vector (3,) turned about a unit axis by radians, right-handed (Rodrigues' formula); exactly
    itself for no angle."""
    if angle == 0.0:
        return vector
    along = float(axis @ vector)
    return np.asarray(
        np.cos(angle) * vector
        + np.sin(angle) * cross(axis, vector)
        + (1 - np.cos(angle)) * along * axis
    )


def degrees_turned(before: Floats, at: Floats, after: Floats) -> float:
    """By how many degrees (0..180) a way turns at a place between two others, all (3,); 0 where one
    of the stretches has no length."""
    back, ahead = at - before, after - at
    across = float(np.linalg.norm(cross(back, ahead)))
    return float(np.degrees(np.arctan2(across, float(back @ ahead))))
