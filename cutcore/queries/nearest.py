"""The nearest places of a surface, or of some lines."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy.spatial import cKDTree

from cutcore.geometry.arrays import Floats, Ints, row_positions
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.triangles import triangulate

# So many triangles whose middles are nearest are looked at, for each place.
TRIANGLES = 24


def nearest_in_triangles(corners: Floats, places: Floats) -> Floats:
    """For each place (n, 3) the nearest one of a triangle (n, 3, 3) of its own (C. Ericson, Real-Time
    Collision Detection, 2005, 5.1.5, by the sides instead of by regions)."""
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    u, v, w = b - a, c - a, places - a
    uu, uv, vv = (np.einsum("ij,ij->i", x, y) for x, y in ((u, u), (u, v), (v, v)))
    wu, wv = np.einsum("ij,ij->i", w, u), np.einsum("ij,ij->i", w, v)
    area = uu * vv - uv * uv
    safe = np.where(area > 0, area, 1.0)
    s, t = (vv * wu - uv * wv) / safe, (uu * wv - uv * wu) / safe
    inside = (area > 0) & (s >= 0) & (t >= 0) & (s + t <= 1)
    flat = a + s[:, None] * u + t[:, None] * v
    sides = np.stack([nearest_on_segments(p, q, places) for p, q in ((a, b), (b, c), (c, a))])
    gaps = np.linalg.norm(sides - places, axis=2)
    best = sides[np.argmin(gaps, axis=0), np.arange(len(places))]
    return np.where(inside[:, None], flat, best)


def nearest_on_segments(a: Floats, b: Floats, places: Floats) -> Floats:
    """For each place (n, 3) the nearest one of a segment (n, 3) to (n, 3) of its own."""
    way = b - a
    size = np.maximum(np.einsum("ij,ij->i", way, way), NOT_ZERO)
    share = np.clip(np.einsum("ij,ij->i", places - a, way) / size, 0.0, 1.0)
    return np.asarray(a + share[:, None] * way)


class Surface:
    """Triangles (n, 3, 3), to find the nearest places of among so many that are `near`."""

    def __init__(self, corners: Floats, near: int = TRIANGLES) -> None:
        self._corners, self._near = corners, near
        self._tree = cKDTree(self._corners.mean(axis=1))

    @staticmethod
    def of_faces(mesh: Mesh, faces: Ints) -> Surface:
        """The surface of some faces (n,) of a mesh."""
        at, starts = row_positions(mesh.starts, faces)
        cells = triangulate(mesh.points, starts, mesh.corners[at])
        return Surface(mesh.points[cells.corners])

    def nearest(self, places: Floats) -> Floats:
        """The nearest places (n, 3) of the surface, among the triangles whose middles are nearest."""
        count = min(self._near, len(self._corners))
        _, near = self._tree.query(places, k=count)
        return _best(
            places,
            np.reshape(near, (len(places), count)),
            lambda rows, repeated: nearest_in_triangles(self._corners[rows], repeated),
        )


class Lines:
    """Some segments (n, 2, 3), to find the nearest places of."""

    def __init__(self, segments: Floats) -> None:
        self._segments = segments
        self._tree = cKDTree(segments.mean(axis=1))

    def nearest(self, places: Floats) -> Floats:
        """The nearest places (n, 3) of the segments whose middles are nearest."""
        count = min(TRIANGLES, len(self._segments))
        _, near = self._tree.query(places, k=count)
        return _best(
            places,
            np.reshape(near, (len(places), count)),
            lambda rows, repeated: nearest_on_segments(
                self._segments[rows, 0], self._segments[rows, 1], repeated
            ),
        )


def _best(places: Floats, near: Ints, found: Callable[[Ints, Floats], Floats]) -> Floats:
    """Of what is found for each place in several rows (n, k) the nearest (n, 3)."""
    count = near.shape[1]
    repeated = np.repeat(places, count, axis=0)
    each = found(near.ravel(), repeated)
    gaps = np.linalg.norm(each - repeated, axis=1).reshape(-1, count)
    return np.asarray(each.reshape(-1, count, 3)[np.arange(len(places)), np.argmin(gaps, axis=1)])
