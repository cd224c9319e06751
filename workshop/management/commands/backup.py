"""Write a safety copy of the workshop's data."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import DatabaseError

from workshop.storage.safety_copy import write_safety_copy


class Command(BaseCommand):
    help = "Write a consistent copy of the workshop's data to a file, also while the workshop is running."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, file: Path, **options: Any) -> None:
        try:
            write_safety_copy(file)
        except (OSError, DatabaseError) as trouble:
            raise CommandError(
                f"{file} can't be written: {getattr(trouble, 'strerror', None) or trouble}"
            ) from trouble
        self.stdout.write(f"{file}: {file.stat().st_size / 1e6:.1f} MB")
