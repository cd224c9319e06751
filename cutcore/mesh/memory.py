"""How much memory a mesh holds on to, with everything that was derived from it so far."""

from __future__ import annotations

from typing import Any

import numpy as np
from scipy.sparse import csr_matrix
from scipy.spatial import cKDTree

from cutcore.mesh.mesh import Mesh

# What one entry of a dictionary takes, roughly, with its key.
_ENTRY_BYTES = 100
# What a search tree of places takes for each of them beside the places, roughly.
_TREE_BYTES = 40


def bytes_held(mesh: Mesh) -> int:
    """The bytes of a mesh's arrays, tables, triangles and search trees. Arrays shared with another
    mesh count in full."""
    return _held(mesh, set())


def _held(value: Any, seen: set[int]) -> int:
    if id(value) in seen:
        return 0
    seen.add(id(value))
    match value:
        case np.ndarray():
            return value.nbytes
        case csr_matrix():
            return value.data.nbytes + value.indices.nbytes + value.indptr.nbytes
        case cKDTree():
            return value.data.nbytes + _TREE_BYTES * value.n
        case dict():
            return _ENTRY_BYTES * len(value) + sum(
                _held(part, seen) for part in list(value.values())
            )
        case list() | tuple():
            return sum(_held(part, seen) for part in tuple(value))
    aside = int(getattr(value, "bytes_aside", 0))
    # As it is now: meanwhile another thread may derive something more from the same mesh.
    parts = list(getattr(value, "__dict__", {}).values())
    return aside + sum(_held(part, seen) for part in parts)
