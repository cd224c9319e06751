"""glTF 2.0 in one file (.glb): triangles for everybody, and the polygons in full for us.

Every program can draw the triangles. What they can't hold (n-gons, doubles, patches, hard edges)
lies in further blocks of the same file, named in the `extras` of the mesh: reading our own file
gives the same bytes back."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from contextlib import suppress
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, ValidationError
from scipy.spatial.transform import Rotation

from cutcore.errors import FormatError
from cutcore.formats.budget import Budget, check_json
from cutcore.formats.reading import orderly_mesh, usable_faces, welded_by_place, with_faces
from cutcore.formats.scene_part import ScenePart, moved_to
from cutcore.formats.shading import hard_by_normals
from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.placement import Placement
from cutcore.geometry.vectors import units
from cutcore.mesh.creases import strengths_of
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.submesh import moved
from cutcore.mesh.together import together
from cutcore.notes import Note
from cutcore.queries.normals import fan_normals, fans_apart

_MAGIC, _JSON, _BIN = 0x46546C67, 0x4E4F534A, 0x004E4942
_COMPONENTS = {5120: "<i1", 5121: "<u1", 5122: "<i2", 5123: "<u2", 5125: "<u4", 5126: "<f4"}
_WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}
_DEEPEST = 64
_ARRAYS = {
    "points": "<f8",
    "starts": "<i4",
    "corners": "<i4",
    "uv": "<f8",
    "material": "<i4",
    "patch": "<i4",
    "hard": "<i4",
    "strength": "<f8",
}

Index = Annotated[int, Field(ge=0)]


class _Loose(BaseModel):
    """Only what a mesh needs is read; the rest of a file is let be."""

    model_config = ConfigDict(extra="ignore")


class _View(_Loose):
    buffer: Index = 0
    byteOffset: Index = 0  # noqa: N815 - named by the format
    byteLength: Index  # noqa: N815
    byteStride: Annotated[int, Field(ge=1, le=252)] | None = None  # noqa: N815


class _Accessor(_Loose):
    bufferView: Index | None = None  # noqa: N815
    byteOffset: Index = 0  # noqa: N815
    componentType: int  # noqa: N815
    count: Index
    type: str
    sparse: dict[str, Any] | None = None


class _Primitive(_Loose):
    attributes: dict[str, Index] = {}
    indices: Index | None = None
    material: Index | None = None
    mode: int = 4
    extensions: dict[str, Any] = {}


class _Arrays(_Loose):
    points: Index
    starts: Index
    corners: Index
    uv: Index | None = None
    material: Index
    patch: Index
    hard: Index | None = None
    strength: Index | None = None
    materials: list[str] = []
    patches: list[str] = []


class _Extras(_Loose):
    wertome: _Arrays | None = None


class _Mesh(_Loose):
    name: str = ""
    primitives: list[_Primitive] = []
    extras: _Extras | Any = None


class _NodeExtras(_Loose):
    wertome: Placement | None = None


class _Node(_Loose):
    name: str = ""
    extras: _NodeExtras | Any = None
    mesh: Index | None = None
    children: list[Index] = []
    matrix: Annotated[list[float], Field(min_length=16, max_length=16)] | None = None
    translation: Annotated[list[float], Field(min_length=3, max_length=3)] = [0.0, 0.0, 0.0]
    rotation: Annotated[list[float], Field(min_length=4, max_length=4)] = [0.0, 0.0, 0.0, 1.0]
    scale: Annotated[list[float], Field(min_length=3, max_length=3)] = [1.0, 1.0, 1.0]


class _Named(_Loose):
    name: str = ""


class _Scene(_Loose):
    nodes: list[Index] = []


class _Asset(_Loose):
    version: Literal["2.0"]


class _Gltf(_Loose):
    asset: _Asset
    bufferViews: list[_View] = []  # noqa: N815
    accessors: list[_Accessor] = []
    meshes: list[_Mesh] = []
    nodes: list[_Node] = []
    scenes: list[_Scene] = []
    scene: Index | None = None
    materials: list[_Named] = []


def read_glb(data: bytes, budget: Budget) -> tuple[Mesh, tuple[Note, ...]]:
    """A mesh and what reading it had to say: all meshes of the scene as one part, each a patch of
    its own; of our own files as they were, side by side."""
    gltf, blob = _opened(data, budget)
    if not _is_ours(gltf):
        return _theirs(gltf, blob, budget, list(_placed(gltf, budget)))
    parts = _our_parts(gltf, blob, budget)
    return together([moved_to(part) for part in parts]), ()


def read_glb_scene(data: bytes, budget: Budget) -> tuple[list[ScenePart], tuple[Note, ...]]:
    """The meshes of a scene as parts, each with its name and where it stands; and what reading them
    had to say."""
    gltf, blob = _opened(data, budget)
    if _is_ours(gltf):
        return _our_parts(gltf, blob, budget), ()
    parts: list[ScenePart] = []
    notes: list[Note] = []
    for index, matrix in _placed(gltf, budget):
        number = gltf.nodes[index].mesh or 0
        name = gltf.nodes[index].name or gltf.meshes[number].name or f"mesh {number}"
        if gltf.meshes[number].primitives:
            mesh, said = _theirs(gltf, blob, budget, [(index, matrix)])
            parts.append(ScenePart(name, mesh, Placement()))
            notes += said
    if not parts:
        raise FormatError("the file has no triangles")
    return parts, tuple(dict.fromkeys(notes))


def _is_ours(gltf: _Gltf) -> bool:
    """Whether every mesh of a file holds its polygons in full."""
    return bool(gltf.meshes) and all(_arrays_of(mesh) is not None for mesh in gltf.meshes)


def _arrays_of(mesh: _Mesh) -> _Arrays | None:
    return mesh.extras.wertome if isinstance(mesh.extras, _Extras) else None


def _our_parts(gltf: _Gltf, blob: bytes, budget: Budget) -> list[ScenePart]:
    parts: list[ScenePart] = []
    for index, matrix in _placed(gltf, budget):
        node = gltf.nodes[index]
        arrays = _arrays_of(gltf.meshes[node.mesh or 0])
        assert arrays is not None  # the file is ours
        mesh = _ours(gltf, blob, arrays, budget)
        placement = node.extras.wertome if isinstance(node.extras, _NodeExtras) else None
        if placement is None:
            # Somebody else has moved it: only a place and a turn leave the mesh as it is.
            if np.array_equal(matrix, np.eye(4)):
                placement = Placement()
            else:
                mesh = moved(mesh, mesh.points @ matrix[:3, :3].T + matrix[:3, 3])
                placement = Placement()
        parts.append(ScenePart(node.name or f"part {len(parts) + 1}", mesh, placement))
    if not parts:
        raise FormatError("the file has no triangles")
    return parts


def write_glb(mesh: Mesh) -> bytes:
    """The mesh as a glb file."""
    return write_glb_scene([ScenePart("", mesh, Placement())])


def write_glb_scene(parts: Sequence[ScenePart]) -> bytes:
    """Some meshes as one glb file, each a node of its own that stands where it is placed."""
    scene = _Writing()
    for part in parts:
        scene.add(part)
    return scene.bytes()


class _Writing:
    """A glb file on its way: the blocks of numbers, and what the description says of them."""

    def __init__(self) -> None:
        self._blob = bytearray()
        self._views: list[dict[str, int]] = []
        self._accessors: list[dict[str, Any]] = []
        self._meshes: list[dict[str, Any]] = []
        self._nodes: list[dict[str, Any]] = []
        self._materials: dict[str, int] = {}

    def _block(self, array: np.ndarray, **more: int) -> int:
        self._blob.extend(b"\0" * (-len(self._blob) % 8))
        place = {"buffer": 0, "byteOffset": len(self._blob), "byteLength": array.nbytes}
        self._views.append(place | more)
        self._blob.extend(array.tobytes())
        return len(self._views) - 1

    def _accessor(self, array: np.ndarray, target: int, kind: str, **more: Any) -> int:
        component = 5125 if array.dtype.kind == "u" else 5126
        self._accessors.append(
            {
                "bufferView": self._block(array, target=target),
                "componentType": component,
                "count": array.size if kind == "SCALAR" else len(array),
                "type": kind,
                **more,
            }
        )
        return len(self._accessors) - 1

    def add(self, part: ScenePart) -> None:
        """Add a mesh. Raises FormatError for one whose coordinates single precision can't hold."""
        mesh = part.mesh
        places, texture, normals, corners = _drawn(mesh)
        box = {
            "min": [float(x) for x in places.min(axis=0)],
            "max": [float(x) for x in places.max(axis=0)],
        }
        attributes = {"POSITION": self._accessor(places, 34962, "VEC3", **box)}
        if texture is not None:
            attributes["TEXCOORD_0"] = self._accessor(texture, 34962, "VEC2")
        if normals is not None:
            attributes["NORMAL"] = self._accessor(normals, 34962, "VEC3")
        primitives = []
        of_triangle = mesh.material[mesh.triangles.face]
        for number in np.unique(of_triangle).tolist():
            chosen = corners[of_triangle == number].astype("<u4")
            primitive: dict[str, Any] = {
                "attributes": attributes,
                "indices": self._accessor(chosen, 34963, "SCALAR"),
                "mode": 4,
            }
            if number >= 0:
                name = mesh.materials[number]
                primitive["material"] = self._materials.setdefault(name, len(self._materials))
            primitives.append(primitive)
        arrays = {
            name: self._block(getattr(mesh, name).astype(kind))
            for name, kind in _ARRAYS.items()
            if _has(mesh, name)
        }
        extras = {"wertome": {**arrays, "materials": mesh.materials, "patches": mesh.patches}}
        named = {"name": part.name} if part.name else {}
        self._nodes.append({"mesh": len(self._meshes), **named, **_standing(part.placement)})
        self._meshes.append({**named, "primitives": primitives, "extras": extras})

    def bytes(self) -> bytes:
        """The file. Materials that no face has are not lost: the meshes name them."""
        gltf: dict[str, Any] = {
            "asset": {"version": "2.0", "generator": "Wertome"},
            "scene": 0,
            "scenes": [{"nodes": list(range(len(self._nodes)))}],
            "nodes": self._nodes,
            "meshes": self._meshes,
            "accessors": self._accessors,
            "bufferViews": self._views,
            "buffers": [{"byteLength": len(self._blob)}],
        }
        if self._materials:
            gltf["materials"] = [{"name": name} for name in self._materials]
        text = json.dumps(gltf, separators=(",", ":")).encode()
        text += b" " * (-len(text) % 4)
        blob = bytes(self._blob) + b"\0" * (-len(self._blob) % 4)
        length = 12 + 8 + len(text) + 8 + len(blob)
        words = np.array([_MAGIC, 2, length, len(text), _JSON], dtype="<u4").tobytes()
        return words + text + np.array([len(blob), _BIN], dtype="<u4").tobytes() + blob


