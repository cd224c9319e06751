"""Woven: a line becomes edges of the grid, with a row of quads on either side, and what is near is
evened out."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints, distinct
from cutcore.geometry.axes import AXES
from cutcore.imprint import NOTHING, imprinted
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, position
from cutcore.params import Params, Real
from cutcore.progress import come_to
from cutcore.trace.mirror import Mirror
from cutcore.trace.trace import ON_EDGE, ON_VERTEX, SpanOf, Trace, TraceBuilder
from cutcore.weave.chain import Chain, Chains, ChordsNeeded, LoopsNeeded
from cutcore.weave.even import Evened, evened
from cutcore.weave.ground import Ground, ground_round
from cutcore.weave.judge import Made, off_the_line
from cutcore.weave.lines import Lines
from cutcore.weave.loops_first import carried_over, edges_to_split, with_loops
from cutcore.weave.mirrored import NOT_ALIKE, Twins, alike
from cutcore.weave.refusal import too_coarse
from cutcore.weave.result import result_of
from cutcore.weave.rows import Line, Rows, opened
from cutcore.weave.stations import Stations
from cutcore.words import count_of, share_words

# The ground reaches so many rings round the faces a line crosses.
GROUND = 3

# So often loops are added or large faces parted before a line is woven in.
MOST_PREPARED = 4

LOOPS_FIRST = Note(
    "loops-first", "Loops were added first, where one row of faces lay between edges that stay."
)

# Distances up to this share of the part are what rounding leaves.
ROUNDED = 1e-9


class Woven(Params):
    """How a line is woven in."""

    even_to: Annotated[Real, Field(ge=0, le=180)] = Field(
        default=30.0,
        description="degrees: edges at which the surface bends by more stay where they are",
    )
    most_moved: Annotated[Real, Field(ge=0)] | None = Field(
        default=0.1,
        description="how far the surface may move, as a share of the edges there; null for any",
    )
    most_off: Annotated[Real, Field(ge=0)] | None = Field(
        default=None, description="how far the line may lie from the edges that become it"
    )


def woven(
    mesh: Mesh,
    trace: Trace,
    settings: Woven,
    limit: Bools | None,
    mirror: Mirror | None = None,
    *,
    weld: float,
    placed: bool,
) -> Result:
    """The mesh with the lines of a trace woven in. Raises StepError, naming the place, where the
    grid can't bend to them. Points between their stretches get a vertex just there if a person
    `placed` them. With a `mirror` it bends alike on both sides where the part and the lines
    do."""
    come_to("finding the rows that become the line")
    lines = Lines.of(mesh, trace, weld, placed=placed)
    if not (lines.face >= 0).any():
        return Result(mesh, Origin.same(mesh), Picked(), (*trace.notes, NOTHING))
    made = _prepared(mesh, lines, settings, limit, mirror, weld)
    # What a cut leaves out for ending inside a face is woven, too.
    notes = tuple(note for note in trace.notes if note.code != "open-end-trim")
    return replace(made, notes=(*notes, *made.notes))


def _prepared(
    mesh: Mesh,
    lines: Lines,
    settings: Woven,
    limit: Bools | None,
    mirror: Mirror | None,
    weld: float,
) -> Result:
    """The lines woven in, after loops were added and large faces parted where that is needed."""
    ready, now, origin, loops = lines, mesh, Origin.same(mesh), 0
    for _ in range(MOST_PREPARED):
        allowed = None if limit is None else limit[origin.face]
        try:
            made = _woven(now, ready, settings, allowed, mirror)
        except ChordsNeeded as needed:
            added = imprinted(now, _chords(now, needed.chords, weld), weld=weld)
        except LoopsNeeded as needed:
            added = with_loops(now, needed.edges, allowed, weld=weld)
            if added.mesh is now:
                break
            ready = carried_over(now, ready, added, weld)
            loops += 1
        else:
            notes = made.notes if loops == 0 else (LOOPS_FIRST, *made.notes)
            return replace(made, origin=then(origin, made.origin), notes=notes)
        now, origin = added.mesh, then(origin, added.origin)
    place = lines.place[lines.spans[0, 0]]
    raise too_coarse("too few faces lie between edges that stay", position(place))


def _chords(mesh: Mesh, chords: list[tuple[int, int, int]], weld: float) -> Trace:
    builder = TraceBuilder(mesh, weld)
    for a, b, face in chords:
        builder.span(builder.vertex(a), builder.vertex(b), face, SpanOf(0))
    return builder.build()


def _woven(
    mesh: Mesh, lines: Lines, settings: Woven, limit: Bools | None, mirror: Mirror | None
) -> Result:
    ground = ground_round(mesh, _seeds(mesh, lines), GROUND, limit=limit, even=settings.even_to)
    lines = lines.without(_on_locked(ground, lines))
    fixed = _nodes_on_locked(ground, lines)
    if mirror is not None:
        # Lines that cross the mirror are woven from there to both sides.
        fixed |= np.abs(lines.place[:, AXES[mirror.axis]] - mirror.offset) <= weld_of(mesh)
    stations = lines.stations(fixed, _sizes(ground, lines))
    narrow = edges_to_split(ground, lines, stations)
    if len(narrow):
        raise LoopsNeeded(narrow)
    chains, found = _chained(ground, lines, stations, mirror)
    line = Line.of(found, lines, chains.stations.vertex)
    come_to("opening rows beside it")
    rows = opened(ground, lines, line)
    come_to("evening out")
    even = evened(ground, rows, line, found)
    notes: tuple[Note, ...] = ()
    if mirror is not None:
        same = alike(ground, rows, line, even, Twins.of(ground, lines, mirror), mirror)
        even, notes = (even, (NOT_ALIKE,)) if same is None else (same, ())
    notes = (*_judged(ground, rows, even, found, settings), *notes)
    return result_of(ground, rows, line, even, notes)


def _chained(
    ground: Ground, lines: Lines, stations: Bools, mirror: Mirror | None
) -> tuple[Chains, list[Chain]]:
    """The chains of lines, alike on both sides of a mirror if there are such."""

    def chains(twins: Twins, mirror: Mirror | None) -> tuple[Chains, list[Chain]]:
        taken = np.zeros(len(ground.vertices), dtype=bool)
        own = Stations(ground, lines, stations, taken, (twins.node, twins.vertex))
        made = Chains(own, mirror)
        return made, made.found()

    if mirror is not None:
        try:
            return chains(Twins.of(ground, lines, mirror), mirror)
        except StepError:
            # Better bent otherwise on either side than not at all.
            pass
    return chains(Twins.none(ground, lines), None)


def _sizes(ground: Ground, lines: Lines) -> Floats:
    """How long the edges are at each node (N,) that is used."""
    found = np.ones(len(lines.kind))
    used = np.flatnonzero(lines.used)
    kind, element = lines.kind[used], lines.element[used]
    on_vertex, on_edge = kind == ON_VERTEX, kind == ON_EDGE
    rest = ~(on_vertex | on_edge)
    found[used[on_vertex]] = ground.sizes[np.searchsorted(ground.vertices, element[on_vertex])]
    edges = np.searchsorted(ground.edges, element[on_edge])
    found[used[on_edge]] = ground.sizes[ground.ends[edges]].mean(axis=1)
    faces = np.searchsorted(ground.faces, element[rest])
    found[used[rest]] = ground.sizes[ground.corners[ground.starts[faces]]]
    return found


def _judged(
    ground: Ground, rows: Rows, even: Evened, chains: list[Chain], settings: Woven
) -> tuple[Note, ...]:
    """What there is to say of a weave. Raises StepError where it may not be so."""
    made = Made.of(ground, rows, even)
    folded, places = made.folded(ground)
    if folded:
        raise too_coarse(f"{count_of(folded, 'face')} would fold over", *places)
    mesh = ground.mesh
    rounded = ROUNDED * mesh.diagonal
    share, moved, where = made.moved(ground)
    if settings.most_moved is not None and share > settings.most_moved + ROUNDED:
        raise StepError(
            f"the surface would move by {share_words(share)} of the edges there, more than is "
            "allowed",
            where="woven.most_moved",
            elements=(position(where),),
        )
    off, at = off_the_line(chains, even.alongs)
    if settings.most_off is not None and off > settings.most_off + rounded:
        raise StepError(
            f"the line would lie {share_words(off / mesh.diagonal)} of the part off the edges that become it, more than is "
            "allowed",
            where="woven.most_off",
            elements=(position(at),),
        )
    notes = []
    if moved > rounded:
        words = f"The surface moves by up to {share_words(share)} of the edges there."
        notes.append(Note("surface-moved", words, (position(where),)))
    if off > rounded:
        words = f"The line lies up to {share_words(off / mesh.diagonal)} of the part off the edges that become it."
        notes.append(Note("off-the-line", words, (position(at),)))
    return tuple(notes)


def _seeds(mesh: Mesh, lines: Lines) -> Ints:
    """The faces that lines cross or run along."""
    edges = [lines.element[(lines.kind == ON_EDGE) & lines.used]]
    beside = mesh.edges.faces[np.concatenate(edges)].ravel()
    at_vertex = [
        mesh.edges.faces_at_vertex(v)[:1]
        for v in lines.element[(lines.kind == ON_VERTEX) & lines.used].tolist()
    ]
    found = np.concatenate([lines.face, beside, *at_vertex]).astype(np.int64)
    return distinct(found[found >= 0])


def _on_locked(ground: Ground, lines: Lines) -> Bools:
    """Which spans (S,) run along an edge that is locked: it stays what it is."""
    found = np.zeros(len(lines.spans), dtype=bool)
    for s in np.flatnonzero(lines.face < 0).tolist():
        edge = lines.edge_of(ground.mesh, s)
        found[s] = ground.locked[int(np.searchsorted(ground.edges, edge))]
    return found


def _nodes_on_locked(ground: Ground, lines: Lines) -> Bools:
    """Which nodes (N,) lie on a locked edge, or on a vertex of one."""
    found = np.zeros(len(lines.kind), dtype=bool)
    there = np.flatnonzero((lines.kind == ON_EDGE) & lines.used)
    found[there] = ground.locked[np.searchsorted(ground.edges, lines.element[there])]
    there = np.flatnonzero((lines.kind == ON_VERTEX) & lines.used)
    found[there] = ground.locks[np.searchsorted(ground.vertices, lines.element[there])] > 0
    return found
