"""Half of a part and its mirror image, joined along the plane between them."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, Ints, owner_of
from cutcore.geometry.plane import Plane
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then, without_faces
from cutcore.notes import Note, position
from cutcore.tools.slice.sides import Sides

NO_SEAM = Note(
    "halve-without-seam",
    "The plane does not meet the part: there is nothing to join its mirror image to.",
)


def mirrored(cut: Result, sides: Sides) -> Result:
    """What was cut along a plane, without the side the normal points to, and that replaced by the
    other's image.

    Vertices in the plane are shared; they are set onto it to the last digit, and faces that lie in
    it go, so that a closed part stays closed. Images carry the texture places, materials, patches
    and hard edges of their originals."""
    if not (sides.vertex == 0).any():
        return Result(cut.mesh, cut.origin, cut.picked, (*cut.notes, NO_SEAM))
    half, origin = without_faces(cut.mesh, sides.face >= 0)
    on = sides.vertex[origin.vertex] == 0
    flat, image = _set_onto(sides.plane, half.points), _images(sides.plane, half.points)
    number = np.arange(half.vertex_count)
    number[~on] = half.vertex_count + np.arange(int((~on).sum()))
    back = _backwards(half.starts)
    whole = half.rebuilt(
        np.concatenate([np.where(on[:, None], flat, half.points), image[~on]]),
        np.concatenate([half.starts, half.starts[-1] + half.starts[1:]]),
        np.concatenate([half.corners, number[half.corners[back]]]),
        edge_data=half.edge_data.with_more(half.edge_data.renumbered(number)),
        further_from=np.arange(half.face_count),
        corners_from=np.concatenate([np.arange(len(back)), back]),
    )
    doubled = Origin(
        np.concatenate([np.arange(half.face_count)] * 2),
        np.concatenate(
            [
                np.where(on & (flat != half.points).any(axis=1), -1, np.arange(half.vertex_count)),
                np.full(int((~on).sum()), -1),
            ]
        ),
        np.arange(half.face_count),
    ).but_moved(half, whole)
    ends = whole.edges.ends
    seam = ends[(ends < half.vertex_count).all(axis=1)]
    seam = seam[on[seam].all(axis=1)]
    notes = cut.notes
    crowded = [
        e for e in whole.edges.crowded if on[np.minimum(ends[e], half.vertex_count - 1)].all()
    ]
    if crowded:
        words = "More than two faces meet along the seam, where the part only touched the plane."
        notes = (
            *notes,
            Note(
                "halve-crowded-seam",
                words,
                tuple(position(whole.points[ends[e]].mean(axis=0)) for e in crowded[:50]),
            ),
        )
    return Result(
        whole, then(cut.origin, then(origin, doubled)), Picked(edges=seam.astype(np.int64)), notes
    )


def _set_onto(plane: Plane, points: Floats) -> Floats:
    """The nearest places (V, 3) of the plane."""
    axis = _axis_of(plane)
    if axis is None:
        return np.asarray(points - plane.heights(points)[:, None] * plane.normal)
    flat = points.copy()
    flat[:, axis] = plane.point[axis]
    return flat


def _images(plane: Plane, points: Floats) -> Floats:
    """The places (V, 3) as the plane mirrors them."""
    axis = _axis_of(plane)
    if axis is None:
        return np.asarray(points - 2 * plane.heights(points)[:, None] * plane.normal)
    image = points.copy()
    image[:, axis] = 2 * plane.point[axis] - points[:, axis]
    return image


def _axis_of(plane: Plane) -> int | None:
    """The axis the plane is square to, if it is to one: one coordinate alone then changes, without
    rounding the others."""
    square = np.flatnonzero(plane.normal)
    return int(square[0]) if len(square) == 1 else None


def _backwards(starts: Ints) -> Ints:
    """For rows of corners the positions that read each the other way round, from the same first
    corner."""
    owner = owner_of(starts)
    step = np.arange(starts[-1]) - starts[owner]
    size = np.diff(starts)[owner]
    return np.asarray(starts[owner] + np.where(step == 0, 0, size - step), dtype=np.int64)