def _standing(placement: Placement) -> dict[str, Any]:
    """How a node says where it stands: for everybody, and in our own numbers."""
    if placement.at_home:
        return {}
    turn = Rotation.from_matrix(placement.rotation).as_quat().tolist()
    ours = {"move": list(placement.move), "turn": list(placement.turn)}
    return {
        "translation": list(placement.move),
        "rotation": turn,
        "extras": {"wertome": ours},
    }


def _has(mesh: Mesh, name: str) -> bool:
    """Whether a mesh has anything to say in one of its arrays: a block of no length is no block."""
    array = getattr(mesh, name)
    return array is not None and len(array) > 0


def _drawn(mesh: Mesh) -> tuple[np.ndarray, np.ndarray | None, np.ndarray | None, Ints]:
    """What every program can draw: places (n, 3), texture places (n, 2) and normals (n, 3) or None,
    in single precision, and the triangles (T, 3) over them. A vertex comes once for each of its
    texture places and normals; the format counts texture places from the top. Where no edge is hard
    nothing is said of normals."""
    with np.errstate(over="ignore"):
        single = mesh.points.astype("<f4")
    if not np.isfinite(single).all():
        raise FormatError(
            "the part is too large for this format: its coordinates are in single precision"
        )
    triangles = mesh.triangles
    if mesh.uv is None and len(mesh.hard) == 0:
        return single, None, None, triangles.corners
    rows = [mesh.corners[:, None]]
    if mesh.uv is not None:
        rows.append(np.where(np.isfinite(mesh.uv), mesh.uv, 0.0))
    fan: Ints = np.zeros(len(mesh.corners), dtype=np.int64)
    if len(mesh.hard):
        fan = fans_apart(mesh, strengths_of(mesh) == 1.0)
        rows.append(fan[:, None])
    _, first, inverse = np.unique(
        np.column_stack(rows), axis=0, return_index=True, return_inverse=True
    )
    # The corner of its face that each corner of a triangle is.
    count = np.int64(mesh.vertex_count)
    keys = mesh.face_of_corner * count + mesh.corners
    order = np.argsort(keys)
    wanted = triangles.face[:, None].astype(np.int64) * count + triangles.corners
    corner = order[np.searchsorted(keys[order], wanted)]
    texture = normals = None
    if mesh.uv is not None:
        given = rows[1][first]
        texture = np.column_stack([given[:, 0], 1.0 - given[:, 1]]).astype("<f4")
    if len(mesh.hard):
        # Normals are of unit length here, even where a face has no area.
        made = fan_normals(mesh, fan)
        made[~made.any(axis=1)] = (0.0, 0.0, 1.0)
        normals = made[fan[first]].astype("<f4")
    return single[mesh.corners[first]], texture, normals, inverse.ravel()[corner]


