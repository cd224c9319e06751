"""The two sides of a mesh that was cut along a plane, and what is left open where one of them goes
or moves."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.geometry.plane import Plane
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then
from cutcore.notes import Note
from cutcore.queries.section import Section, section, side_of_vertices


@dataclass(frozen=True, eq=False)
class Sides:
    """The sides of a cut mesh: `vertex (V,)` and `face (F,)` are -1, 0 (in the plane) or +1."""

    plane: Plane
    vertex: Ints
    face: Ints

    @staticmethod
    def of(mesh: Mesh, cut: Result, plane: Plane, weld: float) -> Sides:
        """The sides of what `cut` made of `mesh`; vertices that the section took to lie in the
        plane do."""
        return Sides.by_section(section(mesh, plane, weld=weld), cut, plane, weld)

    @staticmethod
    def by_section(found: Section, cut: Result, plane: Plane, weld: float) -> Sides:
        """The sides of what `cut` made of a mesh along its section `found`."""
        after = cut.mesh
        vertex = side_of_vertices(after, plane, weld=weld)
        old = cut.origin.vertex
        vertex[(old >= 0) & (found.side[np.maximum(old, 0)] == 0)] = 0
        corner = vertex[after.corners]
        low, high = (
            np.minimum.reduceat(corner, after.starts[:-1]),
            np.maximum.reduceat(corner, after.starts[:-1]),
        )
        return Sides(plane, vertex, np.where(high > 0, 1, np.where(low < 0, -1, 0)))


def opened_edges(before: Mesh, after: Mesh, origin: Ints) -> Ints:
    """The border edges (n, 2) of a mesh that were none in the mesh it comes from; `origin` names
    its vertices there."""
    now = after.edges.ends[after.edges.border].astype(np.int64)
    if not before.edges.border.any():
        return now
    count = before.vertex_count
    was = before.edges.ends[before.edges.border].astype(np.int64) @ np.array([count, 1])
    return now[~np.isin(np.sort(origin[now], axis=1) @ np.array([count, 1]), was)]


def with_caps(cut: Result, mesh: Mesh, origin: Origin, added: int, notes: list[Note]) -> Result:
    """The result of cutting and then changing; the last faces are caps, which come from no face and
    are picked."""
    whole = Origin(np.concatenate([origin.face, np.full(added, -1)]), origin.vertex, origin.kept)
    picked = Picked(faces=np.arange(mesh.face_count - added, mesh.face_count))
    return Result(mesh, then(cut.origin, whole), picked, (*cut.notes, *notes))
