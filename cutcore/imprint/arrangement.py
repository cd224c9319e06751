"""Lines laid into one face: the planar subdivision they make, with every child a simple loop.

1. Segments are split where they cross, and where a node lies on them; what then lies on the border
or on another segment is dropped. 2. Loose parts are tied to the rest by links between existing
nodes, the shortest that meet nothing. 3. Child loops are walked, the face on the left. 4. A loop
that names a node twice (a ring tied by one link, a line touching the border at one node) is split
by a further link, chosen for short length and even halves."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import cmp_to_key
from itertools import pairwise
from math import atan2, pi

import numpy as np
from scipy.spatial import cKDTree

from cutcore.errors import ImprintError
from cutcore.geometry.arrays import Bools, Floats, Ints, next_in_row, starts_of
from cutcore.geometry.chart import chart_of
from cutcore.geometry.polygons import distance_to_segments, inside_loop, loop_area
from cutcore.geometry.predicates import turn
from cutcore.geometry.tolerances import ROUNDING
from cutcore.imprint.judge import tangled
from cutcore.imprint.links import Graph, shortest_tie, splitting_link
from cutcore.mesh.mesh import newell
from cutcore.notes import face as face_element


@dataclass(frozen=True, eq=False)
class FaceLines:
    """One face with its lines: nodes `places (k, 3)`, the first `border` of them its border in
    order, and `segments (s, 2)` between nodes."""

    face: int
    places: Floats
    border: int
    segments: Ints


@dataclass(frozen=True, eq=False)
class Arrangement:
    """Child loops as node lists, the one with the border edge 0-1 first and beginning with node 0;
    `edges` are the new edges as node pairs; `places` are all nodes, crossings after those given."""

    places: Floats
    children: list[Ints]
    edges: Ints


def arrange(lines: FaceLines, *, weld: float) -> Arrangement:
    """The children of one face. Raises ImprintError if they can't all be made simple loops.

    They are worked out in the face's own plane. Where the border of a bent face crosses itself
    there, or the lines leave it, they are worked out on a disc: what crosses what, and what lies
    beside what, follows from the order round the border then."""
    border = lines.places[: lines.border]
    chart = chart_of(border)
    flat = chart.flatten(lines.places)
    bent = _is_bent(border, weld)
    try:
        return _arranged(lines, flat, weld, all_inside=bent)
    except ImprintError:
        if not bent:
            raise
    return _arranged(lines, on_disc(lines.places, lines.border), weld)


def _arranged(
    lines: FaceLines, flat: Floats, weld: float, *, all_inside: bool = False
) -> Arrangement:
    """The children of a face whose nodes lie at `flat (k, 2)` in its chart. With `all_inside` a
    line that leaves the border there is a failure; else it is left out."""
    if not np.isfinite(flat).all():
        # A border without length, or one so long that its squares are no numbers, has no chart.
        raise tangled(lines.face)
    places, pairs, flat = _split_everywhere(lines, flat, weld)
    pairs, outside = _inner_pairs(pairs, flat, lines.border)
    if all_inside and len(outside):
        rim = flat[: lines.border]
        off = distance_to_segments(flat[outside].mean(axis=1), rim, np.roll(rim, -1, axis=0)).min(
            axis=1
        )
        if (off > weld).any():
            raise tangled(lines.face)
    pairs = _without_loose_ends(pairs, lines.border)
    graph = Graph(flat, lines.border, pairs, weld)
    while len(graph.loose()):
        tie = shortest_tie(graph)
        if tie is None:
            raise tangled(lines.face)
        graph = graph.with_link(tie)
    loops = walk(graph)
    while (bad := next((loop for loop in loops if len(set(loop)) < len(loop)), None)) is not None:
        link = splitting_link(graph, np.array(bad))
        if link is None:
            raise tangled(lines.face)
        graph = graph.with_link(link)
        loops = walk(graph)
    whole = loop_area(flat[: lines.border])
    if min(map(len, loops), default=0) < 3:
        raise tangled(lines.face)
    areas = _areas(flat, loops)
    if areas.min() <= 0.0 or abs(areas.sum() - whole) > FILLED * abs(whole):
        raise tangled(lines.face)
    return Arrangement(places, [np.array(loop) for loop in loops], graph.pairs)


def _areas(flat: Floats, loops: list[list[int]]) -> Floats:
    """The signed areas (n,) of loops of nodes, each worked out about its first."""
    starts = starts_of(np.array([len(loop) for loop in loops]))
    at = flat[np.fromiter(itertools.chain.from_iterable(loops), np.int64, int(starts[-1]))]
    away = at - np.repeat(at[starts[:-1]], np.diff(starts), axis=0)
    ahead = away[next_in_row(starts)]
    turns = away[:, 0] * ahead[:, 1] - away[:, 1] * ahead[:, 0]
    return np.asarray(0.5 * np.add.reduceat(turns, starts[:-1]))


# The children fill their face: their areas add up to its own but for so large a share.
FILLED = 1e-6


def _is_bent(border: Floats, weld: float) -> bool:
    """Whether the corners (n, 3) of a face lie off their mean plane by more than the tolerance."""
    normal = newell(border, np.array([0, len(border)]))[0]
    size = float(np.linalg.norm(normal))
    return bool(
        size == 0.0 or np.abs((border - border.mean(axis=0)) @ (normal / size)).max() > weld
    )


def on_disc(places: Floats, border: int) -> Floats:
    """Nodes (k, 2) of a face on a disc: its border round the circle by the lengths of its sides, so
    that nothing of it is straight; nodes inside by inverse squares of their distances to the
    corners."""
    rim = places[:border]
    lengths = np.linalg.norm(np.roll(rim, -1, axis=0) - rim, axis=1)
    # A side of no length still has two ends.
    lengths = np.maximum(lengths, lengths.max() * LEAST_SIDE)
    turn = 2 * np.pi * np.concatenate([[0.0], np.cumsum(lengths)[:-1]]) / lengths.sum()
    radius = lengths.sum() / (2 * np.pi)
    circle = radius * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    gaps = ((places[border:, None] - rim[None]) ** 2).sum(axis=2)
    weights = 1.0 / np.maximum(gaps, gaps.max(initial=0.0) * LEAST_SIDE**2 + np.finfo(float).tiny)
    inside = (weights[:, :, None] * circle[None]).sum(axis=1) / weights.sum(axis=1)[:, None]
    return np.concatenate([circle, inside])


# The shortest side of a border on a disc, as a share of its longest.
LEAST_SIDE = 1e-6


def walk(graph: Graph) -> list[list[int]]:
    """The loops that border edges and inner pairs make, each with its inside on the left.

    At the end of a half-edge the walk goes on along the next edge clockwise from where it came.
    """
    outgoing: dict[int, list[int]] = {
        k: [(k + 1) % graph.border, (k - 1) % graph.border] for k in range(graph.border)
    }
    for a, b in graph.pairs.tolist():
        outgoing.setdefault(a, []).append(b)
        outgoing.setdefault(b, []).append(a)
    # The way on at the end of a half-edge: the next edge clockwise from the one it came along.
    follow: dict[tuple[int, int], tuple[int, int]] = {}
    for node, goals in outgoing.items():
        ring = _counter_clockwise(graph.flat, node, goals)
        for k, goal in enumerate(ring):
            follow[goal, node] = (node, ring[k - 1])
    outside = {((k + 1) % graph.border, k) for k in range(graph.border)}
    waiting = {edge: edge not in outside for edge in follow}
    loops: list[list[int]] = []
    # From edge 0-1 on, so that the child with the first corner comes first.
    for start in sorted(waiting):
        if not waiting[start]:
            continue
        loop: list[int] = []
        edge = start
        while waiting[edge]:
            waiting[edge] = False
            loop.append(edge[0])
            edge = follow[edge]
        # On a border that crosses itself the way may lead into a loop that was walked before.
        loops.append(loop if edge == start else [])
    return loops


def _counter_clockwise(flat: Floats, node: int, goals: list[int]) -> list[int]:
    """Neighbours of a node in counter-clockwise order; the order is exact, also for all but
    parallel edges."""
    if len(goals) < 3:
        return goals
    here = flat[node]
    away = {goal: flat[goal] - here for goal in goals}
    # From the direction of x on, as the exact order is.
    angle = {goal: atan2(y, x) % (2 * pi) for goal, (x, y) in away.items()}
    ordered = sorted(goals, key=angle.__getitem__)
    gaps = [angle[b] - angle[a] for a, b in pairwise(ordered)]
    if min(gaps) > SURE and angle[ordered[-1]] < 2 * pi - SURE:
        return ordered

    def upper(goal: int) -> bool:
        x, y = away[goal]
        return bool(y > 0 or (y == 0 and x > 0))

    def compare(a: int, b: int) -> int:
        if upper(a) != upper(b):
            return -1 if upper(a) else 1
        return -int(np.sign(turn(here, flat[a], flat[b])))

    return sorted(goals, key=cmp_to_key(compare))


# Angles that differ by more than this are told apart by their rounded values.
SURE = 1e-9


def _split_everywhere(lines: FaceLines, flat: Floats, weld: float) -> tuple[Floats, Ints, Floats]:
    """All places, crossings included, the pieces of the segments as node pairs, and where all
    places lie in the chart."""
    a, b = flat[lines.segments[:, 0]], flat[lines.segments[:, 1]]
    along = b - a
    size = np.maximum((along**2).sum(axis=1), np.finfo(float).tiny)
    cuts: list[dict[int, float]] = [{} for _ in lines.segments]

    s, node = _near(flat, a, b, weld)
    away = flat[node] - a[s]
    share = (away * along[s]).sum(axis=1) / size[s]
    gap = np.abs(away[:, 0] * along[s, 1] - away[:, 1] * along[s, 0]) / np.sqrt(size[s])
    on = (
        (gap <= weld)
        & (share > 0.0)
        & (share < 1.0)
        & (lines.segments[s] != node[:, None]).all(axis=1)
    )
    for segment, k, at in zip(s[on].tolist(), node[on].tolist(), share[on].tolist(), strict=True):
        cuts[segment][k] = at

    first, second, u, v = _crossings(a, along, lines.face)
    here = lines.places[lines.segments[first]]
    fresh = here[:, 0] + u[:, None] * (here[:, 1] - here[:, 0])
    places = np.concatenate([lines.places, fresh])
    # A crossing that lies on a node, or on an earlier crossing, is that one.
    name = np.arange(len(places))
    pairs = cKDTree(places).query_pairs(weld, output_type="ndarray")
    pairs = pairs[pairs[:, 1] >= len(lines.places)]
    for low, high in pairs[np.lexsort((pairs[:, 0], pairs[:, 1]))].tolist():
        if name[high] == high:
            name[high] = name[low]
    used = np.flatnonzero(name == np.arange(len(places)))
    number = np.empty(len(places), dtype=np.int64)
    number[used] = np.arange(len(used))
    crossing = number[name[len(lines.places) :]]
    for at, segments in ((u, first), (v, second)):
        for segment, k, share_of in zip(
            segments.tolist(), crossing.tolist(), at.tolist(), strict=True
        ):
            if k not in lines.segments[segment]:
                cuts[segment].setdefault(k, share_of)

    pieces = []
    for (start, end), inner in zip(lines.segments.tolist(), cuts, strict=True):
        stops = [start, *sorted(inner, key=lambda k, inner=inner: (inner[k], k)), end]  # type: ignore[misc]
        pieces += list(itertools.pairwise(stops))
    charted = np.concatenate([flat, a[first] + u[:, None] * along[first]])[used]
    return places[used], np.array(pieces, dtype=np.int64).reshape(-1, 2), charted


def _near(flat: Floats, a: Floats, b: Floats, weld: float) -> tuple[Ints, Ints]:
    """Pairs of segments a-b (s, 2) and nodes (k, 2) that may lie within the tolerance of one
    another."""
    reach = 0.5 * np.linalg.norm(b - a, axis=1) + weld
    found = cKDTree(flat).query_ball_point(0.5 * (a + b), reach * (1 + ROUNDING))
    counts = np.array([len(near) for near in found], dtype=np.int64)
    nodes = np.fromiter(
        itertools.chain.from_iterable(found), dtype=np.int64, count=int(counts.sum())
    )
    return np.repeat(np.arange(len(a)), counts), nodes


def _crossings(start: Floats, along: Floats, face: int) -> tuple[Ints, Ints, Floats, Floats]:
    """Proper crossings of segments: (segment, later segment, share on each), in order. Only
    segments whose boxes meet are looked at. Raises ImprintError if there are more of these than can
    be worked out."""
    low, high = np.minimum(start, start + along), np.maximum(start, start + along)
    order = np.argsort(low[:, 0], kind="stable")
    last = np.searchsorted(low[order, 0], high[order, 0], side="right")
    counts = np.maximum(last - np.arange(len(order)) - 1, 0)
    if counts.sum() > MOST_PAIRS:
        raise _crowded(face)
    one = np.repeat(np.arange(len(order)), counts)
    other = one + 1 + np.arange(len(one)) - np.repeat(starts_of(counts)[:-1], counts)
    p, q = order[one], order[other]
    meet = (low[p, 1] <= high[q, 1]) & (low[q, 1] <= high[p, 1])
    first, second = np.minimum(p, q)[meet], np.maximum(p, q)[meet]
    across = along[first, 0] * along[second, 1] - along[first, 1] * along[second, 0]
    away = start[second] - start[first]
    with np.errstate(divide="ignore", invalid="ignore"):
        u = (away[:, 0] * along[second, 1] - away[:, 1] * along[second, 0]) / across
        v = (away[:, 0] * along[first, 1] - away[:, 1] * along[first, 0]) / across
        hit = np.flatnonzero(
            np.isfinite(u) & np.isfinite(v) & (u > 0) & (u < 1) & (v > 0) & (v < 1)
        )
    if len(hit) > MOST_CROSSINGS:
        raise _crowded(face)
    hit = hit[np.lexsort((second[hit], first[hit]))]
    return first[hit], second[hit], u[hit], v[hit]


def _crowded(face: int) -> ImprintError:
    return ImprintError(
        f"more lines cross each other in face {face} than can be laid into one face: "
        f"{MOST_CROSSINGS:,} crossings at most",
        elements=(face_element(face),),
    )


def is_simple(loop: Floats) -> bool:
    """Whether no two sides of a polygon (n, 2) cross."""
    along = np.roll(loop, -1, axis=0) - loop
    if _turns_one_way_once(along):
        return True
    first, second, _, _ = _crossings(loop, along, -1)
    beside = (second - first == 1) | (second - first == len(loop) - 1)
    return bool(beside.all())


def _turns_one_way_once(along: Floats) -> bool:
    """Whether the sides (n, 2) of a polygon clearly turn left all the way, once round: up or down
    they change but twice."""
    ahead = np.roll(along, -1, axis=0)
    turns = along[:, 0] * ahead[:, 1] - along[:, 1] * ahead[:, 0]
    up = along[:, 1] > 0
    return bool((turns > 0).all()) and int((up != np.roll(up, 1)).sum()) == 2


# So many pairs of segments whose boxes meet take a quarter of a gigabyte.
MOST_PAIRS = 3_000_000
# So many crossings in one face take some seconds to be laid.
MOST_CROSSINGS = 10_000


def _inner_pairs(pairs: Ints, flat: Floats, border: int) -> tuple[Ints, Ints]:
    """Each piece once, without those on the border; those inside it, and those outside."""
    pairs = np.unique(np.sort(pairs, axis=1), axis=0)
    on_border = (pairs[:, 1] < border) & (
        (pairs[:, 1] - pairs[:, 0] == 1) | ((pairs[:, 0] == 0) & (pairs[:, 1] == border - 1))
    )
    pairs = pairs[~on_border & (pairs[:, 0] != pairs[:, 1])]
    inside = inside_loop(flat[:border], flat[pairs].mean(axis=1))
    return pairs[inside], pairs[~inside]


def _without_loose_ends(pairs: Ints, border: int) -> Ints:
    while len(pairs):
        degree = np.bincount(pairs.ravel())
        loose: Bools = ((degree[pairs] == 1) & (pairs >= border)).any(axis=1)
        if not loose.any():
            break
        pairs = pairs[~loose]
    return pairs
