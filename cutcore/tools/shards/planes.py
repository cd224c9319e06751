"""The planes that a part is broken along."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.camera import Camera, View
from cutcore.geometry.plane import Plane
from cutcore.geometry.vectors import units
from cutcore.mesh.mesh import Mesh
from cutcore.params import Params
from cutcore.queries.bodies import inside, is_closed
from cutcore.tools.slice.planes import (
    PlaneParams,
    Repeat,
    ScreenLine,
    plane_of,
    plane_of_sight,
    repeated,
)

# So many places are tried at once to find some inside a part, so many times.
TRIED_AT_ONCE = 4096
TRIED_TIMES = 64

Seed = Annotated[int, Field(ge=0, lt=2**31)]


class ByCells(Params):
    """So many cells: each holds what lies nearest to one of so many places, strewn by a seed over
    the inside of the part, or over its surface if it is open."""

    way: Literal["cells"] = "cells"
    count: Annotated[int, Field(ge=2, le=400)] = 12
    seed: Seed = 1


class ByRandomPlanes(Params):
    """So many planes, each through a place in the part and turned any way, by a seed."""

    way: Literal["random planes"] = "random planes"
    count: Annotated[int, Field(ge=1, le=40)] = 4
    seed: Seed = 1


class ByCounts(Params):
    """As many equal lengths along each axis."""

    way: Literal["counts"] = "counts"
    x: Annotated[int, Field(ge=1, le=50)] = 2
    y: Annotated[int, Field(ge=1, le=50)] = 2
    z: Annotated[int, Field(ge=1, le=50)] = 2


class ByPlanes(Params):
    """Planes, each of them repeated if that is wanted."""

    way: Literal["planes"] = "planes"
    planes: Annotated[tuple[PlaneParams, ...], Field(min_length=1, max_length=60)]
    repeat: Repeat | None = None


class ByLines(Params):
    """Straight lines across a view, each cutting right through along the plane of sight."""

    way: Literal["lines"] = "lines"
    lines: Annotated[tuple[ScreenLine, ...], Field(min_length=1, max_length=60)]
    view: View


Way = Annotated[
    ByCells | ByRandomPlanes | ByCounts | ByPlanes | ByLines, Field(discriminator="way")
]


def planes_of(mesh: Mesh, way: ByRandomPlanes | ByCounts | ByPlanes | ByLines) -> list[Plane]:
    """The planes that go through the whole part."""
    if isinstance(way, ByRandomPlanes):
        random = np.random.default_rng(way.seed)
        places = places_in(mesh, way.count, random)
        normals = units(random.normal(size=(way.count, 3)))
        return [Plane(place, normal) for place, normal in zip(places, normals, strict=True)]
    if isinstance(way, ByCounts):
        low, high = mesh.box
        return [
            Plane(low + share * (high - low), axis)
            for axis, count in zip(np.eye(3), (way.x, way.y, way.z), strict=True)
            for share in np.arange(1, count) / count
            if (high - low) @ axis > 0
        ]
    if isinstance(way, ByLines):
        camera = Camera.of(way.view)
        return [plane_of_sight(line, camera) for line in way.lines]
    planes = [plane_of(plane, f"by.planes[{k}]") for k, plane in enumerate(way.planes)]
    return [one for plane in planes for one in repeated(plane, way.repeat)]


def cells_of(mesh: Mesh, way: ByCells) -> Floats:
    """The places (n, 3) of the cells, one each."""
    return places_in(mesh, way.count, np.random.default_rng(way.seed))


def places_in(mesh: Mesh, count: int, random: np.random.Generator) -> Floats:
    """Places (count, 3) strewn evenly over the inside of a closed mesh, or over an open surface.

    Raises StepError if the inside is too thin to hit."""
    if not is_closed(mesh):
        return _places_on(mesh, count, random)
    found = np.zeros((0, 3))
    low, high = mesh.box
    for _ in range(TRIED_TIMES):
        tried = low + random.random((TRIED_AT_ONCE, 3)) * (high - low)
        found = np.concatenate([found, tried[inside(mesh, tried)]])
        if len(found) >= count:
            return found[:count]
    raise StepError("the part is too thin to strew places over its inside", where="by")


def _places_on(mesh: Mesh, count: int, random: np.random.Generator) -> Floats:
    corners = mesh.points[mesh.triangles.corners]
    with np.errstate(over="ignore", invalid="ignore"):
        area = np.linalg.norm(
            cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1
        )
    if not 0 < area.sum() < np.inf:
        raise StepError("the part has no area that can be reckoned with", where="by")
    chosen = random.choice(len(area), size=count, p=area / area.sum())
    # Evenly over each triangle (R. Osada et al., Shape Distributions, ACM Transactions on Graphics
    # 21, 2002).
    root, share = np.sqrt(random.random((count, 1))), random.random((count, 1))
    a, b, c = corners[chosen].transpose(1, 0, 2)
    return np.asarray((1 - root) * a + root * (1 - share) * b + root * share * c)
