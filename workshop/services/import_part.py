"""Bring a file in as a part."""

from __future__ import annotations

from pathlib import PurePath

from django.conf import settings

from cutcore import Note, read_part
from workshop.errors import TooLarge
from workshop.models import Part, Project
from workshop.services.parts import add_part


def import_part(project: Project, name: str, data: bytes) -> tuple[Part, tuple[Note, ...]]:
    """A new part from the bytes of a file. Nothing is stored if the file can't be read."""
    if len(data) > settings.UPLOAD_BYTES:
        raise TooLarge(f"the file is over the limit of {settings.UPLOAD_BYTES >> 20} MB")
    mesh, notes = read_part(name, data)
    return add_part(project, PurePath(name).stem, mesh), notes
