"""The shortest way over the surface between two places, as spans of a trace."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.errors import PathError
from cutcore.geometry.arrays import INDEX, Bools, Floats, Ints, frozen
from cutcore.kernels import straighten, strip_along, vertex_way
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.triangle_links import triangle_links
from cutcore.trace.surface_points import SurfacePoint
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, SpanOf, TraceBuilder

# So often the strip of a way is laid anew before it is taken as it is.
MOST_ROUNDS = 20_000


@dataclass(frozen=True, eq=False)
class Geodesic:
    """A shortest way: the portals (n, 2) it passes, as the vertices to its left and right, the
    edges (n,) that these are, -1 for diagonals of a face, how far from the left to the right vertex
    it passes them (n,), and the faces (n+1,) before, between and behind them."""

    start: SurfacePoint
    end: SurfacePoint
    portals: Ints
    edges: Ints
    shares: Floats
    faces: Ints

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


def geodesic(mesh: Mesh, a: SurfacePoint, b: SurfacePoint, limit: Bools | None) -> Geodesic:
    """The shortest way between two places of the surface over the faces that a limit (F,) allows:
    that of all ways which run round the same side of everything as the shortest one along edges and
    across quads.

    Raises PathError if no way leads from one to the other."""
    links = triangle_links(mesh)
    beside = links.beside
    tri = mesh.triangles.corners
    if limit is not None:
        shut = ~limit[mesh.triangles.face]
        beside = beside.copy()
        beside[shut] = -1
        beside[(beside >= 0) & shut[np.maximum(beside, 0)]] = -1
        # Compiled loops take what can't be written to for another kind of array.
        beside = frozen(beside, INDEX)
    first, last = (_triangle_at(mesh, place, limit, links.first_of_face) for place in (a, b))
    if first < 0 or last < 0:
        raise _no_way(mesh, a, b)
    way = _vertex_way(mesh, a, b, limit, first, last)
    strip = _strip(mesh, beside, way, first, last, a, b)
    if len(strip) == 0:
        raise _no_way(mesh, a, b)
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


def _triangle_at(mesh: Mesh, place: SurfacePoint, limit: Bools | None, first_of_face: Ints) -> int:
    """A triangle that a place lies in, -1 if none of the limit does."""
    on = _lies_on(mesh, place)
    best, gap = -1, np.inf
    for face in place.faces(mesh):
        if limit is not None and not limit[face]:
            continue
        for t in range(int(first_of_face[face]), int(first_of_face[face + 1])):
            corners = mesh.triangles.corners[t]
            if place.kind != IN_FACE:
                if np.isin(on, corners).all():
                    return t
                continue
            away = _outside(mesh.points[corners], place.place)
            if away < gap:
                best, gap = t, away
    return best


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


def _strip(
    mesh: Mesh, beside: Ints, way: Ints, first: int, last: int, a: SurfacePoint, b: SurfacePoint
) -> Ints:
    if len(way) == 0:
        return way
    tri = mesh.triangles.corners
    if first == last:
        return np.array([first], dtype=np.int64)
    return strip_along(mesh.points, tri, beside, mesh.triangles.face, way, first, last)
