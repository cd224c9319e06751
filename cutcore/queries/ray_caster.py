"""Rays against a mesh. The search tree is built once a mesh, on first use."""

from __future__ import annotations

import threading
from dataclasses import dataclass

import numpy as np
from embreex import rtcore_scene
from embreex.mesh_construction import TriangleMesh

from cutcore.geometry.arrays import Floats, Ints, cross
from cutcore.mesh.mesh import Mesh

# What a search tree takes for each triangle, as measured.
TREE_BYTES = 160


@dataclass(frozen=True)
class Hits:
    """First hits of rays: `face (R,)` (-1 for none), `triangle (R,)`, `distance (R,)` (inf for
    none)."""

    face: Ints
    triangle: Ints
    distance: Floats


class RayCaster:
    """First hits on one mesh.

    The tree works in single precision about the middle of the mesh; what is read off it (which
    triangle) is exact enough to choose a face, places are worked out again from the double
    coordinates."""

    def __init__(self, mesh: Mesh, triangles: Ints | None = None) -> None:
        """For all triangles of a mesh, or for some."""
        # The mesh itself is not held: it holds the caster.
        self._points, self._all = mesh.points, mesh.triangles
        self._triangles = np.arange(len(mesh.triangles.corners)) if triangles is None else triangles
        self._middle = mesh.box.mean(axis=0)
        self._size = mesh.diagonal or 1.0
        self._scene = rtcore_scene.EmbreeScene()
        local = ((mesh.points - self._middle) / self._size).astype(np.float32)
        TriangleMesh(
            self._scene,
            local,
            np.ascontiguousarray(mesh.triangles.corners[self._triangles], dtype=np.int32),
        )
        self._turn = threading.Lock()
        # What the search tree takes beside the arrays above, roughly: it can't be asked.
        self.bytes_aside = TREE_BYTES * len(self._triangles)

    def first(self, origins: Floats, directions: Floats) -> Hits:
        """The first hits of rays with origins (R, 3) and unit directions (R, 3)."""
        near = (origins - self._middle) / self._size
        # An eye far away loses digits in single precision: start just outside the part instead.
        skip = np.maximum(0.0, np.linalg.norm(near, axis=1) - 1.0)
        near = near + directions * skip[:, None]
        with self._turn:
            found = self._scene.run(
                near.astype(np.float32), directions.astype(np.float32), query="INTERSECT"
            )
            triangle = np.asarray(found).astype(np.int64)
        hit = triangle >= 0
        triangle[hit] = self._triangles[triangle[hit]]
        face = np.full(len(triangle), -1, dtype=np.int64)
        face[hit] = self._all.face[triangle[hit]]
        distance = np.full(len(triangle), np.inf)
        if hit.any():
            places = self._points[self._all.corners[triangle[hit]]]
            normal = cross(places[:, 1] - places[:, 0], places[:, 2] - places[:, 0])
            with np.errstate(divide="ignore", invalid="ignore"):
                along = np.einsum("ij,ij->i", places[:, 0] - origins[hit], normal) / np.einsum(
                    "ij,ij->i", directions[hit], normal
                )
            distance[hit] = np.where(np.isfinite(along), along, 0.0)
        return Hits(face, triangle, distance)


class Shown:
    """Some faces of a mesh: rays go through the others as if they were not there."""

    def __init__(self, mesh: Mesh, faces: Ints) -> None:
        self.faces = faces
        chosen = np.zeros(mesh.face_count, dtype=bool)
        chosen[faces] = True
        self.caster = RayCaster(mesh, np.flatnonzero(chosen[mesh.triangles.face]))


def first_hits(mesh: Mesh, origins: Floats, directions: Floats, shown: Shown | None = None) -> Hits:
    """The first hits of rays on a mesh, or on the faces of it that are shown."""
    return (caster_of(mesh) if shown is None else shown.caster).first(origins, directions)


def caster_of(mesh: Mesh) -> RayCaster:
    """The ray caster of a mesh, built on first use and kept as long as the mesh."""
    return mesh.held("_caster", RayCaster)
