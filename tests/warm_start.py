"""Commands of the workshop begun from a process that has read the code already: `python -m
tests.warm_start`.

A start takes longest over reading code, the same at every start; here that is done once, and each
command begins as a fork that has seen no data yet. A line in is what is asked for, a line out what
came of it."""

from __future__ import annotations

import importlib
import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path
from typing import IO, Any

ROOT = Path(__file__).resolve().parent.parent
# What a command reads whatever its data are; its settings are read by each of them.
SHARED = (
    "cutcore.steps.registry",
    "django.core.management",
    "django.db.models",
    "pydantic",
    "waitress",
)
OF_ONE_FOLDER = "--of-one-folder"
# A server that was told to end and does not is ended by force.
LONGEST_END_SECONDS = 90


class WarmStart:
    """The process that commands are forked off from, and what it says of them."""

    def __init__(self, data: str | None = None) -> None:
        """Of one folder of data, where all that is begun is about it, its settings are read, too."""
        environment = dict(os.environ) if data is None else {**os.environ, "WERTOME_DATA": data}
        self._process = subprocess.Popen(
            [sys.executable, "-m", "tests.warm_start", *([] if data is None else [OF_ONE_FOLDER])],
            cwd=ROOT,
            env=environment,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
        )

    def start(self, command: str, environment: dict[str, str]) -> tuple[int, IO[str]]:
        """Begin a command of `manage.py`; gives its process and what it prints."""
        read, write = os.pipe()
        printed = f"/proc/{os.getpid()}/fd/{write}"
        process = self._ask({"command": command, "environment": environment, "printed": printed})
        os.close(write)
        return process, os.fdopen(read)

    def wait(self, process: int) -> int:
        """Wait for a command's end; gives what it ends with, a signal's number below zero."""
        return self._ask({"wait": process})

    def _ask(self, asked: dict[str, Any]) -> int:
        assert self._process.stdin is not None
        assert self._process.stdout is not None
        print(json.dumps(asked), file=self._process.stdin, flush=True)
        return int(self._process.stdout.readline())


def _do(command: str, environment: dict[str, str], printed: int) -> int:
    os.environ.clear()
    os.environ.update(environment)
    nothing = os.open(os.devnull, os.O_RDONLY)
    os.dup2(nothing, 0)
    os.dup2(printed, 1)
    sys.stdout = os.fdopen(1, "w")
    from wertome.__main__ import main

    try:
        main([command])
    except SystemExit as end:
        return 0 if end.code is None else 1
    finally:
        sys.stdout.flush()
    return 0


def _ended(process: int) -> int:
    until = time.monotonic() + LONGEST_END_SECONDS
    while True:
        found, status = os.waitpid(process, os.WNOHANG)
        if found:
            return os.waitstatus_to_exitcode(status)
        if time.monotonic() > until:
            os.kill(process, signal.SIGKILL)
        time.sleep(0.01)


def _answer(*, of_one_folder: bool) -> None:
    for name in SHARED:
        importlib.import_module(name)
    if of_one_folder:
        os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wertome.settings")
        importlib.import_module("django").setup()
        importlib.import_module("wertome.urls")
    importlib.import_module("cutcore.steps.warm").warm()
    for line in sys.stdin:
        asked = json.loads(line)
        if "wait" in asked:
            print(_ended(asked["wait"]), flush=True)
            continue
        printed = os.open(asked["printed"], os.O_WRONLY)
        process = os.fork()
        if process == 0:
            os._exit(_do(asked["command"], asked["environment"], printed))
        os.close(printed)
        print(process, flush=True)


if __name__ == "__main__":
    _answer(of_one_folder=OF_ONE_FOLDER in sys.argv)
