"""What looking at a made cut once more costs: its share of the cut."""

from __future__ import annotations

import importlib
import time
from typing import Any
from unittest import mock

import numpy as np

from cutcore import Mesh, apply_step

# The package shares its name with what it does.
subdivision = importlib.import_module("cutcore.imprint.subdivision")
REPEATS = 9


def judges_share(mesh: Mesh, step: object) -> float:
    """The share of a made cut that the judge takes, at the median."""
    judge, spent = subdivision.judge, 0.0

    def timed(*given: Any, **named: Any) -> None:
        nonlocal spent
        begun = time.perf_counter()
        judge(*given, **named)
        spent += time.perf_counter() - begun

    shares = []
    with mock.patch.object(subdivision, "judge", timed):
        for _ in range(REPEATS):
            spent, begun = 0.0, time.perf_counter()
            apply_step(mesh, step).mesh.edges  # noqa: B018 - connectivity belongs to the cut
            shares.append(spent / (time.perf_counter() - begun))
    return float(np.median(shares))
