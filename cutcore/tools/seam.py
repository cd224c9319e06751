"""Seam: a line that lies on the surface between two points."""

from __future__ import annotations

from contextlib import suppress
from itertools import pairwise
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import BaseModel, Field

from cutcore.errors import PathError, StepError
from cutcore.geometry.arrays import Bools, cross
from cutcore.geometry.camera import Camera, View
from cutcore.geometry.plane import Plane
from cutcore.geometry.tolerances import ROUNDING
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, position
from cutcore.queries.limits import limit_mask
from cutcore.queries.section import section
from cutcore.shapes.small import FROM_A_CORNER
from cutcore.tool import Cut, Cutting, Drawn, Example, Extra, Place, place_of
from cutcore.trace.bent_faces import through_bent_faces
from cutcore.trace.geodesic import MOST_WINDOWS, geodesic
from cutcore.trace.section_trace import trace_of_section
from cutcore.trace.stretch import Reach, lay_stretch
from cutcore.trace.surface_points import OFF, KnifePoint, SurfacePoint, locate
from cutcore.trace.symmetry import with_mirror
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, SpanOf, Trace, TraceBuilder
from cutcore.words import count_of, share_words

# So many windows are looked at for all stretches of a seam together.
MOST_WINDOWS_IN_ALL = 2_000_000


class SeamParams(Cutting):
    """A line through points of the surface, from each to the next.

    The `shortest` way lies on the surface, over faces of any size; the `straight` one lies in the
    plane of both points and the mean of the surface normals there. `plane` cuts all that may be cut
    by the plane through both points and the normal of the first one's face."""

    placed: ClassVar[bool] = True

    tool: Literal["seam"] = "seam"
    points: Annotated[tuple[KnifePoint, ...], Field(min_length=2, max_length=1000)]
    view: View | None = None
    way: Literal["shortest", "straight", "plane"] = "shortest"
    closed: bool = False


def trace(mesh: Mesh, params: SeamParams) -> Trace:
    """The spans of the seam. Raises StepError, naming the point, if one is not on the part or can't
    be joined to the next."""
    tolerance = weld_of(mesh)
    limit = limit_mask(mesh, params.limit)
    places = _located(mesh, params, tolerance)
    builder = TraceBuilder(mesh, tolerance)
    stretches = list(pairwise(places))
    if params.closed and len(places) > 2:
        stretches.append((places[-1], places[0]))
    most = max(MOST_WINDOWS_IN_ALL // max(len(stretches), 1), 1)
    for k, (a, b) in enumerate(stretches):
        if np.linalg.norm(a.place - b.place) <= tolerance:
            continue
        try:
            _lay(builder, a, b, k, params.way, limit, min(most, MOST_WINDOWS))
        except PathError as refusal:
            where = f"points[{k}] to points[{(k + 1) % len(places)}]"
            raise refusal.at(where) from refusal
    made = builder.build()
    if params.mirror is None:
        return made
    return with_mirror(mesh, made, params.mirror, limit=limit, weld=tolerance)


def _lay(
    builder: TraceBuilder,
    a: SurfacePoint,
    b: SurfacePoint,
    stretch: int,
    way: str,
    limit: Bools | None,
    most: int,
) -> None:
    """The spans from one point to the next; the shortest way by `most` windows at most."""
    mesh = builder.mesh
    of = SpanOf(0, stretch)
    if way == "plane":
        _lay_plane(builder, a, b, of, limit)
        return
    on_plane = Reach(None, False, limit)
    if way == "shortest":
        found = geodesic(mesh, a, b, limit, most=most)
        if not found.shown:
            words = (
                "No shorter way was found, but there are too many to look at all of them: "
                "it may not be the shortest."
            )
            builder.note(Note("seam-not-shown", words, (position(a.place), position(b.place))))
        # Where faces are bent, straight from edge to edge over them is shorter than on the triangles
        # they are drawn in: the straight way may then take less.
        straight, shortest = (TraceBuilder(mesh, builder.weld) for _ in range(2))
        with suppress(PathError):
            lay_stretch(straight, a, b, on_plane, line=0, stretch=stretch)
        found.lay(shortest, of)
        if not straight.spans or _length_of(shortest) <= _length_of(straight):
            found.lay(builder, of)
            return
    lay_stretch(builder, a, b, on_plane, line=0, stretch=stretch)


def _length_of(laid: TraceBuilder) -> float:
    ends = np.array([[laid.place[a], laid.place[b]] for a, b, _ in laid.spans])
    return float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())


