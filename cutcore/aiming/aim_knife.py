"""Aiming: what is under the pointer, held by a lock if there is one, and the stretch that would
lead there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.aiming.locks import Guide, Lock, guide_for, on_grid
from cutcore.aiming.marks import UNSETTLED, Mark, Settling, mark_at
from cutcore.errors import CutError
from cutcore.geometry.arrays import Floats
from cutcore.geometry.camera import Camera, Pixel, View
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.ray_caster import Shown
from cutcore.tools.knife import knife
from cutcore.tools.knife.knife import KnifeLine, KnifeParams
from cutcore.trace.mirror import Mirror
from cutcore.trace.surface_points import OFF, FacePoint, KnifePoint, SurfacePoint, locate
from cutcore.trace.symmetry import Counterparts
from cutcore.trace.trace import Trace

# A place that was reckoned lies on the face under it if it is off by no more than this share of the part.
ON_THE_FACE = 1e-6


@dataclass(frozen=True)
class Question:
    """A pointer in a view; `start` is the last planned point of the line that would go on to it,
    `before` the one before that."""

    view: View
    pointer: Pixel
    settling: Settling
    lock: Lock
    start: KnifePoint | None
    before: KnifePoint | None
    length: float | None
    through: bool
    limit: tuple[int, ...] | None
    mirror: Mirror | None


@dataclass(frozen=True, eq=False)
class Aim:
    """The mark, its counterpart's place if there is a mirror (None if there is no counterpart), and
    the stretch."""

    mark: Mark
    guide: Guide | None
    counterpart: Floats | None
    trace: Trace | None
    refusal: str | None


def aim_at(mesh: Mesh, question: Question, shown: Shown | None) -> Aim:
    """Answer one pointer. A stretch that can't be laid is answered with the reason."""
    camera = Camera.of(question.view)
    try:
        start, before = (
            _surface_point(mesh, point, camera) for point in (question.start, question.before)
        )
    except CutError as why:
        # The part has changed under the plan: what lies under the pointer is told all the same.
        return Aim(
            mark_at(mesh, question.pointer, camera, question.settling, shown=shown),
            None,
            None,
            None,
            str(why),
        )
    guide = (
        guide_for(mesh, question.lock, start, before, question.pointer, camera) if start else None
    )
    pixel, settling = question.pointer, question.settling
    if question.lock.kind == "grid" and camera.parallel and not settling.free:
        x, y = on_grid(question.lock.spacing, pixel, camera)
        pixel, settling = (float(x), float(y)), UNSETTLED
    mark = mark_at(mesh, pixel, camera, settling, guide=guide, shown=shown)
    if question.length is not None and start is not None and start.kind != OFF:
        mark = _at_length(mesh, mark, start, guide, question.length, camera, shown)
    trace, refusal = _stretch(mesh, question, mark)
    counterpart = None if question.mirror is None else counterpart_of(mesh, mark, question.mirror)
    return Aim(mark, guide, counterpart, trace, refusal)


def counterpart_of(mesh: Mesh, mark: Mark, mirror: Mirror) -> Floats | None:
    """Where the mirror shows a mark, or None if nothing of the part is there."""
    if mark.place is None:
        return None
    surface_point = locate(mesh, mark.point, None, weld=weld_of(mesh))
    return (
        mirror.places(mark.place)
        if Counterparts(mesh, mirror, weld=weld_of(mesh)).of(surface_point) >= 0
        else None
    )


def _surface_point(mesh: Mesh, point: KnifePoint | None, camera: Camera) -> SurfacePoint | None:
    return None if point is None else locate(mesh, point, camera, weld=weld_of(mesh))


def _at_length(
    mesh: Mesh,
    mark: Mark,
    start: SurfacePoint,
    guide: Guide | None,
    length: float,
    camera: Camera,
    shown: Shown | None,
) -> Mark:
    """The mark at a length from the last point: along the guide, or towards where the pointer
    is."""
    if guide is not None:
        direction = guide.direction
    elif mark.place is not None and np.linalg.norm(mark.place - start.place) > 0:
        direction = (mark.place - start.place) / np.linalg.norm(mark.place - start.place)
    else:
        return mark
    goal = start.place + length * direction
    x, y = camera.project(goal[None])[0]
    found = mark_at(mesh, (float(x), float(y)), camera, UNSETTLED, shown=shown)
    if (
        isinstance(found.point, FacePoint)
        and found.place is not None
        and np.linalg.norm(found.place - goal) <= ON_THE_FACE * mesh.diagonal
    ):
        at = (float(goal[0]), float(goal[1]), float(goal[2]))
        return Mark("face", FacePoint(face=found.point.face, at=at), goal, found.words)
    return found


def _stretch(mesh: Mesh, question: Question, mark: Mark) -> tuple[Trace | None, str | None]:
    if question.start is None or question.start == mark.point:
        return None, None
    step = KnifeParams(
        lines=(KnifeLine(points=(question.start, mark.point)),),
        view=question.view,
        reach="through" if question.through else "near",
        limit=question.limit,
        mirror=question.mirror,
    )
    try:
        return knife.trace(mesh, step), None
    except CutError as why:
        return None, why.words
