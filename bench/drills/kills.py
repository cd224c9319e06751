"""Kill the server at random moments of random work, start it again, and see that nothing that was
told to be made is lost.

`python -m bench.drills.kills --times 150 --seed 3`
"""

from __future__ import annotations

import argparse
import contextlib
import json
import random
import sys
import tempfile
import threading
import time
import urllib.error
from http.client import IncompleteRead
from typing import Any

from cutcore.shapes.starter import TorusShape, make_shape
from tests.random_steps import TOOLS, random_step
from tests.server_process import Server, told
from tests.warm_start import WarmStart

RING = {"shape": "torus", "diameter": 100, "thickness": 30, "around": 40, "across": 16}
# Work goes on for so long before it is interrupted.
LONGEST_SECONDS = 0.6


class Work:
    """Somebody who cuts, undoes and redoes without a pause, and remembers the last revision that
    was confirmed."""

    def __init__(self, server: Server, part: int, source: random.Random) -> None:
        self._server, self._part, self._source = server, part, source
        self.confirmed = 0
        self.faults: list[str] = []
        self.requests = 0
        self._thread = threading.Thread(target=self._run, daemon=True)

    def start(self) -> None:
        self._thread.start()

    def join(self) -> None:
        self._thread.join(timeout=30)

    def _run(self) -> None:
        mesh = make_shape(TorusShape.model_validate(RING))
        # Killed within an answer, at any of its bytes: that is what is rehearsed.
        with contextlib.suppress(OSError, ValueError, urllib.error.URLError, IncompleteRead):
            revision = self._server.ask(f"/parts/{self._part}")["revision"]
            while True:
                self.requests += 1
                path, body = self._next(mesh)
                try:
                    told = self._server.ask(
                        f"/parts/{self._part}/{path}", {"revision": revision, **body}
                    )
                    revision = self.confirmed = told.get("part", told)["revision"]
                except urllib.error.HTTPError as refused:
                    if refused.code >= 500:
                        self.faults.append(f"{refused.code} {path} {body}")
                    if refused.code == 409:
                        return
                    refused.close()

    def _next(self, mesh: Any) -> tuple[str, dict[str, Any]]:
        chance = self._source.random()
        if chance < 0.3:
            return ("undo" if chance < 0.2 else "redo"), {}
        # Places of the first mesh: on what has become of it some are refused, which is work, too.
        return "steps", {
            "step": random_step(
                mesh, self._source, tuple(t for t in TOOLS if t not in ("gauge", "profile"))
            )
        }


def drill(times: int, seed: int) -> list[str]:
    """Kill a server so many times; gives what was lost or wrong."""
    source = random.Random(seed)
    wrong: list[str] = []
    work_done = 0
    with tempfile.TemporaryDirectory() as data:
        part = confirmed = 0
        warm = WarmStart(data)
        for turn in range(times):
            server = Server(data, warm=warm)
            if part and server.ask(f"/parts/{part}")["revision"] < confirmed:
                wrong.append(f"kill {turn}: revision {confirmed} was confirmed and is gone")
            if turn % 10 == 0:
                part = server.ask("/projects/1/shapes", {"shape": RING})["id"]
            work = Work(server, part, source)
            work.start()
            time.sleep(source.uniform(0.02, LONGEST_SECONDS))
            server.kill()
            work.join()
            confirmed = work.confirmed
            work_done += work.requests
            wrong += work.faults
            if turn % 10 == 9 or turn == times - 1:
                said = told("verify", data, warm)
                if ": 0 differ from their steps, 0 made anew, 0 lost" not in said:
                    wrong.append(f"kill {turn}: {said}")
    print(json.dumps({"kills": times, "requests": work_done, "wrong": len(wrong)}))
    return wrong


if __name__ == "__main__":
    options = argparse.ArgumentParser()
    options.add_argument("--times", type=int, default=150)
    options.add_argument("--seed", type=int, default=random.SystemRandom().randrange(10**6))
    given = options.parse_args()
    found = drill(given.times, given.seed)
    print("\n".join(found))
    sys.exit(1 if found else 0)
