"""The cheapest ways from faces to others over the edges between them."""

from __future__ import annotations

import heapq

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.kernels.compiled import compiled

# Stands for the border among goals.
BORDER = -1

# What a way costs beside its edges: round a corner of a quad, through a face that is none, out over
# the border, into an odd face that could stay odd and is mended then.
ROUND_A_CORNER = 1.0
NO_QUAD = 0.4
TO_THE_BORDER = 0.5
ONE_MORE = 3.0


@compiled
def cheapest_ways(
    starts: Ints,
    edge_of: Ints,
    faces_of: Ints,
    through: Bools,
    ends: Bools,
    open_: Bools,
    edge_cost: Floats,
    sources: Ints,
    nearest: int,
    farthest: int,
) -> tuple[Ints, Ints, Floats, Ints, Ints]:
    """From each of some faces (n,) the ways to so many of the others, and the one to a border or a
    face that `ends (F,)` ways: from which, to which (BORDER for the latter), at what cost, and the
    edges passed, as ragged rows.

    Ways pass edges that are `open_ (E,)`, at `edge_cost (E,)`, and faces they may lead `through
    (F,)`. By Dijkstra's algorithm over edges and the face each leads into, so that turning round a
    corner can cost; no more than `farthest` are looked at for one source."""
    count = len(faces_of)
    goal_at = np.zeros(len(starts) - 1, np.bool_)
    goal_at[sources] = True
    # A state is an edge passed into its first or its second face. What was written for an earlier
    # source is told by its turn.
    cost = np.empty(2 * count)
    before = np.empty(2 * count, np.int64)
    turn, done = np.full(2 * count, -1, np.int64), np.full(2 * count, -1, np.int64)
    reached = np.full(len(starts), -1, np.int64)
    out_from, out_to, out_cost = [np.int64(0)], [np.int64(0)], [0.0]
    out_rows, out_edges = [0], [np.int64(0)]
    out_from.clear()
    out_to.clear()
    out_cost.clear()
    out_edges.clear()
    for now in range(len(sources)):
        source = sources[now]
        queue = [(0.0, np.int64(-1))]
        looked_at = found = 0
        while len(queue) and looked_at < farthest:
            so_far, state = heapq.heappop(queue)
            if state < 0:
                face, passed = source, np.int64(-1)
            else:
                if done[state] == now:
                    continue
                done[state] = now
                looked_at += 1
                passed = state // 2
                face = faces_of[passed, state % 2]
                last = face < 0 or ends[face]
                slot = len(starts) - 1 if last else face
                if reached[slot] != now and (last or (goal_at[face] and face != source)):
                    reached[slot] = now
                    out_from.append(source)
                    out_to.append(np.int64(BORDER) if last else np.int64(face))
                    out_cost.append(so_far)
                    back = state
                    while back >= 0:
                        out_edges.append(np.int64(back // 2))
                        back = before[back]
                    out_rows.append(len(out_edges))
                    if not last:
                        found += 1
                        if found >= nearest:
                            break
                if last or face == source or not through[face]:
                    continue
            begin, end = starts[face], starts[face + 1]
            at = -1
            for k in range(begin, end):
                if edge_of[k] == passed:
                    at = k
            for k in range(begin, end):
                edge = edge_of[k]
                if edge == passed or not open_[edge]:
                    continue
                further = so_far + edge_cost[edge]
                if at >= 0:
                    if end - begin != 4:
                        further += NO_QUAD
                    elif abs(k - at) != 2:
                        further += ROUND_A_CORNER
                side = 1 if faces_of[edge, 0] == face else 0
                beyond = faces_of[edge, side]
                if beyond < 0:
                    further += TO_THE_BORDER
                elif ends[beyond]:
                    further += ONE_MORE
                onward = np.int64(2 * edge + side)
                if turn[onward] != now or further < cost[onward]:
                    turn[onward] = now
                    cost[onward] = further
                    before[onward] = state
                    heapq.heappush(queue, (further, onward))
    return (
        np.array(out_from),
        np.array(out_to),
        np.array(out_cost),
        np.array(out_rows),
        np.array(out_edges),
    )
