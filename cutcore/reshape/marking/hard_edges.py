"""Hard edges: edges at which the surface is meant to bend sharply, and soft ones."""

from __future__ import annotations

from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.geometry.arrays import Ints
from cutcore.mesh.creases import strengths_of, with_hard
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.notes import Note
from cutcore.params import Real
from cutcore.queries.bends import bends
from cutcore.queries.named_elements import Edges, edges_named
from cutcore.tool import Example, Reshape, Reshaping, one_kind
from cutcore.words import count_of, share_words


class HardEdgesParams(Reshaping):
    """The `edges` that become hard or soft, or all at which the surface bends by more than so many
    `degrees`; or creases of a `strength` between the two, which round off under subdivision."""

    tool: Literal["hard edges"] = "hard edges"
    edges: Edges | None = None
    degrees: Annotated[Real, Field(ge=0, le=180)] | None = None
    to: Literal["hard", "soft", "crease"] = "hard"
    strength: Annotated[Real, Field(gt=0, lt=1)] = 0.5

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
    now = np.zeros(len(mesh.edges))
    named_hard = mesh.edges.joining(mesh.hard)
    now[named_hard] = strengths_of(mesh)[named_hard]
    wanted = {"hard": 1.0, "soft": 0.0, "crease": params.strength}[params.to]
    changed = named[now[named] != wanted]
    if len(changed) == 0:
        nothing = Note("nothing-to-do", f"All of these edges are {_said(params)} already.")
        return Result(mesh, Origin.same(mesh), notes=(nothing,))
    now[changed] = wanted
    made = with_hard(mesh, now > 0, now)
    return Result(made, Origin.same(mesh), Picked(edges=mesh.edges.ends[changed].astype(np.int64)))


def _picked(before: Mesh, result: Result) -> Ints:
    return result.mesh.edges.among_new(result.picked.edges, 0)


def _title(params: HardEdgesParams) -> str:
    if params.edges is None:
        return f"Edges that bend by more than {params.degrees:g}° made {_said(params)}"
    return f"{count_of(len(params.edges), 'edge')} made {_said(params)}"


def _said(params: HardEdgesParams) -> str:
    if params.to == "crease":
        return f"creases of {share_words(params.strength)}"
    return params.to


TOOL = Reshape(
    params=HardEdgesParams,
    title=_title,
    examples=(
        Example("cube", {"degrees": 30}),
        Example("plate", {"edges": [[5, 6]]}),
        Example("plate", {"edges": [[5, 6], [6, 7]], "to": "crease", "strength": 0.75}),
    ),
    moves=_picked,
    apply=apply,
)
