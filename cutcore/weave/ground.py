"""The ground a line is woven into: the faces round it, with tables of their own, and what of them
has to stay where it is."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from cutcore.geometry.arrays import (
    Bools,
    Floats,
    Ints,
    cross,
    distinct,
    next_in_row,
    owner_of,
    row_positions,
    starts_of,
)
from cutcore.geometry.components import components
from cutcore.geometry.vectors import units
from cutcore.kernels import grow_fans, rows_beside
from cutcore.mesh.mesh import Mesh, newell
from cutcore.mesh.triangles import triangulate

# Two edges run on straight if the sine of the turn between them is no more than this.
STRAIGHT = 1e-10


@dataclass(frozen=True, eq=False)
class Ground:
    """Some faces of a mesh under numbers of their own.

    faces     (R,)   their numbers in the mesh, ascending
    vertices  (n,)   those of their vertices
    edges     (m,)   those of their edges
    starts, corners  the faces as rows of vertices, by the numbers here
    of_corner (c,)   the edge from each corner to the next, by the numbers here
    beside    (m, 2) the faces at each edge, by the numbers here; -1 for none, -2 for one elsewhere
    locked    (m,)   edges that stay where they are: borders, hard ones, seams, patches' borders,
                     the limit's, and those at which the surface bends by more than is even
    outside   (R,)   faces beyond the limit
    fixed     (n,)   vertices of faces elsewhere or beyond the limit
    limited   (n,)   those of faces beyond the limit that else were free: lines may end there
    """

    mesh: Mesh
    faces: Ints
    vertices: Ints
    edges: Ints
    starts: Ints
    corners: Ints
    of_corner: Ints
    beside: Ints
    locked: Bools
    outside: Bools
    fixed: Bools
    limited: Bools

    @cached_property
    def points(self) -> Floats:
        return self.mesh.points[self.vertices]

    @cached_property
    def ends(self) -> Ints:
        """The ends (m, 2) of the edges, by the numbers here, lower first."""
        return np.searchsorted(self.vertices, self.mesh.edges.ends[self.edges])

    @cached_property
    def following(self) -> Ints:
        """The next corner of the same face (c,)."""
        return next_in_row(self.starts)

    @cached_property
    def face_of_corner(self) -> Ints:
        return owner_of(self.starts)

    @cached_property
    def normals(self) -> Floats:
        """The normals (R, 3) of the faces, as long as their areas."""
        return newell(self.points[self.corners], self.starts)

    @cached_property
    def locks(self) -> Ints:
        """How many locked edges end at each vertex (n,)."""
        return np.bincount(self.ends[self.locked].ravel(), minlength=len(self.vertices))

    @cached_property
    def slides(self) -> Bools:
        """Vertices (n,) at which two locked edges run on straight and carry the same: they may move
        along these."""
        found = np.zeros(len(self.vertices), dtype=bool)
        locked = np.flatnonzero(self.locked)
        ends = self.ends[locked]
        two = np.flatnonzero((self.locks == 2) & ~self.fixed)
        order = np.argsort(ends.ravel(), kind="stable")
        starts = starts_of(self.locks)[two]
        sides = order[starts[:, None] + np.arange(2)]
        edge = sides // 2
        others = ends.ravel()[sides ^ 1]
        one, other = (self.points[others[:, k]] - self.points[two] for k in range(2))
        turn = np.linalg.norm(cross(one, other), axis=1)
        size = np.linalg.norm(one, axis=1) * np.linalg.norm(other, axis=1)
        straight = (turn <= STRAIGHT * size) & (np.einsum("ij,ij->i", one, other) < 0)
        mesh = self.mesh
        carried = mesh.edge_data.of_pairs(mesh.edges.ends[self.edges[locked]], mesh.vertex_count)
        found[two] = straight & (carried[edge[:, 0]] == carried[edge[:, 1]])
        return found

    @cached_property
    def open_edges(self) -> Bools:
        """The edges (m,) that may become a line: those inside, not locked, within the limit."""
        inside = (self.beside >= 0).all(axis=1) & ~self.outside[self.beside].any(axis=1)
        return inside & ~self.locked

    @cached_property
    def leads_on(self) -> Bools:
        """Which vertices (n,) have such an edge."""
        found = np.zeros(len(self.vertices), dtype=bool)
        found[self.ends[self.open_edges]] = True
        return found

    @cached_property
    def bends(self) -> Floats:
        """By how many degrees the surface bends (n,) at most at the edges of each vertex, borders
        and locked ones left out."""
        both = np.flatnonzero((self.beside >= 0).all(axis=1) & ~self.locked)
        found = np.zeros(len(self.vertices))
        bend = _bends(self.normals, self.beside[both])
        for end in range(2):
            np.maximum.at(found, self.ends[both, end], bend)
        return found

    @cached_property
    def sizes(self) -> Floats:
        """The mean length (n,) of the edges at each vertex."""
        length = np.linalg.norm(self.points[self.ends[:, 1]] - self.points[self.ends[:, 0]], axis=1)
        count = np.bincount(self.ends.ravel(), minlength=len(self.vertices))
        whole = np.bincount(self.ends.ravel(), np.repeat(length, 2), minlength=len(self.vertices))
        return np.asarray(whole / np.maximum(count, 1))

    @cached_property
    def at_vertices(self) -> tuple[Ints, Ints]:
        """The edges at each vertex as rows: starts (n+1,), edges."""
        order = np.argsort(self.ends.ravel(), kind="stable")
        sizes = np.bincount(self.ends.ravel(), minlength=len(self.vertices))
        return starts_of(sizes), order // 2

    @cached_property
    def halves(self) -> Ints:
        """The corners (m, 2) from which each edge goes out, the first two; -1 for none."""
        order = np.argsort(self.of_corner, kind="stable")
        edge = self.of_corner[order]
        first = np.flatnonzero(np.append(True, edge[1:] != edge[:-1]))
        found = np.full((len(self.edges), 2), -1)
        found[edge[first], 0] = order[first]
        second = first + 1
        double = second < len(order)
        double[double] = edge[second[double]] == edge[first[double]]
        found[edge[first[double]], 1] = order[second[double]]
        return found

    def edges_at(self, vertex: int) -> Ints:
        """The edges (n,) at a vertex."""
        starts, rows = self.at_vertices
        return rows[starts[vertex] : starts[vertex + 1]]

    def opens_at(self, vertex: int) -> bool:
        """Whether a vertex lies on a border, or on that of the limit."""
        beside = self.beside[self.edges_at(vertex)]
        here = beside >= 0
        return bool((beside == -1).any() or self.outside[beside[here]].any())

    def edge_between(self, a: int, b: int) -> int:
        """The edge between two vertices, which there is."""
        edges = self.edges_at(a)
        return int(edges[int(np.argmax((self.ends[edges] == b).any(axis=1)))])

    def fan(self, vertex: int, first: int) -> list[int]:
        """The edges at a vertex inside, in turn from one on."""
        found = [first]
        corner = int(self.halves[first, 0])
        while True:
            # The corner of this face at the vertex, and its edge other than the last.
            if self.corners[corner] != vertex:
                corner = int(self.following[corner])
            face = self.face_of_corner[corner]
            row = np.arange(self.starts[face], self.starts[face + 1])
            back = row[int(np.flatnonzero(self.following[row] == corner)[0])]
            out, into = int(self.of_corner[corner]), int(self.of_corner[back])
            onward = into if out == found[-1] else out
            if onward == first or len(found) > len(self.edges):
                return found
            found.append(onward)
            one, other = self.halves[onward].tolist()
            corner = other if self.face_of_corner[one] == face else one

    def ahead(self, vertex: int, edge: int, onward: Floats) -> list[int]:
        """The edges at a vertex inside that lead on from one that ends there, beyond the locked ones
        if there are two, none of them locked itself; those first that lead most onward (3,)."""
        fan = self.fan(vertex, edge)
        found = np.array(fan[1:], dtype=np.int64)
        locked = np.flatnonzero(self.locked[fan])
        if len(locked) == 2:
            found = np.array(fan[locked[0] + 1 : locked[1]], dtype=np.int64)
        found = found[~self.locked[found]]
        if len(fan) < 3 or len(found) == 0:
            return []
        ends = self.ends[found]
        there = self.points[np.where(ends[:, 0] == vertex, ends[:, 1], ends[:, 0])]
        order = np.argsort(-(units(there - self.points[vertex]) @ onward), kind="stable")
        return [int(e) for e in found[order]]

    @cached_property
    def charts(self) -> Ints:
        """Which of the pieces that locked edges part the ground into each face (R,) lies in."""
        open_ = ~self.locked & (self.beside >= 0).all(axis=1)
        return components(self.beside[open_], len(self.faces))[1]

    @cached_property
    def neighbours(self) -> tuple[Ints, Ints]:
        """The faces of the same chart that share a vertex with each face, as rows."""
        order = np.argsort(self.corners, kind="stable")
        rows = starts_of(np.bincount(self.corners, minlength=len(self.vertices)))
        starts, found = rows_beside(
            self.starts, self.corners, rows, self.face_of_corner[order], self.charts
        )
        return starts, found

    @cached_property
    def triangles(self) -> tuple[Ints, Ints]:
        """The faces as they are drawn: triangles (t, 3) of corners by the numbers here, and the
        starts (R+1,) of each face's."""
        cells = triangulate(self.points, self.starts, self.corners)
        count = np.bincount(cells.face, minlength=len(self.faces))
        # From vertices to the corners of the face they are in.
        face = cells.face.astype(np.int64)
        at = np.zeros(cells.corners.shape, dtype=np.int64)
        most = int(np.diff(self.starts).max())
        for k in range(most):
            corner = np.minimum(self.starts[face] + k, self.starts[face + 1] - 1)
            same = self.corners[corner][:, None] == cells.corners
            at = np.where(same, corner[:, None], at)
        return at, starts_of(count)

    @cached_property
    def surface(self) -> tuple[Floats, Ints, Floats, Ints, Ints]:
        """The faces as `nearest_round` takes them: triangles, their starts, boxes, and the faces
        beside each."""
        places = self.points[self.corners]
        return (
            self.triangle_places,
            self.triangles[1],
            boxes_of(places, self.starts),
            *self.neighbours,
        )

    @cached_property
    def triangle_places(self) -> Floats:
        """The corners (t, 3, 3) of all triangles."""
        return np.ascontiguousarray(self.points[self.corners[self.triangles[0]]])


