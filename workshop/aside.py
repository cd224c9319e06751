"""Reading what other people made in a process of its own, so that it takes neither the time nor the
memory of the others.

The processes are forked, when they are wanted, off one that has all readers loaded and does nothing
else. A file that takes too long is given up with its process; one that takes too much memory meets
the process's own bound."""

from __future__ import annotations

import contextlib
import multiprocessing
import resource
import threading
import time
import traceback
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar

from cutcore.errors import CutError, FormatError
from cutcore.formats.budget import SECONDS
from workshop.errors import Stopped

BYTES = 1 << 30
# At once; others wait for their turn.
PROCESSES = 2
# A reading that minds its own time is given this much longer to say so in its own words.
GRACE_SECONDS = 0.5
# A process begins within this, even where the one it is forked off has to begin itself.
START_SECONDS = 60.0
READY = "ready"
# How often it is asked whether anybody still waits.
LOOK_SECONDS = 0.1

_context = multiprocessing.get_context("forkserver")
# The first is what the server's own beginning loads, which every process begins with once more.
_context.set_forkserver_preload(["django.core.management", "workshop.readers_loaded"])
_turns = threading.BoundedSemaphore(PROCESSES)

Found = TypeVar("Found")


def get_ready() -> None:
    """Load the readers, so that the first file need not wait for that."""
    process = _context.Process(target=_nothing, daemon=True)
    process.start()
    process.join()


def aside(
    read: Callable[..., Found],
    *given: Any,
    stopped: Callable[[], bool] = lambda: False,
    seconds: float | None = None,
) -> Found:
    """What `read`, a function of `workshop.readers`, makes of what it is given.

    Raises what it raises; FormatError if it takes more than so many seconds, by default those of one
    part, or more than the memory of one reading;
    Stopped if nobody waits for it any more."""
    with _turns:
        here, there = _context.Pipe()
        process = _context.Process(target=_answer, args=(there, read), daemon=True)
        process.start()
        there.close()
        try:
            return _received(here, given, stopped, SECONDS if seconds is None else seconds)
        finally:
            process.kill()
            process.join()
            process.close()
            here.close()


def _received(
    here: Connection, given: tuple[Any, ...], stopped: Callable[[], bool], seconds: float
) -> Any:
    def wait(seconds: float, words: str) -> None:
        ends = time.monotonic() + seconds
        while not here.poll(LOOK_SECONDS):
            if stopped():
                raise Stopped("the reading was broken off: nobody waits for it any more")
            if time.monotonic() > ends:
                raise FormatError(words)

    try:
        # How long it takes to begin is the machine's matter, not the file's.
        wait(START_SECONDS, "the machine is too busy to read it now: try again")
        here.recv()
        here.send(given)
        wait(
            seconds + GRACE_SECONDS,
            f"reading it takes more than {seconds:g} seconds: it is too large or too intricate",
        )
        done, found = here.recv()
    except (EOFError, ConnectionError) as gone:
        raise FormatError("reading it took more than the machine allows") from gone
    if done:
        return found
    raise found


def _nothing() -> None:
    pass


def _answer(there: Connection, read: Callable[..., Any]) -> None:
    """In the process aside: read what comes, answer, end."""
    _bound_memory()
    try:
        there.send(READY)
        given = there.recv()
        answer: tuple[bool, Any] = (True, read(*given))
    except CutError as refusal:
        answer = (False, refusal)
    except MemoryError:
        answer = (
            False,
            FormatError(
                f"reading it takes more than {BYTES >> 30} GB of memory: it is too large or too intricate"
            ),
        )
    except Exception as fault:
        # Not foreseen: told with its place to the process that waits, which answers and logs it
        # like one of its own.
        answer = (False, RuntimeError("".join(traceback.format_exception(fault))))
    with contextlib.suppress(ConnectionError):
        there.send(answer)


def _bound_memory() -> None:
    """Let this process have so much beside what it has already; where the system doesn't tell, the
    readers' own bounds hold."""
    with contextlib.suppress(OSError, ValueError, StopIteration):
        lines = Path("/proc/self/status").read_text().splitlines()
        held = int(next(line.split()[1] for line in lines if line.startswith("VmData:"))) << 10
        resource.setrlimit(resource.RLIMIT_DATA, (held + BYTES, held + BYTES))
