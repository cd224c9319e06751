"""A collar of quads between a loop and a closed line: where its places on the line are best."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats
from cutcore.kernels.compiled import compiled
from cutcore.kernels.quad_chords import cost_of

# So often all places are moved along the line, by steps that get shorter.
ROUNDS = 24

# The first step, as a share of the mean distance between places; and how near to the next a place
# may come, as a share of a step.
FIRST_STEP = 0.4
CLOSE = 0.25


@compiled
def _place_at(line: Floats, lengths: Floats, along: float, place: Floats) -> None:
    whole = lengths[len(line)]
    along = along - np.floor(along / whole) * whole
    k = int(np.searchsorted(lengths, along, side="right")) - 1
    k = min(k, len(line) - 1)
    size = lengths[k + 1] - lengths[k]
    share = (along - lengths[k]) / size if size > 0 else 0.0
    following = (k + 1) % len(line)
    for c in range(2):
        place[c] = line[k, c] + share * (line[following, c] - line[k, c])


@compiled
def _cost_beside(outer: Floats, places: Floats, k: int) -> float:
    """What the two quads of the collar at one of its places cost."""
    count = len(outer)
    quad = np.empty((4, 2))
    total = 0.0
    for i in (k - 1 if k else count - 1, k):
        j = (i + 1) % count
        quad[0], quad[1], quad[2], quad[3] = outer[i], outer[j], places[j], places[i]
        total += cost_of(quad)
    return total


@compiled
def ease_collar(outer: Floats, line: Floats, lengths: Floats, along: Floats, fixed: Bools) -> float:
    """Move places `along (n,)` a closed line (m, 2), of which `lengths (m + 1,)` says how far along
    its points are, each between its neighbours, to where their quads with the loop `outer (n, 2)`
    cost least; `fixed (n,)` stay. Both run counter-clockwise; `along` ascends, over one turn.

    Returns what all quads cost in the end."""
    count, whole = len(outer), lengths[len(line)]
    places = np.empty((count, 2))
    for k in range(count):
        _place_at(line, lengths, along[k], places[k])
    before = np.empty(2)
    step = FIRST_STEP * whole / count
    for _ in range(ROUNDS):
        moved = False
        for k in range(count):
            if fixed[k]:
                continue
            low = along[k - 1] if k else along[count - 1] - whole
            high = along[k + 1] if k < count - 1 else along[0] + whole
            least = _cost_beside(outer, places, k)
            stay = along[k]
            before[:] = places[k]
            for way in (-step, step):
                there = along[k] + way
                if low + CLOSE * step < there < high - CLOSE * step:
                    _place_at(line, lengths, there, places[k])
                    cost = _cost_beside(outer, places, k)
                    if cost < least:
                        least, stay, moved = cost, there, True
                        before[:] = places[k]
            along[k] = stay
            places[k] = before
        if not moved:
            step *= 0.5
    total = 0.0
    for k in range(count):
        total += 0.5 * _cost_beside(outer, places, k)
    return total
