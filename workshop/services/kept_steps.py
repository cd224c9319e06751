"""The recorded steps of a part: their titles for the list, their parameters when they are asked
for."""

from __future__ import annotations

from typing import Any

from cutcore.errors import StepError
from cutcore.geometry.units import Unit
from cutcore.steps.registry import Step as StepParams
from cutcore.steps.registry import title_of
from cutcore.steps.steps_file import parse_step
from cutcore.words import with_unit
from workshop.errors import NotThere
from workshop.models import Part, Snapshot, Step
from workshop.services.parts import part_at


def steps_of(part: Part) -> list[Step]:
    """The steps of a part in order, without their parameters: those of outlines are long."""
    return list(part.steps.defer("params"))


def title_in(step: Step, unit: Unit) -> str:
    """What a step is called, with its lengths in a unit. Ones of an earlier version are named
    now."""
    return with_unit(str(step.report.get("title") or _title(step.params)), unit)


def _title(params: Any) -> str:
    understood = parameters(params)
    return str(params["tool"]).capitalize() if understood is None else title_of(understood)


def step_at(part_id: int, number: int) -> Step:
    """Raises NotThere."""
    found = part_at(part_id).steps.filter(number=number).first()
    if found is None:
        raise NotThere("this step is not there any more")
    return found


def states_round(part_id: int, number: int) -> tuple[int, int]:
    """The snapshots of a part before and after a recorded step of it."""
    found = Snapshot.objects.filter(part=part_id, number__in=(number - 1, number))
    before, after = found.order_by("number").values_list("pk", flat=True)
    return before, after


def parameters(params: Any) -> StepParams | None:
    """The parameters of a stored step; None where an earlier version took what is refused today."""
    try:
        return parse_step(params)
    except StepError:
        return None
