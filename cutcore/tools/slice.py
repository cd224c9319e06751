"""Slice: by a plane, or along the plane of sight through a line drawn across the view."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, Self

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from cutcore.arrays import Bools, Floats, Ints, cross
from cutcore.caps import capped
from cutcore.errors import StepError
from cutcore.imprint import imprint
from cutcore.limits import limit_mask
from cutcore.mesh import Mesh
from cutcore.notes import Note
from cutcore.plane import Plane
from cutcore.result import Origin, Picked, Result
from cutcore.section import section, sides
from cutcore.section_trace import trace_of_section
from cutcore.tolerance import weld_of
from cutcore.tools.common import Cutting
from cutcore.trace import Trace
from cutcore.view import Camera, Pixel, Vector, View
from cutcore.without import moved, then, without_faces

MISSED = Note("slice-misses", "The plane does not meet the part.")


class PlaneParams(BaseModel):
    """A plane by a point and a normal of any length."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    point: Vector
    normal: Vector


class ScreenLine(BaseModel):
    """A line across a view, in pixels; what lies right of it, seen from `from` to `to`, is the normal's side."""

    model_config = ConfigDict(extra="forbid", frozen=True, serialize_by_alias=True)

    start: Pixel = Field(alias="from")
    to: Pixel


class SliceParams(Cutting):
    """A plane cut. `discard` takes away the side the normal points to; `part` moves each side by half of `gap`."""

    tool: Literal["slice"] = "slice"
    plane: PlaneParams | None = None
    line: ScreenLine | None = None
    view: View | None = None
    then: Literal["keep", "discard", "part"] = "keep"
    gap: Vector = (0.0, 0.0, 0.0)
    cap: bool = False

    @model_validator(mode="after")
    def _has_one_plane(self) -> Self:
        if (self.plane is None) == (self.line is None):
            raise ValueError("a slice needs either a plane or a line")
        if self.line is not None and self.view is None:
            raise ValueError("a line across the view needs the view")
        if self.then == "part" and (self.limit is not None or self.mirror is not None):
            raise ValueError("the sides can be parted only where the cut goes through the whole part: lift limit and mirror")
        return self


def planes_of(params: SliceParams) -> list[Plane]:
    """The plane of a slice, and its counterpart if there is a mirror."""
    if params.plane is not None:
        try:
            plane = Plane.through(np.array(params.plane.point), np.array(params.plane.normal))
        except StepError as refusal:
            raise refusal.at("plane.normal") from refusal
    else:
        assert params.line is not None and params.view is not None  # the model has checked this
        plane = _plane_of_sight(params.line, Camera.of(params.view))
    return [plane] if params.mirror is None else [plane, params.mirror.plane(plane)]


def trace(mesh: Mesh, params: SliceParams, *, weld: float | None = None) -> Trace:
    """The section of the part by the plane, within the limit."""
    tolerance = weld_of(mesh) if weld is None else weld
    limit = limit_mask(mesh, params.limit)
    made = Trace.together([trace_of_section(mesh, section(mesh, plane, weld=tolerance), limit) for plane in planes_of(params)])
    return made if len(made.ends) else replace(made, notes=(*made.notes, MISSED))


def apply(mesh: Mesh, params: SliceParams, *, weld: float | None = None) -> Result:
    """Cut, then keep both sides, discard one or part them; cap what that opens."""
    tolerance = weld_of(mesh) if weld is None else weld
    cut = imprint(mesh, trace(mesh, params, weld=tolerance), weld=tolerance)
    if params.then == "keep":
        return cut
    limit = limit_mask(mesh, params.limit)
    result = cut
    for plane in planes_of(params):
        halves = _Halves.of(mesh, result, plane, tolerance)
        if params.then == "discard":
            result = _discarded(result, halves, limit, params.cap, tolerance)
        else:
            result = _parted(result, halves, params, tolerance)
    return result


def _plane_of_sight(line: ScreenLine, camera: Camera) -> Plane:
    """The plane through the eye and a line on the screen; its normal points right of the way along it."""
    (start, along), (_, other) = (camera.ray(pixel, reach=0.0) for pixel in (line.start, line.to))
    if camera.parallel:
        end = camera.ray(line.to, reach=0.0)[0]
        normal = cross(camera.forward, end - start)
    else:
        normal = cross(along, other)
    if np.linalg.norm(normal) == 0.0:
        raise StepError("the two ends of the line are one", where="line")
    return Plane.through(start, normal)


