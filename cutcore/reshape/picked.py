"""Steps on the vertices of a pick."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.mesh.mesh import Mesh
from cutcore.queries.measure import vertices_of
from cutcore.queries.named_elements import (
    Edges,
    Faces,
    Vertices,
    edges_named,
    face_mask,
    vertex_mask,
)
from cutcore.tool import Reshaping


class OnPick(Reshaping):
    """What the vertices of the named elements are given; those of the whole part, if none are
    named."""

    vertices: Vertices | None = None
    edges: Edges | None = None
    faces: Faces | None = None

    @property
    def whole(self) -> bool:
        """Whether the whole part is meant."""
        return not (self.vertices or self.edges or self.faces)

    def chosen(self, mesh: Mesh) -> Ints:
        """The vertices (n,), ascending. Raises StepError for an element that is not there."""
        none: Ints = np.zeros(0, dtype=np.int64)
        vertices = (
            none if self.vertices is None else np.flatnonzero(vertex_mask(mesh, self.vertices))
        )
        edges = none if self.edges is None else edges_named(mesh, self.edges)
        faces = none if self.faces is None else np.flatnonzero(face_mask(mesh, self.faces))
        return vertices_of(mesh, vertices, edges, faces)
