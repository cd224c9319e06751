"""Evening out: the vertices of the rows, and those round them, moved to where the corners of their
faces are better."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Floats, Ints, distinct, next_in_row, owner_of, starts_of
from cutcore.geometry.vectors import units
from cutcore.kernels import (
    ON_LINE,
    ON_SEGMENT,
    ON_SURFACE,
    STAYS,
    even_out,
    nearest_round_all,
    relax,
    rows_beside,
)
from cutcore.weave.chain import Chain
from cutcore.weave.ground import Ground
from cutcore.weave.rows import Line, Rows

# So many rings of vertices either side of the rows move along.
RINGS = 2

# How often all vertices are put between those next to them, and then moved to better corners.
RELAXED = 8
ROUNDS = 24

# What the square of an edge costs that a vertex lies away from where it was, if the surface bends
# there by so many degrees: what need not move keeps the surface where it is.
BENT = 15.0
HOMELY = 0.3


@dataclass(frozen=True, eq=False)
class Evened:
    """Where the vertices of the ground with its rows lie (n', 3), and for those that moved or are
    new the triangle of the old ground there (n',), -1 for others; `alongs` says how far along its
    line each vertex of every chain is."""

    places: Floats
    triangle: Ints
    alongs: list[Floats]


def faces_of(ground: Ground, rows: Rows) -> tuple[Ints, Ints]:
    """The faces of the ground and after them the quads beside the lines, as rows of vertices."""
    count = ground.starts[-1]
    starts = np.concatenate([ground.starts, count + 4 * (1 + np.arange(len(rows.quads)))])
    return starts, np.concatenate([rows.corners, rows.quads.ravel()])


def evened(ground: Ground, rows: Rows, line: Line, chains: list[Chain]) -> Evened:
    """The ground with its rows, evened out."""
    starts, corners = faces_of(ground, rows)
    places = rows.places.copy()
    count = len(places)
    kind = _kinds(ground, rows, line, starts, corners)
    moving = np.flatnonzero(kind != STAYS)
    at_starts, at = _corners_at(starts, corners, moving, count)
    face = owner_of(starts)
    parents = np.concatenate([np.arange(len(ground.faces)), rows.parents])
    # Any face of the old ground that each vertex lies in or beside, of its own chart.
    on = np.full(count, -1)
    on[corners] = parents[face]
    best = np.sin(np.pi * (1 - 2.0 / np.minimum(np.diff(starts), 8)))
    best[np.diff(starts) > 4] = np.sin(2 * np.pi / np.diff(starts)[np.diff(starts) > 4].clip(5))
    normals = units(ground.normals)[parents]
    surface = ground.surface

    free = kind[moving] == ON_SURFACE
    relaxed = moving[free]
    r_starts, r_at = _corners_at(starts, corners, relaxed, count)
    relax(places, relaxed, starts, corners, r_starts, r_at, RELAXED)
    places[relaxed], _, on[relaxed] = nearest_round_all(*surface, places[relaxed], on[relaxed])

    number = np.full(count, -1)
    number[moving] = np.arange(len(moving))
    lines = np.concatenate([c.line for c in chains])
    lengths = np.concatenate([c.lengths for c in chains])
    row, along = _slides(rows, line, chains, moving, number)
    between = _between(ground, rows, kind)[moving]
    near_starts, near = _around(at_starts, at, starts, corners, number)
    on_face = np.maximum(on[moving], 0)
    even_out(
        places,
        moving,
        kind[moving],
        starts,
        corners,
        normals,
        best,
        at_starts,
        at,
        near_starts,
        near,
        _sizes(places, corners, starts, at_starts, at, moving),
        on_face,
        *surface,
        lines,
        lengths,
        row,
        along,
        between,
        rows.places[moving],
        _drawn_home(ground, rows, line)[moving],
        ROUNDS,
    )
    on[moving] = on_face
    found, triangle, _ = nearest_round_all(*surface, places[moving], on[moving])
    places[moving[free]] = found[free]
    every_triangle = np.full(count, -1)
    every_triangle[moving] = triangle
    rest = rows.line[kind[rows.line] == STAYS]
    every_triangle[rest] = nearest_round_all(*surface, places[rest], on[rest])[1]
    alongs = [chain.along.copy() for chain in chains]
    for chain, one in zip(chains, alongs, strict=True):
        # The ends are stations, or where a closed line begins.
        k = number[rows.line[np.searchsorted(line.vertex, chain.vertices[1:-1])]]
        one[1:-1] = along[k]
    return Evened(places, every_triangle, alongs)


def _kinds(ground: Ground, rows: Rows, line: Line, starts: Ints, corners: Ints) -> Ints:
    """How each vertex (n',) may move."""
    count = len(rows.places)
    level = np.zeros(count, dtype=bool)
    level[rows.copies] = level[rows.line] = True
    face = owner_of(starts)
    for _ in range(RINGS):
        near = np.logical_or.reduceat(level[corners], starts[:-1])
        level[corners[near[face]]] = True
    old = np.zeros(count, dtype=bool)
    old[: len(ground.vertices)] = ground.fixed | (ground.locks > 0)
    kind = np.where(level & ~old, ON_SURFACE, STAYS)
    sliding = np.flatnonzero(ground.slides)
    kind[sliding[level[sliding]]] = ON_SEGMENT
    kind[rows.copies] = np.where(rows.locked < 0, ON_SURFACE, ON_SEGMENT)
    stays = rows.stays & ~ground.slides[line.vertex[rows.of_copy]]
    kind[rows.copies[stays]] = STAYS
    on_line = np.where(line.node < 0, ON_LINE, STAYS)
    # Where rows close beyond a line's end nothing says where.
    on_line[np.setdiff1d(line.edges[~line.drawn], line.edges[line.drawn])] = ON_SURFACE
    kind[rows.line] = on_line
    return kind


def _drawn_home(ground: Ground, rows: Rows, line: Line) -> Floats:
    """How much each vertex (n',) is drawn to where it was: those that are still what they were, as
    much as the surface bends there."""
    bent = HOMELY * np.minimum(ground.bends / BENT, 1.0)
    found = np.zeros(len(rows.places))
    found[: len(bent)] = bent
    found[rows.copies] = np.where(rows.home, bent[line.vertex[rows.of_copy]], 0.0)
    found[rows.line] = 0.0
    return found


def _between(ground: Ground, rows: Rows, kind: Ints) -> Ints:
    """For the vertices (n', 2) that slide on locked edges those before and after them there, else
    -1."""
    found = np.full((len(kind), 2), -1)
    locked = np.flatnonzero(ground.locked)
    # Edges of the ground, and those between lines and the copies on locked edges.
    own = np.flatnonzero(rows.locked >= 0)
    rungs = np.stack([rows.copies[own], rows.line[rows.of_copy[own]]], axis=1)
    pairs = np.concatenate([rows.ends[locked], rungs])
    both = np.concatenate([pairs, pairs[:, ::-1]])
    both = both[kind[both[:, 0]] == ON_SEGMENT]
    both = both[np.argsort(both[:, 0], kind="stable")]
    found[both[::2, 0]] = np.stack([both[::2, 1], both[1::2, 1]], axis=1)
    return found


def _corners_at(starts: Ints, corners: Ints, vertices: Ints, count: int) -> tuple[Ints, Ints]:
    """The corners at some vertices as rows: (face, place in it)."""
    number = np.full(count, -1)
    number[vertices] = np.arange(len(vertices))
    there = np.flatnonzero(number[corners] >= 0)
    order = there[np.argsort(number[corners[there]], kind="stable")]
    face = np.searchsorted(starts, order, side="right") - 1
    sizes = np.bincount(number[corners[there]], minlength=len(vertices))
    return starts_of(sizes), np.stack([face, order - starts[face]], axis=1)


def _around(
    at_starts: Ints, at: Ints, starts: Ints, corners: Ints, number: Ints
) -> tuple[Ints, Ints]:
    """For each moving vertex the others that share a face with it, as rows."""
    faces = distinct(at[:, 0])
    order = np.argsort(at[:, 0], kind="stable")
    owners = owner_of(at_starts)
    row = np.searchsorted(faces, at[:, 0])
    return rows_beside(
        at_starts,
        row,
        starts_of(np.bincount(row, minlength=len(faces))),
        owners[order],
        np.zeros(len(at_starts) - 1, dtype=np.int64),
    )


def _sizes(
    places: Floats, corners: Ints, starts: Ints, at_starts: Ints, at: Ints, moving: Ints
) -> Floats:
    """The mean length (k,) of the edges at the moving vertices."""
    corner = starts[at[:, 0]] + at[:, 1]
    away = np.linalg.norm(
        places[corners[next_in_row(starts)[corner]]] - places[corners[corner]], axis=1
    )
    return np.asarray(np.add.reduceat(away, at_starts[:-1]) / np.diff(at_starts))


def _slides(
    rows: Rows, line: Line, chains: list[Chain], moving: Ints, number: Ints
) -> tuple[Ints, Floats]:
    """For vertices that move along a line: where it begins and ends among all, the moving vertices
    before and after it (-1 at an end); and how far along it is."""
    row, along = np.full((len(moving), 4), -1), np.zeros(len(moving))
    first = 0
    for chain in chains:
        k = np.searchsorted(line.vertex, chain.vertices)
        mine = number[rows.line[k]]
        inner = np.flatnonzero((mine >= 0) & chain.drawn)
        row[mine[inner], 0], row[mine[inner], 1] = first, first + len(chain.line)
        along[mine[inner]] = chain.along[inner]
        has_next, has_last = inner[inner < len(mine) - 1], inner[inner > 0]
        row[mine[has_last], 2] = mine[has_last - 1]
        row[mine[has_next], 3] = mine[has_next + 1]
        first += len(chain.line)
    return row, along
