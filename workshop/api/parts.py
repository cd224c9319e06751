"""Parts: bringing in, reading, taking out; making cuts, undo and redo."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import File, Router
from ninja.files import UploadedFile
from pydantic import Field

from cutcore import Mesh, write_part
from cutcore.aiming.picking.carried import Pick
from cutcore.geometry.units import Unit
from cutcore.previews.shaded import shaded
from cutcore.queries.flow import flow_counts
from cutcore.shapes.starter import KINDS, NAMES, StarterShape, limits_of, make_shape
from cutcore.steps.registry import Step
from workshop.api.base import Id, In, has_left
from workshop.api.jobs import JobName
from workshop.api.rendering import BYTES, rendered, sends, tagged
from workshop.api.shapes import (
    EntryOut,
    ErrorOut,
    ImportedOut,
    MadeOut,
    MovedOut,
    NoteOut,
    PartCard,
    PartOut,
    PickOut,
    StepParamsOut,
)
from workshop.api.uploads import bytes_of
from workshop.mesh_payload import (
    MAGIC_OF_DIFFERENCE,
    MAGIC_OF_SHADED,
    difference_payload,
    mesh_payload,
    shaded_payload,
    smooth_payload,
)
from workshop.models import Entry, Part
from workshop.services import parts as service
from workshop.services import undo as moves
from workshop.services.import_part import import_part
from workshop.services.jobs import job as running
from workshop.services.kept_steps import parameters, states_round, step_at
from workshop.services.live_meshes import (
    State,
    difference_since,
    mesh_of,
    mesh_of_state,
    state_since,
    states_of,
)
from workshop.services.make_cut import Made, make_cut
from workshop.services.projects import project_at
from workshop.services.smooth_forms import form_of
from workshop.storage.reading import reading

router = Router(tags=["parts"])

Ending = Literal["obj", "ply", "stl", "glb"]


class AtRevision(In):
    """A change is aimed at the revision its author has seen."""

    revision: Id


class StepIn(AtRevision):
    step: Step


class MakeIn(StepIn):
    pick: PickOut = Field(
        default_factory=PickOut, description="what is picked now, to be carried through the cut"
    )
    key: str = Field(
        default="",
        max_length=64,
        description="what whoever asks calls this cut: asked for twice, it is made once",
    )


def _out(part: Part) -> PartOut:
    mesh = mesh_of(part)
    return PartOut.of(part, mesh, flow_counts(mesh))


@router.post(
    "/projects/{project_id}/parts",
    response={201: ImportedOut, 404: ErrorOut, 413: ErrorOut, 422: ErrorOut},
)
def import_file(
    request: HttpRequest,
    project_id: Id,
    file: File[UploadedFile],
    unit: Unit | None = None,
    job: JobName | None = None,
) -> tuple[int, ImportedOut]:
    """Bring a file in as a part; its ending says what format it is, `unit` what its lengths are
    in, `job` the name under which it can be followed."""
    data = bytes_of(file)
    project, name = project_at(project_id), file.name or "part"
    with running(job, has_left(request)) as stopped:
        part, notes = import_part(project, name, data, unit, stopped=stopped)
    return 201, ImportedOut(part=PartCard.of(part), notes=[note.words for note in notes])


def download_of(name: str, data: bytes) -> HttpResponse:
    """The answer that a browser keeps as a file."""
    answer = HttpResponse(data, content_type=BYTES)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


class ShapeIn(In):
    """A starter shape, and what the part is to be called; by default as the shape."""

    shape: StarterShape
    name: str = Field(default="", max_length=120)


@router.post(
    "/projects/{project_id}/shapes", response={201: PartCard, 404: ErrorOut, 422: ErrorOut}
)
def add_shape(request: HttpRequest, project_id: Id, body: ShapeIn) -> tuple[int, PartCard]:
    """Begin a part with a starter shape."""
    project = project_at(project_id)
    name = body.name.strip() or NAMES[body.shape.shape]
    return 201, PartCard.of(service.begin_part(project, name, make_shape(body.shape)))


@router.get("/shapes", response=list[StarterShape])
def list_shapes(request: HttpRequest) -> list[Any]:
    """The starter shapes, each with its usual sizes."""
    return [kind(shape=name) for name, kind in KINDS.items()]


@router.get("/shapes/limits", response=dict[str, dict[str, tuple[float, float]]])
def list_shape_limits(request: HttpRequest) -> dict[str, dict[str, tuple[float, float]]]:
    """For each starter shape the least and the greatest value of its numbers."""
    return {name: limits_of(kind) for name, kind in KINDS.items()}


@router.post("/shapes", response={422: ErrorOut}, openapi_extra=sends())
def shape_mesh(request: HttpRequest, body: ShapeIn) -> HttpResponse:
    """The mesh of a starter shape as bytes, to be looked at before it is made a part."""
    return HttpResponse(mesh_payload(make_shape(body.shape)), content_type=BYTES)


@router.get("/parts/{part_id}", response={200: PartOut, 404: ErrorOut}, by_alias=True)
def get_part(request: HttpRequest, part_id: Id) -> PartOut:
    with reading():
        return _out(service.part_at(part_id))


@router.get(
    "/parts/{part_id}/steps/{number}", response={200: StepParamsOut, 404: ErrorOut}, by_alias=True
)
def get_step(request: HttpRequest, part_id: Id, number: Id) -> StepParamsOut:
    """The parameters of a recorded step."""
    params = parameters(step_at(part_id, number).params)
    before, after = states_round(part_id, number)
    return StepParamsOut(number=number, params=params, before=before, after=after)


class PartChangeIn(In):
    """What is to change; null leaves it."""

    name: str | None = Field(default=None, min_length=1, max_length=120)
    hidden: bool | None = None


@router.patch("/parts/{part_id}", response={200: PartOut, 404: ErrorOut}, by_alias=True)
def change_part(request: HttpRequest, part_id: Id, body: PartChangeIn) -> PartOut:
    with transaction.atomic():
        return _out(service.change_part(part_id, name=body.name, hidden=body.hidden))


@router.post("/parts/{part_id}/duplicate", response={201: PartCard, 404: ErrorOut})
def duplicate_part(request: HttpRequest, part_id: Id) -> tuple[int, PartCard]:
    """A copy of the part, with its steps, beside it."""
    return 201, PartCard.of(service.duplicate_part(part_id))


@router.delete("/parts/{part_id}", response={204: None, 404: ErrorOut})
def delete_part(request: HttpRequest, part_id: Id) -> tuple[int, None]:
    service.delete_part(part_id)
    return 204, None


@router.post("/parts/{part_id}/restore", response={200: PartOut, 404: ErrorOut}, by_alias=True)
def restore_part(request: HttpRequest, part_id: Id) -> PartOut:
    with transaction.atomic():
        return _out(service.restore_part(part_id))


@router.get("/meshes/{snapshot}", response={404: ErrorOut}, openapi_extra=sends())
def get_mesh(request: HttpRequest, snapshot: Id, since: Id | None = None) -> HttpResponse:
    """The mesh of a snapshot as bytes; it never changes, so it may be kept, but only beside the
    data it came from.

    With `since`, a snapshot that the asker has: only what has changed, if that is the one before
    and little has."""
    state, before = state_since(snapshot, since)
    # By what is in it: another data folder on the same port numbers its snapshots from 1 again.
    tag = "-".join(
        [str(MAGIC_OF_DIFFERENCE), state.digest, *([before.digest] if before is not None else [])]
    )
    return tagged(request, tag, lambda: _payload(state, before), content_type=BYTES)


@router.get("/meshes/{snapshot}/shaded", response={404: ErrorOut}, openapi_extra=sends())
def get_shaded(request: HttpRequest, snapshot: Id) -> HttpResponse:
    """The mesh of a snapshot shaded by hard and soft edges, as bytes."""
    (state,) = states_of((snapshot,))
    tag = f"{MAGIC_OF_SHADED}-{state.digest}"
    return tagged(
        request,
        tag,
        lambda: shaded_payload(shaded(mesh_of_state(state))),
        content_type=BYTES,
    )


@router.get(
    "/meshes/{snapshot}/smooth", response={404: ErrorOut, 422: ErrorOut}, openapi_extra=sends()
)
def get_smooth(
    request: HttpRequest, snapshot: Id, since: Id | None = None, job: JobName | None = None
) -> HttpResponse:
    """The smooth form of a snapshot as bytes; with `since`, the one before, whose form the asker has,
    only what has changed in it, if that is known; `job` is the name under which it can be followed."""
    state, before = state_since(snapshot, since)
    with running(job, has_left(request)):
        made = form_of(state, before)
    return HttpResponse(smooth_payload(made), content_type=BYTES)


def _payload(state: State, before: State | None) -> bytes:
    """The mesh of a state, or what it changed in the one before."""
    mesh = mesh_of_state(state)
    change = None if before is None else difference_since(state.snapshot, before.snapshot)
    if before is None or change is None:
        return mesh_payload(mesh)
    return difference_payload(mesh_of_state(before), mesh, change)


@router.get(
    "/parts/{part_id}/export.{ending}",
    response={404: ErrorOut, 422: ErrorOut},
    openapi_extra=sends(),
)
def export_part(request: HttpRequest, part_id: Id, ending: Ending) -> HttpResponse:
    """The part as a file."""
    part = service.part_at(part_id)
    name = f"{slugify(part.name) or 'part'}.{ending}"
    return download_of(name, write_part(name, mesh_of(part)))


@router.post(
    "/parts/{part_id}/steps",
    response={201: MadeOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
    by_alias=True,
)
def make_step(
    request: HttpRequest, part_id: Id, body: MakeIn, job: JobName | None = None
) -> HttpResponse:
    """Make the cut; `job` is the name under which it can be followed."""
    # Whoever leaves the page after making a cut has made it.
    with running(job, lambda: False):
        return make_cut(
            part_id,
            body.revision,
            body.step,
            made_out,
            pick=lambda mesh: pick_of(mesh, body.pick),
            key=body.key,
        )


def made_out(made: Made) -> HttpResponse:
    mesh, picked, held = made.result.mesh, made.result.picked, made.held
    out = MadeOut(
        part=PartOut.of(made.part, mesh, flow_counts(mesh)),
        new_edges=mesh.points[picked.edges].tolist(),
        new=PickOut(edges=made.new_edges.tolist(), faces=picked.faces.tolist()),
        carried=PickOut(
            vertices=held.vertices.tolist(), edges=held.edges.tolist(), faces=held.faces.tolist()
        ),
        notes=[NoteOut.of(made.before, note) for note in made.result.notes],
    )
    return rendered(out, status=201)


def pick_of(mesh: Mesh, pick: PickOut) -> Pick:
    """A pick as arrays, without numbers that are not there."""

    def those(numbers: list[int], count: int) -> np.ndarray:
        found = np.unique(np.array(numbers, dtype=np.int64))
        return found[(found >= 0) & (found < count)]

    return Pick(
        those(pick.vertices, mesh.vertex_count),
        those(pick.edges, len(mesh.edges)),
        those(pick.faces, mesh.face_count),
    )


@router.post(
    "/parts/{part_id}/undo",
    response={200: MovedOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
    by_alias=True,
)
def undo_step(request: HttpRequest, part_id: Id, body: AtRevision) -> HttpResponse:
    """Go back one step of the part, and undo first what was done since and rests on it."""
    return moves.undo(part_id, body.revision, _moved)


@router.post(
    "/parts/{part_id}/redo",
    response={200: MovedOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
    by_alias=True,
)
def redo_step(request: HttpRequest, part_id: Id, body: AtRevision) -> HttpResponse:
    """Go forward one step of the part, and do first what it rests on."""
    return moves.redo(part_id, body.revision, _moved)


def _moved(part: Part, turned: list[Entry]) -> HttpResponse:
    out = MovedOut(**dict(_out(part)), turned=[EntryOut.of(entry) for entry in turned])
    return rendered(out)
