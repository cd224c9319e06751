"""The outlines of a project, and the sheets they stand on before a part."""

from __future__ import annotations

from pathlib import PurePath
from typing import Annotated, Literal

import numpy as np
from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from cutcore.aiming.placed_sheet import (
    Facing,
    PlacedSheet,
    SheetHandle,
    facing_normal,
    pulled,
    standing,
)
from cutcore.aiming.sheet_copies import SheetCopies, copies_of
from cutcore.errors import StepError
from cutcore.formats.svg import MOST_BYTES, FlatCurve, write_svg
from cutcore.geometry.camera import Camera, Pixel, View
from cutcore.geometry.units import factor
from cutcore.outlines.changed import OutlineChange
from cutcore.outlines.drawn import DrawnOutline, SheetCurve, flattened
from cutcore.outlines.from_edges import outline_of_edges
from cutcore.outlines.lettering import lettering
from cutcore.outlines.makers import KINDS, MadeOutline, make_outline
from cutcore.params import Index, Length
from cutcore.tool import Place, place_of
from cutcore.tools.outline.outline import Curve
from workshop.api.base import Id, In, has_left
from workshop.api.parts import AtRevision
from workshop.api.rendering import sends
from workshop.api.shapes import ErrorOut
from workshop.aside import aside
from workshop.errors import TooLarge
from workshop.models import Outline
from workshop.readers import outline_of_svg
from workshop.services import outlines as service
from workshop.services.live_meshes import shown_of
from workshop.services.parts import mesh_at, part_at
from workshop.services.placing import placement_of
from workshop.services.projects import project_at

router = Router(tags=["outlines"])

# How far a flattened curve of a letter may lie off it, as a share of the letters' height.
LETTER_TOLERANCE = 0.004


class SheetCurveOut(Schema):
    """A curve as straight pieces on its sheet."""

    points: list[tuple[float, float]]
    closed: bool


class OutlineOut(Schema):
    """An outline as it is drawn and as straight pieces, with its size; lengths in the project's
    unit."""

    id: int
    name: str
    drawn: DrawnOutline
    curves: list[SheetCurveOut]
    points: int
    width: float
    height: float
    sheet: PlacedSheet | None

    @staticmethod
    def of(outline: Outline, hand: int | None = None) -> OutlineOut:
        """An outline; its sheet before a part, or as it stands on the table."""
        sheet = None if outline.sheet is None else PlacedSheet.model_validate(outline.sheet)
        if sheet is not None and hand is not None:
            sheet = sheet.before(placement_of(part_at(hand)))
        drawn = service.drawn_of(outline)
        curves = flattened(drawn)
        places = np.concatenate([curve.points for curve in curves])[:, :2]
        width, height = (float(x) for x in np.ptp(places, axis=0))
        return OutlineOut(
            id=outline.pk,
            name=outline.name,
            drawn=drawn,
            curves=[
                SheetCurveOut(points=curve.points[:, :2].tolist(), closed=curve.closed)
                for curve in curves
            ],
            points=len(places),
            width=width,
            height=height,
            sheet=sheet,
        )


class ByShape(In):
    by: Literal["shape"]
    shape: MadeOutline


class ByDrawing(In):
    by: Literal["drawn"]
    drawn: DrawnOutline


class ByLetters(In):
    """Words in the font that ships with the application; `height` is that of its capitals."""

    by: Literal["letters"]
    words: str = Field(min_length=1, max_length=200)
    height: Length


class ByEdges(AtRevision):
    """Edges of a part as they lie in space, numbered as the mesh that is drawn numbers them."""

    by: Literal["edges"]
    part: Id
    edges: list[Index]


class OutlineIn(In):
    name: str = Field(default="", max_length=120)
    source: Annotated[ByShape | ByDrawing | ByLetters | ByEdges, Field(discriminator="by")]


class OutlineChangeIn(In):
    """Another name, another form, or a change to the whole of it; null leaves it."""

    name: str | None = Field(default=None, max_length=120)
    drawn: DrawnOutline | None = None
    change: OutlineChange | None = None


