"""Rename a patch; under the name of another the two are one."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.mesh.mesh import Mesh
from cutcore.mesh.patched import with_patches
from cutcore.mesh.result import Result
from cutcore.queries.patches import patch_named
from cutcore.tool import Example, Reshape, Reshaping


class RenamePatchParams(Reshaping):
    """The patch and its new name."""

    tool: Literal["rename patch"] = "rename patch"
    patch: str
    name: Annotated[str, Field(min_length=1, max_length=120)]


def apply(mesh: Mesh, params: RenamePatchParams) -> Result:
    """Raises StepError if there is no such patch."""
    number = patch_named(mesh, params.patch, where="patch")
    names = list(mesh.patches)
    patch = mesh.patch.astype(np.int64)
    if params.name in names:
        patch[patch == number] = names.index(params.name)
    else:
        names[number] = params.name
    return with_patches(mesh, patch, tuple(names))


TOOL = Reshape(
    params=RenamePatchParams,
    title=lambda params: f"Rename {params.patch!r} to {params.name!r}",
    examples=(Example("patched", {"patch": "skin", "name": "Hide"}),),
    apply=apply,
)
