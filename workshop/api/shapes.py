"""The shapes of answers; the front end's types are generated from these."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from cutcore import CutError, Mesh
from cutcore.geometry.placement import Placement
from cutcore.geometry.units import Unit
from cutcore.notes import Note
from cutcore.params import Index
from cutcore.previews.mending import Mending
from cutcore.queries.flow import FlowCounts
from cutcore.queries.named_elements import middle_of
from cutcore.steps.registry import PlanExtra
from cutcore.steps.registry import Step as StepParams
from cutcore.tool import Place, place_of
from cutcore.trace.surface_points import KnifePoint
from cutcore.words import with_unit
from workshop.models import Entry, Part, Project, Step
from workshop.services.history import next_of
from workshop.services.kept_steps import steps_of, title_in
from workshop.services.lessons import LessonName
from workshop.services.live_meshes import state_of
from workshop.services.placing import placement_of


class ErrorOut(Schema):
    """Every refusal."""

    code: str
    words: str
    where: str = Field(default="", description="the path of the value that was refused")
    elements: list[dict[str, Any]] = []


class NoteOut(Schema):
    """A note with the places to show."""

    code: str
    words: str
    places: list[Place]
    where: str = Field(default="", description="the path of the value that was refused")

    @staticmethod
    def of(mesh: Mesh, note: Note) -> NoteOut:
        return NoteOut(
            code=note.code,
            words=note.words,
            places=[place_of(middle_of(mesh, e)) for e in note.elements],
        )

    def at(self, where: str) -> NoteOut:
        """The same, about a value of the step."""
        return self.model_copy(update={"where": where})


class FlowCountsOut(Schema):
    quads: int
    triangles: int
    ngons: int
    poles3: int
    poles5: int
    poles6: int
    stray: int
    t_junctions: int
    warped: int
    borders: int

    @staticmethod
    def of(counts: FlowCounts) -> FlowCountsOut:
        return FlowCountsOut(**asdict(counts))


class PartCard(Schema):
    """A part as a project lists it."""

    id: int
    name: str
    revision: int
    snapshot: int
    hidden: bool

    @staticmethod
    def of(part: Part) -> PartCard:
        return PartCard(
            id=part.pk,
            name=part.name,
            revision=part.revision,
            snapshot=state_of(part).snapshot,
            hidden=part.hidden,
        )


class ProjectOut(Schema):
    id: int
    name: str
    unit: Unit
    file_unit: Unit = Field(description="the unit of the file that was brought in last")
    changed: datetime
    lesson: LessonName | None = Field(description="the lesson that is taken on it")
    parts: list[PartCard]

    @staticmethod
    def of(project: Project) -> ProjectOut:
        parts = [PartCard.of(part) for part in project.parts.all() if part.deleted is None]
        kept: Any = {
            "unit": project.unit,
            "file_unit": project.file_unit,
            "lesson": project.lesson or None,
        }
        return ProjectOut(
            id=project.pk, name=project.name, changed=project.changed, parts=parts, **kept
        )


class StepOut(Schema):
    """A recorded step: `applied` is false for one that was undone."""

    number: int
    tool: str
    title: str
    applied: bool
    new_vertices: int
    new_edges: int
    quads: int
    notes: list[str]

    @staticmethod
    def of(step: Step, part: Part) -> StepOut:
        report = step.report
        unit: Any = part.project.unit
        return StepOut(
            number=step.number,
            tool=report["tool"],
            title=title_in(step, unit),
            applied=step.number <= part.position,
            new_vertices=report["new_vertices"],
            new_edges=report["new_edges"],
            quads=report["quads"],
            notes=[note["words"] for note in report["notes"]],
        )


class EntryOut(Schema):
    """Something that was done in a project; `part` and its name for a step of a part."""

    id: int
    words: str
    part: int | None
    on: str
    undone: bool

    @staticmethod
    def of(entry: Entry) -> EntryOut:
        unit: Any = entry.project.unit
        return EntryOut(
            id=entry.pk,
            words=with_unit(entry.words, unit),
            part=entry.part_id,
            on="" if entry.part is None else entry.part.name,
            undone=entry.undone > 0,
        )


class NextOut(Schema):
    """What is undone next in a project, and what is done again next."""

    undo: EntryOut | None
    redo: EntryOut | None

    @staticmethod
    def of(project_id: int) -> NextOut:
        undo, redo = next_of(project_id, "undo"), next_of(project_id, "redo")
        return NextOut(
            undo=None if undo is None else EntryOut.of(undo),
            redo=None if redo is None else EntryOut.of(redo),
        )


class PartOut(Schema):
    """A part as it stands: `snapshot` names the mesh to draw."""

    id: int
    project: int
    name: str
    revision: int
    snapshot: int
    vertices: int
    edges: int
    faces: int
    low: Place
    high: Place
    flow: FlowCountsOut
    placement: Placement = Field(description="where it stands on the table")
    steps: list[StepOut]
    can_undo: bool
    can_redo: bool
    next: NextOut = Field(description="what is undone and done again next in its project")

    @staticmethod
    def of(part: Part, mesh: Mesh, flow: FlowCounts) -> PartOut:
        steps = [StepOut.of(step, part) for step in steps_of(part)]
        return PartOut(
            id=part.pk,
            project=part.project_id,
            name=part.name,
            revision=part.revision,
            snapshot=state_of(part).snapshot,
            vertices=mesh.vertex_count,
            edges=len(mesh.edges),
            faces=mesh.face_count,
            low=place_of(mesh.box[0]),
            high=place_of(mesh.box[1]),
            flow=FlowCountsOut.of(flow),
            placement=placement_of(part),
            steps=steps,
            can_undo=part.position > 0,
            can_redo=part.position < len(steps),
            next=NextOut.of(part.project_id),
        )


class MovedOut(PartOut):
    """A part after undoing or redoing along its steps: `turned` is all that was undone or done again
    with it, in that order."""

    turned: list[EntryOut]


class PickOut(Schema):
    """Picked elements by number; edges as the mesh that is drawn numbers them."""

    model_config = ConfigDict(extra="forbid")

    vertices: list[Index] = []
    edges: list[Index] = []
    faces: list[Index] = []


class MadeOut(Schema):
    """A part after a cut, with the new edges as pairs of places and by number, the faces inside,
    and what has become of the pick that was there before."""

    new: PickOut
    carried: PickOut

    part: PartOut
    new_edges: list[tuple[Place, Place]]
    notes: list[NoteOut]


class ImportedOut(Schema):
    part: PartCard
    notes: list[str]


class ChainOut(Schema):
    """A run of the trace, to be drawn as one stitched or dotted path."""

    line: int
    far: bool
    trimmed: bool
    path: list[Place]


# A new vertex on an edge: where, the ends of that edge, and whether it is on the far side. There
# may be thousands.
Tick = tuple[Place, tuple[Place, Place], bool]


class GuideOut(Schema):
    """The line that a lock holds the next point to; the angle is in degrees from what it is
    measured against."""

    at: Place
    direction: Place
    angle: float | None


class MendingOut(Schema):
    """What turning faces into quads adds, and the worst of the quads touched: the smallest angle in
    degrees, the smallest scaled Jacobian, and where they are."""

    edges: list[tuple[Place, Place, bool]] = Field(
        description="two places, and whether the edge is on the far side"
    )
    quads: int
    angle: float
    angle_at: Place
    jacobian: float
    jacobian_at: Place
    median: float = Field(description="the scaled Jacobian that half of the quads have at least")

    @staticmethod
    def of(mending: Mending | None) -> MendingOut | None:
        if mending is None:
            return None
        ends = zip(mending.edges.tolist(), mending.far.tolist(), strict=True)
        edges: Any = [(a, b, far) for (a, b), far in ends]
        return MendingOut(
            edges=edges,
            quads=mending.quads,
            angle=mending.angle,
            angle_at=place_of(mending.angle_at),
            jacobian=mending.jacobian,
            jacobian_at=place_of(mending.jacobian_at),
            median=mending.median,
        )


class FinishOut(Schema):
    """What one way to finish a cut gives; `moved` is how far the surface moves at most."""

    finish: str
    before: FlowCountsOut
    after: FlowCountsOut
    mending: MendingOut | None
    moved: float
    moved_at: Place
    refusal: NoteOut | None


class PlanOut(Schema):
    chains: list[ChainOut]
    ticks: list[Tick]
    before: FlowCountsOut
    after: FlowCountsOut
    new_vertices: int
    new_edges: int
    changes: bool = Field(description="whether making it would change the part at all")
    far_crossings: int
    notes: list[NoteOut]
    refusal: NoteOut | None
    moved: list[tuple[Place, Place]] = Field(
        description="edges as they would lie where vertices move"
    )
    lifted: float = Field(description="how far new vertices lie off the surface at most")
    mending: MendingOut | None
    extra: PlanExtra | None = Field(description="what the plan of this tool shows beyond that")


class MarkOut(Schema):
    """What is under the pointer; `point` is what a click would choose, as in a steps file."""

    kind: Literal["vertex", "edge", "half", "face", "off"]
    point: KnifePoint
    at: Place | None
    words: str
    edge: tuple[Place, Place] | None
    share: float | None
    length: float | None
    stop: bool
    stops: list[Place]


class AimOut(Schema):
    """The mark, and the stretch from the last planned point to it."""

    mark: MarkOut
    guide: GuideOut | None
    counterpart: Place | None = Field(
        default=None,
        description="where the mirror shows the mark, if anything of the part is there",
    )
    chains: list[ChainOut]
    ticks: list[Tick]
    length: float | None
    refusal: str | None


class StepParamsOut(Schema):
    """The parameters of a recorded step, as in a steps file, and the snapshots before and after
    it."""

    number: int
    before: int
    after: int
    params: StepParams | None = Field(description="null for one that is not allowed any more")


def refusal_out(mesh: Mesh, refusal: CutError | None) -> NoteOut | None:
    """Why something can't be done, as a note."""
    return (
        None
        if refusal is None
        else NoteOut.of(mesh, Note(refusal.code, refusal.words, refusal.elements)).at(refusal.where)
    )
