"""Weld: make vertices that lie near each other one."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from cutcore.mesh import Mesh
from cutcore.notes import Note
from cutcore.params import Real
from cutcore.reshape.common import Reshaping, Vertices, vertex_mask
from cutcore.reshape.merge_vertices import merge_vertices
from cutcore.result import Origin, Result


class WeldParams(Reshaping):
    """Vertices (all, if none are named) within a distance of each other become one at the place of the lowest."""

    tool: Literal["weld"] = "weld"
    distance: Annotated[Real, Field(ge=0)]
    vertices: Vertices | None = None


def apply(mesh: Mesh, params: WeldParams) -> Result:
    """Chains of near vertices become one too. Raises StepError if nothing would be left."""
    chosen = np.arange(mesh.vertex_count) if params.vertices is None else np.flatnonzero(vertex_mask(mesh, params.vertices))
    pairs = cKDTree(mesh.points[chosen]).query_pairs(params.distance, output_type="ndarray")
    if len(pairs) == 0:
        return Result(mesh, Origin.same(mesh), notes=(Note("nothing-to-weld", "No two vertices lie that near: nothing was welded."),))
    count = len(chosen)
    groups = connected_components(coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(count, count)), directed=False)[1]
    lowest = np.full(int(groups.max()) + 1, mesh.vertex_count)
    np.minimum.at(lowest, groups, chosen)
    goal = np.arange(mesh.vertex_count)
    goal[chosen] = lowest[groups]
    return merge_vertices(mesh, goal, mesh.points)
