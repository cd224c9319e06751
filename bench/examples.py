"""Every tool and reshape on the examples it brings, planned and made, so that none is left out."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from bench.row import Row
from bench.timing import median
from cutcore import Mesh, apply_step, parse_step
from cutcore.previews.plan import plan_of
from cutcore.shapes.small import SMALL
from cutcore.steps.registry import TOOLS

# The measure: the plane that most parts of the tables are cut by, through the same small mesh.
SLICE = {"tool": "slice", "plane": {"point": [0.03, 0.01, 0.02], "normal": [0.3, 0.9, 0.2]}}


def examples_measured() -> Iterator[Row]:
    """Two rows a tool: its dearest example in slices of the mesh it is on, planned and made."""
    meshes = {name: make() for name, make in SMALL.items()}
    for work, do in WORKS.items():
        slices = {on: seconds(do, mesh, parse_step(SLICE)) for on, mesh in meshes.items()}
        for tool in TOOLS.values():
            ratios = [
                seconds(do, meshes[one.on], parse_step({"tool": tool.name, **one.params}))
                / slices[one.on]
                for one in tool.examples
            ]
            yield Row(f"{tool.name}, its dearest example, {work}", max(ratios), "slice", BAR, SIZE)


WORKS: dict[str, Callable[[Mesh, Any], object]] = {"planned": plan_of, "made": apply_step}
SIZE = "examples"
BAR = 25.0


def seconds(do: Callable[[Mesh, Any], object], mesh: Mesh, step: object) -> float:
    return median(lambda: do(mesh, step))
