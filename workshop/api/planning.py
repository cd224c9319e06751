"""Planning: what is under the pointer, where a line would run, what a cut would do. Nothing here changes anything."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from cutcore import Mesh, Note, Trace
from cutcore.aiming.aim_knife import Question, aim_at
from cutcore.aiming.locks import Lock
from cutcore.aiming.marks import Mark, Settling
from cutcore.aiming.placed_plane import frame_of
from cutcore.geometry.camera import Camera, Pixel, View
from cutcore.params import Index
from cutcore.previews.chains import chains_of, stretch_lengths
from cutcore.previews.plan import crossed_faces, plan_of
from cutcore.previews.planned_points import PlannedPoint, counterparts_of, points_of
from cutcore.queries.named_elements import place_of
from cutcore.steps.steps_file import Step
from cutcore.tools.gauge import GaugeParams, cuts_of, datum_of
from cutcore.tools.loop import LOOP_ENDS, LoopParams
from cutcore.tools.profile import ProfileParams, gauge_of
from cutcore.tools.slice.slice import SliceParams, planes_of
from cutcore.trace.mirror import Mirror
from cutcore.trace.surface_points import KnifePoint
from cutcore.trace.trace import ON_EDGE
from workshop.api.base import Id
from workshop.api.parts import AtRevision, StepIn
from workshop.api.shapes import (
    AimOut,
    ChainOut,
    CounterpartOut,
    EndOut,
    ErrorOut,
    FlowCountsOut,
    GaugeCutOut,
    GaugeOut,
    GuideOut,
    MarkOut,
    NoteOut,
    PlaneOut,
    PlanOut,
    PointOut,
    Tick,
    place_out,
    refusal_out,
)
from workshop.services.live_meshes import shown_of
from workshop.services.parts import mesh_at

router = Router(tags=["planning"])


class AimIn(AtRevision):
    """A pointer in a view; `start` is the last planned point of the line that would go on to it, `before` the one before that."""

    view: View
    pointer: Pixel
    settling: Settling = Settling()
    lock: Lock = Lock()
    start: KnifePoint | None = None
    before: KnifePoint | None = None
    length: float | None = Field(default=None, gt=0, description="a typed length of the stretch")
    through: bool = False
    limit: tuple[Index, ...] | None = None
    mirror: Mirror | None = None
    shown: tuple[Index, ...] | None = Field(default=None, description="the faces that are not hidden")


@router.post("/parts/{part_id}/aim", response={200: AimOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut})
def aim(request: HttpRequest, part_id: Id, body: AimIn) -> AimOut:
    """The mark under the pointer and the stretch to it."""
    mesh = mesh_at(part_id, body.revision)
    question = Question(**{name: getattr(body, name) for name in Question.__dataclass_fields__})
    found = aim_at(mesh, question, shown_of(mesh, body.shown))
    trace = found.trace
    guide = found.guide
    place: Any = None if found.counterpart is None else found.counterpart.tolist()
    return AimOut(
        mark=mark_out(mesh, found.mark),
        guide=GuideOut(at=place_out(guide.origin), direction=place_out(guide.direction), angle=guide.angle) if guide else None,
        counterpart=place,
        chains=chains_out(trace) if trace else [],
        ticks=ticks_out(mesh, trace) if trace else [],
        length=sum(size for (line, _), size in stretch_lengths(trace).items() if line == 0) if trace else None,
        refusal=found.refusal,
    )


class PlanIn(StepIn):
    """A step, and where the part is looked at from: only for telling the far side of steps that have no view."""

    view: View | None = None


@router.post("/parts/{part_id}/plan", response={200: PlanOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut})
def plan(request: HttpRequest, part_id: Id, body: PlanIn) -> PlanOut:
    """What a step would do. A step that can't be made is answered too, with the refusal."""
    mesh = mesh_at(part_id, body.revision)
    return _plan_out(mesh, body.step, Camera.of(body.view) if body.view else None)


