"""Faces as triangles: for drawing, for rays, for finding where in a face a place lies."""

from __future__ import annotations

from dataclasses import dataclass

import mapbox_earcut
import numpy as np

from cutcore.geometry.arrays import INDEX, Floats, Ints, cross, frozen
from cutcore.geometry.chart import chart_of
from cutcore.geometry.tolerances import NEGLIGIBLE

# A triangle of a fan must have more than this share of the turns of its face.
FLAT = 1e-9


@dataclass(frozen=True, eq=False)
class Triangles:
    """`corners (T, 3)` are vertices in the face's own direction, `face (T,)` the face each lies
    in."""

    corners: Ints
    face: Ints

    def __post_init__(self) -> None:
        object.__setattr__(self, "corners", frozen(self.corners, INDEX))
        object.__setattr__(self, "face", frozen(self.face, INDEX))

    def of_face(self, face: int) -> Ints:
        """The triangles (n, 3) of one face; `face` is ascending, so this is a binary search."""
        low, high = np.searchsorted(self.face, [face, face + 1])
        return self.corners[low:high]


def triangulate(points: Floats, starts: Ints, corners: Ints) -> Triangles:
    """All faces as triangles, ascending by face.

    Quads are split along the diagonal that keeps both halves turned the same way, the shorter one
    if both do. Larger faces go through ear clipping in their own plane."""
    sizes = np.diff(starts)
    parts: list[Ints] = []
    owners: list[Ints] = []

    tri = np.flatnonzero(sizes == 3)
    parts.append(corners[starts[tri][:, None] + np.arange(3)])
    owners.append(tri)

    quad = np.flatnonzero(sizes == 4)
    if len(quad):
        loops = corners[starts[quad][:, None] + np.arange(4)]
        other = _prefers_other_diagonal(points[loops])
        loops = np.where(other[:, None], np.roll(loops, -1, axis=1), loops)
        parts += [loops[:, [0, 1, 2]], loops[:, [0, 2, 3]]]
        owners += [quad, quad]

    bent: list[Ints] = []
    for size in np.unique(sizes[sizes > 4]).tolist():
        rows = np.flatnonzero(sizes == size)
        fans, plain = _fans(points, corners[starts[rows][:, None] + np.arange(size)])
        parts.append(fans[plain].reshape(-1, 3))
        owners.append(np.repeat(rows[plain], size - 2))
        bent.append(rows[~plain])

    for face in np.concatenate([np.zeros(0, dtype=np.int64), *bent]):
        loop = corners[starts[face] : starts[face + 1]]
        ears = ear_clip(points[loop])
        parts.append(loop[ears])
        owners.append(np.full(len(ears), face))

    owner = np.concatenate(owners)
    order = np.argsort(owner, kind="stable")
    return Triangles(np.concatenate(parts)[order], owner[order])


def _fans(points: Floats, loops: Ints) -> tuple[Ints, Ints]:
    """For loops of vertices (n, k): fans of triangles (n, k-2, 3) about the flattest corner of
    each, and which of them will do (n,): all triangles turn the same way, with room to spare."""
    count, size = loops.shape
    places = points[loops]
    along = np.roll(places, -1, axis=1) - places
    turns = cross(np.roll(along, 1, axis=1), along)
    normal = turns.sum(axis=1)
    flattest = np.argmin(np.einsum("ijk,ik->ij", turns, normal), axis=1)
    order = (flattest[:, None] + np.arange(size)) % size
    turned = np.take_along_axis(loops, order, axis=1)
    fans = np.stack(
        [np.broadcast_to(turned[:, :1], (count, size - 2)), turned[:, 1:-1], turned[:, 2:]], axis=2
    )
    a, b, c = (points[fans[..., k]] for k in range(3))
    area = np.einsum("ijk,ik->ij", cross(b - a, c - a), normal)
    whole = np.einsum("ij,ij->i", normal, normal)
    return fans, (area > FLAT * whole[:, None]).all(axis=1)


def ear_clip(places: Floats) -> Ints:
    """Triangles (n, 3) of one loop of places (k, 3), as positions in the loop, in its direction.

    >>> ear_clip(np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], float)).shape
    (2, 3)
    """
    flat = chart_of(places).flatten(places)
    found = (
        mapbox_earcut.triangulate_float64(flat, np.array([len(flat)], dtype=np.uint32))
        .reshape(-1, 3)
        .astype(np.int64)
    )
    if len(found) == 0:
        found = np.stack(
            [
                np.zeros(len(places) - 2, int),
                np.arange(1, len(places) - 1),
                np.arange(2, len(places)),
            ],
            axis=1,
        )
        return found
    a, b, c = flat[found[:, 0]], flat[found[:, 1]], flat[found[:, 2]]
    turned = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (
        c[:, 0] - a[:, 0]
    ) < 0
    found[turned] = found[turned][:, ::-1]
    return found


def places_inside(points: Floats, starts: Ints, corners: Ints) -> Floats:
    """A place (F, 3) well inside each loop of vertices in ragged rows, concave or not: the middle
    of its largest triangle."""
    found = triangulate(points, starts, corners)
    at = points[found.corners]
    area = np.linalg.norm(cross(at[:, 1] - at[:, 0], at[:, 2] - at[:, 0]), axis=1)
    # The last of each loop's triangles, smallest first.
    order = np.lexsort((area, found.face))
    largest = order[np.searchsorted(found.face, np.arange(len(starts) - 1), side="right") - 1]
    return np.asarray(at[largest].mean(axis=1))


def _prefers_other_diagonal(quads: Floats) -> np.ndarray:
    """For quads (n, 4, 3): whether cutting from corner 1 to 3 is better than from 0 to 2."""
    a, b, c, d = (quads[:, i] for i in range(4))
    whole = cross(c - a, d - b)

    def agree(p: Floats, q: Floats, r: Floats) -> Floats:
        return np.einsum("ij,ij->i", cross(q - p, r - p), whole)

    first = np.minimum(agree(a, b, c), agree(a, c, d))
    second = np.minimum(agree(b, c, d), agree(b, d, a))
    shorter = ((d - b) ** 2).sum(axis=1) < ((c - a) ** 2).sum(axis=1) * (1 - NEGLIGIBLE)
    return np.where((first > 0) & (second > 0), shorter, second > first)
