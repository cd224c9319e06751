"""OBJ: polygons of any size, texture places, groups and materials.

Vertices and faces keep the order and numbers of the file. A line that can't be used is left out with
a note that names it; a file without one usable face is refused.
"""

from __future__ import annotations

import io
import math
from array import array
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import numpy as np

from cutcore.arrays import Floats, Ints
from cutcore.errors import FormatError
from cutcore.mesh import Mesh
from cutcore.notes import Note

# Notes about single lines are given for this many lines, the rest is counted.
LINES_TOLD = 20
LONGEST_LINE = 1 << 20


class _Unusable(Exception):
    """A line that can't be used, with the reason."""


@dataclass
class _Reading:
    """What was read so far; in packed arrays, so that a large file takes little more than its own size."""

    points: array[float] = field(default_factory=lambda: array("d"))
    broken: set[int] = field(default_factory=set)
    texture: array[float] = field(default_factory=lambda: array("d"))
    corners: array[int] = field(default_factory=lambda: array("i"))
    corner_texture: array[int] = field(default_factory=lambda: array("i"))
    sizes: array[int] = field(default_factory=lambda: array("i"))
    patch: array[int] = field(default_factory=lambda: array("i"))
    material: array[int] = field(default_factory=lambda: array("i"))
    patches: dict[str, int] = field(default_factory=dict)
    materials: dict[str, int] = field(default_factory=dict)
    now_patch: int = -1
    now_material: int = -1

    @property
    def vertex_count(self) -> int:
        return len(self.points) // 3

    @property
    def texture_count(self) -> int:
        return len(self.texture) // 2


def read_obj(data: bytes) -> tuple[Mesh, tuple[Note, ...]]:
    """A mesh and what reading it had to say. Raises FormatError naming the line if nothing can be used."""
    if not data.strip():
        raise FormatError("the file is empty")
    if b"\0" in data:
        line = data[: data.index(b"\0")].count(b"\n") + 1
        raise FormatError("this is not a text file: it holds a zero byte", where=f"line {line}")
    reading = _Reading()
    skipped: list[tuple[int, str]] = []
    for number, words in _lines(data):
        take = _TAKERS.get(words[0])
        if take is None:
            continue
        try:
            take(reading, words[1:])
        except _Unusable as reason:
            skipped.append((number, str(reason)))
    if not reading.sizes:
        if skipped:
            raise FormatError(f"{skipped[0][1]}; the file has no usable face", where=f"line {skipped[0][0]}")
        lines = data.count(b"\n") + (not data.endswith(b"\n"))
        raise FormatError(f"the file ends at line {lines} without a face")
    mesh = _mesh_of(reading)
    mesh.check()
    return mesh, tuple(_notes(skipped))


def _lines(data: bytes) -> Iterator[tuple[int, list[str]]]:
    """Lines as words, numbered from 1; a backslash at the end joins a line to the next."""
    held, first = "", 0
    for number, raw in enumerate(io.BytesIO(data), 1):
        text = raw[:LONGEST_LINE].decode("utf-8", "replace").split("#", 1)[0].rstrip()
        first = first or number
        if text.endswith("\\") and len(held) < LONGEST_LINE:
            held += text[:-1] + " "
            continue
        words = (held + text).split()
        if words:
            yield first, words
        held, first = "", 0


def _numbers(words: list[str], least: int) -> list[float]:
    try:
        values = [float(word) for word in words]
    except ValueError:
        raise _Unusable("a coordinate is no number") from None
    if len(values) < least:
        raise _Unusable(f"{least} numbers were expected")
    return values


def _take_vertex(reading: _Reading, words: list[str]) -> None:
    try:
        x, y, z = _numbers(words, 3)[:3]
        if not (math.isfinite(x) and math.isfinite(y) and math.isfinite(z)):
            raise _Unusable("a coordinate is not finite")
    except _Unusable:
        # The vertex keeps its number, so that the faces after it still mean what they say.
        reading.broken.add(reading.vertex_count)
        reading.points.extend((0.0, 0.0, 0.0))
        raise
    reading.points.extend((x, y, z))


def _take_texture(reading: _Reading, words: list[str]) -> None:
    try:
        values = _numbers(words, 1)
        reading.texture.extend((values[0], values[1] if len(values) > 1 else 0.0))
    except _Unusable:
        reading.texture.extend((math.nan, math.nan))
        raise


def _index(word: str, count: int, what: str) -> int:
    try:
        value = int(word)
    except ValueError:
        raise _Unusable(f"{word!r} is no {what} number") from None
    index = value - 1 if value > 0 else count + value
    if value == 0 or not 0 <= index < count:
        raise _Unusable(f"{what} {value} is not there, the file has {count} so far")
    return index


