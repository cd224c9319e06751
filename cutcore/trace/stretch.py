"""A stretch of a line: the spans between two chosen points.

The surface is cut by a plane that holds both points: the plane of sight if there is a view, else
the plane that also holds the mean of the surface normals. Which part of that section is meant:

- without a view: the shortest way along the section from one point to the other;
- near side: the way that joins the points within the wedge of sight between them, the nearer side
  preferred; if there is none (a gap, or a point beside the part) what can be seen between them;
- right through: everything in the wedge.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import dijkstra

from cutcore.errors import PathError
from cutcore.geometry.arrays import Bools, Floats, Ints, cross
from cutcore.geometry.camera import Camera
from cutcore.geometry.plane import Plane
from cutcore.geometry.tolerances import NEGLIGIBLE, ROUNDING
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.kernels import convex_normal
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Note
from cutcore.queries.section import section
from cutcore.queries.visibility import look_at
from cutcore.trace.section_trace import segments_within
from cutcore.trace.surface_points import OFF, SurfacePoint
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, SpanOf, TraceBuilder

# How much longer a way on the far side must be before it is taken for the near one.
FAR_COSTS = 16.0

# Heights of this share of the part's diagonal are rounding, not tilt.
NO_TILT = 1e-11


@dataclass(frozen=True)
class Reach:
    """How a stretch is aimed: the camera, if there is a view, right through or not, and the faces
    it may cross.

    `seen_only` keeps the near side to what can be seen; else a line may run on out of sight between
    two points. `faces` are those (ascending) that the stretch can meet, if that is known."""

    camera: Camera | None
    through: bool
    limit: Bools | None
    seen_only: bool = False
    faces: Ints | None = None


def lay_stretch(
    builder: TraceBuilder,
    a: SurfacePoint,
    b: SurfacePoint,
    reach: Reach,
    *,
    line: int,
    stretch: int,
) -> None:
    """Add the spans between two surface points to a trace. Raises PathError if no surface lies
    between them."""
    if _within_one_face(builder, a, b, reach, line=line, stretch=stretch):
        return
    plane = _plane_between(builder.mesh, a, b, reach.camera)
    pieces = _Pieces(
        builder.mesh, plane, a, b, weld=builder.weld, limit=reach.limit, faces=reach.faces
    )
    if reach.camera is None:
        chosen = pieces.way()
    else:
        pieces.clip(reach.camera)
        chosen = np.arange(len(pieces.ends)) if reach.through else None
        if chosen is None and OFF not in (a.kind, b.kind):
            chosen = pieces.way(np.where(pieces.far, FAR_COSTS, 1.0))
            if chosen is not None and reach.seen_only and pieces.far[chosen].any():
                chosen = None
        if chosen is None:
            chosen = np.flatnonzero(~pieces.far)
            if (pieces.face[chosen] >= 0).any() and OFF not in (a.kind, b.kind):
                words = "The surface does not run on between two points: the line is cut where it can be seen."
                builder.note(
                    Note(
                        "broken-line",
                        words,
                        (a.element_of(builder.mesh), b.element_of(builder.mesh)),
                    )
                )
    if chosen is None or len(chosen) == 0:
        raise PathError(
            "no surface lies between the two points",
            elements=(a.element_of(builder.mesh), b.element_of(builder.mesh)),
        )
    pieces.lay(builder, chosen, line=line, stretch=stretch)


def _within_one_face(
    builder: TraceBuilder,
    a: SurfacePoint,
    b: SurfacePoint,
    reach: Reach,
    *,
    line: int,
    stretch: int,
) -> bool:
    """Lay the span itself where the two surface points lie on one convex face that allows it: no
    other way is shorter."""
    if reach.through or OFF in (a.kind, b.kind):
        return False
    mesh = builder.mesh
    common = set(a.faces(mesh)) & set(b.faces(mesh))
    if len(common) != 1:
        return False
    face = common.pop()
    if reach.limit is not None and not reach.limit[face]:
        return False
    x, y, z, convex = convex_normal(mesh.points[mesh.face(face)])
    if not convex:
        return False
    if reach.camera is not None:
        middle = 0.5 * (a.place + b.place)
        if float(np.array([x, y, z]) @ reach.camera.sights(middle[None])[0]) >= 0:
            return False
    builder.span(a.anchor(builder), b.anchor(builder), face, SpanOf(line, stretch))
    return True


def _plane_between(mesh: Mesh, a: SurfacePoint, b: SurfacePoint, camera: Camera | None) -> Plane:
    """The plane of sight through two surface points, or the one through them and the mean surface
    normal."""
    chord = b.place - a.place
    if camera is None:
        first, second = a.normal(mesh), b.normal(mesh)
        inner = first + second
        if np.linalg.norm(cross(chord, inner)) <= NEGLIGIBLE * np.linalg.norm(chord):
            inner = first
    elif camera.parallel:
        inner = camera.forward
    else:
        inner = a.place - camera.eye
    normal = cross(chord, inner)
    if np.linalg.norm(normal) <= ROUNDING * np.linalg.norm(chord) * max(
        float(np.linalg.norm(inner)), NOT_ZERO
    ):
        raise PathError(
            "the two points lie in one line of sight"
            if camera
            else "the two points do not settle a direction: give a view",
            elements=(a.element_of(mesh), b.element_of(mesh)),
        )
    return Plane.through(a.place, normal)


# A line meets a triangle if it passes it by no more than this share of its size.
MET_SLACK = 1e-9


class _Pieces:
    """The segments of one section, with the two chosen points put in as nodes of their own."""

    def __init__(
        self,
        mesh: Mesh,
        plane: Plane,
        a: SurfacePoint,
        b: SurfacePoint,
        *,
        weld: float,
        limit: Bools | None,
        faces: Ints | None,
    ) -> None:
        self.mesh, self.weld = mesh, weld
        self.plane = plane
        pinned, released = _settled(mesh, plane, (a, b))
        found = section(mesh, plane, weld=weld, faces=faces, pinned=pinned, released=released)
        keep = (
            np.ones(len(found.ends), dtype=bool)
            if limit is None
            else segments_within(mesh, found, limit)
        )
        self.kind = np.where(found.vertex >= 0, ON_VERTEX, ON_EDGE).astype(np.int64)
        self.element = np.where(found.vertex >= 0, found.vertex, found.edge)
        self.share = found.share.copy()
        self.place = found.place
        self.ends = found.ends[keep]
        self.face = found.face[keep]
        self.far = np.zeros(len(self.ends), dtype=bool)
        self.surface_points = (a, b)
        self.start, self.stop = (self._node_at(surface_point) for surface_point in (a, b))

    def way(self, cost: Floats | None = None) -> Ints | None:
        """The segments of the cheapest way from the first point to the second, or None if there is
        none."""
        if self.start < 0 or self.stop < 0 or len(self.ends) == 0:
            return None
        length = np.linalg.norm(self.place[self.ends[:, 1]] - self.place[self.ends[:, 0]], axis=1)
        weight = length * (1.0 if cost is None else cost) + NEGLIGIBLE * self.weld
        low, high = self.ends.min(axis=1), self.ends.max(axis=1)
        order = np.lexsort((weight, high, low))
        fresh = np.ones(len(order), dtype=bool)
        fresh[1:] = (low[order][1:] != low[order][:-1]) | (high[order][1:] != high[order][:-1])
        best = order[fresh]
        count = len(self.kind)
        graph = csr_matrix((weight[best], (low[best], high[best])), shape=(count, count))
        distance, before = dijkstra(
            graph, directed=False, indices=self.start, return_predecessors=True
        )
        if not np.isfinite(distance[self.stop]):
            return None
        chosen: list[int] = []
        keys = low[best] * count + high[best]
        node = self.stop
        while node != self.start:
            earlier = int(before[node])
            chosen.append(
                int(best[np.searchsorted(keys, min(node, earlier) * count + max(node, earlier))])
            )
            node = earlier
        return np.array(chosen[::-1], dtype=np.int64)

    def clip(self, camera: Camera) -> None:
        """Keep what lies in the wedge of sight between the two points, and settle which pieces are
        far."""
        inward = self._wedge(camera)
        height = np.stack([(self.place - at) @ normal for at, normal in inward], axis=1)
        height[np.abs(height) <= self.weld] = 0.0
        inside: Bools = np.all(height >= 0, axis=1)
        both: Bools = np.logical_and.reduce(inside[self.ends], axis=1)
        partly = np.flatnonzero(
            ~both
            & (self.face >= 0)
            & np.logical_and.reduce(np.logical_or.reduce(height[self.ends] > 0, axis=1), axis=1)
        )
        ends, faces = [self.ends[both]], [self.face[both]]
        for s in partly.tolist():
            nodes = self._clipped(s, height, camera)
            if nodes is not None:
                ends.append(np.array([nodes]))
                faces.append(self.face[s : s + 1])
        self.ends, self.face = np.concatenate(ends), np.concatenate(faces)
        if camera.from_eye or not camera.parallel:
            front = (camera.depth(self.place) > 0)[self.ends].all(axis=1)
            self.ends, self.face = self.ends[front], self.face[front]
        self.far = self._hidden(camera)

    def lay(self, builder: TraceBuilder, chosen: Ints, *, line: int, stretch: int) -> None:
        """Add the chosen segments to a trace."""
        anchors: dict[int, int] = {}
        for node, surface_point in zip((self.start, self.stop), self.surface_points, strict=True):
            if node >= 0:
                anchors[node] = surface_point.anchor(builder)
        for s in chosen.tolist():
            a, b = (self._anchor(builder, anchors, int(n)) for n in self.ends[s])
            builder.span(a, b, int(self.face[s]), SpanOf(line, stretch, bool(self.far[s])))

    def _anchor(self, builder: TraceBuilder, anchors: dict[int, int], node: int) -> int:
        if node not in anchors:
            element = int(self.element[node])
            if self.kind[node] == ON_VERTEX:
                anchors[node] = builder.vertex(element)
            elif self.kind[node] == ON_EDGE:
                anchors[node] = builder.on_edge(element, float(self.share[node]))
            else:
                anchors[node] = builder.in_face(element, self.place[node])
        return anchors[node]

    def _node_at(self, surface_point: SurfacePoint) -> int:
        """The node of a chosen point, put into the segment it lies on where it is not a node
        already; -1 if beside."""
        if surface_point.kind == OFF:
            return -1
        same = np.flatnonzero(
            (self.kind == surface_point.kind) & (self.element == surface_point.element)
        )
        if surface_point.kind != IN_FACE and len(same):
            node = int(same[0])
            self.share[node] = surface_point.share
            return node
        if surface_point.kind == IN_FACE:
            near = np.flatnonzero(self.face == surface_point.element)
        else:
            ends = self.mesh.edges.ends[surface_point.element]
            near = np.flatnonzero(
                (self.face < 0) & np.isin(self.element[self.ends], ends).all(axis=1)
            )
        if len(near) == 0:
            return -1
        gap = _distance(
            surface_point.place, self.place[self.ends[near, 0]], self.place[self.ends[near, 1]]
        )
        split = int(near[int(np.argmin(gap))])
        for node in self.ends[split].tolist():
            if (
                self.kind[node] == IN_FACE
                and np.linalg.norm(self.place[node] - surface_point.place) <= self.weld
            ):
                return int(node)
        return self._split(
            split,
            surface_point.kind,
            surface_point.element,
            surface_point.share,
            surface_point.place,
        )

    def _split(self, segment: int, kind: int, element: int, share: float, place: Floats) -> int:
        node = self._new_node(kind, element, share, place)
        a, b = self.ends[segment]
        self.ends = np.concatenate(
            [self.ends[:segment], [[a, node], [node, b]], self.ends[segment + 1 :]]
        )
        self.face = np.insert(self.face, segment, self.face[segment])
        self.far = np.insert(self.far, segment, self.far[segment])
        return node

    def _new_node(self, kind: int, element: int, share: float, place: Floats) -> int:
        self.kind = np.append(self.kind, kind)
        self.element = np.append(self.element, element)
        self.share = np.append(self.share, share)
        self.place = np.concatenate([self.place, place[None]])
        return len(self.kind) - 1

    def _wedge(self, camera: Camera) -> list[tuple[Floats, Floats]]:
        """The two planes that bound the wedge, as (place, inward normal)."""
        a, b = (surface_point.place for surface_point in self.surface_points)
        if camera.parallel:
            inward = cross(camera.forward, self.plane.normal)
            inward *= np.sign(float((b - a) @ inward)) or 1.0
            return [(a, inward), (b, -inward)]
        planes = []
        for own, other in ((a, b), (b, a)):
            inward = cross(own - camera.eye, self.plane.normal)
            inward /= np.linalg.norm(inward)
            planes.append((own, inward * (np.sign(float((other - own) @ inward)) or 1.0)))
        return planes

    def _clipped(self, segment: int, height: Floats, camera: Camera) -> tuple[int, int] | None:
        """The part of a segment inside the wedge as two nodes, new ones inside the face where it
        was clipped."""
        a, b = (int(n) for n in self.ends[segment])
        enter, leave = 0.0, 1.0
        entered = left = -1
        for k in range(height.shape[1]):
            ha, hb = float(height[a, k]), float(height[b, k])
            if ha < 0 and hb < 0:
                return None
            if ha < 0 and ha / (ha - hb) > enter:
                enter, entered = ha / (ha - hb), k
            elif hb < 0 and ha / (ha - hb) < leave:
                leave, left = ha / (ha - hb), k
        if (leave - enter) * float(np.linalg.norm(self.place[b] - self.place[a])) <= self.weld:
            return None
        face = int(self.face[segment])
        chord = self.place[b] - self.place[a]
        first = (
            a
            if entered < 0
            else self._new_node(
                IN_FACE, face, 0.0, self._met(face, entered, self.place[a] + enter * chord, camera)
            )
        )
        last = (
            b
            if left < 0
            else self._new_node(
                IN_FACE, face, 0.0, self._met(face, left, self.place[a] + leave * chord, camera)
            )
        )
        return first, last

    def _met(self, face: int, boundary: int, place: Floats, camera: Camera) -> Floats:
        """Where the line of sight of a chosen point meets a face near a place of its section. The
        section of a bent face runs beside its surface; the stretches on either side of a point end
        at the same place only on the surface."""
        corners = self.mesh.points[self.mesh.triangles.of_face(face)]
        surface_point = self.surface_points[boundary].place
        direction = camera.forward if camera.parallel else surface_point - camera.eye
        first, second, third = corners[:, 0], corners[:, 1], corners[:, 2]
        normal = cross(second - first, third - first)
        if len(corners) < 2 or np.abs(
            (corners[1:] - first[0]) @ normal[0]
        ).max() <= self.weld * float(np.linalg.norm(normal[0])):
            return place
        with np.errstate(divide="ignore", invalid="ignore"):
            along = ((first - surface_point) * normal).sum(axis=1) / (normal @ direction)
        # Triangles that the line runs beside have no place where they meet.
        meets = np.isfinite(along)
        hits = surface_point + np.where(meets, along, 0.0)[:, None] * direction
        outside = np.where(meets, 0.0, np.inf)
        for p, q in ((first, second), (second, third), (third, first)):
            outside = np.fmax(outside, -(cross(q - p, hits - p) * normal).sum(axis=1))
        # A line through a corner or along a side meets both triangles there: rounding must not let
        # it slip between.
        met = np.flatnonzero(outside <= MET_SLACK * (normal**2).sum(axis=1))
        if len(met) == 0:
            return place
        return np.asarray(hits[met[int(np.argmin(((hits[met] - place) ** 2).sum(axis=1)))]])

    def _hidden(self, camera: Camera) -> Bools:
        """Which segments a person does not see: turned away, or with something before their middle.

        Settled by the middle of each segment, so that a line always ends on an edge of the part.
        """
        if len(self.ends) == 0:
            return np.zeros(0, dtype=bool)
        middle = self.place[self.ends].mean(axis=1)
        seen = look_at(self.mesh, camera, middle, own=self.face)
        covered: Bools = ~seen.clear
        crossing = np.flatnonzero(self.face >= 0)
        normals = self.mesh.face_normals(self.face[crossing])
        covered[crossing] |= np.einsum("ij,ij->i", normals, seen.sights[crossing]) >= 0
        return covered


def _settled(
    mesh: Mesh, plane: Plane, surface_points: tuple[SurfacePoint, SurfacePoint]
) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """What the chosen points settle about sides: (vertices on the section, vertices beside it
    however near).

    A chosen vertex lies on the section. Beside a chosen edge point the section must cross that
    edge, or hold all of it if both of its ends are on one side by rounding alone."""
    pinned: list[int] = []
    released: list[int] = []
    for surface_point in surface_points:
        if surface_point.kind == ON_VERTEX:
            pinned.append(surface_point.element)
        elif surface_point.kind == ON_EDGE:
            low, high = plane.heights(mesh.points[mesh.edges.ends[surface_point.element]])
            tilted = max(abs(low), abs(high)) > mesh.diagonal * NO_TILT and low * high < 0
            (released if tilted else pinned).extend(
                int(v) for v in mesh.edges.ends[surface_point.element]
            )
    return tuple(pinned), tuple(v for v in released if v not in pinned)


def _distance(place: Floats, a: Floats, b: Floats) -> Floats:
    along = b - a
    share = np.clip(
        ((place - a) * along).sum(axis=1) / np.maximum((along**2).sum(axis=1), NOT_ZERO), 0.0, 1.0
    )
    return np.asarray(np.linalg.norm(a + share[:, None] * along - place, axis=1))
