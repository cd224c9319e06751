"""PLY: polygons of any size, ASCII and binary in either byte order, with texture places a vertex
carries."""

from __future__ import annotations

import io
from array import array
from dataclasses import dataclass

import numpy as np

from cutcore.errors import FormatError
from cutcore.formats.budget import Budget
from cutcore.formats.reading import usable_faces, with_faces
from cutcore.formats.shading import with_hard_pairs
from cutcore.geometry.arrays import Floats, Ints, starts_of
from cutcore.geometry.vectors import units
from cutcore.kernels import list_rows, list_values
from cutcore.mesh.mesh import Mesh
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
MOST_COLUMNS = 200
# So many lines of a text file are read before the time is looked at.
_PIECE = 20_000
# The element of hard edges: the ends of each, and how sharp it is.
_ENDS = ("vertex1", "vertex2")
_SHARPNESS = "sharpness"
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


def read_ply(data: bytes, budget: Budget) -> tuple[Mesh, tuple[Note, ...]]:
    """A mesh and what reading it had to say. Raises FormatError naming the place if it can't be
    read."""
    order, elements, body = _header(data, budget)
    source: _Text | _Binary = (
        _Text(data, body, budget) if order == "" else _Binary(data, body, order, budget)
    )
    points: Floats | None = None
    hard: tuple[Ints, Floats] | None = None
    texture: Floats | None = None
    faces: tuple[Ints, Ints] | None = None
    for element in elements:
        columns, lists = source.take(element)
        if element.name == "vertex":
            if not {"x", "y", "z"} <= columns.keys():
                raise FormatError("vertices without x, y and z", where="header")
            points = np.stack([columns[c].astype(np.float64) for c in "xyz"], axis=1)
            pair = next((p for p in _TEXTURE if set(p) <= columns.keys()), None)
            texture = (
                np.stack([columns[c].astype(np.float64) for c in pair], axis=1) if pair else None
            )
        elif element.name == "face":
            found = lists.get("vertex_indices") or lists.get("vertex_index")
            if found is None:
                raise FormatError("faces without vertex_indices", where="header")
            faces = found
        elif element.name == "edge" and {*_ENDS, _SHARPNESS} <= columns.keys():
            ends = np.stack([_numbers_of_vertices(columns[name]) for name in _ENDS], axis=1)
            hard = ends, columns[_SHARPNESS].astype(np.float64)
    if points is None or faces is None:
        raise FormatError("the file has no vertices or no faces", where="header")
    starts, corners = faces
    good, notes = usable_faces(points, starts, corners)
    uv = None if texture is None else texture[np.clip(corners, 0, len(points) - 1)]
    mesh = with_faces(points, starts, corners, good, uv)
    return (mesh if hard is None else with_hard_pairs(mesh, *hard)), tuple(notes)


def write_ply(mesh: Mesh) -> bytes:
    """The mesh as a binary PLY file in doubles. Texture places are not written: they belong to
    corners. Where edges are hard they come as an element of their own, with how sharp they are, and
    vertices with the normals of all their faces together."""
    vertices = mesh.points
    normals = edges = ""
    if len(mesh.hard):
        face = np.repeat(mesh.face_normals(), mesh.sizes, axis=0)
        total = [np.bincount(mesh.corners, face[:, k], mesh.vertex_count) for k in range(3)]
        vertices = np.column_stack([vertices, units(np.column_stack(total))])
        normals = "".join(f"property double n{axis}\n" for axis in "xyz")
        edges = f"element edge {len(mesh.hard)}\n" + "".join(
            [*(f"property int32 {name}\n" for name in _ENDS), f"property double {_SHARPNESS}\n"]
        )
    header = (
        "ply\nformat binary_little_endian 1.0\n"
        f"element vertex {mesh.vertex_count}\nproperty double x\nproperty double y\nproperty double z\n"
        f"{normals}element face {mesh.face_count}\nproperty list uint32 int32 vertex_indices\n"
        f"{edges}end_header\n"
    )
    # One row after the other: its size, then its corners.
    rows = np.empty(mesh.face_count + len(mesh.corners), dtype="<i4")
    heads = mesh.starts[:-1] + np.arange(mesh.face_count)
    is_head = np.zeros(len(rows), dtype=bool)
    is_head[heads] = True
    rows[is_head] = mesh.sizes
    rows[~is_head] = mesh.corners
    sharp = np.zeros(len(mesh.hard), dtype=[("ends", "<i4", 2), ("sharpness", "<f8")])
    sharp["ends"] = mesh.hard
    sharp["sharpness"] = mesh.edge_data.strength
    return (
        header.encode()
        + np.ascontiguousarray(vertices, dtype="<f8").tobytes()
        + rows.tobytes()
        + sharp.tobytes()
    )


