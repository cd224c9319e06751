"""Slice: by a plane, along the plane of sight through a line drawn across the view, or by several
planes at a spacing."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal, Self

import numpy as np
from pydantic import BaseModel, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools
from cutcore.geometry.camera import Camera, Vector, View
from cutcore.geometry.plane import Plane
from cutcore.imprint.followed import eased, followed
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Picked, Result
from cutcore.mesh.submesh import then, without_faces
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note
from cutcore.queries.limits import limit_mask
from cutcore.queries.plane_frame import frame_of
from cutcore.queries.section import section
from cutcore.shapes.small import FROM_A_CORNER
from cutcore.tool import Cut, Drawn, Example, Extra, Following, Place, laid, place_of
from cutcore.tools.slice.caps import capped
from cutcore.tools.slice.half import mirrored
from cutcore.tools.slice.planes import (
    PlaneParams,
    Repeat,
    ScreenLine,
    plane_of,
    plane_of_sight,
    repeated,
)
from cutcore.tools.slice.sides import Sides, opened_edges, with_caps
from cutcore.tools.slice.slabs import parted
from cutcore.trace.bent_faces import through_bent_faces
from cutcore.trace.far_side import with_far_side
from cutcore.trace.parallel_planes import trace_of_planes
from cutcore.trace.section_trace import trace_of_section
from cutcore.trace.trace import Trace

MISSED = Note("slice-misses", "The plane does not meet the part.")


class SliceParams(Following):
    """A plane cut.

    keep     leaves both sides where they are; with reach `near` only what faces the view is cut
    discard  takes away the side the normal points to
    part     opens `gap` between the sides of every plane, about the middle; `as_parts` makes each a
             part of its own
    halve    discards, then puts the mirror image of the rest in its place, joined along the cut
    """

    tool: Literal["slice"] = "slice"
    plane: PlaneParams | None = None
    line: ScreenLine | None = None
    view: View | None = None
    repeat: Repeat | None = None
    reach: Literal["near", "through"] = "through"
    then: Literal["keep", "discard", "part", "halve"] = "keep"
    gap: Vector = (0.0, 0.0, 0.0)
    as_parts: bool = False
    cap: bool = False

    @model_validator(mode="after")
    def _has_one_plane(self) -> Self:
        if (self.plane is None) == (self.line is None):
            raise ValueError("a slice needs either a plane or a line")
        if self.line is not None and self.view is None:
            raise ValueError("a line across the view needs the view")
        if self.then in ("part", "halve") and (self.limit is not None or self.mirror is not None):
            done = {"part": "parted", "halve": "halved"}[self.then]
            raise ValueError(
                f"the sides can be {done} only where the cut goes through the whole part: lift limit and mirror"
            )
        if self.reach == "near" and (self.view is None or self.then != "keep"):
            raise ValueError(
                "the near side needs a view to be seen from, and keeps both sides: cut right through instead"
            )
        if self.repeat is not None and self.then in ("discard", "halve"):
            raise ValueError("several planes leave no one side to discard: keep all, or part them")
        if self.as_parts and self.then != "part":
            raise ValueError("only what is parted can become parts of their own")
        return self


def planes_of(params: SliceParams) -> list[Plane]:
    """The planes of a slice along its normal, and after them their counterparts if there is a
    mirror."""
    if params.plane is not None:
        plane = plane_of(params.plane)
    else:
        assert params.line is not None and params.view is not None  # the model has checked this
        plane = plane_of_sight(params.line, Camera.of(params.view))
    planes = repeated(plane, params.repeat)
    return (
        planes
        if params.mirror is None
        else planes + [params.mirror.plane(plane) for plane in planes]
    )


def trace(mesh: Mesh, params: SliceParams) -> Trace:
    """The sections of the part by its planes, a line each, within the limit and reach."""
    tolerance = weld_of(mesh)
    limit = limit_mask(mesh, params.limit)
    planes = planes_of(params)
    if params.repeat is None:
        groups = [[plane] for plane in planes]
        traces = [
            trace_of_section(mesh, section(mesh, plane, weld=tolerance), limit) for plane in planes
        ]
    else:
        if params.repeat.spacing <= 4 * tolerance:
            raise StepError(
                "the planes lie closer to each other than places can be told apart",
                where="repeat.spacing",
            )
        count = params.repeat.count
        groups = [group for group in (planes[:count], planes[count:]) if group]
        traces = [trace_of_planes(mesh, group, limit, tolerance) for group in groups]
    made = Trace.together(
        [
            followed(mesh, through_bent_faces(mesh, one, group, tolerance), params.follow, group)
            for one, group in zip(traces, groups, strict=True)
        ]
    )
    if params.view is not None:
        made = with_far_side(mesh, made, Camera.of(params.view))
        made = _near_side(made) if params.reach == "near" else made
    if len(made.ends) == 0:
        return replace(made, notes=(*made.notes, MISSED))
    return eased(mesh, made, tolerance)


def _near_side(made: Trace) -> Trace:
    """The trace without its far side: a face is cut from border to border or not at all."""
    keep = ~made.far
    spans = {
        name: getattr(made, name)[keep]
        for name in ("ends", "face", "line", "stretch", "far", "trimmed")
    }
    return replace(made, **spans)


def apply(mesh: Mesh, params: SliceParams) -> Result:
    """Cut, then keep both sides, discard one, part them or mirror one; cap what that opens."""
    tolerance = weld_of(mesh)
    cut = laid(mesh, trace(mesh, params), params)
    if params.then == "keep":
        return cut
    planes = planes_of(params)
    if params.then == "part":
        return parted(
            cut,
            [Sides.of(mesh, cut, plane, tolerance) for plane in planes],
            params.gap,
            params.cap,
            params.as_parts,
            tolerance,
        )
    if params.then == "halve":
        return mirrored(cut, Sides.of(mesh, cut, planes[0], tolerance))
    limit = limit_mask(mesh, params.limit)
    result = cut
    for plane in planes:
        result = _discarded(
            result, Sides.of(mesh, result, plane, tolerance), limit, params.cap, tolerance
        )
    return result


def _discarded(cut: Result, sides: Sides, limit: Bools | None, cap: bool, weld: float) -> Result:
    """Without the faces on the side the normal points to."""
    parent = cut.origin.face
    gone = sides.face > 0
    if limit is not None:
        gone &= limit[np.maximum(parent, 0)] & (parent >= 0)
    if not gone.any():
        words = "Nothing of the part lies on the side to be discarded."
        return Result(
            cut.mesh, cut.origin, cut.picked, (*cut.notes, Note("nothing-discarded", words))
        )
    left, origin = without_faces(cut.mesh, gone)
    if not cap:
        return Result(left, then(cut.origin, origin), Picked(), cut.notes)
    opened = opened_edges(cut.mesh, left, origin.vertex)
    flat = opened[(sides.vertex[origin.vertex][opened] == 0).all(axis=1)]
    closed, added, notes = capped(left, flat, sides.plane, weld=weld)
    return with_caps(cut, closed, origin, added, notes)


class PlaneShown(BaseModel):
    """A plane of a slice, and the corners of the frame to draw for it. The normal points to the
    scrap, if there is any."""

    point: Place
    normal: Place
    frame: list[Place]


class SliceExtra(Extra):
    """The planes, and whether the side their normals point to is taken away."""

    of: Literal["slice"] = "slice"
    planes: list[PlaneShown]
    scrap: bool


def extra_of(mesh: Mesh, params: SliceParams, drawn: Drawn) -> SliceExtra:
    """What the plan of a slice shows; of one that can't be laid no planes."""
    planes = [
        PlaneShown(
            point=place_of(plane.point),
            normal=place_of(plane.normal),
            frame=[place_of(corner) for corner in frame_of(mesh, plane)],
        )
        for plane in (planes_of(params) if drawn.trace is not None else [])
    ]
    return SliceExtra(planes=planes, scrap=params.then in ("discard", "halve"))


