"""Thicken: an open skin gets a back, and walls along its border."""

from __future__ import annotations

from typing import Literal

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import starts_of
from cutcore.mesh.changed_edges import edges_of_picked_faces
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.params import Real
from cutcore.reshape.building.extrude import by_normals
from cutcore.reshape.building.walls import Region
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import length_words


class ThickenParams(Reshaping):
    """How thick the part becomes: outwards from its faces, inwards if negative."""

    tool: Literal["thicken"] = "thicken"
    distance: Real


def apply(mesh: Mesh, params: ThickenParams) -> Result:
    """The part as its own back, and another skin at that distance from all its faces before it; or
    behind it, if the distance is negative. A border becomes a wall of quads. What is closed gets a
    second shell.

    Raises StepError for a distance of 0 and for edges with more than two faces."""
    if params.distance == 0.0:
        raise StepError("a distance of 0 adds nothing", where="distance")
    return thickened(mesh, params.distance)


def thickened(mesh: Mesh, distance: float) -> Result:
    """The mesh with a second skin, as `apply` makes it. The faces there were keep their numbers;
    those of the other skin come after them, turned round, then the walls."""
    if mesh.edges.crowded:
        raise StepError("more than two faces meet at an edge: it has no one side")
    region = Region.of(mesh, np.ones(mesh.face_count, dtype=bool))
    count, corners = mesh.vertex_count, len(mesh.corners)
    shift = np.zeros((count, 3))
    shift[np.unique(region.vertex)] = distance * by_normals(region)
    rim = region.corner[region.rim]
    low, high = region.vertex[region.rim], region.ahead[region.rim]
    # The other skin's corners run backwards.
    owner = mesh.face_of_corner
    back = mesh.starts[owner] + mesh.starts[owner + 1] - 1 - np.arange(corners)
    walls = np.stack([high, low, low + count, high + count], axis=1)
    ahead = np.arange(corners) + 1
    ahead[mesh.starts[1:] - 1] = mesh.starts[:-1]
    walls_from = np.stack([ahead[rim], rim, rim, ahead[rim]], axis=1)
    other = mesh.corners[back] + count
    # Before the faces, the other skin looks out as they did, and they are turned round.
    first, second = (mesh.corners, other) if distance < 0 else (mesh.corners[back], other[back])
    first_from, second_from = (
        (np.arange(corners), back) if distance < 0 else (back, np.arange(corners))
    )
    if distance > 0:
        walls, walls_from = walls[:, ::-1], walls_from[:, ::-1]
    sizes = np.concatenate([mesh.sizes, mesh.sizes, np.full(len(walls), 4)])
    made = mesh.rebuilt(
        np.concatenate([mesh.points, mesh.points + shift]),
        starts_of(sizes),
        np.concatenate([first, second, walls.ravel()]),
        edge_data=mesh.edge_data.with_more(mesh.edge_data.renumbered(np.arange(count) + count)),
        further_from=np.concatenate([np.arange(mesh.face_count), owner[rim]]),
        corners_from=np.concatenate([first_from, second_from, walls_from.ravel()]),
    )
    faces = np.arange(mesh.face_count)
    origin = Origin(
        np.concatenate([faces, faces, owner[rim]]),
        np.concatenate([np.arange(count), np.full(count, -1)]),
        faces if distance < 0 else np.full(mesh.face_count, -1),
    )
    return Result(made, origin, Picked(faces=np.arange(mesh.face_count, made.face_count)))


TOOL = Reshape(
    params=ThickenParams,
    title=lambda params: f"Thickened by {length_words(abs(params.distance))}",
    examples=(
        Example("plate", {"distance": -0.25}),
        Example("triangles", {"distance": 0.25}),
    ),
    moves=edges_of_picked_faces,
    apply=apply,
    turns=True,
)
