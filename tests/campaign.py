"""Random steps, one after the other, on awkward ground; every result is judged by the guarantees.

`python -m tests.campaign --minutes 30 --seed 4` prints what went wrong, shrunk to the fewest steps,
as a steps file and an OBJ; `--cuts N` stops after so many steps instead."""

from __future__ import annotations

import argparse
import json
import random
import signal
import sys
import time
import traceback
import warnings
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from types import FrameType
from typing import Any

import numpy as np

from cutcore import CutError, Mesh, Result, apply_step, parse_step, problems, write_part
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.flow import warped_faces
from tests.awkward import awkward, dressed
from tests.guarantees import (
    assert_guarantees,
    assert_origin_true,
    assert_tables_true,
    problems_anew,
)
from tests.random_steps import random_step
from tests.square import assert_pieces_lie_within, crossed_anew, is_crossed
from tests.woven import assert_woven

# A step that takes longer than this on such small ground hangs.
SECONDS = 60
# Larger than this the ground is no small ground any more.
MOST_FACES = 2500
# The area of bent faces, as drawn in triangles, changes when they are divided along other lines: of
# a face bent back on itself by as much as this.
BEND = 3.0
CUTS = ("knife", "loop", "gauge", "outline", "freehand", "ruled", "seam")
# What a reshape may do where it is asked to, but no cut.
ASKED_FOR = {"t-junction"}


class Hangs(Exception):
    """A step that does not come to an end."""


@contextmanager
def limited(seconds: int) -> Iterator[None]:
    def stop(number: int, frame: FrameType | None) -> None:
        raise Hangs(f"more than {seconds} seconds")

    # Of the process's own time: a busy machine is not the step's fault.
    before = signal.signal(signal.SIGPROF, stop)
    signal.setitimer(signal.ITIMER_PROF, seconds)
    try:
        yield
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)
        signal.signal(signal.SIGPROF, before)


def is_flat(mesh: Mesh) -> bool:
    """Whether all faces lie in planes, so nearly that areas and volumes can be compared to the last
    digits."""
    normals = mesh.face_normals()
    size = np.linalg.norm(normals, axis=1)
    if (size == 0).any():
        return False
    unit, owner = normals / size[:, None], mesh.face_of_corner
    first = mesh.points[mesh.corners[mesh.starts[:-1]]]
    off = np.abs(np.einsum("ij,ij->i", mesh.points[mesh.corners] - first[owner], unit[owner]))
    return bool((off <= 1e-13 * max(mesh.diagonal, float(np.abs(mesh.box).max()))).all())


# Steps that are asked to make edges hard, or to change how sharp they are.
MAKES_HARD = {"hard edges", "subdivide"}


def strengths(mesh: Mesh) -> set[float]:
    if len(mesh.hard) == 0:
        return set()
    return {1.0} if mesh.strength is None else set(mesh.strength.tolist())


def assert_carried(step: dict[str, Any], before: Mesh, result: Result) -> None:
    """Creases keep their strength and none comes of nothing; names stay."""
    after = result.mesh
    if step["tool"] not in MAKES_HARD and step.get("hard_above") is None:
        anew = strengths(after) - strengths(before)
        assert not anew, f"edges of strength {anew} are there that were not"
    gone = set(before.materials) - set(after.materials)
    assert not gone, f"materials are gone: {gone}"


def assert_texture_kept(before: Mesh, result: Result) -> None:
    """Where texture places were one linear map on flat faces, they are still."""
    after = result.mesh
    if before.uv is None or not is_flat(before):
        return
    known = np.isfinite(before.uv).all(axis=1)
    table = np.column_stack([before.points - before.box.mean(axis=0), np.ones(len(before.points))])
    ways, *_ = np.linalg.lstsq(table[before.corners[known]], before.uv[known], rcond=None)
    if np.abs(table[before.corners[known]] @ ways - before.uv[known]).max(initial=0.0) > 1e-9:
        return
    now = np.column_stack([after.points - before.box.mean(axis=0), np.ones(len(after.points))])
    assert after.uv is not None, "texture places are gone"
    # Faces that had none have none.
    had = np.logical_and.reduceat(known, before.starts[:-1])
    of = np.repeat(had[result.origin.face], after.sizes)
    if not of.any():
        return
    off = np.abs(now[after.corners[of]] @ ways - after.uv[of]).max()
    far = 1.0 + float(np.abs(before.box).max()) / before.diagonal
    assert off <= 1e-9 * far, f"texture places are off by {off:.1e}"


