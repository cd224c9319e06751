"""Pictures to be kept: a part, and those beside it, drawn in lines."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import Field

from cutcore.previews.line_picture import LinePicture, line_picture
from workshop.api.base import Id, has_left
from workshop.api.jobs import JobName
from workshop.api.parts import AtRevision
from workshop.api.rendering import sends
from workshop.api.shapes import ErrorOut
from workshop.services import table
from workshop.services.jobs import job as running
from workshop.services.parts import part_at
from workshop.services.projects import project_at

router = Router(tags=["pictures"])

SVG = "image/svg+xml"
Colour = Annotated[str, Field(pattern="^#[0-9a-f]{6}$")]


class LinesIn(AtRevision):
    """How the part is drawn, in which colours, and whether the parts beside it are."""

    picture: LinePicture
    beside: bool = False
    colour: Colour = "#22313a"
    ground: Colour | None = None


@router.post(
    "/parts/{part_id}/lines",
    response={404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
    openapi_extra=sends(SVG),
)
def draw_lines(
    request: HttpRequest, part_id: Id, body: LinesIn, job: JobName | None = None
) -> HttpResponse:
    """The part in lines, as an SVG drawing; `job` is the name under which it can be followed."""
    with running(job, has_left(request)):
        part = part_at(part_id, body.revision)
        shown = project_at(part.project_id).parts.all() if body.beside else ()
        beside = [table.standing(one) for one in shown if one.pk != part.pk and not one.hidden]
        drawn = line_picture(
            table.standing(part), beside, body.picture, colour=body.colour, ground=body.ground
        )
    return HttpResponse(drawn, content_type=SVG)
