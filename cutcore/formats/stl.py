"""STL: triangles without shared vertices, binary or text. They are welded on the way in."""

from __future__ import annotations

import io
from array import array

import numpy as np

from cutcore.errors import FormatError
from cutcore.formats.budget import Budget
from cutcore.formats.reading import usable_faces, welded_by_place, with_faces
from cutcore.geometry.arrays import Floats, cross
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Note

_ROW = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("extra", "<u2")])


def read_stl(data: bytes, budget: Budget) -> tuple[Mesh, tuple[Note, ...]]:
    """A mesh and what reading it had to say. Corners at the very same place become one vertex."""
    if not data.strip():
        raise FormatError("the file is empty")
    places = _binary(data, budget) if _is_binary(data) else _text(data, budget)
    budget.go_on()
    starts = np.arange(0, len(places) + 1, 3)
    points, corners, vanished = welded_by_place(places, np.arange(len(places)))
    good, notes = usable_faces(points, starts, corners)
    mesh = with_faces(points, starts, corners, good)
    if vanished:
        notes.append(
            Note(
                "welded",
                f"{vanished} corners at the same places were welded: {mesh.vertex_count} vertices are left.",
            )
        )
    return mesh, tuple(notes)


def write_stl(mesh: Mesh) -> bytes:
    """The mesh as a binary STL file: its triangles, in single precision."""
    corners = mesh.points[mesh.triangles.corners]
    normal = cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(normal, axis=1, keepdims=True)
    rows = np.zeros(len(corners), dtype=_ROW)
    rows["normal"] = normal / np.where(size > 0, size, 1.0)
    rows["corners"] = corners
    return b"Wertome".ljust(80, b"\0") + np.uint32(len(rows)).tobytes() + rows.tobytes()


def _is_binary(data: bytes) -> bool:
    """By its length, which a binary file settles; text files may begin with anything but have
    `facet`."""
    if len(data) >= 84:
        count = int(np.frombuffer(data, "<u4", 1, 80)[0])
        if len(data) == 84 + count * _ROW.itemsize:
            return True
    return b"facet" not in data[:4096]


def _binary(data: bytes, budget: Budget) -> Floats:
    if len(data) < 84:
        raise FormatError("this is no STL file: it is too short for a header", where="byte 0")
    count = int(np.frombuffer(data, "<u4", 1, 80)[0])
    if 84 + count * _ROW.itemsize > len(data):
        raise FormatError(
            f"the file promises {count} triangles but ends before them", where="byte 80"
        )
    if count == 0:
        raise FormatError("the file has no triangles", where="byte 80")
    budget.spend(corners=3 * count, where="byte 80")
    return np.frombuffer(data, _ROW, count, 84)["corners"].astype(np.float64).reshape(-1, 3)


def _text(data: bytes, budget: Budget) -> Floats:
    places = array("d")
    for number, line in enumerate(io.BytesIO(data), 1):
        words = line.split(None, 4)
        if not words or words[0] != b"vertex":
            continue
        try:
            x, y, z = (float(word) for word in words[1:4])
        except ValueError:
            raise FormatError("a vertex needs three numbers", where=f"line {number}") from None
        places.extend((x, y, z))
        budget.spend(corners=1, where=f"line {number}")
    found = np.array(places).reshape(-1, 3)
    if len(found) == 0 or len(found) % 3:
        raise FormatError(f"the file has {len(found)} corners, which make no whole triangles")
    return found
