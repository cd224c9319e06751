"""One cut finished in every way there is, to be compared."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.errors import CutError
from cutcore.geometry.arrays import Floats, Ints, next_in_row, row_positions
from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.previews.mending import Mending, mending_of
from cutcore.queries.flow import FlowCounts, flow_counts, flow_counts_after
from cutcore.queries.nearest import Surface
from cutcore.steps.registry import Step
from cutcore.steps.replay import apply_step
from cutcore.tool import Cutting, finishes_of


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
    """A cut in each of the ways that its tool may finish it; none for a step that knows but one."""
    if not isinstance(step, Cutting):
        return []
    return [
        _shown(mesh, step.model_copy(update={"finish": finish}), finish, camera)
        for finish in finishes_of(step)
    ]


def _shown(mesh: Mesh, step: Step, finish: str, camera: Camera | None) -> FinishShown:
    before = flow_counts(mesh)
    try:
        result = apply_step(mesh, step)
    except CutError as refusal:
        return FinishShown(finish, before, before, None, 0.0, np.zeros(3), refusal)
    moved, where = surface_moved(mesh, result)
    after = flow_counts_after(mesh, result)
    mending = mending_of(mesh, result, camera)
    return FinishShown(finish, before, after, mending, moved, where, None)


def surface_moved(mesh: Mesh, result: Result) -> tuple[float, Floats]:
    """How far the surface moves at most by a cut, and where: corners, middles of sides and of faces
    are looked at, of the faces that changed, both ways."""
    made = result.mesh
    gone = np.flatnonzero(result.origin.kept < 0)
    fresh = np.ones(made.face_count, dtype=bool)
    fresh[result.origin.kept[result.origin.kept >= 0]] = False
    come = np.flatnonzero(fresh)
    if len(gone) == 0 or len(come) == 0:
        return 0.0, np.zeros(3)
    most, where = 0.0, np.zeros(3)
    for one, faces, other, others in ((made, come, mesh, gone), (mesh, gone, made, come)):
        looked = _looked_at(one, faces)
        away = np.linalg.norm(Surface.of_faces(other, others).nearest(looked) - looked, axis=1)
        k = int(np.argmax(away))
        if away[k] > most:
            most, where = float(away[k]), looked[k]
    return most, where


def _looked_at(mesh: Mesh, faces: Ints) -> Floats:
    at, starts = row_positions(mesh.starts, faces)
    places = mesh.points[mesh.corners[at]]
    halves = 0.5 * (places + places[next_in_row(starts)])
    middles = np.add.reduceat(places, starts[:-1]) / np.diff(starts)[:, None]
    return np.concatenate([places, halves, middles])
