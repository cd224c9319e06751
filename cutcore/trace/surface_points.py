"""The points a person chooses: where they lie on the part, and what the surface is like there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np
from pydantic import Discriminator, Field, Tag

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.camera import Camera, Pixel, Vector
from cutcore.geometry.polygons import distance_to_segments
from cutcore.geometry.tolerances import ROUNDING
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.mesh import Mesh, newell
from cutcore.notes import Element, edge, face, position, vertex
from cutcore.params import Index, Params, Real
from cutcore.queries.ray_caster import caster_of
from cutcore.queries.visibility import reach_of
from cutcore.trace.trace import (
    IN_FACE,
    ON_EDGE,
    ON_VERTEX,
    Trace,
    TraceBuilder,
    anchor_place,
    share_of,
)

# A place given for a face may be off it by rounding in a file, not by more than this share of the
# diagonal.
FACE_PLACE_SLACK = 1e-3


OFF = 3

Share = Annotated[Real, Field(ge=0, le=1)]


class VertexPoint(Params):
    """A point on a vertex."""

    vertex: Index


class EdgePoint(Params):
    """A point at a share `t` of an edge, from the first vertex named."""

    edge: tuple[Index, Index]
    t: Share


class FacePoint(Params):
    """A point inside a face."""

    face: Index
    at: Vector


class ScreenPoint(Params):
    """A point of the view: the first place of the part under a pixel, or off the part."""

    screen: Pixel


def _form_of(point: Any) -> str:
    """Which form of point is meant, by the field it has: a wrong value is then refused under its
    own name."""
    for form in (EdgePoint, FacePoint, ScreenPoint):
        first = next(iter(form.model_fields))
        if isinstance(point, form) or (isinstance(point, dict) and first in point):
            return form.__name__
    return VertexPoint.__name__


KnifePoint = Annotated[
    Annotated[VertexPoint, Tag("VertexPoint")]
    | Annotated[EdgePoint, Tag("EdgePoint")]
    | Annotated[FacePoint, Tag("FacePoint")]
    | Annotated[ScreenPoint, Tag("ScreenPoint")],
    Discriminator(_form_of),
]


@dataclass(frozen=True)
class SurfacePoint:
    """A chosen point on one mesh: `kind` is ON_VERTEX, ON_EDGE, IN_FACE or OFF (beside the part).

    `share` runs from the lower vertex of the edge. Beside the part, `place` is any place on the
    line of sight."""

    kind: int
    element: int
    share: float
    place: Floats

    @staticmethod
    def of(trace: Trace, anchor: int) -> SurfacePoint:
        """Where an anchor of a trace lies."""
        return SurfacePoint(
            int(trace.kind[anchor]),
            int(trace.element[anchor]),
            float(trace.share[anchor]),
            trace.place[anchor],
        )

    def element_of(self, mesh: Mesh) -> Element:
        """How a note names this place."""
        if self.kind == ON_VERTEX:
            return vertex(self.element)
        if self.kind == ON_EDGE:
            return edge(mesh.edges.ends[self.element])
        return face(self.element) if self.kind == IN_FACE else position(self.place)

    def faces(self, mesh: Mesh) -> tuple[int, ...]:
        """The faces that meet here."""
        if self.kind == ON_VERTEX:
            return tuple(mesh.edges.faces_at_vertex(self.element).tolist())
        return mesh.edges.faces_at(self.element) if self.kind == ON_EDGE else (self.element,)

    def anchor(self, builder: TraceBuilder) -> int:
        """This place in a trace under construction."""
        if self.kind == ON_VERTEX:
            return builder.vertex(self.element)
        if self.kind == ON_EDGE:
            return builder.on_edge(self.element, self.share)
        return builder.in_face(self.element, self.place)

    def normal(self, mesh: Mesh) -> Floats:
        """The surface normal (3,) here: the mean of the unit normals of the faces that meet
        here."""
        normals = mesh.face_normals(np.array(self.faces(mesh), dtype=np.int64))
        sizes = np.linalg.norm(normals, axis=1, keepdims=True)
        unit = normals / np.where(sizes > 0, sizes, 1.0)
        return np.asarray(unit.mean(axis=0)) if len(unit) else np.zeros(3)


def locate(mesh: Mesh, point: KnifePoint, camera: Camera | None, *, weld: float) -> SurfacePoint:
    """Find a point of a step on the mesh. Raises StepError, naming the field, if it is not
    there."""
    match point:
        case VertexPoint():
            if point.vertex >= mesh.vertex_count:
                raise StepError(
                    f"there are {mesh.vertex_count} vertices, got vertex {point.vertex}",
                    where="vertex",
                )
            return SurfacePoint(ON_VERTEX, point.vertex, 0.0, mesh.points[point.vertex])
        case EdgePoint():
            a, b = point.edge
            found = mesh.edges.between(a, b)
            if found < 0:
                raise StepError(f"there is no edge between the vertices {a} and {b}", where="edge")
            return surface_point_on_edge(
                mesh, found, point.t if a < b else 1.0 - point.t, weld=weld
            )
        case FacePoint():
            return _in_face(mesh, point, weld=weld)
        case ScreenPoint():
            if camera is None:
                raise StepError("a point given by screen needs a view", where="screen")
            return under_pixel(mesh, point.screen, camera, weld=weld)


def surface_point_on_edge(mesh: Mesh, index: int, share: float, *, weld: float) -> SurfacePoint:
    """The surface point at a share of an edge from its lower vertex; within the tolerance of an
    end, the vertex."""
    low, high = (int(v) for v in mesh.edges.ends[index])
    length = float(np.linalg.norm(mesh.points[high] - mesh.points[low]))
    if share * length <= weld:
        return SurfacePoint(ON_VERTEX, low, 0.0, mesh.points[low])
    if (1.0 - share) * length <= weld:
        return SurfacePoint(ON_VERTEX, high, 0.0, mesh.points[high])
    return SurfacePoint(ON_EDGE, index, share, anchor_place(mesh, index, share))


def surface_point_in_face(mesh: Mesh, index: int, place: Floats, *, weld: float) -> SurfacePoint:
    """The surface point at a place of a face; within the tolerance of its border, on that vertex or
    edge."""
    loop = mesh.face(index)
    places = mesh.points[loop]
    after = np.roll(places, -1, axis=0)
    gaps = distance_to_segments(place[None], places, after)[0]
    nearest = int(np.argmin(gaps))
    if gaps[nearest] > weld:
        return SurfacePoint(IN_FACE, index, 0.0, place)
    border = int(mesh.edges.of_corner[mesh.starts[index] + nearest])
    return surface_point_on_edge(mesh, border, share_of(mesh, border, place), weld=weld)


def under_pixel(mesh: Mesh, pixel: Pixel, camera: Camera, *, weld: float) -> SurfacePoint:
    """The first place of the mesh under a pixel, or a surface point beside the part."""
    origin, direction = camera.ray(pixel, reach=reach_of(mesh, camera))
    hit = caster_of(mesh).first(origin[None], direction[None])
    if hit.face[0] < 0:
        return SurfacePoint(OFF, -1, 0.0, origin + direction * max(mesh.diagonal, 1.0))
    return surface_point_in_face(
        mesh, int(hit.face[0]), origin + direction * hit.distance[0], weld=weld
    )


def _in_face(mesh: Mesh, point: FacePoint, *, weld: float) -> SurfacePoint:
    if point.face >= mesh.face_count:
        raise StepError(f"there are {mesh.face_count} faces, got face {point.face}", where="face")
    place = np.array(point.at, dtype=np.float64)
    corners = mesh.points[mesh.triangles.of_face(point.face)]
    nearest = _nearest_on_triangles(place, corners)
    if np.linalg.norm(nearest - place) > _slack_of(mesh.points[mesh.face(point.face)]) + weld:
        raise StepError(
            f"the place does not lie on face {point.face}", where="at", elements=(face(point.face),)
        )
    return surface_point_in_face(mesh, point.face, nearest, weld=weld)


def _slack_of(corners: Floats) -> float:
    """How far a place may be off the triangles that a face (n, 3) is drawn in: a bent face has no
    one surface, and places are written with few digits."""
    middle = corners.mean(axis=0)
    normal = newell(corners, np.array([0, len(corners)]))[0]
    size = float(np.linalg.norm(normal))
    warp = 2.0 * float(np.abs((corners - middle) @ (normal / size)).max()) if size > 0 else 0.0
    return warp + FACE_PLACE_SLACK * float(np.linalg.norm(np.ptp(corners, axis=0)))


def _nearest_on_triangles(place: Floats, corners: Floats) -> Floats:
    """The place on triangles (T, 3, 3) nearest to a place (3,)."""
    best, best_gap = place, np.inf
    for a, b, c in corners:
        normal = cross(b - a, c - a)
        size = float(normal @ normal)
        candidates = []
        if size > 0:
            foot = place - normal * float((place - a) @ normal) / size
            weights = [float(cross(q - p, foot - p) @ normal) for p, q in ((a, b), (b, c), (c, a))]
            if min(weights) >= -ROUNDING * size:
                candidates.append(foot)
        for p, q in ((a, b), (b, c), (c, a)):
            along = q - p
            share = np.clip(
                float((place - p) @ along) / max(float(along @ along), NOT_ZERO), 0.0, 1.0
            )
            candidates.append(p + share * along)
        for candidate in candidates:
            gap = float(np.linalg.norm(candidate - place))
            if gap < best_gap:
                best, best_gap = candidate, gap
    return best