def _opened(data: bytes, budget: Budget) -> tuple[_Gltf, bytes]:
    if not data:
        raise FormatError("the file is empty")
    if len(data) < 20 or np.frombuffer(data, "<u4", 2).tolist() != [_MAGIC, 2]:
        raise FormatError("this is no glb file of version 2", where="byte 0")
    length, kind = np.frombuffer(data, "<u4", 2, 12).tolist()
    if kind != _JSON or 20 + length > len(data):
        raise FormatError("the description of the scene is cut off", where="byte 12")
    check_json(data[20 : 20 + length], where="byte 20")
    at = 20 + length
    blob = b""
    if at + 8 <= len(data):
        size, kind = np.frombuffer(data, "<u4", 2, at).tolist()
        if kind == _BIN:
            blob = data[at + 8 : at + 8 + size]
    try:
        return _Gltf.model_validate_json(data[20 : 20 + length]), blob
    except ValidationError as wrong:
        first = wrong.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise FormatError(
            f"the description of the scene can't be read: {first['msg']}", where=where
        ) from wrong


def _block(gltf: _Gltf, blob: bytes, index: int) -> tuple[_View, bytes]:
    if index >= len(gltf.bufferViews):
        raise FormatError(f"bufferView {index} is not there")
    view = gltf.bufferViews[index]
    if view.buffer != 0 or view.byteOffset + view.byteLength > len(blob):
        raise FormatError("a block of numbers lies outside the file", where=f"bufferViews.{index}")
    return view, blob[view.byteOffset : view.byteOffset + view.byteLength]


