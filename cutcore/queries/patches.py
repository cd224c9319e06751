"""Patches: named groups of faces, and the groups that edges of a kind bound."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Ints
from cutcore.geometry.components import components
from cutcore.mesh.mesh import Mesh
from cutcore.queries.bends import bends

# What bounds a group: hard edges, edges at which the surface bends by more than an angle, nothing
# but the end of the surface.
Bound = Literal["hard edges", "angle", "connected"]


@dataclass(frozen=True)
class Patch:
    """A patch by name: how many faces it has, their area, the first of them, and a place on it."""

    name: str
    faces: int
    area: float
    first: int
    at: tuple[float, float, float]


def patches_of(mesh: Mesh) -> list[Patch]:
    """All patches of a mesh, in the order of its names."""
    if not mesh.patches:
        return []
    area = np.linalg.norm(mesh.face_normals(), axis=1)
    middle = np.add.reduceat(mesh.points[mesh.corners], mesh.starts[:-1]) / mesh.sizes[:, None]
    found = []
    for k, name in enumerate(mesh.patches):
        faces = np.flatnonzero(mesh.patch == k)
        if len(faces) == 0:
            continue
        share = area[faces] / (area[faces].sum() or 1.0)
        centre = share @ middle[faces] if share.any() else middle[faces].mean(axis=0)
        # A patch may be bent round its centre: a face of it is named instead.
        near = middle[faces[int(np.argmin(((middle[faces] - centre) ** 2).sum(axis=1)))]]
        x, y, z = near.tolist()
        found.append(Patch(name, len(faces), float(area[faces].sum()), int(faces[0]), (x, y, z)))
    return found


def patch_named(mesh: Mesh, name: str, *, where: str) -> int:
    """The number of a patch. Raises StepError if there is none of that name."""
    if name not in mesh.patches:
        raise StepError(f"there is no patch {name!r}", where=where)
    return mesh.patches.index(name)


def groups_of_faces(mesh: Mesh, faces: Bools, bound: Bound, degrees: float) -> Ints:
    """The group (F,) of each face that edges of a kind bound, among some faces (F,)."""
    pairs = mesh.edges.faces
    inner: Bools = np.logical_and.reduce((pairs >= 0) & faces[pairs], axis=1)
    crowded = list(mesh.edges.crowded)
    if bound == "connected":
        links = [pairs[inner], *(_in_turn(mesh.edges.crowded[e], faces) for e in crowded)]
        return components(np.concatenate(links), mesh.face_count)[1]
    # Of three faces at an edge no two go on into each other.
    inner[crowded] = False
    if bound == "hard edges":
        inner &= ~mesh.edges.joining(mesh.hard)
    else:
        inner &= bends(mesh) <= degrees
    return components(pairs[inner], mesh.face_count)[1]


def _in_turn(at_edge: tuple[int, ...], faces: Bools) -> Ints:
    """The faces at one edge that are among some (F,), each with the next (n, 2)."""
    found = [f for f in at_edge if faces[f]]
    return np.stack([found[:-1], found[1:]], axis=1).astype(np.int64).reshape(-1, 2)


def fresh_names(taken: Sequence[str], stem: str, count: int) -> list[str]:
    """So many names after a stem, numbered on from those that are taken.

    >>> fresh_names(["Side 1", "Top"], "Side", 2)
    ['Side 2', 'Side 3']
    """
    found: list[str] = []
    number = 0
    while len(found) < count:
        number += 1
        if f"{stem} {number}" not in taken:
            found.append(f"{stem} {number}")
    return found
