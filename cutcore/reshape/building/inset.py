"""Inset: draw the border of picked faces inwards by an even distance, and leave a strip of quads
round them."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.tolerances import ROUNDING
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.notes import edge
from cutcore.params import Real
from cutcore.queries.named_elements import Faces, face_mask
from cutcore.reshape.building.walls import Region, inward, once_round, walled
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of, length_words

# Two sides of a border turn back on each other if the cosine between them is within this of -1.
TURNS_BACK = 1e-6


class InsetParams(Reshaping):
    """How wide the strip is, the same all round."""

    tool: Literal["inset"] = "inset"
    faces: Faces
    distance: Annotated[Real, Field(gt=0, description="in the part's units")]


def apply(mesh: Mesh, params: InsetParams) -> Result:
    """Area is kept on flat faces; topology always.

    A corner between edges with the inward unit vectors a and b goes by d (a + b) / (1 + a · b): its
    edges then run at the distance d from where they were. Raises StepError, with the widest strip
    there is room for, where an edge would shrink to nothing or a face turn over, and for faces
    without a border."""
    region = Region.of(mesh, face_mask(mesh, params.faces))
    if not region.rim.any():
        raise StepError("the picked faces have no boundary to draw in", where="faces")
    once_round(region)
    vertex, before, after, along = inward(region)
    dot = np.einsum("ij,ij->i", before, after)
    if (dot <= -1 + TURNS_BACK).any():
        raise StepError("the boundary of the picked faces turns back on itself", where="faces")
    reach = (before + after) / (1 + dot)[:, None]
    at = np.full(mesh.vertex_count, -1)
    at[vertex] = np.arange(len(vertex))
    ahead = at[region.ahead[region.rim]]
    length = np.linalg.norm(mesh.points[vertex[ahead]] - mesh.points[vertex], axis=1)
    # Each edge grows shorter by this much for a unit of width.
    shrink = np.einsum("ij,ij->i", reach - reach[ahead], along)
    room = np.where(shrink > ROUNDING, length / np.maximum(shrink, NOT_ZERO), np.inf)
    tight = int(np.argmin(room))
    if params.distance >= room[tight]:
        pair = edge(np.sort([vertex[tight], vertex[ahead[tight]]]))
        raise StepError(
            f"there is room for a strip of less than {room[tight]:.6g} only",
            where="distance",
            elements=(pair,),
        )
    shift = np.zeros((mesh.vertex_count, 3))
    shift[vertex] = params.distance * reach
    result = walled(region, shift, same_surface=True)
    turned = (
        np.einsum(
            "ij,ij->i", mesh.face_normals(region.faces), result.mesh.face_normals(region.faces)
        )
        <= 0
    )
    if turned.any():
        raise StepError("a picked face is too narrow for a strip of that width", where="distance")
    return result


TOOL = Reshape(
    params=InsetParams,
    title=lambda params: (
        f"{count_of(len(params.faces), 'face')} inset by {length_words(params.distance)}"
    ),
    examples=(Example("cube", {"faces": [31], "distance": 0.05}),),
    moves=edges_of_moved_vertices,
    apply=apply,
)
