"""The deck plate of the sample project, as browser tests point at it."""

from __future__ import annotations

import numpy as np

from workshop.sample.skerry_light import deck_plate

PLATE = deck_plate()


def on_edge(a: int, b: int, share: float) -> np.ndarray:
    """A place on one of its edges."""
    return np.asarray(PLATE.points[a] + share * (PLATE.points[b] - PLATE.points[a]))
