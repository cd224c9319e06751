"""Values inside a face from the values at its corners."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.geometry.chart import chart_of
from cutcore.geometry.vectors import NOT_ZERO


def interpolate_inside(corners: Floats, values: Floats, places: Floats) -> Floats:
    """Values (n, d) at places (n, 3) strictly inside a face with corners (k, 3) and corner values
    (k, d), by `weights_inside`."""
    return np.asarray(weights_inside(corners, places) @ values)


def weights_inside(corners: Floats, places: Floats) -> Floats:
    """How much (n, k) of the value at each corner (k, 3) of a face goes into that at places (n, 3)
    strictly inside it.

    Mean value coordinates (M. S. Floater, Mean value coordinates, Computer Aided Geometric Design
    20, 2003): they reproduce any linear map exactly on a flat face, convex or not, and are linear
    on its border."""
    chart = chart_of(corners)
    away = chart.flatten(corners)[None] - chart.flatten(places)[:, None]
    size = np.linalg.norm(away, axis=2)
    after, after_size = np.roll(away, -1, axis=1), np.roll(size, -1, axis=1)
    cross = away[..., 0] * after[..., 1] - away[..., 1] * after[..., 0]
    dot = (away * after).sum(axis=2)
    # tan(angle / 2) of the angle at the place between successive corners
    half = cross / np.maximum(size * after_size + dot, NOT_ZERO)
    weights = (half + np.roll(half, 1, axis=1)) / np.maximum(size, NOT_ZERO)
    return np.asarray(weights / weights.sum(axis=1, keepdims=True))
