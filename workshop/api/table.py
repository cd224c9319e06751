"""The table: the parts of a project in one scene, placed, joined, copied, and what is done to them
undone."""

from __future__ import annotations

from typing import Annotated, Literal

from django.http import FileResponse, HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from cutcore.formats.files import write_parts
from cutcore.geometry.camera import Camera, Pixel, View
from cutcore.geometry.placement import Placement
from cutcore.geometry.units import Unit
from cutcore.outlines.flat_part import FlatPart
from cutcore.outlines.stencils import Stencil
from cutcore.params import Index, Real
from cutcore.table.copies import Copies
from cutcore.tool import Place, place_of
from workshop.api.base import Id, In, has_left
from workshop.api.jobs import JobName
from workshop.api.outlines import OutlineOut
from workshop.api.parts import AtRevision, download_of, made_out
from workshop.api.rendering import BYTES, rendered, sends
from workshop.api.shapes import EntryOut, ErrorOut, MadeOut, NextOut, PartCard, ProjectOut
from workshop.api.uploads import bytes_of, on_disk
from workshop.errors import Damaged
from workshop.models import Part
from workshop.services import table
from workshop.services.history import entry_that_made, next_of
from workshop.services.import_part import import_parts
from workshop.services.jobs import job as running
from workshop.services.live_meshes import state_of
from workshop.services.outlines import add_outline
from workshop.services.placing import placement_of
from workshop.services.project_file import brought_in, taken_out
from workshop.services.projects import project_at
from workshop.storage.reading import reading

router = Router(tags=["table"])

Parts = Annotated[list[Id], Field(max_length=2000)]


class TablePartOut(Schema):
    """A part on the table: where it stands, the box round it in its own coordinates, and the middle
    of that box on the table."""

    id: int
    name: str
    snapshot: int
    hidden: bool
    faces: int
    placement: Placement
    low: Place
    high: Place
    middle: Place

    @staticmethod
    def of(part: Part) -> TablePartOut:
        try:
            faces, (low, high) = table.facts_of(part)
            middle = place_of(table.middle_of_part(part))
        except Damaged:
            # The other parts can be worked on; this one says why it can't when it is opened.
            faces, low, high = 0, [0.0] * 3, [0.0] * 3
            middle = placement_of(part).move
        return TablePartOut(
            id=part.pk,
            name=part.name,
            snapshot=state_of(part).snapshot,
            hidden=part.hidden,
            faces=faces,
            placement=placement_of(part),
            low=place_of(low),
            high=place_of(high),
            middle=middle,
        )


class TableOut(Schema):
    """All parts of a project as they stand; what was done last on the table, and what of that was
    undone last, in words; and what is undone and done again next, steps of parts among it."""

    parts: list[TablePartOut]
    undo: str | None
    redo: str | None
    next: NextOut


class DoneOut(Schema):
    """What was done on the table: the parts that were made, what there is to say, and what it is in
    the order of what was done."""

    parts: list[PartCard]
    notes: list[str]
    entry: EntryOut | None

    @staticmethod
    def of(made: list[Part], notes: list[str]) -> DoneOut:
        entry = entry_that_made(made[0])
        return DoneOut(
            parts=[PartCard.of(part) for part in made],
            notes=notes,
            entry=None if entry is None else EntryOut.of(entry),
        )


@router.get("/projects/{project_id}/table", response={200: TableOut, 404: ErrorOut})
def get_table(request: HttpRequest, project_id: Id) -> TableOut:
    with reading():
        project = project_at(project_id)
        parts = [TablePartOut.of(part) for part in project.parts.all()]
        undo, redo = (next_of(project_id, way, on_table=True) for way in ("undo", "redo"))
        return TableOut(
            parts=parts,
            undo=None if undo is None else undo.words,
            redo=None if redo is None else redo.words,
            next=NextOut.of(project_id),
        )


class PlaceIn(In):
    """Where a part is to stand."""

    part: Id
    placement: Placement


class PlacesIn(In):
    places: Annotated[list[PlaceIn], Field(min_length=1, max_length=2000)]


@router.put(
    "/projects/{project_id}/places", response={200: ProjectOut, 404: ErrorOut, 422: ErrorOut}
)
def place_parts(request: HttpRequest, project_id: Id, body: PlacesIn) -> ProjectOut:
    """Put parts somewhere else."""
    placements = {one.part: one.placement for one in body.places}
    return ProjectOut.of(table.place_parts(project_id, placements))


