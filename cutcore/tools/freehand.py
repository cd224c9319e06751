"""Freehand: what is drawn over the part by hand is scored into it."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.geometry.arrays import Bools, Floats
from cutcore.geometry.camera import View
from cutcore.imprint.followed import eased, followed
from cutcore.mesh.last_answer import last_answer
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Element, Note, face
from cutcore.queries.limits import limit_mask
from cutcore.shapes.small import FROM_A_CORNER, FROM_ABOVE
from cutcore.tool import Cut, Drawn, Example, Extra, Following
from cutcore.trace.merged import merged_on_edges
from cutcore.trace.open_ends import OpenEnds
from cutcore.trace.scores import scores_at
from cutcore.trace.spread import Spread
from cutcore.trace.straight_across import leaving_spans
from cutcore.trace.strokes import MOST_STROKES, Drawing, Laid, Stroke, lay_strokes
from cutcore.trace.surface_points import Share
from cutcore.trace.symmetry import with_mirror
from cutcore.trace.trace import Trace, TraceBuilder
from cutcore.trace.walks import Crossings, Walk, crossings_of, left_is_low, walks_of, without_undone
from cutcore.words import count_of, share_words


class Scores(Spread):
    """So many scores side by side over every crossed edge."""

    count: Annotated[int, Field(ge=1, le=50)]


class FreehandParams(Following, Drawing):
    """Strokes drawn over the part in a view.

    A score `keeps` its shape, with points inside faces, or only its places at edges, straight in
    between. Then it may cross every edge at a fixed `share`, or be several scores at once: a
    `spread`. Shares run from the side that the stroke leaves on its left."""

    tool: Literal["freehand"] = "freehand"
    strokes: Annotated[tuple[Stroke, ...], Field(min_length=1, max_length=MOST_STROKES)]
    view: View
    keeps: Literal["shape", "edges"] = "shape"
    share: Share | None = None
    spread: Scores | None = None
    reach: Literal["near", "through"] = "near"
    open_ends: OpenEnds = "trim"

    @model_validator(mode="after")
    def _goes_together(self) -> Self:
        if self.keeps == "shape" and (self.share is not None or self.spread is not None):
            raise ValueError("shares of edges are for scores that keep only their edges")
        if self.share is not None and self.spread is not None:
            raise ValueError("a score has either a share or a spread")
        return self


def trace(mesh: Mesh, params: FreehandParams) -> Trace:
    """The spans of all scores. Raises StepError, naming the end, for a stroke that ends on an
    element that is not there."""
    tolerance = weld_of(mesh)
    limit = limit_mask(mesh, params.limit)
    laid = _laid(mesh, params, tolerance, limit)
    made = laid.trace if params.keeps == "shape" else _at_edges(mesh, params, laid, tolerance)
    made = followed(mesh, made, params.follow)
    if params.mirror is not None:
        made = with_mirror(mesh, made, params.mirror, limit=limit, weld=tolerance)
    return eased(mesh, made, tolerance)


def _laid(mesh: Mesh, params: FreehandParams, weld: float, limit: Bools | None) -> Laid:
    """The strokes on the part, once for trace and plan."""
    return last_answer(
        mesh,
        "_freehand",
        (params, weld),
        lambda: lay_strokes(
            mesh,
            params.strokes,
            params.view,
            params,
            through=params.reach == "through",
            limit=limit,
            weld=weld,
            open_ends=params.open_ends if params.keeps == "shape" else None,
        ),
    )


def _at_edges(mesh: Mesh, params: FreehandParams, laid: Laid, weld: float) -> Trace:
    """The scores that have vertices only where an edge is crossed."""
    drawn = laid.trace
    notes = list(drawn.notes)
    scores = []
    for walk in walks_of(mesh, drawn, laid.lines):
        crossings = without_undone(drawn, crossings_of(drawn, walk))
        if len(crossings.anchors) < 2:
            words = "The stroke crosses fewer than two edges: it leaves nothing."
            notes.append(Note("stroke-no-edges", words, _faces_of(walk)))
        else:
            shares = _shares(mesh, params, drawn, walk, crossings)
            scores.append(scores_at(mesh, drawn, crossings, shares, far=walk.far))
    if not scores:
        return replace(TraceBuilder(mesh, weld).build(), notes=tuple(notes))
    made = merged_on_edges(mesh, Trace.together(scores), weld)
    leaving = leaving_spans(mesh, made)
    if len(leaving):
        words = "Across some faces the straight way would leave them: there nothing is cut."
        where = tuple(face(f) for f in made.face[leaving[:50]].tolist())
        notes.append(Note("leaves-the-face", words, where))
        trimmed = made.trimmed.copy()
        trimmed[leaving] = True
        made = replace(made, trimmed=trimmed)
    return replace(made, notes=tuple(notes))


def _shares(
    mesh: Mesh, params: FreehandParams, drawn: Trace, walk: Walk, crossings: Crossings
) -> Floats:
    """For each score (r) its share of every crossed edge (r, n), from the lower vertex."""
    if params.share is None and params.spread is None:
        return drawn.share[crossings.anchors][None]
    shares = params.spread.shares() if params.spread is not None else (params.share or 0.0,)
    low = left_is_low(mesh, drawn, crossings, seen=walk.seen)
    from_left = np.array(shares)[:, None]
    return np.where(low, from_left, 1.0 - from_left)


def _faces_of(walk: Walk) -> tuple[Element, ...]:
    return tuple(face(f) for f in dict.fromkeys(walk.faces) if f >= 0)[:1]


class FreehandExtra(Extra):
    """How many lines the strokes make and how many points they are told by, of how many drawn."""

    of: Literal["freehand"] = "freehand"
    lines: int
    closed: int
    points: int
    drawn: int


def extra_of(mesh: Mesh, params: FreehandParams, drawn: Drawn) -> FreehandExtra | None:
    """What a plan of scores tells; of one that can't be laid nothing."""
    if drawn.trace is None:
        return None
    laid = _laid(mesh, params, weld_of(mesh), limit_mask(mesh, params.limit))
    return FreehandExtra(
        lines=len(laid.lines),
        closed=sum(line.closed for line, _ in laid.lines),
        points=sum(len(line.flat) for line, _ in laid.lines)
        if params.keeps == "shape"
        else len(np.unique(drawn.trace.ends[drawn.trace.cut])),
        drawn=sum(len(stroke.points) for stroke in params.strokes),
    )


