"""Weld: make vertices that lie near each other one."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator
from scipy.spatial import cKDTree

from cutcore.errors import StepError
from cutcore.geometry.arrays import Ints
from cutcore.geometry.components import components
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.notes import Element, Note, position
from cutcore.params import Index, Real
from cutcore.queries.named_elements import Vertices, vertex_mask
from cutcore.reshape.joining.merge_vertices import merge_vertices
from cutcore.reshape.legal import AGAINST, clashing_anew, crowded_anew, refuse_illegal
from cutcore.tool import Breaking, Drawn, Example, Extra, Place, Reshape, one_kind, place_of
from cutcore.words import length_words


class WeldParams(Breaking):
    """Vertices (all, if none are named) within a `distance` of each other become one at the place of
    the lowest; or, of pairs of vertices, the first goes `onto` the second, however far it is."""

    tool: Literal["weld"] = "weld"
    distance: Annotated[Real, Field(ge=0)] | None = None
    vertices: Vertices | None = None
    onto: Annotated[tuple[tuple[Index, Index], ...], Field(min_length=1)] | None = None

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        one_kind("a weld needs either a distance or pairs of vertices", self.distance, self.onto)
        return self


def pairs_of(mesh: Mesh, params: WeldParams) -> Ints:
    """The pairs of vertices (n, 2) that become one, each lower first; for `onto`, as they are
    named."""
    if params.onto is not None:
        vertex_mask(mesh, [v for pair in params.onto for v in pair], where="onto")
        return np.array(params.onto, dtype=np.int64)
    chosen = (
        np.arange(mesh.vertex_count)
        if params.vertices is None
        else np.flatnonzero(vertex_mask(mesh, params.vertices))
    )
    assert params.distance is not None  # the model has checked this
    pairs = cKDTree(mesh.points[chosen]).query_pairs(params.distance, output_type="ndarray")
    return np.sort(chosen[pairs].reshape(-1, 2), axis=1)


def apply(mesh: Mesh, params: WeldParams) -> Result:
    """Chains of near vertices become one too. What would make too many faces meet at an edge stays
    apart, with a note, unless it is wanted anyway. Raises StepError if nothing would be left."""
    pairs = pairs_of(mesh, params)
    if len(pairs) == 0:
        return Result(
            mesh,
            Origin.same(mesh),
            notes=(Note("nothing-to-weld", "No two vertices lie that near: nothing was welded."),),
        )
    groups = components(pairs, mesh.vertex_count)[1]
    # Who is to go on itself is no goal.
    goals = (
        np.arange(mesh.vertex_count)
        if params.onto is None
        else np.setdiff1d(pairs[:, 1], pairs[:, 0])
    )
    lowest = np.full(int(groups.max()) + 1, mesh.vertex_count)
    np.minimum.at(lowest, groups[goals], goals)
    if (lowest[groups[pairs[:, 0]]] == mesh.vertex_count).any():
        raise StepError("vertices are welded onto each other in a circle", where="onto")
    welded = np.unique(pairs)
    goal = np.arange(mesh.vertex_count)
    goal[welded] = lowest[groups[welded]]
    if params.onto is not None or params.anyway:
        return merge_vertices(mesh, goal, mesh.points)
    return as_far_as_legal(mesh, goal)


def as_far_as_legal(mesh: Mesh, goal: Ints) -> Result:
    """The mesh with vertices merged into their goals (V,); what would make too many faces meet at an
    edge stays apart, with a note."""
    left: list[Element] = []
    while True:
        result = merge_vertices(mesh, goal, mesh.points)
        crowded = crowded_anew(mesh, result) + clashing_anew(mesh, result)
        if not crowded:
            break
        # What would make too many faces meet stays apart, and is told.
        left += [
            position(result.mesh.points[result.mesh.edges.ends[edge]].mean(axis=0))
            for edge in crowded
        ]
        apart = np.isin(goal, result.origin.vertex[result.mesh.edges.ends[crowded].ravel()])
        if (goal[apart] == np.flatnonzero(apart)).all():
            refuse_illegal(mesh, result)
            raise StepError(AGAINST, elements=tuple(left[:1]))
        goal[apart] = np.flatnonzero(apart)
    if not left:
        return result
    words = f"{len(left)} places were not welded: more than two faces would meet there, or two that run against each other."
    return replace(result, notes=(*result.notes, Note("not-welded", words, tuple(left[:50]))))


def _title(params: WeldParams) -> str:
    if params.distance is None:
        return "Vertices welded onto others"
    return f"Weld within {length_words(params.distance)}"


class WeldExtra(Extra):
    """The pairs of vertices that become one, where they are."""

    of: Literal["weld"] = "weld"
    pairs: list[tuple[Place, Place]]
    count: int


# Of more pairs evenly chosen ones are shown.
MOST_PAIRS = 2000


def extra_of(mesh: Mesh, params: WeldParams, drawn: Drawn) -> WeldExtra | None:
    """The pairs that a weld's plan shows; none of vertices that are not there."""
    try:
        pairs = pairs_of(mesh, params)
    except StepError:
        return None
    shown = mesh.points[pairs[:: 1 + len(pairs) // MOST_PAIRS]]
    return WeldExtra(pairs=[(place_of(a), place_of(b)) for a, b in shown], count=len(pairs))


TOOL = Reshape(
    params=WeldParams,
    title=_title,
    examples=(
        Example("plate", {"distance": 1.01, "vertices": [5, 6]}),
        Example("plate", {"onto": [[5, 6]], "anyway": True}),
    ),
    extra=extra_of,
    apply=apply,
)
