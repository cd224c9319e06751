"""Delete: take faces away and leave a hole."""

from __future__ import annotations

from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from cutcore.geometry.arrays import Bools
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.submesh import without_faces
from cutcore.queries.named_elements import (
    Edges,
    Faces,
    Vertices,
    edges_named,
    face_mask,
    vertex_mask,
)
from cutcore.tool import Example, Reshape, Reshaping, one_kind
from cutcore.words import count_of


class DeleteParams(Reshaping):
    """The faces to take away, or those at `edges` or at `vertices`; vertices that only they used go
    with them."""

    tool: Literal["delete"] = "delete"
    faces: Faces | None = None
    edges: Edges | None = None
    vertices: Vertices | None = None

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        one_kind(
            "a deletion needs either faces, edges or vertices",
            self.faces,
            self.edges,
            self.vertices,
        )
        return self


def gone(mesh: Mesh, params: DeleteParams) -> Bools:
    """Which faces (F,) go. Raises StepError for elements that are not there."""
    if params.faces is not None:
        return face_mask(mesh, params.faces)
    if params.edges is not None:
        return mesh.edges.beside(edges_named(mesh, params.edges), mesh.face_count)
    assert params.vertices is not None  # the model has checked this
    chosen = vertex_mask(mesh, params.vertices)
    found: Bools = np.logical_or.reduceat(chosen[mesh.corners], mesh.starts[:-1])
    return found


def apply(mesh: Mesh, params: DeleteParams) -> Result:
    """Raises StepError if nothing would be left."""
    left, origin = without_faces(mesh, gone(mesh, params))
    return Result(left, origin)


def _title(params: DeleteParams) -> str:
    if params.faces is not None:
        return f"{count_of(len(params.faces), 'face')} deleted"
    return "The faces at edges deleted" if params.edges else "The faces at vertices deleted"


TOOL = Reshape(
    params=DeleteParams,
    title=_title,
    examples=(
        Example("plate", {"faces": [2, 5]}),
        Example("plate", {"edges": [[0, 1]]}),
        Example("plate", {"vertices": [6]}),
    ),
    apply=apply,
)
