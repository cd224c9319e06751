"""How much a surface bends at its edges, and edges made hard by it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.mesh.creases import strengths_of, with_hard
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result


def bends(mesh: Mesh) -> Floats:
    """By how many degrees (E,) the surface bends at each edge; 0 at borders, and where more than two
    faces meet."""
    normals = mesh.face_normals()
    pairs = mesh.edges.faces
    two = pairs[:, 1] >= 0
    two[list(mesh.edges.crowded)] = False
    found = np.zeros(len(pairs))
    one, other = normals[pairs[two, 0]], normals[pairs[two, 1]]
    across = np.linalg.norm(np.cross(one, other), axis=1)
    found[two] = np.degrees(np.arctan2(across, np.einsum("ij,ij->i", one, other)))
    return found


def hardened(result: Result, degrees: float | None) -> Result:
    """A result whose new edges are hard where the surface bends by more than so many degrees; none
    are for None."""
    mesh = result.mesh
    if degrees is None or len(result.picked.edges) == 0:
        return result
    fresh = mesh.edges.joining(result.picked.edges) & (bends(mesh) > degrees)
    if not fresh.any():
        return result
    strength = np.where(mesh.edges.joining(mesh.hard), strengths_of(mesh), 0.0)
    strength[fresh] = 1.0
    return replace(result, mesh=with_hard(mesh, strength > 0, strength))
