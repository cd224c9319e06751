"""What all readers share: meshes whose faces come without shared vertices."""

from __future__ import annotations

from typing import Any

import numpy as np

from cutcore.errors import FormatError, MeshError
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


def orderly_mesh(
    arrays: dict[str, Any], materials: tuple[str, ...], patches: tuple[str, ...]
) -> Mesh:
    """A checked mesh of our own arrays, by their names in `Mesh`, from a file that anybody may have
    written. Raises FormatError if they do not fit each other."""
    hard = arrays.setdefault("hard", np.zeros((0, 2), np.int32))
    points, starts, corners = (arrays[name] for name in ("points", "starts", "corners"))
    faces = len(starts) - 1
    numbers = {name: arrays[name] for name in ("material", "patch") if name in arrays}
    shaped = (
        points.ndim == 2
        and points.shape[1] == 3
        and starts.ndim == corners.ndim == 1
        and hard.ndim == 2
        and hard.shape[1] == 2
        and all(values.shape == (faces,) for values in numbers.values())
    )
    sharp = arrays.get("strength")
    if sharp is not None and not (
        sharp.shape == (len(hard),)
        and sharp.dtype.kind == "f"
        and (sharp > 0).all()
        and (sharp <= 1).all()
    ):
        raise FormatError("the arrays do not fit each other")
    whole = all(
        array.dtype.kind in "iu" for array in (starts, corners, hard, *numbers.values())
    ) and all(arrays[name].dtype.kind == "f" for name in ("points", "uv") if name in arrays)
    if not (shaped and whole and faces > 0):
        raise FormatError("the arrays do not fit each other")
    orderly = starts[0] == 0 and (np.diff(starts) >= 0).all() and starts[-1] == len(corners)
    named = all(
        (numbers[name] < len(table)).all() and (numbers[name] >= -1).all()
        for name, table in (("material", materials), ("patch", patches))
        if name in numbers
    )
    if not (orderly and named and (hard < len(points)).all() and (hard >= 0).all()):
        raise FormatError("the arrays do not fit each other")
    mesh = Mesh(**arrays, materials=materials, patches=patches)
    try:
        mesh.check()
    except MeshError as refusal:
        raise FormatError(refusal.words) from refusal
    return mesh
