"""The frame that is drawn for a plane through a part."""

from __future__ import annotations

from itertools import product

import numpy as np

from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.plane import Plane
from cutcore.geometry.vectors import least_axis
from cutcore.mesh.mesh import Mesh

# The frame stands out round the part by this share of the part's size.
FRAME_MARGIN = 0.08


def frame_of(mesh: Mesh, plane: Plane) -> Floats:
    """The corners (4, 3) of a frame to draw for a plane: it stands out round the part."""
    middle = mesh.box.mean(axis=0)
    first = cross(least_axis(plane.normal), plane.normal)
    first = first / np.linalg.norm(first)
    centre = middle - float(plane.heights(middle[None])[0]) * plane.normal
    return frame_round(mesh, centre, first, cross(plane.normal, first))


def frame_round(mesh: Mesh, centre: Floats, first: Floats, second: Floats) -> Floats:
    """The corners (4, 3) of a frame about a centre (3,), with its sides along two unit directions
    (3,)."""
    corners = np.array(list(product(*mesh.box.T.tolist()))) - centre
    wide, long = (
        (1 + FRAME_MARGIN) * max(float(np.abs(corners @ along).max()), 0.05 * mesh.diagonal) * along
        for along in (first, second)
    )
    return np.array(
        [centre - wide - long, centre + wide - long, centre + wide + long, centre - wide + long]
    )