def _ours(gltf: _Gltf, blob: bytes, arrays: _Arrays, budget: Budget) -> Mesh:
    found: dict[str, Any] = {}
    for name, kind in _ARRAYS.items():
        index = getattr(arrays, name)
        if index is None:
            continue
        block = _block(gltf, blob, index)[1]
        if len(block) % np.dtype(kind).itemsize:
            raise FormatError("a block has a broken length", where=f"extras.wertome.{name}")
        found[name] = np.frombuffer(block, kind)
    for name, width in (("points", 3), ("uv", 2), ("hard", 2)):
        if name in found:
            if len(found[name]) % width:
                raise FormatError("a block has a broken length", where=f"extras.wertome.{name}")
            found[name] = found[name].reshape(-1, width)
    budget.spend(
        vertices=len(found["points"]), corners=len(found["corners"]), where="extras.wertome"
    )
    try:
        return orderly_mesh(found, tuple(arrays.materials), tuple(arrays.patches))
    except FormatError as refusal:
        raise refusal.at("extras.wertome") from refusal


def _theirs(
    gltf: _Gltf, blob: bytes, budget: Budget, placed: list[tuple[int, Floats]]
) -> tuple[Mesh, tuple[Note, ...]]:
    """The meshes of some nodes, each with its matrix, as one."""
    points: list[Floats] = []
    texture: list[Floats] = []
    normals: list[Floats] = []
    corners: list[Ints] = []
    material: list[Ints] = []
    patch: list[Ints] = []
    patches: list[str] = []
    count = 0
    for index, matrix in placed:
        number = gltf.nodes[index].mesh or 0
        name = gltf.meshes[number].name or f"mesh {number}"
        for k, primitive in enumerate(gltf.meshes[number].primitives):
            where = f"meshes.{number}.primitives.{k}"
            places, uv, normal, triangles = _primitive(gltf, blob, primitive, where)
            budget.spend(vertices=len(places), corners=triangles.size, nodes=1, where=where)
            points.append(places @ matrix[:3, :3].T + matrix[:3, 3])
            texture.append(uv)
            # A surface that is scaled bends its normals the other way.
            with np.errstate(all="ignore"):
                turned = normal @ np.linalg.pinv(matrix[:3, :3])
            normals.append(units(turned))
            if np.linalg.det(matrix[:3, :3]) < 0:
                triangles = triangles[:, ::-1]
            corners.append(np.where(triangles < len(places), triangles, -1 - count) + count)
            used = (
                primitive.material
                if primitive.material is not None and primitive.material < len(gltf.materials)
                else -1
            )
            material.append(np.full(len(triangles), used))
            patch.append(np.full(len(triangles), len(patches)))
            count += len(places)
        patches.append(name)
    if not corners:
        raise FormatError("the file has no triangles")
    all_points, all_corners = np.concatenate(points), np.concatenate(corners).ravel()
    starts = np.arange(0, len(all_corners) + 1, 3)
    notes: list[Note] = []
    all_texture = np.concatenate(texture)
    of_corner = (
        all_texture[np.clip(all_corners, 0, count - 1)] if np.isfinite(all_texture).any() else None
    )
    outside = (all_corners < 0) | (all_corners >= count)
    finite = np.isfinite(all_points).all(axis=1, keepdims=True)
    welded, new_corners, vanished = welded_by_place(
        np.where(finite, all_points, np.inf), np.clip(all_corners, 0, count - 1)
    )
    new_corners = np.where(outside, -1, new_corners)
    good, left_out = usable_faces(welded, starts, new_corners)
    mesh = with_faces(
        welded,
        starts,
        new_corners,
        good,
        of_corner,
        material=np.concatenate(material)[good],
        patch=np.concatenate(patch)[good],
        materials=tuple(m.name or f"material {k}" for k, m in enumerate(gltf.materials)),
        patches=tuple(patches),
    )
    all_normals = np.concatenate(normals)
    if np.isfinite(all_normals).all():
        keep = np.repeat(good, 3)
        mesh = hard_by_normals(mesh, all_normals[np.clip(all_corners, 0, count - 1)][keep])
    notes += left_out
    if vanished:
        notes.append(
            Note(
                "welded",
                f"{vanished} vertices at the same places were welded: {mesh.vertex_count} vertices are left.",
            )
        )
    return mesh, tuple(notes)


