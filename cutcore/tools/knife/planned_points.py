"""The chosen points of a knife line as its plan lists them."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from cutcore.errors import StepError
from cutcore.geometry.camera import Camera
from cutcore.mesh.last_answer import last_answer
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.tool import Drawn, Extra, Place, place_of
from cutcore.tools.knife.params import KnifeParams
from cutcore.trace.surface_points import OFF, EdgePoint, KnifePoint, SurfacePoint, locate
from cutcore.trace.symmetry import Counterparts
from cutcore.trace.trace import ON_EDGE, ON_VERTEX

PointKind = Literal["vertex", "edge", "half", "face", "off"]


class PlannedPoint(BaseModel):
    """A planned point: what it sits on, where, and how far it is along the line from the point
    before."""

    kind: PointKind
    words: str
    at: Place | None = None
    share: float | None = Field(default=None, description="from the first vertex the point names")
    edge: tuple[Place, Place] | None = Field(
        default=None, description="the ends of the edge it sits on, lower vertex first"
    )
    length: float | None = None


class Counterpart(BaseModel):
    """A planned point as the mirror shows it."""

    kind: PointKind
    at: Place


class KnifeExtra(Extra):
    """The points of every line, and what the mirror shows of them."""

    of: Literal["knife"] = "knife"
    lines: list[list[PlannedPoint]]
    counterparts: list[Counterpart]


def extra_of(mesh: Mesh, params: KnifeParams, drawn: Drawn) -> KnifeExtra:
    """The chosen points line by line; one that is not on the mesh is listed as off the part."""
    lengths = {} if drawn.trace is None else drawn.trace.stretch_lengths()
    mirror = params.mirror
    mirrored = None if mirror is None else Counterparts(mesh, mirror, weld=weld_of(mesh))
    lines, counterparts = [], []
    for number, (line, places) in enumerate(
        zip(params.lines, located(mesh, params, weld_of(mesh)), strict=True)
    ):
        points = []
        for k, (point, surface_point) in enumerate(zip(line.points, places, strict=True)):
            told = _planned(mesh, point, surface_point)
            points.append(told.model_copy(update={"length": lengths.get((number, k - 1))}))
            if (
                mirror is not None
                and mirrored is not None
                and isinstance(surface_point, SurfacePoint)
                and mirrored.of(surface_point) >= 0
            ):
                counterparts.append(
                    Counterpart(kind=told.kind, at=place_of(mirror.places(surface_point.place)))
                )
        lines.append(points)
    return KnifeExtra(lines=lines, counterparts=counterparts)


def located(mesh: Mesh, params: KnifeParams, weld: float) -> list[list[SurfacePoint | StepError]]:
    """Where the points of every line lie, once for trace and plan; why one is not on the mesh, if
    it is not."""
    return last_answer(mesh, "_knife_points", (params, weld), lambda: _located(mesh, params, weld))


def _located(mesh: Mesh, params: KnifeParams, weld: float) -> list[list[SurfacePoint | StepError]]:
    found: list[list[SurfacePoint | StepError]] = []
    for line in params.lines:
        view = line.view or params.view
        camera = Camera.of(view) if view else None
        here: list[SurfacePoint | StepError] = []
        for point in line.points:
            try:
                here.append(locate(mesh, point, camera, weld=weld))
            except StepError as refusal:
                here.append(refusal)
        found.append(here)
    return found


def _planned(
    mesh: Mesh, point: KnifePoint, surface_point: SurfacePoint | StepError
) -> PlannedPoint:
    """A chosen point as it is told."""
    if isinstance(surface_point, StepError):
        return PlannedPoint(kind="off", words=surface_point.words)
    if surface_point.kind == OFF:
        return PlannedPoint(kind="off", words="off the part")
    at = place_of(surface_point.place)
    if surface_point.kind == ON_VERTEX:
        return PlannedPoint(kind="vertex", words=f"vertex {surface_point.element}", at=at)
    if surface_point.kind == ON_EDGE:
        share = point.t if isinstance(point, EdgePoint) else surface_point.share
        low, high = mesh.edges.ends[surface_point.element].tolist()
        edge = (place_of(mesh.points[low]), place_of(mesh.points[high]))
        kind: PointKind = "half" if share == 0.5 else "edge"
        return PlannedPoint(kind=kind, words=f"edge {low}–{high}", at=at, share=share, edge=edge)
    return PlannedPoint(kind="face", words=f"face {surface_point.element}", at=at)