def boxes_of(places: Floats, starts: Ints) -> Floats:
    """The low and high corners (n, 6) of faces given as rows of places."""
    low = np.minimum.reduceat(places, starts[:-1])
    return np.concatenate([low, np.maximum.reduceat(places, starts[:-1])], axis=1)


def ground_round(
    mesh: Mesh, seeds: Ints, rings: int, *, limit: Bools | None, even: float
) -> Ground:
    """The faces within so many rings of some `seeds (s,)`. Edges at which the surface bends by more
    than `even` degrees are locked."""
    edges = mesh.edges
    taken = np.zeros(mesh.face_count, dtype=bool)
    faces = np.sort(
        grow_fans(mesh.starts, mesh.corners, edges.of_corner, edges.faces, taken, seeds, rings)
    )
    at, starts = row_positions(mesh.starts, faces)
    vertices = distinct(mesh.corners[at].astype(np.int64))
    corners = np.searchsorted(vertices, mesh.corners[at])
    own = distinct(edges.of_corner[at].astype(np.int64))
    of_corner = np.searchsorted(own, edges.of_corner[at])
    there = edges.faces[own].astype(np.int64)
    inside = (there >= 0) & taken[np.maximum(there, 0)]
    beside = np.where(inside, np.searchsorted(faces, there), np.where(there < 0, -1, -2))
    # The face here comes first.
    beside = np.where((beside[:, :1] < 0), beside[:, ::-1], beside)
    outside = np.zeros(len(faces), dtype=bool) if limit is None else ~limit[faces]
    ground = Ground(
        mesh,
        faces,
        vertices,
        own,
        starts,
        corners,
        of_corner,
        beside,
        np.zeros(len(own), dtype=bool),
        outside,
        np.zeros(len(vertices), dtype=bool),
        np.zeros(len(vertices), dtype=bool),
    )
    crowded = np.isin(own, np.array(list(edges.crowded), dtype=np.int64))
    ground.locked[:] = _locked(ground, crowded, even)
    ends = ground.ends
    fixed = ground.fixed
    fixed[ends[(beside == -2).any(axis=1) | crowded].ravel()] = True
    # Where faces meet at a vertex alone, those elsewhere would be moved along.
    count = np.bincount(ends.ravel(), minlength=len(vertices))
    fixed[count != edges.valence[vertices]] = True
    beyond = corners[outside[owner_of(starts)]]
    ground.limited[beyond] = ~fixed[beyond]
    fixed[beyond] = True
    return ground


