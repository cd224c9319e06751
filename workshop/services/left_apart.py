"""Parts that a step of another part has left beside it: they come and go with it, unless somebody has
worked on them since."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import QuerySet
from django.utils import timezone

from workshop.models import Part, Step


def take_away(numbers: Iterable[int]) -> None:
    """Take away those of some parts that were not worked on."""
    _untouched(numbers).filter(deleted=None).update(deleted=timezone.now())


def bring_back(numbers: Iterable[int]) -> None:
    """Bring those of some parts back that were not worked on."""
    _untouched(numbers).exclude(deleted=None).update(deleted=None)


def left_by(numbers: Iterable[int]) -> list[int]:
    """The parts that the applied steps of some parts have left."""
    steps = Step.objects.filter(part__in=numbers).select_related("part")
    return [
        number
        for step in steps.defer("params")
        if step.number <= step.part.position
        for number in step.report.get("made_parts", [])
    ]


def _untouched(numbers: Iterable[int]) -> QuerySet[Part]:
    return Part.objects.filter(pk__in=list(numbers), position=0, revision=1)
