"""What a plan would do, without doing it: lines on the surface, new vertices, flow before and
after."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from cutcore.errors import CutError
from cutcore.geometry.arrays import Floats
from cutcore.geometry.camera import Camera
from cutcore.imprint import NOTHING, subdivide
from cutcore.imprint.dry_run import flow_after
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note
from cutcore.previews.mending import Mending, mending_of
from cutcore.queries.flow import FlowCounts, flow_counts
from cutcore.steps.registry import AnyTool, PlanExtra, Step, tool_of
from cutcore.steps.replay import apply_step
from cutcore.tool import Cut, Drawn, ends_as_cut, is_woven
from cutcore.trace.far_side import with_far_side
from cutcore.trace.trace import Trace

# Of more edges that would move, evenly chosen ones are shown.
MOST_MOVED = 4000
NONE_MOVED: Floats = np.zeros((0, 2, 3))


@dataclass(frozen=True, eq=False)
class Plan:
    """What a step draws, adds and says.

    changes  whether making it would change the part at all
    moved    edges as they would lie where vertices move: pairs of places (n, 2, 3)
    mending  what turning faces into quads adds, if that is asked for
    refusal  why it can't be made, if it can't
    woven    whether its lines get other vertices than where they cross edges
    extra    what its tool shows beyond this
    """

    trace: Trace | None
    before: FlowCounts
    after: FlowCounts
    new_vertices: int
    new_edges: int
    changes: bool
    moved: Floats
    mending: Mending | None
    notes: tuple[Note, ...]
    refusal: CutError | None
    extra: PlanExtra | None
    woven: bool = False


def plan_of(mesh: Mesh, step: Step, camera: Camera | None = None) -> Plan:
    """The plan of one step on a mesh; a step that can't be carried out gives a plan that says why.

    The camera is where the plan is looked at from: steps that know nothing of a view then tell
    their far side, too."""
    before = flow_counts(mesh)
    tool = tool_of(step)
    trace: Trace | None = None

    def extra(drawn: Drawn) -> PlanExtra | None:
        # Of the tool in hand: one of those that plans may carry.
        made: Any = None if tool.extra is None else tool.extra(mesh, step, drawn)
        return made

    try:
        if isinstance(tool, Cut):
            trace = tool.trace(mesh, step)
            if camera is not None and getattr(step, "view", None) is None:
                trace = with_far_side(mesh, trace, camera)
        if trace is None or _done_to_know(tool, step):
            result = apply_step(mesh, step)
            return Plan(
                trace,
                before,
                flow_counts(result.mesh),
                int((result.origin.vertex < 0).sum()),
                _new_edges(mesh, result),
                result.mesh is not mesh,
                NONE_MOVED
                if tool.moves is None or result.mesh is mesh
                else _as_moved(result, tool.moves(mesh, result)),
                mending_of(mesh, result, camera)
                if not ends_as_cut(step) or len(result.mended)
                else None,
                result.notes,
                None,
                extra(Drawn(trace, result.notes)),
                is_woven(step) or getattr(step, "weave", None) is not None,
            )
        cut = subdivide(mesh, trace, weld=weld_of(mesh))
    except CutError as refusal:
        notes = trace.notes if trace else ()
        return Plan(
            trace,
            before,
            before,
            0,
            0,
            False,
            NONE_MOVED,
            None,
            notes,
            refusal,
            extra(Drawn(trace, notes)),
        )
    # A single point draws nothing yet: nothing need be said of it.
    silent = cut.adds_nothing and len(trace.face) > 0 and not trace.notes
    notes = (NOTHING,) if silent else trace.notes
    # Every new vertex on an edge makes two edges of one.
    new_edges = len(cut.new_edges) + int(cut.split_starts[-1])
    return Plan(
        trace,
        before,
        flow_after(mesh, before, cut),
        len(cut.places),
        new_edges,
        not cut.adds_nothing,
        NONE_MOVED,
        None,
        notes,
        None,
        extra(Drawn(trace, notes, cut)),
    )


def _done_to_know(tool: AnyTool, step: Step) -> bool:
    """Whether a cut's plan is known only once it is carried out."""
    return isinstance(tool, Cut) and (not ends_as_cut(step) or tool.done_to_know(step))


def _as_moved(result: Result, edges: np.ndarray) -> Floats:
    """Edges of a result as pairs of places (n, 2, 3); of very many, evenly chosen ones."""
    after = result.mesh
    return np.asarray(after.points[after.edges.ends[edges[:: 1 + len(edges) // MOST_MOVED]]])


def _new_edges(mesh: Mesh, result: Result) -> int:
    """How many edges of a result join vertices that no edge joined before; of an edge that was
    split one piece counts."""
    ends = np.sort(result.origin.vertex[result.mesh.edges.ends], axis=1).astype(np.int64)
    weights = np.array([mesh.vertex_count, 1])
    old = (ends[:, 0] >= 0) & np.isin(ends @ weights, mesh.edges.ends.astype(np.int64) @ weights)
    split = (
        int((~np.isin(mesh.edges.ends.astype(np.int64) @ weights, ends[old] @ weights)).sum())
        if len(ends) >= len(mesh.edges)
        else 0
    )
    return int((~old).sum()) - split
