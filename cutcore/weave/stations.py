"""Stations: the places of lines that get a vertex just where they are, and which vertex each
gets."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from scipy.optimize import linear_sum_assignment
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import min_weight_full_bipartite_matching

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.vectors import units
from cutcore.notes import position
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX
from cutcore.weave.ground import Ground
from cutcore.weave.lines import Lines, Piece
from cutcore.weave.refusal import too_coarse

# What decides between two vertices as near.
TIE = 1e-6

# So often stations are looked at for edges that join them.
JOINED = 3

# Where a line leaves a place to is looked at so many edges away.
OUT = 0.75


@dataclass
class Stations:
    """Which nodes of some lines are stations, `there (N,)`; the vertex of each by its number in the
    ground; which vertices (n,) are taken; and those kept for one piece.

    `twins` are the node (N,) and the vertex (n,) that a mirror shows for each, -1 for none: what is
    chosen on one side is chosen on the other."""

    ground: Ground
    lines: Lines
    there: Bools
    taken: Bools
    twins: tuple[Ints, Ints]
    vertex: dict[int, int] = field(default_factory=dict)
    kept_for: dict[int, int] = field(default_factory=dict)

    def settle(self) -> None:
        """Give every station its vertex. Raises StepError, naming the place, for one that can't have
        any."""
        self._give_vertices()
        self._reserve()

    @cached_property
    def pieces(self) -> list[Piece]:
        return self.lines.pieces(self.there)

    def _give_vertices(self) -> None:
        """A vertex for every station: the nearest that may become it."""
        choices: list[tuple[float, int, int]] = []
        nodes = np.flatnonzero(self.there)
        for node in nodes.tolist():
            found = self._candidates(node)
            if len(found) == 0:
                raise too_coarse(self._why(node), position(self.lines.place[node]))
            away = np.linalg.norm(self.ground.points[found] - self.lines.place[node], axis=1)
            choices += [
                (float(far), node, vertex)
                for far, vertex in zip(away / self.ground.sizes[found], found.tolist(), strict=True)
            ]
        able: dict[int, set[int]] = defaultdict(set)
        for _, node, vertex in choices:
            able[node].add(vertex)
        for _, node, vertex in sorted(choices):
            if node not in self.vertex and not self.taken[vertex]:
                self.vertex[node] = vertex
                self.taken[vertex] = True
                twin, there = int(self.twins[0][node]), int(self.twins[1][vertex])
                if twin >= 0 and there in able.get(twin, ()) and not self.taken[there]:
                    self.vertex.setdefault(twin, there)
                    self.taken[self.vertex[twin]] = True
        if any(node not in self.vertex for node in nodes.tolist()):
            self._match(choices, nodes)
        self._join(choices)

    def _match(self, choices: list[tuple[float, int, int]], nodes: Ints) -> None:
        """Give all stations vertices that are near taken together, where the nearest of each leaves
        some without. Raises StepError if there are too few."""
        rows = {node: k for k, node in enumerate(nodes.tolist())}
        names = sorted({vertex for _, _, vertex in choices})
        columns = {vertex: k for k, vertex in enumerate(names)}
        table = csr_matrix(
            (
                # Nothing would be no choice at all; of two as near all take the same side.
                [1.0 + far**2 + TIE * v / len(self.taken) for far, _, v in choices],
                ([rows[n] for _, n, _ in choices], [columns[v] for _, _, v in choices]),
            ),
            shape=(len(rows), len(names)),
        )
        try:
            found = [] if len(rows) > len(names) else min_weight_full_bipartite_matching(table)[1]
        except ValueError:
            found = []
        if len(found) == 0:
            left = next(node for node in nodes.tolist() if node not in self.vertex)
            raise too_coarse("more places than corners", position(self.lines.place[left]))
        self.taken[list(self.vertex.values())] = False
        self.vertex = {node: names[k] for node, k in zip(nodes.tolist(), found, strict=True)}
        self.taken[list(self.vertex.values())] = True

    def _join(self, choices: list[tuple[float, int, int]]) -> None:
        """Give stations across one face from each other vertices that an edge joins, where they have
        any."""
        away: dict[int, dict[int, float]] = defaultdict(dict)
        for far, node, vertex in choices:
            away[node][vertex] = far
        pieces = [p for p in self.pieces if (p.faces == p.faces[0]).all() and p.faces[0] >= 0]
        for _ in range(JOINED):
            for piece in pieces:
                a, b = (int(n) for n in piece.nodes[[0, -1]])
                if a not in away or b not in away or a == b or self._joined(a, b):
                    continue
                own = {self.vertex[a], self.vertex[b]}
                ways = [
                    (far_a**2 + far_b**2, v, w)
                    for v, far_a in away[a].items()
                    for w, far_b in away[b].items()
                    if v != w
                    and not (self.taken[v] and v not in own)
                    and not (self.taken[w] and w not in own)
                    and self._open_between(v, w)
                ]
                if ways:
                    self.taken[list(own)] = False
                    _, self.vertex[a], self.vertex[b] = min(ways)
                    self.taken[[self.vertex[a], self.vertex[b]]] = True

    def _joined(self, a: int, b: int) -> bool:
        return self._open_between(self.vertex[a], self.vertex[b])

    def _open_between(self, v: int, w: int) -> bool:
        edges = self.ground.edges_at(v)
        there = edges[(self.ground.ends[edges] == w).any(axis=1)]
        return bool(self.ground.open_edges[there].any())

    def _candidates(self, node: int) -> Ints:
        ground, kind, element = self.ground, self.lines.kind[node], int(self.lines.element[node])
        if kind == ON_VERTEX:
            found: Ints = np.searchsorted(ground.vertices, [element])
            open_ = ~ground.fixed[found] | ground.limited[found]
            return found[open_ & (ground.locks[found] <= 2)]
        if kind == ON_EDGE:
            edge = int(np.searchsorted(ground.edges, element))
            found = ground.ends[edge]
            if ground.locked[edge]:
                open_ = ground.leads_on[found] & (~ground.fixed[found] | ground.limited[found])
                return found[open_ & (ground.locks[found] <= 2)]
        else:
            assert kind == IN_FACE
            face = int(np.searchsorted(ground.faces, element))
            found = ground.corners[ground.starts[face] : ground.starts[face + 1]]
        return found[~ground.fixed[found] & (ground.locks[found] == 0) & ground.leads_on[found]]

    def _why(self, node: int) -> str:
        if self.lines.kind[node] == ON_VERTEX:
            return "boundaries, seams or sharp edges meet where it passes"
        return "every corner there lies on a boundary, a seam or a sharp edge"

    def _reserve(self) -> None:
        """Keep for each piece that leaves a station where others do the vertex that lies most in its
        direction: else one might take the only way out of another."""
        ground = self.ground
        leaving: dict[int, list[tuple[int, Floats]]] = defaultdict(list)
        for k, piece in enumerate(self.pieces):
            for nodes in (piece.nodes, piece.nodes[::-1]):
                if self.there[nodes[0]]:
                    line = self.lines.place[nodes]
                    reach = OUT * ground.sizes[self.vertex[int(nodes[0])]]
                    far = np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))
                    at = min(int(np.searchsorted(far, reach)), len(far) - 1)
                    leaving[int(nodes[0])].append((k, line[at + 1] - line[0]))
        for node, ways in leaving.items():
            vertex = self.vertex[node]
            edges = ground.edges_at(vertex)
            edges = edges[ground.open_edges[edges]]
            if len(ways) < 2 or len(edges) < len(ways):
                continue
            others = ground.ends[edges].sum(axis=1) - vertex
            along = units(ground.points[others] - ground.points[vertex])
            turns = units(np.array([way for _, way in ways])) @ along.T
            rows, columns = linear_sum_assignment(-turns)
            for row, column in zip(rows.tolist(), columns.tolist(), strict=True):
                self.kept_for.setdefault(int(others[column]), ways[row][0])
