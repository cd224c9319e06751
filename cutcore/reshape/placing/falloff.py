"""Falloff: how much of a move the neighbours of a pick share, ring by ring."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.geometry.arrays import Floats, Ints
from cutcore.mesh.mesh import Mesh
from cutcore.params import Params


class Falloff(Params):
    """So many `rings` of neighbours go along, the less the further away, by a `curve`: in even
    steps, smoothly out and in, steep near the pick, or round from it on."""

    rings: Annotated[int, Field(ge=1, le=100)]
    curve: Literal["even", "smooth", "steep", "round"] = "smooth"


def weights_of(mesh: Mesh, chosen: Ints, falloff: Falloff | None) -> Floats:
    """How much of the move each vertex (V,) makes: 1 in the pick, 0 beyond the last ring."""
    weight = np.zeros(mesh.vertex_count)
    reached = np.zeros(mesh.vertex_count, dtype=bool)
    reached[chosen] = True
    weight[chosen] = 1.0
    if falloff is None:
        return weight
    low, high = mesh.edges.ends.T
    for ring in range(1, falloff.rings + 1):
        across = reached[low] != reached[high]
        fresh = np.unique(np.concatenate([low[across], high[across]]))
        fresh = fresh[~reached[fresh]]
        share = 1.0 - ring / (falloff.rings + 1)
        weight[fresh] = _CURVES[falloff.curve](share)
        reached[fresh] = True
    return weight


_CURVES: dict[str, Callable[[float], float]] = {
    "even": lambda s: s,
    "smooth": lambda s: s * s * (3.0 - 2.0 * s),
    "steep": lambda s: s * s,
    "round": lambda s: float(np.sqrt(1.0 - (1.0 - s) ** 2)),
}
