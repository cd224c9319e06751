"""Meshes without some of their faces, and origin maps of operations done one after the other."""

from __future__ import annotations

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints, row_positions
from cutcore.mesh.edge_table import EdgeTable
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin


def without_faces(mesh: Mesh, gone: Bools) -> tuple[Mesh, Origin]:
    """The mesh without faces (F,); vertices that only they used go too, the others keep their
    order.

    Raises StepError if nothing would be left.
    """
    faces = np.flatnonzero(~gone)
    if len(faces) == 0:
        raise StepError("nothing of the part would be left")
    made, vertices = of_rows(mesh, *row_positions(mesh.starts, faces), faces)
    kept = np.full(mesh.face_count, -1, dtype=np.int64)
    kept[faces] = np.arange(len(faces))
    return made, Origin(faces, vertices, kept)


def without_vertices(mesh: Mesh, vertices: Ints) -> tuple[Mesh, Origin]:
    """The mesh without some vertices of no face."""
    stays = np.ones(mesh.vertex_count, dtype=bool)
    stays[vertices] = False
    number = np.cumsum(stays) - 1
    made = mesh.rebuilt(
        mesh.points[stays],
        mesh.starts,
        number[mesh.corners],
        edge_data=mesh.edge_data.renumbered(number),
    )
    faces = np.arange(mesh.face_count)
    return made, Origin(faces, np.flatnonzero(stays), faces)


def of_rows(mesh: Mesh, at: Ints, starts: Ints, faces: Ints) -> tuple[Mesh, Ints]:
    """The mesh whose faces are rows of corners of another, `at` with `starts`, with the attributes
    of its `faces` (n,).

    Vertices that faces used and none uses any more go; the rest keep their order. Returns also the
    old number of each."""
    used, left = np.zeros((2, mesh.vertex_count), dtype=bool)
    used[mesh.corners] = True
    left[mesh.corners[at]] = True
    vertices = np.flatnonzero(left | ~used)
    number = np.full(mesh.vertex_count, -1, dtype=np.int64)
    number[vertices] = np.arange(len(vertices))
    made = mesh.rebuilt(
        mesh.points[vertices],
        starts,
        number[mesh.corners[at]],
        edge_data=mesh.edge_data.renumbered(number),
        faces_from=faces,
        corners_from=at,
    )
    return made, vertices


def then(first: Origin, second: Origin) -> Origin:
    """The origin map of two operations, the second done on what the first made."""
    face = np.where(second.face >= 0, first.face[np.maximum(second.face, 0)], -1)
    vertex = np.where(second.vertex >= 0, first.vertex[np.maximum(second.vertex, 0)], -1)
    kept = np.where(first.kept >= 0, second.kept[np.maximum(first.kept, 0)], -1)
    return Origin(face, vertex, kept)


def moved(mesh: Mesh, points: Floats, uv: Floats | None = None) -> Mesh:
    """The mesh with its vertices elsewhere, and if given its texture places; connectivity is carried
    over."""
    made = mesh.rebuilt(points, mesh.starts, mesh.corners, edge_data=mesh.edge_data, uv=uv)
    return made.with_edges(mesh.edges)


def with_points(mesh: Mesh, points: Floats) -> Mesh:
    """The mesh with further vertices (n, 3), which come last and are in no face yet."""
    return mesh.rebuilt(
        np.concatenate([mesh.points, points]), mesh.starts, mesh.corners, edge_data=mesh.edge_data
    )


def with_faces(mesh: Mesh, loops: list[Ints]) -> Mesh:
    """The mesh with further faces, given as loops of vertices; they come last and have no
    attributes."""
    if not loops:
        return mesh
    added = np.concatenate(loops)
    starts = np.concatenate(
        [mesh.starts, mesh.starts[-1] + np.cumsum([len(loop) for loop in loops])]
    )
    return mesh.rebuilt(
        mesh.points,
        starts,
        np.concatenate([mesh.corners, added]),
        edge_data=mesh.edge_data,
        further_from=np.full(len(loops), -1),
        corners_from=np.concatenate([np.arange(len(mesh.corners)), np.full(len(added), -1)]),
    )


def with_lids(mesh: Mesh, loops: list[Ints]) -> Mesh:
    """The mesh with further faces, as `with_faces`, all of whose sides are border edges, each
    once: it has the same edges."""
    made = with_faces(mesh, loops)
    if made is mesh:
        return mesh
    border = np.flatnonzero(mesh.edges.border)
    sides = np.concatenate([np.stack([loop, np.roll(loop, -1)], axis=1) for loop in loops])
    weights = np.array([mesh.vertex_count, 1])
    keys = mesh.edges.ends[border].astype(np.int64) @ weights
    order = np.argsort(keys)
    wanted = np.sort(sides.astype(np.int64), axis=1) @ weights
    edge = border[order[np.searchsorted(keys[order], wanted)]]
    faces = mesh.edges.faces.copy()
    lid = mesh.face_count + np.arange(len(loops))
    faces[edge, 1] = np.repeat(lid, [len(loop) for loop in loops])
    of_corner = np.concatenate([mesh.edges.of_corner, edge])
    return made.with_edges(EdgeTable(mesh.edges.ends, of_corner, faces, mesh.edges.crowded))
