"""Planning: what is under the pointer, where a line would run, what a cut would do. Nothing here changes anything."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import HttpRequest
from ninja import Router

from cutcore import CutError, Mesh, Trace, trace_step
from cutcore.marks import Mark, Settling, mark_at
from cutcore.spots import KnifePoint
from cutcore.steps import Step
from cutcore.tools.knife import KnifeLine, KnifeParams
from cutcore.trace import ON_EDGE
from cutcore.view import Camera, Pixel, View
from workshop.api.parts import AtRevision, StepIn
from workshop.api.shapes import AimOut, ChainOut, ErrorOut, FlowCountsOut, MarkOut, NoteOut, PlanOut, PointOut, TickOut
from workshop.services.live_meshes import mesh_of
from workshop.services.parts import part_at
from workshop.services.plan import PlannedPoint, chains_of, place_of, plan_of, points_of, stretch_lengths

router = Router(tags=["planning"])


class AimIn(AtRevision):
    """A pointer in a view; `start` is the last planned point of the line that would go on to it."""

    view: View
    pointer: Pixel
    settling: Settling = Settling()
    start: KnifePoint | None = None
    through: bool = False


@router.post("/parts/{part_id}/aim", response={200: AimOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut})
def aim(request: HttpRequest, part_id: int, body: AimIn) -> AimOut:
    """The mark under the pointer and the stretch to it."""
    mesh = mesh_of(part_at(part_id, body.revision))
    mark = mark_at(mesh, body.pointer, Camera.of(body.view), body.settling)
    trace: Trace | None = None
    refusal: str | None = None
    if body.start is not None and body.start != mark.point:
        line = KnifeLine(points=(body.start, mark.point))
        step = KnifeParams(lines=(line,), view=body.view, reach="through" if body.through else "near")
        try:
            trace = trace_step(mesh, step)
        except CutError as why:
            refusal = why.words
    length = sum(stretch_lengths(trace).values()) if trace else None
    return AimOut(
        mark=_mark_out(mesh, mark),
        chains=_chains(trace) if trace else [],
        ticks=_ticks(mesh, trace) if trace else [],
        length=length,
        refusal=refusal,
    )


@router.post("/parts/{part_id}/plan", response={200: PlanOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut})
def plan(request: HttpRequest, part_id: int, body: StepIn) -> PlanOut:
    """What a step would do. A step that can't be made is answered too, with the refusal."""
    mesh = mesh_of(part_at(part_id, body.revision))
    return _plan_out(mesh, body.step)


def _plan_out(mesh: Mesh, step: Step) -> PlanOut:
    made = plan_of(mesh, step)
    refusal = None
    if made.refusal is not None:
        places: Any = [place_of(mesh, e) for e in made.refusal.elements]
        refusal = NoteOut(code=made.refusal.code, words=made.refusal.words, places=places)
    trace = made.trace
    lengths = stretch_lengths(trace) if trace else {}
    lines = [
        [_point_out(point, lengths.get((number, k - 1))) for k, point in enumerate(line)]
        for number, line in enumerate(points_of(mesh, step))
    ]
    return PlanOut(
        lines=lines,
        chains=_chains(trace) if trace else [],
        ticks=_ticks(mesh, trace) if trace else [],
        before=FlowCountsOut.of(made.before),
        after=FlowCountsOut.of(made.after),
        new_vertices=made.new_vertices,
        new_edges=made.new_edges,
        far_crossings=len(np.unique(trace.ends[trace.far & trace.cut])) if trace else 0,
        notes=[NoteOut.of(mesh, note) for note in made.notes],
        refusal=refusal,
    )


def _point_out(point: PlannedPoint, length: float | None) -> PointOut:
    edge: Any = None if point.ends is None else point.ends.tolist()
    return PointOut(kind=point.kind, words=point.words, at=point.place, share=point.share, edge=edge, length=length)


def _chains(trace: Trace) -> list[ChainOut]:
    return [ChainOut(line=c.line, far=c.far, trimmed=c.trimmed, path=trace.place[c.anchors].tolist()) for c in chains_of(trace)]


def _ticks(mesh: Mesh, trace: Trace) -> list[TickOut]:
    used = np.unique(trace.ends[trace.cut])
    near = set(np.unique(trace.ends[trace.cut & ~trace.far]).tolist())
    on_edge = used[trace.kind[used] == ON_EDGE]
    ends = mesh.points[mesh.edges.ends[trace.element[on_edge]]].tolist()
    places = trace.place[on_edge].tolist()
    return [TickOut(at=at, edge=edge, far=int(a) not in near) for a, at, edge in zip(on_edge, places, ends, strict=True)]


def _mark_out(mesh: Mesh, mark: Mark) -> MarkOut:
    edge: Any = mesh.points[list(mark.ends)].tolist() if mark.ends else None
    place: Any = None if mark.place is None else mark.place.tolist()
    stops: Any = [] if mark.stops is None else mark.stops.tolist()
    return MarkOut(
        kind=mark.kind,
        point=mark.point,
        at=place,
        words=mark.words,
        edge=edge,
        share=mark.share,
        length=mark.length,
        stop=mark.stop,
        stops=stops,
    )
