"""Patch: give faces a name, as a group to be found, cut and joined by."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.errors import StepError
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.patched import with_patches
from cutcore.mesh.result import Picked, Result
from cutcore.params import Real
from cutcore.queries.named_elements import Faces, chosen_faces, face_mask
from cutcore.queries.patches import Bound, fresh_names, groups_of_faces
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of

# So many patches at once are a slip: a bent surface has a group for every face.
MOST_PATCHES = 500

PatchName = Annotated[str, Field(max_length=120)]


class PatchParams(Reshaping):
    """Some faces, or all up to what bounds them, become a patch of that name, joined to one that
    has it already; without a name they are in no patch any more.

    Without `faces`, and with a bound, every group that is bounded so becomes a patch of its own,
    named after `name` and a number."""

    tool: Literal["patch"] = "patch"
    faces: Faces | None = None
    name: PatchName = ""
    up_to: Bound | None = None
    degrees: Annotated[Real, Field(ge=0, le=180)] = 30.0
    each: bool = False

    @model_validator(mode="after")
    def _goes_together(self) -> Self:
        if self.each and (self.up_to is None or not self.name):
            raise ValueError("a patch for each group needs what bounds the groups, and a name")
        return self


def apply(mesh: Mesh, params: PatchParams) -> Result:
    """Raises StepError for faces that are not there, or if there would be too many patches."""
    chosen = chosen_faces(mesh, params.faces)
    names = list(mesh.patches)
    patch = mesh.patch.astype(np.int64)
    if params.each and params.up_to is not None:
        group = groups_of_faces(mesh, chosen, params.up_to, params.degrees)
        _, first, number = np.unique(group[chosen], return_index=True, return_inverse=True)
        if len(first) > MOST_PATCHES:
            words = f"that would make {len(first)} patches, more than {MOST_PATCHES}"
            raise StepError(f"{words}: let them end elsewhere", where="up_to")
        rank = np.argsort(np.argsort(first))
        new = fresh_names(names, params.name, len(first))
        patch[chosen] = len(names) + rank[number]
        # All of them would be picked, and limit what comes next.
        return replace(with_patches(mesh, patch, (*names, *new)), picked=Picked())
    if params.up_to is not None and params.faces is not None:
        whole = np.ones(mesh.face_count, dtype=bool)
        group = groups_of_faces(mesh, whole, params.up_to, params.degrees)
        chosen = np.isin(group, group[face_mask(mesh, params.faces)])
    if params.name and params.name not in names:
        names.append(params.name)
    patch[chosen] = names.index(params.name) if params.name else -1
    return with_patches(mesh, patch, tuple(names))


def _title(params: PatchParams) -> str:
    if params.each:
        return f"Patches by {params.up_to}"
    which = "All faces" if params.faces is None else count_of(len(params.faces), "face")
    return f"Patch {params.name!r}" if params.name else f"{which} out of their patches"


TOOL = Reshape(
    params=PatchParams,
    title=_title,
    examples=(
        Example("cube", {"faces": [0], "up_to": "angle", "name": "Lid"}),
        Example("cube", {"up_to": "angle", "degrees": 45, "name": "Side", "each": True}),
        Example("patched", {"faces": [0, 1]}),
    ),
    apply=apply,
)