def _header(data: bytes, budget: Budget) -> tuple[str, list[_Element], int]:
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
            case ["element" | "property", *_] if (
                len(elements) + sum(len(e.properties) for e in elements) > MOST_COLUMNS
            ):
                raise FormatError(
                    f"the header has more than {MOST_COLUMNS} elements and properties", where=where
                )
            case ["element", name, count] if count.isdigit() and len(count) < 12:
                elements.append(_Element(name, int(count), ()))
            case ["property", "list", length, kind, name] if (
                length in _TYPES and kind in _TYPES and elements
            ):
                _add(elements, _Property(name, _TYPES[kind], _TYPES[length]))
            case ["property", kind, name] if kind in _TYPES and elements:
                _add(elements, _Property(name, _TYPES[kind]))
            case [] | ["ply"] | ["comment" | "obj_info", *_]:
                pass
            case _:
                raise FormatError(
                    f"this line of the header can't be understood: {line[:60]!r}", where=where
                )
    if order is None:
        raise FormatError("the header names no format", where="header")
    newline = data.find(b"\n", end)
    if newline < 0:
        raise FormatError("the file ends with its header", where="header")
    for element in elements:
        # A row takes at least a byte: what the file promises can't be more than what it holds.
        if element.count > len(data) - newline or (element.count and not element.properties):
            raise FormatError(
                f"the file promises {element.count} of {element.name[:40]} but ends before them",
                where="header",
            )
        budget.spend(vertices=element.count * max(1, len(element.properties) // 3), where="header")
    return order, elements, newline + 1


def _add(elements: list[_Element], new: _Property) -> None:
    last = elements[-1]
    elements[-1] = _Element(last.name, last.count, (*last.properties, new))


Taken = tuple[dict[str, np.ndarray], dict[str, tuple[Ints, Ints]]]


class _Binary:
    """Rows of numbers; elements whose rows all have one size are read at once."""

    def __init__(self, data: bytes, at: int, order: str, budget: Budget) -> None:
        self._data, self._at, self._order, self._budget = data, at, order, budget

    def take(self, element: _Element) -> Taken:
        if any(p.length for p in element.properties):
            return self._take_lists(element)
        row = np.dtype([(f"{k}", self._order + p.kind) for k, p in enumerate(element.properties)])
        self._need(element, row.itemsize * element.count)
        table = np.frombuffer(self._data, row, element.count, self._at)
        self._at += row.itemsize * element.count
        return {p.name: table[f"{k}"] for k, p in enumerate(element.properties)}, {}

    def _take_lists(self, element: _Element) -> Taken:
        columns = len(element.properties)
        places = np.empty((element.count, columns), dtype=np.int64)
        counts = np.empty((element.count, columns), dtype=np.int64)
        raw = np.frombuffer(self._data, np.uint8)
        items = np.array([np.dtype(p.kind).itemsize for p in element.properties], dtype=np.int64)
        lengths = np.array(
            [np.dtype(p.length).itemsize if p.length else 0 for p in element.properties],
            dtype=np.int64,
        )
        signed = np.array([bool(p.length and p.length.startswith("i")) for p in element.properties])
        if any(p.length and p.length.startswith("f") for p in element.properties):
            raise FormatError(
                f"the lists of {element.name[:40]} have lengths that are no whole numbers",
                where="header",
            )
        end = int(
            list_rows(
                raw,
                self._at,
                element.count,
                items,
                lengths,
                signed,
                self._order == ">",
                places,
                counts,
            )
        )
        if end < 0:
            raise FormatError(
                f"the file ends in the middle of its {element.name[:40]} rows",
                where=f"row {-1 - end}",
            )
        self._at = end
        plain: dict[str, np.ndarray] = {}
        lists: dict[str, tuple[Ints, Ints]] = {}
        for k, prop in enumerate(element.properties):
            starts = starts_of(counts[:, k])
            self._budget.spend(corners=int(starts[-1]), where=element.name[:40])
            gathered = np.empty(starts[-1] * items[k], dtype=np.uint8)
            list_values(raw, np.ascontiguousarray(places[:, k]), counts[:, k] * items[k], gathered)
            values = gathered.view(self._order + prop.kind)
            if prop.length is None:
                plain[prop.name] = values
            else:
                lists[prop.name] = (starts, _numbers_of_vertices(values))
        return plain, lists

    def _need(self, element: _Element, size: int) -> None:
        if self._at + size > len(self._data):
            raise FormatError(
                f"the file ends in the middle of its {element.name[:40]} rows",
                where=f"byte {self._at}",
            )


class _Text:
    """Rows of words, a line each; empty lines are passed over."""

    def __init__(self, data: bytes, at: int, budget: Budget) -> None:
        self._lines = (line for line in io.BytesIO(data[at:]))
        self._number, self._budget = data.count(b"\n", 0, at), budget

    def take(self, element: _Element) -> Taken:
        values: list[array[float]] = [array("d") for _ in element.properties]
        sizes: list[array[int]] = [array("q") for _ in element.properties]
        for row in range(element.count):
            if row % _PIECE == 0:
                self._budget.go_on(where=f"line {self._number}")
            words = self._next(element)
            at = 0
            try:
                for k, prop in enumerate(element.properties):
                    count = 1
                    if prop.length:
                        count, at = int(words[at]), at + 1
                        self._budget.corners -= count
                    found = words[at : at + count]
                    if count < 0 or len(found) < count:
                        raise ValueError
                    values[k].extend(map(float, found))
                    sizes[k].append(count)
                    at += count
            except (ValueError, IndexError, OverflowError):
                raise FormatError(
                    f"this row of {element.name[:40]} can't be read", where=f"line {self._number}"
                ) from None
        self._budget.spend(where=f"line {self._number}")
        columns = [np.array(column) for column in values]
        plain = {p.name: columns[k] for k, p in enumerate(element.properties) if not p.length}
        lists = {
            p.name: (
                starts_of(np.array(sizes[k], dtype=np.int64)),
                _numbers_of_vertices(columns[k]),
            )
            for k, p in enumerate(element.properties)
            if p.length
        }
        return plain, lists

    def _next(self, element: _Element) -> list[bytes]:
        for line in self._lines:
            self._number += 1
            words = line.split()
            if words:
                return words
        raise FormatError(
            f"the file ends in the middle of its {element.name[:40]} rows",
            where=f"line {self._number}",
        )


def _numbers_of_vertices(values: np.ndarray) -> Ints:
    """Values as whole numbers; what is no whole number in range names no vertex."""
    if values.dtype.kind in "iu":
        return values.astype(np.int64)
    with np.errstate(invalid="ignore"):
        whole = np.isfinite(values) & (np.abs(values) < 2**53)
    return np.where(whole, np.where(whole, values, -1), -1).astype(np.int64)
