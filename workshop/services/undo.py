"""Undo and redo along the steps of one part; nothing is lost either way."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from django.db import transaction

from workshop.errors import NothingTo
from workshop.models import Entry, Part
from workshop.services import history
from workshop.services.parts import part_at

Answer = TypeVar("Answer")
# What is made of the part, and of the entries that were turned.
Answering = Callable[[Part, list[Entry]], Answer]


def undo(part_id: int, revision: int, answer: Answering[Answer]) -> Answer:
    """Go back one step of a part, and undo first what was done since and rests on it. Gives what
    `answer` makes of the part, which is asked before the move is kept for good."""
    with transaction.atomic():
        part = part_at(part_id, revision)
        if part.position == 0:
            raise NothingTo("there is nothing to undo")
        turned = history.undo_entry(history.entry_of_step(part, part.position))
        return answer(part_at(part_id), turned)


def redo(part_id: int, revision: int, answer: Answering[Answer]) -> Answer:
    """Go forward one step that was undone; otherwise like `undo`."""
    with transaction.atomic():
        part = part_at(part_id, revision)
        if not part.steps.filter(number=part.position + 1).exists():
            raise NothingTo("there is nothing to redo")
        turned = history.redo_entry(history.entry_of_step(part, part.position + 1))
        return answer(part_at(part_id), turned)
