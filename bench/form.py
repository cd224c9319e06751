"""Form: the smooth form whole and after a local cut, lines that follow it, edges bevelled and slid."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from bench.parts import torus_of
from bench.row import Row
from bench.timing import median
from cutcore import apply_step, parse_step
from cutcore.previews.smooth_form import moves_of, remade, smooth_form
from cutcore.tool import place_of

SIZE = "10 k"
QUADS = 10_000


def form_rows() -> Iterator[Row]:
    """Each against one slice of the same part."""
    part = torus_of(QUADS)
    part.edges.at_vertex(0)
    form = smooth_form(part)
    edge = len(part.edges) // 2
    face = int(part.edges.faces[edge, 0])
    inside = place_of(part.points[part.face(face)].mean(axis=0))
    points: list[dict[str, Any]] = [
        {"edge": part.edges.ends[edge].tolist(), "t": 0.3},
        {"face": face, "at": inside},
    ]
    knife = {"tool": "knife", "lines": [{"points": points}], "open_ends": "extend"}
    cut = apply_step(part, parse_step(knife))
    local = remade(form, part, cut.mesh, cut.origin.kept)
    plane = {"point": [0.1, 0.07, 0.2], "normal": [0.3, 0.9, 0.2]}
    ring = [part.edges.ends[edge].tolist()]

    def seconds(step: dict[str, Any]) -> float:
        read = parse_step(step)
        return median(lambda: apply_step(part, read))

    one = seconds({"tool": "slice", "plane": plane})
    whole = median(lambda: smooth_form(part), 3)
    anew = median(lambda: remade(form, part, cut.mesh, cut.origin.kept))
    told = median(lambda: moves_of(form, part, local))
    yield Row("smooth form, whole", whole / one, "slice", 450.0, SIZE)
    yield Row("smooth form after a local cut", anew / one, "slice", 15.0, SIZE)
    yield Row("how far it moves", told / one, "slice", 15.0, SIZE)
    follow = seconds({"tool": "slice", "plane": plane, "follow": 1.0})
    yield Row("a slice that follows the form", follow / one, "slice", 45.0, SIZE)
    bevel = seconds({"tool": "bevel", "edges": ring, "width": 1e-3, "rounds": 4})
    yield Row("an edge bevelled in four rounds", bevel / one, "slice", 12.0, SIZE)
    slide = seconds({"tool": "slide", "edges": ring, "by": 0.3})
    yield Row("an edge slid", slide / one, "slice", 6.0, SIZE)
