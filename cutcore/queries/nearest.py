"""The nearest places of a surface, or of some lines."""

from __future__ import annotations

from cutcore.geometry.arrays import Floats, Ints, row_positions
from cutcore.kernels.nearest import boxes_over, in_space_order, nearest_of
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.triangles import triangulate

# Triangles to a leaf of the tree they are found through.
LEAF = 4


class Surface:
    """Triangles (n, 3, 3), at least one, to find the nearest places of."""

    def __init__(self, corners: Floats) -> None:
        self._corners = corners[in_space_order(corners.mean(axis=1))]
        self._boxes = boxes_over(self._corners.min(axis=1), self._corners.max(axis=1), LEAF)

    @staticmethod
    def of_faces(mesh: Mesh, faces: Ints) -> Surface:
        """The surface of some faces (n,) of a mesh."""
        at, starts = row_positions(mesh.starts, faces)
        cells = triangulate(mesh.points, starts, mesh.corners[at])
        return Surface(mesh.points[cells.corners])

    @staticmethod
    def of_lines(segments: Floats) -> Surface:
        """Some segments (n, 2, 3), as triangles without area."""
        return Surface(segments[:, [0, 1, 1]])

    def nearest(self, places: Floats) -> Floats:
        """The nearest place of the surface to each of some places (n, 3)."""
        return nearest_of(self._corners, self._boxes, LEAF, places)
