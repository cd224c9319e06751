"""OBJ: polygons of any size, texture places, groups and materials.

Vertices and faces keep the order and numbers of the file. A line that can't be used is left out
with a note that names it; a file without one usable face is refused."""

from __future__ import annotations

import io
import math
from array import array
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import groupby, repeat

import numpy as np

from cutcore.errors import FormatError
from cutcore.formats.budget import Budget
from cutcore.formats.scene_part import ScenePart, moved_to
from cutcore.formats.shading import hard_by_groups, smoothing_groups, with_hard_pairs
from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.placement import Placement
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.submesh import without_faces, without_vertices
from cutcore.notes import Note

# Notes about single lines are given for this many lines, the rest is counted.
LINES_TOLD = 20
LONGEST_LINE = 1 << 20
PIECE_BYTES = 1 << 20
# Fewer lines of one kind than this are not worth being taken at once.
LEAST_RUN = 8
LONGEST_NAME = 200
# No patch and no material: the first face says which it has, even if that is none.
NOTHING_YET = -2
# What smoothing groups can't say lies in comments: two vertices and how sharp the edge between is.
HARD_EDGE = b"# hard edge "


class _Unusable(Exception):
    """A line that can't be used, with the reason."""


@dataclass
class _Reading:
    """What was read so far; in packed arrays, so that a large file takes little more than its own
    size."""

    budget: Budget
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
    # The smoothing group of each face, 0 for none.
    smooth: array[int] = field(default_factory=lambda: array("i"))
    # Hard edges as our own files name them: two vertices, and how sharp.
    hard: list[tuple[int, int, float]] = field(default_factory=list)
    objects: list[tuple[int, str]] = field(default_factory=list)
    now_patch: int = -1
    now_material: int = -1
    now_smooth: int = 0
    # The first few lines that were left out, with the reasons, and how many there are.
    skipped: list[tuple[int, str]] = field(default_factory=list)
    skipped_count: int = 0

    @property
    def vertex_count(self) -> int:
        return len(self.points) // 3

    @property
    def texture_count(self) -> int:
        return len(self.texture) // 2


def read_obj(data: bytes, budget: Budget) -> tuple[Mesh, tuple[Note, ...]]:
    """A mesh and what reading it had to say. Raises FormatError naming the line if nothing can be
    used."""
    return _read(data, budget)[:2]


def read_obj_scene(data: bytes, budget: Budget) -> tuple[list[ScenePart], tuple[Note, ...]]:
    """The objects of a file as parts, in its order; a file without objects is one part without a
    name. Raises FormatError like `read_obj`."""
    mesh, notes, objects = _read(data, budget)
    named = [(first, name) for first, name in objects if first < mesh.face_count]
    if not named or named[0][0] > 0:
        named.insert(0, (0, ""))
    # What is called the same belongs together, wherever it comes in the file.
    owner = np.zeros(mesh.face_count, dtype=np.int64)
    numbers: dict[str, int] = {}
    for first, name in named:
        owner[first:] = numbers.setdefault(name, len(numbers))
    # Vertices of no face belong to no object.
    mesh, _ = without_vertices(mesh, np.flatnonzero(~mesh.used))
    parts = []
    for name, number in numbers.items():
        if (owner == number).any():
            own, _ = without_faces(mesh, owner != number)
            parts.append(ScenePart(name, _of_object(own, name), Placement()))
    return parts, notes


def _of_object(mesh: Mesh, name: str) -> Mesh:
    """The mesh of an object with the names its faces have; that of the object is no patch of it."""
    own = mesh.patches.index(name) if name in mesh.patches else -1
    patch, patches = _used_names(np.where(mesh.patch == own, -1, mesh.patch), mesh.patches)
    material, materials = _used_names(mesh.material, mesh.materials)
    # Of several objects only some may have texture places.
    uv = None if mesh.uv is None or np.isnan(mesh.uv).all() else mesh.uv
    return replace(
        mesh, uv=uv, patch=patch, patches=patches, material=material, materials=materials
    )


def _used_names(number: Ints, names: tuple[str, ...]) -> tuple[Ints, tuple[str, ...]]:
    used = np.unique(number[number >= 0])
    again = np.full(len(names) + 1, -1, dtype=np.int64)
    again[used] = np.arange(len(used))
    return again[number], tuple(names[k] for k in used.tolist())


