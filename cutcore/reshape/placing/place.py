"""Place: the whole part turned and moved."""

from __future__ import annotations

from typing import Literal

import numpy as np

from cutcore.geometry.camera import Vector
from cutcore.geometry.placement import Placement
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.mesh.submesh import moved
from cutcore.notes import Note
from cutcore.tool import Example, Reshape, Reshaping


class PlaceParams(Reshaping):
    """Turned by degrees about the x, the y and the z axis, one after the other, right-handed, then
    moved."""

    tool: Literal["place"] = "place"
    move: Vector = (0.0, 0.0, 0.0)
    turn: Vector = (0.0, 0.0, 0.0)


def apply(mesh: Mesh, params: PlaceParams) -> Result:
    """Quarter turns are exact."""
    placement = Placement(move=params.move, turn=params.turn)
    if placement.at_home:
        nothing = Note("nothing-to-do", "The part stands there already.")
        return Result(mesh, Origin.same(mesh), notes=(nothing,))
    origin = Origin.same(mesh)
    made = moved(mesh, placement.places(mesh.points))
    return Result(made, Origin(origin.face, origin.vertex, np.full(mesh.face_count, -1)))


TOOL = Reshape(
    params=PlaceParams,
    title=lambda params: "Its place made its own",
    examples=(
        Example("cube", {"move": [1.0, 0.0, -0.5], "turn": [0, 90, 30]}),
        Example("patched", {"turn": [180, 0, 0]}),
    ),
    moves=edges_of_moved_vertices,
    apply=apply,
)