def _placed(gltf: _Gltf, budget: Budget) -> Iterator[tuple[int, Floats]]:
    """The nodes of the scene that have a mesh, each with the matrix (4, 4) of its place."""
    scene = gltf.scene if gltf.scene is not None else 0
    roots = gltf.scenes[scene].nodes if scene < len(gltf.scenes) else list(range(len(gltf.nodes)))
    waiting = [(node, np.eye(4), 0) for node in reversed(roots)]
    while waiting:
        index, above, depth = waiting.pop()
        budget.spend(nodes=1, where=f"nodes.{index}")
        if index >= len(gltf.nodes) or depth > _DEEPEST:
            raise FormatError("the tree of nodes is broken", where=f"nodes.{index}")
        node = gltf.nodes[index]
        matrix = above @ _matrix(node)
        if node.mesh is not None:
            if node.mesh >= len(gltf.meshes):
                raise FormatError(f"mesh {node.mesh} is not there", where=f"nodes.{index}")
            yield index, matrix
        waiting += [(child, matrix, depth + 1) for child in reversed(node.children)]


def _matrix(node: _Node) -> Floats:
    if node.matrix is not None:
        return np.array(node.matrix).reshape(4, 4).T
    x, y, z, w = node.rotation
    turn = np.array(
        [
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]
    )
    matrix = np.eye(4)
    matrix[:3, :3] = turn * np.array(node.scale)
    matrix[:3, 3] = node.translation
    return matrix


