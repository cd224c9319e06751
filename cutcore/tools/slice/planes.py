"""Planes as the parameters of a slice give them."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import ConfigDict, Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import cross
from cutcore.geometry.camera import Camera, Pixel, Vector
from cutcore.geometry.plane import Plane
from cutcore.params import Params, Real


class PlaneParams(Params):
    """A plane by a point and a normal of any length."""

    point: Vector
    normal: Vector


class ScreenLine(Params):
    """A line across a view, in pixels; what lies right of it, seen from `from` to `to`, is the
    normal's side."""

    model_config = ConfigDict(serialize_by_alias=True)

    start: Pixel = Field(alias="from")
    to: Pixel


class Repeat(Params):
    """So many parallel planes in all, each this far on along the normal."""

    count: Annotated[int, Field(ge=2, le=1000)]
    spacing: Annotated[Real, Field(gt=0)]


def plane_of(params: PlaneParams, where: str = "plane") -> Plane:
    """Raises StepError for a normal of no length."""
    try:
        return Plane.through(np.array(params.point), np.array(params.normal))
    except StepError as refusal:
        raise refusal.at(f"{where}.normal") from refusal


def repeated(plane: Plane, repeat: Repeat | None) -> list[Plane]:
    """The plane, and its copies further along the normal."""
    if repeat is None:
        return [plane]
    return [
        Plane(plane.point + k * repeat.spacing * plane.normal, plane.normal)
        for k in range(repeat.count)
    ]


def plane_of_sight(line: ScreenLine, camera: Camera) -> Plane:
    """The plane through the eye and a line on the screen; its normal points right of the way along
    it."""
    (start, along), (_, other) = (camera.ray(pixel, reach=0.0) for pixel in (line.start, line.to))
    if camera.parallel:
        end = camera.ray(line.to, reach=0.0)[0]
        normal = cross(camera.forward, end - start)
    else:
        normal = cross(along, other)
    if np.linalg.norm(normal) == 0.0:
        raise StepError("the two ends of the line are one", where="line")
    return Plane.through(start, normal)
