"""Delete: take faces away and leave a hole."""

from __future__ import annotations

from typing import Literal

from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.submesh import without_faces
from cutcore.queries.named_elements import Faces, face_mask
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of


class DeleteParams(Reshaping):
    """The faces to take away; vertices that only they used go with them."""

    tool: Literal["delete"] = "delete"
    faces: Faces


def apply(mesh: Mesh, params: DeleteParams) -> Result:
    """Raises StepError if nothing would be left."""
    left, origin = without_faces(mesh, face_mask(mesh, params.faces))
    return Result(left, origin)


TOOL = Reshape(
    params=DeleteParams,
    title=lambda params: f"{count_of(len(params.faces), 'face')} deleted",
    examples=(Example("plate", {"faces": [2, 5]}),),
    apply=apply,
)
