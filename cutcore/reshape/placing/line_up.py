"""Line up: chains of edges made straight, or their vertices spaced evenly."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.notes import vertex
from cutcore.queries.edge_runs import edge_runs
from cutcore.queries.named_elements import Edges, edges_named
from cutcore.reshape.placing.moving import moved_to
from cutcore.tool import Breaking, Example, Reshape


class LineUpParams(Breaking):
    """Chains of `edges`. `straight`: their vertices go square onto the line between both ends.
    `evenly`: they go along the chain to where the lengths between them are equal. Both at once:
    evenly along that line. The ends of a chain stay, and the first vertex of a closed one."""

    tool: Literal["line up"] = "line up"
    edges: Edges
    to: Annotated[Literal["straight", "evenly", "both"], Field()] = "straight"


def apply(mesh: Mesh, params: LineUpParams) -> Result:
    """Raises StepError for a closed chain that is to be straight."""
    made = mesh.points.copy()
    for run, closed in edge_runs(mesh, edges_named(mesh, params.edges)):
        places = mesh.points[run]
        if params.to != "evenly":
            if closed:
                raise StepError(
                    "a closed chain has no ends to be straight between",
                    where="edges",
                    elements=(vertex(run[0]),),
                )
            places = _straight(places)
        if params.to != "straight":
            places = _evenly(np.concatenate([places, places[:1]]) if closed else places)
            places = places[: len(run)]
        # The ends keep every digit.
        made[run[1:]], last = places[1:], mesh.points[run[-1]]
        if not closed:
            made[run[-1]] = last
    return moved_to(mesh, made)


def _straight(places: Floats) -> Floats:
    """Places (n, 3) square onto the line from the first to the last."""
    along = places[-1] - places[0]
    size = float(along @ along)
    if size == 0.0:
        raise StepError("both ends of the chain lie in one place", where="edges")
    share = np.clip((places - places[0]) @ along / size, 0.0, 1.0)
    return np.asarray(places[0] + share[:, None] * along)


def _evenly(places: Floats) -> Floats:
    """As many places (n, 3) along the same chain, equal lengths apart."""
    lengths = np.linalg.norm(np.diff(places, axis=0), axis=1)
    at = np.concatenate([[0.0], np.cumsum(lengths)])
    wanted = np.linspace(0.0, at[-1], len(places))
    return np.stack([np.interp(wanted, at, places[:, k]) for k in range(3)], axis=1)


def _title(params: LineUpParams) -> str:
    said = {"straight": "made straight", "evenly": "spaced evenly", "both": "straight and even"}
    return f"A chain {said[params.to]}"


TOOL = Reshape(
    params=LineUpParams,
    title=_title,
    examples=(
        Example("worn", {"edges": [[1, 5], [5, 9]]}),
        Example("worn", {"edges": [[1, 5], [5, 9]], "to": "both"}),
        Example("worn", {"edges": [[1, 5], [5, 9], [9, 13]], "to": "evenly"}),
    ),
    moves=edges_of_moved_vertices,
    apply=apply,
)
