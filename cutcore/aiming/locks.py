"""Locks: a fixed direction for the next stretch of a knife line.

A lock gives a guide: the plane of sight through the last point and a direction there. The next
point is looked for along it, and where the guide crosses an edge the share is worked out, not
measured."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.axes import AXES, axis_vector
from cutcore.geometry.camera import Camera, Pixel
from cutcore.geometry.multiples import nearest_multiple
from cutcore.geometry.plane import Plane
from cutcore.geometry.tolerances import NEGLIGIBLE, ROUNDING
from cutcore.geometry.vectors import PARALLEL, unit
from cutcore.mesh.mesh import Mesh
from cutcore.params import Params, Real
from cutcore.trace.surface_points import OFF, SurfacePoint
from cutcore.trace.trace import IN_FACE, ON_EDGE

# So small a step along a direction shows which way it runs on the screen.
SMALL_STEP = 1e-4

LockKind = Literal["free", "angle", "x", "y", "z", "square", "along", "grid"]


class Lock(Params):
    """How the next stretch is held.

    angle    by steps of `degrees`, or at exactly `value`, from a reference: the stretch before, the
             edge the
             point lies on, or the view's horizontal
    x, y, z  along an axis
    square   square to the edge the point lies on, within the face the pointer is over
    along    along that edge
    grid     points settle on a grid of the view with this `spacing`
    """

    kind: LockKind = "free"
    degrees: Annotated[Real, Field(gt=0, le=180)] = 15.0
    value: Real | None = Field(default=None, description="a typed angle in degrees")
    against: Literal["stretch", "edge", "view"] = "view"
    spacing: Annotated[Real, Field(gt=0)] = 10.0


@dataclass(frozen=True, eq=False)
class Guide:
    """A line that the next point is held to: from `origin` along `direction`; `angle` in degrees
    from the reference.

    `plane` is the plane of sight through it.
    """

    origin: Floats
    direction: Floats
    plane: Plane
    angle: float | None


def guide_for(
    mesh: Mesh,
    lock: Lock,
    start: SurfacePoint,
    before: SurfacePoint | None,
    pixel: Pixel,
    camera: Camera,
) -> Guide | None:
    """The guide that a lock gives for a pointer, or None where it gives none (free, or nothing to
    measure against)."""
    if lock.kind in ("free", "grid") or start.kind == OFF:
        return None
    origin = start.place
    face = _face_towards(mesh, start, pixel, camera)
    normal = unit(mesh.face_normals(np.array([face]))[0])
    angle: float | None = None
    if lock.kind in AXES:
        direction = axis_vector(lock.kind)
    elif lock.kind == "angle":
        found = (
            camera.right if lock.against == "view" else _reference(mesh, lock, start, before, face)
        )
        if found is None:
            return None
        if lock.against == "view":
            normal = -camera.forward
        reference = unit(found - (found @ normal) * normal)
        angle = (
            lock.value
            if lock.value is not None
            else _settled_angle(lock, origin, reference, normal, pixel, camera)
        )
        turn = np.radians(angle)
        direction = np.cos(turn) * reference + np.sin(turn) * cross(normal, reference)
    else:
        edge = _edge_of(mesh, start, face)
        if edge is None:
            return None
        direction = unit(edge) if lock.kind == "along" else unit(cross(normal, edge))
    sight = camera.sights(origin[None])[0]
    across = cross(direction, sight)
    if np.linalg.norm(across) <= PARALLEL:
        return None
    # The guide runs to the side the pointer is on.
    towards = _pixel_direction(origin, direction, camera)
    if (
        float((np.array(pixel) - camera.project(origin[None])[0]) @ towards) < 0
        and lock.value is None
        and lock.kind != "angle"
    ):
        direction = -direction
    return Guide(origin, direction, Plane.through(origin, across), angle)


def on_guide(guide: Guide, pixel: Pixel, camera: Camera) -> Floats:
    """The pixel (2,) of the guide that is nearest to a pointer."""
    start = camera.project(guide.origin[None])[0]
    towards = _pixel_direction(guide.origin, guide.direction, camera)
    return _seen(start + max(0.0, float((np.array(pixel) - start) @ towards)) * towards, pixel)


def on_grid(spacing: float, pixel: Pixel, camera: Camera) -> Floats:
    """The pixel (2,) of the nearest node of a parallel view's grid, whose origin is the part's own.

    Raises StepError in perspective, where a grid has no meaning.
    """
    if not camera.parallel:
        raise StepError(
            "the grid is that of a parallel view: take one of the fixed views", where="lock"
        )
    zero = camera.project(np.zeros((1, 3)))[0]
    step = spacing * camera.scale
    nodes = [nearest_multiple(float(away), step) for away in np.array(pixel) - zero]
    return _seen(zero + nodes, pixel)


def _seen(at: Floats, pixel: Pixel) -> Floats:
    """A pixel (2,), or the pointer's own where a view shows nothing that could be held to."""
    return at if np.isfinite(at).all() else np.array(pixel, dtype=np.float64)


