"""Gauge: cuts at measured distances along an axis."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, FiniteFloat

from cutcore.arrays import Floats, cross
from cutcore.errors import StepError
from cutcore.limits import limit_mask
from cutcore.mesh import Mesh
from cutcore.notes import Note, position
from cutcore.plane import Plane
from cutcore.section_trace import traces_of_sections
from cutcore.tolerance import weld_of
from cutcore.tools.common import AXES, Axis, Cutting, axis_vector
from cutcore.trace import Trace, TraceBuilder


class Tilt(BaseModel):
    """A turn of every cut, right-handed about an axis."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    about: Axis
    degrees: Annotated[FiniteFloat, Field(gt=-90, lt=90)]


class GaugeParams(Cutting):
    """Cuts square to an axis. Widths add up: from the low side upward, from the high side downward, from the
    centre both ways."""

    tool: Literal["gauge"] = "gauge"
    axis: Axis
    start: Literal["low", "high", "centre"] = "low"
    widths: Annotated[tuple[Annotated[FiniteFloat, Field(gt=0)], ...], Field(min_length=1, max_length=10_000)]
    tilt: Tilt | None = None

    @property
    def tilted(self) -> bool:
        return self.tilt is not None and self.tilt.degrees != 0.0


def positions_of(mesh: Mesh, params: GaugeParams) -> list[float]:
    """Where on the axis the cuts lie, in the order of the widths; from the centre two for each."""
    low, high = (float(x) for x in mesh.box[:, AXES[params.axis]])
    total = np.cumsum(params.widths)
    if params.start == "low":
        return [low + float(t) for t in total]
    if params.start == "high":
        return [high - float(t) for t in total]
    middle = 0.5 * (low + high)
    return [middle + sign * float(t) for t in total for sign in (-1, 1)]


def trace(mesh: Mesh, params: GaugeParams, *, weld: float | None = None) -> Trace:
    """The sections at every distance, as a line each; a cut that adds nothing is noted."""
    tolerance = weld_of(mesh) if weld is None else weld
    limit = limit_mask(mesh, params.limit)
    notes: list[Note] = []
    placed = _placed(mesh, params, tolerance, notes)
    normal = _normal(params)
    axis = axis_vector(params.axis)
    middle = mesh.box.mean(axis=0)
    planes = [Plane(middle + (at - float(middle @ axis)) * axis, normal) for at in placed]
    traces = traces_of_sections(mesh, planes, limit, tolerance)
    if params.mirror is not None:
        traces += traces_of_sections(mesh, [params.mirror.plane(plane) for plane in planes], limit, tolerance)
    if not traces:
        return replace(TraceBuilder(mesh, tolerance).build(), notes=tuple(notes))
    made = Trace.together(traces)
    return replace(made, notes=(*notes, *made.notes))


def _placed(mesh: Mesh, params: GaugeParams, weld: float, notes: list[Note]) -> list[float]:
    """The positions that may add something; the others are noted."""
    column = AXES[params.axis]
    low, high = (float(x) for x in mesh.box[:, column])
    placed: list[float] = []
    for number, at in enumerate(positions_of(mesh, params)):
        place = mesh.box.mean(axis=0)
        place[column] = at
        width = number // 2 if params.start == "centre" else number
        said = f"The cut of width {width + 1}, at {params.axis} = {at:g},"
        if not params.tilted and min(abs(at - low), abs(at - high)) <= weld:
            notes.append(Note("gauge-on-the-end", f"{said} falls on the end of the part: it adds nothing.", (position(place),)))
        elif not params.tilted and not low < at < high:
            notes.append(Note("gauge-off-the-part", f"{said} lies off the part: it adds nothing.", (position(place),)))
        elif any(abs(at - other) <= 4 * weld for other in placed):
            notes.append(Note("gauge-twice", f"{said} is there already: it is made once.", (position(place),)))
        else:
            placed.append(at)
    return placed


def _normal(params: GaugeParams) -> Floats:
    """The common normal of the cuts: the axis, turned by the tilt (Rodrigues' formula, for square axes)."""
    axis = axis_vector(params.axis)
    if params.tilt is None or not params.tilted:
        return axis
    if params.tilt.about == params.axis:
        raise StepError(f"a turn about {params.axis} does not tilt a cut square to {params.axis}", where="tilt.about")
    angle = np.radians(params.tilt.degrees)
    about = axis_vector(params.tilt.about)
    return np.asarray(np.cos(angle) * axis + np.sin(angle) * cross(about, axis))
