"""Work that somebody may want to follow, or to break off: a cut that is being made, a file that is
being read. Kept in memory only, under the name that whoever began it gave it."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

from cutcore.progress import watched
from workshop.errors import NotThere, Stopped


@dataclass
class Job:
    """What is done now, the share of it that is done, and whether it is to be broken off."""

    words: str = "waiting"
    share: float | None = None
    broken_off: threading.Event = field(default_factory=threading.Event)

    def check(self) -> None:
        """Raises Stopped if it is to be broken off."""
        if self.broken_off.is_set():
            raise Stopped("It was stopped; nothing was changed.")


_jobs: dict[str, Job] = {}


@contextmanager
def job(name: str | None, left: Callable[[], bool]) -> Iterator[Callable[[], bool]]:
    """Do work under a name, or under none; gives a question that is true once it is to be broken
    off, be it because whoever began it has `left`.

    Within, whatever tells how far it has come raises Stopped then."""
    here = Job()
    if name is not None:
        _jobs[name] = here

    def watch(words: str, share: float | None) -> None:
        here.words, here.share = words, share
        if left():
            here.broken_off.set()
        here.check()

    try:
        with watched(watch):
            yield lambda: left() or here.broken_off.is_set()
    finally:
        if name is not None and _jobs.get(name) is here:
            del _jobs[name]


def job_at(name: str) -> Job:
    """Work that is being done. Raises NotThere."""
    found = _jobs.get(name)
    if found is None:
        raise NotThere("this work is done, or was never begun")
    return found
