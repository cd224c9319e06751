"""Turned shapes: a profile swept round the y axis."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from cutcore.mesh.mesh import Mesh


def turned(profile: Sequence[tuple[float, float]], sides: int) -> Mesh:
    """A closed shape from a profile of (radius, height) pairs from the bottom up.

    A radius of 0 at either end makes a pole with a fan of triangles; an end with another radius is
    closed by one n-gon. Texture places run once round and along the profile; caps are mapped flat.
    """
    heights = np.array([h for _, h in profile])
    along = np.concatenate(
        [[0.0], np.cumsum(np.hypot(np.diff([r for r, _ in profile]), np.diff(heights)))]
    )
    along = along / along[-1]
    turn = 2 * np.pi * np.arange(sides) / sides
    points: list[tuple[float, float, float]] = []
    rings: list[list[int]] = []
    for radius, height in profile:
        start = len(points)
        if radius == 0.0:
            points.append((0.0, height, 0.0))
            rings.append([start] * sides)
        else:
            points += [
                (radius * float(np.cos(a)), height, -radius * float(np.sin(a))) for a in turn
            ]
            rings.append(list(range(start, start + sides)))

    faces: list[list[int]] = []
    uv: list[tuple[float, float]] = []

    def cap(ring: list[int], radius: float) -> None:
        faces.append(ring)
        uv.extend(
            (0.5 + 0.5 * points[v][0] / radius, 0.5 + 0.5 * points[v][2] / radius) for v in ring
        )

    if profile[0][0] > 0.0:
        cap(rings[0][::-1], profile[0][0])
    for k in range(len(profile) - 1):
        low, high = rings[k], rings[k + 1]
        for s in range(sides):
            t = (s + 1) % sides
            corners = [
                (low[s], s, k),
                (low[t], s + 1, k),
                (high[t], s + 1, k + 1),
                (high[s], s, k + 1),
            ]
            if low[s] == low[t]:
                del corners[1]
            if high[s] == high[t]:
                del corners[2]
            faces.append([c[0] for c in corners])
            uv.extend((c[1] / sides, float(along[c[2]])) for c in corners)
    if profile[-1][0] > 0.0:
        cap(rings[-1], profile[-1][0])
    return Mesh.of(points, faces, uv=np.array(uv))