class OutlineImportOut(Schema):
    outline: OutlineOut
    notes: list[str]


@router.get("/outline-shapes", response=list[MadeOutline])
def list_outline_shapes(request: HttpRequest) -> list[object]:
    """The usual outlines, each with its usual sizes."""
    return [kind() for kind in KINDS.values()]


@router.get("/projects/{project_id}/outlines", response={200: list[OutlineOut], 404: ErrorOut})
def list_outlines(request: HttpRequest, project_id: Id, hand: Id | None = None) -> list[OutlineOut]:
    """The outlines of a project; where they were lifted off something, their sheets as they stand
    before the part in hand, or on the table."""
    found = Outline.objects.filter(project=project_at(project_id))
    return [OutlineOut.of(outline, hand) for outline in found]


@router.post(
    "/projects/{project_id}/outlines",
    response={201: OutlineOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def add_outline(request: HttpRequest, project_id: Id, body: OutlineIn) -> tuple[int, OutlineOut]:
    """A new outline: a usual shape by its sizes, drawn, lettered, or lifted off edges of a part."""
    project, source = project_at(project_id), body.source
    sheet: PlacedSheet | None = None
    if isinstance(source, ByShape):
        name, drawn = source.shape.shape.capitalize(), make_outline(source.shape)
    elif isinstance(source, ByDrawing):
        name, drawn = "Outline", source.drawn
    elif isinstance(source, ByLetters):
        name, drawn = (
            source.words,
            lettering(source.words, source.height, tolerance=LETTER_TOLERANCE * source.height),
        )
    else:
        mesh, part = mesh_at(source.part, source.revision), part_at(source.part)
        edges = np.unique(np.array(source.edges, dtype=np.int64))
        if len(edges) and not 0 <= edges[0] <= edges[-1] < len(mesh.edges):
            raise StepError(f"there are {len(mesh.edges)} edges", where="edges")
        lifted = outline_of_edges(mesh, edges)
        name, drawn = f"Edges of {part.name}", lifted.outline
        sheet = PlacedSheet(
            centre=place_of(lifted.centre), normal=place_of(lifted.normal)
        ).on_table(placement_of(part))
    return 201, OutlineOut.of(service.add_outline(project, body.name or name, drawn, sheet))


@router.post(
    "/projects/{project_id}/outlines/svg",
    response={201: OutlineImportOut, 404: ErrorOut, 413: ErrorOut, 422: ErrorOut},
)
def import_outline(
    request: HttpRequest, project_id: Id, file: File[UploadedFile], tolerance: float = 0.05
) -> tuple[int, OutlineImportOut]:
    """Bring an SVG drawing in as one outline, its curves flattened to a tolerance in millimetres,
    about its middle."""
    if file.size is None or file.size > MOST_BYTES:
        raise TooLarge(f"the drawing is over the limit of {MOST_BYTES >> 20} MB")
    if not 1e-4 <= tolerance <= 100:
        raise StepError("from 0.0001 to 100 mm are possible", where="tolerance")
    project = project_at(project_id)
    scale = factor("mm", project.unit)  # type: ignore[arg-type]
    drawn, notes = aside(outline_of_svg, file.read(), tolerance, scale, stopped=has_left(request))
    outline = service.add_outline(project, PurePath(file.name or "Outline").stem, drawn)
    return 201, OutlineImportOut(
        outline=OutlineOut.of(outline), notes=[note.words for note in notes]
    )


@router.patch("/outlines/{outline_id}", response={200: OutlineOut, 404: ErrorOut, 422: ErrorOut})
def change_outline(request: HttpRequest, outline_id: Id, body: OutlineChangeIn) -> OutlineOut:
    return OutlineOut.of(
        service.change_outline(outline_id, name=body.name, drawn=body.drawn, change=body.change)
    )


@router.post("/outlines/{outline_id}/copy", response={201: OutlineOut, 404: ErrorOut})
def copy_outline(request: HttpRequest, outline_id: Id) -> tuple[int, OutlineOut]:
    outline = service.outline_at(outline_id)
    return 201, OutlineOut.of(
        service.add_outline(outline.project, f"{outline.name}, copy", service.drawn_of(outline))
    )


@router.delete("/outlines/{outline_id}", response={204: None, 404: ErrorOut})
def drop_outline(request: HttpRequest, outline_id: Id) -> tuple[int, None]:
    service.drop_outline(outline_id)
    return 204, None


@router.get(
    "/outlines/{outline_id}/export.svg",
    response={404: ErrorOut},
    openapi_extra=sends("image/svg+xml"),
)
def export_outline(request: HttpRequest, outline_id: Id) -> HttpResponse:
    """The outline as a drawing in millimetres."""
    outline = service.outline_at(outline_id)
    scale = factor(outline.project.unit, "mm")  # type: ignore[arg-type]
    curves = [
        FlatCurve(curve.points[:, :2] * scale, curve.closed)
        for curve in flattened(service.drawn_of(outline))
    ]
    answer = HttpResponse(write_svg(curves), content_type="image/svg+xml")
    answer["Content-Disposition"] = (
        f'attachment; filename="{slugify(outline.name) or "outline"}.svg"'
    )
    answer["Content-Security-Policy"] = "default-src 'none'; sandbox"
    return answer


class SheetAimIn(AtRevision):
    """Where a sheet stands, and what is done to it: faced anew, or a handle pulled under a
    pointer."""

    outlines: list[Id] = Field(min_length=1, max_length=50)
    placed: PlacedSheet
    facing: Facing = "face"
    face: Index | None = Field(
        default=None,
        description="a face to face; else the sheet keeps its normal until it is placed",
    )
    handle: SheetHandle | None = None
    pointer: Pixel | None = None
    view: View | None = None
    free: bool = False
    copies: SheetCopies | None = None
    shown: tuple[Index, ...] | None = None


class SheetAimOut(Schema):
    """The sheet as it stands, the frame round its outlines, its handles, what it was set on; and
    the curves in space, each with its own way onto the part."""

    placed: PlacedSheet
    frame: list[Place]
    handles: dict[SheetHandle, Place]
    on: str | None
    curves: list[Curve]


@router.post(
    "/parts/{part_id}/aim/outline",
    response={200: SheetAimOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def aim_outline(request: HttpRequest, part_id: Id, body: SheetAimIn) -> SheetAimOut:
    """Place a sheet with some outlines before a part."""
    mesh = mesh_at(part_id, body.revision)
    curves = service.curves_of(body.outlines)
    camera = None if body.view is None else Camera.of(body.view)
    placed, on = body.placed, None
    if body.handle is not None and body.pointer is not None and camera is not None:
        placed, on = pulled(
            mesh,
            placed,
            body.handle,
            body.pointer,
            camera,
            facing=body.facing,
            curves=curves,
            free=body.free,
            shown=shown_of(mesh, body.shown),
        )
    elif body.face is not None or body.facing != "face":
        if body.face is not None and not 0 <= body.face < mesh.face_count:
            raise StepError(
                f"there are {mesh.face_count} faces, got face {body.face}", where="face"
            )
        normal = facing_normal(mesh, body.facing, -1 if body.face is None else body.face, camera)
        if normal is not None:
            placed = placed.model_copy(update={"normal": tuple(float(n) for n in normal)})
    stands = standing(placed, curves, on)
    made = [
        _in_space(sheet, curve)
        for sheet in copies_of(mesh, placed, body.copies)
        for curve in curves
    ]
    return SheetAimOut(
        placed=placed,
        frame=[place_of(corner) for corner in stands.frame],
        handles={name: place_of(at) for name, at in stands.handles.items()},
        on=stands.on,
        curves=made,
    )


def _in_space(sheet: PlacedSheet, curve: SheetCurve) -> Curve:
    """A curve where its sheet stands, on its way along the sheet's normal."""
    points, away = sheet.places(curve.points).tolist(), (-sheet.axes()[2]).tolist()
    return Curve(points=tuple(map(tuple, points)), closed=curve.closed, direction=tuple(away))