def _take_face(reading: _Reading, words: list[str]) -> None:
    corners, texture = [], []
    for word in words:
        parts = word.split("/")
        corners.append(_index(parts[0], reading.vertex_count, "vertex"))
        given = len(parts) > 1 and parts[1] != ""
        texture.append(_index(parts[1], reading.texture_count, "texture place") if given else -1)
    if len(corners) < 3:
        raise _Unusable("a face needs three corners")
    if len(set(corners)) < len(corners):
        raise _Unusable("a face names a vertex twice")
    if reading.broken and not reading.broken.isdisjoint(corners):
        raise _Unusable("a face uses a vertex whose coordinates can't be read")
    reading.corners.extend(corners)
    reading.corner_texture.extend(texture)
    reading.sizes.append(len(corners))
    reading.patch.append(reading.now_patch)
    reading.material.append(reading.now_material)


def _take_group(reading: _Reading, words: list[str]) -> None:
    name = " ".join(words)
    reading.now_patch = reading.patches.setdefault(name, len(reading.patches)) if name else -1


def _take_material(reading: _Reading, words: list[str]) -> None:
    name = " ".join(words)
    reading.now_material = reading.materials.setdefault(name, len(reading.materials)) if name else -1


_TAKERS: dict[str, Callable[[_Reading, list[str]], None]] = {
    "v": _take_vertex,
    "vt": _take_texture,
    "f": _take_face,
    "g": _take_group,
    "o": _take_group,
    "usemtl": _take_material,
}


def _mesh_of(reading: _Reading) -> Mesh:
    texture = np.array(reading.corner_texture, dtype=np.int64)
    uv = None
    if (texture >= 0).any():
        table = np.append(np.array(reading.texture), [math.nan, math.nan]).reshape(-1, 2)
        uv = table[np.where(texture >= 0, texture, reading.texture_count)]
    return Mesh(
        np.array(reading.points).reshape(-1, 3),
        np.concatenate([[0], np.cumsum(reading.sizes)]),
        np.array(reading.corners),
        uv,
        np.array(reading.material),
        np.array(reading.patch),
        tuple(reading.materials),
        tuple(reading.patches),
    )


def _notes(skipped: list[tuple[int, str]]) -> Iterator[Note]:
    for line, reason in skipped[:LINES_TOLD]:
        yield Note("line-left-out", f"Line {line} was left out: {reason}.")
    if len(skipped) > LINES_TOLD:
        yield Note("line-left-out", f"{len(skipped) - LINES_TOLD} more lines were left out.")


def write_obj(mesh: Mesh) -> bytes:
    """The mesh as an OBJ file. Coordinates are written so that they read back to the same doubles."""
    out = [f"v {x!r} {y!r} {z!r}" for x, y, z in mesh.points.tolist()]
    texture, of_corner = _texture_table(mesh)
    out += [f"vt {u!r} {v!r}" for u, v in texture.tolist()]
    corners, starts = (mesh.corners + 1).tolist(), mesh.starts.tolist()
    texture_numbers = of_corner.tolist()
    patch, material = mesh.patch.tolist(), mesh.material.tolist()
    now_patch = now_material = -1
    for f in range(mesh.face_count):
        if patch[f] != now_patch:
            now_patch = patch[f]
            out.append(f"g {mesh.patches[now_patch]}" if now_patch >= 0 else "g")
        if material[f] != now_material:
            now_material = material[f]
            out.append(f"usemtl {mesh.materials[now_material]}" if now_material >= 0 else "usemtl")
        row = slice(starts[f], starts[f + 1])
        numbers = texture_numbers[row]
        if numbers and min(numbers) > 0:
            out.append("f " + " ".join(f"{c}/{t}" for c, t in zip(corners[row], numbers, strict=True)))
        else:
            out.append("f " + " ".join(map(str, corners[row])))
    return ("\n".join(out) + "\n").encode()


def _texture_table(mesh: Mesh) -> tuple[Floats, Ints]:
    """Different texture places (n, 2) and the number (C,) of each corner's, from 1; 0 where it has none."""
    numbers = np.zeros(len(mesh.corners), dtype=np.int64)
    if mesh.uv is None:
        return np.zeros((0, 2)), numbers
    given = np.isfinite(mesh.uv).all(axis=1)
    table, inverse = np.unique(mesh.uv[given], axis=0, return_inverse=True)
    numbers[given] = inverse.ravel() + 1
    return table, numbers
