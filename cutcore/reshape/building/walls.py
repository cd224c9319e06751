"""Walls: picked faces come away from the rest along their border, and a strip of quads joins the
two."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints, cross, next_in_row, row_positions
from cutcore.geometry.components import components
from cutcore.geometry.vectors import units
from cutcore.mesh.edge_data import EdgeData
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.texture_map import texture_shift
from cutcore.notes import edge as edge_element
from cutcore.notes import vertex as vertex_element


@dataclass(frozen=True, eq=False)
class Region:
    """Picked faces and their border.

    faces    (n,)   ascending
    corner   (c,)   the corners of these faces in the mesh; `starts (n+1,)` their rows
    ahead    (c,)   the vertex that follows each corner's in its face
    rim      (c,)   whether the edge from a corner to the next has a picked face on this side only
    """

    mesh: Mesh
    faces: Ints
    corner: Ints
    starts: Ints
    ahead: Ints
    rim: Bools

    @staticmethod
    def of(mesh: Mesh, chosen: Bools) -> Region:
        """The region of some faces (F,). Raises StepError if several of them meet others at one
        edge."""
        faces = np.flatnonzero(chosen)
        corner, starts = row_positions(mesh.starts, faces)
        edges, times = np.unique(mesh.edges.of_corner[corner], return_counts=True)
        crowded = np.intersect1d(edges[times > 1], list(mesh.edges.crowded))
        if len(crowded):
            words = "several picked faces and others meet at one edge: which of them belong together nobody can say"
            raise StepError(
                words, where="faces", elements=(edge_element(mesh.edges.ends[crowded[0]]),)
            )
        pairs = mesh.edges.faces[mesh.edges.of_corner[corner]]
        there: Bools = pairs >= 0
        both = chosen[np.maximum(pairs, 0)] & there
        ahead = mesh.corners[corner][next_in_row(starts)]
        return Region(mesh, faces, corner, starts, ahead, ~(both[:, 0] & both[:, 1]))

    @property
    def vertex(self) -> Ints:
        """The vertex of each corner (c,)."""
        return self.mesh.corners[self.corner]

    def rim_vertices(self) -> Ints:
        """The vertices on the border, ascending."""
        return np.unique(self.vertex[self.rim])

    def torn_off(self) -> tuple[Ints, Ints]:
        """The border vertices that get counterparts, one for each fan of faces there, ascending
        (n,); and the vertex (c,) that each corner has once these are numbered after all
        vertices."""
        count = len(self.corner)
        following = next_in_row(self.starts)
        inner = np.flatnonzero(~self.rim)
        inner = inner[np.argsort(self.mesh.edges.of_corner[self.corner[inner]], kind="stable")]
        one, other = inner[::2], inner[1::2]
        # Two faces side by side have the corners at both ends of their edge in one fan.
        links = np.concatenate(
            [np.stack([one, following[other]], axis=1), np.stack([following[one], other], axis=1)]
        )
        fan = components(links, count)[1]
        on_rim = np.isin(self.vertex, self.rim_vertices())
        keys = self.vertex[on_rim].astype(np.int64) * count + fan[on_rim]
        different, number = np.unique(keys, return_inverse=True)
        moved = self.vertex.astype(np.int64)
        moved[on_rim] = self.mesh.vertex_count + number
        return different // count, moved

    def corner_normals(self) -> Floats:
        """The unit normal (c, 3) of the face each corner is in."""
        normal = self.mesh.face_normals(self.faces)
        unit = units(normal)
        return np.repeat(unit, np.diff(self.starts), axis=0)


def walled(region: Region, shift: Floats, *, same_surface: bool) -> Result:
    """The mesh with every vertex of a region moved by `shift (V, 3)`, its border torn and joined by
    a quad an edge.

    Vertices inside the region keep their numbers; those on its border stay, and get counterparts
    that move: one for each fan of the region's faces there, so that faces that touch at a vertex
    only come apart. The region's faces keep their numbers and are picked. Texture places follow the
    move within each face, by the linear map that fits its corners best. On the `same_surface` the
    quads lie in the faces they border on, and carry their patch."""
    mesh = region.mesh
    rim = region.rim_vertices()
    torn, moved_corner = region.torn_off()
    points = np.concatenate([mesh.points + shift, (mesh.points + shift)[torn]])
    points[rim] = mesh.points[rim]
    corners = mesh.corners.copy()
    corners[region.corner] = moved_corner
    following = next_in_row(region.starts)
    low, high = region.vertex[region.rim], region.ahead[region.rim]
    walls = np.stack(
        [low, high, moved_corner[following][region.rim], moved_corner[region.rim]], axis=1
    )
    owner = np.repeat(region.faces, np.diff(region.starts))[region.rim]
    uv = None
    if mesh.uv is not None:
        moved = mesh.uv[region.corner] + texture_shift(mesh, region.faces, shift[region.vertex])
        outer = mesh.uv[region.corner]
        wall_uv = np.stack(
            [
                outer[region.rim],
                outer[following][region.rim],
                moved[following][region.rim],
                moved[region.rim],
            ],
            axis=1,
        )
        whole = mesh.uv.copy()
        whole[region.corner] = moved
        uv = np.concatenate([whole, wall_uv.reshape(-1, 2)])
    made = mesh.rebuilt(
        points,
        np.concatenate([mesh.starts, mesh.starts[-1] + 4 * np.arange(1, len(walls) + 1)]),
        np.concatenate([corners, walls.ravel()]),
        edge_data=_edge_data(region, moved_corner),
        further_from=owner,
        uv=uv,
    )
    if not same_surface:
        made = replace(made, patch=np.concatenate([mesh.patch, np.full(len(owner), -1)]))
    kept = np.arange(mesh.face_count)
    kept[region.faces] = -1
    beside = np.flatnonzero(np.isin(mesh.corners, np.setdiff1d(region.vertex, rim)))
    kept[mesh.face_of_corner[beside]] = -1
    origin = Origin(
        np.concatenate(
            [np.arange(mesh.face_count), owner if same_surface else np.full(len(owner), -1)]
        ),
        np.concatenate([np.arange(mesh.vertex_count), np.full(len(torn), -1)]),
        kept,
    )
    across = np.stack([torn, mesh.vertex_count + np.arange(len(torn))], axis=1)
    along = np.sort(walls[:, 2:], axis=1)
    return Result(
        made,
        origin,
        Picked(faces=region.faces, edges=np.unique(np.concatenate([across, along]), axis=0)),
    )


def _edge_data(region: Region, moved_corner: Ints) -> EdgeData:
    """What the edges carry: those of the region lie where its faces went; those on its border are at
    both ends of the walls."""
    mesh = region.mesh
    data, count = mesh.edge_data, mesh.vertex_count
    if len(data.ends) == 0:
        return data
    ends = np.sort(np.stack([region.vertex, region.ahead], axis=1), axis=1).astype(np.int64)
    rows = data.rows_of(ends, count)
    inside = np.setdiff1d(rows, rows[region.rim])
    moved = np.stack([moved_corner, moved_corner[next_in_row(region.starts)]], axis=1)
    return data.without(inside).with_more(data.taken(rows, moved))


def once_round(region: Region) -> None:
    """Raise StepError where the border of a region passes a vertex more than once: there it has no
    one inside."""
    leaving, times = np.unique(region.vertex[region.rim], return_counts=True)
    if not np.array_equal(leaving, np.unique(region.ahead[region.rim])):
        raise StepError(
            "the picked faces do not all run the same way round: flip some of them first",
            where="faces",
        )
    if (times > 1).any():
        at = int(leaving[int(np.argmax(times > 1))])
        raise StepError(
            "the boundary of the picked faces touches itself",
            where="faces",
            elements=(vertex_element(at),),
        )


def inward(region: Region) -> tuple[Ints, Floats, Floats, Floats]:
    """For each corner of the border: its vertex, and the unit vectors into the region square to the
    edge before it and to the edge after it, and along that edge; each (n, 3)."""
    mesh = region.mesh
    low, high = region.vertex[region.rim], region.ahead[region.rim]
    along = mesh.points[high] - mesh.points[low]
    along = units(along)
    into = cross(region.corner_normals()[region.rim], along)
    before = {int(v): k for k, v in enumerate(high.tolist())}
    arriving = np.array([before[int(v)] for v in low.tolist()], dtype=np.int64)
    return low, into[arriving], into, along
