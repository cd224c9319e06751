"""Drawings behind the parts of a project."""

from __future__ import annotations

from pathlib import PurePath

import xxhash
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from workshop.api.base import Id, In, has_left
from workshop.api.rendering import sends, tagged
from workshop.api.shapes import ErrorOut
from workshop.drawing_shapes import DrawingMarks, DrawingPlacement
from workshop.errors import TooLarge
from workshop.models import Drawing
from workshop.services import drawings as service
from workshop.services.projects import project_at

router = Router(tags=["drawings"])


class DrawingOut(Schema):
    id: int
    name: str
    revision: int
    placement: DrawingPlacement
    marks: DrawingMarks

    @staticmethod
    def of(drawing: Drawing) -> DrawingOut:
        return DrawingOut(
            id=drawing.pk,
            name=drawing.name,
            revision=drawing.revision,
            placement=drawing.placement,
            marks=drawing.marks,
        )


class DrawingChangeIn(In):
    """What is to change; null leaves it. `revision` is the one that its author has seen."""

    revision: Id
    placement: DrawingPlacement | None = None
    marks: DrawingMarks | None = None


@router.get("/projects/{project_id}/drawings", response={200: list[DrawingOut], 404: ErrorOut})
def list_drawings(request: HttpRequest, project_id: Id) -> list[DrawingOut]:
    return [
        DrawingOut.of(drawing) for drawing in Drawing.objects.filter(project=project_at(project_id))
    ]


@router.post(
    "/projects/{project_id}/drawings",
    response={201: DrawingOut, 404: ErrorOut, 413: ErrorOut, 422: ErrorOut},
)
def add_drawing(
    request: HttpRequest, project_id: Id, file: File[UploadedFile]
) -> tuple[int, DrawingOut]:
    """Bring a picture in; it stands in the front view until it is put elsewhere."""
    if file.size is None or file.size > service.PICTURE_BYTES:
        raise TooLarge(f"the picture is over the limit of {service.PICTURE_BYTES >> 20} MB")
    name = PurePath(file.name or "drawing").stem
    empty = DrawingPlacement().model_dump(), DrawingMarks().model_dump()
    return 201, DrawingOut.of(
        service.add_drawing(
            project_at(project_id), name, file.read(), *empty, stopped=has_left(request)
        )
    )


@router.get(
    "/drawings/{drawing_id}/picture", response={404: ErrorOut}, openapi_extra=sends("image/*")
)
def get_picture(request: HttpRequest, drawing_id: Id) -> HttpResponse:
    """The picture itself. What it may do is taken from it: an SVG opened alone runs nothing and
    loads nothing."""
    drawing = service.drawing_at(drawing_id)
    picture = bytes(drawing.picture)
    answer = tagged(
        request, xxhash.xxh3_128_hexdigest(picture), lambda: picture, content_type=drawing.kind
    )
    answer["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; sandbox"
    return answer


@router.patch(
    "/drawings/{drawing_id}",
    response={200: DrawingOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def change_drawing(request: HttpRequest, drawing_id: Id, body: DrawingChangeIn) -> DrawingOut:
    placement = None if body.placement is None else body.placement.model_dump()
    marks = None if body.marks is None else body.marks.model_dump()
    return DrawingOut.of(
        service.change_drawing(drawing_id, body.revision, placement=placement, marks=marks)
    )


@router.delete("/drawings/{drawing_id}", response={204: None, 404: ErrorOut})
def delete_drawing(request: HttpRequest, drawing_id: Id) -> tuple[int, None]:
    service.drawing_at(drawing_id).delete()
    return 204, None