def judged(step: dict[str, Any], before: Mesh, result: Result) -> None:
    """Raise AssertionError if a result breaks a guarantee."""
    after = result.mesh
    if after is before:
        return
    if after.face_count:
        after.check()
    assert_tables_true(after)
    if (step["tool"] in CUTS and not step.get("takes")) or (
        step["tool"] == "slice" and step.get("then", "keep") == "keep"
    ):
        # A part of which faces have no area to begin with promises nothing about areas.
        ill = (
            bool(problems(before))
            or len(warped_faces(before)) > 0
            or any(is_crossed(before, f) for f in np.flatnonzero(result.origin.kept < 0).tolist())
        )
        if step.get("finish") == "woven":
            assert_woven(before, result, lifted=bool(step.get("follow")))
            return
        plain = step.get("finish", "as cut") == "as cut"
        assert_carried(step, before, result)
        if step.get("follow"):
            crossed = list(crossed_anew(before, result)) if plain else []
            assert not crossed, f"faces cross themselves: {crossed[:5]}"
            return
        if plain:
            assert_pieces_lie_within(before, result)
            assert_texture_kept(before, result)
        if ill:
            found = problems_anew(before, result)
            assert not found, f"the cut brought about: {sorted(found)}"
            assert_origin_true(before, result)
            assert after.edges.border.sum() >= before.edges.border.sum(), "a boundary is gone"
            return
        assert_guarantees(before, result, flat=is_flat(before), bend=BEND)
        return
    codes = {note.code for note in result.notes}
    found = (
        {note.code for note in problems(after, weld=weld_of(before))}
        - {note.code for note in problems(before)}
        - ASKED_FOR
    )
    if codes & {"move-flattens", "no-area"}:
        found -= {"zero-area"}
    if step["tool"] == "flip" or before.edges.crowded:
        # Faces turned against their neighbours; and two faces left of three that never could agree.
        found -= {"clashing-faces"}
    assert not found, f"the reshape brought about: {sorted(found)}"
    assert_carried(step, before, result)
    kept = np.flatnonzero(result.origin.kept >= 0)
    for old, new in zip(kept.tolist(), result.origin.kept[kept].tolist(), strict=True):
        here, there = before.points[before.face(old)], after.points[after.face(new)]
        assert np.array_equal(here, there), f"face {old} is told to be kept and is not"
    if not codes & {"crossing", "folded"}:
        pieces = step["tool"] in (*CUTS, "slice")
        crossed = list(crossed_anew(before, result, pieces=pieces))
        assert not crossed, f"faces cross themselves in silence: {crossed[:5]}"
    closes = step.get("then") == "halve" or (
        step.get("cap") and step.get("then") in ("discard", "part")
    )
    if closes and not before.edges.border.any() and not before.edges.crowded:
        assert not after.edges.border.any() or "opening-left-open" in {
            note.code for note in result.notes
        }, "a cap is left out in silence"
    if not before.edges.crowded and "halve-crowded-seam" not in {
        note.code for note in result.notes
    }:
        assert not after.edges.crowded, "an edge got more than two faces"
    assert after.used[result.origin.vertex < 0].all(), "a new vertex is in no face"
    loose = ~after.used & (result.origin.vertex >= 0)
    assert before.used[result.origin.vertex[loose]].sum() == 0, "a vertex is left in no face"


@dataclass
class Fault:
    """One thing that went wrong, with the fewest steps that lead to it."""

    seed: int
    kind: str
    words: str
    mesh: Mesh
    steps: list[dict[str, Any]]

    def lines(self) -> Iterator[str]:
        yield f"== seed {self.seed}, {self.kind}: {self.words}"
        yield json.dumps({"wertome": 1, "steps": self.steps})
        yield (
            write_part("part.obj", self.mesh).decode()
            if self.mesh.face_count < 40
            else f"({self.mesh.face_count} faces)"
        )


@dataclass
class Tally:
    """What came of a campaign."""

    steps: Counter[str] = field(default_factory=Counter)
    refused: Counter[str] = field(default_factory=Counter)
    faults: list[Fault] = field(default_factory=list)


