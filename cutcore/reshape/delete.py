"""Delete: take faces away and leave a hole."""

from __future__ import annotations

from typing import Literal

from cutcore.mesh import Mesh
from cutcore.reshape.common import Faces, Reshaping, face_mask
from cutcore.result import Result
from cutcore.without import without_faces


class DeleteParams(Reshaping):
    """The faces to take away; vertices that only they used go with them."""

    tool: Literal["delete"] = "delete"
    faces: Faces


def apply(mesh: Mesh, params: DeleteParams) -> Result:
    """Raises StepError if nothing would be left."""
    left, origin = without_faces(mesh, face_mask(mesh, params.faces))
    return Result(left, origin)
