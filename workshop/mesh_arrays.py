"""Meshes as bytes for the database: the arrays of a mesh, each compressed."""

from __future__ import annotations

import io
import json

import numpy as np

from cutcore import Mesh

_ARRAYS = ("points", "starts", "corners", "uv", "material", "patch", "hard")


def pack_mesh(mesh: Mesh) -> bytes:
    """A mesh as one compressed archive of arrays."""
    arrays = {name: getattr(mesh, name) for name in _ARRAYS if getattr(mesh, name) is not None}
    names = json.dumps({"materials": mesh.materials, "patches": mesh.patches})
    out = io.BytesIO()
    np.savez_compressed(out, names=np.frombuffer(names.encode(), dtype=np.uint8), **arrays)
    return out.getvalue()


def unpack_mesh(data: bytes) -> Mesh:
    """The mesh that `pack_mesh` made these bytes from."""
    with np.load(io.BytesIO(data), allow_pickle=False) as archive:
        names = json.loads(archive["names"].tobytes())
        arrays = {name: archive[name] for name in _ARRAYS if name in archive}
    return Mesh(**arrays, materials=tuple(names["materials"]), patches=tuple(names["patches"]))
