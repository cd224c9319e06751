"""The area vector of one loop of places: its normal, as long as its area is large."""

from __future__ import annotations

from cutcore.geometry.arrays import Floats
from cutcore.kernels.compiled import compiled


@compiled
def area_vector(place: Floats, size: int) -> tuple[float, float, float]:
    """The area vector of the first `size` places (.., 3), worked out about the first of them."""
    x = y = z = 0.0
    for s in range(1, size - 1):
        ax, ay, az = place[s, 0] - place[0, 0], place[s, 1] - place[0, 1], place[s, 2] - place[0, 2]
        bx, by, bz = (
            place[s + 1, 0] - place[0, 0],
            place[s + 1, 1] - place[0, 1],
            place[s + 1, 2] - place[0, 2],
        )
        x += 0.5 * (ay * bz - az * by)
        y += 0.5 * (az * bx - ax * bz)
        z += 0.5 * (ax * by - ay * bx)
    return x, y, z
