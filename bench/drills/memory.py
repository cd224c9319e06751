"""Hundreds of cuts and a hundred parts of 64 k quads through one server: its memory has to stay
flat, and below a bound.

`python -m bench.drills.memory`
"""

from __future__ import annotations

import argparse
import contextlib
import sys
import tempfile
from pathlib import Path

from tests.server_process import Server

RING = {"shape": "torus", "diameter": 100, "thickness": 30, "around": 256, "across": 250}
VIEW = {
    "eye": [0, 150, 150],
    "target": [0, 0, 0],
    "up": [0, 1, 0],
    "projection": "perspective",
    "fov": 35,
    "size": [900, 700],
}
MOST_MEGABYTES = 1500
# What the second half of the cuts may add.
FLAT_MEGABYTES = 120


def resident(server: Server) -> int:
    """The megabytes that a server takes, with all processes it has started; of shared pages each
    counts its share."""
    parents: dict[int, int] = {}
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            with contextlib.suppress(OSError, IndexError):
                parents[int(entry.name)] = int(
                    (entry / "stat").read_text().rsplit(")", 1)[1].split()[1]
                )
    found = {server.process}
    while more := {pid for pid, parent in parents.items() if parent in found} - found:
        found |= more
    kilobytes = 0
    for pid in found:
        with contextlib.suppress(OSError, StopIteration):
            lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
            kilobytes += int(next(line for line in lines if line.startswith("Pss:")).split()[1])
    return kilobytes // 1024


def drill(cuts: int, parts: int) -> list[str]:
    """Cut one part so many times with a preview before each, then open so many parts; gives what is
    wrong."""
    with tempfile.TemporaryDirectory() as data:
        server = Server(data)
        try:
            return _drilled(server, cuts, parts)
        finally:
            server.kill()


def _drilled(server: Server, cuts: int, parts: int) -> list[str]:
    part = server.ask("/projects/1/shapes", {"shape": RING})["id"]
    taken = []
    for k in range(1, cuts + 1):
        server.ask(
            f"/parts/{part}/aim", {"revision": k, "view": VIEW, "pointer": [450, 300 + k % 50]}
        )
        # A band of faces after the other, so that every cut is a local one.
        band = list(range(250 * (k % 200), 250 * (k % 200) + 250))
        plane = {"point": [0, 14.0 * (k / cuts - 0.5) + 0.013, 0], "normal": [0.1, 1, 0.001 * k]}
        step = {"tool": "slice", "plane": plane, "limit": band}
        made = server.ask(f"/parts/{part}/steps", {"revision": k, "step": step})
        server.ask(f"/meshes/{made['part']['snapshot']}")
        taken.append(resident(server))
    for _ in range(parts):
        other = server.ask("/projects/1/shapes", {"shape": RING})
        server.ask(
            f"/parts/{other['id']}/aim", {"revision": 1, "view": VIEW, "pointer": [450, 300]}
        )
        taken.append(resident(server))
    half, last = taken[cuts // 2], taken[cuts - 1]
    print(f"{cuts} cuts: {taken[0]} MB after the first, {half} half-way, {last} after the last")
    print(f"{parts} parts more: {taken[-1]} MB; most {max(taken)} MB")
    wrong = []
    if max(taken) > MOST_MEGABYTES:
        wrong.append(f"{max(taken)} MB were taken, at most {MOST_MEGABYTES} were allowed")
    if last - half > FLAT_MEGABYTES:
        wrong.append(f"the second half of the cuts took {last - half} MB more")
    return wrong


if __name__ == "__main__":
    options = argparse.ArgumentParser()
    options.add_argument("--cuts", type=int, default=200)
    options.add_argument("--parts", type=int, default=100)
    given = options.parse_args()
    found = drill(given.cuts, given.parts)
    print("\n".join(found))
    sys.exit(1 if found else 0)
