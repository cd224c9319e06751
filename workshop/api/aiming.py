"""Aiming of the tools that have no points: the edge of a loop, the line or plane of a slice.
Nothing here changes anything."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema

from cutcore.aiming.aim_loop import LoopQuestion, aim_loop
from cutcore.aiming.aim_slice import SliceQuestion, aim_slice
from cutcore.aiming.locks import Lock
from cutcore.aiming.marks import Settling
from cutcore.aiming.placed_plane import Handle, PlacedPlane, dragged, standing
from cutcore.aiming.walk import By, Way, walk
from cutcore.geometry.camera import Camera, Pixel, View
from cutcore.params import Index
from cutcore.tool import Place, place_of
from cutcore.tools.loop import LoopEnd, LoopParams, LoopSettings, ends_of
from cutcore.trace.spread import Spread
from workshop.api.base import Id
from workshop.api.parts import AtRevision
from workshop.api.planning import chains_out, mark_out, ticks_out
from workshop.api.shapes import ChainOut, ErrorOut, MarkOut, NoteOut, Tick, refusal_out
from workshop.services.live_meshes import shown_of
from workshop.services.parts import mesh_at

router = Router(tags=["aiming"])


class LoopAimIn(AtRevision):
    """A pointer in a view. `held` is the edge of a planned loop that now slides along it."""

    view: View
    pointer: Pixel
    settling: Settling = Settling()
    settings: LoopSettings = LoopSettings()
    spread: Spread | None = None
    flipped: bool = False
    held: tuple[Index, Index] | None = None
    shown: tuple[Index, ...] | None = None


class LoopAimOut(Schema):
    """The mark on the edge, the step that a click would plan, and what it would draw: the faces it
    crosses, where it ends and why."""

    mark: MarkOut
    step: LoopParams | None
    chains: list[ChainOut]
    ticks: list[Tick]
    crossed: list[int]
    ends: list[LoopEnd]
    refusal: NoteOut | None


class SliceAimIn(AtRevision):
    """A pointer in a view; `start` is the other end of the line, if it has been placed."""

    view: View
    pointer: Pixel
    settling: Settling = Settling()
    lock: Lock = Lock()
    start: Pixel | None = None
    limit: tuple[Index, ...] | None = None
    shown: tuple[Index, ...] | None = None


class SliceAimOut(Schema):
    """The mark under the pointer, the pixel that the line's end takes, its angle from the
    horizontal, and the cut."""

    mark: MarkOut
    pixel: Pixel
    angle: float | None
    chains: list[ChainOut]
    refusal: NoteOut | None


class WalkIn(AtRevision):
    """Where one is on the screen, and which way to go on to the next stop or vertex."""

    view: View
    pointer: Pixel
    way: Way
    by: By
    settling: Settling = Settling()
    shown: tuple[Index, ...] | None = None


class WalkOut(Schema):
    """The pixel one comes to; null if there is nothing to come to that way."""

    pointer: Pixel | None


class PlaneAimIn(AtRevision):
    """A placed plane; with a handle, a pointer and a view, as it stands once the handle was pulled
    there."""

    placed: PlacedPlane
    handle: Handle | None = None
    pointer: Pixel | None = None
    view: View | None = None
    free: bool = False


class PlaneAimOut(Schema):
    """The plane as placed now, its point and normal, the frame drawn for it, and where its handles
    are."""

    placed: PlacedPlane
    point: Place
    normal: Place
    frame: list[Place]
    handles: dict[Handle, Place]


@router.post(
    "/parts/{part_id}/aim/loop",
    response={200: LoopAimOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def loop(request: HttpRequest, part_id: Id, body: LoopAimIn) -> LoopAimOut:
    """The edge under the pointer and the loop that would run through it."""
    mesh = mesh_at(part_id, body.revision)
    question = LoopQuestion(
        **{name: getattr(body, name) for name in LoopQuestion.__dataclass_fields__}
    )
    found = aim_loop(mesh, question, shown_of(mesh, body.shown))
    trace = found.trace
    return LoopAimOut(
        mark=mark_out(mesh, found.mark),
        step=found.step,
        chains=chains_out(trace) if trace else [],
        ticks=ticks_out(mesh, trace) if trace else [],
        crossed=trace.crossed_faces().tolist() if trace else [],
        ends=ends_of(mesh, trace.notes) if trace else [],
        refusal=refusal_out(mesh, found.refusal),
    )


@router.post(
    "/parts/{part_id}/aim/slice",
    response={200: SliceAimOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def slice_line(request: HttpRequest, part_id: Id, body: SliceAimIn) -> SliceAimOut:
    """Where the end of a line under the pointer comes to lie, and where the part would be cut."""
    mesh = mesh_at(part_id, body.revision)
    question = SliceQuestion(
        **{name: getattr(body, name) for name in SliceQuestion.__dataclass_fields__}
    )
    found = aim_slice(mesh, question, shown_of(mesh, body.shown))
    return SliceAimOut(
        mark=mark_out(mesh, found.end.mark),
        pixel=found.end.pixel,
        angle=found.end.angle,
        chains=chains_out(found.trace) if found.trace else [],
        refusal=refusal_out(mesh, found.refusal),
    )


@router.post(
    "/parts/{part_id}/aim/walk",
    response={200: WalkOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def walk_on(request: HttpRequest, part_id: Id, body: WalkIn) -> WalkOut:
    """The next place over the part, for those who point without a pointer."""
    mesh = mesh_at(part_id, body.revision)
    shown, camera = shown_of(mesh, body.shown), Camera.of(body.view)
    return WalkOut(
        pointer=walk(mesh, body.pointer, camera, body.way, body.by, body.settling, shown)
    )


@router.post(
    "/parts/{part_id}/aim/plane",
    response={200: PlaneAimOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def plane(request: HttpRequest, part_id: Id, body: PlaneAimIn) -> PlaneAimOut:
    """Where a placed plane stands."""
    mesh = mesh_at(part_id, body.revision)
    placed = body.placed
    if body.handle is not None and body.pointer is not None and body.view is not None:
        placed = dragged(
            mesh, placed, body.handle, body.pointer, Camera.of(body.view), free=body.free
        )
    found = standing(mesh, placed)
    return PlaneAimOut(
        placed=placed,
        point=place_of(found.centre),
        normal=place_of(found.plane.normal),
        frame=[place_of(corner) for corner in found.frame],
        handles={name: place_of(at) for name, at in found.handles().items()},
    )
