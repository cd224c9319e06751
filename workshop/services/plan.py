"""What a plan would do, without doing it: lines on the surface, new vertices, flow before and after."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from cutcore import CutError, Mesh, Note, Trace, apply_step, trace_step
from cutcore.arrays import Floats
from cutcore.counterparts import Counterparts
from cutcore.far_side import with_far_side
from cutcore.flow import FlowCounts, flow_after, flow_counts
from cutcore.imprint import subdivide
from cutcore.notes import Element
from cutcore.reshape.bridge import BridgeParams
from cutcore.reshape.extrude import ExtrudeParams
from cutcore.reshape.inset import InsetParams
from cutcore.reshape.round import RoundParams
from cutcore.reshape.size import SizeParams
from cutcore.result import Result
from cutcore.spots import OFF, EdgePoint, KnifePoint, Spot, locate
from cutcore.steps import CuttingStep, Step
from cutcore.tolerance import weld_of
from cutcore.tools.knife import KnifeParams
from cutcore.tools.outline import OutlineParams, landed
from cutcore.tools.profile import ProfileParams
from cutcore.tools.slice import SliceParams
from cutcore.trace import ON_EDGE, ON_VERTEX
from cutcore.view import Camera


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


NONE_MOVED: Floats = np.zeros((0, 2, 3))
MOST_MOVED = 4000
MOVING = SizeParams | ProfileParams | ExtrudeParams | InsetParams | RoundParams | BridgeParams


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
    changes, moves = result.mesh is not mesh, _moved(mesh, step, result)
    return Plan(trace, before, flow_counts(result.mesh), new, _new_edges(mesh, result), changes, moves, result.notes, None)


def _moved(mesh: Mesh, step: Step, result: Result) -> Floats:
    """The edges that a step moves or makes where nothing was, as they would lie; of very many, evenly chosen ones."""
    after = result.mesh
    if not isinstance(step, MOVING) or after is mesh:
        return NONE_MOVED
    if isinstance(step, BridgeParams):
        edges = np.unique(after.edges.of_corner[np.isin(after.face_of_corner, result.picked.faces)])
    else:
        changed = np.ones(after.vertex_count, dtype=bool)
        changed[: mesh.vertex_count] = (after.points[: mesh.vertex_count] != mesh.points).any(axis=1)
        edges = np.flatnonzero(changed[after.edges.ends].any(axis=1))
    return np.asarray(after.points[after.edges.ends[edges[:: 1 + len(edges) // MOST_MOVED]]])


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


def place_of(mesh: Mesh, element: Element) -> list[float]:
    """Where an element lies, for showing it: the mean of its vertices."""
    value: Any = element.value
    if element.kind == "at":
        return [float(x) for x in value]
    vertices = mesh.face(value) if element.kind == "face" else np.atleast_1d(value)
    return [float(x) for x in mesh.points[vertices].mean(axis=0)]


@dataclass(frozen=True, eq=False)
class Chain:
    """A run of spans of one line, for drawing as one path: `anchors (n,)` of the trace."""

    line: int
    far: bool
    trimmed: bool
    anchors: np.ndarray


def chains_of(trace: Trace) -> list[Chain]:
    """The spans of a trace as runs."""
    neighbours: dict[tuple[int, bool, bool], dict[int, list[int]]] = {}
    for (a, b), *of in zip(trace.ends.tolist(), trace.line.tolist(), trace.far.tolist(), trace.trimmed.tolist(), strict=True):
        near = neighbours.setdefault((of[0], of[1], of[2]), {})
        near.setdefault(a, []).append(b)
        near.setdefault(b, []).append(a)
    chains = []
    for of_run, near in neighbours.items():
        degree = {node: len(others) for node, others in near.items()}
        # Runs begin at ends and forks; what is left over is closed.
        for start in sorted(near, key=lambda node: degree[node] == 2):
            while near[start]:
                run = [start]
                while True:
                    goal = near[run[-1]].pop(0)
                    near[goal].remove(run[-1])
                    run.append(goal)
                    if degree[goal] != 2 or not near[goal]:
                        break
                chains.append(Chain(*of_run, np.array(run)))
    return chains


@dataclass(frozen=True, eq=False)
class PlannedPoint:
    """A chosen point as the plan lists it; `share` runs from the first vertex the point names."""

    kind: Literal["vertex", "edge", "half", "face", "off"]
    words: str
    place: tuple[float, float, float] | None
    share: float | None
    ends: np.ndarray | None = None
    spot: Spot | None = None


def points_of(mesh: Mesh, step: Step) -> list[list[PlannedPoint]]:
    """The chosen points of a step, line by line; one that is not on the mesh is listed as off the part."""
    lines: list[list[PlannedPoint]] = []
    if not isinstance(step, KnifeParams):
        return lines
    for line in step.lines:
        view = line.view or step.view
        camera = Camera.of(view) if view else None
        lines.append([_planned(mesh, point, camera) for point in line.points])
    return lines


def counterparts_of(mesh: Mesh, step: Step) -> list[tuple[Literal["vertex", "edge", "half", "face", "off"], np.ndarray]]:
    """The planned points as the step's mirror shows them, where there is something of the part."""
    if not isinstance(step, KnifeParams) or step.mirror is None:
        return []
    found: list[tuple[Literal["vertex", "edge", "half", "face", "off"], np.ndarray]] = []
    counterparts = Counterparts(mesh, step.mirror, weld=weld_of(mesh))
    for line in points_of(mesh, step):
        for point in line:
            if point.spot is not None and point.place is not None and counterparts.of(point.spot) >= 0:
                found.append((point.kind, step.mirror.places(np.array(point.place))))
    return found


def stretch_lengths(trace: Trace) -> dict[tuple[int, int], float]:
    """The length of each stretch on the surface, by (line, stretch)."""
    sizes = np.linalg.norm(trace.place[trace.ends[:, 1]] - trace.place[trace.ends[:, 0]], axis=1)
    lengths: dict[tuple[int, int], float] = {}
    for line, stretch, size in zip(trace.line.tolist(), trace.stretch.tolist(), sizes.tolist(), strict=True):
        lengths[line, stretch] = lengths.get((line, stretch), 0.0) + size
    return lengths


def _planned(mesh: Mesh, point: KnifePoint, camera: Camera | None) -> PlannedPoint:
    try:
        spot = locate(mesh, point, camera, weld=weld_of(mesh))
    except CutError as refusal:
        return PlannedPoint("off", refusal.words, None, None)
    if spot.kind == OFF:
        return PlannedPoint("off", "off the part", None, None)
    place = (float(spot.place[0]), float(spot.place[1]), float(spot.place[2]))
    if spot.kind == ON_VERTEX:
        return PlannedPoint("vertex", f"vertex {spot.element}", place, None, spot=spot)
    if spot.kind == ON_EDGE:
        share = point.t if isinstance(point, EdgePoint) else spot.share
        low, high = mesh.edges.ends[spot.element]
        return PlannedPoint("half" if share == 0.5 else "edge", f"edge {low}–{high}", place, share, mesh.points[[low, high]], spot)
    return PlannedPoint("face", f"face {spot.element}", place, None, spot=spot)
