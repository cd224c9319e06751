"""Small meshes by name, for examples."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any, Literal

import numpy as np

from cutcore.mesh.mesh import Mesh
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.turned import turned

SmallMesh = Literal["cube", "plate", "drum", "triangles", "worn", "patched"]


def _worn(mesh: Mesh) -> Mesh:
    """A sheet with one vertex lifted, one face turned round, and one vertex too many on an edge."""
    points = np.concatenate([mesh.points, mesh.points[[9, 10]].mean(axis=0)[None]])
    points[5, 1] += 0.3
    faces = [mesh.face(f).tolist() for f in range(mesh.face_count)]
    faces[3] = faces[3][::-1]
    for loop in faces:
        for k in range(len(loop)):
            if {loop[k], loop[(k + 1) % len(loop)]} == {9, 10}:
                loop.insert(k + 1, len(points) - 1)
                break
    return Mesh.of(points, faces)


def _in_triangles(mesh: Mesh) -> Mesh:
    return Mesh.of(mesh.points, mesh.triangles.corners)


def _in_patches(mesh: Mesh) -> Mesh:
    """The first half of the faces in one patch, the other in another."""
    patch = (np.arange(mesh.face_count) * 2 >= mesh.face_count).astype(np.int64)
    return replace(mesh, patch=patch, patches=("skin", "lid"))


SMALL: dict[SmallMesh, Callable[[], Mesh]] = {
    "cube": lambda: box(2, 2, 2, (3, 3, 3)),
    "plate": lambda: sheet(4, 3, 4, 3),
    "triangles": lambda: _in_triangles(sheet(4, 3, 4, 3)),
    "worn": lambda: _worn(sheet(4, 3, 4, 3)),
    "patched": lambda: _in_patches(sheet(4, 3, 4, 3)),
    "drum": lambda: turned([(1.0, 0.0), (1.2, 1.0), (1.0, 2.0)], 8),
}

# Views of them, as steps files have them.
FROM_ABOVE: dict[str, Any] = {
    "eye": [0, 10, 0],
    "target": [0, 0, 0],
    "up": [0, 0, -1],
    "projection": "parallel",
    "height": 8,
    "size": [800, 800],
}
FROM_A_CORNER: dict[str, Any] = {
    "eye": [3, 4, 5],
    "target": [0, 0, 0],
    "up": [0, 1, 0],
    "fov": 35,
    "size": [800, 600],
}
