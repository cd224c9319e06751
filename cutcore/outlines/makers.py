"""Usual outlines by their sizes, each about the middle of its sheet."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.outlines.drawn import DrawnCurve, DrawnOutline, Node, within_reach
from cutcore.params import Length, Params, Real


class RectangleOutline(Params):
    shape: Literal["rectangle"] = "rectangle"
    width: Length = 40.0
    height: Length = 30.0
    corner: Annotated[Real, Field(ge=0, description="radius of all four corners")] = 6.0


class CircleOutline(Params):
    shape: Literal["circle"] = "circle"
    diameter: Length = 30.0


class PolygonOutline(Params):
    shape: Literal["polygon"] = "polygon"
    sides: Annotated[int, Field(ge=3, le=256)] = 6
    diameter: Annotated[Length, Field(description="through the corners")] = 30.0
    corner: Annotated[Real, Field(ge=0)] = 0.0


class SlotOutline(Params):
    shape: Literal["slot"] = "slot"
    length: Annotated[Length, Field(description="over all")] = 40.0
    width: Length = 10.0


class StarOutline(Params):
    shape: Literal["star"] = "star"
    points: Annotated[int, Field(ge=3, le=128)] = 5
    diameter: Annotated[Length, Field(description="through the outer points")] = 40.0
    inner: Annotated[
        Real, Field(gt=0, lt=1, description="where the inner points lie, as a share of the outer")
    ] = 0.45


MadeOutline = Annotated[
    RectangleOutline | CircleOutline | PolygonOutline | SlotOutline | StarOutline,
    Field(discriminator="shape"),
]
KINDS = {
    "rectangle": RectangleOutline,
    "circle": CircleOutline,
    "polygon": PolygonOutline,
    "slot": SlotOutline,
    "star": StarOutline,
}


@within_reach()
def make_outline(made: MadeOutline) -> DrawnOutline:
    """The outline, counter-clockwise. A slot no longer than it is wide is a circle."""
    match made:
        case RectangleOutline():
            x, y = made.width / 2, made.height / 2
            return _one(
                [Node(at=at, corner=made.corner) for at in ((-x, -y), (x, -y), (x, y), (-x, y))]
            )
        case CircleOutline():
            return _one(_circle(made.diameter / 2))
        case PolygonOutline():
            turn = np.pi / 2 + 2 * np.pi * np.arange(made.sides) / made.sides
            return _one([Node(at=_polar(made.diameter / 2, a), corner=made.corner) for a in turn])
        case SlotOutline():
            r, x = made.width / 2, (made.length - made.width) / 2
            if x <= 0:
                return _one(_circle(r))
            ends = [
                Node(at=(-x, -r)),
                Node(at=(x, -r), bow=-r),
                Node(at=(x, r)),
                Node(at=(-x, r), bow=-r),
            ]
            return _one(ends, pieces=12)
        case StarOutline():
            turn = np.pi / 2 + np.pi * np.arange(2 * made.points) / made.points
            reach = [
                made.diameter / 2 * (1.0 if k % 2 == 0 else made.inner)
                for k in range(2 * made.points)
            ]
            return _one([Node(at=_polar(r, a)) for r, a in zip(reach, turn, strict=True)])


def _circle(radius: float) -> list[Node]:
    """Four quarters, each bowed out to the right of its way."""
    bow = -radius * float(1 - np.sqrt(0.5))
    return [
        Node(at=at, bow=bow)
        for at in ((radius, 0.0), (0.0, radius), (-radius, 0.0), (0.0, -radius))
    ]


def _polar(radius: float, angle: float) -> tuple[float, float]:
    return float(radius * np.cos(angle)), float(radius * np.sin(angle))


def _one(nodes: list[Node], *, pieces: int = 6) -> DrawnOutline:
    return DrawnOutline(curves=(DrawnCurve(nodes=tuple(nodes)),), pieces=pieces)
