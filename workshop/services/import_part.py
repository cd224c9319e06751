"""Bring a file in as a part."""

from __future__ import annotations

from pathlib import PurePath
from typing import cast

from django.conf import settings
from django.db import transaction

from cutcore import Note, read_part
from cutcore.units import Unit, factor
from cutcore.without import moved
from workshop.errors import TooLarge
from workshop.models import Part, Project
from workshop.services.parts import add_part


def import_part(project: Project, name: str, data: bytes, unit: Unit | None = None) -> tuple[Part, tuple[Note, ...]]:
    """A new part from the bytes of a file, whose lengths are in a unit, by default the project's.

    The unit is remembered for the next file. Nothing is stored if the file can't be read.
    """
    if len(data) > settings.UPLOAD_BYTES:
        raise TooLarge(f"the file is over the limit of {settings.UPLOAD_BYTES >> 20} MB")
    mesh, notes = read_part(name, data)
    if unit is None:
        return add_part(project, PurePath(name).stem, mesh), notes
    times = factor(unit, cast(Unit, project.unit))
    if times != 1.0:
        mesh = moved(mesh, mesh.points * times)
        notes = (*notes, Note("scaled", f"1 {unit} in the file is {times:g} {project.unit} here: all lengths were multiplied by that."))
    with transaction.atomic():
        Project.objects.filter(pk=project.pk).update(file_unit=unit)
        return add_part(project, PurePath(name).stem, mesh), notes
