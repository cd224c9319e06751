"""Join triangles: pairs of triangles become quads."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.mesh.joined_faces import join_over
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note
from cutcore.params import Real
from cutcore.quads.joining import edges_to_join
from cutcore.queries.named_elements import Faces, chosen_faces
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of


class JoinTrianglesParams(Reshaping):
    """The triangles to join in pairs, all if none are named, where they lean against each other by
    no more than `within` degrees."""

    tool: Literal["join triangles"] = "join triangles"
    faces: Faces | None = None
    within: Annotated[Real, Field(ge=0, le=180)] = 25.0


def apply(mesh: Mesh, params: JoinTrianglesParams) -> Result:
    """The best quads first. Edges that are hard, or between materials, patches or texture islands,
    stay; triangles left alone stay triangles, with a note of how many."""
    odd = chosen_faces(mesh, params.faces) & (mesh.sizes == 3)
    kept = np.zeros(len(mesh.edges), dtype=bool)
    edges = edges_to_join(mesh, odd, kept, degrees=params.within, weld=weld_of(mesh))
    joined = join_over(mesh, edges, straight_within=None)
    if joined.mesh is mesh:
        nothing = Note("nothing-to-do", "No two of these triangles make a quad.")
        return Result(mesh, Origin.same(mesh), notes=(nothing,))
    left = int(odd.sum()) - 2 * len(joined.faces)
    words = f"{count_of(left, 'triangle')} found no partner."
    notes = (Note("triangles-left", words),) if left else ()
    return Result(joined.mesh, joined.origin, Picked(faces=joined.faces), notes)


TOOL = Reshape(
    params=JoinTrianglesParams,
    title=lambda params: "Triangles joined to quads",
    examples=(Example("triangles", {}),),
    apply=apply,
)