def _read(data: bytes, budget: Budget) -> tuple[Mesh, tuple[Note, ...], list[tuple[int, str]]]:
    """A mesh, what reading it had to say, and where each object begins: the number of its first
    face, and its name."""
    if not data.strip():
        raise FormatError("the file is empty")
    if b"\0" in data:
        line = data[: data.index(b"\0")].count(b"\n") + 1
        raise FormatError("this is not a text file: it holds a zero byte", where=f"line {line}")
    # Told before it is begun: a face has three corners at least.
    budget.foresee(vertices=data.count(b"\nv "), corners=3 * data.count(b"\nf "))
    reading = _Reading(budget)
    for first, lines in _pieces(data):
        budget.go_on(where=f"line {first}")
        _take_piece(reading, first, lines)
    if not reading.sizes:
        if reading.skipped:
            line, reason = reading.skipped[0]
            raise FormatError(f"{reason}; the file has no usable face", where=f"line {line}")
        lines_there = data.count(b"\n") + (not data.endswith(b"\n"))
        raise FormatError(f"the file ends at line {lines_there} without a face")
    mesh = _mesh_of(reading)
    mesh.check()
    return mesh, tuple(_notes(reading)), reading.objects


def _pieces(data: bytes) -> Iterator[tuple[int, list[bytes]]]:
    """The lines of a file, some thousands at a time, with the number of the first; a backslash at
    the end of a line joins it to the next, which comes out as an empty one."""
    number, source = 1, io.BytesIO(data)
    while lines := source.readlines(PIECE_BYTES):
        # A file in which lines go on is rare: then the piece goes on, too.
        while lines[-1].rstrip().endswith(b"\\") and (following := source.readline()):
            lines.append(following)
        count = len(lines)
        if any(b"\\" in line for line in lines):
            lines = _joined(lines)
        yield number, lines
        number += count


def _joined(lines: list[bytes]) -> list[bytes]:
    out: list[bytes] = []
    held: list[bytes] = []
    for line in lines:
        bare = line.split(b"#", 1)[0].rstrip()
        if bare.endswith(b"\\"):
            held.append(bare[:-1])
            continue
        out.append(b" ".join([*held, bare]) if held else line)
        out += [b""] * len(held)
        held = []
    return out + held


def _take_piece(reading: _Reading, first: int, lines: list[bytes]) -> None:
    """Take lines in runs of one kind: long runs at once, whatever is out of the ordinary line by
    line."""
    at = 0
    for kind, run in groupby(lines, key=_kind_of):
        some = list(run)
        take_all = _AT_ONCE.get(kind)
        if take_all is None or len(some) < LEAST_RUN or not take_all(reading, some):
            for number, line in enumerate(some, first + at):
                _take_line(reading, number, line)
        at += len(some)


def _kind_of(line: bytes) -> bytes:
    return line[:2]


def _take_line(reading: _Reading, number: int, line: bytes) -> None:
    if line.startswith(HARD_EDGE):
        line = b"# " + line[len(HARD_EDGE) : 200]
        words = line.decode("ascii", "replace").split()
    else:
        words = line[:LONGEST_LINE].decode("utf-8", "replace").split("#", 1)[0].split()
    take = _TAKERS.get(words[0]) if words else None
    if take is None:
        return
    try:
        take(reading, words[1:])
    except _Unusable as reason:
        reading.skipped_count += 1
        if len(reading.skipped) < LINES_TOLD:
            reading.skipped.append((number, str(reason)))


def _take_vertices(reading: _Reading, lines: list[bytes]) -> bool:
    """Take many lines of one vertex each; False, and nothing is taken, if one of them is out of the
    ordinary."""
    words = b" ".join(lines).split()
    if len(words) != 4 * len(lines) or words[::4].count(b"v") != len(lines):
        return False
    del words[::4]
    try:
        values = np.array(list(map(float, words)))
    except ValueError:
        return False
    if not np.isfinite(values).all():
        return False
    reading.budget.spend(vertices=len(lines))
    reading.points.frombytes(values.tobytes())
    return True


def _take_faces(reading: _Reading, lines: list[bytes]) -> bool:
    """Take many lines of one face each, as `_take_vertices`."""
    rows = [line.split() for line in lines]
    sizes = np.fromiter(map(len, rows), dtype=np.int32, count=len(rows)) - 1
    words = [word for row in rows for word in row[1:]]
    count, textured = reading.vertex_count, reading.texture_count
    try:
        if any(b"/" in line for line in lines):
            parts = [word.split(b"/") for word in words]
            corners = np.array([int(part[0]) for part in parts], dtype=np.int64)
            texture = np.array(
                [int(part[1]) if len(part) > 1 and part[1] else 0 for part in parts], dtype=np.int64
            )
        else:
            corners = np.array(list(map(int, words)), dtype=np.int64)
            texture = np.zeros(len(corners), dtype=np.int64)
    except (ValueError, OverflowError):
        return False
    if (sizes < 3).any() or len(corners) == 0 or corners.min() < 1 or corners.max() > count:
        return False
    if texture.min() < 0 or texture.max() > textured:
        return False
    corners -= 1
    owner = np.repeat(np.arange(len(sizes)), sizes)
    keys = np.sort(owner * count + corners)
    if (keys[1:] == keys[:-1]).any() or (
        reading.broken and np.isin(corners, list(reading.broken)).any()
    ):
        return False
    reading.budget.spend(corners=len(corners))
    for into, values in (
        (reading.corners, corners),
        (reading.corner_texture, texture - 1),
        (reading.sizes, sizes),
    ):
        into.frombytes(values.astype(np.int32).tobytes())
    reading.patch.extend(repeat(reading.now_patch, len(sizes)))
    reading.material.extend(repeat(reading.now_material, len(sizes)))
    reading.smooth.extend(repeat(reading.now_smooth, len(sizes)))
    return True


