"""Where a plane meets a mesh: places on vertices and edges, and the segments between them.

Each vertex gets a side, once, so that all faces round it agree: 0 within the weld tolerance of the
plane, else the sign of its height. The rest follows from the sides alone:

| corner, next corner | what lies there                     |
|---------------------|-------------------------------------|
| -  +   or  +  -     | a crossing on the edge              |
| 0  anything         | a node on the vertex                |
| 0  0                | the edge itself lies in the plane   |

| nodes of a face | segments                                                           |
|-----------------|--------------------------------------------------------------------|
| 0, 1            | none (missed, or touched at a vertex)                              |
| 2               | one, if the face has corners on both sides                         |
| more            | chords: neighbours along the line whose middle is inside (`chords`) |
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import (
    INDEX,
    Floats,
    Ints,
    distinct,
    found_in,
    next_in_row,
    owner_of,
    row_positions,
)
from cutcore.geometry.plane import Plane
from cutcore.kernels import sides_and_crossed, thin_corners
from cutcore.mesh.mesh import Mesh
from cutcore.queries.chords import chords

# So many vertices are looked up one by one; for more, all faces are gone over at once.
FEW = 64

# A vertex is taken onto the plane for a thin corner at most so many weld tolerances away.
APEX_REACH = 1e3


@dataclass(frozen=True, eq=False)
class Section:
    """Nodes and segments of a plane section.

    vertex   (N,) the vertex a node lies on, or -1
    edge     (N,) the edge a node lies on, or -1
    share    (N,) on an edge, from the lower vertex
    place    (N, 3)
    ends     (S, 2) the nodes each segment joins
    face     (S,) the face each segment lies in; -1 where it is an existing edge
    side     (V,) the side of every vertex
    """

    vertex: Ints
    edge: Ints
    share: Floats
    place: Floats
    ends: Ints
    face: Ints
    side: Ints


def section(
    mesh: Mesh,
    plane: Plane,
    *,
    weld: float,
    faces: Ints | None = None,
    pinned: tuple[int, ...] = (),
    released: tuple[int, ...] = (),
) -> Section:
    """The section of a mesh, or of some of its faces (ascending), by a plane.

    `pinned` vertices count as lying on it, `released` ones keep the side their height says however
    small it is. Outside the faces asked for, sides are not worked out and read 0.

    A vertex just off the plane whose neighbouring crossings would part off a corner no wider than
    the weld tolerance is taken to lie on it, so that no two nodes of the section are ever that
    close."""
    crossed: Ints | None = None
    if faces is None:
        side, crossed = sides_and_crossed(
            mesh.points, plane.normal, float(plane.point @ plane.normal), weld, mesh.edges.ends
        )
        if pinned or released:
            crossed = None
    else:
        side = np.zeros(mesh.vertex_count, dtype=np.int8)
        near = distinct(mesh.corners[row_positions(mesh.starts, faces)[0]])
        side[near] = _side_of(plane.heights(mesh.points[near]), weld)
    side[list(pinned)] = 0
    for vertex in released:
        side[vertex] = np.sign(plane.heights(mesh.points[vertex]))
    while True:
        found = _nodes_and_segments(mesh, plane, side, faces, crossed)
        tight = _apexes_of_thin_corners(mesh, found, weld)
        if len(tight) == 0:
            return found
        side[tight], crossed = 0, None


def side_of_vertices(mesh: Mesh, plane: Plane, *, weld: float) -> Ints:
    """The side (V,) of every vertex: -1, 0 (within the tolerance) or +1."""
    return _side_of(plane.heights(mesh.points), weld)


def _side_of(height: Floats, weld: float) -> Ints:
    return (height > weld).astype(np.int8) - (height < -weld).astype(np.int8)


def _nodes_and_segments(
    mesh: Mesh, plane: Plane, side: Ints, faces: Ints | None, crossed: Ints | None
) -> Section:
    """The section that some sides make; `crossed` are the edges between different sides, if they
    are known."""
    table = mesh.edges
    if faces is None:
        on = np.flatnonzero(side == 0)
        flat = on[:0]
        if crossed is None or len(on) > 1:
            low_side, high_side = side.take(table.ends[:, 0]), side.take(table.ends[:, 1])
            crossed = np.flatnonzero(low_side * high_side < 0)
            flat = np.flatnonzero((low_side | high_side) == 0)
    else:
        at = row_positions(mesh.starts, faces)[0]
        edges = distinct(table.of_corner[at]).astype(np.int64)
        low_side, high_side = side[table.ends[edges, 0]], side[table.ends[edges, 1]]
        crossed = edges[low_side * high_side < 0]
        near = distinct(mesh.corners[at]).astype(np.int64)
        on = near[side[near] == 0]
        flat = edges[(low_side | high_side) == 0]

    low, high = mesh.points[table.ends[crossed, 0]], mesh.points[table.ends[crossed, 1]]
    from_low, from_high = plane.heights(low), plane.heights(high)
    share = from_low / (from_low - from_high)
    nodes = len(on) + len(crossed)
    node_vertex = np.full(nodes, -1, dtype=np.int64)
    node_vertex[: len(on)] = on
    node_edge = np.full(nodes, -1, dtype=np.int64)
    node_edge[len(on) :] = crossed
    place = np.concatenate([mesh.points[on], low + share[:, None] * (high - low)])

    touched = distinct(table.face_pairs(crossed)[1])
    if faces is not None:
        touched = faces[found_in(faces, touched)] if not len(on) else faces
    elif 0 < len(on) <= FEW:
        touched = np.union1d(
            touched, np.concatenate([table.faces_at_vertex(v) for v in on.tolist()])
        )
    elif len(on):
        touched = np.union1d(
            touched,
            np.flatnonzero(np.logical_or.reduceat(side[mesh.corners] == 0, mesh.starts[:-1])),
        )
    ends, face = _segments(mesh, side, touched, on, crossed, place)
    if len(flat):
        ends = np.concatenate([ends, np.searchsorted(on, table.ends[flat])])
        face = np.concatenate([face, np.full(len(flat), -1, dtype=np.int64)])
    return Section(
        node_vertex, node_edge, np.concatenate([np.zeros(len(on)), share]), place, ends, face, side
    )


def _segments(
    mesh: Mesh, side: Ints, faces: Ints, on: Ints, crossed: Ints, place: Floats
) -> tuple[Ints, Ints]:
    """Segments across faces: (ends (S, 2) as node numbers, face (S,))."""
    if len(faces) == 0:
        return np.zeros((0, 2), dtype=np.int64), np.zeros(0, dtype=np.int64)
    at, starts = row_positions(mesh.starts, faces)
    vertex = mesh.corners[at]
    here = side[vertex]
    there = here[next_in_row(starts)]
    on_vertex = here == 0
    on_edge = here * there < 0
    node = np.full(len(at), -1, dtype=np.int64)
    node[on_vertex] = np.searchsorted(on, vertex[on_vertex])
    node[on_edge] = len(on) + np.searchsorted(crossed, mesh.edges.of_corner[at[on_edge]])
    has = node >= 0
    count = np.add.reduceat(has.astype(INDEX), starts[:-1])
    both = np.logical_and(
        np.logical_or.reduceat(here < 0, starts[:-1]), np.logical_or.reduceat(here > 0, starts[:-1])
    )

    simple = (count == 2) & both
    owner = owner_of(starts)
    chosen = has & simple[owner]
    ends = [node[chosen].reshape(-1, 2)]
    face = [faces[simple]]
    for row in np.flatnonzero((count > 2) & both):
        cells = np.arange(starts[row], starts[row + 1])
        found = chords(mesh.points[vertex[cells]], here[cells], node[cells], place)
        ends.append(found)
        face.append(np.full(len(found), faces[row], dtype=np.int64))
    return np.concatenate(ends), np.concatenate(face)


def _apexes_of_thin_corners(mesh: Mesh, found: Section, weld: float) -> Ints:
    """Vertices where two crossed edges meet so close to the plane that what lies between is no
    face."""
    _, apex = thin_corners(
        found.ends, found.edge, found.place, mesh.edges.ends, mesh.points, weld, APEX_REACH * weld
    )
    return distinct(apex[found.side[apex] != 0])
