"""Parts moved apart, so that each can be seen."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.geometry.placement import Placement, placed_by


def spread(placements: Sequence[Placement], middles: Floats, by: float) -> list[Placement]:
    """Where parts stand, whose middles are at some places (n, 3), once each is moved away from the
    middle of these by so many times its distance from there."""
    away = by * (middles - middles.mean(axis=0)) if len(middles) else middles
    return [
        placed_by(np.eye(3), shift).after(placement)
        for placement, shift in zip(placements, away, strict=True)
    ]