# Other lines (texture places, groups) come in short runs or are few.
_AT_ONCE: dict[bytes, Callable[[_Reading, list[bytes]], bool]] = {
    b"v ": _take_vertices,
    b"f ": _take_faces,
}


def _numbers(words: list[str], least: int) -> list[float]:
    try:
        values = [float(word) for word in words]
    except ValueError:
        raise _Unusable("a coordinate is no number") from None
    if len(values) < least:
        raise _Unusable(f"{least} numbers were expected")
    return values


def _take_vertex(reading: _Reading, words: list[str]) -> None:
    reading.budget.spend(vertices=1)
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
    reading.budget.spend(vertices=1)
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
        raise _Unusable(f"{word[:40]!r} is no {what} number") from None
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
    reading.budget.spend(corners=len(corners))
    reading.corners.extend(corners)
    reading.corner_texture.extend(texture)
    reading.sizes.append(len(corners))
    reading.patch.append(reading.now_patch)
    reading.material.append(reading.now_material)
    reading.smooth.append(reading.now_smooth)


def _name(reading: _Reading, words: list[str]) -> str:
    reading.budget.spend(nodes=1)
    return " ".join(words)[:LONGEST_NAME]


def _take_group(reading: _Reading, words: list[str]) -> None:
    name = _name(reading, words)
    reading.now_patch = reading.patches.setdefault(name, len(reading.patches)) if name else -1


def _take_object(reading: _Reading, words: list[str]) -> None:
    _take_group(reading, words)
    reading.objects.append((len(reading.sizes), " ".join(words)[:LONGEST_NAME]))


def _take_material(reading: _Reading, words: list[str]) -> None:
    name = _name(reading, words)
    reading.now_material = (
        reading.materials.setdefault(name, len(reading.materials)) if name else -1
    )


def _take_smooth(reading: _Reading, words: list[str]) -> None:
    said = words[0] if words else "off"
    if said != "off" and not (said.isdecimal() and int(said) < 2**31):
        raise _Unusable(f"{said[:40]} is no smoothing group")
    reading.now_smooth = 0 if said == "off" else int(said)


def _take_hard(reading: _Reading, words: list[str]) -> None:
    if len(words) != 3:
        raise _Unusable("a hard edge has two vertices and a strength")
    a, b = (_index(word, reading.vertex_count, "vertex") for word in words[:2])
    (strength,) = _numbers(words[2:], 1)
    reading.budget.spend(nodes=1)
    reading.hard.append((a, b, strength))


_TAKERS: dict[str, Callable[[_Reading, list[str]], None]] = {
    "v": _take_vertex,
    "vt": _take_texture,
    "f": _take_face,
    "g": _take_group,
    "o": _take_object,
    "usemtl": _take_material,
    "s": _take_smooth,
    "#": _take_hard,
}


def _mesh_of(reading: _Reading) -> Mesh:
    texture = np.array(reading.corner_texture, dtype=np.int64)
    uv = None
    if (texture >= 0).any():
        table = np.append(np.array(reading.texture), [math.nan, math.nan]).reshape(-1, 2)
        uv = table[np.where(texture >= 0, texture, reading.texture_count)]
    mesh = Mesh(
        np.array(reading.points).reshape(-1, 3),
        np.concatenate([[0], np.cumsum(reading.sizes)]),
        np.array(reading.corners),
        uv,
        np.array(reading.material),
        np.array(reading.patch),
        tuple(reading.materials),
        tuple(reading.patches),
    )
    if reading.hard:
        pairs = np.array([(a, b) for a, b, _ in reading.hard], dtype=np.int64)
        return with_hard_pairs(mesh, pairs, np.array([strength for _, _, strength in reading.hard]))
    return hard_by_groups(mesh, np.array(reading.smooth))