def _lay_plane(
    builder: TraceBuilder, a: SurfacePoint, b: SurfacePoint, of: SpanOf, limit: Bools | None
) -> None:
    """Everything that may be cut, by the plane through both points and the normal at the first."""
    mesh = builder.mesh
    across = cross(b.place - a.place, a.normal(mesh))
    if np.linalg.norm(across) <= ROUNDING * np.linalg.norm(b.place - a.place):
        raise PathError(
            "the second point lies straight above the first: no one plane holds both and the normal",
            elements=(a.element_of(mesh), b.element_of(mesh)),
        )
    # The points come first, so that the plane meets their edges just there.
    for point in (a, b):
        if point.kind != IN_FACE:
            point.anchor(builder)
    plane = Plane.through(a.place, across)
    cut = trace_of_section(mesh, section(mesh, plane, weld=builder.weld), limit)
    cut = through_bent_faces(mesh, cut, [plane], builder.weld)
    anchors = [SurfacePoint.of(cut, k).anchor(builder) for k in range(len(cut.kind))]
    for (one, other), face in zip(cut.ends.tolist(), cut.face.tolist(), strict=True):
        builder.span(anchors[one], anchors[other], face, of)


def _located(mesh: Mesh, params: SeamParams, weld: float) -> list[SurfacePoint]:
    camera = Camera.of(params.view) if params.view else None
    found = []
    for k, point in enumerate(params.points):
        try:
            place = locate(mesh, point, camera, weld=weld)
        except StepError as refusal:
            raise refusal.at(f"points[{k}]") from refusal
        if place.kind == OFF:
            raise StepError("the point is off the part", where=f"points[{k}]")
        found.append(place)
    return found


class SeamPoint(BaseModel):
    """A point of a seam: what it sits on, where, and how long the seam is from the one before."""

    words: str
    at: Place
    length: float | None


class SeamExtra(Extra):
    """The points of a seam and its whole length."""

    of: Literal["seam"] = "seam"
    points: list[SeamPoint]
    length: float | None


def extra_of(mesh: Mesh, params: SeamParams, drawn: Drawn) -> SeamExtra | None:
    """The points of a seam and the lengths between them; of points that are not there nothing."""
    try:
        places = _located(mesh, params, weld_of(mesh))
    except StepError:
        return None
    lengths = {} if drawn.trace is None else drawn.trace.stretch_lengths()
    points = [
        SeamPoint(
            words=_words_of(mesh, place),
            at=place_of(place.place),
            length=lengths.get((0, k - 1)),
        )
        for k, place in enumerate(places)
    ]
    return SeamExtra(points=points, length=sum(lengths.values()) if lengths else None)


def _words_of(mesh: Mesh, place: SurfacePoint) -> str:
    if place.kind == ON_VERTEX:
        return f"vertex {place.element}"
    if place.kind == ON_EDGE:
        low, high = mesh.edges.ends[place.element].tolist()
        return f"edge {low}–{high} at {share_words(place.share)}"
    return f"face {place.element}"


def _title(params: SeamParams) -> str:
    how = {"shortest": "shortest", "straight": "straight", "plane": "by a plane"}[params.way]
    return f"Seam, {how}, {count_of(len(params.points), 'point')}"


TOOL = Cut(
    params=SeamParams,
    title=_title,
    examples=(
        Example(
            "drum",
            {"points": [{"edge": [0, 1], "t": 0.5}, {"edge": [10, 11], "t": 0.25}]},
        ),
        Example(
            "cube",
            {
                "points": [{"vertex": 2}, {"edge": [18, 20], "t": 0.5}, {"vertex": 30}],
                "closed": True,
            },
        ),
        Example(
            "cube",
            {
                "points": [{"screen": [300, 250]}, {"screen": [560, 330]}],
                "view": FROM_A_CORNER,
                "way": "straight",
                "mirror": {"axis": "x"},
            },
        ),
        Example(
            "plate",
            {
                "points": [{"edge": [0, 1], "t": 0.3}, {"edge": [16, 17], "t": 0.6}],
                "way": "plane",
                "limit": [0, 3, 6],
            },
        ),
    ),
    trace=trace,
    extra=extra_of,
)