@dataclass(frozen=True, eq=False)
class _Halves:
    """The sides of a cut mesh: `vertex (V,)` and `face (F,)` are -1, 0 (in the plane) or +1."""

    plane: Plane
    vertex: Ints
    face: Ints

    @staticmethod
    def of(mesh: Mesh, cut: Result, plane: Plane, weld: float) -> _Halves:
        """The sides of what `cut` made of `mesh`; vertices that the section took to lie in the plane do."""
        after = cut.mesh
        vertex = sides(after, plane, weld=weld)
        old = cut.origin.vertex
        vertex[(old >= 0) & (section(mesh, plane, weld=weld).side[np.maximum(old, 0)] == 0)] = 0
        corner = vertex[after.corners]
        low, high = np.minimum.reduceat(corner, after.starts[:-1]), np.maximum.reduceat(corner, after.starts[:-1])
        return _Halves(plane, vertex, np.where(high > 0, 1, np.where(low < 0, -1, 0)))


def _discarded(cut: Result, halves: _Halves, limit: Bools | None, cap: bool, weld: float) -> Result:
    """Without the faces on the side the normal points to."""
    parent = cut.origin.face
    gone = halves.face > 0
    if limit is not None:
        gone &= limit[np.maximum(parent, 0)] & (parent >= 0)
    if not gone.any():
        words = "Nothing of the part lies on the side to be discarded."
        return Result(cut.mesh, cut.origin, cut.picked, (*cut.notes, Note("nothing-discarded", words)))
    left, origin = without_faces(cut.mesh, gone)
    if not cap:
        return Result(left, then(cut.origin, origin), Picked(), cut.notes)
    opened = _opened(cut.mesh, left, origin.vertex)
    flat = opened[(halves.vertex[origin.vertex][opened] == 0).all(axis=1)]
    closed, added, notes = capped(left, flat, halves.plane, weld=weld)
    return _with_caps(cut, closed, origin, added, notes)


def _parted(cut: Result, halves: _Halves, params: SliceParams, weld: float) -> Result:
    """The sides with vertices of their own along the cut, moved apart; caps on both if asked for."""
    mesh = cut.mesh
    above = halves.face[mesh.face_of_corner] > 0
    in_lower, in_upper = np.zeros((2, mesh.vertex_count), dtype=bool)
    in_lower[mesh.corners[~above]] = True
    in_upper[mesh.corners[above]] = True
    both = np.flatnonzero(in_lower & in_upper)
    double = np.arange(mesh.vertex_count)
    double[both] = mesh.vertex_count + np.arange(len(both))
    parted = Mesh(
        np.concatenate([mesh.points, mesh.points[both]]),
        mesh.starts,
        np.where(above, double[mesh.corners], mesh.corners),
        mesh.uv,
        mesh.material,
        mesh.patch,
        mesh.materials,
        mesh.patches,
    )
    parted = _with_hard(parted, mesh.hard, double)
    faces = np.arange(mesh.face_count)
    origin = Origin(faces, np.concatenate([np.arange(mesh.vertex_count), both]), np.where(halves.face > 0, -1, faces))
    upper = np.zeros(parted.vertex_count, dtype=bool)
    upper[double[in_upper]] = True
    notes: list[Note] = []
    added = 0
    if params.cap:
        opened = _opened(mesh, parted, origin.vertex)
        plane = halves.plane
        for pairs, facing in (
            (opened[upper[opened].all(axis=1)], Plane(plane.point, -plane.normal)),
            (opened[~upper[opened].any(axis=1)], plane),
        ):
            parted, more, said = capped(parted, pairs, facing, weld=weld)
            added += more
            notes += said
    shift: Floats = np.where(upper[:, None], 0.5, -0.5) * np.array(params.gap)
    return _with_caps(cut, moved(parted, parted.points + shift), origin, added, notes)


def _with_hard(parted: Mesh, hard: Ints, double: Ints) -> Mesh:
    """The parted mesh with the hard edges (n, 2) of the whole one: on either side those that are edges there."""
    if len(hard) == 0:
        return parted
    pairs = np.unique(np.concatenate([hard.astype(np.int64), np.sort(double[hard], axis=1)]), axis=0)
    weights = np.array([parted.vertex_count, 1])
    there = np.isin(pairs @ weights, parted.edges.ends.astype(np.int64) @ weights)
    return replace(parted, hard=pairs[there]).with_edges(parted.edges)


def _opened(before: Mesh, after: Mesh, origin: Ints) -> Ints:
    """The border edges (n, 2) of a mesh that were none in the mesh it comes from; `origin` names its vertices there."""
    count = before.vertex_count
    now = after.edges.ends[after.edges.border].astype(np.int64)
    was = before.edges.ends[before.edges.border].astype(np.int64) @ np.array([count, 1])
    return now[~np.isin(np.sort(origin[now], axis=1) @ np.array([count, 1]), was)]


def _with_caps(cut: Result, mesh: Mesh, origin: Origin, added: int, notes: list[Note]) -> Result:
    """The result of cutting and then changing; the last faces are caps, which come from no face and are picked."""
    whole = Origin(np.concatenate([origin.face, np.full(added, -1)]), origin.vertex, origin.kept)
    picked = Picked(faces=np.arange(mesh.face_count - added, mesh.face_count))
    return Result(mesh, then(cut.origin, whole), picked, (*cut.notes, *notes))
