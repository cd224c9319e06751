"""A part of a scene: its name, its mesh, and where it stands."""

from __future__ import annotations

from dataclasses import dataclass

from cutcore.geometry.placement import Placement
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.submesh import moved


@dataclass(frozen=True, eq=False)
class ScenePart:
    """A mesh by name, and where it stands."""

    name: str
    mesh: Mesh
    placement: Placement


def moved_to(part: ScenePart) -> Mesh:
    """The mesh of a part with its place made its own."""
    if part.placement.at_home:
        return part.mesh
    return moved(part.mesh, part.placement.places(part.mesh.points))