@router.post(
    "/parts/{part_id}/place-made-its-own",
    response={201: MadeOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
    by_alias=True,
)
def make_place_own(request: HttpRequest, part_id: Id, body: AtRevision) -> HttpResponse:
    """Move the mesh to where the part stands, as a step; the part stands at home then."""
    return table.make_place_own(part_id, body.revision, made_out)


class JoinIn(In):
    """Parts to make one; with `weld`, vertices of different parts that lie within that distance
    become one."""

    parts: Parts
    name: str = Field(default="", max_length=120)
    weld: Annotated[Real, Field(ge=0)] | None = None


@router.post(
    "/projects/{project_id}/join",
    response={201: DoneOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def join_parts(
    request: HttpRequest, project_id: Id, body: JoinIn, job: JobName | None = None
) -> tuple[int, DoneOut]:
    """Make parts one, as they stand."""
    with running(job, lambda: False):
        part, done = table.join_parts(project_id, body.parts, body.name.strip(), body.weld)
    return 201, DoneOut.of([part], table.notes_of(done))


class BridgeIn(AtRevision):
    """The opening of a part that a bridge begins at, by its border edges as the mesh that is drawn
    numbers them; the part it goes to; and the rows of vertices between."""

    edges: list[Index]
    to: Id
    steps: int = Field(default=0, ge=0, le=200)


@router.post(
    "/parts/{part_id}/bridge-to",
    response={201: DoneOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def bridge_parts(request: HttpRequest, part_id: Id, body: BridgeIn) -> tuple[int, DoneOut]:
    """Make two parts one, joined by a bridge."""
    part, done = table.bridge_parts(part_id, body.revision, body.edges, body.to, body.steps)
    return 201, DoneOut.of([part], table.notes_of(done))


class CopiesIn(In):
    copies: Copies


@router.post("/parts/{part_id}/copies", response={201: DoneOut, 404: ErrorOut, 422: ErrorOut})
def copy_parts(request: HttpRequest, part_id: Id, body: CopiesIn) -> tuple[int, DoneOut]:
    """Copies of a part, in a row, round an axis, or its mirror image."""
    made = table.copy_parts(part_id, body.copies)
    return 201, DoneOut.of(made, [])


class SpreadIn(In):
    """Parts to move apart for good, each by so many times its distance from their middle."""

    parts: Parts
    by: Annotated[Real, Field(gt=-1)]


@router.post(
    "/projects/{project_id}/spread", response={200: ProjectOut, 404: ErrorOut, 422: ErrorOut}
)
def spread_parts(request: HttpRequest, project_id: Id, body: SpreadIn) -> ProjectOut:
    return ProjectOut.of(table.spread_parts(project_id, body.parts, body.by))


class FallIn(In):
    """Parts to let fall, and the height of the ground; null for what they stand on."""

    parts: Parts
    ground: Real | None = None


Quaternion = tuple[float, float, float, float]


class FallOut(Schema):
    """How parts fall: of each picture its second, and for every part, in the order they were named,
    the turn (a quaternion, w last) and then the move that take it from where it stands on the table
    to where it is."""

    seconds: list[float]
    turns: list[list[Quaternion]]
    moves: list[list[Place]]


@router.post("/projects/{project_id}/fall", response={200: FallOut, 404: ErrorOut, 422: ErrorOut})
def let_fall(
    request: HttpRequest, project_id: Id, body: FallIn, job: JobName | None = None
) -> HttpResponse:
    """Let parts fall, to look at how they come to lie. Nothing is changed."""
    with running(job, has_left(request)):
        seen = table.falling(project_id, body.parts, body.ground)
    out = FallOut(seconds=seen.seconds.tolist(), turns=seen.turn.tolist(), moves=seen.move.tolist())
    return rendered(out)


class ShownIn(In):
    """The only parts to show; null for all."""

    parts: Parts | None


@router.put("/projects/{project_id}/shown", response={200: ProjectOut, 404: ErrorOut})
def show_parts(request: HttpRequest, project_id: Id, body: ShownIn) -> ProjectOut:
    """Show some parts and hide the others, or show all."""
    if body.parts is None:
        return ProjectOut.of(table.show_all(project_id))
    return ProjectOut.of(table.show_only(project_id, body.parts))


class WhoseIn(In):
    """A pixel of a view, which is in the coordinates of the part in hand."""

    hand: Id
    view: View
    pixel: Pixel
    spread: SpreadIn | None = Field(default=None, description="parts that are drawn apart")


class WhoseOut(Schema):
    part: int | None


@router.post("/projects/{project_id}/whose", response={200: WhoseOut, 404: ErrorOut, 422: ErrorOut})
def whose(request: HttpRequest, project_id: Id, body: WhoseIn) -> WhoseOut:
    """Which part is seen at a pixel."""
    spread = None if body.spread is None else (body.spread.parts, body.spread.by)
    found = table.whose(project_id, body.hand, Camera.of(body.view), body.pixel, spread)
    return WhoseOut(part=found)


class StencilIn(In):
    """The part an outline is taken from, how, and the part before which it stands: the view and the
    plane are in that one's coordinates."""

    part: Id
    stencil: Stencil
    hand: Id | None = None
    name: str = Field(default="", max_length=120)


@router.post(
    "/projects/{project_id}/stencils",
    response={201: OutlineOut, 404: ErrorOut, 422: ErrorOut},
)
def take_stencil(
    request: HttpRequest, project_id: Id, body: StencilIn, job: JobName | None = None
) -> tuple[int, OutlineOut]:
    """Take an outline from a part as it stands, and keep it."""
    project = project_at(project_id)
    (part,) = table.parts_of(project_id, [body.part])
    with running(job, has_left(request)):
        drawn, sheet = table.stencil_from(body.part, body.stencil, body.hand)
    what = {"edges": "Edges", "border": "Border", "section": "Section", "silhouette": "Silhouette"}
    name = body.name.strip() or f"{what[body.stencil.of]} of {part.name}"
    return 201, OutlineOut.of(add_outline(project, name, drawn, sheet), body.hand)


@router.post("/outlines/{outline_id}/part", response={201: DoneOut, 404: ErrorOut, 422: ErrorOut})
def make_part(request: HttpRequest, outline_id: Id, body: FlatPart) -> tuple[int, DoneOut]:
    """Make a part of an outline."""
    part, notes = table.part_of_outline(outline_id, body)
    return 201, DoneOut.of([part], notes)


@router.post(
    "/projects/{project_id}/objects",
    response={201: DoneOut, 404: ErrorOut, 413: ErrorOut, 422: ErrorOut},
)
def import_objects(
    request: HttpRequest,
    project_id: Id,
    file: File[UploadedFile],
    unit: Unit | None = None,
    job: JobName | None = None,
) -> tuple[int, DoneOut]:
    """Bring the objects of a file in as parts, as `parts` brings it in as one."""
    project, name = project_at(project_id), file.name or "part"
    with running(job, has_left(request)) as stopped:
        data = bytes_of(file)
        made, notes = import_parts(project, name, data, unit, stopped=stopped)
    return 201, DoneOut.of(made, [note.words for note in notes])


@router.get(
    "/projects/{project_id}/export.{ending}",
    response={404: ErrorOut, 422: ErrorOut},
    openapi_extra=sends(),
)
def export_parts(
    request: HttpRequest, project_id: Id, ending: Literal["obj", "glb", "ply", "stl"]
) -> HttpResponse:
    """All parts that are shown as one file, as they stand."""
    project = project_at(project_id)
    shown = [part for part in project.parts.all() if not part.hidden]
    name = f"{slugify(project.name) or 'project'}.{ending}"
    return download_of(name, write_parts(name, [table.standing(part) for part in shown]))


@router.get(
    "/projects/{project_id}/project.zip",
    response={404: ErrorOut, 413: ErrorOut, 422: ErrorOut},
    openapi_extra=sends(),
)
def take_project_out(request: HttpRequest, project_id: Id) -> FileResponse:
    """The whole project as one file, to be brought in again."""
    name, file = taken_out(project_id)
    return FileResponse(
        file,
        as_attachment=True,
        filename=f"{slugify(name) or 'project'}.zip",
        content_type=BYTES,
    )


@router.post(
    "/project-files",
    response={201: ProjectOut, 413: ErrorOut, 422: ErrorOut},
)
def bring_project_in(
    request: HttpRequest, file: File[UploadedFile], job: JobName | None = None
) -> tuple[int, ProjectOut]:
    """A new project out of a file that one was taken out as."""
    with running(job, has_left(request)) as stopped, on_disk(file) as path:
        project = brought_in(path, stopped=stopped)
    return 201, ProjectOut.of(project_at(project.pk))
