"""A project taken out as one file, and brought in again, one mesh in memory at a time."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any, BinaryIO, cast

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from cutcore.aiming.placed_sheet import PlacedSheet
from cutcore.formats.files import write_part
from cutcore.geometry.placement import Placement
from cutcore.geometry.units import Unit
from cutcore.mesh.difference import KeptMesh
from cutcore.outlines.drawn import DrawnOutline
from cutcore.progress import come_to
from cutcore.tools.gauge import GaugeParams
from workshop.aside import aside
from workshop.drawing_shapes import DrawingMarks, DrawingPlacement
from workshop.errors import Damaged, TooLarge
from workshop.mesh_arrays import digest_of
from workshop.models import Drawing, Entry, GaugeList, Outline, Part, Project, Snapshot, Step
from workshop.project_file import (
    KeptDrawing,
    KeptEntry,
    KeptList,
    KeptOutline,
    KeptPart,
    KeptProject,
    KeptReport,
    KeptStep,
    ReadProject,
    Spooled,
    read_project,
    write_project,
)
from workshop.services.copying import add_entries
from workshop.services.history import parts_of_project
from workshop.services.live_meshes import UNREADABLE, stored_mesh
from workshop.services.placing import placement_of, stored_placement
from workshop.services.projects import project_at
from workshop.storage.reading import reading

# A project has many meshes: reading it may take longer than one part, and all the longer the larger
# it is.
SECONDS = 60.0
SECONDS_A_MEGABYTE = 2.0
# How files are called that are being worked on, in the data folder: there is room for them where
# there is for the project.
UNFINISHED = "unfinished-"


def taken_out(project_id: int) -> tuple[str, BinaryIO]:
    """A project's name, and all of it as an archive: a file that goes when it is closed. Raises
    NotThere, or Damaged if a mesh can't be read."""
    out = cast(BinaryIO, tempfile.TemporaryFile(dir=settings.DATA, prefix=UNFINISHED))  # noqa: SIM115
    try:
        # Nobody waits for it who cuts meanwhile.
        with reading():
            project = project_at(project_id)
            kept = _kept(project)
            write_project(out, _files(project, kept), kept)
    except BaseException:
        out.close()
        raise
    if out.tell() > settings.PROJECT_BYTES:
        out.close()
        raise TooLarge(
            f"the project, with all its steps, is over the limit of {settings.PROJECT_BYTES >> 20} MB:"
            " it could not be brought in again"
        )
    out.seek(0)
    return project.name, out


def clear_away_unfinished() -> None:
    """Take away what a reading that was killed has left."""
    for path in settings.DATA.glob(f"{UNFINISHED}*"):
        path.unlink(missing_ok=True)


def _kept(project: Project) -> KeptProject:
    """All there is to a project but the bytes of meshes and pictures."""
    return KeptProject(
        name=project.name,
        unit=cast(Unit, project.unit),
        file_unit=cast(Unit, project.file_unit),
        parts=[_part(part, k) for k, part in enumerate(parts_of_project(project), 1)],
        entries=[_entry(entry) for entry in Entry.objects.filter(project=project)],
        outlines=[_outline(outline) for outline in Outline.objects.filter(project=project)],
        lists=[
            KeptList(name=one.name, params=GaugeParams.model_validate(one.params))
            for one in GaugeList.objects.filter(project=project)
        ],
        drawings=[
            KeptDrawing(
                name=drawing.name,
                picture=f"drawings/{k}",
                placement=DrawingPlacement.model_validate(drawing.placement),
                marks=DrawingMarks.model_validate(drawing.marks),
            )
            for k, drawing in enumerate(Drawing.objects.filter(project=project), 1)
        ],
    )


def _part(part: Part, k: int) -> KeptPart:
    states = list(
        Snapshot.objects.filter(part=part)
        .order_by("number")
        .values_list("number", "whole", "digest")
    )
    return KeptPart(
        name=part.name,
        number=part.pk,
        hidden=part.hidden,
        away=part.deleted is not None,
        placement=placement_of(part),
        position=part.position,
        steps=[_kept_step(step) for step in part.steps.all()],
        states=[f"parts/{k}/{number}.npz" for number, _, _ in states],
        whole=[whole for _, whole, _ in states],
        digests=[digest for _, _, digest in states],
        mesh=None if part.deleted is not None else f"parts/{k}/part.obj",
    )


def _entry(entry: Entry) -> KeptEntry:
    placed: Any = entry.placed
    return KeptEntry(
        words=entry.words,
        part=entry.part_id,
        number=entry.number,
        made=entry.made,
        gone=entry.gone,
        placed=placed,
        undone=entry.undone,
    )


