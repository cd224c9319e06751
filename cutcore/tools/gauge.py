"""Gauge: cuts at measured distances along an axis or any other direction."""

from __future__ import annotations

from bisect import bisect
from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.axes import AXES, Axis, axis_vector
from cutcore.geometry.camera import Vector
from cutcore.geometry.plane import Plane
from cutcore.geometry.vectors import PARALLEL, turned
from cutcore.imprint.followed import eased, followed
from cutcore.kernels import reach_along
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, position
from cutcore.params import Params, Real
from cutcore.queries.limits import limit_mask
from cutcore.tool import Cut, Drawn, Example, Extra, Following, Place, place_of
from cutcore.trace.bent_faces import through_bent_faces
from cutcore.trace.parallel_planes import trace_of_planes
from cutcore.trace.trace import Trace, TraceBuilder
from cutcore.words import count_of


class Tilt(Params):
    """A turn of every cut, right-handed about an axis."""

    about: Axis
    degrees: Annotated[Real, Field(gt=-90, lt=90)]


class GaugeParams(Following):
    """Cuts square to an axis, or to a `direction` in its place.

    Widths are gaps that add up, or positions that each count from the datum: from the low side
    upward, from the high side downward, from the centre both ways."""

    tool: Literal["gauge"] = "gauge"
    axis: Axis = "y"
    direction: Vector | None = None
    start: Literal["low", "high", "centre"] = "low"
    widths: Annotated[
        tuple[Annotated[Real, Field(ge=0)], ...], Field(min_length=1, max_length=10_000)
    ]
    measure: Literal["gaps", "positions"] = "gaps"
    tilt: Tilt | None = None

    @property
    def tilted(self) -> bool:
        return self.tilt is not None and self.tilt.degrees != 0.0


@dataclass(frozen=True, eq=False)
class Datum:
    """What a gauge measures along: a unit direction (3,), and how far the part reaches along it."""

    along: Floats
    low: float
    high: float
    middle: Floats

    def place(self, at: float) -> Floats:
        """The place (3,) at a height on the line through the middle of the part's box."""
        return np.asarray(self.middle + (at - float(self.middle @ self.along)) * self.along)


@dataclass(frozen=True, eq=False)
class GaugeCut:
    """One cut: the width it comes from, its height along the datum, its place on the middle line;
    `adds_nothing` is the note on one that is not made."""

    width: int
    at: float
    place: Floats
    adds_nothing: Note | None


def datum_of(mesh: Mesh, params: GaugeParams) -> Datum:
    """Raises StepError for a direction of no length."""
    middle = mesh.box.mean(axis=0)
    if params.direction is None:
        low, high = (float(x) for x in mesh.box[:, AXES[params.axis]])
        return Datum(axis_vector(params.axis), low, high, middle)
    along = _along(params)
    low, high = reach_along(mesh.points, along, mesh.used)
    return Datum(along, low, high, middle)


def positions_of(datum: Datum, params: GaugeParams) -> list[float]:
    """How high along the datum the cuts lie, in the order of the widths; from the centre two for
    each."""
    total = np.cumsum(params.widths) if params.measure == "gaps" else np.array(params.widths)
    if params.start == "low":
        return [datum.low + float(t) for t in total]
    if params.start == "high":
        return [datum.high - float(t) for t in total]
    middle = 0.5 * (datum.low + datum.high)
    return [middle + sign * float(t) for t in total for sign in (-1, 1)]


def cuts_of(mesh: Mesh, params: GaugeParams) -> list[GaugeCut]:
    """Every cut, those that add nothing with the reason."""
    tolerance = weld_of(mesh)
    datum = datum_of(mesh, params)
    found: list[GaugeCut] = []
    made: list[float] = []
    name = _name(params)
    for number, at in enumerate(positions_of(datum, params)):
        place = datum.place(at)
        width = number // 2 if params.start == "centre" else number
        said = f"The cut of width {width + 1}, at {name} = {at:g},"
        note = None
        after = bisect(made, at)
        if not params.tilted and min(abs(at - datum.low), abs(at - datum.high)) <= tolerance:
            note = Note(
                "gauge-on-the-end",
                f"{said} falls on the end of the part: it adds nothing.",
                (position(place),),
            )
        elif not params.tilted and not datum.low < at < datum.high:
            note = Note(
                "gauge-off-the-part",
                f"{said} lies off the part: it adds nothing.",
                (position(place),),
            )
        elif any(abs(at - other) <= 4 * tolerance for other in made[max(0, after - 1) : after + 1]):
            note = Note(
                "gauge-twice", f"{said} is there already: it is made once.", (position(place),)
            )
        if note is None:
            made.insert(after, at)
        found.append(GaugeCut(width, at, place, note))
    return found


