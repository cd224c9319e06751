"""Meshes and their differences as bytes for the database: named arrays, and a digest that tells
whether they are right."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

import numpy as np
import xxhash

from cutcore import Mesh
from cutcore.errors import CutError, FormatError
from cutcore.formats.reading import orderly_mesh
from cutcore.geometry.arrays import INDEX
from cutcore.mesh.difference import KeptMesh, MeshDifference, applied

# A mesh out of a file takes no more than this.
MOST_UNPACKED = 512 << 20
_ARRAYS = ("points", "starts", "corners", "uv", "material", "patch", "hard", "strength")


def digest_of(kept: KeptMesh) -> str:
    """A digest of every array of a mesh, the numbers of its edges included: equal if and only if
    all of them are."""
    made = xxhash.xxh3_128(_names(kept.mesh))
    for name in _ARRAYS:
        array = getattr(kept.mesh, name)
        if name == "strength" and array is None:
            # Meshes without creases have the digest they had before there were any.
            continue
        made.update(f"{name}{None if array is None else array.shape}".encode())
        if array is not None:
            made.update(array.data)
    made.update(np.ascontiguousarray(kept.edge_ends, dtype=INDEX).data)
    return made.hexdigest()


@dataclass(frozen=True)
class StoredForm:
    """The bytes of a mesh in the database, whether they hold all of it or what changed, the digest
    of the mesh, how many faces it has and the corners of the box round them."""

    arrays: bytes
    whole: bool
    digest: str
    faces: int
    box: list[list[float]]


def stored_whole(kept: KeptMesh) -> StoredForm:
    """A mesh as it is kept in full."""
    return stored_as(pack_mesh(kept), True, digest_of(kept), kept.mesh)


def stored_as(arrays: bytes, whole: bool, digest: str, mesh: Mesh) -> StoredForm:
    """The form in which a mesh is stored that is packed already."""
    return StoredForm(arrays, whole, digest, mesh.face_count, mesh.box.tolist())


def pack_mesh(kept: KeptMesh) -> bytes:
    """A mesh as one compressed archive of arrays, the numbers of its edges among them where they
    are not those that a table from scratch gives."""
    mesh = kept.mesh
    arrays = {name: getattr(mesh, name) for name in _ARRAYS if getattr(mesh, name) is not None}
    ends = kept.edge_ends.astype(np.int64)
    key = ends[:, 0] * mesh.vertex_count + ends[:, 1]
    if (key[1:] < key[:-1]).any():
        arrays["edge_ends"] = kept.edge_ends
    return _packed(
        zipfile.ZIP_DEFLATED, names=np.frombuffer(_names(mesh), dtype=np.uint8), **arrays
    )


def unpack_mesh(data: bytes) -> KeptMesh:
    """The mesh that `pack_mesh` made these bytes from."""
    arrays = _unpacked(data)
    names = json.loads(arrays.pop("names").tobytes())
    ends = arrays.pop("edge_ends", None)
    mesh = Mesh(**arrays, materials=tuple(names["materials"]), patches=tuple(names["patches"]))
    return KeptMesh.of(mesh) if ends is None else KeptMesh(mesh, ends)


def checked_mesh(data: bytes) -> KeptMesh:
    """The mesh that `pack_mesh` made these bytes from, of which nobody knows where they come from.
    Raises FormatError if they are no mesh that can be worked on."""
    with _reading_foreign():
        arrays = _foreign(data)
        names = json.loads(arrays.pop("names").tobytes())
        materials, patches = (tuple(map(str, names[kind])) for kind in ("materials", "patches"))
        ends = arrays.pop("edge_ends", None)
        if set(arrays) - set(_ARRAYS) or not {"points", "starts", "corners"} <= set(arrays):
            raise FormatError("a mesh has not the arrays it is to have")
        mesh = orderly_mesh(arrays, materials, patches)
    return KeptMesh.of(mesh) if ends is None else _with_checked_edges(mesh, ends)


def checked_difference(before: KeptMesh, data: bytes) -> tuple[bytes, KeptMesh]:
    """What `pack_difference` made of a difference, packed anew, and the mesh it makes of the one
    before; nobody knows where it comes from. Raises FormatError if that is no mesh that can be
    worked on."""
    with _reading_foreign():
        arrays = _foreign(data)
        fields = MeshDifference.__dataclass_fields__
        if set(arrays) - set(fields):
            raise FormatError("a mesh has not the arrays it is to have")
        change = MeshDifference(**{**_LATER, **arrays})
        packed = pack_difference(change)
        made = applied(before, change)
        mesh = made.mesh
        arrays = {name: getattr(mesh, name) for name in _ARRAYS if getattr(mesh, name) is not None}
        return packed, _with_checked_edges(
            orderly_mesh(arrays, mesh.materials, mesh.patches), made.edge_ends
        )


def _with_checked_edges(mesh: Mesh, ends: Any) -> KeptMesh:
    """A mesh with its edges in an order that was read. Raises FormatError if they are not those it
    has."""
    own = mesh.edges.ends
    count = np.int64(mesh.vertex_count)
    if ends.shape != own.shape or ends.dtype.kind not in "iu":
        raise FormatError("the edges of a mesh are not those it has")
    keys = ends[:, 0].astype(np.int64) * count + ends[:, 1]
    if not np.array_equal(np.sort(keys), own[:, 0].astype(np.int64) * count + own[:, 1]):
        raise FormatError("the edges of a mesh are not those it has")
    return KeptMesh(mesh, ends.astype(INDEX))


@contextmanager
def _reading_foreign() -> Iterator[None]:
    try:
        yield
    except (CutError, MemoryError):
        raise
    except Exception as no:
        # Headers, names and numbers that nobody wrote by this program: what the libraries make of
        # them is not foreseen.
        raise FormatError("a mesh can't be read") from no


def _foreign(data: bytes) -> dict[str, Any]:
    """The arrays of an archive. Raises FormatError if they are too large."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        if sum(info.file_size for info in archive.infolist()) > MOST_UNPACKED:
            raise FormatError("a mesh is too large")
    return _unpacked(data)


def pack_difference(change: MeshDifference) -> bytes:
    """A difference as one archive of arrays."""
    names = MeshDifference.__dataclass_fields__
    # Little is gained by compressing little, and it takes longer than the cut.
    return _packed(
        zipfile.ZIP_STORED,
        **{name: getattr(change, name) for name in names if getattr(change, name) is not None},
    )


# What differences that were kept before some of their fields were known are without.
_LATER = {"uv": None, "hard": None, "moved": np.zeros(0, np.int64), "places": np.zeros((0, 3))}


def unpack_difference(data: bytes) -> MeshDifference:
    """The difference that `pack_difference` made these bytes from."""
    return MeshDifference(**{**_LATER, **_unpacked(data)})


def _names(mesh: Mesh) -> bytes:
    return json.dumps({"materials": mesh.materials, "patches": mesh.patches}).encode()


def _packed(method: int, **arrays: Any) -> bytes:
    """An archive as `np.savez` writes it; the least effort at compression gains nearly as much as
    the most."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", method, compresslevel=1) as archive:
        for name, array in arrays.items():
            with archive.open(f"{name}.npy", "w", force_zip64=True) as file:
                np.lib.format.write_array(file, np.ascontiguousarray(array), allow_pickle=False)
    return out.getvalue()


def _unpacked(data: bytes) -> dict[str, Any]:
    with np.load(io.BytesIO(data), allow_pickle=False) as archive:
        return {name: archive[name] for name in archive.files}
