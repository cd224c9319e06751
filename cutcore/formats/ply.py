"""PLY: polygons of any size, ASCII and binary in either byte order, with texture places a vertex carries."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from cutcore.arrays import Floats, Ints
from cutcore.errors import FormatError
from cutcore.formats.reading import check_counts, usable_faces, with_faces
from cutcore.mesh import Mesh
from cutcore.notes import Note

_TYPES = {
    **dict.fromkeys(("char", "int8"), "i1"),
    **dict.fromkeys(("uchar", "uint8"), "u1"),
    **dict.fromkeys(("short", "int16"), "i2"),
    **dict.fromkeys(("ushort", "uint16"), "u2"),
    **dict.fromkeys(("int", "int32"), "i4"),
    **dict.fromkeys(("uint", "uint32"), "u4"),
    **dict.fromkeys(("float", "float32"), "f4"),
    **dict.fromkeys(("double", "float64"), "f8"),
}
_LONGEST_HEADER = 1 << 16
_TEXTURE = (("s", "t"), ("u", "v"), ("texture_u", "texture_v"))


@dataclass(frozen=True)
class _Property:
    name: str
    kind: str
    length: str | None = None


@dataclass(frozen=True)
class _Element:
    name: str
    count: int
    properties: tuple[_Property, ...]


def read_ply(data: bytes) -> tuple[Mesh, tuple[Note, ...]]:
    """A mesh and what reading it had to say. Raises FormatError naming the place if it can't be read."""
    order, elements, body = _header(data)
    source: _Text | _Binary = _Text(data, body) if order == "" else _Binary(data, body, order)
    points: Floats | None = None
    texture: Floats | None = None
    faces: tuple[Ints, Ints] | None = None
    for element in elements:
        columns, lists = source.take(element)
        if element.name == "vertex":
            if not {"x", "y", "z"} <= columns.keys():
                raise FormatError("vertices without x, y and z", where="header")
            points = np.stack([columns[c].astype(np.float64) for c in "xyz"], axis=1)
            pair = next((p for p in _TEXTURE if set(p) <= columns.keys()), None)
            texture = np.stack([columns[c].astype(np.float64) for c in pair], axis=1) if pair else None
        elif element.name == "face":
            found = lists.get("vertex_indices") or lists.get("vertex_index")
            if found is None:
                raise FormatError("faces without vertex_indices", where="header")
            faces = found
    if points is None or faces is None:
        raise FormatError("the file has no vertices or no faces", where="header")
    starts, corners = faces
    good, notes = usable_faces(points, starts, corners)
    uv = None if texture is None else texture[np.clip(corners, 0, len(points) - 1)]
    return with_faces(points, starts, corners, good, uv), tuple(notes)


def write_ply(mesh: Mesh) -> bytes:
    """The mesh as a binary PLY file in doubles. Texture places are not written: they belong to corners."""
    header = (
        "ply\nformat binary_little_endian 1.0\n"
        f"element vertex {mesh.vertex_count}\nproperty double x\nproperty double y\nproperty double z\n"
        f"element face {mesh.face_count}\nproperty list uint32 int32 vertex_indices\nend_header\n"
    )
    # One row after the other: its size, then its corners.
    rows = np.empty(mesh.face_count + len(mesh.corners), dtype="<i4")
    heads = mesh.starts[:-1] + np.arange(mesh.face_count)
    is_head = np.zeros(len(rows), dtype=bool)
    is_head[heads] = True
    rows[is_head] = mesh.sizes
    rows[~is_head] = mesh.corners
    return header.encode() + mesh.points.astype("<f8").tobytes() + rows.tobytes()


def _header(data: bytes) -> tuple[str, list[_Element], int]:
    """Byte order ("" for text), the elements, and where the body begins."""
    if not data:
        raise FormatError("the file is empty")
    end = data.find(b"end_header", 0, _LONGEST_HEADER)
    if not data.startswith(b"ply") or end < 0:
        raise FormatError("this is no PLY file: it has no header", where="line 1")
    order: str | None = None
    elements: list[_Element] = []
    for number, line in enumerate(data[:end].decode("ascii", "replace").splitlines(), 1):
        words = line.split()
        where = f"line {number}"
        match words:
            case ["format", "ascii", _]:
                order = ""
            case ["format", "binary_little_endian", _]:
                order = "<"
            case ["format", "binary_big_endian", _]:
                order = ">"
            case ["element", name, count] if count.isdigit() and len(count) < 12:
                elements.append(_Element(name, int(count), ()))
            case ["property", "list", length, kind, name] if length in _TYPES and kind in _TYPES and elements:
                _add(elements, _Property(name, _TYPES[kind], _TYPES[length]))
            case ["property", kind, name] if kind in _TYPES and elements:
                _add(elements, _Property(name, _TYPES[kind]))
            case [] | ["ply"] | ["comment" | "obj_info", *_]:
                pass
            case _:
                raise FormatError(f"this line of the header can't be understood: {line[:60]!r}", where=where)
    if order is None:
        raise FormatError("the header names no format", where="header")
    newline = data.find(b"\n", end)
    if newline < 0:
        raise FormatError("the file ends with its header", where="header")
    for element in elements:
        # A row takes at least a byte: what the file promises can't be more than what it holds.
        if element.count > len(data) - newline or (element.count and not element.properties):
            raise FormatError(f"the file promises {element.count} of {element.name} but ends before them", where="header")
    check_counts(sum(e.count for e in elements if e.name == "vertex"), 0, where="header")
    return order, elements, newline + 1


