"""What is kept of a drawing beside its picture."""

from __future__ import annotations

from typing import Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from cutcore.params import Length, Real

MOST_MARKS = 10_000


class DrawingPlacement(Schema):
    """Where a drawing stands in its view: its lower left corner, right and up from the part's
    origin, and its height, in the part's units; whether before the part, how strong (0 to 1), and
    whether it may be moved."""

    model_config = ConfigDict(allow_inf_nan=False, extra="forbid")

    view: Literal["front", "back", "left", "right", "top", "bottom"] = "front"
    x: Real = 0.0
    y: Real = 0.0
    height: Length = 100.0
    before: bool = False
    strength: float = Field(default=0.7, ge=0, le=1)
    locked: bool = False


class WidthMark(Schema):
    """A width read off a drawing, and how high up it was."""

    model_config = ConfigDict(extra="forbid")

    at: Real
    width: Length


class DrawingMarks(Schema):
    """What was read off a drawing, in its view, in the part's units: heights along its side, and
    widths."""

    model_config = ConfigDict(extra="forbid")

    heights: list[Real] = Field(default=[], max_length=MOST_MARKS)
    widths: list[WidthMark] = Field(default=[], max_length=MOST_MARKS)
