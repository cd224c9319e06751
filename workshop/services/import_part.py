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
from workshop.readers import part_of_file
from workshop.services.parts import add_stored_part


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
    if len(data) > settings.UPLOAD_BYTES:
        raise TooLarge(f"the file is over the limit of {settings.UPLOAD_BYTES >> 20} MB")
    times = 1.0 if unit is None else factor(unit, cast(Unit, project.unit))
    come_to("reading the file")
    # The packing, too, is done aside: nobody waits for it who does not wait for the file.
    stored, notes = aside(part_of_file, name, data, times, stopped=stopped)
    if times != 1.0:
        notes = (
            *notes,
            Note(
                "scaled",
                f"1 {unit} in the file is {times:g} {project.unit} here: all lengths were multiplied by that.",
            ),
        )
    come_to("keeping it")
    with transaction.atomic():
        if unit is not None:
            Project.objects.filter(pk=project.pk).update(file_unit=unit)
        return add_stored_part(project, PurePath(name).stem, stored), notes
