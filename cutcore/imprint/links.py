"""Links: edges between existing nodes that tie a loose line to the border of its face."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.components import components
from cutcore.geometry.polygons import distance_to_segments, inside_loop
from cutcore.geometry.predicates import segments_meet
from cutcore.geometry.vectors import NOT_ZERO

# How many of the most promising links are tried before a face is given up.
TRIED = 20_000
# Of very many nodes, each is tried with so many of the nearest.
NEAREST = 6


@dataclass(frozen=True, eq=False)
class Graph:
    """Nodes in the chart of a face, `flat (k, 2)`; the first `border` make its border; `pairs` are
    inner edges."""

    flat: Floats
    border: int
    pairs: Ints
    weld: float

    def with_link(self, link: tuple[int, int]) -> Graph:
        return Graph(
            self.flat, self.border, np.concatenate([self.pairs, [sorted(link)]]), self.weld
        )

    def all_pairs(self) -> Ints:
        """Border edges and inner pairs (n, 2)."""
        rim = np.arange(self.border)
        return np.concatenate([np.stack([rim, (rim + 1) % self.border], axis=1), self.pairs])

    def labels(self) -> Ints:
        """A number for each node: nodes joined by edges share it; nodes without edges have -1."""
        pairs = self.all_pairs()
        count = len(self.flat)
        labels = components(pairs, count)[1]
        used = np.zeros(count, dtype=bool)
        used[pairs.ravel()] = True
        return np.where(used, labels, -1)

    def loose(self) -> Ints:
        """The nodes of parts that are not tied to the border."""
        labels = self.labels()
        return np.flatnonzero((labels >= 0) & (labels != labels[0]))


def shortest_tie(graph: Graph) -> tuple[int, int] | None:
    """The shortest link from a loose part to another part that meets nothing on its way; None if
    there is none. The graph has loose parts."""
    labels = graph.labels()
    nodes = np.flatnonzero(labels >= 0)
    loose = nodes[labels[nodes] != labels[0]]
    p, q = _near_pairs(graph.flat, labels, loose, nodes)
    length = ((graph.flat[p] - graph.flat[q]) ** 2).sum(axis=1)
    for k in np.lexsort((q, p, length))[:TRIED].tolist():
        if _free(graph, int(p[k]), int(q[k])):
            return int(p[k]), int(q[k])
    return None


def _near_pairs(flat: Floats, labels: Ints, loose: Ints, nodes: Ints) -> tuple[Ints, Ints]:
    """Pairs of loose nodes and nodes of other parts: all of them, or of very many each with its
    nearest."""
    if len(loose) * len(nodes) <= TRIED * 50:
        p, q = np.meshgrid(loose, nodes, indexing="ij")
        apart = labels[p] != labels[q]
        return p[apart], q[apart]
    found: list[tuple[Ints, Ints]] = []
    for part in np.unique(labels[loose]).tolist():
        own, others = loose[labels[loose] == part], nodes[labels[nodes] != part]
        near = (
            cKDTree(flat[others])
            .query(flat[own], k=min(NEAREST, len(others)))[1]
            .reshape(len(own), -1)
        )
        found.append((np.repeat(own, near.shape[1]), others[near.ravel()]))
    return np.concatenate([p for p, _ in found]), np.concatenate([q for _, q in found])


def splitting_link(graph: Graph, loop: Ints) -> tuple[int, int] | None:
    """A link inside a loop that names a node twice, such that neither half names that node
    twice."""
    at, later = _first_repeat(loop)
    ring = graph.flat[loop]
    own = np.arange(at + 1, later)
    others = np.concatenate([np.arange(later + 1, len(loop)), np.arange(at)])
    p, q = (grid.ravel() for grid in np.meshgrid(own, others, indexing="ij"))
    known = {tuple(sorted(pair)) for pair in graph.all_pairs().tolist()}
    fresh = np.array(
        [
            loop[i] != loop[j] and tuple(sorted((int(loop[i]), int(loop[j])))) not in known
            for i, j in zip(p, q, strict=True)
        ]
    )
    if not fresh.any():
        return None
    p, q = p[fresh], q[fresh]
    length = np.linalg.norm(ring[p] - ring[q], axis=1)
    score = length / max(float(length.max()), NOT_ZERO) + _unevenness(ring, p, q)
    for k in np.lexsort((q, p, score))[:TRIED].tolist():
        i, j = int(loop[p[k]]), int(loop[q[k]])
        middle = 0.5 * (graph.flat[i] + graph.flat[j])
        if inside_loop(ring, middle[None])[0] and _free(graph, i, j):
            return i, j
    return None


def _first_repeat(loop: Ints) -> tuple[int, int]:
    """The positions of two neighbouring namings of a node that a loop names twice."""
    seen: dict[int, int] = {}
    for position, node in enumerate(loop.tolist()):
        if node in seen:
            return seen[node], position
        seen[node] = position
    raise ValueError("no node is named twice")


def _unevenness(ring: Floats, p: Ints, q: Ints) -> Floats:
    """How unequal in area (0..1) the halves are that the links between positions p and q leave."""
    after = np.roll(ring, -1, axis=0)
    turn = ring[:, 0] * after[:, 1] - ring[:, 1] * after[:, 0]
    up_to = np.concatenate([[0.0], np.cumsum(turn)])
    low, high = np.minimum(p, q), np.maximum(p, q)
    closing = ring[high, 0] * ring[low, 1] - ring[high, 1] * ring[low, 0]
    half = np.abs(up_to[high] - up_to[low] + closing)
    whole = max(abs(float(up_to[-1])), NOT_ZERO)
    return np.asarray(np.abs(whole - 2 * half) / whole)


def _free(graph: Graph, i: int, j: int) -> bool:
    """Whether the straight link between two nodes stays inside the border and meets no other edge
    or node."""
    p, q = graph.flat[i], graph.flat[j]
    if not inside_loop(graph.flat[: graph.border], (0.5 * (p + q))[None])[0]:
        return False
    pairs = graph.all_pairs()
    nodes = np.unique(pairs)
    nodes = nodes[(nodes != i) & (nodes != j)]
    if (distance_to_segments(graph.flat[nodes], p[None], q[None]) <= graph.weld).any():
        return False
    apart = ~((pairs == i) | (pairs == j)).any(axis=1)
    return not segments_meet(p, q, graph.flat[pairs[apart, 0]], graph.flat[pairs[apart, 1]]).any()