def _notes(reading: _Reading) -> Iterator[Note]:
    for line, reason in reading.skipped:
        yield Note("line-left-out", f"Line {line} was left out: {reason}.")
    if reading.skipped_count > LINES_TOLD:
        yield Note(
            "line-left-out", f"{reading.skipped_count - LINES_TOLD} more lines were left out."
        )


def write_obj(mesh: Mesh) -> bytes:
    """The mesh as an OBJ file. Coordinates are written so that they read back to the same
    doubles."""
    return _text(_lines(mesh, 0, 0, -1)[0])


def write_obj_scene(parts: Sequence[ScenePart]) -> bytes:
    """Some meshes as the objects of one OBJ file, as they stand."""
    out: list[str] = []
    vertices = places = 0
    for part in parts:
        mesh = moved_to(part)
        lines, textured = _lines(mesh, vertices, places, NOTHING_YET)
        out += [f"o {_in_one_line(part.name) or 'part'}", *lines]
        vertices, places = vertices + mesh.vertex_count, places + textured
    return _text(out)


def _text(lines: list[str]) -> bytes:
    return ("\n".join(lines) + "\n").encode()


def _lines(mesh: Mesh, vertices: int, places: int, now: int) -> tuple[list[str], int]:
    """The lines of a mesh after so many vertices and texture places, and how many of these it has;
    `now` is the patch and the material a reader takes its first faces to have."""
    out = [f"v {x!r} {y!r} {z!r}" for x, y, z in mesh.points.tolist()]
    texture, of_corner = _texture_table(mesh)
    out += [f"vt {u!r} {v!r}" for u, v in texture.tolist()]
    corners, starts = (mesh.corners + 1 + vertices).tolist(), mesh.starts.tolist()
    texture_numbers = np.where(of_corner > 0, of_corner + places, 0).tolist()
    patch, material = mesh.patch.tolist(), mesh.material.tolist()
    patches, materials = _written(mesh.patches), _written(mesh.materials)
    now_patch = now_material = now
    group = smoothing_groups(mesh).tolist() if len(mesh.hard) else None
    now_group = -1
    for f in range(mesh.face_count):
        if patch[f] != now_patch:
            now_patch = patch[f]
            out.append(f"g {patches[now_patch]}" if now_patch >= 0 else "g")
        if material[f] != now_material:
            now_material = material[f]
            out.append(f"usemtl {materials[now_material]}" if now_material >= 0 else "usemtl")
        if group is not None and group[f] != now_group:
            now_group = group[f]
            out.append(f"s {now_group}")
        row = slice(starts[f], starts[f + 1])
        numbers = texture_numbers[row]
        if numbers and min(numbers) > 0:
            out.append(
                "f " + " ".join(f"{c}/{t}" for c, t in zip(corners[row], numbers, strict=True))
            )
        else:
            out.append("f " + " ".join(map(str, corners[row])))
    if group is not None:
        sharp = mesh.edge_data.strength
        for (a, b), s in zip((mesh.hard + 1 + vertices).tolist(), sharp.tolist(), strict=True):
            out.append(f"{HARD_EDGE.decode()}{a} {b} {s!r}")
        # Those that come after say nothing of it themselves.
        out.append("s off")
    return out, len(texture)


def _in_one_line(name: str) -> str:
    """A name as it can stand in a line: whatever parts words or lines, or can't be seen, is a single
    space.

    >>> _in_one_line(" deck\\nf 1 2 3 ")
    'deck f 1 2 3'
    """
    seen = "".join(c if c.isprintable() else " " for c in name)
    return " ".join(seen.split())


def _written(names: Sequence[str]) -> list[str]:
    """Names as they are written, each in one line and no two alike.

    >>> _written(["a", "a\\n", ""])
    ['a', 'a 2', 'unnamed']
    """
    found: list[str] = []
    taken: set[str] = set()
    for name in names:
        stem = _in_one_line(name)[:LONGEST_NAME].strip() or "unnamed"
        written, number = stem, 1
        while written in taken:
            number += 1
            written = f"{stem[: LONGEST_NAME - 12]} {number}"
        taken.add(written)
        found.append(written)
    return found


def _texture_table(mesh: Mesh) -> tuple[Floats, Ints]:
    """Different texture places (n, 2) and the number (C,) of each corner's, from 1; 0 where it has
    none."""
    numbers = np.zeros(len(mesh.corners), dtype=np.int64)
    if mesh.uv is None:
        return np.zeros((0, 2)), numbers
    given = np.isfinite(mesh.uv).all(axis=1)
    table, inverse = np.unique(mesh.uv[given], axis=0, return_inverse=True)
    numbers[given] = inverse.ravel() + 1
    return table, numbers
