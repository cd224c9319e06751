"""Planning: what is under the pointer, where a line would run, what a cut would do. Nothing here
changes anything."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import Field

from cutcore import Mesh, Trace, apply_step
from cutcore.aiming.aim_knife import Question, aim_at
from cutcore.aiming.locks import Lock
from cutcore.aiming.marks import UNSETTLED, Mark, Settling
from cutcore.geometry.camera import Camera, Pixel, View
from cutcore.mesh.difference import difference_between
from cutcore.params import Index
from cutcore.previews.chains import chains_of
from cutcore.previews.finishes import finishes_compared
from cutcore.previews.plan import plan_of
from cutcore.previews.smooth_form import smooth_form_of
from cutcore.queries.named_elements import face_mask
from cutcore.steps.registry import Step
from cutcore.tool import place_of
from cutcore.trace.mirror import Mirror
from cutcore.trace.surface_points import KnifePoint
from cutcore.trace.trace import ON_EDGE
from workshop.api.base import Id, has_left
from workshop.api.jobs import JobName
from workshop.api.parts import AtRevision, StepIn
from workshop.api.rendering import BYTES, sends
from workshop.api.shapes import (
    AimOut,
    ChainOut,
    ErrorOut,
    FinishOut,
    FlowCountsOut,
    GuideOut,
    MarkOut,
    MendingOut,
    NoteOut,
    PlanOut,
    Tick,
    refusal_out,
)
from workshop.mesh_payload import difference_payload, mesh_payload, smooth_payload
from workshop.services.jobs import job as running
from workshop.services.live_meshes import shown_of, state_of
from workshop.services.parts import mesh_at, part_at
from workshop.services.smooth_forms import planned_form, whole
from workshop.services.table import settled_on_others

router = Router(tags=["planning"])


class AimIn(AtRevision):
    """A pointer in a view; `start` is the last planned point of the line that would go on to it,
    `before` the one before that."""

    view: View
    pointer: Pixel
    settling: Settling = Settling()
    lock: Lock = Lock()
    start: KnifePoint | None = None
    before: KnifePoint | None = None
    length: float | None = Field(default=None, gt=0, description="a typed length of the stretch")
    through: bool = False
    on_others: bool = Field(
        default=False, description="settle on vertices of the other parts that are shown"
    )
    limit: tuple[Index, ...] | None = None
    mirror: Mirror | None = None
    shown: tuple[Index, ...] | None = Field(
        default=None, description="the faces that are not hidden"
    )


@router.post(
    "/parts/{part_id}/aim", response={200: AimOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut}
)
def aim(request: HttpRequest, part_id: Id, body: AimIn) -> AimOut:
    """The mark under the pointer and the stretch to it."""
    mesh = mesh_at(part_id, body.revision)
    question = Question(**{name: getattr(body, name) for name in Question.__dataclass_fields__})
    over = ""
    if body.on_others:
        settled = settled_on_others(part_at(part_id), Camera.of(body.view), body.pointer)
        if settled is not None:
            pixel, _, name = settled
            question = replace(question, pointer=pixel, settling=UNSETTLED)
            over = f", at a vertex of {name}"
    found = aim_at(mesh, question, shown_of(mesh, body.shown))
    trace = found.trace
    guide = found.guide
    place: Any = None if found.counterpart is None else found.counterpart.tolist()
    mark = mark_out(mesh, found.mark)
    return AimOut(
        mark=mark.model_copy(update={"words": mark.words + over}),
        guide=GuideOut(
            at=place_of(guide.origin), direction=place_of(guide.direction), angle=guide.angle
        )
        if guide
        else None,
        counterpart=place,
        chains=chains_out(trace) if trace else [],
        ticks=ticks_out(mesh, trace) if trace else [],
        length=sum(size for (line, _), size in trace.stretch_lengths().items() if line == 0)
        if trace
        else None,
        refusal=found.refusal,
    )


class PlanIn(StepIn):
    """A step, and where the part is looked at from: only for telling the far side of steps that
    have no view."""

    view: View | None = None


@router.post(
    "/parts/{part_id}/plan", response={200: PlanOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut}
)
def plan(request: HttpRequest, part_id: Id, body: PlanIn) -> PlanOut:
    """What a step would do. A step that can't be made is answered too, with the refusal."""
    mesh = mesh_at(part_id, body.revision)
    # Nobody waits for it any more once it was stopped, or the page is gone.
    with running(None, has_left(request)):
        return _plan_out(mesh, body.step, Camera.of(body.view) if body.view else None)


