"""SVG: outlines, as closed and open polylines on a sheet.

Curves are flattened so that no point of a curve lies further from its polyline than a stated
tolerance. Sizes with a physical unit come out in millimetres; a drawing without units is taken to
be in millimetres."""

from __future__ import annotations

import io
import re
from dataclasses import dataclass
from math import acos, ceil, pi, sqrt
from xml.etree.ElementTree import Element, ParseError, tostring

import numpy as np
import svgelements as svg
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from cutcore.errors import FormatError
from cutcore.formats.budget import Budget
from cutcore.geometry.arrays import Floats
from cutcore.notes import Note
from cutcore.params import LARGEST

MOST_BYTES = 16 << 20
MOST_POINTS = 50_000
MOST_CURVES = 5_000
MOST_ELEMENTS = 20_000
# Numbers in paths: reading a segment takes far longer than its numbers.
MOST_NUMBERS = 400_000
# So many points are laid out before the time is looked at.
_LONG = 500
_NUMBER = re.compile(r"[0-9]+")
_TEXT = {"text", "tspan", "textPath"}
# Millimetres a unit.
_UNITS = {"mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "pc": 25.4 / 6, "Q": 0.25}
# The library holds a millimetre to be this many inches: with it, a millimetre comes out as one.
_PIXELS_AN_INCH = 1.0 / 0.0393701


@dataclass(frozen=True, eq=False)
class FlatCurve:
    """A polyline on a sheet: `points (n, 2)`, y up; closed ones do not repeat their first point."""

    points: Floats
    closed: bool


def read_svg(
    data: bytes, *, tolerance: float = 0.01, budget: Budget | None = None
) -> tuple[list[FlatCurve], tuple[Note, ...]]:
    """The outlines of a drawing, groups and transforms applied. Raises FormatError if there are
    none.

    Text is refused with advice: its letters depend on fonts that the file does not hold.
    """
    budget = Budget() if budget is None else budget
    root = checked_drawing(data)
    if any(_local(element) in _TEXT for element in root.iter()):
        raise FormatError(
            "the drawing holds text: turn it into paths in your drawing program first"
        )
    if (
        sum(
            len(_NUMBER.findall(element.get(name, "")))
            for element in root.iter()
            for name in ("d", "points")
        )
        > MOST_NUMBERS
    ):
        raise FormatError(
            f"the drawing has more than {MOST_NUMBERS:,} numbers in its paths: simplify it"
        )
    notes: list[Note] = []
    # A list, not a short cut: both sides are to be put in millimetres.
    if not any([_in_millimetres(root, side) for side in ("width", "height")]):  # noqa: C419
        notes.append(
            Note("no-units", "The drawing names no unit: its numbers are taken as millimetres.")
        )
    try:
        drawing = svg.SVG.parse(io.BytesIO(tostring(root)), ppi=_PIXELS_AN_INCH, reify=True)
        budget.go_on()
        left = MOST_POINTS
        curves: list[FlatCurve] = []
        for shape in drawing.elements():
            if isinstance(shape, svg.Shape):
                found = _flattened(svg.Path(shape), tolerance, left, budget)
                left -= sum(len(curve.points) for curve in found)
                curves += found
    except (
        ValueError,
        TypeError,
        AttributeError,
        IndexError,
        KeyError,
        ZeroDivisionError,
        OverflowError,
        RecursionError,
    ) as trouble:
        raise FormatError("the drawing can't be read: one of its shapes is broken") from trouble
    if len(curves) > MOST_CURVES:
        raise FormatError(
            f"the drawing has more than {MOST_CURVES:,} outlines: bring it in piece by piece"
        )
    usable = [
        c
        for c in curves
        if len(c.points) > 1 and np.isfinite(c.points).all() and np.ptp(c.points, axis=0).max() > 0
    ]
    if not usable:
        raise FormatError("the drawing has no outline")
    if max(float(np.abs(curve.points).max()) for curve in usable) > LARGEST:
        raise FormatError("the drawing is too large: its coordinates can't be reckoned with")
    return usable, tuple(notes)


def checked_drawing(data: bytes) -> Element:
    """The root of a drawing that is safe to read in full, whatever it is for. Raises FormatError if
    it is not."""
    if not data.strip():
        raise FormatError("the file is empty")
    if len(data) > MOST_BYTES:
        raise FormatError(f"the drawing is over the limit of {MOST_BYTES >> 20} MB")
    try:
        root = fromstring(data, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except ParseError as trouble:
        raise FormatError("this is no XML", where=f"line {trouble.position[0]}") from trouble
    except (DefusedXmlException, ValueError, LookupError) as trouble:
        raise FormatError(
            "the drawing defines entities or refers outside itself, which is not read"
        ) from trouble
    if _local(root) != "svg":
        raise FormatError("this is no SVG drawing: its root is another element", where="line 1")
    if _size(root) > MOST_ELEMENTS:
        raise FormatError(f"the drawing has more than {MOST_ELEMENTS} elements")
    return root


def _in_millimetres(root: Element, side: str) -> bool:
    """Put the width or height of a drawing in plain millimetres; whether it had a unit."""
    given = str(root.get(side, "")).strip()
    unit = next((u for u in _UNITS if given.endswith(u)), None)
    if unit is None:
        return False
    try:
        root.set(side, repr(float(given[: -len(unit)]) * _UNITS[unit]))
    except ValueError:
        raise FormatError(f"the {side} of the drawing is no length: {given[:40]!r}") from None
    return True


def _size(root: Element) -> int:
    """How many elements a drawing has once everything that is used is put in its place."""
    named = {element.get("id"): element for element in root.iter() if element.get("id")}
    sizes: dict[int, int] = {}

    def size(element: Element, depth: int) -> int:
        if id(element) in sizes:
            return sizes[id(element)]
        if depth > 100:
            raise FormatError("the drawing is nested too deeply, or uses itself")
        total = 1 + sum(size(child, depth + 1) for child in element)
        if _local(element) == "use":
            target = named.get(
                next(
                    (
                        v[1:]
                        for k, v in element.attrib.items()
                        if k.endswith("href") and v.startswith("#")
                    ),
                    "",
                )
            )
            if target is not None:
                total += size(target, depth + 1)
        sizes[id(element)] = total
        return total

    return size(root, 0)


def _local(element: Element) -> str:
    return str(element.tag).rsplit("}", 1)[-1]


def _flattened(path: svg.Path, tolerance: float, left: int, budget: Budget) -> list[FlatCurve]:
    curves: list[FlatCurve] = []
    points: list[complex] = []

    def end(closed: bool) -> None:
        if closed and len(points) > 1 and points[0] == points[-1]:
            points.pop()
        if len(points) > 1:
            # y runs down on the drawing and up on the sheet.
            curves.append(FlatCurve(np.array([[p.real, -p.imag] for p in points]), closed))
        points.clear()

    for segment in path:
        if isinstance(segment, svg.Move):
            end(False)
            if segment.end is not None:
                points.append(complex(segment.end))
        elif isinstance(segment, svg.Close):
            end(True)
            if segment.end is not None:
                points.append(complex(segment.end))
        else:
            count = _pieces(segment, tolerance)
            left -= count
            if left < 0:
                raise FormatError(
                    f"the drawing has more than {MOST_POINTS:,} points: simplify it or allow a coarser tolerance"
                )
            if count > _LONG or left % _LONG == 0:
                budget.go_on()
            for k in range(1, count + 1):
                points.append(complex(segment.end if k == count else segment.point(k / count)))
    end(len(points) > 2 and points[0] == points[-1])
    return curves


def _pieces(segment: svg.PathSegment, tolerance: float) -> int:
    """Into how many straight pieces a segment is divided (Wang's bound for Bézier curves, the
    sagitta for arcs)."""
    if isinstance(segment, svg.CubicBezier):
        a, b, c, d = (
            complex(p) for p in (segment.start, segment.control1, segment.control2, segment.end)
        )
        bend = 6.0 * max(abs(a - 2 * b + c), abs(b - 2 * c + d))
    elif isinstance(segment, svg.QuadraticBezier):
        a, b, c = (complex(p) for p in (segment.start, segment.control, segment.end))
        bend = 2.0 * abs(a - 2 * b + c)
    elif isinstance(segment, svg.Arc):
        radius = max(float(segment.rx), float(segment.ry))
        if not radius > tolerance:
            return 1
        step = 2.0 * acos(1.0 - tolerance / radius)
        return min(max(1, ceil(abs(float(segment.sweep)) / min(step, pi / 2))), MOST_POINTS)
    else:
        return 1
    return min(max(1, ceil(sqrt(bend / (8.0 * tolerance)))), MOST_POINTS)


def write_svg(curves: list[FlatCurve]) -> bytes:
    """Outlines as a drawing in millimetres."""
    places = np.concatenate([curve.points for curve in curves]) * [1.0, -1.0]
    low, high = places.min(axis=0), places.max(axis=0)
    width, height = (float(x) for x in high - low)
    paths = []
    for curve in curves:
        run = " ".join(f"{x!r},{-y!r}" for x, y in curve.points.tolist())
        paths.append(
            f'<path d="M {run}{" Z" if curve.closed else ""}" fill="none" stroke="black" stroke-width="0.1"/>'
        )
    size = f'width="{width!r}mm" height="{height!r}mm" viewBox="{float(low[0])!r} {float(low[1])!r} {width!r} {height!r}"'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" {size}>\n{chr(10).join(paths)}\n</svg>\n'.encode()
    )
