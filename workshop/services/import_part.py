"""Bring a file in as a part."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import PurePath
from typing import cast

from django.conf import settings
from django.db import transaction

from cutcore import Note
from cutcore.geometry.units import Unit, factor
from cutcore.progress import come_to
from workshop.aside import aside
from workshop.errors import TooLarge
from workshop.models import Part, Project
from workshop.readers import part_of_file, parts_of_file
from workshop.services import history
from workshop.services.parts import add_stored_part


def import_parts(
    project: Project,
    name: str,
    data: bytes,
    unit: Unit | None = None,
    *,
    stopped: Callable[[], bool],
) -> tuple[list[Part], tuple[Note, ...]]:
    """New parts from the objects of a file, as `import_part`: those of one file are undone together."""
    times, said = _times(project, data, unit)
    come_to("reading the file")
    found, notes = aside(parts_of_file, name, data, times, stopped=stopped)
    come_to("keeping it")
    with transaction.atomic():
        if unit is not None:
            Project.objects.filter(pk=project.pk).update(file_unit=unit)
        stem = PurePath(name).stem
        made = [
            add_stored_part(project, own or stem, stored, placement)
            for own, stored, placement in found
        ]
        history.note(project.pk, f"{name[:150]} brought in", made=made)
    return made, (*notes, *said)


def _times(project: Project, data: bytes, unit: Unit | None) -> tuple[float, tuple[Note, ...]]:
    """How many times as large the lengths of a file are in a project, and what there is to say of
    it. Raises TooLarge for too long a file."""
    if len(data) > settings.UPLOAD_BYTES:
        raise TooLarge(f"the file is over the limit of {settings.UPLOAD_BYTES >> 20} MB")
    times = 1.0 if unit is None else factor(unit, cast(Unit, project.unit))
    if times == 1.0:
        return times, ()
    words = f"1 {unit} in the file is {times:g} {project.unit} here: all lengths were multiplied by that."
    return times, (Note("scaled", words),)


def import_part(
    project: Project,
    name: str,
    data: bytes,
    unit: Unit | None = None,
    *,
    stopped: Callable[[], bool],
) -> tuple[Part, tuple[Note, ...]]:
    """A new part from the bytes of a file, whose lengths are in a unit, by default the project's.

    The unit is remembered for the next file. Nothing is stored if the file can't be read, or if
    `stopped` says meanwhile that nobody waits for it any more."""
    times, said = _times(project, data, unit)
    come_to("reading the file")
    # The packing, too, is done aside: nobody waits for it who does not wait for the file.
    stored, notes = aside(part_of_file, name, data, times, stopped=stopped)
    come_to("keeping it")
    with transaction.atomic():
        if unit is not None:
            Project.objects.filter(pk=project.pk).update(file_unit=unit)
        part = add_stored_part(project, PurePath(name).stem, stored)
        history.note(project.pk, f"{name[:150]} brought in", made=[part])
        return part, (*notes, *said)
