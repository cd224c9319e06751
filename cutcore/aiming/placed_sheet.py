"""Sheets placed before a part: where an outline stands in space, and the handles that move, turn
and size it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.aiming.marks import Mark, Settling, mark_at
from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats
from cutcore.geometry.camera import Camera, Pixel, Vector
from cutcore.geometry.placement import Placement
from cutcore.mesh.mesh import Mesh
from cutcore.outlines.drawn import SheetCurve
from cutcore.outlines.sheet_axes import sheet_axes
from cutcore.params import Params, Real
from cutcore.queries.ray_caster import Shown, first_hits
from cutcore.queries.visibility import reach_of

# A face whose plane and the sight differ by less than this sine is seen edge-on.
SEEN_EDGE_ON = 1e-3
SMALLEST_SCALE = 1e-3
# A frame round a shape without extent still has one.
SMALLEST_FRAME = 1e-6

SheetHandle = Literal["place", "turn", "scale"]
Facing = Literal["face", "view", "x", "y", "z", "-x", "-y", "-z"]

# Turned sheets settle on steps of so many degrees.
TURN_STEP_DEGREES = 15.0
# The middles of faces and of the part are taken from so many pixels away.
SETTLE_PIXELS = 12.0


class PlacedSheet(Params):
    """A sheet: its `centre` on the part, its unit `normal` towards whoever looks at it, turned in
    its plane by `turn` degrees counter-clockwise, sized by `scale`, and standing `lift` before its
    centre."""

    centre: Vector = (0.0, 0.0, 0.0)
    normal: Vector = (0.0, 0.0, 1.0)
    turn: Real = 0.0
    scale: Annotated[Real, Field(gt=0, le=1e6)] = 1.0
    lift: Real = 0.0

    def axes(self) -> tuple[Floats, Floats, Floats]:
        """The directions right, up and out of the sheet. Raises StepError for a normal of no
        length."""
        size = float(np.linalg.norm(self.normal))
        if size == 0.0:
            raise StepError("a sheet needs a normal that is not zero", where="sheet.normal")
        normal = np.array(self.normal) / size
        right, up = sheet_axes(normal)
        angle = np.radians(self.turn)
        return (
            np.cos(angle) * right + np.sin(angle) * up,
            np.cos(angle) * up - np.sin(angle) * right,
            normal,
        )

    def places(self, points: Floats) -> Floats:
        """Points (n, 3) of the sheet as places in space."""
        right, up, normal = self.axes()
        local = self.scale * points
        return np.array(self.centre) + self.lift * normal + local @ np.stack([right, up, normal])

    def on_table(self, placement: Placement) -> PlacedSheet:
        """This sheet, that stands before a part, as it stands on the table."""
        return self._turned(placement.rotation, placement.places(np.array([self.centre]))[0])

    def before(self, placement: Placement) -> PlacedSheet:
        """This sheet, that stands on the table, as it stands before a part."""
        return self._turned(placement.rotation.T, placement.local(np.array([self.centre]))[0])

    def _turned(self, rotation: Floats, centre: Floats) -> PlacedSheet:
        """The sheet turned by a matrix (3, 3), with its centre elsewhere."""
        right, _, normal = (rotation @ axis for axis in self.axes())
        level, plumb = sheet_axes(normal)
        turn = float(np.degrees(np.arctan2(right @ plumb, right @ level)))
        return self.model_copy(
            update={
                "centre": tuple(centre.tolist()),
                "normal": tuple(normal.tolist()),
                "turn": round(turn, 9) + 0.0,
            }
        )


@dataclass(frozen=True, eq=False)
class Standing:
    """A placed sheet: `frame (4, 3)` round its outline, and the places of its handles."""

    placed: PlacedSheet
    frame: Floats
    handles: dict[SheetHandle, Floats]
    on: str | None


def standing(placed: PlacedSheet, curves: list[SheetCurve], on: str | None = None) -> Standing:
    """Where the frame and the handles of a sheet with some curves are; `on` says what its centre
    was set on."""
    x, y = _reach(curves)
    corners = np.array([[-x, -y, 0.0], [x, -y, 0.0], [x, y, 0.0], [-x, y, 0.0]])
    frame = placed.places(1.1 * corners)
    grips = placed.places(
        np.array([[0.0, 0.0, 0.0], [0.0, 1.1 * y + 0.25 * max(x, y), 0.0], [1.1 * x, 1.1 * y, 0.0]])
    )
    return Standing(placed, frame, {"place": grips[0], "turn": grips[1], "scale": grips[2]}, on)


def pulled(
    mesh: Mesh,
    placed: PlacedSheet,
    handle: SheetHandle,
    pixel: Pixel,
    camera: Camera,
    *,
    facing: Facing,
    curves: list[SheetCurve],
    free: bool,
    shown: Shown | None,
) -> tuple[PlacedSheet, str | None]:
    """The sheet once a handle was pulled under a pointer, and what it was set on.

    Placed over the part, it stands on what is under the pointer, the middle of a face or of the
    part near by, faced as `facing` says; beside the part it slides in its own plane. `free`
    suspends settling."""
    if handle == "place":
        mark = mark_at(mesh, pixel, camera, Settling(free=free), shown=shown)
        if mark.place is not None:
            face, _ = _face_under(mesh, pixel, camera, shown)
            at, words = (
                (mark.place, mark.words)
                if free
                else _settled(mesh, face, mark, pixel, camera, shown)
            )
            normal = facing_normal(mesh, facing, face, camera)
            kept = placed.normal if normal is None else tuple(float(n) for n in normal)
            return placed.model_copy(
                update={"centre": tuple(float(c) for c in at), "normal": kept}
            ), words
    right, up, normal = placed.axes()
    eye, sight = camera.ray(pixel, reach=0.0)
    slope = float(sight @ normal)
    if abs(slope) < SEEN_EDGE_ON:
        return placed, None
    origin = np.array(placed.centre) + placed.lift * normal
    away = eye + float((origin - eye) @ normal) / slope * sight - origin
    if handle == "place":
        return placed.model_copy(
            update={"centre": tuple(float(c) for c in np.array(placed.centre) + away)}
        ), None
    if handle == "turn":
        turn = placed.turn + float(np.degrees(np.arctan2(-(away @ right), away @ up)))
        turn = turn if free else round(turn / TURN_STEP_DEGREES) * TURN_STEP_DEGREES
        return placed.model_copy(update={"turn": (turn + 180.0) % 360.0 - 180.0}), None
    x, y = _reach(curves)
    scale = max(float(np.linalg.norm(away)) / (1.1 * float(np.hypot(x, y))), SMALLEST_SCALE)
    return placed.model_copy(update={"scale": scale if free else float(f"{scale:.2g}")}), None


def facing_normal(mesh: Mesh, facing: Facing, face: int, camera: Camera | None) -> Floats | None:
    """The unit normal of a sheet that is to face a face, the view or along an axis; None if there
    is nothing to face."""
    if facing == "face":
        if face < 0:
            return None
        normal = mesh.face_normals(np.array([face]))[0]
        return np.asarray(normal / np.linalg.norm(normal))
    if facing == "view":
        return None if camera is None else np.asarray(-camera.forward)
    along = np.eye(3)["xyz".index(facing[-1])]
    return -along if facing.startswith("-") else along


def _reach(curves: list[SheetCurve]) -> tuple[float, float]:
    """How far curves reach from the middle of their sheet, to either side and up or down; never
    nothing."""
    places = np.abs(np.concatenate([curve.points for curve in curves]))[:, :2].max(axis=0)
    least = SMALLEST_FRAME + 0.02 * float(places.max())
    return max(float(places[0]), least), max(float(places[1]), least)


def _face_under(
    mesh: Mesh, pixel: Pixel | Floats, camera: Camera, shown: Shown | None
) -> tuple[int, Floats]:
    """The face under a pixel, or -1, and the place there."""
    origin, sight = camera.ray(pixel, reach=reach_of(mesh, camera))
    hit = first_hits(mesh, origin[None], sight[None], shown)
    return int(hit.face[0]), origin + sight * (hit.distance[0] if hit.face[0] >= 0 else 0.0)


def _settled(
    mesh: Mesh, face: int, mark: Mark, pixel: Pixel, camera: Camera, shown: Shown | None
) -> tuple[Floats, str]:
    """Where a sheet is set: on a vertex, the surface before the part's middle, the middle of a
    face, else the mark."""
    assert mark.place is not None
    if mark.kind == "vertex":
        return mark.place, mark.words
    middle = camera.project(mesh.box.mean(axis=0)[None])[0]
    if float(np.linalg.norm(middle - pixel)) <= SETTLE_PIXELS:
        under, place = _face_under(mesh, middle, camera, shown)
        if under >= 0:
            return place, "the part's middle"
    if face >= 0:
        centre = mesh.points[mesh.face(face)].mean(axis=0)
        if float(np.linalg.norm(camera.project(centre[None])[0] - pixel)) <= SETTLE_PIXELS:
            return centre, f"the middle of face {face}"
    return mark.place, mark.words
