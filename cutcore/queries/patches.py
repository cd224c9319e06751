"""Patches: named groups of faces, and the groups that edges of a kind bound."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.components import components
from cutcore.geometry.vectors import units
from cutcore.mesh.mesh import Mesh

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
    inner = (pairs >= 0).all(axis=1) & faces[pairs].all(axis=1)
    if bound == "hard edges":
        inner &= ~mesh.edges.joining(mesh.hard)
    elif bound == "angle":
        inner &= bends(mesh) <= degrees
    return components(pairs[inner], mesh.face_count)[1]


def bends(mesh: Mesh) -> Floats:
    """By how many degrees the surface bends at each edge (E,); 0 where no two faces meet."""
    normals = units(mesh.face_normals())
    pairs = mesh.edges.faces
    two = (pairs >= 0).all(axis=1)
    found = np.zeros(len(pairs))
    one, other = normals[pairs[two, 0]], normals[pairs[two, 1]]
    # By the half of the chord between the normals: exact for small angles too.
    half = np.minimum(0.5 * np.linalg.norm(one - other, axis=1), 1.0)
    found[two] = np.degrees(2.0 * np.arcsin(half))
    return found


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
