"""Size: give a pick exact extents or a diameter about a point that stays, or move it."""

from __future__ import annotations

from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats
from cutcore.geometry.camera import Vector
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.tolerance import weld_of
from cutcore.params import Index, Length, Params
from cutcore.queries.measure import fitted_ring
from cutcore.queries.named_elements import vertex_mask
from cutcore.reshape.picked import OnPick
from cutcore.reshape.placing.moving import moved_to
from cutcore.tool import Example, Reshape
from cutcore.words import length_words


class Extent(Params):
    """How long the pick is to be along each axis; null leaves it."""

    x: Length | None = None
    y: Length | None = None
    z: Length | None = None

    def values(self) -> tuple[float | None, float | None, float | None]:
        return self.x, self.y, self.z


class KeptVertex(Params):
    """A vertex that stays where it is."""

    vertex: Index


class SizeParams(OnPick):
    """The vertices of the named elements (of the whole part, if none are named) are sized, then
    moved.

    `about` is what stays: the centre of the pick's box, that of the part's, the low or high side
    along every axis, or a vertex. A `diameter` is that of the circle fitted to the vertices: it is
    sized in its plane, about its centre."""

    tool: Literal["size"] = "size"
    extent: Extent | None = None
    diameter: Length | None = None
    about: Literal["centre", "part", "low", "high"] | KeptVertex = "centre"
    move: Vector = (0.0, 0.0, 0.0)

    @model_validator(mode="after")
    def _has_one_size(self) -> Self:
        if self.extent is not None and self.diameter is not None:
            raise ValueError("give either extents or a diameter")
        return self


def apply(mesh: Mesh, params: SizeParams) -> Result:
    """The mesh with vertices moved: p becomes c + s (p - c) + m, with c what stays, s the new
    extent over the old along each axis, m the move. Connectivity stays as it is.

    Raises StepError where the pick has no extent along an axis it is to be sized along, or no
    circle fits it."""
    chosen = params.chosen(mesh)
    places = mesh.points[chosen]
    made = mesh.points.copy()
    if params.diameter is not None:
        ring = fitted_ring(places)
        if ring is None:
            raise StepError(
                "no circle can be fitted to the pick: it lies on one line", where="diameter"
            )
        if ring.diameter <= weld_of(mesh):
            raise StepError(
                "the circle of the pick is a point: it can't be sized", where="diameter"
            )
        away = places - ring.centre
        off = (away @ ring.normal)[:, None] * ring.normal
        made[chosen] = ring.centre + off + (params.diameter / ring.diameter) * (away - off)
    elif params.extent is not None:
        made[chosen] = _sized(mesh, params, places)
    made[chosen] += np.array(params.move)
    return moved_to(mesh, made)


def _sized(mesh: Mesh, params: SizeParams, places: Floats) -> Floats:
    assert params.extent is not None
    low, high = places.min(axis=0), places.max(axis=0)
    stays = _stays(mesh, params, low, high)
    sized = places.copy()
    for k, wanted in enumerate(params.extent.values()):
        if wanted is None:
            continue
        if high[k] - low[k] <= weld_of(mesh):
            raise StepError(
                f"the pick is flat along {'xyz'[k]}: it has no extent there to size",
                where=f"extent.{'xyz'[k]}",
            )
        sized[:, k] = stays[k] + (wanted / (high[k] - low[k])) * (places[:, k] - stays[k])
    return sized


def _stays(mesh: Mesh, params: SizeParams, low: Floats, high: Floats) -> Floats:
    """The place (3,) that stays."""
    if isinstance(params.about, KeptVertex):
        vertex_mask(mesh, [params.about.vertex], where="about.vertex")
        return np.asarray(mesh.points[params.about.vertex])
    part = mesh.box.mean(axis=0)
    return np.asarray(
        {"centre": 0.5 * (low + high), "part": part, "low": low, "high": high}[params.about]
    )


def _title(params: SizeParams) -> str:
    what = "The part" if params.whole else "The pick"
    if params.diameter is not None:
        return f"{what} sized to {length_words(params.diameter)} across"
    sizes = [
        f"{axis} {length_words(value)}"
        for axis, value in (params.extent or Extent())
        if value is not None
    ]
    return f"{what} sized to {', '.join(sizes)}" if sizes else f"{what} moved"


TOOL = Reshape(
    params=SizeParams,
    title=_title,
    examples=(
        Example("cube", {"extent": {"x": 3, "z": 1}, "about": "high", "move": [0, 0, 1]}),
        Example("cube", {"faces": [9, 12], "move": [0.25, 0, 0]}),
        Example(
            "drum",
            {"vertices": [8, 9, 10, 11, 12, 13, 14, 15], "diameter": 3.0, "about": {"vertex": 8}},
        ),
    ),
    moves=edges_of_moved_vertices,
    apply=apply,
)
