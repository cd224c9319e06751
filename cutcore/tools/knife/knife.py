"""Knife line: from point to point over all the faces that lie between."""

from __future__ import annotations

from cutcore.errors import StepError
from cutcore.geometry.camera import Camera
from cutcore.imprint.followed import eased, followed
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.limits import limit_mask
from cutcore.shapes.small import FROM_A_CORNER, FROM_ABOVE
from cutcore.tool import Cut, Example
from cutcore.tools.knife.params import KnifeLine, KnifeParams
from cutcore.tools.knife.planned_points import KnifeExtra, extra_of, located
from cutcore.trace.open_ends import settle_open_ends
from cutcore.trace.stretch import Reach, lay_stretch
from cutcore.trace.surface_points import OFF, SurfacePoint
from cutcore.trace.symmetry import with_mirror
from cutcore.trace.trace import Trace, TraceBuilder
from cutcore.words import count_of

__all__ = ["TOOL", "KnifeExtra", "KnifeLine", "KnifeParams", "trace"]


def trace(mesh: Mesh, params: KnifeParams) -> Trace:
    """The spans of all lines. Raises StepError, naming the point, if one can't be placed or joined
    to the next."""
    tolerance = weld_of(mesh)
    limit = limit_mask(mesh, params.limit)
    builder = TraceBuilder(mesh, tolerance)
    for number, line in enumerate(params.lines):
        view = line.view or params.view
        camera = Camera.of(view) if view else None
        reach = Reach(camera, params.reach == "through", limit)
        surface_points = []
        for k, found in enumerate(located(mesh, params, tolerance)[number]):
            if isinstance(found, StepError):
                raise found.at(f"lines[{number}].points[{k}]") from found
            surface_points.append(found)
        for k, a, b in _stretches(surface_points, line.closed):
            try:
                lay_stretch(builder, a, b, reach, line=number, stretch=k)
            except StepError as refusal:
                raise refusal.at(
                    f"lines[{number}].points[{k}] to points[{(k + 1) % len(surface_points)}]"
                ) from refusal
    settle_open_ends(builder, params.open_ends)
    made = followed(mesh, builder.build(), params.follow)
    if params.mirror is not None:
        made = with_mirror(mesh, made, params.mirror, limit=limit, weld=tolerance)
    return eased(mesh, made, tolerance)


def _stretches(
    surface_points: list[SurfacePoint], closed: bool
) -> list[tuple[int, SurfacePoint, SurfacePoint]]:
    """Neighbouring points, numbered, without those that were given twice in a row."""
    after = (
        surface_points[1:] + surface_points[:1]
        if closed and len(surface_points) > 2
        else surface_points[1:]
    )
    return [
        (k, a, b)
        for k, (a, b) in enumerate(zip(surface_points, after, strict=False))
        if not _same(a, b)
    ]


def _same(a: SurfacePoint, b: SurfacePoint) -> bool:
    if a.kind == b.kind == OFF:
        return False
    return a.kind == b.kind and a.element == b.element and bool((a.place == b.place).all())


def _title(params: KnifeParams) -> str:
    points = count_of(sum(len(line.points) for line in params.lines), "point")
    return f"Knife line, {points}{', right through' if params.reach == 'through' else ''}"


TOOL = Cut(
    params=KnifeParams,
    title=_title,
    examples=(
        Example(
            "cube",
            {
                "lines": [
                    {
                        "points": [
                            {"vertex": 2},
                            {"edge": [1, 8], "t": 0.25},
                            {"face": 4, "at": [-1.0, 0.1, 0.2]},
                        ]
                    }
                ]
            },
        ),
        Example(
            "plate",
            {
                "lines": [
                    {"points": [{"screen": [150, 320]}, {"screen": [660, 470]}]},
                    {
                        "points": [
                            {"screen": [330, 330]},
                            {"screen": [520, 350]},
                            {"screen": [420, 480]},
                        ],
                        "closed": True,
                    },
                ],
                "view": FROM_ABOVE,
            },
        ),
        Example(
            "cube",
            {
                "lines": [{"points": [{"screen": [200, 250]}, {"screen": [600, 330]}]}],
                "view": FROM_A_CORNER,
                "reach": "through",
                "mirror": {"axis": "x"},
            },
        ),
    ),
    trace=trace,
    extra=extra_of,
)
