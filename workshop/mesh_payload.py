"""Meshes on their way to the browser: one documented layout, decoded in `web/src/viewport/meshPayload.ts`.

All little-endian, each block starting at a multiple of 4:

    uint32  [8]     magic 0x574D4531, then counts: V vertices, T triangles, E edges, F faces, three unused
    float64 [3]     the origin that places are relative to
    float32 [V*3]   places
    uint32  [T*3]   triangle corners, as vertices
    uint32  [T]     the face of each triangle
    uint32  [E*2]   edges, as vertices
    uint8   [E]     edge flags: 1 border, 2 hard, 4 more than two faces

What a cut changed, for a browser that has the mesh before it:

    uint32  [8]     magic 0x574D4432, counts: V old, n new vertices, m replaced faces, T triangles, e changed, x new edges, 0
    float64 [n*3]   new places, from the part's own origin
    uint32  [m]     the faces whose triangles go
    uint32  [T*3]   triangle corners of the replaced and of the new faces
    uint32  [T]     the face of each triangle
    uint32  [e]     the changed edges
    uint32  [2*(e+x)] the ends of those, then of the new ones
    uint8   [e+x]   edge flags of both
"""

from __future__ import annotations

import numpy as np

from cutcore import Mesh
from cutcore.arrays import Ints, starts_of
from cutcore.triangles import triangulate
from workshop.mesh_difference import MeshDifference

MAGIC, MAGIC_OF_DIFFERENCE = 0x574D4531, 0x574D4432
BORDER, HARD, CROWDED = 1, 2, 4


def mesh_payload(mesh: Mesh) -> bytes:
    """What the browser needs to draw a mesh."""
    edges, triangles = mesh.edges, mesh.triangles
    header = np.array([MAGIC, mesh.vertex_count, len(triangles.corners), len(edges), mesh.face_count, 0, 0, 0])
    origin = mesh.box.mean(axis=0)
    flags = _flags(mesh, np.arange(len(edges)))
    return b"".join(
        (
            header.astype("<u4").tobytes(),
            origin.astype("<f8").tobytes(),
            (mesh.points - origin).astype("<f4").tobytes(),
            triangles.corners.astype("<u4").tobytes(),
            triangles.face.astype("<u4").tobytes(),
            edges.ends.astype("<u4").tobytes(),
            flags.tobytes(),
        )
    )


def difference_payload(mesh: Mesh, change: MeshDifference) -> bytes:
    """What the browser needs to draw a mesh if it has the one that a difference was taken from."""
    old_vertices, old_faces = mesh.vertex_count - len(change.points), mesh.face_count - (len(change.sizes) - len(change.replaced))
    faces = np.concatenate([change.replaced, np.arange(old_faces, mesh.face_count)])
    triangles = triangulate(mesh.points, starts_of(change.sizes), change.corners)
    new_edges = len(change.ends) - len(change.edges)
    edges = np.concatenate([change.edges, np.arange(len(mesh.edges) - new_edges, len(mesh.edges))])
    counts = (old_vertices, len(change.points), len(change.replaced), len(triangles.corners), len(change.edges), new_edges)
    return b"".join(
        (
            np.array([MAGIC_OF_DIFFERENCE, *counts, 0]).astype("<u4").tobytes(),
            change.points.astype("<f8").tobytes(),
            change.replaced.astype("<u4").tobytes(),
            triangles.corners.astype("<u4").tobytes(),
            faces[triangles.face].astype("<u4").tobytes(),
            change.edges.astype("<u4").tobytes(),
            change.ends.astype("<u4").tobytes(),
            _flags(mesh, edges).tobytes(),
        )
    )


def _flags(mesh: Mesh, edges: Ints) -> np.ndarray:
    """The flags of some edges."""
    table = mesh.edges
    flags = np.where(table.border[edges], BORDER, 0).astype(np.uint8)
    if len(mesh.hard):
        count = np.int64(mesh.vertex_count)
        keys = table.ends[edges, 0] * count + table.ends[edges, 1]
        flags[np.isin(keys, mesh.hard[:, 0] * count + mesh.hard[:, 1])] |= HARD
    if table.crowded:
        flags[np.isin(edges, list(table.crowded))] |= CROWDED
    return flags
