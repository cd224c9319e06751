"""What an operation gives back: a new mesh, and where everything in it came from.

Laws
----
origin.face[new]     the old face that `new` lies in, or -1 for a face with no ancestor
origin.vertex[new]   the old vertex, or -1 for a new one
origin.kept[old]     the new index of an old face that was not touched, or -1;
                     where kept[f] >= 0: origin.face[kept[f]] == f
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Note


@dataclass(frozen=True, eq=False)
class Origin:
    face: Ints
    vertex: Ints
    kept: Ints

    def keeps_numbers(self, before: Mesh) -> bool:
        """Whether all vertices and all untouched faces of the mesh before have the numbers they
        had."""
        count = before.vertex_count
        if len(self.vertex) < count or (self.vertex[:count] != np.arange(count)).any():
            return False
        return bool(((self.kept == np.arange(before.face_count)) | (self.kept < 0)).all())

    def but_moved(self, before: Mesh, after: Mesh) -> Origin:
        """This map where faces that are told to be kept are not, if a corner of theirs moved between
        the two meshes, whose faces and vertices have the same numbers where both have them."""
        moved = np.zeros(after.vertex_count, dtype=bool)
        count = min(before.vertex_count, after.vertex_count)
        moved[:count] = (before.points[:count] != after.points[:count]).any(axis=1)
        touched = np.logical_or.reduceat(moved[after.corners], after.starts[:-1])
        kept = np.where((self.kept >= 0) & ~touched[np.maximum(self.kept, 0)], self.kept, -1)
        return Origin(self.face, self.vertex, kept)

    @staticmethod
    def same(mesh: Mesh) -> Origin:
        """The origin map of an operation that changed nothing."""
        faces = np.arange(mesh.face_count)
        return Origin(faces, np.arange(mesh.vertex_count), faces)


@dataclass(frozen=True, eq=False)
class Picked:
    """What is picked afterwards: faces, and new edges as vertex pairs (n, 2), lower vertex
    first."""

    faces: Ints = field(default_factory=lambda: np.zeros(0, np.int64))
    edges: Ints = field(default_factory=lambda: np.zeros((0, 2), np.int64))


@dataclass(frozen=True, eq=False)
class Result:
    mesh: Mesh
    origin: Origin
    picked: Picked = field(default_factory=Picked)
    notes: tuple[Note, ...] = ()
    # Parts that were taken off.
    apart: tuple[Mesh, ...] = ()
    # The edges that turning faces into quads added, as vertex pairs (n, 2).
    mended: Ints = field(default_factory=lambda: np.zeros((0, 2), np.int64))


def moved_vertices(before: Mesh, after: Mesh) -> Ints:
    """The vertices of a mesh, ascending, that lie elsewhere in one made from it, under the number
    they had. Compared as they are stored: -0.0 is elsewhere than 0.0, so that what is told apart
    here is told apart everywhere."""
    count = min(before.vertex_count, after.vertex_count)
    if before.points is after.points:
        return np.zeros(0, dtype=np.int64)
    then, now = (mesh.points[:count].view(np.int64) for mesh in (before, after))
    return np.unique(np.flatnonzero(then.ravel() != now.ravel()) // 3)
