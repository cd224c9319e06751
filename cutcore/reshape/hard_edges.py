"""Hard edges: edges at which the surface is meant to bend sharply, and soft ones."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.geometry.arrays import Floats, Ints
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.notes import Note
from cutcore.params import Real
from cutcore.queries.named_elements import Edges, edges_named
from cutcore.tool import Example, Reshape, Reshaping, one_kind
from cutcore.words import count_of


class HardEdgesParams(Reshaping):
    """The `edges` that become hard or soft, or all at which the surface bends by more than so many
    `degrees`."""

    tool: Literal["hard edges"] = "hard edges"
    edges: Edges | None = None
    degrees: Annotated[Real, Field(ge=0, le=180)] | None = None
    to: Literal["hard", "soft"] = "hard"

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        one_kind("name the edges, or say by how much they bend", self.edges, self.degrees)
        return self


def apply(mesh: Mesh, params: HardEdgesParams) -> Result:
    """Nothing moves. The edges that changed are picked."""
    named = (
        np.flatnonzero(bends(mesh) > (params.degrees or 0.0))
        if params.edges is None
        else edges_named(mesh, params.edges)
    )
    hard = mesh.edges.joining(mesh.hard)
    wanted = params.to == "hard"
    changed = named[hard[named] != wanted]
    if len(changed) == 0:
        nothing = Note("nothing-to-do", f"All of these edges are {params.to} already.")
        return Result(mesh, Origin.same(mesh), notes=(nothing,))
    hard[changed] = wanted
    pairs = mesh.edges.ends[hard]
    made = replace(mesh, hard=pairs[np.lexsort((pairs[:, 1], pairs[:, 0]))])
    return Result(
        made.with_edges(mesh.edges),
        Origin.same(mesh),
        Picked(edges=mesh.edges.ends[changed].astype(np.int64)),
    )


def bends(mesh: Mesh) -> Floats:
    """By how many degrees (E,) the surface bends at each edge; 0 at borders, and where more than two
    faces meet."""
    normals = mesh.face_normals()
    pairs = mesh.edges.faces
    two = pairs[:, 1] >= 0
    two[list(mesh.edges.crowded)] = False
    found = np.zeros(len(pairs))
    one, other = normals[pairs[two, 0]], normals[pairs[two, 1]]
    across = np.linalg.norm(np.cross(one, other), axis=1)
    found[two] = np.degrees(np.arctan2(across, np.einsum("ij,ij->i", one, other)))
    return found


def _picked(before: Mesh, result: Result) -> Ints:
    return result.mesh.edges.among_new(result.picked.edges, 0)


def _title(params: HardEdgesParams) -> str:
    if params.edges is None:
        return f"Edges that bend by more than {params.degrees:g}° made {params.to}"
    return f"{count_of(len(params.edges), 'edge')} made {params.to}"


TOOL = Reshape(
    params=HardEdgesParams,
    title=_title,
    examples=(
        Example("cube", {"degrees": 30}),
        Example("plate", {"edges": [[5, 6]]}),
    ),
    moves=_picked,
    apply=apply,
)
