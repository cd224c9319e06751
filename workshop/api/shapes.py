"""The shapes of answers; the front end's types are generated from these."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any, Literal

from ninja import Schema
from pydantic import Field

from cutcore import CutError, Mesh
from cutcore.errors import StepError
from cutcore.geometry.units import Unit
from cutcore.notes import Note
from cutcore.params import Index
from cutcore.queries.flow import FlowCounts
from cutcore.queries.named_elements import place_of
from cutcore.steps.steps_file import Step as StepParams
from cutcore.steps.steps_file import parse_step
from cutcore.trace.surface_points import KnifePoint
from workshop.models import Part, Project, Step
from workshop.services.live_meshes import state_of

Place = tuple[float, float, float]


class ErrorOut(Schema):
    """Every refusal."""

    code: str
    words: str
    elements: list[dict[str, Any]] = []


class NoteOut(Schema):
    """A note with the places to show."""

    code: str
    words: str
    places: list[Place]

    @staticmethod
    def of(mesh: Mesh, note: Note) -> NoteOut:
        return NoteOut(code=note.code, words=note.words, places=[place_out(place_of(mesh, e)) for e in note.elements])


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

    @staticmethod
    def of(part: Part) -> PartCard:
        return PartCard(id=part.pk, name=part.name, revision=part.revision, snapshot=state_of(part).snapshot)


class ProjectOut(Schema):
    id: int
    name: str
    unit: Unit
    file_unit: Unit = Field(description="the unit of the file that was brought in last")
    changed: datetime
    parts: list[PartCard]

    @staticmethod
    def of(project: Project) -> ProjectOut:
        parts = [PartCard.of(part) for part in project.parts.all() if part.deleted is None]
        units: Any = {"unit": project.unit, "file_unit": project.file_unit}
        return ProjectOut(id=project.pk, name=project.name, changed=project.changed, parts=parts, **units)


class StepOut(Schema):
    """A recorded step: `applied` is false for one that was undone."""

    number: int
    tool: str
    params: StepParams | None = Field(description="null for one that is not allowed any more")
    applied: bool
    new_vertices: int
    new_edges: int
    quads: int
    notes: list[str]

    @staticmethod
    def of(step: Step, part: Part) -> StepOut:
        report = step.report
        return StepOut(
            number=step.number,
            tool=report["tool"],
            params=understood(step.params),
            applied=step.number <= part.position,
            new_vertices=report["new_vertices"],
            new_edges=report["new_edges"],
            quads=report["quads"],
            notes=[note["words"] for note in report["notes"]],
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
    steps: list[StepOut]
    can_undo: bool
    can_redo: bool

    @staticmethod
    def of(part: Part, mesh: Mesh, flow: FlowCounts) -> PartOut:
        steps = [StepOut.of(step, part) for step in part.steps.all()]
        return PartOut(
            id=part.pk,
            project=part.project_id,
            name=part.name,
            revision=part.revision,
            snapshot=state_of(part).snapshot,
            vertices=mesh.vertex_count,
            edges=len(mesh.edges),
            faces=mesh.face_count,
            low=place_out(mesh.box[0]),
            high=place_out(mesh.box[1]),
            flow=FlowCountsOut.of(flow),
            steps=steps,
            can_undo=part.position > 0,
            can_redo=part.position < len(steps),
        )


class PickOut(Schema):
    """Picked elements by number; edges as the mesh that is drawn numbers them."""

    vertices: list[Index] = []
    edges: list[Index] = []
    faces: list[Index] = []


class MadeOut(Schema):
    """A part after a cut, with the new edges as pairs of places and by number, the faces inside, and what has become
    of the pick that was there before."""

    new: PickOut
    carried: PickOut

    part: PartOut
    new_edges: list[tuple[Place, Place]]
    notes: list[NoteOut]


class ImportedOut(Schema):
    part: PartCard
    notes: list[str]


class PointOut(Schema):
    """A planned point: what it sits on, where, and how far it is along the line from the point before."""

    kind: Literal["vertex", "edge", "half", "face", "off"]
    words: str
    at: Place | None
    share: float | None = Field(default=None, description="from the first vertex the point names")
    edge: tuple[Place, Place] | None = Field(default=None, description="the ends of the edge it sits on, lower vertex first")
    length: float | None = None


class ChainOut(Schema):
    """A run of the trace, to be drawn as one stitched or dotted path."""

    line: int
    far: bool
    trimmed: bool
    path: list[Place]


# A new vertex on an edge: where, the ends of that edge, and whether it is on the far side. There may be thousands.
Tick = tuple[Place, tuple[Place, Place], bool]


class CounterpartOut(Schema):
    """A planned point as the mirror shows it."""

    kind: Literal["vertex", "edge", "half", "face", "off"]
    at: Place


class GuideOut(Schema):
    """The line that a lock holds the next point to; the angle is in degrees from what it is measured against."""

    at: Place
    direction: Place
    angle: float | None


class EndOut(Schema):
    """Where a loop ends, why, and the face of an even number of sides that it could be told to go on through."""

    code: str
    words: str
    at: Place
    through: int | None


class PlaneOut(Schema):
    """A plane of a slice, and the corners of the frame to draw for it. The normal points to the scrap, if there is any."""

    point: Place
    normal: Place
    frame: list[Place]


class GaugeCutOut(Schema):
    """A cut of a gauge: the width it comes from, how high it lies along the datum, its place on the middle line, and the
    code of the note if it adds nothing."""

    width: int
    at: float
    place: Place
    adds_nothing: str | None


class GaugeOut(Schema):
    """What a gauge measures along: its direction, how far the part reaches, and the cuts; `chain.line` numbers these."""

    along: Place
    low: float
    high: float
    middle: Place
    cuts: list[GaugeCutOut]


class PlanOut(Schema):
    lines: list[list[PointOut]]
    counterparts: list[CounterpartOut]
    chains: list[ChainOut]
    ticks: list[Tick]
    before: FlowCountsOut
    after: FlowCountsOut
    new_vertices: int
    new_edges: int
    changes: bool = Field(description="whether making it would change the part at all")
    far_crossings: int
    landed: tuple[int, int] | None
    smallest: tuple[float, float] | None
    notes: list[NoteOut]
    refusal: NoteOut | None
    crossed: list[int] = Field(description="the faces that a loop runs over")
    ends: list[EndOut]
    planes: list[PlaneOut]
    gauge: GaugeOut | None
    moved: list[tuple[Place, Place]] = Field(description="edges as they would lie where vertices move")
    scrap: bool = Field(description="whether the side that the planes' normals point to is taken away")


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
    counterpart: Place | None = Field(default=None, description="where the mirror shows the mark, if anything of the part is there")
    chains: list[ChainOut]
    ticks: list[Tick]
    length: float | None
    refusal: str | None


def understood(params: Any) -> StepParams | None:
    """The parameters of a stored step; None where an earlier workshop took what is refused today."""
    try:
        return parse_step(params)
    except StepError:
        return None


def refusal_out(mesh: Mesh, refusal: CutError | None) -> NoteOut | None:
    """Why something can't be done, as a note."""
    return None if refusal is None else NoteOut.of(mesh, Note(refusal.code, refusal.words, refusal.elements))


def place_out(values: Any) -> Place:
    """A place as an answer gives it."""
    return float(values[0]), float(values[1]), float(values[2])
