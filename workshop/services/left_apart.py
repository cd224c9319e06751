"""Parts that a step of another part has left beside it: they come and go with it, unless somebody has
worked on them since."""

from __future__ import annotations

from collections.abc import Iterable

from django.utils import timezone

from workshop.models import Part, Step


def take_away(numbers: Iterable[int]) -> list[int]:
    """Take away those of some parts that are there and were not worked on; which these are."""
    there = Part.objects.filter(pk__in=list(numbers), position=0, revision=1, deleted=None)
    gone = list(there.values_list("pk", flat=True))
    Part.objects.filter(pk__in=gone).update(deleted=timezone.now())
    return gone


def bring_back(numbers: Iterable[int]) -> None:
    """Bring parts back that `take_away` took."""
    Part.objects.filter(pk__in=list(numbers)).update(deleted=None)


def left_by(numbers: Iterable[int]) -> list[int]:
    """The parts that the applied steps of some parts have left."""
    steps = Step.objects.filter(part__in=list(numbers)).select_related("part").defer("params")
    return [
        number
        for step in steps
        if step.number <= step.part.position
        for number in step.report.get("made_parts", [])
    ]
