"""Triangulate: faces cut into triangles."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np

from cutcore.geometry.arrays import Bools, Ints, row_positions
from cutcore.mesh.changed_edges import edges_of_picked_faces
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.notes import Note, face
from cutcore.queries.named_elements import Faces, chosen_faces
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of


class TriangulateParams(Reshaping):
    """The faces to cut into triangles; all of them if none are named."""

    tool: Literal["triangulate"] = "triangulate"
    faces: Faces | None = None


def apply(mesh: Mesh, params: TriangulateParams) -> Result:
    """As faces are drawn: quads along the better diagonal, larger ones by clipping ears. A face
    keeps its number for its first triangle; the others come after all old faces."""
    cells = mesh.triangles
    larger = chosen_faces(mesh, params.faces) & (mesh.sizes > 3)
    # Of a face that crosses itself not all corners are found in triangles.
    whole = np.bincount(cells.face, minlength=mesh.face_count) == mesh.sizes - 2
    chosen, crossed = larger & whole, np.flatnonzero(larger & ~whole)
    notes: tuple[Note, ...] = ()
    if len(crossed):
        words = f"{count_of(len(crossed), 'face')} cross themselves and stay."
        notes = (Note("not-triangulated", words, tuple(face(f) for f in crossed[:50])),)
    if not chosen.any():
        nothing = Note("nothing-to-do", "All of these faces are triangles already.")
        return Result(mesh, Origin.same(mesh), notes=notes or (nothing,))
    return replace(in_triangles(mesh, chosen), notes=notes)


def in_triangles(mesh: Mesh, chosen: Bools) -> Result:
    """The mesh with some of its faces (F,), none of which crosses itself, cut into triangles as they
    are drawn."""
    cells = mesh.triangles
    mine = np.flatnonzero(chosen[cells.face])
    owner = cells.face[mine].astype(np.int64)
    at = corner_places(mesh, owner, cells.corners[mine])
    first = np.ones(len(mine), dtype=bool)
    first[1:] = owner[1:] != owner[:-1]
    kept = np.flatnonzero(~chosen)
    rows, _ = row_positions(mesh.starts, kept)
    sizes = np.where(chosen, 3, mesh.sizes)
    starts = np.concatenate([[0], np.cumsum(sizes)])
    corners = np.empty(starts[-1], dtype=np.int64)
    corners[row_positions(starts, kept)[0]] = rows
    corners[row_positions(starts, np.flatnonzero(chosen))[0]] = at[first].ravel()
    further = owner[~first]
    made_from = np.concatenate([corners, at[~first].ravel()])
    made = mesh.rebuilt(
        mesh.points,
        np.concatenate([starts, starts[-1] + 3 * np.arange(1, len(further) + 1)]),
        mesh.corners[made_from],
        edge_data=mesh.edge_data,
        further_from=further,
        corners_from=made_from,
    )
    faces = np.arange(mesh.face_count)
    origin = Origin(
        np.concatenate([faces, further]),
        np.arange(mesh.vertex_count),
        np.where(chosen, -1, faces),
    )
    fresh = np.arange(mesh.face_count, made.face_count)
    picked = Picked(faces=np.concatenate([np.flatnonzero(chosen), fresh]))
    return Result(made, origin, picked)


def corner_places(mesh: Mesh, owner: Ints, vertices: Ints) -> Ints:
    """The corners (n, 3) at which faces (n,) have vertices (n, 3)."""
    count = np.int64(mesh.vertex_count)
    keys = mesh.face_of_corner * count + mesh.corners
    order = np.argsort(keys, kind="stable")
    wanted = owner[:, None] * count + vertices
    return np.asarray(order[np.searchsorted(keys[order], wanted)])


TOOL = Reshape(
    params=TriangulateParams,
    title=lambda params: "Cut into triangles",
    examples=(
        Example("drum", {}),
        Example("plate", {"faces": [1, 2]}),
    ),
    moves=edges_of_picked_faces,
    apply=apply,
)
