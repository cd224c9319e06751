"""Parts broken and holes taken out of them, as slices of the same part."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from bench.row import Row
from bench.timing import median
from cutcore import Mesh, apply_step, parse_step
from cutcore.shapes.ball import ball

# A ball of about so many quads.
SIZE = "10 k"
DIVISIONS = 41


def broken_rows() -> Iterator[Row]:
    """50 closed shards of a ball, and a hole of 24 points through it, each made afresh: what was
    answered once is kept with the mesh."""
    part = ball(25.0, DIVISIONS)
    turn = 2 * np.pi * np.arange(24) / 24
    circle = np.column_stack([8 * np.cos(turn), 8 * np.sin(turn), np.full(24, 60.0)]).tolist()
    seeds = iter(range(100))
    slice_step = {"tool": "slice", "plane": {"point": [0.3, 0.1, 0.2], "normal": [0.3, 0.9, 0.2]}}
    hole = {
        "tool": "outline",
        "curves": [{"points": circle}],
        "along": {"direction": [0, 0, -1]},
        "reach": "through",
        "takes": {"what": "hole"},
    }

    def seconds(step: Callable[[], dict[str, object]], repeats: int) -> float:
        def make() -> object:
            fresh = Mesh(part.points, part.starts, part.corners).with_edges(part.edges)
            return apply_step(fresh, parse_step(step()))

        return median(make, repeats)

    one = seconds(lambda: slice_step, 9)

    def shards() -> dict[str, object]:
        return {"tool": "shards", "by": {"way": "cells", "count": 50, "seed": next(seeds)}}

    yield Row("50 closed shards of a ball, made", seconds(shards, 3) / one, "slice", 700.0, SIZE)
    yield Row("a hole of 24 points through it", seconds(lambda: hole, 5) / one, "slice", 60.0, SIZE)
