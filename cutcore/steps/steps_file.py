"""Steps: a list of cuts as data, checked in full before anything is done."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal, get_args

import numpy as np
from pydantic import Field, TypeAdapter, ValidationError

from cutcore.errors import CutError, StepError
from cutcore.formats.budget import check_json
from cutcore.imprint import imprint
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.tolerance import RELATIVE_WELD, weld_of
from cutcore.notes import Note
from cutcore.params import LARGEST, Params
from cutcore.reshape import bridge, collapse, delete, dissolve, extrude, flip, inset, separate, size
from cutcore.reshape import round as round_reshape
from cutcore.reshape import weld as weld_reshape
from cutcore.reshape.bridge import BridgeParams
from cutcore.reshape.collapse import CollapseParams
from cutcore.reshape.delete import DeleteParams
from cutcore.reshape.dissolve import DissolveParams
from cutcore.reshape.extrude import ExtrudeParams
from cutcore.reshape.flip import FlipParams
from cutcore.reshape.inset import InsetParams
from cutcore.reshape.legal import refuse_crowded
from cutcore.reshape.round import RoundParams
from cutcore.reshape.separate import SeparateParams
from cutcore.reshape.size import SizeParams
from cutcore.reshape.weld import WeldParams
from cutcore.tools import gauge, knife, loop, profile
from cutcore.tools.gauge import GaugeParams
from cutcore.tools.knife import KnifeParams
from cutcore.tools.loop import LoopParams
from cutcore.tools.outline import outline
from cutcore.tools.outline.outline import OutlineParams
from cutcore.tools.profile import ProfileParams
from cutcore.tools.slice import slice
from cutcore.tools.slice.slice import SliceParams
from cutcore.trace.trace import Trace

CuttingStep = KnifeParams | LoopParams | SliceParams | OutlineParams | GaugeParams | ProfileParams
ReshapingStep = (
    DissolveParams
    | CollapseParams
    | WeldParams
    | DeleteParams
    | SeparateParams
    | FlipParams
    | SizeParams
    | ExtrudeParams
    | InsetParams
    | RoundParams
    | BridgeParams
)
Step = Annotated[CuttingStep | ReshapingStep, Field(discriminator="tool")]


# A limit or a pick of a million faces is a million values.
MOST_VALUES = 2_000_000


class StepsFile(Params):
    """The open format in which cuts are kept."""

    wertome: Literal[1]
    steps: tuple[Step, ...]


_step: TypeAdapter[CuttingStep | ReshapingStep] = TypeAdapter(Step)


def parse_steps(text: str | bytes) -> StepsFile:
    """A steps file from JSON. Raises StepError naming the path of the first offending value, FormatError if it is too long."""
    check_json(text if isinstance(text, bytes) else text.encode(), values=MOST_VALUES)
    try:
        return StepsFile.model_validate_json(text)
    except ValidationError as wrong:
        raise _refusal(wrong) from wrong


def parse_step(data: Any) -> Step:
    """One step from plain data. Raises StepError naming the path of the first offending value."""
    try:
        return _step.validate_python(data)
    except ValidationError as wrong:
        raise _refusal(wrong) from wrong


def trace_step(mesh: Mesh, step: CuttingStep, *, weld: float | None = None) -> Trace:
    """What a cutting step would draw on the part; `weld` is a length, by default 1e-7 of the part's diagonal."""
    match step:
        case KnifeParams():
            return knife.trace(mesh, step, weld=weld)
        case LoopParams():
            return loop.trace(mesh, step, weld=weld)
        case SliceParams():
            return slice.trace(mesh, step, weld=weld)
        case OutlineParams():
            return outline.trace(mesh, step, weld=weld)
        case GaugeParams():
            return gauge.trace(mesh, step, weld=weld)
        case ProfileParams():
            return profile.trace(mesh, step, weld=weld)


def apply_step(mesh: Mesh, step: Step, *, weld: float | None = None) -> Result:
    """Carry out one step on a mesh, which stays as it is; `weld` as for `trace_step`.

    Raises CutError if it can't be carried out, or if what it would give is no mesh that can be worked on.
    """
    result = _applied(mesh, step, weld)
    if result.mesh is not mesh:
        if not isinstance(step, CuttingStep):
            refuse_crowded(mesh, result)
        if result.mesh.face_count and not (result.mesh.diagonal <= LARGEST and np.abs(result.mesh.box).max() <= LARGEST):
            raise StepError("the part would be too large for its coordinates to be reckoned with")
    return result


