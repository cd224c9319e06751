"""Collapse: picked vertices to a point, or edges to where they were crossed."""

from __future__ import annotations

from typing import Any, Literal, Self

import numpy as np
from pydantic import model_validator

from cutcore.geometry.camera import Vector
from cutcore.geometry.components import components
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.queries.named_elements import Vertices, edges_named, vertex_mask
from cutcore.reshape.joining.merge_vertices import merge_vertices
from cutcore.tool import Breaking, Example, Reshape
from cutcore.trace.surface_points import EdgePoint
from cutcore.trace.trace import anchor_place


class CollapseParams(Breaking):
    """Either `vertices`, which all become one at `at`, or, if no place is given, at their middle or
    where the first or the last named is; or `edges`, each of which becomes one vertex at the share
    given; edges that touch become one vertex at the mean of their places."""

    tool: Literal["collapse"] = "collapse"
    vertices: Vertices | None = None
    at: Vector | None = None
    to: Literal["middle", "first", "last"] = "middle"
    edges: tuple[EdgePoint, ...] | None = None

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        if (self.vertices is None) == (not self.edges):
            raise ValueError("a collapse needs either vertices or edges")
        if self.edges and self.at is not None:
            raise ValueError("edges collapse to their own places: `at` goes with vertices")
        return self


def apply(mesh: Mesh, params: CollapseParams) -> Result:
    """Raises StepError for elements that are not there, or if nothing would be left."""
    goal = np.arange(mesh.vertex_count)
    points = mesh.points.copy()
    if params.vertices is not None:
        chosen = np.flatnonzero(vertex_mask(mesh, params.vertices))
        goal[chosen] = chosen[0]
        points[chosen[0]] = _goal(mesh, params, params.vertices)
        return merge_vertices(mesh, goal, points)
    assert params.edges is not None  # the model has checked this
    pairs = np.array([point.edge for point in params.edges], dtype=np.int64)
    edges_named(mesh, [point.edge for point in params.edges])
    places = np.array([_place(mesh, point) for point in params.edges])
    count = mesh.vertex_count
    groups = components(pairs, count)[1]
    for group in np.unique(groups[pairs[:, 0]]):
        members = np.flatnonzero(groups == group)
        goal[members] = members[0]
        points[members[0]] = places[groups[pairs[:, 0]] == group].mean(axis=0)
    return merge_vertices(mesh, goal, points)


def _goal(mesh: Mesh, params: CollapseParams, vertices: Vertices) -> Any:
    """The place that vertices go to."""
    if params.at is not None:
        return params.at
    if params.to == "middle":
        return mesh.points[np.unique(vertices)].mean(axis=0)
    return mesh.points[vertices[0 if params.to == "first" else -1]]


def _place(mesh: Mesh, point: EdgePoint) -> np.ndarray:
    a, b = point.edge
    return anchor_place(mesh, mesh.edges.between(a, b), point.t if a < b else 1.0 - point.t)


TOOL = Reshape(
    params=CollapseParams,
    title=lambda params: "Collapse",
    examples=(
        Example("cube", {"vertices": [18, 25], "at": [1, 0, 0]}),
        Example("cube", {"edges": [{"edge": [18, 20], "t": 0.5}]}),
    ),
    apply=apply,
)