def _primitive(
    gltf: _Gltf, blob: bytes, primitive: _Primitive, where: str
) -> tuple[Floats, Floats, Floats, Ints]:
    """Places (n, 3), texture places (n, 2) and normals (n, 3), NaN where there are none, and
    triangles (t, 3)."""
    if primitive.extensions:
        raise FormatError(
            f"compressed with {', '.join(primitive.extensions)[:80]}: save it uncompressed",
            where=where,
        )
    if "POSITION" not in primitive.attributes:
        raise FormatError("a mesh without places", where=where)
    places = _numbers(gltf, blob, primitive.attributes["POSITION"], 3)
    uv = np.full((len(places), 2), np.nan)
    if "TEXCOORD_0" in primitive.attributes:
        found = _numbers(gltf, blob, primitive.attributes["TEXCOORD_0"], 2)
        uv[: min(len(found), len(uv))] = found[: len(uv)] * [1.0, -1.0] + [0.0, 1.0]
    normal = np.full((len(places), 3), np.nan)
    if "NORMAL" in primitive.attributes:
        # Without them a part is what it was: ones that can't be read are let be.
        with suppress(FormatError):
            found = _numbers(gltf, blob, primitive.attributes["NORMAL"], 3)
            normal[: min(len(found), len(normal))] = found[: len(normal)]
    run = (
        np.arange(len(places))
        if primitive.indices is None
        else _numbers(gltf, blob, primitive.indices, 1).ravel().astype(np.int64)
    )
    if primitive.mode == 4:
        return places, uv, normal, run[: len(run) // 3 * 3].reshape(-1, 3)
    if primitive.mode in (5, 6) and len(run) >= 3:
        k = np.arange(len(run) - 2)
        if primitive.mode == 6:
            return (
                places,
                uv,
                normal,
                np.stack([np.full(len(k), run[0]), run[1:-1], run[2:]], axis=1),
            )
        flip = k % 2
        return places, uv, normal, np.stack([run[k], run[k + 1 + flip], run[k + 2 - flip]], axis=1)
    return places, uv, normal, np.zeros((0, 3), dtype=np.int64)


def _numbers(gltf: _Gltf, blob: bytes, index: int, width: int) -> np.ndarray:
    """The numbers (n, width) of an accessor."""
    where = f"accessors.{index}"
    if index >= len(gltf.accessors):
        raise FormatError(f"accessor {index} is not there")
    accessor = gltf.accessors[index]
    kind = _COMPONENTS.get(accessor.componentType)
    if kind is None or _WIDTHS.get(accessor.type) != width:
        raise FormatError(
            f"numbers of this kind can't be read: {accessor.type} of {accessor.componentType}",
            where=where,
        )
    if accessor.sparse is not None or accessor.bufferView is None:
        raise FormatError("sparse numbers can't be read: save the file without them", where=where)
    view, block = _block(gltf, blob, accessor.bufferView)
    row = np.dtype(kind).itemsize * width
    stride = view.byteStride or row
    last = accessor.byteOffset + stride * (accessor.count - 1) + row
    if accessor.count == 0:
        return np.zeros((0, width))
    if last > len(block) or stride < row:
        raise FormatError("the numbers go on beyond their block", where=where)
    return np.ndarray(
        (accessor.count, width), kind, block, accessor.byteOffset, (stride, np.dtype(kind).itemsize)
    ).astype(np.float64)
