"""How a part looks, apart from its facets: shaded by hard and soft edges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Floats, Ints
from cutcore.mesh.mesh import Mesh
from cutcore.queries.normals import fan_normals, fans_apart
from cutcore.reshape.dividing.subdivide import sharp_edges
from cutcore.reshape.dividing.triangulate import corner_places


@dataclass(frozen=True, eq=False)
class Shaded:
    """A surface to be drawn: `places` and unit `normals (n, 3)`, `triangles (t, 3)` over them, and
    the wire as pairs of places (w, 2, 3)."""

    places: Floats
    normals: Floats
    triangles: Ints
    wire: Floats


def shaded(mesh: Mesh) -> Shaded:
    """A part with normals that change only at hard edges and borders."""
    fan = fans_apart(mesh, sharp_edges(mesh))
    normals = fan_normals(mesh, fan)
    places = np.empty((len(normals), 3))
    places[fan] = mesh.points[mesh.corners]
    cells = mesh.triangles
    at = corner_places(mesh, cells.face.astype(np.int64), cells.corners)
    return Shaded(places, normals, fan[at], mesh.points[mesh.edges.ends])
