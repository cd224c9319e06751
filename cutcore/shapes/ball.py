"""A sphere from a box whose sides are divided and blown up: quads throughout, with eight poles of
three."""

from __future__ import annotations

import numpy as np

from cutcore.mesh.mesh import Mesh
from cutcore.shapes.box import box


def ball(radius: float, divisions: int) -> Mesh:
    """A closed sphere about the origin; each side of the box is divided so many times along both of
    its edges.

    The divisions are even in angle (each coordinate is the tangent of its share of 90 degrees), so
    that quads at the corners of the box are not much smaller than those at the middle of its sides.
    """
    cube = box(2.0, 2.0, 2.0, (divisions, divisions, divisions))
    angled = np.tan(cube.points * (np.pi / 4))
    return Mesh(
        radius * angled / np.linalg.norm(angled, axis=1, keepdims=True), cube.starts, cube.corners
    )
