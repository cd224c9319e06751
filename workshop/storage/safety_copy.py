"""A safety copy of everything, consistent even while the workshop is in use.

Copying the file of a running workshop would miss what stands in its log only.
"""

from __future__ import annotations

import os
from pathlib import Path

from django.db import connection


def write_safety_copy(file: Path) -> None:
    """Write a copy of the database as it is at one moment. All of it is on the disk under its name,
    or nothing is.

    Raises FileExistsError rather than replacing anything, OSError or DatabaseError if it can't be
    written."""
    if file.exists():
        raise FileExistsError(17, "there is such a file already", str(file))
    partial = file.with_name(f"{file.name}.{os.getpid()}.part")
    try:
        with connection.cursor() as cursor:
            cursor.execute("VACUUM INTO %s", [str(partial)])
        with partial.open("rb+") as written:
            os.fsync(written.fileno())
        partial.rename(file)
    finally:
        partial.unlink(missing_ok=True)
