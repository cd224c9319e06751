"""Profile: cuts at the heights of a drawing, each ring then sized to its diameter, as one step."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.geometry.arrays import Bools, Floats
from cutcore.geometry.axes import Axis
from cutcore.geometry.components import components
from cutcore.imprint import imprinted
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.mesh.submesh import moved, then
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, position
from cutcore.params import Params, Real
from cutcore.queries.measure import fitted_ring
from cutcore.tool import Cut, Example, Finished
from cutcore.tools import gauge
from cutcore.tools.gauge import Datum, GaugeParams, datum_of
from cutcore.tools.gauge import trace as trace_of_gauge
from cutcore.trace.trace import Trace
from cutcore.words import count_of

# Vertices nearer to the middle than this share of the outermost are not of the ring: the poles of
# closed ends.
OF_THE_RING = 0.5
# A ring is told to be out of round if its vertices differ by more than this share of its diameter.
ROUND = 1e-3


class ProfileRow(Params):
    """A height from the datum, and the diameter of the ring there; null leaves it as it is."""

    height: Annotated[Real, Field(ge=0)]
    diameter: Annotated[Real, Field(gt=0)] | None = None


class ProfileParams(Finished):
    """The rows of a turned part's drawing, along an axis from its low side upward or its high side
    downward."""

    tool: Literal["profile"] = "profile"
    axis: Axis = "y"
    start: Literal["low", "high"] = "low"
    rows: Annotated[tuple[ProfileRow, ...], Field(min_length=1, max_length=10_000)]


def gauge_of(params: ProfileParams) -> GaugeParams:
    """The cuts of a profile."""
    heights = tuple(row.height for row in params.rows)
    return GaugeParams(axis=params.axis, start=params.start, widths=heights, measure="positions")


def trace(mesh: Mesh, params: ProfileParams) -> Trace:
    """The sections at every height."""
    return trace_of_gauge(mesh, gauge_of(params))


def apply(mesh: Mesh, params: ProfileParams) -> Result:
    """Cut at every height, then size what lies there: p becomes c + d/d' (p - c) in its plane, with
    c and d' the centre and the diameter of the circle fitted to the ring (`fitted_ring`)."""
    tolerance = weld_of(mesh)
    cut = imprinted(mesh, trace(mesh, params), weld=tolerance)
    datum = datum_of(mesh, gauge_of(params))
    points = cut.mesh.points.copy()
    heights = points @ datum.along
    notes = list(cut.notes)
    for number, row in enumerate(params.rows):
        at = datum.low + row.height if params.start == "low" else datum.high - row.height
        if row.diameter is not None:
            there = np.abs(heights - at) <= 4 * tolerance
            notes += _size_ring(
                points, there, _outermost(cut.mesh, there), row.diameter, number, datum, at
            )
    if (points == cut.mesh.points).all():
        return replace(cut, notes=tuple(notes))
    sized = moved(cut.mesh, points)
    changed: Bools = (points != cut.mesh.points).any(axis=1)
    kept = np.arange(sized.face_count)
    kept[np.logical_or.reduceat(changed[sized.corners], sized.starts[:-1])] = -1
    origin = Origin(np.arange(sized.face_count), np.arange(sized.vertex_count), kept)
    return Result(sized, then(cut.origin, origin), cut.picked, tuple(notes))


def _outermost(mesh: Mesh, there: Bools) -> Bools:
    """Of the vertices (V,) at a height, those of the loop that lies outermost: a part with walls
    has one inside, too."""
    ends = mesh.edges.ends[there[mesh.edges.ends].all(axis=1)]
    if len(ends) == 0:
        return there
    vertices, number = np.unique(ends, return_inverse=True)
    part = components(number.reshape(-1, 2), len(vertices))[1]
    places = mesh.points[vertices]
    furthest = int(np.argmax(np.linalg.norm(places - places.mean(axis=0), axis=1)))
    outermost = np.zeros(len(there), dtype=bool)
    outermost[vertices[part == part[furthest]]] = True
    return outermost


def _size_ring(
    points: Floats,
    there: Bools,
    outermost: Bools,
    diameter: float,
    number: int,
    datum: Datum,
    at: float,
) -> list[Note]:
    """Size the vertices (V,) that lie at a height, in place, by the loop that lies outermost; notes
    on what can't be sized, or is no ring."""
    place = position(datum.place(at))
    places = points[there]
    flat = places - np.outer(places @ datum.along, datum.along)
    outer = flat[outermost[there]]
    reach = np.linalg.norm(outer - outer.mean(axis=0), axis=1) if len(outer) else np.zeros(0)
    ring = (
        fitted_ring(outer[reach > OF_THE_RING * reach.max()])
        if len(outer) > 2 and reach.max() > 0
        else None
    )
    if ring is None:
        return [
            Note(
                "profile-no-ring",
                f"Row {number + 1}: no ring lies at that height, so none is sized.",
                (place,),
            )
        ]
    away = flat - ring.centre
    points[there] = places + (diameter / ring.diameter - 1.0) * away
    if ring.roundness <= ROUND * ring.diameter:
        return []
    words = f"Row {number + 1}: what lies at that height is no circle; it was sized by the one that fits it best."
    return [Note("profile-not-round", words, (place,))]


TOOL = Cut(
    params=ProfileParams,
    title=lambda params: f"Profile, {count_of(len(params.rows), 'height')} on {params.axis}",
    examples=(
        Example("drum", {"rows": [{"height": 0.5, "diameter": 1.5}, {"height": 1.5}]}),
        Example("drum", {"rows": [{"height": 0.25, "diameter": 2.5}], "start": "high"}),
    ),
    moves=edges_of_moved_vertices,
    trace=trace,
    apply=apply,
    done_to_know=lambda params: True,
    extra=lambda mesh, params, drawn: gauge.extra_of(mesh, gauge_of(params), drawn),
)
