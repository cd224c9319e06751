"""Fill: close open borders with one face, a fan, or an even grid of quads."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints
from cutcore.mesh.changed_edges import edges_of_picked_faces
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import with_faces, with_points
from cutcore.params import Index
from cutcore.quads.grid import grid_in
from cutcore.queries.border_loops import border_loops
from cutcore.queries.named_elements import Edges, edges_named
from cutcore.tool import Example, Reshape, Reshaping


class FillParams(Reshaping):
    """The borders through `edges`, or through `corners`, all of the part if none are named, each
    closed by one face, by
    triangles round a vertex in the middle, or by a grid of quads.

    A grid has four `corners`; the sides across from each other have as many edges. Not named, they
    are chosen where the border turns most."""

    tool: Literal["fill"] = "fill"
    edges: Edges | None = None
    by: Literal["one face", "fan", "grid"] = "one face"
    corners: Annotated[tuple[Index, ...], Field(min_length=4, max_length=4)] | None = None


def apply(mesh: Mesh, params: FillParams) -> Result:
    """Raises StepError for edges that are no border, or a border that takes no grid."""
    loops = _borders(mesh, params)
    if not loops:
        raise StepError("there is no open boundary to fill", where="edges")
    points: list[Floats] = []
    faces: list[Ints] = []
    count = mesh.vertex_count
    for loop in loops:
        if params.by == "one face":
            faces.append(loop)
        elif params.by == "fan":
            points.append(mesh.points[loop].mean(axis=0)[None])
            ahead = np.roll(loop, -1)
            faces += [np.array([a, b, count]) for a, b in zip(loop, ahead, strict=True)]
            count += 1
        else:
            corners = None if params.corners is None else _places_of(loop, params.corners)
            inner, quads = grid_in(mesh.points[loop], corners)
            name = np.concatenate([loop, count + np.arange(len(inner))])
            points.append(inner)
            faces += [name[quad] for quad in quads]
            count += len(inner)
    made = with_faces(with_points(mesh, np.concatenate([np.zeros((0, 3)), *points])), faces)
    fresh = np.arange(mesh.face_count, made.face_count)
    vertex = np.concatenate([np.arange(mesh.vertex_count), np.full(count - mesh.vertex_count, -1)])
    face = np.concatenate([np.arange(mesh.face_count), np.full(len(fresh), -1)])
    return Result(made, Origin(face, vertex, np.arange(mesh.face_count)), Picked(faces=fresh))


def _borders(mesh: Mesh, params: FillParams) -> list[Ints]:
    """The borders to fill, whole, each as a loop in the direction that a face in it has."""
    every = border_loops(mesh, mesh.edges.ends[mesh.edges.border])
    if params.edges is None:
        named = params.corners
        return every if named is None else [loop for loop in every if np.isin(loop, named).any()]
    edges = edges_named(mesh, params.edges)
    inner = edges[~mesh.edges.border[edges]]
    if len(inner):
        a, b = mesh.edges.ends[inner[0]].tolist()
        raise StepError(f"the edge {a}-{b} is no open boundary", where="edges")
    pairs = {tuple(sorted(pair)) for pair in mesh.edges.ends[edges].tolist()}
    return [
        loop
        for loop in every
        if any(
            tuple(sorted(pair)) in pairs
            for pair in zip(loop.tolist(), np.roll(loop, -1).tolist(), strict=True)
        )
    ]


def _places_of(loop: Ints, named: tuple[int, ...]) -> list[int]:
    found = [int(k) for k in np.flatnonzero(np.isin(loop, named))]
    if len(found) != 4:
        raise StepError("a grid's corners are four vertices of its boundary", where="corners")
    return found


TOOL = Reshape(
    params=FillParams,
    title=lambda params: f"Borders filled: {params.by}",
    examples=(
        Example("plate", {"by": "grid"}),
        Example("plate", {"by": "fan", "edges": [[0, 1]]}),
        Example("plate", {}),
    ),
    moves=edges_of_picked_faces,
    apply=apply,
)
