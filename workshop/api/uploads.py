"""Files that are sent to the service."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings
from django.core.files.uploadedfile import TemporaryUploadedFile
from ninja.files import UploadedFile

from workshop.errors import TooLarge


def bytes_of(file: UploadedFile) -> bytes:
    """What was sent as a file. Raises TooLarge."""
    _refuse_longer(file, settings.UPLOAD_BYTES)
    return file.read()


@contextmanager
def on_disk(file: UploadedFile) -> Iterator[Path]:
    """Where what was sent as a project lies on the disk, for as long as it is read. Raises
    TooLarge."""
    _refuse_longer(file, settings.PROJECT_BYTES)
    if isinstance(file, TemporaryUploadedFile):
        yield Path(file.temporary_file_path())
        return
    with tempfile.NamedTemporaryFile() as copy:
        copy.write(file.read())
        copy.flush()
        yield Path(copy.name)


def _refuse_longer(file: UploadedFile, most: int) -> None:
    if file.size is None or file.size > most:
        name = (file.name or "the file")[:80]
        raise TooLarge(f"{name} is over the limit of {most >> 20} MB")