def _add(elements: list[_Element], new: _Property) -> None:
    last = elements[-1]
    elements[-1] = _Element(last.name, last.count, (*last.properties, new))


Taken = tuple[dict[str, np.ndarray], dict[str, tuple[Ints, Ints]]]


class _Binary:
    """Rows of numbers; elements whose rows all have one size are read at once."""

    def __init__(self, data: bytes, at: int, order: str) -> None:
        self._data, self._at, self._order = data, at, order

    def take(self, element: _Element) -> Taken:
        if any(p.length for p in element.properties):
            return self._take_lists(element)
        row = np.dtype([(f"{k}", self._order + p.kind) for k, p in enumerate(element.properties)])
        self._need(element, row.itemsize * element.count)
        table = np.frombuffer(self._data, row, element.count, self._at)
        self._at += row.itemsize * element.count
        return {p.name: table[f"{k}"] for k, p in enumerate(element.properties)}, {}

    def _take_lists(self, element: _Element) -> Taken:
        uniform = self._take_uniform(element)
        if uniform is not None:
            return uniform
        columns: dict[str, list[Any]] = {p.name: [] for p in element.properties}
        types = [(p, np.dtype(self._order + p.kind), np.dtype(self._order + p.length) if p.length else None) for p in element.properties]
        for _ in range(element.count):
            for prop, kind, length in types:
                count = 1
                if length is not None:
                    self._need(element, length.itemsize)
                    count = int(np.frombuffer(self._data, length, 1, self._at)[0])
                    self._at += length.itemsize
                self._need(element, kind.itemsize * max(count, 0))
                columns[prop.name].append(np.frombuffer(self._data, kind, max(count, 0), self._at))
                self._at += kind.itemsize * max(count, 0)
        plain = {p.name: np.concatenate(columns[p.name] or [np.zeros(0)]) for p in element.properties if not p.length}
        return plain, {p.name: _ragged(columns[p.name]) for p in element.properties if p.length}

    def _take_uniform(self, element: _Element) -> Taken | None:
        """All rows at once if every list is as long as in the first row; None if they are not."""
        if element.count == 0:
            return {}, {p.name: (np.zeros(1, np.int64), np.zeros(0, np.int64)) for p in element.properties if p.length}
        fields: list[tuple[Any, ...]] = []
        at = self._at
        for k, prop in enumerate(element.properties):
            if prop.length:
                length = np.dtype(self._order + prop.length)
                if at + length.itemsize > len(self._data):
                    return None
                count = int(np.frombuffer(self._data, length, 1, at)[0])
                if not 0 <= count <= 64:
                    return None
                fields += [(f"n{k}", length), (f"{k}", self._order + prop.kind, (count,))]
                at += length.itemsize + np.dtype(prop.kind).itemsize * count
            else:
                fields.append((f"{k}", self._order + prop.kind))
                at += np.dtype(prop.kind).itemsize
        row = np.dtype(fields)
        if self._at + row.itemsize * element.count > len(self._data):
            return None
        table = np.frombuffer(self._data, row, element.count, self._at)
        plain: dict[str, np.ndarray] = {}
        lists: dict[str, tuple[Ints, Ints]] = {}
        for k, prop in enumerate(element.properties):
            if prop.length is None:
                plain[prop.name] = table[f"{k}"]
                continue
            count = table.dtype[f"{k}"].shape[0]
            if (table[f"n{k}"] != count).any():
                return None
            lists[prop.name] = (np.arange(element.count + 1) * count, table[f"{k}"].astype(np.int64).ravel())
        self._at += row.itemsize * element.count
        return plain, lists

    def _need(self, element: _Element, size: int) -> None:
        if self._at + size > len(self._data):
            raise FormatError(f"the file ends in the middle of its {element.name} rows", where=f"byte {self._at}")


class _Text:
    """Rows of words, a line each."""

    def __init__(self, data: bytes, at: int) -> None:
        self._lines = iter(data[at:].split(b"\n"))
        self._number = data.count(b"\n", 0, at)

    def take(self, element: _Element) -> Taken:
        columns: dict[str, list[Any]] = {p.name: [] for p in element.properties}
        for _ in range(element.count):
            words = self._next(element)
            at = 0
            try:
                for prop in element.properties:
                    count = 1
                    if prop.length:
                        count, at = int(words[at]), at + 1
                    values = words[at : at + count]
                    if count < 0 or len(values) < count:
                        raise ValueError
                    numbers = np.array([float(w) for w in values])
                    columns[prop.name].append(numbers)
                    at += count
            except (ValueError, IndexError, OverflowError):
                raise FormatError(f"this row of {element.name} can't be read", where=f"line {self._number}") from None
        plain = {p.name: np.concatenate(columns[p.name] or [np.zeros(0)]) for p in element.properties if not p.length}
        return plain, {p.name: _ragged(columns[p.name]) for p in element.properties if p.length}

    def _next(self, element: _Element) -> list[bytes]:
        for line in self._lines:
            self._number += 1
            words = line.split()
            if words:
                return words
        raise FormatError(f"the file ends in the middle of its {element.name} rows", where=f"line {self._number}")


def _ragged(rows: list[np.ndarray]) -> tuple[Ints, Ints]:
    starts = np.concatenate([[0], np.cumsum([len(r) for r in rows])]).astype(np.int64)
    flat = np.concatenate(rows) if rows else np.zeros(0)
    # What is no whole number in range names no vertex.
    with np.errstate(invalid="ignore"):
        whole = np.isfinite(flat) & (np.abs(flat) < 2**53)
    return starts, np.where(whole, np.where(whole, flat, -1), -1).astype(np.int64)
