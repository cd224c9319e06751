"""Reading what belongs together as it was at one moment, while others write."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.db import connection, transaction


@contextmanager
def reading() -> Iterator[None]:
    """All that is read inside is of one state of the database. Nobody waits: a transaction that
    only reads takes no lock."""
    # The mode belongs to connections to SQLite alone, which their type does not know.
    sqlite: Any = connection
    sqlite.ensure_connection()
    mode = sqlite.transaction_mode
    try:
        sqlite.transaction_mode = "DEFERRED"
        with transaction.atomic():
            sqlite.transaction_mode = mode
            yield
    finally:
        sqlite.transaction_mode = mode
