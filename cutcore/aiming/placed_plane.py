"""A plane as a person places it: square to an axis, on a face or through three vertices; then
shifted and tilted.

The handles that move and turn it on the screen are answered here too, so that what they settle on
is exact."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.axes import AXES, Axis, axis_vector
from cutcore.geometry.camera import Camera, Pixel
from cutcore.geometry.multiples import nearest_multiple
from cutcore.geometry.plane import Plane
from cutcore.geometry.tolerances import NEGLIGIBLE, ROUNDING
from cutcore.geometry.vectors import turned
from cutcore.mesh.mesh import Mesh
from cutcore.params import Index, Params, Real
from cutcore.queries.named_elements import face_mask, vertex_mask
from cutcore.queries.plane_frame import frame_round

# An axis is seen end-on if less than this share of it is across the sight, squared; a plane edge-on
# below this sine.
SEEN_END_ON = 1e-4
SEEN_EDGE_ON = 1e-6

# A handle settles on a vertex, or on a round number, within so many pixels.
SETTLE_PIXELS = 6.0
TILT_STEP_DEGREES = 5.0

Handle = Literal["move", "first", "second", "centre"]


class PlacedPlane(Params):
    """Where a plane stands.

    by       what gives its direction and where it stands before it is shifted: an axis (then
             `offset` is the
             coordinate on it), a face, or three vertices
    tilt     degrees about the first and then about the second direction in the plane, right-handed
    flipped  the normal points the other way
    pushes   it is the face itself that is pushed: the handles stand over it, not over the middle of
             the part
    """

    by: Literal["axis", "face", "vertices"] = "axis"
    axis: Axis = "y"
    face: Index | None = None
    vertices: tuple[Index, Index, Index] | None = None
    offset: Real = 0.0
    tilt: tuple[
        Annotated[Real, Field(gt=-180, le=180)], Annotated[Real, Field(gt=-180, le=180)]
    ] = (0.0, 0.0)
    flipped: bool = False
    pushes: bool = False


@dataclass(frozen=True, eq=False)
class Standing:
    """A placed plane with what is drawn of it: its `frame (4, 3)` and the places (3,) of its
    handles."""

    plane: Plane
    centre: Floats
    first: Floats
    second: Floats
    frame: Floats

    def handles(self) -> dict[Handle, Floats]:
        """Where the handles are: one on the normal and one at the centre that move it, two at the
        rim that turn it."""
        wide, long = (float(np.linalg.norm(self.frame[k] - self.frame[0])) for k in (1, 3))
        return {
            "centre": self.centre,
            "move": self.centre + 0.09 * (wide + long) * self.plane.normal,
            "first": self.centre + 0.5 * long * self.second,
            "second": self.centre + 0.5 * wide * self.first,
        }


def standing(mesh: Mesh, placed: PlacedPlane) -> Standing:
    """The plane itself. Raises StepError if what it is placed by is not there, or three vertices
    lie on one line."""
    origin, normal, first = _base(mesh, placed)
    second = cross(normal, first)
    about_first, about_second = np.radians(placed.tilt)
    normal, second = turned(normal, first, about_first), turned(second, first, about_first)
    normal, first = turned(normal, second, about_second), turned(first, second, about_second)
    if placed.flipped:
        normal, first = -normal, -first
    plane = Plane(origin, normal)
    middle = mesh.box.mean(axis=0)
    centre = origin if placed.pushes else middle - float(plane.heights(middle[None])[0]) * normal
    return Standing(plane, centre, first, second, frame_round(mesh, centre, first, second))


def dragged(
    mesh: Mesh,
    placed: PlacedPlane,
    handle: Handle,
    pixel: Pixel,
    camera: Camera,
    *,
    free: bool = False,
) -> PlacedPlane:
    """The plane as it stands once a handle was pulled under a pointer.

    Moved planes settle on the part's vertices, else on round numbers; tilted ones on steps of 5
    degrees. `free` suspends that."""
    now = standing(mesh, placed)
    eye, sight = camera.ray(pixel, reach=0.0)
    if handle in ("move", "centre"):
        at = now.handles()[handle]
        along = -now.plane.normal if placed.flipped else now.plane.normal
        shift = nearest_on_line(at, along, eye, sight)
        goal = placed.offset + shift
        return placed.model_copy(
            update={"offset": goal if free else _settled(mesh, placed, goal, per_pixel(at, camera))}
        )
    # The plane is set upright about the direction the handle does not lie on, and the pointer read
    # in the plane square to it.
    which = 0 if handle == "first" else 1
    straight = placed.model_copy(
        update={
            "tilt": (0.0, placed.tilt[1]) if which == 0 else (placed.tilt[0], 0.0),
            "flipped": False,
        }
    )
    base = standing(mesh, straight)
    axis, lever = (base.first, base.second) if which == 0 else (base.second, base.first)
    slope = float(sight @ axis)
    if abs(slope) < 0.05:
        return placed
    away = eye + float((now.centre - eye) @ axis) / slope * sight - now.centre
    angle = float(np.degrees(np.arctan2(away @ cross(axis, lever), away @ lever)))
    if not free:
        angle = round(angle / TILT_STEP_DEGREES) * TILT_STEP_DEGREES
    angle = angle if -180 < angle <= 180 else 180.0
    return placed.model_copy(
        update={"tilt": (angle, placed.tilt[1]) if which == 0 else (placed.tilt[0], angle)}
    )


def _base(mesh: Mesh, placed: PlacedPlane) -> tuple[Floats, Floats, Floats]:
    """A point, the unit normal and a unit direction square to it, before tilting."""
    if placed.by == "axis":
        k = AXES[placed.axis]
        origin = mesh.box.mean(axis=0)
        origin[k] = placed.offset
        return origin, axis_vector(placed.axis), np.eye(3)[(k + 1) % 3]
    if placed.by == "face":
        if placed.face is None:
            raise StepError("pick the face that the plane is to lie on", where="face")
        face_mask(mesh, [placed.face], where="face")
        corners = mesh.points[mesh.face(placed.face)]
        normal, origin = mesh.face_normals(np.array([placed.face]))[0], corners.mean(axis=0)
        along = corners[1] - corners[0]
    else:
        if placed.vertices is None:
            raise StepError(
                "pick the three vertices that the plane is to go through", where="vertices"
            )
        vertex_mask(mesh, placed.vertices)
        a, b, c = mesh.points[list(placed.vertices)]
        normal, origin, along = cross(b - a, c - a), a, b - a
    size = float(np.linalg.norm(normal))
    if size <= ROUNDING * mesh.diagonal**2:
        raise StepError("the three vertices lie on one line: they give no plane", where=placed.by)
    normal = normal / size
    along = along - float(along @ normal) * normal
    return origin + placed.offset * normal, normal, along / np.linalg.norm(along)


def nearest_on_line(at: Floats, along: Floats, eye: Floats, sight: Floats) -> float:
    """How far along a line from a place on it lies nearest to a line of sight."""
    slope = float(along @ sight)
    if 1.0 - slope**2 < SEEN_END_ON:
        return 0.0
    away = eye - at
    return float((away @ along - (away @ sight) * slope) / (1.0 - slope**2))


def per_pixel(at: Floats, camera: Camera) -> float:
    """How long a pixel is at a place."""
    return (
        1.0 / camera.scale
        if camera.parallel
        else max(float(camera.depth(at[None])[0]), NEGLIGIBLE) / camera.scale
    )


def _settled(mesh: Mesh, placed: PlacedPlane, goal: float, per_pixel: float) -> float:
    """The offset at which the plane goes through a vertex near by; else the roundest number near
    by."""
    zero = standing(mesh, placed.model_copy(update={"offset": 0.0, "flipped": False})).plane
    # Offsets count along the base normal; what a tilted plane covers per unit of it is the slope
    # between the two.
    base = _base(mesh, placed)[1]
    slope = float(zero.normal @ base)
    if abs(slope) > SEEN_EDGE_ON:
        offsets = zero.heights(mesh.points) / slope
        nearest = float(offsets[int(np.argmin(np.abs(offsets - goal)))])
        if abs(nearest - goal) <= SETTLE_PIXELS * per_pixel:
            return nearest
    step = round_step(per_pixel)
    return nearest_multiple(goal, step)


def round_step(per_pixel: float) -> float:
    """The largest power of ten that is no longer than what the pointer settles over."""
    return float(10.0 ** np.floor(np.log10(max(SETTLE_PIXELS * per_pixel, ROUNDING))))
