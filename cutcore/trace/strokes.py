"""Strokes of the hand, kept as view and pixels, laid onto the part."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry import strokes as drawing
from cutcore.geometry.arrays import Bools
from cutcore.geometry.camera import Camera, Pixel, View
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Note, position
from cutcore.params import Params, Real
from cutcore.queries.visibility import reach_of
from cutcore.trace.as_seen import Polyline, Seen, lay_as_seen
from cutcore.trace.open_ends import OpenEnds, settle_open_ends
from cutcore.trace.surface_points import OFF, KnifePoint, SurfacePoint, locate
from cutcore.trace.trace import Trace, TraceBuilder

# An end this near to another, in pixels, is meant to meet it.
MEETS_PX = 8.0

# One step holds no more strokes than this.
MOST_STROKES = 200


class Stroke(Params):
    """One stroke: the pixels it was drawn over, in its own view if not in the step's. `start` and
    `end` are where its ends settled on the part, if they did."""

    points: Annotated[tuple[Pixel, ...], Field(min_length=2, max_length=20_000)]
    start: KnifePoint | None = None
    end: KnifePoint | None = None
    view: View | None = None


class Drawing(Params):
    """How strokes are read: joined where ends lie within `join` pixels, smoothed by a strength,
    `straight` from first to last point, told by so many points that they stay `within` so many
    pixels of the stroke."""

    smooth: Annotated[Real, Field(ge=0, le=1)] = 0.0
    straight: bool = False
    within: Annotated[Real, Field(ge=0, le=1000)] = 1.5
    join: Annotated[Real, Field(ge=0, le=1000)] = MEETS_PX


@dataclass(frozen=True, eq=False)
class Laid:
    """Strokes on a part, and the lines they make, numbered as in the trace, with the camera that
    sees each."""

    trace: Trace
    lines: list[tuple[Polyline, Camera]]


def lay_strokes(
    mesh: Mesh,
    strokes: tuple[Stroke, ...],
    view: View,
    how: Drawing,
    *,
    through: bool,
    limit: Bools | None,
    weld: float,
    open_ends: OpenEnds | None = None,
) -> Laid:
    """Lay strokes onto the part, with a note where one misses it or is cut off; ends inside faces
    are settled if it is said how.

    Raises StepError, naming the end, for an end on an element that is not there."""
    builder = TraceBuilder(mesh, weld)
    lines: list[tuple[Polyline, Camera]] = []
    by_view: dict[str, list[int]] = {}
    for k, stroke in enumerate(strokes):
        by_view.setdefault((stroke.view or view).model_dump_json(), []).append(k)
    for numbers in by_view.values():
        camera = Camera.of(strokes[numbers[0]].view or view)
        seen = Seen(mesh, camera)
        for line in _lines(mesh, {k: strokes[k] for k in numbers}, camera, how, weld):
            laid = lay_as_seen(builder, seen, line, number=len(lines), through=through, limit=limit)
            lines.append((line, camera))
            _note(builder, line, laid)
    if open_ends is not None:
        settle_open_ends(builder, open_ends)
    return Laid(builder.build(), lines)


def _note(builder: TraceBuilder, line: Polyline, laid: Bools) -> None:
    """Say if a stroke misses the part, or is cut off on its way: that it begins and ends beside the
    part is how one draws across it."""
    on = np.flatnonzero(laid)
    where = (position(line.places[0]),)
    if len(on) == 0:
        builder.note(Note("stroke-misses", "The stroke misses the part.", where))
    elif not laid[on[0] : on[-1] + 1].all():
        words = "The stroke is cut off where it leaves the part or something lies before it."
        builder.note(Note("stroke-cut-off", words, where))


def _lines(
    mesh: Mesh, strokes: dict[int, Stroke], camera: Camera, how: Drawing, weld: float
) -> list[Polyline]:
    """The lines that strokes, by number, make in one view."""
    ends = [_ends(mesh, stroke, k, camera, weld) for k, stroke in strokes.items()]
    pixels = []
    for stroke, settled in zip(strokes.values(), ends, strict=True):
        line = np.array(stroke.points, dtype=np.float64)
        for at, end in zip((0, -1), settled, strict=True):
            if end is not None:
                line[at] = camera.project(end.place[None])[0]
        if not np.isfinite(line).all():
            raise StepError("an end of the stroke lies behind the eye", where="strokes")
        pixels.append(line)
    found = []
    for drawn in drawing.joined(pixels, how.join):
        closed = drawn.closed and not how.straight
        flat = drawn.pixels[[0, -1]] if how.straight else drawn.pixels
        flat = drawing.smoothed(flat, how.smooth, closed=closed)
        flat = drawing.simplified(flat, how.within, closed=closed)
        if len(flat) < 2:
            continue
        known: dict[int, SurfacePoint] = {}
        for at, number in ((0, drawn.first), (len(flat) - 1, drawn.last)):
            for end in ends[number]:
                if end is not None and (camera.project(end.place[None])[0] == flat[at]).all():
                    known[at] = end
        origins, sights = camera.rays(flat, reach=reach_of(mesh, camera))
        places = origins + sights * max(mesh.diagonal, 1.0)
        found.append(Polyline(places, flat, closed, known))
    return found


def _ends(
    mesh: Mesh, stroke: Stroke, number: int, camera: Camera, weld: float
) -> tuple[SurfacePoint | None, SurfacePoint | None]:
    """Where the ends of a stroke settled."""
    found: list[SurfacePoint | None] = []
    for name, point in (("start", stroke.start), ("end", stroke.end)):
        try:
            at = None if point is None else locate(mesh, point, camera, weld=weld)
        except StepError as refusal:
            raise refusal.at(f"strokes[{number}].{name}") from refusal
        found.append(None if at is None or at.kind == OFF else at)
    return found[0], found[1]
