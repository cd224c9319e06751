"""Move: what is picked is shifted, turned or scaled where it is, its neighbours along with it if
wanted."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.camera import Vector
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.params import Params, Real
from cutcore.reshape.picked import OnPick
from cutcore.reshape.placing.falloff import Falloff, weights_of
from cutcore.reshape.placing.moving import moved_to
from cutcore.reshape.placing.symmetric import moved_alike
from cutcore.tool import Example, Reshape
from cutcore.trace.mirror import Mirror
from cutcore.words import length_words


class Shift(Params):
    """By a length along each axis."""

    way: Literal["shift"] = "shift"
    by: Vector


class Turn(Params):
    """By degrees about a line through a place, right-handed."""

    way: Literal["turn"] = "turn"
    about: Vector
    axis: Vector
    degrees: Real


class Scale(Params):
    """By a factor along each axis, about a place that stays."""

    way: Literal["scale"] = "scale"
    about: Vector
    factors: Vector


class MoveParams(OnPick):
    """How the pick is moved. With a `falloff` rings of neighbours share in it; across a `mirror` the
    same is done to their counterparts."""

    tool: Literal["move"] = "move"
    move: Annotated[Shift | Turn | Scale, Field(discriminator="way")]
    falloff: Falloff | None = None
    mirror: Mirror | None = None


def apply(mesh: Mesh, params: MoveParams) -> Result:
    """Connectivity stays as it is. Raises StepError for an axis of no length."""
    weight = weights_of(mesh, params.chosen(mesh), params.falloff)
    at = np.flatnonzero(weight)
    made = mesh.points.copy()
    made[at] = _moved(mesh.points[at], weight[at][:, None], params.move)
    made, notes = moved_alike(mesh, made, params.mirror)
    result = moved_to(mesh, made)
    return replace(result, notes=(*result.notes, *notes))


def _moved(places: Floats, weight: Floats, move: Shift | Turn | Scale) -> Floats:
    """Where places (n, 3) go by as much of a move as they share in (n, 1)."""
    if move.way == "shift":
        return np.asarray(places + weight * np.array(move.by))
    away = places - np.array(move.about)
    if move.way == "scale":
        return np.asarray(places + weight * (np.array(move.factors) - 1.0) * away)
    size = float(np.linalg.norm(move.axis))
    if size == 0.0:
        raise StepError("an axis can't be of no length", where="move.axis")
    axis = np.array(move.axis) / size
    angle = np.radians(move.degrees) * weight
    # Rodrigues' formula, as what is added to where they were: no turn moves nothing.
    across = cross(np.broadcast_to(axis, away.shape), away)
    along = (away @ axis)[:, None] * axis
    return np.asarray(
        places + np.sin(angle) * across + 2.0 * np.sin(0.5 * angle) ** 2 * (along - away)
    )


def _title(params: MoveParams) -> str:
    what, move = "The part" if params.whole else "The pick", params.move
    if move.way == "shift":
        return f"{what} moved by {length_words(float(np.linalg.norm(move.by)))}"
    if move.way == "turn":
        return f"{what} turned by {move.degrees:g}°"
    return f"{what} scaled by {' · '.join(f'{factor:g}' for factor in move.factors)}"


TOOL = Reshape(
    params=MoveParams,
    title=_title,
    examples=(
        Example("cube", {"faces": [9, 12], "move": {"way": "shift", "by": [0.25, 0, 0]}}),
        Example(
            "plate",
            {
                "vertices": [5],
                "move": {"way": "shift", "by": [0, 0.2, 0]},
                "falloff": {"rings": 2},
            },
        ),
        Example(
            "cube",
            {
                "faces": [9],
                "move": {"way": "turn", "about": [0, 0, 0], "axis": [0, 1, 0], "degrees": 15},
                "mirror": {"axis": "x"},
            },
        ),
        Example(
            "drum",
            {
                "vertices": [8, 9, 10, 11, 12, 13, 14, 15],
                "move": {"way": "scale", "about": [0, 1, 0], "factors": [1.2, 1, 1.2]},
            },
        ),
    ),
    moves=edges_of_moved_vertices,
    apply=apply,
)
