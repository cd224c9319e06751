"""Compile every loop that a cut runs through, or take it from where it was kept: what tools give as
examples, made once."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.formats.files import read_part, write_part
from cutcore.shapes.small import SMALL
from cutcore.shapes.torus import torus
from cutcore.steps.registry import TOOLS
from cutcore.steps.replay import apply_step
from cutcore.steps.steps_file import parse_step
from cutcore.tool import finishes_of

_SLANTED = {"tool": "slice", "plane": {"point": [0, 0.05, 0], "normal": [0.2, 1, 0.1]}}


def warm() -> None:
    """Make the first cuts and read the first files, so that nobody has to wait for theirs."""
    for name, make in SMALL.items():
        mesh = make()
        mapped = replace(mesh, uv=np.zeros((len(mesh.corners), 2))) if mesh.uv is None else mesh
        for ground in (mapped, replace(mapped, uv=None)):
            for tool in TOOLS.values():
                for example in tool.examples:
                    if example.on == name:
                        apply_step(ground, parse_step({"tool": tool.name, **example.params}))
            for file in ("part.stl", "part.ply"):
                read_part(file, write_part(file, ground))
    _end_in_every_way()


def _end_in_every_way() -> None:
    ground = torus(1.0, 0.4, 32, 16)
    mapped = replace(ground, uv=np.zeros((len(ground.corners), 2)))
    for finish in finishes_of(parse_step(_SLANTED)):
        for mesh in (ground, mapped):
            apply_step(mesh, parse_step({**_SLANTED, "finish": finish}))


if __name__ == "__main__":
    warm()