DONE = {
    "keep": "kept both",
    "discard": "one side discarded",
    "part": "parted",
    "halve": "halved and mirrored",
}


def _title(params: SliceParams) -> str:
    what = f"{params.repeat.count} slices" if params.repeat is not None else "Slice"
    return f"{what}, {DONE[params.then]}{' into parts' if params.as_parts else ''}"


_TILTED = {"point": [0.1, 0, 0.2], "normal": [1, 0, 0.7]}

TOOL = Cut(
    params=SliceParams,
    title=_title,
    examples=(
        Example("plate", {"plane": _TILTED}),
        Example("plate", {"plane": _TILTED, "then": "discard"}),
        Example("plate", {"plane": _TILTED, "then": "part"}),
        Example(
            "cube",
            {
                "plane": {"point": [0, 0.1, 0], "normal": [0.1, 1, 0]},
                "then": "discard",
                "cap": True,
            },
        ),
        Example(
            "cube", {"plane": {"point": [0, 0.1, 0], "normal": [0.1, 1, 0]}, "limit": [1, 4, 7]}
        ),
        Example("cube", {"plane": {"point": [0, 0.1, 0], "normal": [0, 1, 0.1]}, "then": "halve"}),
        Example(
            "cube",
            {
                "plane": {"point": [0, -0.5, 0], "normal": [0, 1, 0]},
                "repeat": {"count": 3, "spacing": 0.4},
            },
        ),
        Example(
            "cube",
            {
                "line": {"from": [0, 300], "to": [800, 310]},
                "view": FROM_A_CORNER,
                "then": "part",
                "gap": [0, 1, 0],
                "cap": True,
                "as_parts": True,
            },
        ),
        Example(
            "cube",
            {"line": {"from": [0, 300], "to": [800, 310]}, "view": FROM_A_CORNER, "reach": "near"},
        ),
    ),
    trace=trace,
    apply=apply,
    done_to_know=lambda params: params.then != "keep",
    extra=extra_of,
)
