"""How well faces are formed: four measures, each with its bins from the best to the worst."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal, get_args

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints, next_in_row
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.mesh import Mesh, newell
from cutcore.queries.corner_forms import corner_forms

# jacobian  the smallest sine of the corners, as a share of that of a regular face: of a quad the
#           scaled Jacobian
# angle     the greatest angle of the corners, in degrees
# sides     the longest side as a multiple of the shortest
# warp      how far corners lie off the mean plane, as a share of the root of the area
Measure = Literal["jacobian", "angle", "sides", "warp"]
MEASURES: tuple[Measure, ...] = get_args(Measure)

# Where the bins of each measure begin and end, from the best to the worst.
BINS: dict[Measure, tuple[float, ...]] = {
    "jacobian": (1.0, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2, 0.1, 0.0, -1.0),
    "angle": (0.0, 100.0, 110.0, 120.0, 130.0, 140.0, 150.0, 160.0, 170.0, 180.0, 360.0),
    "sides": (1.0, 1.5, 2.0, 3.0, 4.0, 6.0, 10.0, np.inf),
    "warp": (0.0, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, np.inf),
}

# The first bins of each measure that are no longer fine: not good, poor, bad.
WORSE: dict[Measure, tuple[int, int, int]] = {
    "jacobian": (3, 5, 7),
    "angle": (3, 5, 7),
    "sides": (3, 5, 6),
    "warp": (2, 4, 5),
}


@dataclass(frozen=True, eq=False)
class Quality:
    """One measure of all faces: `values (F,)`, the `bin (F,)` each is in, and `counts (b,)` of
    those."""

    measure: Measure
    values: Floats
    bin: Ints
    counts: Ints

    def level(self) -> Ints:
        """How bad each face (F,) is: 0 for fine, 3 for bad."""
        return np.searchsorted(WORSE[self.measure], self.bin, side="right")

    def as_json(self) -> list[dict[str, Any]]:
        ends = BINS[self.measure]
        return [
            {"from": one, "to": other if np.isfinite(other) else None, "faces": int(count)}
            for one, other, count in zip(ends, ends[1:], self.counts.tolist(), strict=False)
        ]


def quality(mesh: Mesh, measure: Measure) -> Quality:
    """One measure of all faces of a mesh."""
    values = _VALUES[measure](mesh)
    ends = np.array(BINS[measure])
    # Of the Jacobian more is better.
    sign = -1.0 if ends[0] > ends[-1] else 1.0
    bins = np.clip(np.searchsorted(sign * ends[1:-1], sign * values, side="left"), 0, len(ends) - 2)
    return Quality(measure, values, bins, np.bincount(bins, minlength=len(ends) - 1))


def faces_in_bin(mesh: Mesh, measure: Measure, number: int) -> Ints:
    """The faces (n,) in one bin of a measure. Raises StepError for one that is not there."""
    found = quality(mesh, measure)
    if not 0 <= number < len(found.counts):
        raise StepError(f"there are {len(found.counts)} bins, got bin {number}", where="bin")
    return np.flatnonzero(found.bin == number)


def _jacobian(mesh: Mesh) -> Floats:
    sine, _, starts = corner_forms(mesh, np.arange(mesh.face_count))
    sizes = mesh.sizes
    # Beyond the square a regular face's corners lose their sine again.
    best = np.sin(np.pi * (1.0 - 2.0 / sizes))
    return np.asarray(np.minimum.reduceat(sine, starts[:-1]) / np.maximum(best, NOT_ZERO))


def _angle(mesh: Mesh) -> Floats:
    _, angle, starts = corner_forms(mesh, np.arange(mesh.face_count))
    return np.asarray(np.maximum.reduceat(angle, starts[:-1]))


def _sides(mesh: Mesh) -> Floats:
    places = mesh.points[mesh.corners]
    length = np.linalg.norm(places[next_in_row(mesh.starts)] - places, axis=1)
    longest = np.maximum.reduceat(length, mesh.starts[:-1])
    return np.asarray(longest / np.maximum(np.minimum.reduceat(length, mesh.starts[:-1]), NOT_ZERO))


def _warp(mesh: Mesh) -> Floats:
    places = mesh.points[mesh.corners]
    normals = newell(places, mesh.starts)
    area = np.linalg.norm(normals, axis=1)
    unit = normals / np.maximum(area, NOT_ZERO)[:, None]
    middle = np.add.reduceat(places, mesh.starts[:-1]) / mesh.sizes[:, None]
    away = np.abs(
        np.einsum("ij,ij->i", places - middle[mesh.face_of_corner], unit[mesh.face_of_corner])
    )
    return np.asarray(
        np.maximum.reduceat(away, mesh.starts[:-1]) / np.maximum(np.sqrt(area), NOT_ZERO)
    )


_VALUES = {"jacobian": _jacobian, "angle": _angle, "sides": _sides, "warp": _warp}