def outcome(mesh: Mesh, step: dict[str, Any]) -> tuple[Mesh | None, str]:
    """The mesh that a step makes, None if it is refused or wrong, and what is wrong or why it was
    refused: "refused: …"."""
    try:
        with limited(SECONDS), warnings.catch_warnings():
            warnings.simplefilter("ignore")
            result = apply_step(mesh, parse_step(step))
            judged(step, mesh, result)
    except CutError as refusal:
        return None, f"refused: {refusal.words}"
    except AssertionError as broken:
        place = traceback.extract_tb(broken.__traceback__)
        line = next(
            (
                frame.line
                for frame in reversed(place)
                if frame.filename.endswith(("guarantees.py", "campaign.py", "square.py"))
            ),
            "",
        )
        return None, f"{' '.join(str(broken).split())[:200]} ({line})"
    except Exception as fault:
        return None, f"{type(fault).__name__}: {str(fault)[:200]}"
    return result.mesh, ""


def shrunk(mesh: Mesh, steps: list[dict[str, Any]], words: str) -> list[dict[str, Any]]:
    """As few of some steps as still end in something wrong."""
    kept = list(steps)
    for k in range(len(steps) - 2, -1, -1):
        fewer = [s for i, s in enumerate(kept) if i != k] if k < len(kept) - 1 else kept
        at: Mesh | None = mesh
        said = ""
        for step in fewer:
            if at is None:
                break
            at, said = outcome(at, step)
        if said and not said.startswith("refused") and len(fewer) < len(kept):
            kept = fewer
    return kept


def walk(seed: int, tally: Tally, tools: tuple[str, ...] | None = None) -> None:
    """Three to six steps on one piece of ground."""
    source = random.Random(seed)
    kind, ground = awkward(source)
    # Of a chance of its own: the steps are the same on plain ground.
    ground = dressed(ground, random.Random(seed + 1))
    mesh, steps = ground, []
    for _ in range(source.randrange(3, 7)):
        if mesh.face_count > MOST_FACES:
            return
        step = random_step(mesh, source, tools) if tools else random_step(mesh, source)
        made, words = outcome(mesh, step)
        tally.steps[step["tool"]] += 1
        if made is None and words.startswith("refused"):
            tally.refused[f"{step['tool']}: {words[9:60]}"] += 1
            continue
        steps.append(step)
        if made is None:
            tally.faults.append(Fault(seed, kind, words, ground, shrunk(ground, steps, words)))
            return
        if made.face_count == 0 or weld_of(made) == 0.0:
            return
        mesh = made


def campaign(
    seed: int,
    *,
    seconds: float | None = None,
    cuts: int | None = None,
    tools: tuple[str, ...] | None = None,
) -> Tally:
    """Walks with the seeds from `seed` on, for so long or so many steps."""
    tally, began = Tally(), time.monotonic()
    while (seconds is None or time.monotonic() - began < seconds) and (
        cuts is None or sum(tally.steps.values()) < cuts
    ):
        walk(seed, tally, tools)
        seed += 1
    return tally


if __name__ == "__main__":
    options = argparse.ArgumentParser()
    options.add_argument("--minutes", type=float)
    options.add_argument("--cuts", type=int)
    options.add_argument("--seed", type=int, default=random.SystemRandom().randrange(10**6) * 1000)
    options.add_argument("--tools", nargs="*")
    options.add_argument("--show", type=int, default=10)
    given = options.parse_args()
    seconds = None if given.minutes is None else 60 * given.minutes
    found = campaign(
        given.seed,
        seconds=seconds,
        cuts=given.cuts or (None if seconds else 1000),
        tools=tuple(given.tools) if given.tools else None,
    )
    print(
        f"from seed {given.seed}: {sum(found.steps.values())} steps, {len(found.faults)} wrong; {dict(found.steps)}"
    )
    for words, count in Counter(
        f"{fault.steps[-1]['tool']}: {fault.words[:70]}" for fault in found.faults
    ).most_common():
        print(f"{count:5}  {words}")
    print("refused:", found.refused.most_common(12))
    for fault in found.faults[: given.show]:
        print("\n".join(fault.lines()))
    sys.exit(1 if found.faults else 0)
