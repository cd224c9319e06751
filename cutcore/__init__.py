"""Wertome's geometry: cuts across polygon meshes that leave them clean."""

from cutcore.errors import CutError, FormatError, ImprintError, MeshError, PathError, StepError
from cutcore.formats.files import read_part, write_part
from cutcore.formats.svg import FlatCurve, read_svg, write_svg
from cutcore.imprint import imprint
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.notes import Note
from cutcore.queries.flow import flow
from cutcore.queries.problems import problems
from cutcore.steps.replay import apply_step, apply_steps, trace_step
from cutcore.steps.steps_file import parse_step, parse_steps
from cutcore.trace.trace import Trace

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
    "imprint",
    "parse_step",
    "parse_steps",
    "problems",
    "read_part",
    "read_svg",
    "trace_step",
    "write_part",
    "write_svg",
]
