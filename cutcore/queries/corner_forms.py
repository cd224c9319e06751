"""How far the corners of faces are from square."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, Ints, cross, next_in_row, row_positions
from cutcore.geometry.vectors import units
from cutcore.mesh.mesh import Mesh, newell


def corner_forms(mesh: Mesh, faces: Ints) -> tuple[Floats, Floats, Ints]:
    """For the corners (c,) of some faces, in ragged rows: the determinant of the unit edges that
    leave each, seen along the face's normal, the angle inside in degrees (0..360), and the row
    starts.

    The least determinant of a quad is its scaled Jacobian (P. M. Knupp, Achieving finite element
    mesh quality via optimization of the Jacobian matrix norm, International Journal for Numerical
    Methods in Engineering 48, 2000): 1 for a rectangle, nothing or less if it is folded."""
    at, starts = row_positions(mesh.starts, faces)
    if len(faces) == 0:
        return np.zeros(0), np.zeros(0), starts
    places = mesh.points[mesh.corners[at]]
    following = next_in_row(starts)
    ahead = units(places[following] - places)
    back = np.empty_like(ahead)
    back[following] = -ahead
    normal = np.repeat(units(newell(places, starts)), np.diff(starts), axis=0)
    sine = np.einsum("ij,ij->i", cross(ahead, back), normal)
    cosine = np.einsum("ij,ij->i", ahead, back)
    return sine, np.degrees(np.arctan2(sine, cosine)) % 360.0, starts


def scaled_jacobians(mesh: Mesh, quads: Ints) -> Floats:
    """The scaled Jacobian (n,) of some quads."""
    sine, _, starts = corner_forms(mesh, quads)
    return np.minimum.reduceat(sine, starts[:-1]) if len(quads) else sine
