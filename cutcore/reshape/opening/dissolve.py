"""Dissolve: take edges away by joining the faces on either side; or join picked faces into as few
as can be."""

from __future__ import annotations

from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from cutcore.mesh.joined_faces import STRAIGHT_WITHIN, join_over
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.notes import Element, Note, edge, face
from cutcore.queries.named_elements import (
    Edges,
    Faces,
    Vertices,
    edges_named,
    face_mask,
    vertex_mask,
)
from cutcore.reshape.left_vertices import StraightWithin, vertices_stay
from cutcore.tool import Example, Reshape, Reshaping, one_kind


class DissolveParams(Reshaping):
    """Either `edges` to take away, or `faces` whose inside edges all go, or `vertices` with all
    their edges. Vertices left with two edges that run on straight within so many degrees go too,
    unless `keep_vertices`."""

    tool: Literal["dissolve"] = "dissolve"
    edges: Edges | None = None
    faces: Faces | None = None
    vertices: Vertices | None = None
    keep_vertices: bool = False
    straight_within: StraightWithin = STRAIGHT_WITHIN

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        one_kind(
            "a dissolve needs either edges, faces or vertices",
            self.edges,
            self.faces,
            self.vertices,
        )
        return self


def apply(mesh: Mesh, params: DissolveParams) -> Result:
    """Edges that can't go (borders, more than two faces, a join that is no simple face) stay, with
    a note."""
    if params.edges is not None:
        wanted = edges_named(mesh, params.edges)
    elif params.vertices is not None:
        gone = vertex_mask(mesh, params.vertices)
        wanted = np.flatnonzero(gone[mesh.edges.ends].any(axis=1))
    else:
        assert params.faces is not None  # the model has checked this
        inside = face_mask(mesh, params.faces)
        pairs = mesh.edges.faces
        wanted = np.flatnonzero((pairs >= 0).all(axis=1) & inside[pairs].all(axis=1))
    stuck: list[Element] = []
    manifold = []
    for e in wanted.tolist():
        two = mesh.edges.faces_at(e)
        if len(two) == 2 and two[0] != two[1]:
            manifold.append(e)
        else:
            stuck.append(edge(mesh.edges.ends[e]))
    straight = None if params.keep_vertices else params.straight_within
    joined = join_over(mesh, np.array(manifold, dtype=np.int64), straight_within=straight)
    stuck += [face(f) for f in joined.stuck]
    notes = [*vertices_stay(joined)]
    if stuck:
        words = "Some edges stay: they lie on a boundary, at more than two faces, or the joined face would not be simple."
        notes.append(Note("not-dissolved", words, tuple(stuck[:50])))
    if joined.mesh is mesh:
        return Result(
            mesh, Origin.same(mesh), notes=(*notes, Note("nothing-to-do", "Nothing was dissolved."))
        )
    return Result(joined.mesh, joined.origin, Picked(faces=joined.faces), tuple(notes))


TOOL = Reshape(
    params=DissolveParams,
    title=lambda params: "Dissolve",
    examples=(
        Example("plate", {"faces": [0, 1, 3, 4]}),
        Example("cube", {"edges": [[18, 20]], "keep_vertices": True}),
        Example("plate", {"vertices": [6]}),
    ),
    apply=apply,
)
