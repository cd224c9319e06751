"""A project taken out as one file, and brought in again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from typing import Any, cast

from django.conf import settings
from django.db import transaction

from cutcore.aiming.placed_sheet import PlacedSheet
from cutcore.formats.files import write_part
from cutcore.geometry.units import Unit
from cutcore.outlines.drawn import DrawnOutline
from cutcore.progress import come_to
from cutcore.tools.gauge import GaugeParams
from workshop.aside import aside
from workshop.drawing_shapes import DrawingMarks, DrawingPlacement
from workshop.errors import TooLarge
from workshop.mesh_arrays import digest_of, pack_mesh
from workshop.models import Drawing, GaugeList, Outline, Part, Project, Snapshot, Step
from workshop.project_file import (
    KeptDrawing,
    KeptList,
    KeptOutline,
    KeptPart,
    KeptProject,
    KeptReport,
    KeptStep,
    ReadProject,
    packed_project,
    read_project,
)
from workshop.services.live_meshes import read_kept
from workshop.services.parts import placement_of, stored_placement
from workshop.services.projects import project_at

# A project has many meshes: reading it may take longer than one part.
SECONDS = 60.0


def taken_out(project_id: int) -> tuple[str, bytes]:
    """A project's name, and all of it as an archive. Raises NotThere, Damaged if a mesh can't be
    read, or TooLarge as soon as it is more than could be brought in again."""
    with transaction.atomic():
        project = project_at(project_id)
        files: dict[str, bytes] = {}
        parts = [_part(part, k, files) for k, part in enumerate(project.parts.all(), 1)]
        drawings = []
        for k, drawing in enumerate(Drawing.objects.filter(project=project), 1):
            path = f"drawings/{k}"
            files[path] = bytes(drawing.picture)
            drawings.append(
                KeptDrawing(
                    name=drawing.name,
                    picture=path,
                    placement=DrawingPlacement.model_validate(drawing.placement),
                    marks=DrawingMarks.model_validate(drawing.marks),
                )
            )
        kept = KeptProject(
            name=project.name,
            unit=cast(Unit, project.unit),
            file_unit=cast(Unit, project.file_unit),
            parts=parts,
            outlines=[_outline(outline) for outline in Outline.objects.filter(project=project)],
            lists=[
                KeptList(name=one.name, params=GaugeParams.model_validate(one.params))
                for one in GaugeList.objects.filter(project=project)
            ],
            drawings=drawings,
        )
    packed = packed_project(kept, files)
    _refuse_too_large(len(packed))
    return project.name, packed


def _refuse_too_large(size: int) -> None:
    if size > settings.UPLOAD_BYTES:
        raise TooLarge(
            f"the project, with all its steps, is over the limit of {settings.UPLOAD_BYTES >> 20} MB:"
            " it could not be brought in again"
        )


def _part(part: Part, k: int, files: dict[str, bytes]) -> KeptPart:
    """A part and the paths of its meshes, which are put among the files."""
    states, digests = [], []
    name = f"parts/{k}/part.obj"
    for snapshot in Snapshot.objects.filter(part=part).order_by("number").only("pk", "number"):
        kept = read_kept(snapshot.pk)
        path = f"parts/{k}/{snapshot.number}.npz"
        files[path] = pack_mesh(kept)
        states.append(path)
        digests.append(digest_of(kept))
        # Each state stands there whole: many steps of a dense part would fill the memory.
        _refuse_too_large(sum(len(data) for named, data in files.items() if named.endswith(".npz")))
        if snapshot.number == part.position:
            files[name] = write_part(name, kept.mesh)
    return KeptPart(
        name=part.name,
        number=part.pk,
        hidden=part.hidden,
        placement=placement_of(part),
        position=part.position,
        steps=[
            KeptStep(params=step.params, report=KeptReport.model_validate(step.report))
            for step in part.steps.all()
        ],
        states=states,
        digests=digests,
        mesh=name,
    )


def _outline(outline: Outline) -> KeptOutline:
    return KeptOutline(
        name=outline.name,
        drawn=DrawnOutline.model_validate(outline.drawn),
        sheet=None if outline.sheet is None else PlacedSheet.model_validate(outline.sheet),
    )


def brought_in(data: bytes, *, stopped: Callable[[], bool]) -> Project:
    """A new project out of an archive; nothing is stored if it can't be read."""
    if len(data) > settings.UPLOAD_BYTES:
        raise TooLarge(f"the file is over the limit of {settings.UPLOAD_BYTES >> 20} MB")
    come_to("reading the project")
    found = aside(read_project, data, stopped=stopped, seconds=SECONDS)
    come_to("keeping it")
    with transaction.atomic():
        return _stored(found)


def _stored(found: ReadProject) -> Project:
    kept = found.project
    project = Project.objects.create(name=kept.name, unit=kept.unit, file_unit=kept.file_unit)
    numbers: dict[int, int] = {}
    for order, part in enumerate(kept.parts):
        made = Part.objects.create(
            project=project,
            name=part.name,
            order=order,
            hidden=part.hidden,
            position=part.position,
            revision=part.position + 1,
            placement=stored_placement(part.placement),
        )
        numbers[part.number] = made.pk
        Snapshot.objects.bulk_create(
            Snapshot(part=made, number=k, **asdict(state))
            for k, state in enumerate(found.states[order])
        )
    for part in kept.parts:
        Step.objects.bulk_create(
            Step(
                part_id=numbers[part.number],
                number=k,
                params=step.params,
                report=_report(step.report, numbers),
            )
            for k, step in enumerate(part.steps, 1)
        )
    for outline in kept.outlines:
        Outline.objects.create(
            project=project,
            name=outline.name,
            drawn=outline.drawn.model_dump(mode="json"),
            sheet=None if outline.sheet is None else outline.sheet.model_dump(mode="json"),
        )
    for one in {one.name: one for one in kept.lists}.values():
        GaugeList.objects.create(
            project=project, name=one.name, params=one.params.model_dump(mode="json")
        )
    for drawing, (kind, picture) in zip(kept.drawings, found.pictures, strict=True):
        Drawing.objects.create(
            project=project,
            name=drawing.name,
            kind=kind,
            picture=picture,
            placement=drawing.placement.model_dump(mode="json"),
            marks=drawing.marks.model_dump(mode="json"),
        )
    return project


def _report(report: KeptReport, numbers: dict[int, int]) -> dict[str, Any]:
    """A report in which parts are called by their numbers here; those that did not come along are
    left out."""
    told = report.model_dump(mode="json")
    for field in ("made_parts", "taken_away"):
        named = [numbers[part] for part in told.pop(field) if part in numbers]
        told |= {field: named} if named else {}
    return told
