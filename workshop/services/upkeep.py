"""Upkeep: what was deleted long ago goes for good, and room that is free again is given back, in
small steps."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable

from django.db import DatabaseError, connection

from cutcore.steps.warm import warm
from workshop import aside
from workshop.services.deleted import purge
from workshop.services.project_file import clear_away_unfinished
from workshop.services.verify import verify_all
from workshop.storage.room import give_back_room, made_to_give_back

FIRST_SECONDS = 20.0
EVERY_SECONDS = 900.0

log = logging.getLogger("workshop.upkeep")


def bring_up_to_date(say: Callable[[str], object]) -> None:
    """What has to be done once to data of an earlier version, before it is worked on."""
    clear_away_unfinished()
    made_to_give_back()
    found = verify_all(say, only_unsure=True)
    if found.meshes:
        say(found.words())


class Upkeep:
    """Gets readers ready, purges and gives back room, beside the server's work."""

    def __init__(self) -> None:
        self._stopping = threading.Event()
        self._thread = threading.Thread(target=self._run, name="upkeep", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._stopping.set()
        self._thread.join(timeout=5.0)

    def _run(self) -> None:
        # What is compiled is kept on the disk; where that was lost, this waits, and not the first
        # cut.
        warm()
        aside.get_ready()
        wait = FIRST_SECONDS
        while not self._stopping.wait(wait):
            wait = EVERY_SECONDS
            try:
                purge()
                give_back_room(stopped=self._stopping.is_set)
            except DatabaseError:
                # A full or locked disk: there is time to try again.
                log.warning("upkeep has to wait", exc_info=True)
            finally:
                connection.close()
