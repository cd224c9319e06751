"""A polygon with an even number of corners cut into quads."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import mapbox_earcut
import numpy as np

from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.polygons import loop_area
from cutcore.kernels import bettered, cost_of_all, form_of, open_chords, quads_by_chords

# Up to so many corners the best chords are looked for; beyond, any that will do.
MOST_CORNERS = 120

# Up to so many corners one vertex in the middle, joined to every other corner, competes.
MOST_SPOKES = 12

# What costs more has a corner that is far from square.
CROOKED = 6.0

# The triangles of a polygon add up to its area but for so large a share.
FILLED = 1e-6


@dataclass(frozen=True, eq=False)
class Quads:
    """The quads (m, 4) of a loop of n corners, with inner vertices (k, 2) numbered from n on;
    `cost` says how far they are from rectangles."""

    inner: Floats
    quads: Ints
    cost: float

    def inner_edges(self, corners: int) -> list[tuple[int, int]]:
        """The edges that are no side of the loop, lower number first, ascending."""
        found = set()
        for quad in self.quads.tolist():
            for k in range(4):
                a, b = sorted((quad[k], quad[(k + 1) % 4]))
                if b >= corners or b - a not in (1, corners - 1):
                    found.add((a, b))
        return sorted(found)


def ways_of(
    flat: Floats, clear: float, chords: Sequence[tuple[int, int]] = (), *, several: bool = False
) -> list[Quads]:
    """Ways to cut a simple loop (n, 2), counter-clockwise, n even, into quads, the best first; none
    if it has no inside to speak of. Nothing is drawn nearer to a corner than `clear`.

    One way is enough unless `several` are asked for. `chords` are corners that have to be joined:
    the loop falls into pieces, of which every one has to have an even number of corners."""
    if chords:
        return _with_chords(flat, clear, chords)
    size = len(flat)
    begun: list[tuple[Floats, Ints]] = []
    none = np.zeros((0, 2))
    if size == 4:
        begun.append((none, np.arange(4)[None]))
    elif size <= MOST_CORNERS:
        quads = quads_by_chords(flat, open_chords(flat, clear))
        if len(quads):
            begun.append((none, quads))
    if size > 4 and not begun:
        parted = _by_triangles(flat)
        if parted is not None:
            begun.append(parted)
    found = [_settled(flat, *way) for way in begun]
    crooked = not found or found[0].cost > CROOKED
    if 4 < size <= MOST_SPOKES and (several or size > 6 or crooked):
        middle = flat.mean(axis=0)[None]
        for first in range(2):
            corner = (first + 2 * np.arange(size // 2)[:, None] + np.arange(3)) % size
            spokes = np.concatenate([corner, np.full((size // 2, 1), size)], axis=1)
            made = _settled(flat, middle, spokes)
            if _sound(flat, made):
                found.append(made)
    found.sort(key=lambda way: way.cost)
    return _different(found, size)


def _settled(flat: Floats, inner: Floats, quads: Ints) -> Quads:
    inner, quads = bettered(flat, inner, quads)
    places = np.concatenate([flat, inner])
    return Quads(inner, quads, cost_of_all(places[quads]))


def _sound(flat: Floats, made: Quads) -> bool:
    """Whether no quad is folded: spokes may leave the loop, chords and triangles never do."""
    places = np.concatenate([flat, made.inner])
    return all(form_of(places[quad]) > 0 for quad in made.quads)


def _different(ways: list[Quads], corners: int) -> list[Quads]:
    """Without ways that join the same corners as one before."""
    seen: set[tuple[tuple[int, int], ...]] = set()
    found = []
    for way in ways:
        edges = tuple(way.inner_edges(corners))
        if edges not in seen:
            seen.add(edges)
            found.append(way)
    return found


def _with_chords(flat: Floats, clear: float, chords: Sequence[tuple[int, int]]) -> list[Quads]:
    """The best ways of the pieces that some chords make, put together."""
    size = len(flat)
    pieces = [list(range(size))]
    for a, b in chords:
        whole = next((p for p in pieces if a in p and b in p), None)
        if whole is None:
            return []
        i, j = sorted((whole.index(a), whole.index(b)))
        pieces.remove(whole)
        pieces += [whole[i : j + 1], whole[j:] + whole[: i + 1]]
    if any(len(piece) % 2 or len(piece) < 4 for piece in pieces):
        return []
    inner, quads, cost, count = [np.zeros((0, 2))], [], 0.0, size
    for piece in pieces:
        ways = ways_of(flat[piece], clear)
        if not ways:
            return []
        best = ways[0]
        name = np.concatenate([piece, count + np.arange(len(best.inner))])
        quads.append(name[best.quads])
        inner.append(best.inner)
        count += len(best.inner)
        cost += best.cost
    return [Quads(np.concatenate(inner), np.concatenate(quads), cost)]


@dataclass
class _Open:
    """What the triangles beyond a side leave to the one before it: a corner of theirs that is still
    to be reached over the side, or a vertex that was put on it."""

    corner: int | None = None


@dataclass
class _Parting:
    """Quads being made of the triangles of a loop, from the outermost to the last."""

    places: list[Floats]
    quads: list[tuple[int, ...]] = field(default_factory=list)

    def add(self, a: int, b: int, c: int, beyond: list[_Open]) -> _Open:
        """Take in the triangle a, b, c, reached over the side c-a; `beyond` is open over a-b and
        b-c."""
        over = [one.corner for one in beyond]
        loop = [a, over[0], b, over[1], c]
        taken = [v for v in loop if v is not None]
        if len(taken) == 3:
            return _Open(b)
        if len(taken) == 4:
            self.quads.append(tuple(taken))
            return _Open()
        middle = len(self.places)
        self.places += [
            np.mean([self.places[v] for v in (a, b, c)], axis=0),
            0.5 * (self.places[c] + self.places[a]),
        ]
        side = middle + 1
        self.quads += [
            (a, taken[1], b, middle),
            (b, taken[3], c, middle),
            (c, side, a, middle),
        ]
        return _Open(side)


def _by_triangles(flat: Floats) -> tuple[Floats, Ints] | None:
    """Quads of any simple loop with an even number of corners: its triangles are paired from the
    outermost inwards, and where a triangle has open ones on two sides, a vertex inside it and one
    on its third side make quads of all three.

    After S. Ramaswami, P. Ramos and G. Toussaint, Converting triangulations to quadrangulations,
    Computational Geometry 9, 1998."""
    triangles = mapbox_earcut.triangulate_float64(
        flat, np.array([len(flat)], dtype=np.uint32)
    ).reshape(-1, 3)
    rows = [tuple(int(v) for v in row) for row in triangles]
    area = sum(loop_area(flat[list(row)]) for row in rows)
    if len(rows) != len(flat) - 2:
        return None
    if area < 0:
        rows = [(a, c, b) for a, b, c in rows]
    if abs(abs(area) - loop_area(flat)) > FILLED * abs(area):
        return None
    beside: dict[tuple[int, int], int] = {}
    for t, row in enumerate(rows):
        for k in range(3):
            beside[row[k], row[(k + 1) % 3]] = t
    parting = _Parting(list(flat))
    outermost = next(
        t
        for t, (a, b, c) in enumerate(rows)
        if sum((q, p) in beside for p, q in ((a, b), (b, c), (c, a))) == 1
    )
    a, b, c = rows[outermost]
    while (b, a) not in beside:
        a, b, c = b, c, a
    # Depth first without recursion: a loop may have thousands of corners.
    done: dict[tuple[int, int], _Open] = {}
    waiting = [(b, a)]
    while waiting:
        side = waiting[-1]
        row = rows[beside[side]]
        k = row.index(side[0])
        p, q, r = row[(k + 1) % 3], row[(k + 2) % 3], row[k]
        further = [(q, p), (r, q)]
        missing = [one for one in further if one in beside and one not in done]
        if missing:
            waiting += missing
            continue
        waiting.pop()
        done[side] = parting.add(p, q, r, [done.get(one, _Open()) for one in further])
    over = done[b, a].corner
    if over is None:
        return None
    parting.quads.append((a, over, b, c))
    return np.array(parting.places[len(flat) :]).reshape(-1, 2), np.array(parting.quads)
