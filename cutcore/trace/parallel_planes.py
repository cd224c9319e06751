"""Many parallel planes in one pass: each costs its own crossings, and all together one look at
every vertex and face."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, distinct
from cutcore.geometry.plane import Plane
from cutcore.kernels import (
    crossings_between,
    pairs_in_faces,
    ranks_of,
    segments_between,
    thin_corners,
)
from cutcore.mesh.mesh import Mesh
from cutcore.queries.chords import chords
from cutcore.queries.section import APEX_REACH
from cutcore.trace.trace import ON_EDGE, ON_VERTEX, Trace


def trace_of_planes(mesh: Mesh, planes: list[Plane], limit: Bools | None, weld: float) -> Trace:
    """The sections by parallel planes more than twice the weld tolerance apart, within a limit
    (F,), as lines numbered like the planes. Each is what `section` makes of that plane alone."""
    normal = planes[0].normal
    level = np.array([float(plane.point @ normal) for plane in planes])
    order = np.argsort(level, kind="stable")
    rank = ranks_of(mesh.points, normal, level[order], weld)
    while True:
        found = _Crossed.of(mesh, normal, level[order], rank)
        apex, plane = found.apexes_of_thin_corners(mesh, rank, weld)
        if len(apex) == 0:
            break
        rank[apex] = 2 * plane + 1
    nodes, face, plane = found.nodes, found.face, found.plane
    flat_nodes, flat_plane = found.flat_edges(mesh, rank, limit)
    if limit is not None:
        nodes, face, plane = nodes[limit[face]], face[limit[face]], plane[limit[face]]
    if len(flat_plane):
        nodes, plane = np.concatenate([nodes, flat_nodes]), np.concatenate([plane, flat_plane])
        face = np.concatenate([face, np.full(len(flat_plane), -1)])
    crossings = len(found.edge)
    return Trace.of(
        np.concatenate(
            [np.full(crossings, ON_EDGE, np.int8), np.full(len(found.on), ON_VERTEX, np.int8)]
        ),
        np.concatenate([found.edge, found.on]),
        np.concatenate([found.share, np.zeros(len(found.on))]),
        found.place,
        nodes,
        face,
        line=order[plane],
    )


@dataclass(frozen=True, eq=False)
class _Crossed:
    """Nodes and segments of planes: nodes are crossings of edges first, then the vertices `on` a
    level; `flat` edges lie on one."""

    edge: Ints
    share: Floats
    on: Ints
    place: Floats
    nodes: Ints
    face: Ints
    plane: Ints
    flat: Ints

    @staticmethod
    def of(mesh: Mesh, normal: Floats, level: Floats, rank: Ints) -> _Crossed:
        table = mesh.edges
        first, edge, level_of, share, place, touching = crossings_between(
            mesh.points, normal, level, rank, table.ends
        )
        reached = table.ends[touching].ravel()
        on = distinct(reached[rank[reached] & 1 == 1]).astype(np.int64)
        place = np.concatenate([place, mesh.points[on]])
        # At a vertex of a face two of its edges end.
        careful = table.beside(
            np.concatenate([touching, np.array(list(table.crowded), dtype=np.int64)]),
            mesh.face_count,
        )
        nodes, face, plane, left = pairs_in_faces(edge, level_of, table.faces, careful)
        if len(left):
            more = segments_between(
                left, mesh.starts, mesh.corners, table.of_corner, rank, first, on
            )
            nodes, face, plane = (
                np.concatenate(both) for both in zip((nodes, face, plane), more, strict=True)
            )
        often = nodes[:, 1] < 0
        if often.any():
            parts = [
                _across(mesh, rank, first, on, place, int(f), int(k))
                for f, k in zip(face[often], plane[often], strict=True)
            ]
            sizes = [len(part) for part in parts]
            nodes = np.concatenate([nodes[~often], *parts])
            face = np.concatenate([face[~often], np.repeat(face[often], sizes)])
            plane = np.concatenate([plane[~often], np.repeat(plane[often], sizes)])
        ends = rank[table.ends[touching]]
        return _Crossed(
            edge, share, on, place, nodes, face, plane, touching[(ends[:, 0] == ends[:, 1])]
        )

    def apexes_of_thin_corners(self, mesh: Mesh, rank: Ints, weld: float) -> tuple[Ints, Ints]:
        """Vertices where two crossed edges meet so close to a plane that what lies between is no
        face, and the planes."""
        segment, apex = thin_corners(
            self.nodes, self.edge, self.place, mesh.edges.ends, mesh.points, weld, APEX_REACH * weld
        )
        free = rank[apex] & 1 == 0
        return apex[free], self.plane[segment[free]]

    def flat_edges(self, mesh: Mesh, rank: Ints, limit: Bools | None) -> tuple[Ints, Ints]:
        """The edges that lie in a plane and beside a face of the limit: their nodes (n, 2) and
        planes (n,)."""
        ends = mesh.edges.ends
        flat = self.flat
        if limit is not None:
            edge, beside = mesh.edges.face_pairs(flat)
            flat = np.unique(edge[limit[beside]])
        return len(self.edge) + np.searchsorted(self.on, ends[flat]), rank[ends[flat, 0]].astype(
            np.int64
        ) // 2


def _across(
    mesh: Mesh, rank: Ints, first: Ints, on: Ints, place: Floats, face: int, k: int
) -> Ints:
    """The segments (n, 2) of a plane in a face with more than two nodes on it."""
    corners = mesh.face(face)
    here = np.sign(rank[corners] - (2 * k + 1))
    node = np.full(len(corners), -1, dtype=np.int64)
    node[here == 0] = first[-1] + np.searchsorted(on, corners[here == 0])
    crossed = np.flatnonzero(here * np.roll(here, -1) < 0)
    edge = mesh.edges.of_corner[mesh.starts[face] + crossed]
    p, q = rank[mesh.edges.ends[edge, 0]], rank[mesh.edges.ends[edge, 1]]
    node[crossed] = first[edge] + np.where(p < q, k - (p + 1) // 2, p // 2 - 1 - k)
    return chords(mesh.points[corners], here, node, place)
