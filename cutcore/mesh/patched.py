"""Faces put into patches: nothing else of the mesh changes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result


def with_patches(mesh: Mesh, patch: Ints, names: tuple[str, ...]) -> Result:
    """The mesh with its faces in patches (F,), numbers of `names` or -1; names without faces go.
    The faces that came into another patch are picked."""
    used = np.unique(patch[patch >= 0])
    number = np.full(len(names) + 1, -1, dtype=np.int64)
    number[used] = np.arange(len(used))
    kept_names = tuple(names[k] for k in used.tolist())
    told = np.array(["", *mesh.patches])[mesh.patch + 1]
    changed = told != np.array(["", *names])[patch + 1]
    if not changed.any():
        return Result(mesh, Origin.same(mesh))
    made = replace(mesh, patch=number[patch], patches=kept_names).with_edges(mesh.edges)
    origin = Origin.same(mesh)
    kept = origin.kept.copy()
    kept[changed] = -1
    return Result(made, replace(origin, kept=kept), Picked(faces=np.flatnonzero(changed)))
