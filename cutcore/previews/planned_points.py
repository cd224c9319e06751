"""The chosen points of a plan, as it lists them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from cutcore.errors import CutError
from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.steps.steps_file import Step
from cutcore.tools.knife import KnifeParams
from cutcore.trace.surface_points import OFF, EdgePoint, KnifePoint, Spot, locate
from cutcore.trace.symmetry import Counterparts
from cutcore.trace.trace import ON_EDGE, ON_VERTEX


@dataclass(frozen=True, eq=False)
class PlannedPoint:
    """A chosen point as the plan lists it; `share` runs from the first vertex the point names."""

    kind: Literal["vertex", "edge", "half", "face", "off"]
    words: str
    place: tuple[float, float, float] | None
    share: float | None
    ends: np.ndarray | None = None
    spot: Spot | None = None


def points_of(mesh: Mesh, step: Step) -> list[list[PlannedPoint]]:
    """The chosen points of a step, line by line; one that is not on the mesh is listed as off the part."""
    lines: list[list[PlannedPoint]] = []
    if not isinstance(step, KnifeParams):
        return lines
    for line in step.lines:
        view = line.view or step.view
        camera = Camera.of(view) if view else None
        lines.append([_planned(mesh, point, camera) for point in line.points])
    return lines


def counterparts_of(mesh: Mesh, step: Step) -> list[tuple[Literal["vertex", "edge", "half", "face", "off"], np.ndarray]]:
    """The planned points as the step's mirror shows them, where there is something of the part."""
    if not isinstance(step, KnifeParams) or step.mirror is None:
        return []
    found: list[tuple[Literal["vertex", "edge", "half", "face", "off"], np.ndarray]] = []
    counterparts = Counterparts(mesh, step.mirror, weld=weld_of(mesh))
    for line in points_of(mesh, step):
        for point in line:
            if point.spot is not None and point.place is not None and counterparts.of(point.spot) >= 0:
                found.append((point.kind, step.mirror.places(np.array(point.place))))
    return found


def _planned(mesh: Mesh, point: KnifePoint, camera: Camera | None) -> PlannedPoint:
    try:
        spot = locate(mesh, point, camera, weld=weld_of(mesh))
    except CutError as refusal:
        return PlannedPoint("off", refusal.words, None, None)
    if spot.kind == OFF:
        return PlannedPoint("off", "off the part", None, None)
    place = (float(spot.place[0]), float(spot.place[1]), float(spot.place[2]))
    if spot.kind == ON_VERTEX:
        return PlannedPoint("vertex", f"vertex {spot.element}", place, None, spot=spot)
    if spot.kind == ON_EDGE:
        share = point.t if isinstance(point, EdgePoint) else spot.share
        low, high = mesh.edges.ends[spot.element]
        return PlannedPoint("half" if share == 0.5 else "edge", f"edge {low}–{high}", place, share, mesh.points[[low, high]], spot)
    return PlannedPoint("face", f"face {spot.element}", place, None, spot=spot)
