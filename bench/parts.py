"""The parts that are measured: a torus of quads, and a closed form with poles."""

from __future__ import annotations

from collections.abc import Callable
from math import sqrt

import numpy as np

from cutcore import Mesh
from cutcore.shapes.box import box
from cutcore.shapes.torus import torus

SIZES = {"10 k": 10_000, "64 k": 64_000, "256 k": 256_000}


def torus_of(quads: int) -> Mesh:
    """A torus of about so many quads, 2.5 times as many round it as across; 800 × 320 at 256 k."""
    around = round(sqrt(quads * 2.5))
    return torus(1.0, 0.4, around, round(quads / around))


def rounded_box_of(quads: int) -> Mesh:
    """A box of about so many quads, its vertices pushed out onto a rounded form; its eight corners
    are poles."""
    divisions = round(sqrt(quads / 6))
    cube = box(2, 2, 2, (divisions, divisions, divisions))
    reach = np.linalg.norm(cube.points, axis=1, keepdims=True)
    return Mesh(cube.points * (0.5 + 0.5 / reach), cube.starts, cube.corners)


PARTS: dict[str, Callable[[int], Mesh]] = {"torus": torus_of, "rounded box": rounded_box_of}
