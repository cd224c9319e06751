"""Circle: a polygon of so many points inside a face, tied to its corners."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.camera import Vector
from cutcore.geometry.chart import chart_of
from cutcore.geometry.polygons import distance_to_segments, inside_loop
from cutcore.geometry.vectors import unit
from cutcore.imprint import imprinted
from cutcore.imprint.weights import interpolate_inside
from cutcore.mesh.changed_edges import edges_of_picked_faces
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Picked, Result
from cutcore.mesh.tolerance import weld_of
from cutcore.params import Index, Length, Real
from cutcore.quads.finish import finished
from cutcore.queries.named_elements import face_mask
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.trace.spokes import spokes_of
from cutcore.trace.trace import SpanOf, TraceBuilder
from cutcore.words import length_words


class CircleParams(Reshaping):
    """A regular polygon of `count` points and a `diameter`, in a face, about a `centre` (the middle
    of the face if none is given), its first point turned on by `turn` degrees from the middle of
    the face's first edge.

    It is tied to the face by two `links`, by `spokes` from every corner, or so that the face ends
    in `quads` all round, with its inside as it is."""

    tool: Literal["circle"] = "circle"
    face: Index
    count: Annotated[int, Field(ge=3, le=512)] = 8
    diameter: Length
    centre: Vector | None = None
    turn: Real = 0.0
    tie: Literal["links", "spokes", "quads"] = "spokes"


def apply(mesh: Mesh, params: CircleParams) -> Result:
    """The face inside is picked. Raises StepError where the circle leaves the face."""
    face_mask(mesh, [params.face], where="face")
    corners = mesh.points[mesh.face(params.face)]
    chart = chart_of(corners)
    loop = chart.flatten(corners)
    middle = (
        loop.mean(axis=0)
        if params.centre is None
        else chart.flatten(np.array(params.centre, dtype=np.float64)[None])[0]
    )
    first = unit(0.5 * (loop[0] + loop[1]) - middle)
    turn = np.arctan2(first[1], first[0]) + np.radians(params.turn)
    turns = turn + 2 * np.pi * np.arange(params.count) / params.count
    ring = middle + 0.5 * params.diameter * np.stack([np.cos(turns), np.sin(turns)], axis=1)
    weld = weld_of(mesh)
    ends = np.roll(loop, -1, axis=0)
    clear = distance_to_segments(ring, loop, ends).min(axis=1) > weld
    # No side may leave it either: no corner of the face lies inside the circle.
    if not (inside_loop(loop, ring) & clear).all() or inside_loop(ring, loop).any():
        raise StepError("the circle does not fit into the face there", where="diameter")
    above = chart.origin + ring[:, :1] * chart.right + ring[:, 1:] * chart.up
    builder = TraceBuilder(mesh, weld)
    anchors = builder.add_in_faces(
        np.full(params.count, params.face), interpolate_inside(corners, corners, above)
    ).tolist()
    for a, b in zip(anchors, [*anchors[1:], anchors[0]], strict=True):
        builder.span(a, b, params.face, SpanOf(0))
    if params.tie == "spokes":
        for corner, anchor, face in spokes_of(builder, 0):
            builder.span(builder.vertex(corner), anchor, face, SpanOf(0))
    result = imprinted(mesh, builder.build(), weld=weld)
    within = np.flatnonzero(result.origin.kept < 0)
    fresh = np.concatenate([within, np.arange(mesh.face_count, result.mesh.face_count)])
    inside = [f for f in fresh.tolist() if (result.mesh.face(f) >= mesh.vertex_count).all()]
    result = Result(
        result.mesh,
        result.origin,
        Picked(np.array(inside), result.picked.edges),
        result.notes,
    )
    if params.tie == "quads":
        none = np.zeros((0, 2), dtype=np.int64)
        return finished(result, none, None, weld=weld)
    return result


TOOL = Reshape(
    params=CircleParams,
    title=lambda params: f"A circle {length_words(params.diameter)} across in a face",
    examples=(
        Example("plate", {"face": 0, "diameter": 0.6}),
        Example("plate", {"face": 0, "diameter": 0.5, "count": 5, "tie": "links"}),
        Example("plate", {"face": 0, "diameter": 0.5, "tie": "quads", "turn": 22.5}),
    ),
    moves=edges_of_picked_faces,
    apply=apply,
)
