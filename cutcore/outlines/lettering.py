"""Lettering: words as outlines, in the font that ships with the engine."""

from __future__ import annotations

from functools import cache
from math import ceil, sqrt
from pathlib import Path
from typing import Any

import numpy as np
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont

from cutcore.errors import StepError
from cutcore.outlines.drawn import DrawnOutline, SheetCurve, plain

FONT = Path(__file__).parent / "fonts" / "source-sans-3-semibold-latin.ttf"


@cache
def _font() -> TTFont:
    return TTFont(FONT)


def lettering(words: str, height: float, *, tolerance: float) -> DrawnOutline:
    """Words on one line, their capitals `height` high, about the middle of the sheet; curves
    flattened to a tolerance.

    Holes run against their letters, so that what lies between is inside. Raises StepError for
    characters the font has no glyph for, and where nothing is left to draw."""
    font = _font()
    names, metrics = font.getBestCmap(), font["hmtx"]
    capital = font["glyf"]["H"]
    scale = height / (capital.yMax - capital.yMin)
    glyphs = font.getGlyphSet()
    curves: list[SheetCurve] = []
    pen_at = 0.0
    for letter in words:
        name = names.get(ord(letter))
        if name is None:
            raise StepError(f"the font has no {letter!r}", where="words")
        pen = DecomposingRecordingPen(glyphs)
        glyphs[name].draw(pen)
        for loop in _loops(pen.value, tolerance / scale):
            curves.append(
                SheetCurve(
                    np.column_stack([loop * scale + [pen_at, 0.0], np.zeros(len(loop))]), True
                )
            )
        pen_at += metrics[name][0] * scale
    if not curves:
        raise StepError("there is nothing to letter", where="words")
    places = np.concatenate([curve.points for curve in curves])
    middle = 0.5 * (places.min(axis=0) + places.max(axis=0))
    return plain([SheetCurve(curve.points - middle, True) for curve in curves])


def _loops(drawn: list[tuple[str, tuple[Any, ...]]], tolerance: float) -> list[np.ndarray]:
    """The closed loops of a glyph as straight pieces, in units of the font."""
    loops: list[np.ndarray] = []
    run: list[tuple[float, float]] = []
    for what, points in drawn:
        if what in ("moveTo", "lineTo"):
            run.append(points[0])
        elif what == "qCurveTo":
            # Between two control points in a row lies a point of the curve, in their middle.
            controls = list(points[:-1])
            for k, control in enumerate(controls):
                goal = points[-1] if k == len(controls) - 1 else _between(control, controls[k + 1])
                run += _quadratic(run[-1], control, goal, tolerance)
        elif what == "closePath":
            if len(run) > 1 and run[0] == run[-1]:
                run.pop()
            if len(run) > 2:
                loops.append(np.array(run, dtype=np.float64))
            run = []
    return loops


def _between(a: tuple[float, float], b: tuple[float, float]) -> tuple[float, float]:
    return 0.5 * (a[0] + b[0]), 0.5 * (a[1] + b[1])


def _quadratic(
    a: tuple[float, float], b: tuple[float, float], c: tuple[float, float], tolerance: float
) -> list[tuple[float, float]]:
    """A quadratic Bézier curve without its start, in as many pieces as its bend wants (Wang's
    bound)."""
    bend = 2.0 * float(np.hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1]))
    count = max(1, ceil(sqrt(bend / (8.0 * tolerance))))
    share = np.arange(1, count + 1) / count
    places = (
        ((1 - share) ** 2)[:, None] * a
        + (2 * share * (1 - share))[:, None] * b
        + (share**2)[:, None] * c
    )
    return [(float(x), float(y)) for x, y in places]
