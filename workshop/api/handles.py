"""Handles of a pick and of its rails: where they stand, and what pulling them means. Nothing here
changes anything."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from cutcore.aiming.marks import Settling, mark_at
from cutcore.aiming.pick_handles import Held, Pull, Settles, pick_standing, pulled, slid
from cutcore.geometry.camera import Camera, Pixel, Vector, View
from cutcore.geometry.multiples import nearest_multiple
from cutcore.reshape.placing.move import Scale, Shift, Turn
from cutcore.tool import Place, place_of
from workshop.api.base import Id
from workshop.api.parts import AtRevision, pick_of
from workshop.api.shapes import ErrorOut, PickOut
from workshop.services.parts import mesh_at, part_at
from workshop.services.table import settled_on_others

router = Router(tags=["handles"])


class HandleAimIn(AtRevision):
    """The handles of a pick, at its middle or `at` a place; with one that is held, where it was
    pressed and where the pointer is now. `onto` says whether it goes onto what lies there: vertices,
    edges and faces of the part, and vertices of the others that are shown."""

    pick: PickOut
    at: Vector | None = None
    held: Held | None = None
    pressed: Pixel | None = None
    pointer: Pixel | None = None
    view: View | None = None
    settles: Settles = Settles()
    settling: Settling = Settling()
    onto: bool = False


class HandleAimOut(Schema):
    """Where the handles stand, what the held one means, and in words what it has settled on."""

    middle: Place
    normal: Place | None
    edge: Place | None
    move: Annotated[Shift | Turn | Scale, Field(discriminator="way")] | None
    words: str | None


@router.post(
    "/parts/{part_id}/aim/handle",
    response={200: HandleAimOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def handle(request: HttpRequest, part_id: Id, body: HandleAimIn) -> HandleAimOut:
    """What pulling a handle of a pick means."""
    mesh = mesh_at(part_id, body.revision)
    pick = pick_of(mesh, body.pick)
    found = pick_standing(mesh, pick.vertices, pick.edges, pick.faces, body.at)
    move, words = None, None
    if body.held and body.pressed and body.pointer and body.view:
        camera = Camera.of(body.view)
        goal = None
        if body.onto and body.held.way == "shift":
            other = settled_on_others(part_at(part_id), camera, body.pointer)
            if other is not None:
                _, goal, name = other
                words = f"onto a vertex of {name}"
            else:
                mark = mark_at(mesh, body.pointer, camera, body.settling)
                goal = mark.place
                words = None if goal is None else f"onto {mark.words}"
        pull = Pull(found, body.held, body.pressed, body.pointer, camera, body.settles)
        move = pulled(pull, goal)
    return HandleAimOut(
        middle=place_of(found.middle),
        normal=None if found.normal is None else place_of(found.normal),
        edge=None if found.edge is None else place_of(found.edge),
        move=move,
        words=words,
    )


class SlideAimIn(AtRevision):
    """A rail as a plan tells it, and a pointer: how far one is to slide for it."""

    rail: tuple[Place, Place | None, Place | None]
    pointer: Pixel
    view: View
    step: float | None = Field(default=None, gt=0, le=1, description="shares between stops")


class SlideAimOut(Schema):
    by: float


@router.post(
    "/parts/{part_id}/aim/slide",
    response={200: SlideAimOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def slide(request: HttpRequest, part_id: Id, body: SlideAimIn) -> SlideAimOut:
    """How far along its rail a vertex slides for a pointer."""
    mesh_at(part_id, body.revision)
    by = slid(*body.rail, body.pointer, Camera.of(body.view))
    return SlideAimOut(by=nearest_multiple(by, body.step) if body.step else by)