def _files(project: Project, kept: KeptProject) -> Iterator[tuple[str, bytes]]:
    """The meshes of all states and the pictures, by their paths, each held against its digest.

    Digests that were not known are written down on the way."""
    for part in kept.parts:
        before: KeptMesh | None = None
        rows = Snapshot.objects.filter(part=part.number).order_by("number").iterator(chunk_size=1)
        for k, row in enumerate(rows):
            try:
                before = stored_mesh(bytes(row.arrays), whole=row.whole, before=before)
            except UNREADABLE as trouble:
                raise Damaged(f"what is stored of {part.name} can't be read") from trouble
            digest = digest_of(before)
            if row.digest not in ("", digest):
                raise Damaged(f"what is stored of {part.name} is not what was made")
            part.digests[k] = digest
            before = before.bare()
            yield part.states[k], bytes(row.arrays)
            if k == part.position and part.mesh is not None:
                yield part.mesh, write_part(part.mesh, before.mesh)
    for k, drawing in enumerate(Drawing.objects.filter(project=project)):
        yield kept.drawings[k].picture, bytes(drawing.picture)


def _outline(outline: Outline) -> KeptOutline:
    return KeptOutline(
        name=outline.name,
        drawn=DrawnOutline.model_validate(outline.drawn),
        sheet=None if outline.sheet is None else PlacedSheet.model_validate(outline.sheet),
    )


def brought_in(path: Path, *, stopped: Callable[[], bool]) -> Project:
    """A new project out of an archive; nothing is stored if it can't be read."""
    come_to("reading the project")
    seconds = SECONDS + SECONDS_A_MEGABYTE * (path.stat().st_size >> 20)
    with tempfile.NamedTemporaryFile(dir=settings.DATA, prefix=UNFINISHED) as spool:
        found = aside(read_project, str(path), spool.name, stopped=stopped, seconds=seconds)
        come_to("keeping it")
        with transaction.atomic():
            return _stored(found, cast(BinaryIO, spool))


def _stored(found: ReadProject, spool: BinaryIO) -> Project:
    def bytes_at(where: Spooled) -> bytes:
        spool.seek(where.at)
        return spool.read(where.size)

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
            deleted=timezone.now() if part.away else None,
        )
        numbers[part.number] = made.pk
        for k, (state, where) in enumerate(found.states[order]):
            whole = replace(state, arrays=bytes_at(where))
            Snapshot.objects.create(part=made, number=k, **whole.__dict__)
        Step.objects.bulk_create(
            Step(part=made, number=k, params=step.params, report=_report(step.report))
            for k, step in enumerate(part.steps, 1)
        )
    told = _entries_of_old(kept) if kept.entries is None else kept.entries
    entries = [_entry_of(entry) for entry in told]
    add_entries(entries, numbers, project)
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
            picture=bytes_at(picture),
            placement=drawing.placement.model_dump(mode="json"),
            marks=drawing.marks.model_dump(mode="json"),
        )
    return project


def _entry_of(told: KeptEntry) -> Entry:
    """An entry with the numbers that parts have in the file."""
    return Entry(**told.model_dump(mode="json", exclude={"part"}), part_id=told.part)


def _report(report: KeptReport) -> dict[str, Any]:
    """A report as a step keeps it. What it says of other parts stands in the entries."""
    of_old = {"made_parts", "taken_away", "own_place"}
    return report.model_dump(mode="json", exclude=of_old, exclude_none=True)


def _kept_step(step: Step) -> KeptStep:
    """A step as a file has it; of what an earlier version told of it, what is known today."""
    report = {name: step.report[name] for name in KeptReport.model_fields if name in step.report}
    report["title"] = report.get("title") or str(step.report.get("tool", "Step")).capitalize()
    return KeptStep(params=step.params, report=KeptReport.model_validate(report))


def _entries_of_old(kept: KeptProject) -> list[KeptEntry]:
    """The entries of a file that has none: steps in the order of parts, those that are applied
    done."""
    there = {part.number for part in kept.parts}
    home = Placement()
    entries = []
    for part in kept.parts:
        for k, step in enumerate(part.steps, 1):
            report = step.report
            entries.append(
                KeptEntry(
                    words=(report.title or report.tool)[:200],
                    part=part.number,
                    number=k,
                    made=[number for number in report.made_parts if number in there],
                    placed={}
                    if report.own_place is None
                    else {str(part.number): (report.own_place, home)},
                    undone=0 if k <= part.position else len(part.steps) - k + 1,
                )
            )
    return entries
