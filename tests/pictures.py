"""Small pictures in the formats that a drawing may have."""

from __future__ import annotations

import io

from PIL import Image


def picture(width: int = 4, height: int = 3, *, kind: str = "PNG") -> bytes:
    """A plain picture of so many pixels."""
    out = io.BytesIO()
    Image.new("L", (width, height), 200).save(out, kind)
    return out.getvalue()
