"""Compile every loop that a cut runs through, or take it from where it was kept: a cut of each kind, made once."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.formats.files import read_part, write_part
from cutcore.shapes.box import box
from cutcore.steps.steps_file import apply_step, parse_step


def warm() -> None:
    """Make the first cuts and read the first files, so that nobody has to wait for theirs."""
    mapped = box(1, 1, 1, (2, 2, 2))
    plain = replace(mapped, uv=None) if mapped.uv is not None else replace(mapped, uv=np.zeros((len(mapped.corners), 2)))
    for mesh in (mapped, plain):
        across = [{"vertex": int(v)} for v in mesh.face(0)[[0, 2]]]
        apply_step(mesh, parse_step({"tool": "knife", "lines": [{"points": across}]}))
        apply_step(mesh, parse_step({"tool": "slice", "plane": {"point": [0.1, 0.1, 0.1], "normal": [1, 2, 3]}}))
        apply_step(mesh, parse_step({"tool": "gauge", "widths": [0.1, 0.1]}))
        ring = [[0.3, 1, 0.1], [-0.2, 1, 0.3], [-0.2, 1, -0.2]]
        apply_step(mesh, parse_step({"tool": "outline", "curves": [{"points": ring}], "along": {"direction": [0, -1, 0]}}))
        for name in ("part.stl", "part.ply"):
            read_part(name, write_part(name, mesh))


if __name__ == "__main__":
    warm()