def _locked(ground: Ground, crowded: Bools, even: float) -> Bools:
    """Which edges (m,) stay where they are."""
    mesh, beside = ground.mesh, ground.beside
    found = (beside[:, 1] == -1) | crowded
    found |= mesh.edge_data.rows_of(mesh.edges.ends[ground.edges], mesh.vertex_count) >= 0
    both = np.flatnonzero((beside >= 0).all(axis=1))
    one, other = beside[both].T
    differs = _bends(ground.normals, beside[both]) > even
    differs |= ground.outside[one] != ground.outside[other]
    for kind in (mesh.patch, mesh.material):
        differs |= kind[ground.faces[one]] != kind[ground.faces[other]]
    found[both] |= differs
    found |= _seams(ground)
    return found


def _bends(normals: Floats, pairs: Ints) -> Floats:
    """The angles (n,) in degrees between the normals of pairs (n, 2) of faces."""
    one, other = normals[pairs[:, 0]], normals[pairs[:, 1]]
    across = np.linalg.norm(cross(one, other), axis=1)
    return np.degrees(np.arctan2(across, np.einsum("ij,ij->i", one, other)))


def _seams(ground: Ground) -> Bools:
    """Which edges (m,) are seams of the UVs."""
    mesh = ground.mesh
    found = np.zeros(len(ground.edges), dtype=bool)
    if mesh.uv is None:
        return found
    uv = mesh.uv[row_positions(mesh.starts, ground.faces)[0]]
    low_first = ground.corners < ground.corners[ground.following]
    here = np.arange(len(ground.corners))
    low = np.where(low_first, here, ground.following)
    high = np.where(low_first, ground.following, here)
    rows = np.concatenate([uv[low], uv[high]], axis=1)
    order = np.argsort(ground.of_corner, kind="stable")
    edge = ground.of_corner[order]
    same = edge[1:] == edge[:-1]
    one, other = rows[order][1:], rows[order][:-1]
    apart = ~((one == other) | (np.isnan(one) & np.isnan(other)))
    low_apart, high_apart = apart[:, :2].any(axis=1) & same, apart[:, 2:].any(axis=1) & same
    found[edge[1:][low_apart | high_apart]] = True
    # Where the UVs of a fan run together, each face has a place of its own for the middle; its
    # sides are no seams.
    at_end = np.zeros((len(found), 2), dtype=bool)
    at_end[edge[1:][low_apart], 0] = at_end[edge[1:][high_apart], 1] = True
    ends = ground.ends
    count = len(ground.vertices)
    every = np.bincount(ends.ravel(), minlength=count)
    torn = np.bincount(ends[at_end], minlength=count)
    middle = (every == torn) & (every > 2)
    found &= ~(at_end.sum(axis=1) == 1) | ~(middle[ends] & at_end).any(axis=1)
    return found
