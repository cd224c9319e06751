"""The limit of a cut: the faces it may touch."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools
from cutcore.mesh.mesh import Mesh


def limit_mask(mesh: Mesh, limit: Sequence[int] | None) -> Bools | None:
    """Which faces (F,) a cut may touch, or None for the whole part.

    Raises StepError for an empty limit, which would forbid everything, and for faces that are not
    there."""
    if limit is None:
        return None
    if len(limit) == 0:
        raise StepError(
            "an empty list of faces forbids every cut; null lifts the limit", where="limit"
        )
    faces = np.asarray(limit, dtype=np.int64)
    outside = faces[(faces < 0) | (faces >= mesh.face_count)]
    if len(outside):
        raise StepError(f"there are {mesh.face_count} faces, got face {outside[0]}", where="limit")
    mask = np.zeros(mesh.face_count, dtype=bool)
    mask[faces] = True
    return mask
