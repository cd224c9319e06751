"""Flip: turn faces round, so that their inside becomes their outside."""

from __future__ import annotations

from typing import Literal

import numpy as np

from cutcore.geometry.arrays import Bools
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.queries.named_elements import Faces, chosen_faces
from cutcore.tool import Example, Reshape, Reshaping


class FlipParams(Reshaping):
    """The faces to turn round; all of them if none are named."""

    tool: Literal["flip"] = "flip"
    faces: Faces | None = None


def apply(mesh: Mesh, params: FlipParams) -> Result:
    """Each face keeps its first corner and runs the other way round."""
    return turned_round(mesh, chosen_faces(mesh, params.faces))


def turned_round(mesh: Mesh, chosen: Bools) -> Result:
    """The mesh with some faces (F,) turned round."""
    corner = np.arange(len(mesh.corners))
    first = np.repeat(mesh.starts[:-1], mesh.sizes)
    size = np.repeat(mesh.sizes, mesh.sizes)
    turned = first + (size - (corner - first)) % size
    at = np.where(chosen[mesh.face_of_corner], turned, corner)
    made = mesh.rebuilt(
        mesh.points, mesh.starts, mesh.corners[at], edge_data=mesh.edge_data, corners_from=at
    )
    faces = np.arange(mesh.face_count)
    return Result(made, Origin(faces, np.arange(mesh.vertex_count), np.where(chosen, -1, faces)))


TOOL = Reshape(
    params=FlipParams,
    title=lambda params: "Faces flipped",
    examples=(
        Example("plate", {}),
        Example("cube", {"faces": [0]}),
    ),
    apply=apply,
    turns=True,
)
