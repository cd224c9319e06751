"""The chosen points of a knife line as its plan lists them."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from cutcore.errors import CutError
from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.tool import Drawn, Extra, Place, place_of
from cutcore.tools.knife.params import KnifeParams
from cutcore.trace.surface_points import OFF, EdgePoint, KnifePoint, Spot, locate
from cutcore.trace.symmetry import Counterparts
from cutcore.trace.trace import ON_EDGE, ON_VERTEX

PointKind = Literal["vertex", "edge", "half", "face", "off"]


class PlannedPoint(BaseModel):
    """A planned point: what it sits on, where, and how far it is along the line from the point before."""

    kind: PointKind
    words: str
    at: Place | None = None
    share: float | None = Field(default=None, description="from the first vertex the point names")
    edge: tuple[Place, Place] | None = Field(default=None, description="the ends of the edge it sits on, lower vertex first")
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
    for number, line in enumerate(params.lines):
        view = line.view or params.view
        camera = Camera.of(view) if view else None
        points = []
        for k, point in enumerate(line.points):
            told, spot = _planned(mesh, point, camera)
            points.append(told.model_copy(update={"length": lengths.get((number, k - 1))}))
            if mirror is not None and mirrored is not None and spot is not None and mirrored.of(spot) >= 0:
                counterparts.append(Counterpart(kind=told.kind, at=place_of(mirror.places(spot.place))))
        lines.append(points)
    return KnifeExtra(lines=lines, counterparts=counterparts)


def _planned(mesh: Mesh, point: KnifePoint, camera: Camera | None) -> tuple[PlannedPoint, Spot | None]:
    """A chosen point as it is told, and where it lies if that is on the part."""
    try:
        spot = locate(mesh, point, camera, weld=weld_of(mesh))
    except CutError as refusal:
        return PlannedPoint(kind="off", words=refusal.words), None
    if spot.kind == OFF:
        return PlannedPoint(kind="off", words="off the part"), None
    at = place_of(spot.place)
    if spot.kind == ON_VERTEX:
        return PlannedPoint(kind="vertex", words=f"vertex {spot.element}", at=at), spot
    if spot.kind == ON_EDGE:
        share = point.t if isinstance(point, EdgePoint) else spot.share
        low, high = mesh.edges.ends[spot.element].tolist()
        edge = (place_of(mesh.points[low]), place_of(mesh.points[high]))
        kind: PointKind = "half" if share == 0.5 else "edge"
        return PlannedPoint(kind=kind, words=f"edge {low}–{high}", at=at, share=share, edge=edge), spot
    return PlannedPoint(kind="face", words=f"face {spot.element}", at=at), spot
