"""Meshes and their differences as bytes for the database: named arrays."""

from __future__ import annotations

import io
import json
from collections.abc import Callable
from typing import Any

import numpy as np

from cutcore import Mesh
from workshop.mesh_difference import MeshDifference

_ARRAYS = ("points", "starts", "corners", "uv", "material", "patch", "hard")


def pack_mesh(mesh: Mesh) -> bytes:
    """A mesh as one compressed archive of arrays.

    The numbers of its edges are kept too where they are not those that a table from scratch gives: a cut leaves
    edges their numbers, and whoever looks at the part names them by these.
    """
    arrays = {name: getattr(mesh, name) for name in _ARRAYS if getattr(mesh, name) is not None}
    ends = mesh.edges.ends.astype(np.int64)
    key = ends[:, 0] * mesh.vertex_count + ends[:, 1]
    if (key[1:] < key[:-1]).any():
        arrays["edge_ends"] = mesh.edges.ends
    names = json.dumps({"materials": mesh.materials, "patches": mesh.patches})
    return _packed(np.savez_compressed, names=np.frombuffer(names.encode(), dtype=np.uint8), **arrays)


def unpack_mesh(data: bytes) -> Mesh:
    """The mesh that `pack_mesh` made these bytes from."""
    arrays = _unpacked(data)
    names = json.loads(arrays.pop("names").tobytes())
    ends = arrays.pop("edge_ends", None)
    mesh = Mesh(**arrays, materials=tuple(names["materials"]), patches=tuple(names["patches"]))
    return mesh if ends is None else mesh.with_edges(mesh.edges.numbered_as(ends))


def pack_difference(change: MeshDifference) -> bytes:
    """A difference as one archive of arrays."""
    names = MeshDifference.__dataclass_fields__
    # Little is gained by compressing little, and it takes longer than the cut.
    return _packed(np.savez, **{name: getattr(change, name) for name in names if getattr(change, name) is not None})


def unpack_difference(data: bytes) -> MeshDifference:
    """The difference that `pack_difference` made these bytes from."""
    return MeshDifference(**{"uv": None, **_unpacked(data)})


def _packed(save: Callable[..., None], **arrays: Any) -> bytes:
    out = io.BytesIO()
    save(out, **arrays)
    return out.getvalue()


def _unpacked(data: bytes) -> dict[str, Any]:
    with np.load(io.BytesIO(data), allow_pickle=False) as archive:
        return {name: archive[name] for name in archive.files}
