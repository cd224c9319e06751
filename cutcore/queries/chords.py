"""Where a plane goes through a face of any form: chords between the places its border is met, so
that no piece lies on both sides.

On a flat face the chords follow from the order along the line. A bent face meets the plane in no
line; where the order along one leaves a piece on both sides, the chords are chosen by the order
round the border alone: the shortest that do not cross."""

from __future__ import annotations

import numpy as np

from cutcore.errors import PathError
from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.chart import chart_of
from cutcore.geometry.polygons import inside_loop
from cutcore.geometry.predicates import turn
from cutcore.geometry.tolerances import ROUNDING
from cutcore.notes import position


def chords(loop: Floats, side: Ints, node: Ints, place: Floats) -> Ints:
    """Pairs (n, 2) of nodes to be joined inside one face.

    `loop (k, 3)` are the corners and `side (k,)` their sides of the plane; `node (k,)` is the node
    at a corner on the plane, or on the edge from a corner to the next if the two lie on different
    sides, or -1; `place` are the places of all nodes. Two neighbouring corners on the plane are
    joined by an edge, not by a chord. Raises PathError where all chords would leave a flat face: it
    lies all but in the plane."""
    held = np.flatnonzero(node >= 0)
    found = _along_the_line(loop, held, place[node[held]])
    if not _separates(side, found):
        found = _shortest_matching(side, node, place)
        if _leave(loop, place[node[found]]):
            raise PathError(
                "a face lies all but in the plane: where it is crossed can't be told",
                elements=(position(loop.mean(axis=0)),),
            )
    return node[found]


def _leave(loop: Floats, found: Floats) -> bool:
    """Whether chords (n, 2, 3) cross the border of a face that is flat: then they leave it."""
    chart = chart_of(loop)
    flat = chart.flatten(loop)
    if np.abs((loop - loop[0]) @ chart.normal).max() > ROUNDING * float(np.ptp(flat, axis=0).max()):
        return False
    ahead = np.roll(flat, -1, axis=0)
    for p, q in zip(chart.flatten(found[:, 0]), chart.flatten(found[:, 1]), strict=True):
        one, other = (
            turn(p, q, flat) * turn(p, q, ahead),
            turn(flat, ahead, p) * turn(flat, ahead, q),
        )
        if ((one < 0) & (other < 0)).any():
            return True
    return False


def _along_the_line(loop: Floats, held: Ints, place: Floats) -> Ints:
    """Neighbours along the line whose middle lies inside the face, as positions (n, 2) round its
    border."""
    spread = place - place[0]
    direction = spread[int(np.argmax((spread**2).sum(axis=1)))]
    order = np.argsort(spread @ direction, kind="stable")
    pairs = np.stack([order[:-1], order[1:]], axis=1)
    chart = chart_of(loop)
    middle = chart.flatten(place[pairs].mean(axis=1))
    return held[pairs[inside_loop(chart.flatten(loop), middle, margin=ROUNDING)]]


def _separates(side: Ints, found: Ints) -> bool:
    """Whether chords between positions round a border of corners with such sides do not cross and
    leave no piece on both sides.

    A chord that starts on an edge starts after the corner of that position, one that starts at a
    corner on the plane has it in both pieces."""
    waiting = [(np.arange(len(side)), np.sort(found, axis=1))]
    while waiting:
        piece, inner = waiting.pop()
        if len(inner) == 0:
            if (side[piece] > 0).any() and (side[piece] < 0).any():
                return False
            continue
        a, b = inner[0]
        between = piece[(piece > a) & (piece <= b)]
        beyond = piece[(piece <= a) | (piece > b)]
        within = ((inner[1:] >= a) & (inner[1:] <= b)).all(axis=1)
        outside = ((inner[1:] <= a) | (inner[1:] >= b)).all(axis=1)
        if not (within | outside).all():
            return False
        waiting += [(between, inner[1:][within]), (beyond, inner[1:][~within])]
    return True


def _shortest_matching(side: Ints, node: Ints, place: Floats) -> Ints:
    """The chords, as positions (n, 2) round the border, that join each place where the side changes
    to one other, with the least length in all and without crossing: from each run between two
    places on to longer ones (as matrix chains are bracketed, Cormen et al., Introduction to
    Algorithms, 15.2)."""
    corners = np.flatnonzero(side)
    following = np.roll(corners, -1)
    changes = side[corners] != side[following]
    # From the last corner of one side on, the first position with a node.
    at = np.array([_first_from(node, int(c)) for c in corners[changes]], dtype=np.int64)
    count = len(at)
    far = np.linalg.norm(place[node[at]][:, None] - place[node[at]][None], axis=2)
    cost = np.zeros((count + 1, count + 1))
    choice = np.zeros((count + 1, count + 1), dtype=np.int64)
    for size in range(2, count + 1, 2):
        for i in range(count - size + 1):
            mates = np.arange(i + 1, i + size, 2)
            lengths = far[i, mates] + cost[i + 1, mates] + cost[mates + 1, i + size]
            best = int(np.argmin(lengths))
            cost[i, i + size], choice[i, i + size] = lengths[best], mates[best]
    found, waiting = [], [(0, count)]
    while waiting:
        i, end = waiting.pop()
        if end > i:
            mate = int(choice[i, end])
            found.append((at[i], at[mate]))
            waiting += [(i + 1, mate), (mate + 1, end)]
    return np.array(found, dtype=np.int64).reshape(-1, 2)


def _first_from(node: Ints, position: int) -> int:
    ahead = np.roll(np.arange(len(node)), -position)
    return int(ahead[int(np.argmax(node[ahead] >= 0))])
