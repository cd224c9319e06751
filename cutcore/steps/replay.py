"""Replay: steps carried out on a mesh, one or many, and what each did."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from cutcore.errors import CutError, StepError
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.tolerance import RELATIVE_WELD, welding
from cutcore.notes import Note
from cutcore.params import LARGEST
from cutcore.progress import come_to
from cutcore.reshape.legal import noted_ill, refuse_broken, refuse_illegal
from cutcore.steps.registry import CuttingStep, Step, tool_of
from cutcore.tool import Breaking, Cut
from cutcore.trace.trace import Trace


def trace_step(mesh: Mesh, step: CuttingStep) -> Trace:
    """What a cutting step would draw on the part."""
    tool = tool_of(step)
    assert isinstance(tool, Cut)
    return tool.trace(mesh, step)


SO_ALREADY = Note("nothing-to-do", "Nothing would change: it is so already.")


def apply_step(mesh: Mesh, step: Step) -> Result:
    """Carry out one step on a mesh, which stays as it is.

    Raises CutError if it can't be carried out, or if what it would give is no mesh that can be
    worked on."""
    tool = tool_of(step)
    if isinstance(tool, Cut):
        result = tool.made(mesh, step)
        if tool.apply is not None and result.mesh is not mesh:
            # Where vertices move, what becomes of pieces is no more seen square to what they were.
            result = noted_ill(mesh, result, pieces=tool.moves is None)
    else:
        result = tool.apply(mesh, step)
        if result.mesh is not mesh and isinstance(step, Breaking):
            result = refuse_broken(mesh, result, anyway=step.anyway)
        elif result.mesh.edges is mesh.edges and result.mesh is not mesh:
            result = noted_ill(mesh, result)
        elif result.mesh is not mesh:
            refuse_illegal(mesh, result, turns=tool.turns)
    made = result.mesh
    if (
        made is not mesh
        and made.face_count
        and not (made.diagonal <= LARGEST and np.abs(made.box).max() <= LARGEST)
    ):
        raise StepError("the part would be too large for its coordinates to be reckoned with")
    if made is mesh and not result.notes:
        return replace(result, notes=(SO_ALREADY,))
    return result


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
    """What carrying out some steps gave: the part, the parts taken off it, and a report for each
    step."""

    mesh: Mesh
    apart: list[Mesh]
    reports: list[StepReport]


def apply_steps(mesh: Mesh, steps: tuple[Step, ...], *, weld: float = RELATIVE_WELD) -> Done:
    """Carry out steps one after the other, with a weld tolerance that is a share of the part's
    diagonal.

    Raises CutError naming the step that can't be carried out.
    """
    reports: list[StepReport] = []
    apart: list[Mesh] = []
    for k, step in enumerate(steps):
        come_to(f"step {k + 1} of {len(steps)}", k / len(steps))
        try:
            with welding(weld):
                result = apply_step(mesh, step)
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
