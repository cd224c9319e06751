"""What a plan would do, without doing it: lines on the surface, new vertices, flow before and after."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from cutcore.errors import CutError
from cutcore.geometry.arrays import Floats
from cutcore.geometry.camera import Camera
from cutcore.imprint import subdivide
from cutcore.imprint.dry_run import flow_after
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note
from cutcore.previews.moved_edges import NONE_MOVED, moved_edges
from cutcore.queries.flow import FlowCounts, flow_counts
from cutcore.steps.steps_file import CuttingStep, Step, apply_step, trace_step
from cutcore.tools.outline.outline import OutlineParams, landed
from cutcore.tools.profile import ProfileParams
from cutcore.tools.slice.slice import SliceParams
from cutcore.trace.far_side import with_far_side
from cutcore.trace.trace import Trace


@dataclass(frozen=True, eq=False)
class Plan:
    """A trace with what it adds; `changes` says whether making it would change the part at all. `refusal` is why it
    can't be made, if it can't."""

    trace: Trace | None
    before: FlowCounts
    after: FlowCounts
    new_vertices: int
    new_edges: int
    changes: bool
    # Edges as they would lie, where vertices that are there move: pairs of places (n, 2, 3).
    moved: Floats
    notes: tuple[Note, ...]
    refusal: CutError | None
    # Of an outline: the points that fall on the part, and of how many; the shortest new edge and the smallest new face.
    landed: tuple[int, int] | None = None
    smallest: tuple[float, float] | None = None


def plan_of(mesh: Mesh, step: Step, camera: Camera | None = None) -> Plan:
    """The plan of one step on a mesh; a step that can't be carried out gives a plan that says why.

    The camera is where the plan is looked at from: steps that know nothing of a view then tell their far side, too.
    """
    before = flow_counts(mesh)
    trace: Trace | None = None
    try:
        if isinstance(step, CuttingStep):
            trace = trace_step(mesh, step)
            if camera is not None and getattr(step, "view", None) is None:
                trace = with_far_side(mesh, trace, camera)
        if trace is None or isinstance(step, ProfileParams) or (isinstance(step, SliceParams) and step.then != "keep"):
            return _plan_by_doing(mesh, step, trace, before)
        cut = subdivide(mesh, trace, weld=weld_of(mesh))
    except CutError as refusal:
        return Plan(trace, before, before, 0, 0, False, NONE_MOVED, trace.notes if trace else (), refusal)
    after = flow_after(mesh, before, cut)
    # Every new vertex on an edge makes two edges of one.
    split = int(cut.split_starts[-1])
    made = Plan(trace, before, after, len(cut.places), len(cut.new_edges) + split, not cut.adds_nothing, NONE_MOVED, trace.notes, None)
    if isinstance(step, OutlineParams):
        return replace(made, landed=landed(mesh, step), smallest=None if cut.adds_nothing else cut.smallest(mesh))
    return made


def _plan_by_doing(mesh: Mesh, step: Step, trace: Trace | None, before: FlowCounts) -> Plan:
    """The plan of a step that takes something away or moves it: known only once it is carried out."""
    result = apply_step(mesh, step)
    new = int((result.origin.vertex < 0).sum())
    changes, moves = result.mesh is not mesh, moved_edges(mesh, step, result)
    return Plan(trace, before, flow_counts(result.mesh), new, _new_edges(mesh, result), changes, moves, result.notes, None)


def _new_edges(mesh: Mesh, result: Result) -> int:
    """How many edges of a result join vertices that no edge joined before; of an edge that was split one piece counts."""
    ends = np.sort(result.origin.vertex[result.mesh.edges.ends], axis=1).astype(np.int64)
    weights = np.array([mesh.vertex_count, 1])
    old = (ends[:, 0] >= 0) & np.isin(ends @ weights, mesh.edges.ends.astype(np.int64) @ weights)
    split = int((~np.isin(mesh.edges.ends.astype(np.int64) @ weights, ends[old] @ weights)).sum()) if len(ends) >= len(mesh.edges) else 0
    return int((~old).sum()) - split


def crossed_faces(trace: Trace) -> list[int]:
    """The faces that a trace cuts."""
    return np.unique(trace.face[trace.cut]).tolist()
