"""The nearest places of many triangles, through a tree of boxes over them."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, Ints
from cutcore.kernels.compiled import compiled, inlined

# A tree over more than 2³² leaves is none that a part of this size needs.
DEEPEST = 64
# Shares are true to many digits in triangles whose squared sine between two sides is above this.
WELL_SHAPED = 1e-8


@inlined
def _along(
    ax: float,
    ay: float,
    az: float,
    ux: float,
    uy: float,
    uz: float,
    wx: float,
    wy: float,
    wz: float,
) -> tuple[float, float, float]:
    """The nearest place of the side from a along u to a place that lies w from a."""
    size = ux * ux + uy * uy + uz * uz
    share = 0.0
    if size > 0.0:
        share = min(max((wx * ux + wy * uy + wz * uz) / size, 0.0), 1.0)
    return ax + share * ux, ay + share * uy, az + share * uz


@compiled
def nearest_of_triangle(
    corners: Floats, x: float, y: float, z: float
) -> tuple[float, float, float]:
    """The nearest place of one triangle (3, 3), which may be as thin as a segment (C. Ericson,
    Real-Time Collision Detection, 2005, 5.1.5, by the sides instead of by regions)."""
    ax, ay, az = corners[0, 0], corners[0, 1], corners[0, 2]
    ux, uy, uz = corners[1, 0] - ax, corners[1, 1] - ay, corners[1, 2] - az
    vx, vy, vz = corners[2, 0] - ax, corners[2, 1] - ay, corners[2, 2] - az
    wx, wy, wz = x - ax, y - ay, z - az
    uu, uv, vv = (
        ux * ux + uy * uy + uz * uz,
        ux * vx + uy * vy + uz * vz,
        vx * vx + vy * vy + vz * vz,
    )
    wu, wv = wx * ux + wy * uy + wz * uz, wx * vx + wy * vy + wz * vz
    area = uu * vv - uv * uv
    best = np.inf
    px, py, pz = ax, ay, az
    if area > 0.0:
        s, t = (vv * wu - uv * wv) / area, (uu * wv - uv * wu) / area
        if s >= 0.0 and t >= 0.0 and s + t <= 1.0:
            px, py, pz = ax + s * ux + t * vx, ay + s * uy + t * vy, az + s * uz + t * vz
            if area > WELL_SHAPED * uu * vv:
                return px, py, pz
            # Of a needle the shares are rounding: a side may be nearer than what they give.
            best = (px - x) ** 2 + (py - y) ** 2 + (pz - z) ** 2
    for side in range(3):
        if side == 0:
            qx, qy, qz = _along(ax, ay, az, ux, uy, uz, wx, wy, wz)
        elif side == 1:
            qx, qy, qz = _along(ax, ay, az, vx, vy, vz, wx, wy, wz)
        else:
            qx, qy, qz = _along(
                ax + ux, ay + uy, az + uz, vx - ux, vy - uy, vz - uz, wx - ux, wy - uy, wz - uz
            )
        gap = (qx - x) ** 2 + (qy - y) ** 2 + (qz - z) ** 2
        if gap < best:
            best, px, py, pz = gap, qx, qy, qz
    return px, py, pz


@inlined
def _gap_to(boxes: Floats, node: int, x: float, y: float, z: float) -> float:
    """The square of how far a box is from a place; infinite for one that holds nothing."""
    dx = max(boxes[node, 0, 0] - x, x - boxes[node, 1, 0], 0.0)
    dy = max(boxes[node, 0, 1] - y, y - boxes[node, 1, 1], 0.0)
    dz = max(boxes[node, 0, 2] - z, z - boxes[node, 1, 2], 0.0)
    return dx * dx + dy * dy + dz * dz


@compiled
def nearest_of(triangles: Floats, boxes: Floats, leaf: int, places: Floats) -> Floats:
    """For each place (n, 3) the nearest one of triangles (t, 3, 3), of which so many in turn are in
    each `leaf` of a whole binary tree of boxes (b, 2, 3), low and high: the children of node i are
    2i + 1 and 2i + 2. Boxes farther away than what is found are passed over, so none nearer is
    missed."""
    first_leaf = (len(boxes) - 1) // 2
    found = np.full((len(places), 3), np.nan)
    waiting = np.empty(DEEPEST, dtype=np.int64)
    for k in range(len(places)):
        x, y, z = places[k, 0], places[k, 1], places[k, 2]
        best = np.inf
        count = 1
        waiting[0] = 0
        while count > 0:
            count -= 1
            node = waiting[count]
            if _gap_to(boxes, node, x, y, z) >= best:
                continue
            if node < first_leaf:
                near, far = 2 * node + 1, 2 * node + 2
                if _gap_to(boxes, far, x, y, z) < _gap_to(boxes, near, x, y, z):
                    near, far = far, near
                waiting[count], waiting[count + 1] = far, near
                count += 2
                continue
            begin = (node - first_leaf) * leaf
            for t in range(begin, min(begin + leaf, len(triangles))):
                px, py, pz = nearest_of_triangle(triangles[t], x, y, z)
                gap = (px - x) ** 2 + (py - y) ** 2 + (pz - z) ** 2
                if gap < best:
                    best = gap
                    found[k, 0], found[k, 1], found[k, 2] = px, py, pz
    return found


def boxes_over(low: Floats, high: Floats, leaf: int) -> Floats:
    """The whole binary tree of boxes (b, 2, 3) over boxes (t, 3) to (t, 3), so many in turn to a
    leaf."""
    leaves = max(1, -(-len(low) // leaf))
    width = 1 << (leaves - 1).bit_length()
    boxes = np.empty((2 * width - 1, 2, 3))
    boxes[:, 0], boxes[:, 1] = np.inf, -np.inf
    starts = np.arange(0, len(low), leaf)
    at = width - 1
    if len(low):
        boxes[at : at + leaves, 0] = np.minimum.reduceat(low, starts)
        boxes[at : at + leaves, 1] = np.maximum.reduceat(high, starts)
    while at > 0:
        below = boxes[at : 2 * at + 1]
        up = (at - 1) // 2
        boxes[up:at, 0] = np.minimum(below[::2, 0], below[1::2, 0])
        boxes[up:at, 1] = np.maximum(below[::2, 1], below[1::2, 1])
        at = up
    return boxes


def in_space_order(places: Floats) -> Ints:
    """The order (n,) of places (n, 3) along a curve that fills their box, so that those that follow
    each other are near (G. M. Morton, 1966): ten bits an axis."""
    low = places.min(axis=0)
    size = float((places.max(axis=0) - low).max()) or 1.0
    cell = np.minimum((places - low) * (1023.0 / size), 1023.0).astype(np.int64)
    code = np.zeros(len(places), dtype=np.int64)
    for bit in range(10):
        for axis in range(3):
            code |= ((cell[:, axis] >> bit) & 1) << (3 * bit + axis)
    return np.argsort(code, kind="stable")