def _title(params: FreehandParams) -> str:
    if params.spread is not None:
        how = count_of(params.spread.count, "score")
    elif params.share is not None:
        how = f"at {share_words(params.share)}"
    else:
        how = "as drawn" if params.keeps == "shape" else "at edges"
    return f"Freehand, {how}{', right through' if params.reach == 'through' else ''}"


# A wave across the plate seen from above.
WAVE = [[float(x), round(400 + 60 * float(np.sin(x / 70)), 3)] for x in range(200, 601, 10)]

TOOL = Cut(
    params=FreehandParams,
    title=_title,
    examples=(
        Example("plate", {"strokes": [{"points": WAVE}], "view": FROM_ABOVE, "smooth": 0.1}),
        Example(
            "plate",
            {
                "strokes": [{"points": WAVE}],
                "view": FROM_ABOVE,
                "keeps": "edges",
                "spread": {"count": 3, "ratio": 1.5},
            },
        ),
        Example(
            "cube",
            {
                "strokes": [{"points": [[200, 250], [400, 280], [600, 330]]}],
                "view": FROM_A_CORNER,
                "keeps": "edges",
                "share": 0.25,
                "reach": "through",
                "mirror": {"axis": "x"},
            },
        ),
        Example(
            "cube",
            {
                "strokes": [{"points": [[200, 250], [400, 280], [600, 330]]}],
                "view": FROM_A_CORNER,
                "straight": True,
                "open_ends": "extend",
            },
        ),
    ),
    trace=trace,
    extra=extra_of,
)
