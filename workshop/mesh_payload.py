"""Meshes on their way to the browser: one documented layout, decoded in
`web/src/viewport/meshPayload.ts`.

All little-endian, each block starting at a multiple of 4:

    uint32  [8]     magic 0x574D4531, then counts: V vertices, T triangles, E edges, F faces, three
            unused
    float64 [3]     the origin that places are relative to
    float32 [V*3]   places
    uint32  [T*3]   triangle corners, as vertices
    uint32  [T]     the face of each triangle
    uint32  [E*2]   edges, as vertices
    uint8   [E]     edge flags: 1 border, 2 hard, 4 more than two faces, 8 crease

What a step changed, for a browser that has the mesh before it:

    uint32  [8]     magic 0x574D4433, counts: V old, n new vertices, m faces drawn anew, T
            triangles, e changed, x new edges,
                    k moved vertices
    float64 [n*3]   new places, from the part's own origin
    float64 [k*3]   where the moved vertices lie now
    uint32  [k]     which they are
    uint32  [m]     the faces whose triangles go
    uint32  [T*3]   triangle corners of those faces and of the new ones
    uint32  [T]     the face of each triangle
    uint32  [e]     the edges that join other vertices or have other flags
    uint32  [2*(e+x)] the ends of those, then of the new ones
    uint8   [e+x]   edge flags of both

A part shaded by hard and soft edges:

    uint32  [8]     magic 0x574D5331, then counts: n places, t triangles, w edges of the wire, five
            unused
    float64 [3]     the origin that places are relative to
    float32 [n*3]   places
    float32 [n*3]   normals
    uint32  [t*3]   triangle corners
    float32 [w*6]   the ends of the wire's edges

The smooth form of a part, whole or as made from one the asker has: for each corner of its faces a
grid of places, row by row:

    uint32  [8]     magic 0x574D5332, then counts: c corners in all, k places of a grid, r runs, n
            corners worked out anew, m places of those whose move is told (0 or n*k), two unused
    float64 [3]     the origin that places are relative to
    uint32  [r*3]   runs of corners to take over: where to, where from, how many; their places are
            relative to the origin the asker was told with them
    uint32  [n]     the corners worked out anew
    float32 [n*k*3] their places
    float32 [n*k*3] their normals
    float32 [m]     how far each place lies from the form before
"""

from __future__ import annotations

import numpy as np

from cutcore import Mesh
from cutcore.geometry.arrays import row_positions
from cutcore.mesh.creases import strengths_of
from cutcore.mesh.difference import MeshDifference
from cutcore.mesh.mesh import box_of
from cutcore.mesh.triangles import triangulate
from cutcore.previews.shaded import Shaded
from cutcore.previews.smooth_form import Remade

MAGIC, MAGIC_OF_DIFFERENCE, MAGIC_OF_SHADED = 0x574D4531, 0x574D4433, 0x574D5331
MAGIC_OF_SMOOTH = 0x574D5332
BORDER, HARD, CROWDED, CREASE = 1, 2, 4, 8


def shaded_payload(seen: Shaded) -> bytes:
    """What the browser needs to draw a part that is shaded or smooth."""
    counts = [len(seen.places), len(seen.triangles), len(seen.wire)]
    origin = box_of(seen.places).mean(axis=0)
    return b"".join(
        (
            np.array([MAGIC_OF_SHADED, *counts, 0, 0, 0, 0]).astype("<u4").tobytes(),
            origin.astype("<f8").tobytes(),
            (seen.places - origin).astype("<f4").tobytes(),
            seen.normals.astype("<f4").tobytes(),
            seen.triangles.astype("<u4").tobytes(),
            (seen.wire - origin).astype("<f4").tobytes(),
        )
    )


def smooth_payload(made: Remade, moves: np.ndarray | None = None) -> bytes:
    """What the browser needs to draw a smooth form, if it has the one before."""
    form, fresh = made.form, made.fresh
    told = np.zeros(0) if moves is None else moves.ravel()
    counts = [*form.places.shape[:2], len(made.runs), len(fresh), len(told)]
    return b"".join(
        (
            np.array([MAGIC_OF_SMOOTH, *counts, 0, 0]).astype("<u4").tobytes(),
            form.origin.astype("<f8").tobytes(),
            made.runs.astype("<u4").tobytes(),
            fresh.astype("<u4").tobytes(),
            form.places[fresh].tobytes(),
            form.normals[fresh].tobytes(),
            told.astype("<f4").tobytes(),
        )
    )


def mesh_payload(mesh: Mesh) -> bytes:
    """What the browser needs to draw a mesh."""
    edges, triangles = mesh.edges, mesh.triangles
    header = np.array(
        [MAGIC, mesh.vertex_count, len(triangles.corners), len(edges), mesh.face_count, 0, 0, 0]
    )
    origin = mesh.box.mean(axis=0)
    flags = _flags(mesh)
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


def difference_payload(before: Mesh, mesh: Mesh, change: MeshDifference) -> bytes:
    """What the browser needs to draw a mesh if it has the one that a difference was taken from."""
    anew = np.zeros(mesh.face_count, dtype=bool)
    anew[change.replaced] = anew[before.face_count :] = True
    if len(change.moved):
        lies_elsewhere = np.zeros(mesh.vertex_count, dtype=bool)
        lies_elsewhere[change.moved] = True
        anew[mesh.face_of_corner[lies_elsewhere[mesh.corners]]] = True
    faces = np.flatnonzero(anew)
    at, starts = row_positions(mesh.starts, faces)
    triangles = triangulate(mesh.points, starts, mesh.corners[at])
    flags, then = (_flags(one) for one in (mesh, before))
    other = flags[: len(then)] != then
    other[change.edges] = True
    edges = np.concatenate([np.flatnonzero(other), np.arange(len(then), len(flags))])
    old_faces = faces[: np.searchsorted(faces, before.face_count)]
    new_edges = len(flags) - len(then)
    counts = (
        before.vertex_count,
        len(change.points),
        len(old_faces),
        len(triangles.corners),
        len(edges) - new_edges,
        new_edges,
    )
    return b"".join(
        (
            np.array([MAGIC_OF_DIFFERENCE, *counts, len(change.moved)]).astype("<u4").tobytes(),
            change.points.astype("<f8").tobytes(),
            change.places.astype("<f8").tobytes(),
            change.moved.astype("<u4").tobytes(),
            old_faces.astype("<u4").tobytes(),
            triangles.corners.astype("<u4").tobytes(),
            faces[triangles.face].astype("<u4").tobytes(),
            edges[: len(edges) - new_edges].astype("<u4").tobytes(),
            mesh.edges.ends[edges].astype("<u4").tobytes(),
            flags[edges].tobytes(),
        )
    )


def _flags(mesh: Mesh) -> np.ndarray:
    """The flags (E,) of all edges."""
    table = mesh.edges
    flags = np.where(table.border, BORDER, 0).astype(np.uint8)
    if len(mesh.hard):
        sharp = table.joining(mesh.hard)
        fully = strengths_of(mesh) == 1.0
        flags[sharp & fully] |= HARD
        flags[sharp & ~fully] |= CREASE
    if table.crowded:
        flags[list(table.crowded)] |= CROWDED
    return flags
