"""What a knife line is told."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from cutcore.geometry.camera import View
from cutcore.params import Params
from cutcore.tool import Following
from cutcore.trace.open_ends import OpenEnds
from cutcore.trace.surface_points import KnifePoint


class KnifeLine(Params):
    """One line: its points in order; closed lines return to the first."""

    points: Annotated[tuple[KnifePoint, ...], Field(min_length=1)]
    closed: bool = False
    view: View | None = Field(
        default=None, description="where this line was aimed from, if not from the step's view"
    )


class KnifeParams(Following):
    """Lines from point to point. With a view the surface is crossed where the line of sight meets
    it."""

    placed: ClassVar[bool] = True

    tool: Literal["knife"] = "knife"
    lines: Annotated[tuple[KnifeLine, ...], Field(min_length=1)]
    view: View | None = None
    reach: Literal["near", "through"] = "near"
    open_ends: OpenEnds = "trim"
