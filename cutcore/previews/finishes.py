"""One cut finished in every way there is, to be compared."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.errors import CutError
from cutcore.geometry.arrays import Floats, Ints, next_in_row, row_positions
from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.mesh.triangles import triangulate
from cutcore.previews.mending import Mending, mending_of
from cutcore.queries.flow import FlowCounts, flow_counts, flow_counts_after
from cutcore.queries.nearest import Surface
from cutcore.steps.registry import Step, tool_of
from cutcore.steps.replay import apply_step
from cutcore.tool import Cut, Cutting, finishes_of


@dataclass(frozen=True, eq=False)
class FinishShown:
    """What one way to finish a cut gives.

    before, after  the counts of the flow
    mending        the quads touched, how good they are, and the edges added; None if it is refused
    moved          how far the surface moves at most, and where
    refusal        why it can't be made, if it can't
    """

    finish: str
    before: FlowCounts
    after: FlowCounts
    mending: Mending | None
    moved: float
    moved_at: Floats
    refusal: CutError | None


def finishes_compared(mesh: Mesh, step: Step, camera: Camera | None = None) -> list[FinishShown]:
    """A cut in each of the ways that its tool may finish it; none for a step that knows but one.

    How far the surface moves is told against the part there was; of a cut that does more to its
    sides, which moves or takes them, against the same cut as cut."""
    tool = tool_of(step)
    if not isinstance(step, Cutting) or not isinstance(tool, Cut):
        return []
    ways = {finish: step.model_copy(update={"finish": finish}) for finish in finishes_of(step)}
    as_cut: Result | None = None
    if tool.done_to_know(step):
        try:
            as_cut = apply_step(mesh, ways["as cut"])
        except CutError:
            # Then it can't be made in any other way, which its row says.
            as_cut = None
    return [_shown(mesh, way, finish, camera, as_cut) for finish, way in ways.items()]


def _shown(
    mesh: Mesh, step: Step, finish: str, camera: Camera | None, as_cut: Result | None
) -> FinishShown:
    before = flow_counts(mesh)
    try:
        result = apply_step(mesh, step)
    except CutError as refusal:
        return FinishShown(finish, before, before, None, 0.0, np.zeros(3), refusal)
    there = Result(mesh, Origin.same(mesh)) if as_cut is None else as_cut
    moved, where = surface_moved(there, result)
    after = flow_counts_after(mesh, result)
    mending = mending_of(mesh, result, camera)
    return FinishShown(finish, before, after, mending, moved, where, None)


def surface_moved(there: Result, result: Result) -> tuple[float, Floats]:
    """How far the surface of one result of a mesh lies at most from another of the same mesh, and
    where: corners, middles of sides and of triangles are looked at, of the faces that changed in either,
    both ways."""
    changed = (there.origin.kept < 0) | (result.origin.kept < 0)

    def of(one: Result) -> Ints:
        parent = one.origin.face
        fresh = np.ones(one.mesh.face_count, dtype=bool)
        fresh[one.origin.kept[one.origin.kept >= 0]] = False
        return np.flatnonzero(fresh | (parent < 0) | changed[np.maximum(parent, 0)])

    sides = [(one.mesh, of(one)) for one in (there, result)]
    most, where = 0.0, np.zeros(3)
    if any(len(faces) == 0 for _, faces in sides):
        return most, where
    for (one, faces), (other, others) in (sides, sides[::-1]):
        looked = _looked_at(one, faces)
        away = np.linalg.norm(Surface.of_faces(other, others).nearest(looked) - looked, axis=1)
        k = int(np.argmax(away))
        if away[k] > most:
            most, where = float(away[k]), looked[k]
    return most, where


def _looked_at(mesh: Mesh, faces: Ints) -> Floats:
    """Corners, and middles of sides and of triangles: the mean of a bent face's corners lies off
    it."""
    at, starts = row_positions(mesh.starts, faces)
    corners = mesh.corners[at]
    places = mesh.points[corners]
    halves = 0.5 * (places + places[next_in_row(starts)])
    cells = triangulate(mesh.points, starts, corners).corners
    return np.concatenate([places, halves, mesh.points[cells].mean(axis=1)])
