"""Separate: picked faces become a part of their own."""

from __future__ import annotations

from typing import Literal

from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.submesh import without_faces
from cutcore.queries.named_elements import Faces, face_mask
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of


class SeparateParams(Reshaping):
    """The faces that leave the part; both sides get vertices of their own along the seam."""

    tool: Literal["separate"] = "separate"
    faces: Faces


def apply(mesh: Mesh, params: SeparateParams) -> Result:
    """The part without the faces, and the new part. Raises StepError if nothing of the part would
    be left."""
    chosen = face_mask(mesh, params.faces)
    left, origin = without_faces(mesh, chosen)
    return Result(left, origin, apart=(without_faces(mesh, ~chosen)[0],))


TOOL = Reshape(
    params=SeparateParams,
    title=lambda params: f"{count_of(len(params.faces), 'face')} separated",
    examples=(Example("plate", {"faces": [2, 5]}),),
    apply=apply,
)
