"""Faces given by places, made into a mesh whose faces share vertices."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.mesh.mesh import Mesh


def merged_by_place(quads: Floats) -> Mesh:
    """A mesh from faces (F, k, 3); corners at the very same place share a vertex, numbered by first
    use."""
    places = quads.reshape(-1, 3) + 0.0
    _, first, inverse = np.unique(places, axis=0, return_index=True, return_inverse=True)
    order = np.argsort(first)
    rank = np.empty(len(order), dtype=np.int64)
    rank[order] = np.arange(len(order))
    return Mesh.of(places[np.sort(first)], rank[inverse.ravel()].reshape(len(quads), -1))
