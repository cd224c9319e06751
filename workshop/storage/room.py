"""Room on the disk: the database gives back what is not needed any more, without holding anybody
up."""

from __future__ import annotations

import time
from collections.abc import Callable

from django.db import DatabaseError, connection

# Pages of four kilobytes: so many at a time, and so many are left for what comes next.
STEP_PAGES = 256
SPARE_PAGES = 1024
PAUSE_SECONDS = 0.02
# As SQLite numbers it.
INCREMENTAL = 2


def free_pages() -> int:
    """How many pages of the database hold nothing."""
    return _number("PRAGMA freelist_count")


def give_back_room(
    *, spare: int = SPARE_PAGES, stopped: Callable[[], bool] = lambda: False
) -> None:
    """Cut off what is free at the end of the file, and the log of what was written; others write in
    between."""
    with connection.cursor() as cursor:
        while (free := free_pages()) > spare and not stopped():
            # Every row that is asked for is a page that goes.
            cursor.execute(f"PRAGMA incremental_vacuum({min(STEP_PAGES, free - spare)})")
            cursor.fetchall()
            time.sleep(PAUSE_SECONDS)
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def made_to_give_back() -> None:
    """Turn a database of an earlier version, which kept all room it ever had, into one that gives
    it back; it stays as it is where there is no room for that."""
    if _number("PRAGMA auto_vacuum") == INCREMENTAL:
        return
    with connection.cursor() as cursor:
        try:
            cursor.execute(f"PRAGMA auto_vacuum={INCREMENTAL}")
            cursor.execute("VACUUM")
        except DatabaseError:
            return


def _number(pragma: str) -> int:
    with connection.cursor() as cursor:
        cursor.execute(pragma)
        return int(cursor.fetchone()[0])
