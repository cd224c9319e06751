"""Timing: medians and high percentiles, in seconds."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np


def times(work: Callable[[], object], repeats: int) -> np.ndarray:
    """How long each of some repeats takes, after one that is not counted."""
    work()
    found = []
    for _ in range(repeats):
        begun = time.perf_counter()
        work()
        found.append(time.perf_counter() - begun)
    return np.array(found)


def times_once(work: Callable[[], object]) -> float:
    """How long it takes once."""
    begun = time.perf_counter()
    work()
    return time.perf_counter() - begun


def median(work: Callable[[], object], repeats: int = 9) -> float:
    return float(np.median(times(work, repeats)))
