"""Make flat: the vertices of faces, or picked ones, onto their plane."""

from __future__ import annotations

from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from cutcore.errors import StepError
from cutcore.geometry.camera import Vector
from cutcore.geometry.vectors import unit
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.queries.named_elements import Faces, Vertices, face_mask, vertex_mask
from cutcore.reshape.placing.moving import moved_to
from cutcore.tool import Breaking, Example, Reshape, one_kind


class FlattenParams(Breaking):
    """The vertices of `faces`, or `vertices`, that go square onto a plane: the one they lie nearest
    to, or through their middle with a `normal`."""

    tool: Literal["flatten"] = "flatten"
    faces: Faces | None = None
    vertices: Vertices | None = None
    normal: Vector | None = None

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        one_kind("either faces or vertices are made flat", self.faces, self.vertices)
        return self


def apply(mesh: Mesh, params: FlattenParams) -> Result:
    """The plane is the one of least squares through the middle of the vertices. Raises StepError
    for vertices that give no plane."""
    if params.faces is not None:
        rows = face_mask(mesh, params.faces)[mesh.face_of_corner]
        chosen = np.unique(mesh.corners[rows])
    else:
        assert params.vertices is not None  # the model has checked this
        chosen = np.flatnonzero(vertex_mask(mesh, params.vertices))
    places = mesh.points[chosen]
    away = places - places.mean(axis=0)
    if params.normal is not None:
        normal = unit(np.array(params.normal, dtype=np.float64))
        if not normal.any():
            raise StepError("a normal can't be zero", where="normal")
    else:
        _, sizes, axes = np.linalg.svd(away, full_matrices=len(away) < 3)
        if len(chosen) < 3 or not sizes[1] > 0:
            raise StepError("a plane needs three vertices that are not in one line")
        normal = axes[2]
    made = mesh.points.copy()
    made[chosen] = places - (away @ normal)[:, None] * normal
    # What lies on the plane but for rounding stays, so that flat faces are left alone.
    still = np.abs(away @ normal) <= 4 * np.finfo(float).eps * np.abs(places).max()
    made[chosen[still]] = places[still]
    return moved_to(mesh, made)


TOOL = Reshape(
    params=FlattenParams,
    title=lambda params: "Made flat",
    examples=(
        Example("worn", {"vertices": [4, 5, 6, 9]}),
        Example("worn", {"faces": [0], "normal": [0, 1, 0]}),
    ),
    moves=edges_of_moved_vertices,
    apply=apply,
)
