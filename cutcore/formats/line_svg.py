"""Lines as a view sees them, written as an SVG drawing in pixels of the view."""

from __future__ import annotations

import re
from collections.abc import Sequence
from xml.sax.saxutils import quoteattr

import numpy as np

from cutcore.geometry.arrays import Bools, Floats
from cutcore.queries.seen_lines import SeenLines

# Width, and dashes, by whether a line tells the form and whether it is in sight.
BOLD = 'stroke-width="1.7"'
FINE = 'stroke-width="0.8"'
HIDDEN = 'stroke-width="0.7" stroke-dasharray="3.5 3"'
DIGITS = 2
NOT_IN_XML = re.compile("[^\t\n\r\\x20-\\ud7ff\\ue000-\\ufffd\\U00010000-\\U0010ffff]")


def write_lines(
    groups: Sequence[tuple[str, SeenLines]],
    size: tuple[float, float],
    *,
    hidden: bool,
    colour: str,
    ground: str | None,
) -> bytes:
    """An SVG drawing of named groups of lines, as they are seen; those out of sight in dashes if
    `hidden` ones are asked for. `ground` is the colour of the paper, none for a clear one."""
    width, height = size
    drawn = []
    for name, lines in groups:
        kinds: list[tuple[str, Bools, str]] = [
            ("in sight", lines.seen & ~lines.bold, FINE),
            ("form", lines.seen & lines.bold, BOLD),
        ]
        if hidden:
            kinds.insert(0, ("behind", ~lines.seen, HIDDEN))
        paths = [
            f'<path data-lines="{kind}" {look} d="{_path(lines.ends[chosen])}"/>'
            for kind, chosen, look in kinds
            if chosen.any()
        ]
        drawn.append(
            f"<g data-part={quoteattr(NOT_IN_XML.sub('', name))}>\n{chr(10).join(paths)}\n</g>"
        )
    paper = f'<rect width="100%" height="100%" fill="{ground}"/>\n' if ground else ""
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:g}" height="{height:g}"'
        f' viewBox="0 0 {width:g} {height:g}">\n{paper}'
        f'<g fill="none" stroke="{colour}" stroke-linecap="round">\n'
        f"{chr(10).join(drawn)}\n</g>\n</svg>\n"
    ).encode()


def _path(ends: Floats) -> str:
    """Stretches (N, 2, 2) as the data of a path; one that goes on where the last has ended is drawn
    on."""
    places = np.round(ends, DIGITS).tolist()
    written: list[str] = []
    pen = None
    for (x, y), (u, v) in places:
        if pen != (x, y):
            written.append(f"M{x:g} {y:g}")
        written.append(f"L{u:g} {v:g}")
        pen = (u, v)
    return "".join(written)
