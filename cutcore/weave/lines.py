"""The lines of a trace as a graph: where they end, meet, turn and were planned, and the pieces
between."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, cross
from cutcore.geometry.chart import chart_of
from cutcore.mesh.mesh import Mesh
from cutcore.notes import face as face_element
from cutcore.trace.trace import IN_FACE, ON_EDGE, Trace
from cutcore.weave.refusal import too_coarse

# A line has a sharp corner where it turns by more than so many degrees.
SHARP = 30.0

# No face holds more crossings than so many, with those of the faces beside it in mind.
MOST_CROSSINGS = 16

# No face holds more stretches of line than so many.
MOST_SPANS = 2500

# It is looked at from so many edges away.
NEAR = 0.5


@dataclass(frozen=True, eq=False)
class Piece:
    """A stretch of line from one station to the next: the `nodes (m,)` it passes, and the `faces
    (m-1,)` between them, -1 along an edge, by their `spans (m-1,)`. A closed one has its first node
    last, too."""

    nodes: Ints
    faces: Ints
    spans: Ints


@dataclass(frozen=True, eq=False)
class Lines:
    """Lines on a mesh: nodes at the anchors that are drawn to and where lines cross, spans between.

    kind, element  (N,)   what carries each node, as in a trace
    share          (N,)   how far along an edge, from its lower vertex
    place          (N, 3) where it is
    spans          (S, 2) the nodes each span joins
    face           (S,)   the face it lies in, -1 along an edge
    planned        (N,)   nodes that a person placed
    """

    kind: Ints
    element: Ints
    share: Floats
    place: Floats
    spans: Ints
    face: Ints
    planned: Bools

    @staticmethod
    def of(mesh: Mesh, trace: Trace, weld: float, *, placed: bool) -> Lines:
        """The lines of a trace as they were drawn: they may end inside faces, where a cut would leave
        them out. `placed` says that a person placed the points between their stretches."""
        every = _same(mesh, trace, weld)[trace.ends]
        # What is drawn twice is one.
        _, first = np.unique(np.sort(every, axis=1), axis=0, return_index=True)
        first = np.sort(first[every[first, 0] != every[first, 1]])
        ends, rows = every[first], first
        planned = np.zeros(len(trace.kind), dtype=bool)
        order = np.argsort(ends.ravel(), kind="stable")
        node = ends.ravel()[order]
        told = np.stack([trace.line[rows], trace.stretch[rows]], axis=1)[order // 2]
        differs = (node[1:] == node[:-1]) & (told[1:] != told[:-1]).any(axis=1)
        planned[node[1:][differs]] = placed
        made = Lines(
            trace.kind,
            trace.element,
            trace.share,
            trace.lifted,
            ends,
            trace.face[rows],
            planned,
        )
        return _crossed(mesh, made)

    def without(self, spans: Bools) -> Lines:
        """The lines without some spans (S,)."""
        return replace(self, spans=self.spans[~spans], face=self.face[~spans])

    def edge_of(self, mesh: Mesh, span: int) -> int:
        """The edge that a span runs along."""
        a, b = self.spans[span].tolist()
        for node in (a, b):
            if self.kind[node] == ON_EDGE:
                return int(self.element[node])
        return mesh.edges.between(int(self.element[a]), int(self.element[b]))

    @cached_property
    def beside(self) -> dict[int, list[tuple[int, int]]]:
        """The spans at each node, each with the node at its other end."""
        found: dict[int, list[tuple[int, int]]] = defaultdict(list)
        for s, (a, b) in enumerate(self.spans.tolist()):
            found[a].append((s, b))
            found[b].append((s, a))
        return found

    def stations(self, locked: Bools, sizes: Floats) -> Bools:
        """Which nodes (N,) get a vertex just where they are: ends, crossings, planned ones, those
        `locked (N,)`, and sharp corners. A corner is sharp if the line turns there as seen from as
        far as half the edges there, `sizes (N,)`; of several within that the sharpest."""
        found = (self.planned | locked) & self.used
        degree = np.bincount(self.spans.ravel(), minlength=len(self.kind))
        found |= (degree > 0) & (degree != 2)
        two = np.flatnonzero((degree == 2) & ~found)
        if len(two) == 0:
            return found
        others = np.array([[b for _, b in self.beside[n]] for n in two.tolist()])
        sharp = two[self._turns(others[:, 0], two, others[:, 1]) > SHARP]
        turns = []
        for node in sharp.tolist():
            back, ahead = (
                self._far(node, s, found, NEAR * sizes[node]) for s, _ in self.beside[node]
            )
            turn = float(_turn(back, self.place[node], ahead))
            if turn > SHARP:
                turns.append((-turn, node))
        corners: list[int] = []
        for _, node in sorted(turns):
            away = np.linalg.norm(self.place[corners] - self.place[node], axis=1)
            if (away > NEAR * sizes[node]).all():
                corners.append(node)
        found[corners] = True
        return found

    def _turns(self, back: Ints, at: Ints, ahead: Ints) -> Floats:
        return _turn(self.place[back], self.place[at], self.place[ahead])

    def _far(self, node: int, span: int, stations: Bools, reach: float) -> Floats:
        """Where the line is so far from a node along one of its spans; at a station at the
        latest."""
        here = self.place[node]
        while True:
            node = int(self.spans[span].sum() - node)
            there = self.place[node]
            step = float(np.linalg.norm(there - here))
            if step >= reach:
                return np.asarray(here + (reach / step) * (there - here))
            reach -= step
            if stations[node]:
                return there
            span = next(s for s, _ in self.beside[node] if s != span)
            here = there

    @cached_property
    def nearest_to_ends(self) -> tuple[Ints, Ints]:
        """Of each edge that is crossed the node nearest to its lower vertex, and to the other."""
        there = np.flatnonzero((self.kind == ON_EDGE) & self.used)
        order = there[np.lexsort((self.share[there], self.element[there]))]
        edge = self.element[order]
        first = np.append(True, edge[1:] != edge[:-1])[: len(edge)]
        return order[first], order[np.roll(first, -1)]

    @cached_property
    def used(self) -> Bools:
        """Which nodes (N,) a span ends at."""
        found = np.zeros(len(self.kind), dtype=bool)
        found[self.spans.ravel()] = True
        return found

    def pieces(self, stations: Bools) -> list[Piece]:
        """The stretches between stations (N,), and closed lines that pass none."""
        walked = np.zeros(len(self.spans), dtype=bool)
        found = []
        starts = [
            *np.flatnonzero(stations).tolist(),
            *np.flatnonzero(self.used & ~stations).tolist(),
        ]
        for start in starts:
            for s, _ in self.beside[start]:
                if not walked[s]:
                    found.append(self._walk(start, s, stations, walked))
        return found

    def _walk(self, start: int, span: int, stations: Bools, walked: Bools) -> Piece:
        nodes, spans = [start], []
        while True:
            walked[span] = True
            a, b = self.spans[span].tolist()
            here = b if a == nodes[-1] else a
            nodes.append(here)
            spans.append(span)
            if stations[here] or here == start:
                return Piece(np.array(nodes), self.face[spans], np.array(spans))
            span = next(s for s, _ in self.beside[here] if not walked[s])


def _same(mesh: Mesh, trace: Trace, weld: float) -> Ints:
    """For each anchor (A,) the first of those at the same place: lines may lie on each other."""
    found = np.arange(len(trace.kind))
    order = np.lexsort((trace.share, trace.element, trace.kind))
    here, there = order[:-1], order[1:]
    same = (trace.kind[here] == trace.kind[there]) & (trace.element[here] == trace.element[there])
    same &= np.linalg.norm(trace.place[here] - trace.place[there], axis=1) <= weld
    for a, b in zip(here[same].tolist(), there[same].tolist(), strict=True):
        found[b] = found[a]
    return found


def _crossed(mesh: Mesh, lines: Lines) -> Lines:
    """The lines with a node wherever two spans cross inside a face. Raises StepError for a face that
    holds more lines than can be told apart."""
    places: list[Floats] = []
    carriers: list[int] = []
    cuts: dict[int, list[tuple[float, int]]] = defaultdict(list)
    first = len(lines.kind)
    inside = np.flatnonzero(lines.face >= 0)
    if len(inside) == 0:
        return lines
    order = inside[np.argsort(lines.face[inside], kind="stable")]
    held, starts = np.unique(lines.face[order], return_index=True)
    for face, spans in zip(held.tolist(), np.split(order, starts[1:]), strict=True):
        if len(spans) < 2:
            continue
        if len(spans) > MOST_SPANS:
            raise too_coarse("more lines lie there than can be told apart", face_element(face))
        chart = chart_of(mesh.points[mesh.face(face)])
        flat = chart.flatten(lines.place[lines.spans[spans]].reshape(-1, 3)).reshape(-1, 2, 2)
        found = _crossings(flat, lines.spans[spans])
        if len(found) > MOST_CROSSINGS:
            # Each would need a corner of the grid.
            raise too_coarse("more lines cross there than corners lie round it", face_element(face))
        for i, j, share, other in found:
            a, b = lines.place[lines.spans[spans[i]]]
            cuts[int(spans[i])].append((share, first + len(places)))
            cuts[int(spans[j])].append((other, first + len(places)))
            places.append(a + share * (b - a))
            carriers.append(face)
    if not places:
        return lines
    spans_made: list[tuple[int, int]] = []
    faces_made: list[int] = []
    for s, (a, b) in enumerate(lines.spans.tolist()):
        row = [a, *(n for _, n in sorted(cuts.get(s, ()))), b]
        spans_made += list(pairwise(row))
        faces_made += [int(lines.face[s])] * (len(row) - 1)
    return Lines(
        np.concatenate([lines.kind, np.full(len(places), IN_FACE, dtype=lines.kind.dtype)]),
        np.concatenate([lines.element, carriers]),
        np.concatenate([lines.share, np.zeros(len(places))]),
        np.concatenate([lines.place, places]),
        np.array(spans_made),
        np.array(faces_made),
        np.concatenate([lines.planned, np.zeros(len(places), dtype=bool)]),
    )


def _crossings(flat: Floats, ends: Ints) -> list[tuple[int, int, float, float]]:
    """Which of some flat segments (n, 2, 2) cross inside both, and where as shares of each; those
    that join one node, `ends (n, 2)`, only meet there."""
    i, j = np.triu_indices(len(flat), 1)
    apart = (ends[i][:, :, None] != ends[j][:, None, :]).all(axis=(1, 2))
    i, j = i[apart], j[apart]
    one, other = flat[i, 1] - flat[i, 0], flat[j, 1] - flat[j, 0]
    gap = flat[j, 0] - flat[i, 0]
    turn = one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        s = (gap[:, 0] * other[:, 1] - gap[:, 1] * other[:, 0]) / turn
        t = (gap[:, 0] * one[:, 1] - gap[:, 1] * one[:, 0]) / turn
        hit = np.flatnonzero((s > 0.0) & (s < 1.0) & (t > 0.0) & (t < 1.0))
    return list(
        zip(i[hit].tolist(), j[hit].tolist(), s[hit].tolist(), t[hit].tolist(), strict=True)
    )


def crossing_of(one: Floats, other: Floats) -> tuple[float, float] | None:
    """Where two flat segments (2, 2) cross inside both, as shares of each."""
    found = _crossings(np.stack([one, other]), np.array([[0, 1], [2, 3]]))
    return found[0][2:] if found else None


def _turn(back: Floats, at: Floats, ahead: Floats) -> Floats:
    """By how many degrees ways turn at places (.., 3) between two others."""
    one, other = at - back, ahead - at
    across = np.linalg.norm(cross(one, other), axis=-1)
    return np.degrees(np.arctan2(across, np.einsum("...j,...j->...", one, other)))
