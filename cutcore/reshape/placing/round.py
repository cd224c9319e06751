"""Round: make a ring of vertices a true circle."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import cross
from cutcore.geometry.camera import Vector
from cutcore.geometry.tolerances import ROUNDING
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.params import Real
from cutcore.queries.measure import fitted_ring, vertices_of
from cutcore.queries.named_elements import Edges, Vertices, edges_named, vertex_mask
from cutcore.reshape.placing.moving import moved_to
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import length_words


class RoundParams(Reshaping):
    """The vertices that go onto a circle: of `edges`, or `vertices`. What is not given is fitted to
    them.

    `even` sets them at equal angles, in the order they have; else each keeps its own.
    """

    tool: Literal["round"] = "round"
    vertices: Vertices | None = None
    edges: Edges | None = None
    centre: Vector | None = None
    normal: Vector | None = None
    diameter: Annotated[Real, Field(gt=0)] | None = None
    even: bool = False


def apply(mesh: Mesh, params: RoundParams) -> Result:
    """Connectivity stays. A vertex p goes to c + r u, u the direction from the centre c to p within
    the plane of the circle.

    Raises StepError where fewer than three vertices are named, no circle fits, or a vertex lies on
    its axis."""
    none = np.zeros(0, dtype=np.int64)
    vertices = (
        none if params.vertices is None else np.flatnonzero(vertex_mask(mesh, params.vertices))
    )
    edges = none if params.edges is None else edges_named(mesh, params.edges)
    if len(vertices) + len(edges) == 0:
        raise StepError("a ring needs vertices or edges", where="vertices")
    chosen = vertices_of(mesh, vertices, edges, none)
    places = mesh.points[chosen]
    ring = fitted_ring(places)
    if ring is None:
        raise StepError(
            "no circle can be fitted to the pick: it lies on one line", where="vertices"
        )
    normal = ring.normal if params.normal is None else np.array(params.normal)
    if not np.linalg.norm(normal) > 0:
        raise StepError("a normal can't be zero", where="normal")
    normal = normal / np.linalg.norm(normal)
    centre = ring.centre if params.centre is None else np.array(params.centre)
    away = places - centre
    away = away - (away @ normal)[:, None] * normal
    size = np.linalg.norm(away, axis=1)
    if (size <= ROUNDING * ring.diameter).any():
        raise StepError(
            "a vertex lies on the axis of the circle: it has no side to go to", where="vertices"
        )
    radius = 0.5 * (ring.diameter if params.diameter is None else params.diameter)
    unit = away / size[:, None]
    if params.even:
        right = unit[0]
        up = cross(normal, right)
        turn = np.arctan2(unit @ up, unit @ right)
        order = np.argsort(turn, kind="stable")
        step = 2 * np.pi * np.arange(len(turn)) / len(turn)
        # The start that moves them least: the mean of what each would have to turn.
        step = step + float(np.mean(turn[order] - step))
        turn[order] = step
        unit = np.cos(turn)[:, None] * right + np.sin(turn)[:, None] * up
    made = mesh.points.copy()
    made[chosen] = centre + radius * unit
    return moved_to(mesh, made)


def _title(params: RoundParams) -> str:
    across = "" if params.diameter is None else f", {length_words(params.diameter)} across"
    return f"A ring made round{across}"


TOOL = Reshape(
    params=RoundParams,
    title=_title,
    examples=(
        Example("cube", {"vertices": [18, 20, 26, 25], "diameter": 0.8, "even": True}),
        Example("cube", {"vertices": [18, 20, 26, 25], "centre": [1, 0, 0], "normal": [1, 0, 0]}),
    ),
    moves=edges_of_moved_vertices,
    apply=apply,
)
