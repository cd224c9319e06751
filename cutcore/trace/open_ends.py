"""Open ends: what becomes of a line that stops inside a face.

An end is open if just one span reaches a place inside a face and no other line passes through it.
- trim    the last stretch and its point are dropped
- extend  the point stays as a vertex and the line goes on straight to the border of the face
- join    the point stays and is linked to the nearest corner that the face's other lines leave in
          sight
"""

from __future__ import annotations

from typing import Literal

import numpy as np

from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.chart import chart_of
from cutcore.geometry.polygons import distance_to_segments, inside_loop
from cutcore.geometry.predicates import segments_meet
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.notes import Note, position
from cutcore.trace.trace import IN_FACE, SpanOf, TraceBuilder

OpenEnds = Literal["trim", "extend", "join"]

WORDS = {
    "trim": "An open end inside a face was trimmed back to the last edge.",
    "extend": "An open end inside a face was extended to its boundary.",
    "join": "An open end inside a face was joined to a corner.",
}


Key = tuple[int, int, int]


def settle_open_ends(builder: TraceBuilder, how: OpenEnds) -> None:
    """Trim, extend or join every open end of a trace under construction, with a note for each."""
    spans = _Spans(builder)
    while ends := spans.open_ends():
        for anchor, key in ends:
            of = builder.spans[key]
            if of.trimmed:
                continue
            done = how
            known = len(builder.spans)
            if how == "trim" or not (_extend if how == "extend" else _join)(
                builder, anchor, key, SpanOf(of.line, far=of.far)
            ):
                builder.spans[key] = of._replace(trimmed=True)
                spans.drop(key)
                done = "trim"
            elif len(builder.spans) > known:
                spans.add(next(reversed(builder.spans)))
            builder.note(Note(f"open-end-{done}", WORDS[done], (position(builder.place[anchor]),)))


class _Spans:
    """The spans of a trace that are cut, by the places inside faces that they reach, and by
    face."""

    def __init__(self, builder: TraceBuilder) -> None:
        self._builder = builder
        self._reached: dict[int, list[Key]] = {}
        self._in_face: dict[int, list[Key]] = {}
        for key, of in builder.spans.items():
            if not of.trimmed:
                self.add(key)

    def add(self, key: Key) -> None:
        self._in_face.setdefault(key[2], []).append(key)
        for anchor in key[:2]:
            if self._builder.kind[anchor] == IN_FACE:
                self._reached.setdefault(anchor, []).append(key)

    def drop(self, key: Key) -> None:
        self._in_face[key[2]].remove(key)
        for anchor in key[:2]:
            if anchor in self._reached:
                self._reached[anchor].remove(key)

    def open_ends(self) -> list[tuple[int, Key]]:
        """The open anchors, each with its one span."""
        return [
            (a, keys[0])
            for a, keys in self._reached.items()
            if len(keys) == 1 and not self._passed(a, keys[0])
        ]

    def _passed(self, anchor: int, own: Key) -> bool:
        """Whether another line of the same face passes through a place."""
        others = [key for key in self._in_face[own[2]] if key != own]
        if not others:
            return False
        place = self._builder.place
        a = np.array([place[k[0]] for k in others])
        b = np.array([place[k[1]] for k in others])
        gaps = distance_to_segments(place[anchor][None], a, b)
        return bool((gaps <= self._builder.weld).any())


def _extend(builder: TraceBuilder, anchor: int, key: tuple[int, int, int], of: SpanOf) -> bool:
    face = key[2]
    loop = builder.mesh.face(face)
    places = builder.mesh.points[loop]
    chart = chart_of(places)
    flat = chart.flatten(places)
    tail, tip = chart.flatten(
        np.array([builder.place[key[0] if key[1] == anchor else key[1]], builder.place[anchor]])
    )
    corner, share = _first_hit(tip, tip - tail, flat)
    if corner < 0:
        return False
    edge = int(builder.mesh.edges.of_corner[builder.mesh.starts[face] + corner])
    forward = builder.mesh.edges.ends[edge, 0] == loop[corner]
    builder.span(anchor, builder.on_edge(edge, share if forward else 1.0 - share), face, of)
    return True


def _first_hit(origin: Floats, direction: Floats, loop: Floats) -> tuple[int, float]:
    """Where a ray first leaves a loop (k, 2): (corner whose edge it hits, share of that edge), or
    (-1, 0)."""
    a, b = loop, np.roll(loop, -1, axis=0)
    along = b - a
    turn = direction[0] * along[:, 1] - direction[1] * along[:, 0]
    away = a - origin
    with np.errstate(divide="ignore", invalid="ignore"):
        reach = (away[:, 0] * along[:, 1] - away[:, 1] * along[:, 0]) / turn
        share = (away[:, 0] * direction[1] - away[:, 1] * direction[0]) / turn
    hit = np.isfinite(reach) & (reach > 0) & (share >= -NEGLIGIBLE) & (share <= 1 + NEGLIGIBLE)
    if not hit.any():
        return -1, 0.0
    first = int(np.argmin(np.where(hit, reach, np.inf)))
    return first, float(np.clip(share[first], 0.0, 1.0))


def _join(builder: TraceBuilder, anchor: int, key: tuple[int, int, int], of: SpanOf) -> bool:
    face = key[2]
    loop = builder.mesh.face(face)
    places = builder.mesh.points[loop]
    chart = chart_of(places)
    flat = chart.flatten(places)
    tip = chart.flatten(builder.place[anchor][None])[0]
    spans = [k for k, span in builder.spans.items() if k[2] == face and not span.trimmed]
    drawn = chart.flatten(np.array([builder.place[a] for k in spans for a in k[:2]])).reshape(
        -1, 2, 2
    )
    for corner in np.argsort(((flat - tip) ** 2).sum(axis=1), kind="stable").tolist():
        goal = builder.vertex(int(loop[corner]))
        if any(goal in k[:2] and anchor in k[:2] for k in spans):
            continue
        if _in_sight(tip, flat[corner], flat, drawn):
            builder.span(anchor, goal, face, of)
            return True
    return False


def _in_sight(tip: Floats, goal: Floats, loop: Floats, drawn: Floats) -> bool:
    """Whether a straight link from inside a loop to one of its corners meets no drawn line and
    stays inside."""
    between = tip + np.array([0.25, 0.5, 0.75])[:, None] * (goal - tip)
    if not inside_loop(loop, between, margin=NEGLIGIBLE).all():
        return False
    border = np.stack([loop, np.roll(loop, -1, axis=0)], axis=1)
    return not _meets(tip, goal, np.concatenate([border, drawn]))


def _meets(p: Floats, q: Floats, segments: Floats) -> bool:
    """Whether the open segment p-q meets any of the segments (n, 2, 2) other than at its own two
    ends."""
    a, b = segments[:, 0], segments[:, 1]

    shares_end: Ints = (np.abs(a - p).max(axis=1) == 0) | (np.abs(b - p).max(axis=1) == 0)
    shares_end |= (np.abs(a - q).max(axis=1) == 0) | (np.abs(b - q).max(axis=1) == 0)
    return bool((segments_meet(p, q, a, b) & ~shares_end).any())
