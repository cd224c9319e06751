"""The shortest way over the surface between two places, as spans of a trace."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from cutcore.errors import PathError
from cutcore.geometry.arrays import INDEX, Bools, Floats, Ints, frozen
from cutcore.kernels import (
    FOUND,
    GIVEN_UP,
    shortest_way,
    straighten,
    strip_along,
    triangles_at,
    vertex_way,
)
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.triangle_links import triangle_links
from cutcore.trace.surface_points import SurfacePoint
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, SpanOf, TraceBuilder

# So many windows are looked at, about a fifth of a second, before a way is taken that may not be the
# shortest.
MOST_WINDOWS = 150_000

# A few more may be made on the way.
_ROOM = 1000

# So often the strip of a way is laid anew before it is taken as it is.
MOST_ROUNDS = 20_000


@dataclass(frozen=True, eq=False)
class Geodesic:
    """A way over the surface: the portals (n, 2) it passes, as the vertices to its left and right, the
    edges (n,) that these are, -1 for diagonals of a face, how far from the left to the right vertex
    it passes them (n,), and the faces (n+1,) before, between and behind them. `shown` says whether
    no way is shorter, to rounding: where it would take too long to look at all, that is not known."""

    start: SurfacePoint
    end: SurfacePoint
    portals: Ints
    edges: Ints
    shares: Floats
    faces: Ints
    shown: bool

    def length(self, mesh: Mesh) -> float:
        """How long it is, through the triangles of the faces."""
        left, right = (mesh.points[self.portals[:, k]] for k in (0, 1))
        between = left + self.shares[:, None] * (right - left)
        places = np.concatenate([self.start.place[None], between, self.end.place[None]])
        return float(np.linalg.norm(np.diff(places, axis=0), axis=1).sum())

    def lay(self, builder: TraceBuilder, of: SpanOf) -> None:
        """Add its spans to a trace: straight from edge to edge, over faces of any size."""
        last, face = self.start.anchor(builder), int(self.faces[0])
        for here, beyond in zip(self._anchors(builder), self.faces[1:].tolist(), strict=True):
            if here >= 0:
                builder.span(last, here, face, of)
                last = here
            face = beyond
        builder.span(last, self.end.anchor(builder), face, of)

    def _anchors(self, builder: TraceBuilder) -> list[int]:
        """The anchor (n,) at each portal, -1 where a diagonal of a face is passed: those on edges
        that no other line meets, clear of their ends, all at once."""
        mesh = builder.mesh
        low_first = self.portals[:, 0] < self.portals[:, 1]
        share = np.where(low_first, self.shares, 1.0 - self.shares)
        low, high = (mesh.points[side] for side in np.sort(self.portals, axis=1).T)
        length = np.linalg.norm(high - low, axis=1)
        clear = (self.edges >= 0) & (np.minimum(share, 1.0 - share) * length > builder.weld)
        met = [builder.meets_edge(e) for e in self.edges.tolist()]
        clear &= ~np.array(met, dtype=bool)
        places = low + share[:, None] * (high - low)
        found = np.full(len(share), -1, dtype=np.int64)
        found[clear] = builder.add_on_edges(self.edges[clear], share[clear], places[clear])
        for k in np.flatnonzero(~clear).tolist():
            if self.edges[k] >= 0:
                found[k] = builder.on_edge(int(self.edges[k]), float(share[k]))
            elif share[k] in (0.0, 1.0):
                # At a corner of the face the way bends.
                found[k] = builder.vertex(
                    int(self.portals[k].min() if share[k] == 0.0 else self.portals[k].max())
                )
        return found.tolist()


def geodesic(
    mesh: Mesh, a: SurfacePoint, b: SurfacePoint, limit: Bools | None, *, most: int = MOST_WINDOWS
) -> Geodesic:
    """The shortest way between two places of the surface over the faces that a limit (F,) allows.

    A way along edges and across quads is made straight first; then all are looked at that could be
    shorter, by `most` windows at most. Raises PathError if no way leads from one to the other."""
    links = triangle_links(mesh)
    open_ = np.ones(len(links.beside), dtype=bool)
    if limit is not None:
        open_ = limit[mesh.triangles.face]
    first, last = (_triangles_at(mesh, place, open_, links.first_of_face) for place in (a, b))
    if len(first) == 0 or len(last) == 0:
        raise _no_way(mesh, a, b)
    straightened = _straightened(mesh, a, b, limit, int(first[0]), int(last[0]))
    known = np.inf if straightened is None else straightened.length(mesh)
    outcome, _, passed, shares = shortest_way(
        mesh.points,
        mesh.triangles.corners,
        links.beside,
        links.branch_starts,
        links.branches,
        open_,
        *_around_vertices(mesh),
        np.array(a.place),
        a.element if a.kind == ON_VERTEX else -1,
        first,
        np.array(b.place),
        b.element if b.kind == ON_VERTEX else -1,
        last,
        known,
        np.empty((most + _ROOM, 4), np.int64),
        np.empty((most + _ROOM, 5)),
        np.zeros((3 * len(links.beside), 2)),
        np.zeros(mesh.vertex_count, np.int8),
    )
    if outcome == FOUND:
        return _told(mesh, a, b, passed, shares)
    if straightened is None:
        raise _no_way(mesh, a, b)
    return replace(straightened, shown=outcome != GIVEN_UP)


def _around_vertices(mesh: Mesh) -> tuple[Ints, Ints]:
    """The triangles at each vertex, kept as long as the mesh."""
    return mesh.held(
        "_triangles_at", lambda of: triangles_at(of.triangles.corners, of.vertex_count)
    )


def _told(mesh: Mesh, a: SurfacePoint, b: SurfacePoint, passed: Ints, shares: Floats) -> Geodesic:
    """A way as the kernel tells it: the first triangle, then the sides it passes."""
    sides, triangles = passed[1:], np.append(-1 - passed[0], passed[1:] // 3)
    tri = mesh.triangles.corners
    ends = np.stack([tri[sides // 3, sides % 3], tri[sides // 3, (sides + 1) % 3]], axis=1).astype(
        np.int64
    )
    edges = triangle_links(mesh).edge[sides // 3, sides % 3]
    return Geodesic(a, b, ends, edges, shares[1:], mesh.triangles.face[triangles], shown=True)


def _straightened(
    mesh: Mesh, a: SurfacePoint, b: SurfacePoint, limit: Bools | None, first: int, last: int
) -> Geodesic | None:
    """The shortest of all ways that run round the same side of everything as the shortest one along
    edges and across quads; None if there is none between two triangles."""
    links = triangle_links(mesh)
    tri, beside = mesh.triangles.corners, links.beside
    if limit is not None:
        shut = ~limit[mesh.triangles.face]
        beside = beside.copy()
        beside[shut] = -1
        beside[(beside >= 0) & shut[np.maximum(beside, 0)]] = -1
        # Compiled loops take what can't be written to for another kind of array.
        beside = frozen(beside, INDEX)
    way = _vertex_way(mesh, a, b, limit, first, last)
    strip = _strip(mesh, beside, way, first, last)
    if len(strip) == 0:
        return None
    strip, left, right, shares = straighten(
        mesh.points,
        tri,
        beside,
        strip,
        np.array(a.place),
        np.array(b.place),
        _lies_on(mesh, a),
        _lies_on(mesh, b),
        MOST_ROUNDS,
    )
    side = np.argmax(beside[strip[:-1]] == strip[1:, None], axis=1)
    return Geodesic(
        a,
        b,
        np.stack([left, right], axis=1),
        links.edge[strip[:-1], side],
        shares,
        mesh.triangles.face[strip],
        shown=False,
    )


def _no_way(mesh: Mesh, a: SurfacePoint, b: SurfacePoint) -> PathError:
    return PathError(
        "no way leads over the surface from one point to the other",
        elements=(a.element_of(mesh), b.element_of(mesh)),
    )


def _lies_on(mesh: Mesh, place: SurfacePoint) -> Ints:
    """The vertices that a place lies on or between."""
    if place.kind == ON_VERTEX:
        return np.array([place.element], dtype=np.int64)
    if place.kind == ON_EDGE:
        return mesh.edges.ends[place.element].astype(np.int64)
    return np.zeros(0, dtype=np.int64)


def _triangles_at(mesh: Mesh, place: SurfacePoint, open_: Bools, first_of_face: Ints) -> Ints:
    """The open triangles (n,) that a place lies on or in; of those of a face the one it lies in."""
    on = _lies_on(mesh, place)
    found = []
    best, gap = -1, np.inf
    for face in place.faces(mesh):
        for t in range(int(first_of_face[face]), int(first_of_face[face + 1])):
            if not open_[t]:
                continue
            corners = mesh.triangles.corners[t]
            if place.kind != IN_FACE:
                if np.isin(on, corners).all():
                    found.append(t)
                continue
            away = _outside(mesh.points[corners], place.place)
            if away < gap:
                best, gap = t, away
    return np.array(found if best < 0 else [best], dtype=np.int64)


def _outside(corners: Floats, place: Floats) -> float:
    """How far a place is outside a triangle, in barycentric terms."""
    a, b, c = corners
    table = np.stack([b - a, c - a], axis=1)
    (v, w), *_ = np.linalg.lstsq(table, place - a, rcond=None)
    return float(-min(v, w, 1.0 - v - w))


def _vertex_way(
    mesh: Mesh, a: SurfacePoint, b: SurfacePoint, limit: Bools | None, first: int, last: int
) -> Ints:
    """The vertices of the shortest way along edges and across quads, from a corner of the first triangle (or the
    vertex itself) to one of the last."""
    table = mesh.edges
    starts, around = table.around_vertices
    ends: list[tuple[Ints, Floats]] = []
    for place, t in ((a, first), (b, last)):
        corners = _lies_on(mesh, place)
        if place.kind == IN_FACE:
            corners = mesh.triangles.corners[t].astype(np.int64)
        ends.append((corners, np.linalg.norm(mesh.points[corners] - place.place, axis=1)))
    (sources, there), (goals, from_there) = ends
    return vertex_way(
        mesh.points,
        mesh.starts,
        mesh.corners,
        table.ends,
        table.faces,
        starts,
        around,
        np.ones(mesh.face_count, dtype=bool) if limit is None else limit,
        sources,
        there,
        goals,
        from_there,
        np.array(b.place),
    )


def _strip(mesh: Mesh, beside: Ints, way: Ints, first: int, last: int) -> Ints:
    if len(way) == 0:
        return way
    tri = mesh.triangles.corners
    if first == last:
        return np.array([first], dtype=np.int64)
    return strip_along(mesh.points, tri, beside, mesh.triangles.face, way, first, last)
