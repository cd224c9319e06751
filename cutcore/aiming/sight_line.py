"""The ends of a line drawn across a view: held by a lock, settled on what is under them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.aiming.locks import SMALL_STEP, Lock, guide_for, on_grid, on_guide
from cutcore.aiming.marks import UNSETTLED, Mark, Settling, mark_at
from cutcore.geometry.arrays import Floats
from cutcore.geometry.axes import AXES, axis_vector
from cutcore.geometry.camera import Camera, Pixel
from cutcore.geometry.multiples import nearest_multiple
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.ray_caster import Shown
from cutcore.trace.surface_points import OFF, SurfacePoint, locate


@dataclass(frozen=True, eq=False)
class LineEnd:
    """Where an end of a line comes to lie: the mark there (off the part, too), its pixel, and the
    line's angle in degrees from the view's horizontal, if it has begun."""

    mark: Mark
    pixel: Pixel
    angle: float | None


def line_end(
    mesh: Mesh,
    pointer: Pixel,
    camera: Camera,
    settling: Settling,
    lock: Lock,
    start: Pixel | None,
    *,
    shown: Shown | None = None,
) -> LineEnd:
    """The end of a line under a pointer; `start` is its other end. A vertex or stop under the
    pointer takes it exactly, unless a lock holds the line: then the end is put where the lock meets
    the pointer best."""
    pixel, held = pointer, False
    if lock.kind == "grid" and camera.parallel and not settling.free:
        x, y = on_grid(lock.spacing, pointer, camera)
        pixel, held = (float(x), float(y)), True
    elif start is not None and lock.kind not in ("free", "grid"):
        found = _held(mesh, lock, start, pointer, camera, shown)
        if found is not None:
            pixel, held = found, True
    mark = mark_at(mesh, pixel, camera, UNSETTLED if held else settling, shown=shown)
    if not held and mark.place is not None and mark.kind != "face":
        x, y = camera.project(mark.place[None])[0]
        pixel = (float(x), float(y))
    angle = None
    if start is not None and start != pixel:
        angle = float(np.degrees(np.arctan2(start[1] - pixel[1], pixel[0] - start[0])))
    return LineEnd(mark, pixel, angle)


def _held(
    mesh: Mesh, lock: Lock, start: Pixel, pointer: Pixel, camera: Camera, shown: Shown | None
) -> Pixel | None:
    """The pixel on the lock's line through the start that is nearest to the pointer; None where the
    lock gives no line."""
    surface_point = _spot_under(mesh, start, camera, shown)
    guide = guide_for(mesh, lock, surface_point, None, pointer, camera)
    if guide is not None:
        x, y = on_guide(guide, pointer, camera)
        return float(x), float(y)
    away = np.array(pointer) - np.array(start)
    if lock.kind == "angle":
        degrees = np.degrees(np.arctan2(-away[1], away[0]))
        turn = np.radians(
            lock.value if lock.value is not None else nearest_multiple(float(degrees), lock.degrees)
        )
        towards = np.array([np.cos(turn), -np.sin(turn)])
    elif lock.kind in AXES:
        middle = mesh.box.mean(axis=0)
        a, b = camera.project(
            np.stack([middle, middle + SMALL_STEP * mesh.diagonal * axis_vector(lock.kind)])
        )
        size = float(np.linalg.norm(b - a))
        if not size > NEGLIGIBLE:
            return None
        towards = (b - a) / size
    else:
        return None
    x, y = np.array(start) + float(away @ towards) * towards
    return float(x), float(y)


def _spot_under(mesh: Mesh, pixel: Pixel, camera: Camera, shown: Shown | None) -> SurfacePoint:
    """What lies under the start of the line: off the part, nothing."""
    mark = mark_at(mesh, pixel, camera, UNSETTLED, shown=shown)
    nowhere: Floats = np.zeros(3)
    return (
        SurfacePoint(OFF, -1, 0.0, nowhere)
        if mark.place is None
        else locate(mesh, mark.point, camera, weld=weld_of(mesh))
    )
