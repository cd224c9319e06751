"""What is read in a process aside: files of parts, outlines and pictures, given and answered as
plain data."""

from __future__ import annotations

import io
import warnings

import numpy as np
from PIL import Image, UnidentifiedImageError

from cutcore.errors import FormatError
from cutcore.formats.files import read_part, read_parts
from cutcore.formats.svg import checked_drawing, read_svg
from cutcore.geometry.placement import Placement
from cutcore.mesh.difference import KeptMesh
from cutcore.mesh.submesh import moved
from cutcore.notes import Note
from cutcore.outlines.drawn import DrawnOutline, SheetCurve, plain
from workshop.mesh_arrays import StoredForm, stored_whole

# A file becomes so many parts at most.
MOST_PARTS = 500
# Pictures are shown by the browser, which holds four bytes for every pixel.
MOST_PIXELS = 50_000_000
LONGEST_SIDE = 16_384
PICTURES = {"PNG": "image/png", "JPEG": "image/jpeg"}


def part_of_file(name: str, data: bytes, times: float) -> tuple[StoredForm, tuple[Note, ...]]:
    """A part, so many times as large, as it is stored, with what reading it had to say. Raises
    FormatError."""
    mesh, notes = read_part(name, data)
    if times != 1.0:
        mesh = moved(mesh, mesh.points * times)
    return stored_whole(KeptMesh.of(mesh)), notes


def parts_of_file(
    name: str, data: bytes, times: float
) -> tuple[list[tuple[str, StoredForm, Placement]], tuple[Note, ...]]:
    """The objects of a file as parts, each with its name and where it stands, as they are stored.
    Raises FormatError."""
    parts, notes = read_parts(name, data)
    if len(parts) > MOST_PARTS:
        raise FormatError(f"the file has {len(parts)} objects: {MOST_PARTS} at most become parts")
    found = []
    for part in parts:
        mesh, move = part.mesh, part.placement.move
        if times != 1.0:
            mesh = moved(mesh, mesh.points * times)
            move = (times * move[0], times * move[1], times * move[2])
        placement = Placement(move=move, turn=part.placement.turn)
        found.append((part.name, stored_whole(KeptMesh.of(mesh)), placement))
    return found, notes


def outline_of_svg(
    data: bytes, tolerance: float, scale: float
) -> tuple[DrawnOutline, tuple[Note, ...]]:
    """The outlines of a drawing as one, about its middle and so many times as large. Raises
    FormatError."""
    curves, notes = read_svg(data, tolerance=tolerance)
    places = np.concatenate([curve.points for curve in curves])
    middle = 0.5 * (places.min(axis=0) + places.max(axis=0))
    flat = [
        SheetCurve(
            np.column_stack([(curve.points - middle) * scale, np.zeros(len(curve.points))]),
            curve.closed,
        )
        for curve in curves
    ]
    return plain(flat), notes


def picture_kind(data: bytes) -> str:
    """The media type of a picture that can be shown in full. Raises FormatError if it is none, or
    too large."""
    if data[:1024].lstrip()[:1] == b"<":
        checked_drawing(data)
        return "image/svg+xml"
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=list(PICTURES)) as picture:
                width, height = picture.size
                if width * height > MOST_PIXELS or max(width, height) > LONGEST_SIDE:
                    raise FormatError(
                        f"the picture is too large: {width:,} × {height:,} pixels; at most {MOST_PIXELS:,} are shown"
                    )
                picture.load()
                return PICTURES[str(picture.format)]
    except UnidentifiedImageError:
        raise FormatError("a drawing is a PNG, a JPEG or an SVG file") from None
    except Image.DecompressionBombError:
        raise FormatError(
            f"the picture is too large: at most {MOST_PIXELS:,} pixels are shown"
        ) from None
    except (OSError, ValueError, SyntaxError, EOFError) as trouble:
        raise FormatError("the picture is broken: it can't be read to its end") from trouble
