"""What is said where a line can't be woven in."""

from __future__ import annotations

from cutcore.errors import StepError
from cutcore.notes import Element


def too_coarse(what: str, *elements: Element) -> StepError:
    """What is said where a line can't be woven in."""
    return StepError(
        f"the grid can't bend to the line here: {what}; add a loop first, or let the faces end in "
        "quads",
        where="finish",
        elements=elements,
    )
