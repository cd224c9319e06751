"""Edge loop: new loops along the ring of an edge, at shares or distances, several at once, evenly
spread or crowded."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, Literal, Self

import numpy as np
from pydantic import BaseModel, Field, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.imprint.followed import eased, followed
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, edge, face
from cutcore.params import Index, Real
from cutcore.queries.edge_rings import EdgeRing, edge_ring
from cutcore.queries.limits import limit_mask
from cutcore.queries.named_elements import edges_named, middle_of
from cutcore.tool import Cut, Drawn, Example, Extra, Following, Place, ends_in_quads, place_of
from cutcore.trace.spread import Spread
from cutcore.trace.straight_across import leaving_spans
from cutcore.trace.symmetry import with_mirror
from cutcore.trace.trace import IN_FACE, ON_EDGE, Trace
from cutcore.words import count_of, length_words, share_words

# The codes of the notes that say where and why a loop ends.
LOOP_ENDS = (
    "loop-ngon",
    "loop-triangle",
    "loop-border",
    "loop-limit",
    "loop-crowded-edge",
    "loop-path-end",
    "loop-one-sided",
)


class LoopSettings(Following):
    """How loops run, apart from where: `through` are faces of an even number of sides that they go
    on over, `along` the edges of the ring that they keep to (null for the whole ring)."""

    measure: Literal["share", "distance"] = "share"
    extra_points: Annotated[int, Field(ge=0, le=100)] = 0
    through: tuple[Index, ...] = ()
    along: tuple[tuple[Index, Index], ...] | None = None


class LoopParams(LoopSettings):
    """Loops along the ring of an edge, at places or spread. Places run from the first vertex
    named."""

    tool: Literal["loop"] = "loop"
    edge: tuple[Index, Index]
    at: (
        Annotated[tuple[Annotated[Real, Field(ge=0)], ...], Field(min_length=1, max_length=1000)]
        | None
    ) = None
    spread: Spread | None = None

    @model_validator(mode="after")
    def _has_places(self) -> Self:
        if (self.at is None) == (self.spread is None):
            raise ValueError("loops need either places (at) or a spread")
        if self.spread is not None and self.measure != "share":
            raise ValueError("spread loops go by share: a spread has no distance")
        return self

    @property
    def places(self) -> tuple[float, ...]:
        """Where the loops lie, as shares or distances."""
        return self.spread.shares() if self.spread is not None else self.at or ()


def trace(mesh: Mesh, params: LoopParams) -> Trace:
    """The spans of all loops, with notes on where and why they stop.

    Raises StepError if the edge is not there, no quad lies beside it, or a distance is longer than
    an edge."""
    tolerance = weld_of(mesh)
    ring = ring_of(mesh, params)
    notes = list(ring.stops)
    lengths = np.linalg.norm(
        np.diff(mesh.points[mesh.edges.ends[ring.edges]], axis=1)[:, 0], axis=1
    )
    rows = _rows(mesh, ring, params, lengths, tolerance, notes)
    made = followed(mesh, _lay(mesh, ring, rows), params.follow)
    _check_ways_across(mesh, made)
    made = made if params.extra_points == 0 else _with_points(made, params.extra_points)
    if ring.swapped and len(made.ends) < len(rows) * len(ring.faces) * (1 + params.extra_points):
        words = (
            "The ring comes back with its sides exchanged: a loop without one opposite stops there."
        )
        notes.append(Note("loop-one-sided", words, (face(int(ring.faces[-1])),)))
    if params.extra_points and rows and not ends_in_quads(params):
        faces = tuple(face(int(f)) for f in ring.faces[:50])
        count = len(ring.faces) * (len(rows) + 1)
        notes.append(
            Note(
                "loop-leaves-ngons",
                f"The extra points make n-gons of the {count} faces beside the new edges.",
                faces,
            )
        )
    made = replace(made, notes=(*notes, *made.notes))
    if params.mirror is not None:
        limit = limit_mask(mesh, params.limit)
        made = with_mirror(mesh, made, params.mirror, limit=limit, weld=tolerance)
    return eased(mesh, made, tolerance)


def ring_of(mesh: Mesh, params: LoopParams) -> EdgeRing:
    """The ring that the loops run along."""
    a, b = params.edge
    found = mesh.edges.between(a, b)
    if found < 0:
        raise StepError(f"there is no edge between the vertices {a} and {b}", where="edge")
    for k, number in enumerate(params.through):
        if number >= mesh.face_count:
            raise StepError(
                f"there are {mesh.face_count} faces, got face {number}", where=f"through[{k}]"
            )
        if mesh.sizes[number] % 2:
            raise StepError(
                f"face {number} has {mesh.sizes[number]} sides: no edge lies opposite",
                where=f"through[{k}]",
            )
    along = (
        None if params.along is None else edges_named(mesh, params.along, where="along").tolist()
    )
    if along is not None and found not in along:
        raise StepError(
            "the edge is not one of those the loop keeps to",
            where="along",
            elements=(edge(params.edge),),
        )
    return edge_ring(
        mesh, found, a, limit_mask(mesh, params.limit), through=params.through, along=along
    )


def _rows(
    mesh: Mesh, ring: EdgeRing, params: LoopParams, lengths: Floats, weld: float, notes: list[Note]
) -> list[Floats]:
    """For each loop its share (n,) of every edge of the ring, from the side shares count from."""
    shortest = int(np.argmin(lengths))
    rows: list[Floats] = []
    for k, at in enumerate(params.places):
        if params.measure == "share":
            if at > 1.0:
                raise StepError(f"a share from 0 to 1, got {at:g}", where=f"at[{k}]")
            row = np.full(len(lengths), at)
        else:
            if at > lengths[shortest]:
                ends = mesh.edges.ends[ring.edges[shortest]].tolist()
                words = f"the edge {ends[0]}–{ends[1]} of the ring is {lengths[shortest]:g} long, got a distance of {at:g}"
                raise StepError(words, where=f"at[{k}]", elements=(edge(ends),))
            row = at / lengths
        if (np.minimum(row, 1.0 - row) * lengths <= weld).any():
            notes.append(
                Note(
                    "loop-at-end",
                    f"A loop at {_said(at, params)} lies on a loop that is there already: it adds nothing.",
                )
            )
        elif any((np.abs(row - other) * lengths <= weld).any() for other in rows):
            notes.append(
                Note(
                    "loop-twice",
                    f"A loop at {_said(at, params)} was asked for twice: it is made once.",
                )
            )
        else:
            rows.append(row)
    return rows


def _said(at: float, params: LoopParams) -> str:
    return f"{100 * at:g} %" if params.measure == "share" else f"a distance of {at:g}"


def _lay(mesh: Mesh, ring: EdgeRing, rows: list[Floats]) -> Trace:
    count, loops = len(ring.edges), len(rows)
    first_is_low = mesh.edges.ends[ring.edges, 0] == ring.first
    shares = np.array(rows).reshape(loops, count)
    from_low = np.where(first_is_low, shares, 1.0 - shares)
    low, high = (mesh.points[mesh.edges.ends[ring.edges, k]] for k in (0, 1))
    place = (low + from_low[..., None] * (high - low)).reshape(-1, 3)
    element = np.tile(ring.edges, loops)
    anchor = np.arange(loops * count).reshape(loops, count)
    ends = np.stack([anchor[:, :-1], anchor[:, 1:]], axis=2)
    faces = ring.faces[: count - 1]
    if ring.closed:
        goal = _closing(anchor, shares, ring.swapped)
        there = goal >= 0
        closing = np.stack([anchor[:, -1], np.maximum(goal, 0)], axis=1)[there]
        ends = np.concatenate([ends.reshape(-1, 2), closing])
        face_of = np.concatenate([np.tile(faces, loops), np.full(int(there.sum()), ring.faces[-1])])
        line = np.concatenate([np.repeat(np.arange(loops), count - 1), np.flatnonzero(there)])
    else:
        ends = ends.reshape(-1, 2)
        face_of = np.tile(faces, loops)
        line = np.repeat(np.arange(loops), count - 1)
    return Trace.of(
        np.full(len(element), ON_EDGE),
        element,
        from_low.ravel(),
        place,
        ends,
        face_of,
        line=line,
    )


def _check_ways_across(mesh: Mesh, made: Trace) -> None:
    """Raise StepError for a span that leaves its face: across a bent one the straight way may lie
    outside."""
    for s in leaving_spans(mesh, made)[:1].tolist():
        number = int(made.face[s])
        words = f"the straight way across face {number} leaves the face: the loop can't go on through it"
        raise StepError(words, elements=(face(number),))


def _closing(anchor: Ints, shares: Floats, swapped: bool) -> Ints:
    """The anchor (loops,) that the last one of each loop is joined to; -1 where none lies opposite.

    A ring that comes back with its sides exchanged joins a loop at a share t to the one at 1 - t.
    """
    if not swapped or len(anchor) == 0:
        return anchor[:, 0]
    apart = np.abs(shares[:, -1][:, None] - (1.0 - shares[:, 0])[None])
    best = np.argmin(apart, axis=1)
    return np.where(apart[np.arange(len(best)), best] <= NEGLIGIBLE, anchor[best, 0], -1)


def _with_points(made: Trace, extra: int) -> Trace:
    """Every span divided evenly by so many further points."""
    share = np.arange(1, extra + 1) / (extra + 1)
    a, b = made.ends[:, 0], made.ends[:, 1]
    place = made.place[a][:, None] + share[None, :, None] * (made.place[b] - made.place[a])[:, None]
    first = len(made.kind) + np.arange(len(a))[:, None] * extra + np.arange(extra)[None]
    chain = np.concatenate([a[:, None], first, b[:, None]], axis=1)
    ends = np.stack([chain[:, :-1], chain[:, 1:]], axis=2).reshape(-1, 2)
    lift = None
    if made.lift is not None:
        between = (
            made.lift[a][:, None] + share[None, :, None] * (made.lift[b] - made.lift[a])[:, None]
        )
        lift = np.concatenate([made.lift, between.reshape(-1, 3)])
    return Trace.of(
        np.concatenate([made.kind, np.full(len(a) * extra, IN_FACE)]),
        np.concatenate([made.element, np.repeat(made.face, extra)]),
        np.concatenate([made.share, np.zeros(len(a) * extra)]),
        np.concatenate([made.place, place.reshape(-1, 3)]),
        ends,
        np.repeat(made.face, extra + 1),
        line=np.repeat(made.line, extra + 1),
        lift=lift,
    )


class LoopEnd(BaseModel):
    """Where a loop ends, why, and the face of an even number of sides that it could be told to go
    on through."""

    code: str
    words: str
    at: Place
    through: int | None


class LoopExtra(Extra):
    """The faces that loops run over, and where and why they end."""

    of: Literal["loop"] = "loop"
    crossed: list[int]
    ends: list[LoopEnd]


def extra_of(mesh: Mesh, params: LoopParams, drawn: Drawn) -> LoopExtra:
    """What a plan of loops shows; of ones that can't be laid nothing."""
    crossed = [] if drawn.trace is None else drawn.trace.crossed_faces().tolist()
    return LoopExtra(crossed=crossed, ends=ends_of(mesh, drawn.notes))


