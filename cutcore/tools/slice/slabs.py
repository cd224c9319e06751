"""The slabs between parallel planes torn apart: with a gap between them, capped, or as parts of
their own."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.geometry.arrays import Ints, next_in_row
from cutcore.geometry.plane import Plane
from cutcore.mesh.edge_data import EdgeData
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.mesh.submesh import moved, then, without_faces
from cutcore.notes import Note
from cutcore.tools.slice.caps import capped
from cutcore.tools.slice.sides import Sides, opened_edges, with_caps


def parted(
    cut: Result,
    sides: list[Sides],
    gap: tuple[float, float, float],
    cap: bool,
    as_parts: bool,
    weld: float,
) -> Result:
    """What was cut along some planes, given along their common normal, torn apart there.

    Slabs keep their order along the normal and are spread about the middle, a `gap` between each
    and the next. The lowest keeps its vertices, the others get ones of their own along the cuts;
    with `as_parts` it stays the part and the others are taken off it."""
    mesh = cut.mesh
    slab = np.sum([side.face > 0 for side in sides], axis=0)
    count = len(sides) + 1
    torn, origin, slab_of = _torn(mesh, slab, count)
    notes: list[Note] = []
    added: list[int] = []
    if cap:
        opened = opened_edges(mesh, torn, origin.vertex)
        for k, side in enumerate(sides):
            flat = opened[(side.vertex[origin.vertex][opened] == 0).all(axis=1)]
            # What lies below the plane is closed by a face along its normal, what lies above by one
            # against it.
            for level, plane in (
                (k, side.plane),
                (k + 1, Plane(side.plane.point, -side.plane.normal)),
            ):
                torn, more, said = capped(
                    torn, flat[(slab_of[flat] == level).all(axis=1)], plane, weld=weld
                )
                added += [level] * more
                notes += said
    shift = (slab_of - 0.5 * (count - 1))[:, None] * np.array(gap)
    apart = moved(torn, torn.points + shift)
    done = with_caps(cut, apart, origin.but_moved(torn, apart), len(added), notes)
    return (
        _as_parts(done, np.concatenate([slab, np.array(added, dtype=np.int64)]))
        if as_parts
        else done
    )


def _torn(mesh: Mesh, slab: Ints, count: int) -> tuple[Mesh, Origin, Ints]:
    """The mesh whose slabs share no vertex, and the slab of each vertex; a vertex keeps its number
    in its lowest slab."""
    key = mesh.corners.astype(np.int64) * count + slab[mesh.face_of_corner]
    pairs, at = np.unique(key, return_inverse=True)
    vertex = pairs // count
    first = np.ones(len(pairs), dtype=bool)
    first[1:] = vertex[1:] != vertex[:-1]
    number = vertex.copy()
    number[~first] = mesh.vertex_count + np.arange(int((~first).sum()))
    more = vertex[~first]
    points = np.concatenate([mesh.points, mesh.points[more]])
    corners, origin_vertex = (
        number[at.ravel()],
        np.concatenate([np.arange(mesh.vertex_count), more]),
    )
    torn = mesh.rebuilt(
        points, mesh.starts, corners, edge_data=_edge_data(mesh, corners, origin_vertex)
    )
    slab_of = np.zeros(torn.vertex_count, dtype=np.int64)
    slab_of[number] = pairs % count
    faces = np.arange(mesh.face_count)
    return (
        torn,
        Origin(faces, origin_vertex, np.where(slab > 0, -1, faces)),
        slab_of,
    )


def _edge_data(mesh: Mesh, corners: Ints, origin: Ints) -> EdgeData:
    """What the edges of the whole mesh carry, in every slab that has them: between the corners as
    they are numbered in the torn one, whose vertices `origin` names in the whole."""
    data = mesh.edge_data
    if len(data.ends) == 0:
        return data
    ends = np.stack([corners, corners[next_in_row(mesh.starts)]], axis=1)
    rows = data.rows_of(np.sort(origin[ends], axis=1), mesh.vertex_count)
    return data.taken(rows, ends)


def _as_parts(done: Result, slab: Ints) -> Result:
    """The lowest slab there is as the part, the others as parts taken off it."""
    there = np.unique(slab)
    stays, origin = without_faces(done.mesh, slab != there[0])
    caps = done.picked.faces[slab[done.picked.faces] == there[0]]
    picked = replace(done.picked, faces=origin.kept[caps])
    apart = tuple(without_faces(done.mesh, slab != k)[0] for k in there[1:])
    return replace(done, mesh=stays, origin=then(done.origin, origin), picked=picked, apart=apart)