def _plan_out(mesh: Mesh, step: Step, camera: Camera | None) -> PlanOut:
    made = plan_of(mesh, step, camera)
    trace = made.trace
    lengths = stretch_lengths(trace) if trace else {}
    lines = [
        [_point_out(point, lengths.get((number, k - 1))) for k, point in enumerate(line)]
        for number, line in enumerate(points_of(mesh, step))
    ]
    return PlanOut(
        lines=lines,
        counterparts=[CounterpartOut(kind=kind, at=place_out(at)) for kind, at in counterparts_of(mesh, step)],
        chains=chains_out(trace) if trace else [],
        ticks=ticks_out(mesh, trace) if trace else [],
        before=FlowCountsOut.of(made.before),
        after=FlowCountsOut.of(made.after),
        new_vertices=made.new_vertices,
        new_edges=made.new_edges,
        changes=made.changes,
        moved=made.moved.tolist(),
        far_crossings=len(np.unique(trace.ends[trace.far & trace.cut])) if trace else 0,
        notes=[NoteOut.of(mesh, note) for note in made.notes],
        refusal=refusal_out(mesh, made.refusal),
        landed=made.landed,
        smallest=made.smallest,
        crossed=crossed_faces(trace) if trace and isinstance(step, LoopParams) else [],
        ends=ends_out(mesh, made.notes),
        planes=_planes(mesh, step) if trace else [],
        gauge=_gauge(mesh, step, made.notes) if trace and isinstance(step, GaugeParams | ProfileParams) else None,
        scrap=isinstance(step, SliceParams) and step.then in ("discard", "halve"),
    )


def _gauge(mesh: Mesh, planned: GaugeParams | ProfileParams, notes: tuple[Note, ...]) -> GaugeOut:
    """The cuts of a gauge and what they are measured along."""
    step = gauge_of(planned) if isinstance(planned, ProfileParams) else planned
    datum = datum_of(mesh, step)
    idle = {note.elements[0].value: note.code for note in notes if note.code in ("gauge-on-a-loop", "gauge-misses")}
    cuts = []
    for cut in cuts_of(mesh, step):
        place = place_out(cut.place)
        code = cut.adds_nothing.code if cut.adds_nothing else idle.get(place)
        cuts.append(GaugeCutOut(width=cut.width, at=cut.at, place=place, adds_nothing=code))
    return GaugeOut(along=place_out(datum.along), low=datum.low, high=datum.high, middle=place_out(datum.middle), cuts=cuts)


def _planes(mesh: Mesh, step: Step) -> list[PlaneOut]:
    """The planes of a slice, to be drawn."""
    if not isinstance(step, SliceParams):
        return []
    return [
        PlaneOut(
            point=place_out(plane.point), normal=place_out(plane.normal), frame=[place_out(corner) for corner in frame_of(mesh, plane)]
        )
        for plane in planes_of(step)
    ]


def ends_out(mesh: Mesh, notes: tuple[Note, ...]) -> list[EndOut]:
    """Where loops end, and the face that one could go on through, if it has an edge opposite."""
    found = []
    for note in notes:
        if note.code not in LOOP_ENDS or not note.elements:
            continue
        element = note.elements[0]
        number: Any = element.value
        through = number if note.code == "loop-ngon" and mesh.sizes[number] % 2 == 0 else None
        found.append(EndOut(code=note.code, words=note.words, at=place_out(place_of(mesh, element)), through=through))
    return found


def _point_out(point: PlannedPoint, length: float | None) -> PointOut:
    edge: Any = None if point.ends is None else point.ends.tolist()
    return PointOut(kind=point.kind, words=point.words, at=point.place, share=point.share, edge=edge, length=length)


def chains_out(trace: Trace) -> list[ChainOut]:
    return [ChainOut(line=c.line, far=c.far, trimmed=c.trimmed, path=trace.place[c.anchors].tolist()) for c in chains_of(trace)]


def ticks_out(mesh: Mesh, trace: Trace) -> list[Tick]:
    used = np.unique(trace.ends[trace.cut])
    on_edge = used[trace.kind[used] == ON_EDGE]
    far = np.ones(len(trace.kind), dtype=bool)
    far[trace.ends[trace.cut & ~trace.far]] = False
    ends = mesh.points[mesh.edges.ends[trace.element[on_edge]]]
    return list(zip(trace.place[on_edge].tolist(), ends.tolist(), far[on_edge].tolist(), strict=True))


def mark_out(mesh: Mesh, mark: Mark) -> MarkOut:
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
