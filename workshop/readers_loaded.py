"""Loads the readers with all that they run through, for the process that readers are forked off: what
is loaded there once need not be loaded for every file."""

from __future__ import annotations

import io

from PIL import Image

import workshop.project_file  # noqa: F401 -- what it needs is many models
from cutcore.formats.files import WRITERS, write_part
from cutcore.shapes.box import box
from workshop.readers import outline_of_svg, part_of_file, parts_of_file, picture_kind

_CUBE = box(1, 1, 1, (1, 1, 1))
_SQUARE = b'<svg xmlns="http://www.w3.org/2000/svg"><rect width="1" height="1"/></svg>'


def _picture() -> bytes:
    out = io.BytesIO()
    Image.new("L", (1, 1)).save(out, "PNG")
    return out.getvalue()


for _ending in WRITERS:
    for _read in (part_of_file, parts_of_file):
        _read(f"cube{_ending}", write_part(f"cube{_ending}", _CUBE), 1.0)
outline_of_svg(_SQUARE, 0.1, 1.0)
picture_kind(_picture())