def trace(mesh: Mesh, params: GaugeParams) -> Trace:
    """The sections at every distance, each on the line of its cut; a cut that adds nothing is
    noted."""
    tolerance = weld_of(mesh)
    limit = limit_mask(mesh, params.limit)
    normal = _normal(params, _along(params))
    cuts = cuts_of(mesh, params)
    name = _name(params)
    notes = [cut.adds_nothing for cut in cuts if cut.adds_nothing is not None]
    made = [k for k, cut in enumerate(cuts) if cut.adds_nothing is None]
    planes = [Plane(cuts[k].place, normal) for k in made]
    if not planes:
        return replace(TraceBuilder(mesh, tolerance).build(), notes=tuple(notes))
    found = trace_of_planes(mesh, planes, limit, tolerance)
    found = through_bent_faces(mesh, found, planes, tolerance)
    found = followed(mesh, found, params.follow, planes)
    spans = np.bincount(found.line, minlength=len(planes))
    cut = np.bincount(found.line[found.face >= 0], minlength=len(planes))
    for number, k in enumerate(made):
        said, place = (
            f"The cut of width {cuts[k].width + 1}, at {name} = {cuts[k].at:g},",
            position(cuts[k].place),
        )
        if spans[number] == 0:
            notes.append(
                Note("gauge-misses", f"{said} meets nothing it may cut: it adds nothing.", (place,))
            )
        elif cut[number] == 0:
            notes.append(
                Note(
                    "gauge-on-a-loop",
                    f"{said} lies on a loop that is there already: it adds nothing.",
                    (place,),
                )
            )
    if params.mirror is not None:
        images = [params.mirror.plane(plane) for plane in planes]
        mirrored = trace_of_planes(mesh, images, limit, tolerance)
        mirrored = through_bent_faces(mesh, mirrored, images, tolerance)
        mirrored = followed(mesh, mirrored, params.follow, images)
        found = Trace.together([found, mirrored], numbered=True)
    found = eased(mesh, found, tolerance)
    return replace(found, line=np.array(made)[found.line], notes=(*notes, *found.notes))


def _name(params: GaugeParams) -> str:
    """What heights along the datum are called."""
    return params.axis if params.direction is None else "height"


def _along(params: GaugeParams) -> Floats:
    """The unit direction (3,) that is measured along."""
    if params.direction is None:
        return axis_vector(params.axis)
    size = float(np.linalg.norm(params.direction))
    if size == 0.0:
        raise StepError("a direction can't be zero", where="direction")
    return np.array(params.direction) / size


def _normal(params: GaugeParams, along: Floats) -> Floats:
    """The common normal of the cuts: the direction, turned by the tilt (Rodrigues' formula)."""
    if params.tilt is None or not params.tilted:
        return along
    about = axis_vector(params.tilt.about)
    if float(np.linalg.norm(cross(about, along))) <= PARALLEL:
        raise StepError(
            f"a turn about {params.tilt.about} does not tilt a cut square to it", where="tilt.about"
        )
    return turned(along, about, np.radians(params.tilt.degrees))


class GaugeCutShown(BaseModel):
    """A cut of a gauge: the width it comes from, how high it lies along the datum, its place on the
    middle line, and the code of the note if it adds nothing."""

    width: int
    at: float
    place: Place
    adds_nothing: str | None


class GaugeExtra(Extra):
    """What a gauge measures along: its direction, how far the part reaches, and the cuts;
    `chain.line` numbers these."""

    of: Literal["gauge"] = "gauge"
    along: Place
    low: float
    high: float
    middle: Place
    cuts: list[GaugeCutShown]


def extra_of(mesh: Mesh, params: GaugeParams, drawn: Drawn) -> GaugeExtra | None:
    """The cuts of a gauge and what they are measured along; None if it could not be laid."""
    if drawn.trace is None:
        return None
    datum = datum_of(mesh, params)
    idle = {
        note.elements[0].value: note.code
        for note in drawn.notes
        if note.code in ("gauge-on-a-loop", "gauge-misses")
    }
    cuts = []
    for cut in cuts_of(mesh, params):
        place = place_of(cut.place)
        code = cut.adds_nothing.code if cut.adds_nothing else idle.get(place)
        cuts.append(GaugeCutShown(width=cut.width, at=cut.at, place=place, adds_nothing=code))
    return GaugeExtra(
        along=place_of(datum.along),
        low=datum.low,
        high=datum.high,
        middle=place_of(datum.middle),
        cuts=cuts,
    )


TOOL = Cut(
    params=GaugeParams,
    title=lambda params: f"Gauge, {count_of(len(params.widths), 'cut')} {_way(params)}",
    examples=(
        Example(
            "cube", {"widths": [0.2, 0.3], "start": "centre", "tilt": {"about": "x", "degrees": 5}}
        ),
        Example(
            "plate",
            {"axis": "x", "widths": [0.3, 0.9, 1.35], "tilt": {"about": "y", "degrees": 12}},
        ),
        Example(
            "cube",
            {"direction": [1, 2, 3], "widths": [0.7, 1.1], "measure": "positions", "start": "high"},
        ),
        Example("drum", {"widths": [0.5], "mirror": {"axis": "y", "offset": 1.0}}),
    ),
    trace=trace,
    extra=extra_of,
)


def _way(params: GaugeParams) -> str:
    return f"on {params.axis}" if params.direction is None else "along a direction"
