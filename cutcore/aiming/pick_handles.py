"""Handles of a pick: where they stand, and what pulling one of them means."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from cutcore.aiming.placed_plane import SEEN_EDGE_ON, nearest_on_line, per_pixel, round_step
from cutcore.geometry.arrays import Floats, Ints, cross
from cutcore.geometry.axes import AXES
from cutcore.geometry.camera import Camera, Pixel, Vector
from cutcore.geometry.multiples import nearest_multiple
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.geometry.vectors import unit
from cutcore.mesh.mesh import Mesh
from cutcore.params import Params, Real
from cutcore.queries.measure import vertices_of
from cutcore.reshape.placing.move import Scale, Shift, Turn
from cutcore.tool import Place

# What is taken hold of: an axis, the normal of the pick or its edge, a plane of two axes, the plane
# of the view, or all axes at once.
Grip = Literal["x", "y", "z", "normal", "edge", "xy", "yz", "xz", "view", "all"]
# Factors settle on twentieths.
FACTOR_STEP = 0.05


class Held(Params):
    """A handle that is held, and what it had moved already when it was taken."""

    way: Literal["shift", "turn", "scale"]
    grip: Grip
    by: Vector = (0.0, 0.0, 0.0)
    degrees: Real = 0.0
    factors: Vector = (1.0, 1.0, 1.0)


class Settles(Params):
    """How pulling settles: on whole `stop`s of length (null for the roundest number near by), on
    angles by a `step`, on places of a `grid`; `free` on nothing."""

    stop: Real | None = None
    step: Real = 15.0
    grid: bool = False
    free: bool = False


@dataclass(frozen=True, eq=False)
class PickStanding:
    """Where the handles of a pick stand: its middle (3,), its unit normal and the unit direction of
    its edge, None where it has none."""

    middle: Floats
    normal: Floats | None
    edge: Floats | None

    def direction(self, grip: str) -> Floats | None:
        """The unit direction of a grip that has one."""
        if grip in AXES:
            return np.eye(3)[AXES[grip]]
        return self.normal if grip == "normal" else self.edge if grip == "edge" else None


def pick_standing(
    mesh: Mesh, vertices: Ints, edges: Ints, faces: Ints, at: Vector | None
) -> PickStanding:
    """The handles of picked elements, at their middle or at a chosen place."""
    chosen = vertices_of(mesh, vertices, edges, faces)
    middle = mesh.points[chosen].mean(axis=0) if at is None else np.array(at)
    beside = faces
    if len(faces) == 0 and len(chosen) < mesh.vertex_count:
        among = np.zeros(mesh.vertex_count, dtype=bool)
        among[chosen] = True
        beside = np.flatnonzero(np.logical_or.reduceat(among[mesh.corners], mesh.starts[:-1]))
    total = mesh.face_normals(beside).sum(axis=0) if len(beside) else np.zeros(3)
    sized = float(np.linalg.norm(total)) > NEGLIGIBLE * mesh.diagonal**2
    edge = None
    if len(edges) == 1:
        a, b = mesh.points[mesh.edges.ends[edges[0]]]
        edge = unit(b - a) if (b != a).any() else None
    return PickStanding(middle, unit(total) if sized else None, edge)


@dataclass(frozen=True, eq=False)
class Pull:
    """A handle that was pressed at one pixel and is now at another."""

    standing: PickStanding
    held: Held
    pressed: Pixel
    pointer: Pixel
    camera: Camera
    settles: Settles


def pulled(pull: Pull, onto: Floats | None = None) -> Shift | Turn | Scale:
    """What pulling a handle means. With `onto` (3,) a shift brings the middle there, as far as its
    grip can go."""
    standing, held, camera = pull.standing, pull.held, pull.camera
    if held.way == "turn":
        return _turn(pull)
    if held.way == "scale":
        return _scale(pull)
    began = np.array(held.by)
    here = standing.middle + began
    if onto is not None:
        return Shift(by=_place(began + _within(standing, held.grip, onto - here, camera)))
    ends = (pull.pressed, pull.pointer)
    goals = [_reached(standing, held.grip, here, pixel, camera) for pixel in ends]
    if goals[0] is None or goals[1] is None:
        return Shift(by=_place(began))
    by = began + goals[1] - goals[0]
    return Shift(by=_place(_settled(pull, by, per_pixel(here, camera))))


def slid(
    here: Place, left: Place | None, right: Place | None, pointer: Pixel, camera: Camera
) -> float:
    """How far to slide for a pointer: the share (-1..1) of the edge to the left, or below 0 of that
    to the right, which the pointer is nearest to."""
    best, found = np.inf, 0.0
    at = np.array(here)
    eye, sight = camera.ray(pointer, reach=0.0)
    for sign, end in ((1.0, left), (-1.0, right)):
        if end is None:
            continue
        way = np.array(end) - at
        length = float(np.linalg.norm(way))
        if length == 0.0:
            continue
        share = float(np.clip(nearest_on_line(at, way / length, eye, sight) / length, 0.0, 1.0))
        pixel = camera.project((at + share * way)[None])[0]
        gap = float(np.linalg.norm(pixel - np.array(pointer)))
        if gap < best:
            best, found = gap, sign * share
    return found


def _place(values: Floats) -> Vector:
    x, y, z = (float(value) + 0.0 for value in values)
    return x, y, z


def _plane(standing: PickStanding, grip: str, camera: Camera) -> Floats:
    """The unit normal of the plane that a grip moves in."""
    if grip in ("xy", "yz", "xz"):
        return np.eye(3)[next(k for k, axis in enumerate("xyz") if axis not in grip)]
    return camera.forward


def _within(standing: PickStanding, grip: str, way: Floats, camera: Camera) -> Floats:
    """As much of a way as a grip can go."""
    along = standing.direction(grip)
    if along is not None:
        return np.asarray(float(way @ along) * along)
    if grip in ("view", "all"):
        return way
    normal = _plane(standing, grip, camera)
    return np.asarray(way - float(way @ normal) * normal)


def _reached(
    standing: PickStanding, grip: str, here: Floats, pixel: Pixel, camera: Camera
) -> Floats | None:
    """The place under a pixel that a grip can go to from a place; None where it is seen edge-on."""
    eye, sight = camera.ray(pixel, reach=0.0)
    along = standing.direction(grip)
    if along is not None:
        return np.asarray(here + nearest_on_line(here, along, eye, sight) * along)
    normal = _plane(standing, grip, camera)
    slope = float(sight @ normal)
    if abs(slope) < SEEN_EDGE_ON:
        return None
    return np.asarray(eye + float((here - eye) @ normal) / slope * sight)


def _settled(pull: Pull, by: Floats, pixel: float) -> Floats:
    """A shift on its stops: along its direction, or along each axis it goes along."""
    standing, grip, settles = pull.standing, pull.held.grip, pull.settles
    if settles.free or grip in ("view", "all"):
        return by
    stop = settles.stop if settles.stop else round_step(pixel)
    along = standing.direction(grip)
    if along is not None and grip not in AXES:
        length = float(by @ along)
        return np.asarray(by + (nearest_multiple(length, stop) - length) * along)
    made = by.copy()
    for k, axis in enumerate("xyz"):
        if axis in grip:
            origin = float(standing.middle[k]) if settles.grid else 0.0
            # In so many digits as the stop has: no rests of rounding.
            made[k] = float(f"{nearest_multiple(float(by[k]) + origin, stop) - origin:.12g}")
    return made


def _turn(pull: Pull) -> Turn:
    standing, held, camera, settles = pull.standing, pull.held, pull.camera, pull.settles
    axis = standing.direction(held.grip)
    if axis is None:
        axis = -camera.forward
    centre = camera.project(standing.middle[None])[0]
    angles = []
    for pixel in (pull.pressed, pull.pointer):
        eye, sight = camera.ray(pixel, reach=0.0)
        slope = float(sight @ axis)
        if abs(slope) > 0.2:
            away = eye + float((standing.middle - eye) @ axis) / slope * sight - standing.middle
            first = unit(
                cross(axis, camera.up if abs(float(camera.up @ axis)) < 0.9 else camera.right)
            )
            angles.append(float(np.arctan2(away @ cross(axis, first), away @ first)))
        else:
            # Seen from the side it is read on the screen, as if it looked at the eye.
            x, y = np.array(pixel) - centre
            sign = 1.0 if float(axis @ camera.forward) <= 0 else -1.0
            angles.append(sign * float(np.arctan2(-y, x)))
    turned = (np.degrees(angles[1] - angles[0]) + 540.0) % 360.0 - 180.0
    degrees = held.degrees + turned
    if not settles.free:
        degrees = nearest_multiple(degrees, settles.step)
    return Turn(about=_place(standing.middle), axis=_place(axis), degrees=float(degrees))


def _scale(pull: Pull) -> Scale:
    standing, held, camera = pull.standing, pull.held, pull.camera
    centre = camera.project(standing.middle[None])[0]
    along = standing.direction(held.grip)
    ways = [np.array(pixel) - centre for pixel in (pull.pressed, pull.pointer)]
    if along is not None:
        reach = per_pixel(standing.middle, camera)
        tip = camera.project((standing.middle + reach * along)[None])[0] - centre
        spans = [float(way @ tip) for way in ways]
    else:
        spans = [float(np.linalg.norm(way)) for way in ways]
    factor = spans[1] / spans[0] if abs(spans[0]) > NEGLIGIBLE else 1.0
    factors = np.array(held.factors)
    axes = [k for k, axis in enumerate("xyz") if held.grip == "all" or axis in held.grip]
    for k in axes:
        factors[k] *= factor
        if not pull.settles.free:
            factors[k] = float(f"{round(factors[k] / FACTOR_STEP) * FACTOR_STEP:.12g}")
    return Scale(about=_place(standing.middle), factors=_place(factors))
