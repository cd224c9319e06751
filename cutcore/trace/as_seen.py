"""Lines laid onto the part as a camera sees it: outlines on their way, and strokes of the hand."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from scipy.spatial import cKDTree

from cutcore.errors import PathError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.camera import Camera
from cutcore.geometry.polygons import distance_to_segments
from cutcore.kernels import border_gaps, face_boxes, walk_stretches
from cutcore.mesh.mesh import Mesh
from cutcore.progress import one_by_one
from cutcore.queries.ray_caster import caster_of
from cutcore.queries.visibility import look_at, reach_of
from cutcore.trace.stretch import Reach, lay_stretch
from cutcore.trace.surface_points import OFF, SurfacePoint, surface_point_on_edge, under_pixel
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, SpanOf, TraceBuilder, share_of

# Boxes of faces in a view are widened by this share of the largest, for rounding.
BOX_MARGIN = 1e-6


@dataclass(frozen=True, eq=False)
class Polyline:
    """A line of places (n, 3), seen at pixels `flat (n, 2)`; of some, by position, it is `known`
    where on the part they lie."""

    places: Floats
    flat: Floats
    closed: bool
    known: Mapping[int, SurfacePoint] = field(default_factory=dict)

    def stretches(self) -> Ints:
        """The positions (s, 2) that each stretch joins."""
        count = len(self.flat) if self.closed else len(self.flat) - 1
        return np.stack([np.arange(count), np.arange(1, count + 1) % len(self.flat)], axis=1)


class Seen:
    """The part as a camera sees it: its vertices in pixels, and which faces a stretch of an outline
    can meet."""

    def __init__(self, mesh: Mesh, camera: Camera) -> None:
        self.mesh, self.camera = mesh, camera
        self.pixels, deep = camera.project_deep(mesh.points)
        self.depth = np.ones(mesh.vertex_count) if deep is None else deep

    @cached_property
    def _boxes(self) -> Floats | None:
        """The boxes of the faces (4, F), widened for rounding; None if a vertex is not in front of
        the eye."""
        if not np.isfinite(self.pixels).all():
            return None
        boxes = face_boxes(self.pixels, self.mesh.starts, self.mesh.corners)
        margin = BOX_MARGIN * max(float(np.ptp(boxes[k::2])) for k in (0, 1))
        boxes[:2] -= margin
        boxes[2:] += margin
        return boxes

    def meeting(self, places: Floats, among: Ints | None = None) -> Ints:
        """The faces (n,), of all or of some, whose boxes meet the box of some pixels (k, 2)."""
        if self._boxes is None:
            return np.arange(self.mesh.face_count)
        boxes = self._boxes if among is None else self._boxes[:, among]
        (left, top), (right, bottom) = places.min(axis=0), places.max(axis=0)
        found = np.flatnonzero(
            (boxes[2] >= left) & (boxes[0] <= right) & (boxes[3] >= top) & (boxes[1] <= bottom)
        )
        return found if among is None else among[found]

    def walked(
        self,
        builder: TraceBuilder,
        flat: Floats,
        stretches: Ints,
        clear: float,
        limit: Bools | None,
        line: int,
        known: Ints,
    ) -> Bools:
        """Lay the stretches (s, 2) of a polyline that can be seen whole, face by face, into a
        trace; which they were (s,).

        Its points, at `flat (n, 2)`, must lie inside faces, further than `clear` from their
        borders; those at the positions `known` are left out."""
        mesh, table = self.mesh, self.mesh.edges
        origins, sights = self.camera.rays(flat, reach=reach_of(mesh, self.camera))
        hits = caster_of(mesh).first(origins, sights)
        face = np.where(np.isfinite(hits.distance), hits.face, -1)
        face[known] = -1
        place = origins + sights * np.where(face >= 0, hits.distance, 0.0)[:, None]
        # A point that falls where another does is left to be told to be the same.
        twice = cKDTree(place[face >= 0]).query_pairs(builder.weld, output_type="ndarray")
        face[np.flatnonzero(face >= 0)[np.unique(twice)]] = -1
        on = np.flatnonzero(face >= 0)
        near = border_gaps(mesh.points, mesh.starts, mesh.corners, face[on], place[on]) <= clear
        face[on[near]] = -1
        barred = table.border.copy()
        barred[list(table.crowded)] = True
        rows = (
            mesh.points,
            mesh.starts,
            mesh.corners,
            table.of_corner,
            table.ends,
            table.faces,
            barred,
            place,
            flat,
            face,
        )
        room = 16 * len(flat) + 20_000
        edge, share, spans, span_face, span_of, done = walk_stretches(
            self.pixels, self.depth, *rows, stretches, builder.weld, room
        )
        low = mesh.points[table.ends[edge, 0]]
        everywhere = np.concatenate(
            [place, low + share[:, None] * (mesh.points[table.ends[edge, 1]] - low)]
        )
        middle = everywhere[spans].mean(axis=1)
        hidden = ~look_at(mesh, self.camera, middle, own=span_face).clear
        if self.camera.from_eye or not self.camera.parallel:
            hidden |= self.camera.depth(middle) <= 0
        if limit is not None:
            hidden |= ~limit[span_face]
        done[span_of[hidden]] = False
        keep = done[span_of]
        spans, span_face, span_of = spans[keep], span_face[keep], span_of[keep]
        used = np.unique(spans)
        inside, crossing = used[used < len(flat)], used[used >= len(flat)] - len(flat)
        anchor = np.full(len(everywhere), -1, dtype=np.int64)
        anchor[inside] = builder.add_in_faces(face[inside], place[inside])
        anchor[len(flat) + crossing] = builder.add_on_edges(
            edge[crossing], share[crossing], everywhere[len(flat) + crossing]
        )
        for (a, b), f, s in zip(
            anchor[spans].tolist(), span_face.tolist(), span_of.tolist(), strict=True
        ):
            builder.spans.setdefault((min(a, b), max(a, b), f), SpanOf(line, int(stretches[s, 0])))
        return done


def lay_as_seen(
    builder: TraceBuilder,
    seen: Seen,
    line: Polyline,
    *,
    number: int,
    through: bool,
    limit: Bools | None,
    settle: float = 0.0,
) -> Bools:
    """Lay a polyline stretch by stretch as line `number` of a trace; which of its stretches (s,)
    lie on the part, wholly or in part.

    Near side, the stretches that are seen whole are walked all at once; what is left is found by
    the planes of sight. Points go to a vertex or edge of their face that lies within `settle`."""
    mesh, camera, flat = builder.mesh, seen.camera, line.flat
    stretches = line.stretches()
    done = np.zeros(len(stretches), dtype=bool)
    if not through:
        known = np.array(sorted(line.known), dtype=np.int64)
        clear = max(builder.weld, settle)
        done = seen.walked(builder, flat, stretches, clear, limit, number, known)
    laid = done.copy()
    surface_points: dict[int, SurfacePoint] = {} if through else dict(line.known)
    among = seen.meeting(flat) if not done.all() else np.zeros(0, np.int64)
    for p, pair in enumerate(one_by_one("laying the line", stretches.tolist())):
        if done[p]:
            continue
        faces = seen.meeting(flat[pair], among)
        if len(faces) == 0:
            continue
        for q in pair:
            if q not in surface_points:
                found = _surface_point(
                    mesh, camera, line.places[q], flat[q], through=through, weld=builder.weld
                )
                surface_points[q] = (
                    found if settle == 0 else _settled(mesh, found, settle, builder.weld)
                )
        a, b = (surface_points[q] for q in pair)
        if _same_place(a, b):
            continue
        before = len(builder.spans)
        notes = list(builder.notes)
        try:
            lay_stretch(
                builder,
                a,
                b,
                Reach(camera, through, limit, seen_only=True, faces=faces),
                line=number,
                stretch=p,
            )
        except PathError:
            continue
        finally:
            # Where a line is cut off is said once for the line, not for every stretch.
            builder.notes = notes
        laid[p] = len(builder.spans) > before
    return laid


def _settled(mesh: Mesh, surface_point: SurfacePoint, within: float, weld: float) -> SurfacePoint:
    """A surface point on the nearest vertex, else edge, of its face that lies within a distance;
    else itself."""
    if surface_point.kind not in (IN_FACE, ON_EDGE):
        return surface_point
    around = (
        mesh.face(surface_point.element)
        if surface_point.kind == IN_FACE
        else mesh.edges.ends[surface_point.element]
    )
    away = np.linalg.norm(mesh.points[around] - surface_point.place, axis=1)
    if float(away.min()) <= within:
        vertex = int(around[int(np.argmin(away))])
        return SurfacePoint(ON_VERTEX, vertex, 0.0, mesh.points[vertex])
    if surface_point.kind == ON_EDGE:
        return surface_point
    loop = mesh.points[around]
    gaps = distance_to_segments(surface_point.place[None], loop, np.roll(loop, -1, axis=0))[0]
    nearest = int(np.argmin(gaps))
    if float(gaps[nearest]) > within:
        return surface_point
    edge = int(mesh.edges.of_corner[mesh.starts[surface_point.element] + nearest])
    return surface_point_on_edge(mesh, edge, share_of(mesh, edge, surface_point.place), weld=weld)


def _surface_point(
    mesh: Mesh, camera: Camera, place: Floats, pixel: Floats, *, through: bool, weld: float
) -> SurfacePoint:
    """Where a point of a line falls; right through it falls on every side, so the stretch is left
    to find them."""
    if through:
        return SurfacePoint(OFF, -1, 0.0, place)
    found = under_pixel(mesh, (float(pixel[0]), float(pixel[1])), camera, weld=weld)
    return SurfacePoint(OFF, -1, 0.0, place) if found.kind == OFF else found


def _same_place(a: SurfacePoint, b: SurfacePoint) -> bool:
    return a.kind == b.kind and bool(np.allclose(a.place, b.place, rtol=0.0, atol=0.0))