def _applied(mesh: Mesh, step: Step, weld: float | None) -> Result:
    match step:
        case KnifeParams() | LoopParams() | GaugeParams():
            return imprint(mesh, trace_step(mesh, step, weld=weld), weld=weld)
        case SliceParams():
            return slice.apply(mesh, step, weld=weld)
        case OutlineParams():
            return outline.apply(mesh, step, weld=weld)
        case ProfileParams():
            return profile.apply(mesh, step, weld=weld)
        case DissolveParams():
            return dissolve.apply(mesh, step)
        case CollapseParams():
            return collapse.apply(mesh, step)
        case WeldParams():
            return weld_reshape.apply(mesh, step)
        case DeleteParams():
            return delete.apply(mesh, step)
        case SeparateParams():
            return separate.apply(mesh, step)
        case FlipParams():
            return flip.apply(mesh, step)
        case SizeParams():
            return size.apply(mesh, step)
        case ExtrudeParams():
            return extrude.apply(mesh, step)
        case InsetParams():
            return inset.apply(mesh, step)
        case RoundParams():
            return round_reshape.apply(mesh, step)
        case BridgeParams():
            return bridge.apply(mesh, step)


def steps_schema() -> dict[str, Any]:
    """The JSON Schema of a steps file."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Wertome steps file", **StepsFile.model_json_schema()}


@dataclass(frozen=True, eq=False)
class StepReport:
    """What one step did."""

    tool: str
    notes: tuple[Note, ...]
    faces_before: int
    faces_after: int
    new_vertices: int
    new_edges: int
    picked: list[int]

    def as_json(self) -> dict[str, Any]:
        return {
            "tool": self.tool,
            "notes": [note.as_json() for note in self.notes],
            "faces": {"before": self.faces_before, "after": self.faces_after},
            "new_vertices": self.new_vertices,
            "new_edges": self.new_edges,
            "picked": self.picked,
        }


@dataclass(frozen=True, eq=False)
class Done:
    """What carrying out some steps gave: the part, the parts taken off it, and a report for each step."""

    mesh: Mesh
    apart: list[Mesh]
    reports: list[StepReport]


def apply_steps(mesh: Mesh, steps: tuple[Step, ...], *, weld: float = RELATIVE_WELD) -> Done:
    """Carry out steps one after the other, with a weld tolerance that is a share of the part's diagonal.

    Raises CutError naming the step that can't be carried out.
    """
    reports: list[StepReport] = []
    apart: list[Mesh] = []
    for k, step in enumerate(steps):
        try:
            result = apply_step(mesh, step, weld=weld_of(mesh, weld))
        except CutError as refusal:
            raise refusal.at(f"steps[{k}]") from refusal
        reports.append(report_of(step, mesh, result))
        mesh = result.mesh
        apart += result.apart
    return Done(mesh, apart, reports)


def report_of(step: Step, before: Mesh, result: Result) -> StepReport:
    """What a step did, in numbers."""
    new_vertices = int((result.origin.vertex < 0).sum())
    return StepReport(
        step.tool,
        result.notes,
        before.face_count,
        result.mesh.face_count,
        new_vertices,
        len(result.picked.edges),
        [int(f) for f in result.picked.faces],
    )


# Names of tools stand in the places pydantic gives, where it chose among the steps by them.
_TOOLS = {kind.model_fields["tool"].default for kind in (*get_args(CuttingStep), *get_args(ReshapingStep))}


def _refusal(wrong: ValidationError) -> StepError:
    """The first complaint, with its place written the way one would index the data."""
    first = wrong.errors()[0]
    place = [part for part in first["loc"] if isinstance(part, int) or not (part in _TOOLS or part[:1].isupper())]
    words, given = first["msg"], first.get("input")
    if first["type"] in ("union_tag_invalid", "union_tag_not_found") and isinstance(given, dict):
        place.append("tool")
        words, given = f"one of {', '.join(sorted(_TOOLS))} was expected", given.get("tool")
    where = ""
    for part in place:
        where += f"[{part}]" if isinstance(part, int) else f".{part}" if where else part
    got = "" if isinstance(given, dict | list | tuple) or first["type"] == "missing" else f", got {given!r}"
    return StepError(f"{words}{got}", where=where)
