"""Copies of a part: in a row, round an axis, mirrored."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.axes import Axis
from cutcore.geometry.camera import Vector
from cutcore.geometry.placement import Placement, moved_and_turned, turn_about
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.submesh import moved
from cutcore.params import Params, Real
from cutcore.reshape.marking.flip import turned_round
from cutcore.trace.mirror import Mirror

MostCopies = Annotated[int, Field(ge=1, le=200)]


class InARow(Params):
    """So many copies, each `step` further on than the one before."""

    way: Literal["row"] = "row"
    count: MostCopies = 1
    step: Vector


class RoundAnAxis(Params):
    """So many copies round an axis through a place of the table, each turned by `degrees` more than
    the one before and moved by `rise` along the axis."""

    way: Literal["round"] = "round"
    count: MostCopies = 3
    axis: Axis = "y"
    through: Vector = (0.0, 0.0, 0.0)
    degrees: Real = 90.0
    rise: Real = 0.0


class Mirrored(Params):
    """One copy, mirrored across a plane of the table square to an axis."""

    way: Literal["mirrored"] = "mirrored"
    axis: Axis = "x"
    offset: Real = 0.0


Copies = Annotated[InARow | RoundAnAxis | Mirrored, Field(discriminator="way")]


def placements_of(copies: InARow | RoundAnAxis, original: Placement) -> list[Placement]:
    """Where the copies of a part stand. Raises StepError where one would stand where another
    does."""
    numbers = range(1, copies.count + 1)
    if isinstance(copies, InARow):
        if not any(copies.step):
            raise StepError("the copies would all stand in one place", where="step")
        still = np.eye(3)
        step = np.array(copies.step)
        return [original.then(still, np.zeros(3), k * step) for k in numbers]
    if copies.degrees % 360 == 0 and copies.rise == 0:
        raise StepError("the copies would all stand in one place", where="degrees")
    through = np.array(copies.through)
    return [
        original.then(
            turn_about(copies.axis, k * copies.degrees),
            through,
            k * copies.rise * np.eye(3)["xyz".index(copies.axis)],
        )
        for k in numbers
    ]


def mirrored_copy(mesh: Mesh, original: Placement, copies: Mirrored) -> tuple[Mesh, Placement]:
    """The mirror image of a part as it stands, and its place: what is turned about the mirror's axis
    stays so, the other turns run the other way."""
    # A mirror of the table is one of the part's own, followed by a placement that is no mirror.
    mirror = Mirror(axis=copies.axis, offset=0.0)
    image = moved(mesh, mirror.places(mesh.points))
    turned = turned_round(image, np.ones(mesh.face_count, dtype=bool)).mesh
    move = mirror.places(np.array(original.move))
    axis = "xyz".index(copies.axis)
    move[axis] += 2 * copies.offset
    turn = np.where(np.arange(3) == axis, original.turn, -np.array(original.turn))
    return turned, moved_and_turned(move, turn)
