"""What helps an outline fit its surroundings: another number of points, a collar round it."""

from __future__ import annotations

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.chart import chart_of
from cutcore.geometry.polygons import inside_loop
from cutcore.geometry.vectors import units
from cutcore.mesh.mesh import newell

# A corner of a collar stands out at most this many times its distance.
MITRE = 4.0


def with_count(places: Floats, count: int) -> Floats:
    """A closed curve (n, 3) with `count` points: the one that matters least goes first, the longest
    side is halved first.

    What a point matters is the area of the triangle with its neighbours (M. Visvalingam and J. D.
    Whyatt, Line generalisation by repeated elimination of points, The Cartographic Journal 30,
    1993)."""
    points = list(places)
    while len(points) > count:
        loop = np.array(points)
        before, after = np.roll(loop, 1, axis=0), np.roll(loop, -1, axis=0)
        points.pop(int(np.argmin(np.linalg.norm(cross(loop - before, after - loop), axis=1))))
    while len(points) < count:
        loop = np.array(points)
        after = np.roll(loop, -1, axis=0)
        longest = int(np.argmax(np.linalg.norm(after - loop, axis=1)))
        points.insert(longest + 1, 0.5 * (loop[longest] + after[longest]))
    return np.array(points)


def collars(loops: list[Floats], distance: float) -> list[Floats]:
    """A loop at a distance beside each closed curve (n, 3), point for point: outside a shape,
    inside a hole of one.

    A corner goes by d (a + b) / (1 + a · b), a and b the unit normals of its sides, cut at MITRE
    times the distance. Raises StepError for a curve without area."""
    if not loops:
        return []
    normals = [newell(loop, np.array([0, len(loop)]))[0] for loop in loops]
    sizes = [float(np.linalg.norm(normal)) for normal in normals]
    if min(sizes) == 0.0:
        raise StepError("a shape without area has no collar", where="collar")
    # Nested shapes are told apart on the sheet of the largest.
    chart = chart_of(loops[int(np.argmax(sizes))])
    flat = [chart.flatten(loop) for loop in loops]
    made = []
    for k, loop in enumerate(loops):
        depth = sum(bool(inside_loop(flat[j], flat[k][:1])[0]) for j in range(len(loops)) if j != k)
        out = distance if depth % 2 == 0 else -distance
        ahead = np.roll(loop, -1, axis=0) - loop
        ahead = units(ahead)
        after = cross(ahead, np.broadcast_to(normals[k] / sizes[k], ahead.shape))
        before = np.roll(after, 1, axis=0)
        dot = np.einsum("ij,ij->i", before, after)
        reach = (before + after) / np.maximum(1.0 + dot, 2.0 / MITRE**2)[:, None]
        made.append(loop + out * reach)
    return made
