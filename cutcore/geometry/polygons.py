"""Is a point inside a loop? Points of the border do not count as inside."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats
from cutcore.geometry.vectors import NOT_ZERO


def inside_loop(loop: Floats, points: Floats, *, margin: float = 0.0) -> Bools:
    """Which points (N, 2) lie inside a simple loop (k, 2), by crossing number.

    Points within `margin` (a share of the loop's extent) of the border count as outside.

    >>> square = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float)
    >>> inside_loop(square, np.array([[0.5, 0.5], [2, 0.5], [0.5, 0.0]]), margin=1e-9).tolist()
    [True, False, False]
    """
    a, b = loop, np.roll(loop, -1, axis=0)
    px, py = points[:, :1], points[:, 1:]
    straddles = (a[:, 1] > py) != (b[:, 1] > py)
    with np.errstate(divide="ignore", invalid="ignore"):
        x = a[:, 0] + (py - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
    inside = np.asarray((straddles & (px < x)).sum(axis=1) % 2 == 1)
    if margin > 0.0 and len(points):
        extent = float(np.ptp(loop, axis=0).max())
        inside &= distance_to_segments(points, a, b).min(axis=1) > margin * extent
    return inside


def loop_area(loop: Floats) -> float:
    """The signed area of a loop (k, 2): positive if it runs counter-clockwise."""
    x, y = (loop - loop[0]).T
    return float(0.5 * (x * np.roll(y, -1) - y * np.roll(x, -1)).sum())


def distance_to_segments(points: Floats, a: Floats, b: Floats) -> Floats:
    """Distances (N, k) from points (N, d) to the segments a (k, d) to b (k, d), in two or three
    dimensions."""
    along = b - a
    size = np.maximum((along**2).sum(axis=1), NOT_ZERO)
    away = points[:, None, :] - a
    share = np.clip((away * along).sum(axis=2) / size, 0.0, 1.0)
    return np.asarray(np.linalg.norm(away - share[..., None] * along, axis=2))


def distance_to_each_segment(points: Floats, a: Floats, b: Floats) -> Floats:
    """Distances (N,) from points (N, d) to the segments a (N, d) to b (N, d), one for each."""
    along = b - a
    size = np.maximum((along**2).sum(axis=1), NOT_ZERO)
    share = np.clip(((points - a) * along).sum(axis=1) / size, 0.0, 1.0)
    return np.asarray(np.linalg.norm(points - a - share[:, None] * along, axis=1))
