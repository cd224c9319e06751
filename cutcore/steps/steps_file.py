"""The steps file: a list of cuts as data, checked in full before anything is done."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import TypeAdapter, ValidationError

from cutcore.errors import StepError
from cutcore.formats.budget import check_json
from cutcore.params import Params
from cutcore.steps.registry import TOOLS, CuttingStep, ReshapingStep, Step

# A limit or a pick of a million faces is a million values.
MOST_VALUES = 2_000_000


class StepsFile(Params):
    """The open format in which cuts are kept."""

    wertome: Literal[1]
    steps: tuple[Step, ...]


_step: TypeAdapter[CuttingStep | ReshapingStep] = TypeAdapter(Step)


def parse_steps(text: str | bytes) -> StepsFile:
    """A steps file from JSON. Raises StepError naming the path of the first offending value,
    FormatError if it is too long."""
    check_json(text if isinstance(text, bytes) else text.encode(), values=MOST_VALUES)
    try:
        return StepsFile.model_validate_json(text)
    except ValidationError as wrong:
        raise _refusal(wrong) from wrong


def parse_step(data: Any) -> Step:
    """One step from plain data. Raises StepError naming the path of the first offending value."""
    try:
        return _step.validate_python(data)
    except ValidationError as wrong:
        raise _refusal(wrong) from wrong


def steps_schema() -> dict[str, Any]:
    """The JSON Schema of a steps file."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Wertome steps file",
        **StepsFile.model_json_schema(),
    }


def _refusal(wrong: ValidationError) -> StepError:
    """The first complaint, with its place written the way one would index the data. In the places
    pydantic gives stand names of tools, too, where it chose among the steps by them."""
    first = wrong.errors()[0]
    place = [
        part
        for part in first["loc"]
        if isinstance(part, int) or not (part in TOOLS or part[:1].isupper())
    ]
    words, given = first["msg"], first.get("input")
    if first["type"] in ("union_tag_invalid", "union_tag_not_found") and isinstance(given, dict):
        place.append("tool")
        words, given = f"one of {', '.join(sorted(TOOLS))} was expected", given.get("tool")
    where = ""
    for part in place:
        where += f"[{part}]" if isinstance(part, int) else f".{part}" if where else part
    got = (
        ""
        if isinstance(given, dict | list | tuple) or first["type"] == "missing"
        else f", got {given!r}"
    )
    return StepError(f"{words}{got}", where=where)
