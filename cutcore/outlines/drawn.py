"""An outline as it is drawn and kept: points with what lies between them, in millimetres on a
sheet."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Annotated, Self

import numpy as np
from pydantic import Field, ValidationError, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats
from cutcore.geometry.tolerances import NEGLIGIBLE, ROUNDING
from cutcore.params import Params, Real

MOST_POINTS = 50_000
MOST_CURVES = 5_000
MOST_FLAT_POINTS = 200_000


class Node(Params):
    """A point, and how the outline goes on from it.

    `corner` is the radius it is rounded with; `bow` how far the stretch to the next point bows out
    to its left, 0 for a straight one; `off` how far the point lies off the sheet."""

    at: tuple[Real, Real]
    off: Real = 0.0
    corner: Annotated[Real, Field(ge=0)] = 0.0
    bow: Real = 0.0


class DrawnCurve(Params):
    """Points one after another; a closed curve goes back to its first."""

    nodes: Annotated[tuple[Node, ...], Field(min_length=2, max_length=MOST_POINTS)]
    closed: bool = True


class DrawnOutline(Params):
    """Curves that belong together; `pieces` is how many straight pieces each rounded corner and
    bowed stretch has."""

    curves: Annotated[tuple[DrawnCurve, ...], Field(min_length=1, max_length=MOST_CURVES)]
    pieces: Annotated[int, Field(ge=1, le=64)] = 6

    @model_validator(mode="after")
    def _not_too_many(self) -> Self:
        if (
            sum(len(curve.nodes) for curve in self.curves) > MOST_POINTS
            or self._flat_points() > MOST_FLAT_POINTS
        ):
            raise ValueError(
                f"an outline has at most {MOST_POINTS:,} points, and {MOST_FLAT_POINTS:,} once it is in straight pieces"
            )
        return self

    def _flat_points(self) -> int:
        """How many points there may be once corners are rounded and bows are drawn."""
        return sum(
            1 + self.pieces * ((node.corner > 0) + (node.bow != 0))
            for curve in self.curves
            for node in curve.nodes
        )


@dataclass(frozen=True, eq=False)
class SheetCurve:
    """A curve as straight pieces: `points (n, 3)`, the third number off the sheet."""

    points: Floats
    closed: bool


@contextmanager
def within_reach() -> Iterator[None]:
    """What outlines are made in: one that comes out larger than can be reckoned with, or with too
    many points, is refused."""
    try:
        yield
    except ValidationError as wrong:
        raise StepError(f"the outline can't be made: {wrong.errors()[0]['msg']}") from wrong


def flattened(outline: DrawnOutline) -> list[SheetCurve]:
    """The curves of an outline as straight pieces."""
    return [SheetCurve(_flattened(curve, outline.pieces), curve.closed) for curve in outline.curves]


@within_reach()
def plain(curves: list[SheetCurve], *, pieces: int = 6) -> DrawnOutline:
    """An outline whose points are those of some curves of straight pieces."""
    nodes = [
        tuple(Node(at=(float(x), float(y)), off=float(off)) for x, y, off in curve.points.tolist())
        for curve in curves
    ]
    return DrawnOutline(
        curves=tuple(
            DrawnCurve(nodes=of, closed=curve.closed)
            for of, curve in zip(nodes, curves, strict=True)
        ),
        pieces=pieces,
    )


def _flattened(curve: DrawnCurve, pieces: int) -> Floats:
    nodes, count = curve.nodes, len(curve.nodes)
    places = np.array([[*node.at, node.off] for node in nodes])
    if not any(node.corner or node.bow for node in nodes):
        return places
    made: list[Floats] = []
    for k, node in enumerate(nodes):
        before, after = (k - 1) % count, (k + 1) % count
        at_end = not curve.closed and k in (0, count - 1)
        straight = node.bow == 0.0 and nodes[before].bow == 0.0
        if node.corner > 0 and straight and not at_end:
            made.append(_rounded(places[before], places[k], places[after], node.corner, pieces))
        else:
            made.append(places[k : k + 1])
        if node.bow != 0.0 and (curve.closed or k < count - 1):
            made.append(_bowed(places[k], places[after], node.bow, pieces))
    return np.concatenate(made)


def _rounded(before: Floats, at: Floats, after: Floats, radius: float, pieces: int) -> Floats:
    """The arc (pieces + 1, 3) that takes the place of a corner; never longer than half of either
    side."""
    back, ahead = before - at, after - at
    sides = float(np.linalg.norm(back)), float(np.linalg.norm(ahead))
    if min(sides) == 0.0:
        return at[None]
    back, ahead = back / sides[0], ahead / sides[1]
    half = 0.5 * np.arccos(np.clip(float(back @ ahead), -1.0, 1.0))
    if np.pi / 2 - half < NEGLIGIBLE or half < NEGLIGIBLE:
        return at[None]
    tangent = min(radius / np.tan(half), 0.5 * min(sides))
    reach = tangent * np.tan(half)
    middle = (back + ahead) / np.linalg.norm(back + ahead)
    centre = at + middle * reach / np.sin(half)
    first, last = at + tangent * back - centre, at + tangent * ahead - centre
    sweep = np.pi - 2 * half
    share = np.arange(pieces + 1) / pieces
    # Spherical interpolation between the two radii: exact at both ends.
    weights = np.sin((1 - share) * sweep)[:, None] * first + np.sin(share * sweep)[:, None] * last
    return np.asarray(centre + weights / np.sin(sweep))


def _bowed(start: Floats, end: Floats, bow: float, pieces: int) -> Floats:
    """The places (pieces - 1, 3) between the ends of an arc that rises `bow` over its chord, to the
    left of the way."""
    chord = end - start
    length = float(np.hypot(chord[0], chord[1]))
    if length == 0.0:
        return np.zeros((0, 3))
    left = np.array([-chord[1], chord[0], 0.0]) / length
    # A quarter of the swept angle has the tangent bow / (chord / 2).
    sweep = 4.0 * np.arctan(2.0 * bow / length)
    radius = (
        0.5 * length / np.sin(0.5 * sweep) if abs(np.sin(0.5 * sweep)) > ROUNDING else 0.5 * length
    )
    centre = 0.5 * (start + end) + left * (bow - radius if bow * radius > 0 else bow + radius)
    share = np.arange(1, pieces) / pieces
    angle = -sweep * share
    arm = start - centre
    x = arm[0] * np.cos(angle) - arm[1] * np.sin(angle)
    y = arm[0] * np.sin(angle) + arm[1] * np.cos(angle)
    return np.stack([centre[0] + x, centre[1] + y, start[2] + share * chord[2]], axis=1)
