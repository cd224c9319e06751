"""Undo and redo: move a part along its steps; nothing is lost either way."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from django.db import transaction

from cutcore.geometry.placement import Placement
from workshop.errors import NothingTo
from workshop.models import Part, Snapshot
from workshop.services.left_apart import bring_back, take_away
from workshop.services.parts import part_at, placement_of, stored_placement, touch

Answer = TypeVar("Answer")


def undo(part_id: int, revision: int, answer: Callable[[Part], Answer]) -> Answer:
    """Go back one step. Gives what `answer` makes of the part, which is asked before the move is
    kept for good."""
    return _move(part_id, revision, -1, "there is nothing to undo", answer)


def redo(part_id: int, revision: int, answer: Callable[[Part], Answer]) -> Answer:
    """Go forward one step that was undone; otherwise like `undo`."""
    return _move(part_id, revision, +1, "there is nothing to redo", answer)


def _move(
    part_id: int, revision: int, by: int, otherwise: str, answer: Callable[[Part], Answer]
) -> Answer:
    with transaction.atomic():
        part = part_at(part_id, revision)
        goal = part.position + by
        if goal < 0 or not Snapshot.objects.filter(part=part, number=goal).exists():
            raise NothingTo(otherwise)
        part.position, part.revision = goal, part.revision + 1
        _with_those_apart(part, max(goal, goal - by), undone=by < 0)
        part.save(update_fields=["position", "revision", "name", "placement"])
        touch(part.project_id)
        return answer(part)


def _with_those_apart(part: Part, number: int, *, undone: bool) -> None:
    """Take the parts away that a step of a part had left beside it, or bring them back. What was
    worked on since stays."""
    step = part.steps.defer("params").get(number=number)
    report = step.report
    if report.get("made_parts"):
        if undone:
            # Those that something else took away meanwhile are not this step's to bring back.
            report["taken_away"] = take_away(report["made_parts"])
        else:
            bring_back(report.pop("taken_away", []))
        step.save(update_fields=["report"])
    before, after = report.get("names", (part.name, part.name))
    if part.name == (after if undone else before):
        part.name = before if undone else after
    if "own_place" in report:
        # It may have been placed elsewhere since: it stays where it is seen.
        own, now = Placement.model_validate(report["own_place"]), placement_of(part)
        if undone:
            part.placement = stored_placement(now.after(own))
        else:
            part.placement = stored_placement(Placement() if now == own else now.after(own.undone))