def ends_of(mesh: Mesh, notes: tuple[Note, ...]) -> list[LoopEnd]:
    """The notes that say where loops end, with the face that one could go on through, if it has an
    edge opposite."""
    ends = []
    for note in notes:
        if note.code not in LOOP_ENDS or not note.elements:
            continue
        element = note.elements[0]
        number: Any = element.value
        through = number if note.code == "loop-ngon" and mesh.sizes[number] % 2 == 0 else None
        at = place_of(middle_of(mesh, element))
        ends.append(LoopEnd(code=note.code, words=note.words, at=at, through=through))
    return ends


def _title(params: LoopParams) -> str:
    count = params.spread.count if params.spread is not None else len(params.at or ())
    if count > 1 or params.at is None:
        return f"{count_of(count, 'edge loop')}"
    place = params.at[0]
    return (
        f"Edge loop at {share_words(place) if params.measure == 'share' else length_words(place)}"
    )


TOOL = Cut(
    params=LoopParams,
    title=_title,
    examples=(
        Example(
            "cube",
            {
                "edge": [18, 20],
                "at": [0.3],
                "follow": 0.5,
                "extra_points": 1,
                "mirror": {"axis": "x"},
            },
        ),
        Example("plate", {"edge": [4, 8], "at": [0.2, 0.7], "extra_points": 1}),
        Example("drum", {"edge": [0, 8], "spread": {"count": 2, "ratio": 2.0}, "follow": 1.0}),
        Example("drum", {"edge": [0, 8], "at": [0.25], "measure": "distance"}),
    ),
    trace=trace,
    extra=extra_of,
)
