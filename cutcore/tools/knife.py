"""Knife line: from point to point over all the faces that lie between."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.camera import Camera, View
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.params import Params
from cutcore.queries.limits import limit_mask
from cutcore.tool import Cutting
from cutcore.trace.open_ends import OpenEnds, settle_open_ends
from cutcore.trace.stretch import Reach, lay_stretch
from cutcore.trace.surface_points import OFF, KnifePoint, Spot, locate
from cutcore.trace.symmetry import with_mirror
from cutcore.trace.trace import Trace, TraceBuilder


class KnifeLine(Params):
    """One line: its points in order; closed lines return to the first."""

    points: Annotated[tuple[KnifePoint, ...], Field(min_length=1)]
    closed: bool = False
    view: View | None = Field(default=None, description="where this line was aimed from, if not from the step's view")


class KnifeParams(Cutting):
    """Lines from point to point. With a view the surface is crossed where the line of sight meets it."""

    tool: Literal["knife"] = "knife"
    lines: Annotated[tuple[KnifeLine, ...], Field(min_length=1)]
    view: View | None = None
    reach: Literal["near", "through"] = "near"
    open_ends: OpenEnds = "trim"


def trace(mesh: Mesh, params: KnifeParams, *, weld: float | None = None) -> Trace:
    """The spans of all lines. Raises StepError, naming the point, if one can't be placed or joined to the next."""
    tolerance = weld_of(mesh) if weld is None else weld
    limit = limit_mask(mesh, params.limit)
    builder = TraceBuilder(mesh, tolerance)
    for number, line in enumerate(params.lines):
        view = line.view or params.view
        camera = Camera.of(view) if view else None
        reach = Reach(camera, params.reach == "through", limit)
        spots = []
        for k, point in enumerate(line.points):
            try:
                spots.append(locate(mesh, point, camera, weld=tolerance))
            except StepError as refusal:
                raise refusal.at(f"lines[{number}].points[{k}]") from refusal
        for k, a, b in _stretches(spots, line.closed):
            try:
                lay_stretch(builder, a, b, reach, line=number, stretch=k)
            except StepError as refusal:
                raise refusal.at(f"lines[{number}].points[{k}] to points[{(k + 1) % len(spots)}]") from refusal
    settle_open_ends(builder, params.open_ends)
    made = builder.build()
    return made if params.mirror is None else with_mirror(mesh, made, params.mirror, limit=limit, weld=tolerance)


def _stretches(spots: list[Spot], closed: bool) -> list[tuple[int, Spot, Spot]]:
    """Neighbouring points, numbered, without those that were given twice in a row."""
    after = spots[1:] + spots[:1] if closed and len(spots) > 2 else spots[1:]
    return [(k, a, b) for k, (a, b) in enumerate(zip(spots, after, strict=False)) if not _same(a, b)]


def _same(a: Spot, b: Spot) -> bool:
    if a.kind == b.kind == OFF:
        return False
    return a.kind == b.kind and a.element == b.element and bool((a.place == b.place).all())
