"""Weld: make vertices that lie near each other one."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.spatial import cKDTree

from cutcore.errors import StepError
from cutcore.geometry.components import components
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.notes import Element, Note, position
from cutcore.params import Real
from cutcore.queries.named_elements import Vertices, vertex_mask
from cutcore.reshape.legal import AGAINST, clashing_anew, crowded_anew, refuse_illegal
from cutcore.reshape.merge_vertices import merge_vertices
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import length_words


class WeldParams(Reshaping):
    """Vertices (all, if none are named) within a distance of each other become one at the place of
    the lowest."""

    tool: Literal["weld"] = "weld"
    distance: Annotated[Real, Field(ge=0)]
    vertices: Vertices | None = None


def apply(mesh: Mesh, params: WeldParams) -> Result:
    """Chains of near vertices become one too. Raises StepError if nothing would be left."""
    chosen = (
        np.arange(mesh.vertex_count)
        if params.vertices is None
        else np.flatnonzero(vertex_mask(mesh, params.vertices))
    )
    pairs = cKDTree(mesh.points[chosen]).query_pairs(params.distance, output_type="ndarray")
    if len(pairs) == 0:
        return Result(
            mesh,
            Origin.same(mesh),
            notes=(Note("nothing-to-weld", "No two vertices lie that near: nothing was welded."),),
        )
    groups = components(pairs, len(chosen))[1]
    lowest = np.full(int(groups.max()) + 1, mesh.vertex_count)
    np.minimum.at(lowest, groups, chosen)
    goal = np.arange(mesh.vertex_count)
    goal[chosen] = lowest[groups]
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


TOOL = Reshape(
    params=WeldParams,
    title=lambda params: f"Weld within {length_words(params.distance)}",
    examples=(Example("plate", {"distance": 1.01, "vertices": [5, 6]}),),
    apply=apply,
)
