"""Separate: picked faces become a part of their own."""

from __future__ import annotations

from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from cutcore.geometry.arrays import Bools, Ints
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.mesh.submesh import without_faces
from cutcore.notes import Note
from cutcore.queries.bodies import bodies_of
from cutcore.queries.named_elements import Faces, chosen_faces
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of


class SeparateParams(Reshaping):
    """The faces that leave the part, all of it if none are named; both sides get vertices of their
    own along the seam. With `each`, every body among them that hangs together becomes a part of its
    own."""

    tool: Literal["separate"] = "separate"
    faces: Faces | None = None
    each: bool = False

    @model_validator(mode="after")
    def _leaves_something(self) -> Self:
        if self.faces is None and not self.each:
            raise ValueError("name the faces that leave the part, or let each of its bodies leave")
        return self


def apply(mesh: Mesh, params: SeparateParams) -> Result:
    """The part without the faces, and the new parts. Where all of it leaves, the largest of its
    bodies stays. Raises StepError if nothing of the part would be left."""
    chosen = chosen_faces(mesh, params.faces)
    if not params.each:
        left, origin = without_faces(mesh, chosen)
        return Result(left, origin, apart=(without_faces(mesh, ~chosen)[0],))
    body = _bodies(mesh, chosen)
    bodies = list(range(int(body.max()) + 1))
    if chosen.all():
        size = np.bincount(body)
        stays = int(np.argmax(size))
        if len(bodies) == 1:
            words = "The part hangs together as it is: nothing leaves it."
            return Result(mesh, Origin.same(mesh), notes=(Note("nothing-to-do", words),))
        chosen = body != stays
        bodies.remove(stays)
    left, origin = without_faces(mesh, chosen)
    return Result(left, origin, apart=tuple(without_faces(mesh, body != k)[0] for k in bodies))


def _bodies(mesh: Mesh, chosen: Bools) -> Ints:
    """The body (F,) that each of some faces is in, of what they make by themselves; -1 for the
    others."""
    alone, _ = without_faces(mesh, ~chosen)
    body = np.full(mesh.face_count, -1, dtype=np.int64)
    body[chosen] = bodies_of(alone)
    return body


def _title(params: SeparateParams) -> str:
    if params.faces is None:
        return "Each body a part of its own"
    return f"{count_of(len(params.faces), 'face')} separated{', each body by itself' if params.each else ''}"


TOOL = Reshape(
    params=SeparateParams,
    title=_title,
    examples=(
        Example("plate", {"faces": [2, 5]}),
        Example("plate", {"faces": [0, 2, 5], "each": True}),
    ),
    apply=apply,
)
