"""Wertome's geometry: cuts across polygon meshes that leave them clean."""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

from cutcore.errors import CutError, FormatError, ImprintError, MeshError, PathError, StepError
from cutcore.formats.files import read_part, write_part
from cutcore.formats.svg import FlatCurve, read_svg, write_svg
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.notes import Note

if TYPE_CHECKING:
    from cutcore.imprint import imprinted
    from cutcore.queries.flow import flow
    from cutcore.queries.problems import problems
    from cutcore.steps.replay import apply_step, apply_steps, trace_step
    from cutcore.steps.steps_file import parse_step, parse_steps
    from cutcore.trace.trace import Trace

# Loaded when first asked for: whoever only reads files does without the tools.
LATER = {
    "Trace": "cutcore.trace.trace",
    "apply_step": "cutcore.steps.replay",
    "apply_steps": "cutcore.steps.replay",
    "flow": "cutcore.queries.flow",
    "imprinted": "cutcore.imprint",
    "parse_step": "cutcore.steps.steps_file",
    "parse_steps": "cutcore.steps.steps_file",
    "problems": "cutcore.queries.problems",
    "trace_step": "cutcore.steps.replay",
}

__all__ = [
    "CutError",
    "FlatCurve",
    "FormatError",
    "ImprintError",
    "Mesh",
    "MeshError",
    "Note",
    "Origin",
    "PathError",
    "Picked",
    "Result",
    "StepError",
    "Trace",
    "apply_step",
    "apply_steps",
    "flow",
    "imprinted",
    "parse_step",
    "parse_steps",
    "problems",
    "read_part",
    "read_svg",
    "trace_step",
    "write_part",
    "write_svg",
]


def __getattr__(name: str) -> Any:
    if name not in LATER:
        raise AttributeError(f"module 'cutcore' has no attribute {name!r}")
    return getattr(import_module(LATER[name]), name)