def _settled_angle(
    lock: Lock, origin: Floats, reference: Floats, normal: Floats, pixel: Pixel, camera: Camera
) -> float:
    """The pointer's angle about the origin in the plane of the face, settled on the steps."""
    eye, sight = camera.rays(np.array([pixel], dtype=np.float64), reach=0.0)
    slope = float(sight[0] @ normal)
    if abs(slope) < NEGLIGIBLE:
        return 0.0
    reach = float((origin - eye[0]) @ normal) / slope
    away = eye[0] + reach * sight[0] - origin
    angle = np.degrees(np.arctan2(float(away @ cross(normal, reference)), float(away @ reference)))
    return nearest_multiple(float(angle), lock.degrees)


def _face_towards(mesh: Mesh, start: SurfacePoint, pixel: Pixel, camera: Camera) -> int:
    """The face at a surface point that a pointer lies over, or is nearest to."""
    if start.kind == IN_FACE:
        return start.element
    faces = start.faces(mesh)
    towards = np.array(pixel) - camera.project(start.place[None])[0]
    middles = (
        camera.project(np.array([mesh.points[mesh.face(f)].mean(axis=0) for f in faces]))
        - camera.project(start.place[None])[0]
    )
    facing = mesh.face_normals(np.array(faces)) @ camera.sights(start.place[None])[0] < 0
    score = np.where(facing, 1.0, 0.0) + (middles @ towards) / np.maximum(
        np.linalg.norm(middles, axis=1) * max(float(np.linalg.norm(towards)), ROUNDING), ROUNDING
    )
    return int(faces[int(np.argmax(score))])


def _reference(
    mesh: Mesh, lock: Lock, start: SurfacePoint, before: SurfacePoint | None, face: int
) -> Floats | None:
    if lock.against == "stretch":
        if before is None or before.kind == OFF:
            return None
        away = start.place - before.place
        return away if np.linalg.norm(away) > 0 else None
    return _edge_of(mesh, start, face)


def _edge_of(mesh: Mesh, start: SurfacePoint, face: int) -> Floats | None:
    """The direction (3,) of the edge a surface point lies on, from its lower vertex; at a vertex,
    of the edge of the face that goes out from it."""
    if start.kind == ON_EDGE:
        low, high = mesh.points[mesh.edges.ends[start.element]]
        return np.asarray(high - low)
    if start.kind == IN_FACE:
        return None
    loop = mesh.face(face).tolist()
    at = loop.index(start.element)
    return np.asarray(mesh.points[loop[(at + 1) % len(loop)]] - mesh.points[start.element])


def _pixel_direction(origin: Floats, direction: Floats, camera: Camera) -> Floats:
    """The unit direction (2,) on the screen of a direction in space."""
    depth = 1.0 if camera.parallel else max(float(camera.depth(origin[None])[0]), NEGLIGIBLE)
    a, b = camera.project(np.stack([origin, origin + SMALL_STEP * depth * direction]))
    return unit(b - a)
