"""What all readers share: meshes whose faces come without shared vertices."""

from __future__ import annotations

import numpy as np

from cutcore.errors import FormatError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels import name_equal_rows
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Note


def usable_faces(points: Floats, starts: Ints, corners: Ints) -> tuple[Bools, list[Note]]:
    """Which faces (F,) can be used, and a note if some can't: too few corners, a vertex that is not
    there or is no number, or one that comes twice."""
    sizes = np.diff(starts)
    owner = np.repeat(np.arange(len(sizes)), sizes)
    good: Bools = sizes >= 3
    inside = (corners >= 0) & (corners < len(points))
    good[owner[~inside]] = False
    finite = np.logical_and.reduce(np.isfinite(points), axis=1)
    good[owner[inside][~finite[corners[inside]]]] = False
    keys = np.sort(owner[inside] * np.int64(max(len(points), 1)) + corners[inside])
    twice = np.flatnonzero(np.diff(keys) == 0)
    good[keys[twice] // max(len(points), 1)] = False
    if good.all():
        return good, []
    first = int(np.flatnonzero(~good)[0])
    words = f"{int((~good).sum())} faces were left out, the first of them face {first}: their corners can't be used."
    return good, [Note("faces-left-out", words)]


def welded_by_place(points: Floats, corners: Ints) -> tuple[Floats, Ints, int]:
    """Vertices at the very same place as one, numbered by first use: (points, corners, how many
    vanished)."""
    places = np.ascontiguousarray(points + 0.0)
    kind, first = np.empty((2, len(places)), dtype=np.int64)
    table = np.full(1 << (2 * len(places)).bit_length(), -1, dtype=np.int64)
    count = int(name_equal_rows(places.view(np.int64), table, kind, first))
    return places[first[:count]], kind[corners], len(points) - count


def with_faces(
    points: Floats,
    starts: Ints,
    corners: Ints,
    good: Bools,
    uv: Floats | None = None,
    **attributes: object,
) -> Mesh:
    """A checked mesh of the faces that can be used. Raises FormatError if none can."""
    if not good.any():
        raise FormatError("the file has no usable face")
    keep = np.repeat(good, np.diff(starts))
    sizes = np.diff(starts)[good]
    finite = np.isfinite(points).all(axis=1, keepdims=True)
    mesh = Mesh(
        np.where(finite, points, 0.0),
        np.concatenate([[0], np.cumsum(sizes)]),
        corners[keep],
        None if uv is None else uv[keep],
        **attributes,  # type: ignore[arg-type]
    )
    mesh.check()
    return mesh
