"""Which way three points turn, with a sign that can be trusted.

A plain double determinant is right unless it is smaller than its own rounding. Only those few are
worked out again, exactly, in fractions. (J. R. Shewchuk, Adaptive precision floating-point
arithmetic and fast robust geometric predicates, Discrete & Computational Geometry 18, 1997: the
error bound is his for the first stage of `orient2d`.)"""

from __future__ import annotations

from fractions import Fraction

import numpy as np

from cutcore.geometry.arrays import Bools, Floats

_EPS = 2.0**-53
_BOUND = (3.0 + 16.0 * _EPS) * _EPS


def turn(a: Floats, b: Floats, c: Floats) -> Floats:
    """Twice the signed area of triangles with corners (..., 2): positive if a, b, c turn left.

    Zero only where the three points are exactly in line; the sign is always exact.

    >>> float(turn(np.array([0.0, 0.0]), np.array([1.0, 0.0]), np.array([0.5, 1.0])))
    1.0
    >>> float(turn(np.array([0.1, 0.1]), np.array([0.2, 0.2]), np.array([0.4, 0.4])))
    0.0
    """
    left = (a[..., 0] - c[..., 0]) * (b[..., 1] - c[..., 1])
    right = (a[..., 1] - c[..., 1]) * (b[..., 0] - c[..., 0])
    area = np.asarray(left - right, dtype=np.float64)
    unsure = np.abs(area) <= _BOUND * (np.abs(left) + np.abs(right))
    if unsure.any():
        a, b, c = (np.broadcast_to(p, (*area.shape, 2)) for p in (a, b, c))
        area = area.copy()
        for at in np.argwhere(unsure):
            k = tuple(at)
            area[k] = _exact(a[k], b[k], c[k])
    return area


def _exact(a: Floats, b: Floats, c: Floats) -> float:
    ax, ay, bx, by, cx, cy = (Fraction(float(x)) for x in (*a, *b, *c))
    area = (ax - cx) * (by - cy) - (ay - cy) * (bx - cx)
    # A fraction too small for a double keeps its sign.
    return float(area) or float((area > 0) - (area < 0)) * 5e-324


def segments_meet(p: Floats, q: Floats, a: Floats, b: Floats) -> Bools:
    """Whether the closed segment p-q meets each of the closed segments a-b (n, 2); overlapping ones
    count."""
    crosses = (np.sign(turn(p, q, a)) * np.sign(turn(p, q, b)) <= 0) & (
        np.sign(turn(a, b, p)) * np.sign(turn(a, b, q)) <= 0
    )
    boxes = (np.maximum(a, b) >= np.minimum(p, q)).all(axis=-1) & (
        np.minimum(a, b) <= np.maximum(p, q)
    ).all(axis=-1)
    return np.asarray(crosses & boxes)
