"""Lines laid into one face: the planar subdivision they make, with every child a simple loop.

1. Segments are split where they cross, and where a node lies on them; what then lies on the border or
   on another segment is dropped.
2. Loose parts are tied to the rest by links between existing nodes, the shortest that meet nothing.
3. Child loops are walked, the face on the left.
4. A loop that names a node twice (a ring tied by one link, a line touching the border at one node) is
   split by a further link, chosen for short length and even halves.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import cmp_to_key

import numpy as np

from cutcore.arrays import Bools, Floats, Ints
from cutcore.errors import ImprintError
from cutcore.imprint.links import Graph, shortest_tie, splitting_link
from cutcore.inside import inside_loop, loop_area
from cutcore.notes import face as face_element
from cutcore.orient import turn
from cutcore.triangles import chart_of


@dataclass(frozen=True, eq=False)
class FaceLines:
    """One face with its lines: nodes `places (k, 3)`, the first `border` of them its border in order, and
    `segments (s, 2)` between nodes."""

    face: int
    places: Floats
    border: int
    segments: Ints


@dataclass(frozen=True, eq=False)
class Arrangement:
    """Child loops as node lists, the one with the border edge 0-1 first and beginning with node 0; `edges`
    are the new edges as node pairs; `places` are all nodes, crossings after those given."""

    places: Floats
    children: list[Ints]
    edges: Ints


def arrange(lines: FaceLines, *, weld: float) -> Arrangement:
    """The children of one face. Raises ImprintError if they can't all be made simple loops."""
    chart = chart_of(lines.places[: lines.border])
    places, pairs = _split_everywhere(lines, chart.flatten(lines.places), weld)
    flat = chart.flatten(places)
    pairs = _inner_pairs(pairs, flat, lines.border)
    pairs = _without_loose_ends(pairs, lines.border)
    graph = Graph(flat, lines.border, pairs, weld)
    while (tie := shortest_tie(graph)) is not None:
        graph = graph.with_link(tie)
    if len(graph.loose()):
        raise _tangled(lines.face)
    loops = walk(graph)
    while (bad := next((loop for loop in loops if len(set(loop)) < len(loop)), None)) is not None:
        link = splitting_link(graph, np.array(bad))
        if link is None:
            raise _tangled(lines.face)
        graph = graph.with_link(link)
        loops = walk(graph)
    if any(len(loop) < 3 or loop_area(flat[loop]) <= 0.0 for loop in loops):
        raise _tangled(lines.face)
    return Arrangement(places, [np.array(loop) for loop in loops], graph.pairs)


def walk(graph: Graph) -> list[list[int]]:
    """The loops that border edges and inner pairs make, each with its inside on the left.

    At the end of a half-edge the walk goes on along the next edge clockwise from where it came.
    """
    outgoing: dict[int, list[int]] = {k: [(k + 1) % graph.border, (k - 1) % graph.border] for k in range(graph.border)}
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
        loops.append(loop)
    return loops


def _counter_clockwise(flat: Floats, node: int, goals: list[int]) -> list[int]:
    """Neighbours of a node in counter-clockwise order; the order is exact, also for all but parallel edges."""
    here = flat[node]
    away = {goal: flat[goal] - here for goal in goals}

    def upper(goal: int) -> bool:
        x, y = away[goal]
        return bool(y > 0 or (y == 0 and x > 0))

    def compare(a: int, b: int) -> int:
        if upper(a) != upper(b):
            return -1 if upper(a) else 1
        return -int(np.sign(turn(here, flat[a], flat[b])))

    return sorted(goals, key=cmp_to_key(compare)) if len(goals) > 2 else goals


def _split_everywhere(lines: FaceLines, flat: Floats, weld: float) -> tuple[Floats, Ints]:
    """All places, crossings included, and the pieces of the segments as node pairs."""
    a, b = flat[lines.segments[:, 0]], flat[lines.segments[:, 1]]
    along = b - a
    size = np.maximum((along**2).sum(axis=1), 1e-300)
    cuts: list[list[tuple[float, int]]] = [[] for _ in lines.segments]

    away = flat[None] - a[:, None]
    share = (away * along[:, None]).sum(axis=2) / size[:, None]
    gap = np.abs(away[..., 0] * along[:, None, 1] - away[..., 1] * along[:, None, 0]) / np.sqrt(size)[:, None]
    on = (gap <= weld) & (share > 0.0) & (share < 1.0)
    for s, node in np.argwhere(on).tolist():
        if node not in lines.segments[s]:
            cuts[s].append((float(share[s, node]), node))

    places = list(lines.places)
    for s, other, u, v in _crossings(a, along):
        here = lines.places[lines.segments[s]]
        place = here[0] + u * (here[1] - here[0])
        gaps = np.linalg.norm(np.array(places) - place, axis=1)
        node = int(np.argmin(gaps))
        if gaps[node] > weld:
            node = len(places)
            places.append(place)
        for segment, at in ((s, u), (other, v)):
            if node not in lines.segments[segment] and all(node != known for _, known in cuts[segment]):
                cuts[segment].append((at, node))

    pieces = []
    for (first, last), inner in zip(lines.segments.tolist(), cuts, strict=True):
        stops = [first, *(node for _, node in sorted(inner)), last]
        pieces += list(itertools.pairwise(stops))
    return np.array(places), np.array(pieces, dtype=np.int64).reshape(-1, 2)


def _crossings(start: Floats, along: Floats) -> list[tuple[int, int, float, float]]:
    """Proper crossings of segments: (segment, later segment, share on each), in order."""
    first, second = np.triu_indices(len(start), 1)
    across = along[first, 0] * along[second, 1] - along[first, 1] * along[second, 0]
    away = start[second] - start[first]
    with np.errstate(divide="ignore", invalid="ignore"):
        u = (away[:, 0] * along[second, 1] - away[:, 1] * along[second, 0]) / across
        v = (away[:, 0] * along[first, 1] - away[:, 1] * along[first, 0]) / across
    hit = np.flatnonzero(np.isfinite(u) & np.isfinite(v) & (u > 0) & (u < 1) & (v > 0) & (v < 1))
    return [(int(first[k]), int(second[k]), float(u[k]), float(v[k])) for k in hit]


def _inner_pairs(pairs: Ints, flat: Floats, border: int) -> Ints:
    """Each piece once, without those on the border or outside it."""
    pairs = np.unique(np.sort(pairs, axis=1), axis=0)
    on_border = (pairs[:, 1] < border) & ((pairs[:, 1] - pairs[:, 0] == 1) | ((pairs[:, 0] == 0) & (pairs[:, 1] == border - 1)))
    pairs = pairs[~on_border & (pairs[:, 0] != pairs[:, 1])]
    return pairs[inside_loop(flat[:border], flat[pairs].mean(axis=1))]


def _without_loose_ends(pairs: Ints, border: int) -> Ints:
    while len(pairs):
        degree = np.bincount(pairs.ravel())
        loose: Bools = ((degree[pairs] == 1) & (pairs >= border)).any(axis=1)
        if not loose.any():
            break
        pairs = pairs[~loose]
    return pairs


def _tangled(face: int) -> ImprintError:
    return ImprintError(f"face {face} is too bent or too narrow for the lines laid into it", elements=(face_element(face),))
