"""Meshes on their way to the browser: one documented layout, decoded in `web/src/viewport/meshPayload.ts`.

All little-endian, each block starting at a multiple of 4:

    uint32  [8]     magic 0x574D4531, then counts: V vertices, T triangles, E edges, F faces, three unused
    float64 [3]     the origin that places are relative to
    float32 [V*3]   places
    uint32  [T*3]   triangle corners, as vertices
    uint32  [T]     the face of each triangle
    uint32  [E*2]   edges, as vertices
    uint8   [E]     edge flags: 1 border, 2 hard, 4 more than two faces
"""

from __future__ import annotations

import numpy as np

from cutcore import Mesh

MAGIC = 0x574D4531
BORDER, HARD, CROWDED = 1, 2, 4


def mesh_payload(mesh: Mesh) -> bytes:
    """What the browser needs to draw a mesh."""
    edges, triangles = mesh.edges, mesh.triangles
    header = np.array([MAGIC, mesh.vertex_count, len(triangles.corners), len(edges), mesh.face_count, 0, 0, 0])
    origin = mesh.box.mean(axis=0)
    flags = np.where(edges.border, BORDER, 0).astype(np.uint8)
    if len(mesh.hard):
        count = np.int64(mesh.vertex_count)
        keys = edges.ends[:, 0] * count + edges.ends[:, 1]
        flags[np.isin(keys, mesh.hard[:, 0] * count + mesh.hard[:, 1])] |= HARD
    flags[list(edges.crowded)] |= CROWDED
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