@router.post(
    "/parts/{part_id}/finishes",
    response={200: list[FinishOut], 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def finishes(request: HttpRequest, part_id: Id, body: PlanIn) -> list[FinishOut]:
    """A cut in each of the ways its faces may end, to be compared; one that can't be made so is
    answered too, with the refusal."""
    mesh = mesh_at(part_id, body.revision)
    camera = Camera.of(body.view) if body.view else None
    with running(None, has_left(request)):
        compared = finishes_compared(mesh, body.step, camera)
    return [
        FinishOut(
            finish=shown.finish,
            before=FlowCountsOut.of(shown.before),
            after=FlowCountsOut.of(shown.after),
            mending=MendingOut.of(shown.mending),
            moved=shown.moved,
            moved_at=place_of(shown.moved_at),
            refusal=refusal_out(mesh, shown.refusal),
        )
        for shown in compared
    ]


@router.post(
    "/parts/{part_id}/planned-mesh",
    response={404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
    openapi_extra=sends(),
)
def planned_mesh(request: HttpRequest, part_id: Id, body: StepIn) -> HttpResponse:
    """The mesh as a step would leave it, as bytes, to be looked at before it is made: what would
    change in the one there is, or the whole where too much would."""
    mesh = mesh_at(part_id, body.revision)
    result = apply_step(mesh, body.step)
    change = difference_between(mesh, result)
    made = result.mesh
    return HttpResponse(
        mesh_payload(made) if change is None else difference_payload(mesh, made, change),
        content_type=BYTES,
    )


class SmoothIn(StepIn):
    """A step of which the smooth form is wanted, and whether the way of every place is."""

    moves: bool = False


@router.post(
    "/parts/{part_id}/planned-smooth",
    response={404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
    openapi_extra=sends(),
)
def planned_smooth(
    request: HttpRequest, part_id: Id, body: SmoothIn, job: JobName | None = None
) -> HttpResponse:
    """The smooth form as a step would leave it, as bytes: what would change in that of the part as it
    stands. How far the form moves at most is told in a header."""
    state = state_of(part_at(part_id, body.revision))
    with running(job, has_left(request)):
        made, moves, most = planned_form(state, body.step, moves=body.moves)
    return HttpResponse(
        smooth_payload(made, moves),
        content_type=BYTES,
        headers={"X-Moves-Most": repr(most)},
    )


class SmoothPickIn(AtRevision):
    faces: tuple[Index, ...] = Field(min_length=1)


@router.post(
    "/parts/{part_id}/smooth-pick",
    response={404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
    openapi_extra=sends(),
)
def smooth_pick(request: HttpRequest, part_id: Id, body: SmoothPickIn) -> HttpResponse:
    """The smooth form of some faces alone, as bytes: of a part that is too large for more."""
    mesh = mesh_at(part_id, body.revision)
    form = smooth_form_of(mesh, np.flatnonzero(face_mask(mesh, body.faces)))
    return HttpResponse(smooth_payload(whole(form)), content_type=BYTES)


def _plan_out(mesh: Mesh, step: Step, camera: Camera | None) -> PlanOut:
    made = plan_of(mesh, step, camera)
    trace = made.trace
    return PlanOut(
        chains=chains_out(trace, woven=made.woven) if trace else [],
        # Woven in, a line has other vertices than where it crosses edges.
        ticks=[] if trace is None or made.woven else ticks_out(mesh, trace),
        before=FlowCountsOut.of(made.before),
        after=FlowCountsOut.of(made.after),
        new_vertices=made.new_vertices,
        new_edges=made.new_edges,
        changes=made.changes,
        moved=made.moved.tolist(),
        lifted=0.0
        if trace is None or trace.lift is None
        else float(np.linalg.norm(trace.lift, axis=1).max(initial=0.0)),
        mending=MendingOut.of(made.mending),
        far_crossings=len(np.unique(trace.ends[trace.far & trace.cut])) if trace else 0,
        notes=[NoteOut.of(mesh, note) for note in made.notes],
        refusal=refusal_out(mesh, made.refusal),
        extra=made.extra,
    )


def chains_out(trace: Trace, *, woven: bool = False) -> list[ChainOut]:
    """The lines of a trace. Woven in, none is left out for ending inside a face."""
    lifted = trace.lifted
    return [
        ChainOut(
            line=c.line, far=c.far, trimmed=c.trimmed and not woven, path=lifted[c.anchors].tolist()
        )
        for c in chains_of(trace)
    ]


def ticks_out(mesh: Mesh, trace: Trace) -> list[Tick]:
    used = np.unique(trace.ends[trace.cut])
    on_edge = used[trace.kind[used] == ON_EDGE]
    far = np.ones(len(trace.kind), dtype=bool)
    far[trace.ends[trace.cut & ~trace.far]] = False
    ends = mesh.points[mesh.edges.ends[trace.element[on_edge]]]
    return list(
        zip(trace.lifted[on_edge].tolist(), ends.tolist(), far[on_edge].tolist(), strict=True)
    )


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
