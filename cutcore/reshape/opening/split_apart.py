"""Split apart: the surface opens along edges or at vertices."""

from __future__ import annotations

from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from cutcore.geometry.arrays import Bools, Ints, next_in_row
from cutcore.geometry.components import components
from cutcore.mesh.edge_data import EdgeData
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.notes import Note, edge, vertex
from cutcore.queries.named_elements import Edges, Vertices, edges_named, vertex_mask
from cutcore.tool import Example, Reshape, Reshaping, one_kind
from cutcore.words import count_of


class SplitApartParams(Reshaping):
    """Either `edges`, along which the surface opens, or `vertices`, where every face gets a vertex
    of its own."""

    tool: Literal["split apart"] = "split apart"
    edges: Edges | None = None
    vertices: Vertices | None = None

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        one_kind("a split needs either edges or vertices", self.edges, self.vertices)
        return self


def apply(mesh: Mesh, params: SplitApartParams) -> Result:
    """Nothing moves: vertices are doubled, the first fan of faces at each keeps it. The new border
    is picked.

    An edge with nothing open at either end, alone, stays: its faces share both of its vertices
    still. A note says so."""
    opened = np.zeros(len(mesh.edges), dtype=bool)
    if params.edges is not None:
        opened[edges_named(mesh, params.edges)] = True
        at = np.zeros(mesh.vertex_count, dtype=bool)
        at[mesh.edges.ends[opened].ravel()] = True
        parted = at
    else:
        assert params.vertices is not None  # the model has checked this
        parted = vertex_mask(mesh, params.vertices)
        opened[parted[mesh.edges.ends].any(axis=1)] = True
    corners, came = _doubled(mesh, opened, parted)
    if len(came) == mesh.vertex_count:
        words = (
            "Nothing opens: there is one fan of faces round each of these vertices. Edges open "
            "where two in a row are picked, or one that ends at a boundary."
        )
        return Result(mesh, Origin.same(mesh), notes=(Note("nothing-to-do", words),))
    made = mesh.rebuilt(
        mesh.points[came],
        mesh.starts,
        corners,
        edge_data=_edge_data(mesh, corners),
    )
    touched = np.zeros(mesh.face_count, dtype=bool)
    touched[mesh.face_of_corner[corners != mesh.corners]] = True
    kept = np.where(touched, -1, np.arange(mesh.face_count))
    vertex_of = np.where(np.arange(len(came)) < mesh.vertex_count, came, -1)
    weights = np.array([mesh.vertex_count, 1])
    border = made.edges.ends[made.edges.border]
    was = mesh.edges.ends[mesh.edges.border].astype(np.int64) @ weights
    picked = border[~np.isin(np.sort(came[border], axis=1) @ weights, was)]
    return Result(
        made,
        Origin(np.arange(mesh.face_count), vertex_of, kept),
        Picked(edges=picked),
        _still_closed(mesh, made, came, opened, params),
    )


def _doubled(mesh: Mesh, opened: Bools, parted: Bools) -> tuple[Ints, Ints]:
    """The vertex of each corner (C,) once every fan of faces between opened edges has its own, and
    the old vertex (V',) of each."""
    at = np.flatnonzero(parted[mesh.corners] | parted[mesh.corners[next_in_row(mesh.starts)]])
    following = next_in_row(mesh.starts)
    # Corners of two faces side by side are in one fan at both ends of their edge.
    edges = mesh.edges.of_corner[at]
    joined = at[~opened[edges]]
    order = joined[np.argsort(mesh.edges.of_corner[joined], kind="stable")]
    same = mesh.edges.of_corner[order[1:]] == mesh.edges.of_corner[order[:-1]]
    one, other = order[:-1][same], order[1:][same]
    forward = mesh.corners[one] == mesh.corners[other]
    links = np.concatenate(
        [
            np.stack([one, np.where(forward, other, following[other])], axis=1),
            np.stack([following[one], np.where(forward, following[other], other)], axis=1),
        ]
    )
    fan = components(links, len(mesh.corners))[1]
    here = np.flatnonzero(parted[mesh.corners])
    first: dict[int, int] = {}
    number: dict[tuple[int, int], int] = {}
    corners = mesh.corners.astype(np.int64)
    came = list(range(mesh.vertex_count))
    for c in here.tolist():
        v, group = int(mesh.corners[c]), int(fan[c])
        if first.setdefault(v, group) == group:
            continue
        if (v, group) not in number:
            number[v, group] = len(came)
            came.append(v)
        corners[c] = number[v, group]
    return corners, np.array(came)


def _edge_data(mesh: Mesh, corners: Ints) -> EdgeData:
    """What the edges carry, under all numbers that their ends have now."""
    data = mesh.edge_data
    if len(data.ends) == 0:
        return data
    rows = data.rows_of(mesh.edges.ends, mesh.vertex_count)[mesh.edges.of_corner]
    return data.taken(rows, np.stack([corners, corners[next_in_row(mesh.starts)]], axis=1))


def _still_closed(
    before: Mesh, made: Mesh, came: Ints, opened: Bools, params: SplitApartParams
) -> tuple[Note, ...]:
    """What of the pick did not open."""
    if params.vertices is not None:
        alone = np.setdiff1d(params.vertices, came[before.vertex_count :])
        places = tuple(vertex(v) for v in alone[:50])
        what = count_of(len(alone), "vertex", "vertices")
    else:
        weights = np.array([before.vertex_count, 1])
        two = np.sort(came[made.edges.ends[~made.edges.border]], axis=1) @ weights
        chosen = before.edges.ends[opened & ~before.edges.border]
        closed = chosen[np.isin(chosen.astype(np.int64) @ weights, two)]
        places = tuple(edge(pair) for pair in closed[:50])
        what = count_of(len(closed), "edge")
    if not places:
        return ()
    words = f"{what} did not open: the faces there hang together all round."
    return (Note("still-closed", words, places),)


TOOL = Reshape(
    params=SplitApartParams,
    title=lambda params: "Edges split apart" if params.edges else "Vertices split apart",
    examples=(
        Example("plate", {"vertices": [6]}),
        Example("cube", {"edges": [[18, 20], [20, 26], [18, 25], [25, 26]]}),
    ),
    apply=apply,
)
