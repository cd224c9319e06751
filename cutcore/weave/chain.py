"""The chain: the existing edges that become a line, as vertices from station to station and where
on the line each comes to lie."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from scipy.optimize import linear_sum_assignment
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import min_weight_full_bipartite_matching

from cutcore.geometry.arrays import Bools, Floats, Ints, distinct, row_positions
from cutcore.geometry.vectors import units
from cutcore.kernels import cheapest_onward, nearest_on_line
from cutcore.notes import position
from cutcore.trace.mirror import Mirror
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX
from cutcore.weave.ground import Ground
from cutcore.weave.lines import Lines, Piece
from cutcore.weave.refusal import too_coarse

# What an edge of the chain costs: its length times so much, and so much more for how far it lies
# from the line, in edges there.
STRAIGHT = 0.25
AWAY = 1.5

# What decides between two vertices as near.
TIE = 1e-6

# So often stations are looked at for edges that join them.
JOINED = 3

# Vertices further from the line than so many edges are not taken.
FARTHEST = 1.6

# Where a line leaves a place to is looked at so many edges away.
OUT = 0.75

# So many edges round a place where lines meet they don't stand in each other's way.
BESIDE = 1.25

# How often the places of vertices on the line are evened out.
EVENED = 6

# Two vertices on a line are at least so large a share of the mean apart.
CLOSEST = 0.25


@dataclass(frozen=True, eq=False)
class Chain:
    """The vertices (n,) that become a piece of line, by their numbers in the ground, and how far
    along it (n,) each comes to lie; of a closed one the first is last, too.

    `line (m, 3)` is the piece, `lengths (m,)` how far along its points are; one that is not `drawn`
    leads from a line's end to where its rows can close."""

    vertices: Ints
    along: Floats
    line: Floats
    lengths: Floats
    drawn: bool = True

    def places(self, along: Floats) -> Floats:
        """Places (k, 3) so far along (k,)."""
        return np.stack([np.interp(along, self.lengths, self.line[:, c]) for c in range(3)], axis=1)


class ChordsNeeded(Exception):
    """Faces of many corners have to be parted first: `chords` join two vertices of the mesh across a
    face each, (vertex, vertex, face)."""

    def __init__(self, chords: list[tuple[int, int, int]]) -> None:
        super().__init__(chords)
        self.chords = chords


class LoopsNeeded(Exception):
    """Edges (n,) of the mesh that have to be split by loops first."""

    def __init__(self, edges: Ints) -> None:
        super().__init__(edges)
        self.edges = edges


@dataclass
class Chains:
    """Chains on their way: which vertices (n,) are taken, and the vertex of each station. `twins`
    are the node (N,) and the vertex (n,) that a mirror shows for each, -1 for none: what is chosen
    on one side is chosen on the other."""

    ground: Ground
    lines: Lines
    stations: Bools
    taken: Bools
    twins: tuple[Ints, Ints]
    mirror: Mirror | None = None
    at_station: dict[int, int] = field(default_factory=dict)
    kept_for: dict[int, int] = field(default_factory=dict)

    def found(self) -> list[Chain]:
        """The chains of all pieces of the lines. Raises StepError where there is none."""
        self._give_vertices()
        self._reserve()
        made: dict[int, Chain] = {}
        needed: list[tuple[int, int, int]] = []
        for k, piece in enumerate(self.pieces):
            if k in made:
                continue
            if self._needs_chord(piece):
                ends = [self.at_station[int(n)] for n in piece.nodes[[0, -1]]]
                needed.append((*self.ground.vertices[ends].tolist(), int(piece.faces[0])))
                continue
            other = self._twin_piece(k)
            made[k] = self._chain(piece, alone=other < 0)
            if other >= 0 and other not in made:
                twin = self._twin_of(piece, made[k])
                made[other] = self._chain(self.pieces[other]) if twin is None else twin
        chains = [made[k] for k in sorted(made)]
        if needed:
            raise ChordsNeeded(needed)
        return [*chains, *self._beyond_sharp_edges(chains)]

    def _reserve(self) -> None:
        """Keep for each piece that leaves a station where others do the vertex that lies most in its
        direction: else one might take the only way out of another."""
        ground = self.ground
        leaving: dict[int, list[tuple[int, Floats]]] = defaultdict(list)
        for k, piece in enumerate(self.pieces):
            for nodes in (piece.nodes, piece.nodes[::-1]):
                if self.stations[nodes[0]]:
                    line = self.lines.place[nodes]
                    reach = OUT * ground.sizes[self.at_station[int(nodes[0])]]
                    far = np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))
                    at = min(int(np.searchsorted(far, reach)), len(far) - 1)
                    leaving[int(nodes[0])].append((k, line[at + 1] - line[0]))
        for node, ways in leaving.items():
            vertex = self.at_station[node]
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

    def _twin_piece(self, k: int) -> int:
        """The piece that a mirror shows of another, -1 for none but itself."""
        if self.mirror is None:
            return -1
        shown = np.unique(self.twins[0][self.pieces[k].nodes])
        for other, piece in enumerate(self.pieces):
            if other != k and np.array_equal(np.unique(piece.nodes), shown):
                return other
        return -1

    def _twin_of(self, piece: Piece, chain: Chain) -> Chain | None:
        """A chain as the mirror shows it, if its vertices are free there."""
        assert self.mirror is not None
        node, vertex = self.twins
        way = vertex[chain.vertices]
        ends = piece.nodes[[0, -1]]
        open_ = bool(self.stations[ends[0]])
        if (way < 0).any() or not self._free(way[1:-1] if open_ else way).all():
            return None
        if open_ and [self.at_station[int(n)] for n in node[ends]] != [int(way[0]), int(way[-1])]:
            return None
        self.taken[way] = True
        return Chain(way, chain.along, self.mirror.places(chain.line), chain.lengths)

    def _needs_chord(self, piece: Piece) -> bool:
        """Whether a piece crosses one large face, from border to border, whose corners there no
        edge joins."""
        ground = self.ground
        face = int(piece.faces[0])
        if not self.stations[piece.nodes[[0, -1]]].all() or (piece.faces != face).any() or face < 0:
            return False
        a, b = (self.at_station[int(n)] for n in piece.nodes[[0, -1]])
        row = int(np.searchsorted(ground.faces, face))
        corners = ground.corners[ground.starts[row] : ground.starts[row + 1]]
        joined = (ground.ends[ground.edges_at(a)] == b).any()
        return len(corners) > 4 and not joined and bool(np.isin([a, b], corners).all())

    def _beyond_sharp_edges(self, chains: list[Chain]) -> list[Chain]:
        """Where a line ends at a locked edge inside, its rows close one edge further: at the locked
        edge itself they would close in a straight corner."""
        ground = self.ground
        ends = np.concatenate([c.vertices[[0, -1]] for c in chains])
        found = []
        for chain in chains:
            for here, before in ((0, 1), (-1, -2)):
                vertex = int(chain.vertices[here])
                if (
                    ground.opens_at(vertex)
                    or ground.locks[vertex] == 0
                    or (ends == vertex).sum() > 1
                ):
                    continue
                places = chain.places(chain.along)
                place, onward = places[here], places[here] - places[before]
                edge = ground.edge_between(vertex, int(chain.vertices[before]))
                free = [
                    other
                    for e in ground.ahead(vertex, edge, onward)
                    if self._free(np.array([other := int(ground.ends[e].sum() - vertex)]))[0]
                ]
                if not free:
                    raise too_coarse("no edge leads on from where it ends", position(place))
                self.taken[free[0]] = True
                there = ground.points[free[0]] + 0.5 * (place - ground.points[vertex])
                length = float(np.linalg.norm(there - place))
                along = np.array([0.0, length])
                line = np.stack([place, there])
                found.append(Chain(np.array([vertex, free[0]]), along, line, along, drawn=False))
        return found

    @cached_property
    def pieces(self) -> list[Piece]:
        return self.lines.pieces(self.stations)

    def _give_vertices(self) -> None:
        """A vertex for every station: the nearest that may become it."""
        choices: list[tuple[float, int, int]] = []
        nodes = np.flatnonzero(self.stations)
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
            if node not in self.at_station and not self.taken[vertex]:
                self.at_station[node] = vertex
                self.taken[vertex] = True
                twin, there = int(self.twins[0][node]), int(self.twins[1][vertex])
                if twin >= 0 and there in able.get(twin, ()) and not self.taken[there]:
                    self.at_station.setdefault(twin, there)
                    self.taken[self.at_station[twin]] = True
        if any(node not in self.at_station for node in nodes.tolist()):
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
            left = next(node for node in nodes.tolist() if node not in self.at_station)
            raise too_coarse("more places than corners", position(self.lines.place[left]))
        self.taken[list(self.at_station.values())] = False
        self.at_station = {node: names[k] for node, k in zip(nodes.tolist(), found, strict=True)}
        self.taken[list(self.at_station.values())] = True

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
                own = {self.at_station[a], self.at_station[b]}
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
                    _, self.at_station[a], self.at_station[b] = min(ways)
                    self.taken[[self.at_station[a], self.at_station[b]]] = True

    def _joined(self, a: int, b: int) -> bool:
        return self._open_between(self.at_station[a], self.at_station[b])

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
            return "borders, seams or sharp edges meet where it passes"
        return "every corner there lies on a border, a seam or a sharp edge"

    def _chain(self, piece: Piece, *, alone: bool = True) -> Chain:
        """The chain of a piece; unless it is `alone` the mirror shows it on the other side, too, where
        its vertices have to be free."""
        line = self.lines.place[piece.nodes]
        steps = np.linalg.norm(np.diff(line, axis=0), axis=1)
        low, high, near = self._around(piece)
        beyond = self._beyond(piece)
        for vertex, k in self.kept_for.items():
            beyond[vertex] |= self.pieces[k] is not piece
        if not alone:
            there = self.twins[1]
            beyond = beyond | (there == np.arange(len(there))) | ((there >= 0) & self.taken[there])
        places = self.ground.points[near]
        if self.stations[piece.nodes[0]]:
            first, last = (self.at_station[int(n)] for n in piece.nodes[[0, -1]])
        else:
            lengths = np.concatenate([[0.0], np.cumsum(steps)])
            along, away = nearest_on_line(line, lengths, places, low, high, True)
            away = np.where(
                self._free(near) & ~beyond[near], away / self.ground.sizes[near], np.inf
            )
            k = int(np.argmin(away))
            if not np.isfinite(away[k]):
                raise too_coarse("no corner there is free", position(line[0]))
            first = last = int(near[k])
            # The line begins beside its first vertex.
            turn = int(np.argmin(np.abs(lengths - along[k]))) % len(steps)
            line = np.concatenate([line[turn:-1], line[: turn + 1]])
            piece = Piece(
                np.concatenate([piece.nodes[turn:-1], piece.nodes[: turn + 1]]),
                np.roll(piece.faces, -turn),
                np.roll(piece.spans, -turn),
            )
            steps = np.roll(steps, -turn)
            low, high, near = self._around(piece)
            places = self.ground.points[near]
        lengths = np.concatenate([[0.0], np.cumsum(steps)])
        along, away = nearest_on_line(line, lengths, places, low, high, first == last)
        way = self._way(
            near, self._free(near) & ~beyond[near], along, away, first, last, float(lengths[-1])
        )
        if len(way) < 2 and alone:
            # What lies beyond another line may do, if nothing folds by that.
            way = self._way(near, self._free(near), along, away, first, last, float(lengths[-1]))
        if len(way) < 2:
            narrow = self._narrow(piece)
            if len(narrow):
                raise LoopsNeeded(narrow)
            middle = line[len(line) // 2]
            raise too_coarse("no row of edges leads along it", position(middle))
        whole = np.zeros(len(self.ground.vertices))
        whole[near] = along
        at = _evened(whole[way[1:-1]], float(lengths[-1]))
        self.taken[way] = True
        return Chain(way, at, line, lengths)

    def _narrow(self, piece: Piece) -> Ints:
        """The edges (n,) of the mesh in the faces of a piece that may be split but not moved: both
        ends are locked."""
        ground = self.ground
        rows = distinct(self._faces_by(piece)[1])
        at, _ = row_positions(ground.starts, rows)
        edges = distinct(ground.of_corner[at])
        locked = (ground.locks > 0) | ground.fixed
        return ground.edges[
            edges[ground.open_edges[edges] & locked[ground.ends[edges]].all(axis=1)]
        ]

    def _free(self, vertices: Ints) -> Bools:
        ground = self.ground
        return ~(self.taken[vertices] | ground.fixed[vertices] | (ground.locks[vertices] > 0))

    def _beyond(self, piece: Piece) -> Bools:
        """Which vertices (n,) lie beyond another line as seen from a piece: along no edge that ends
        there the piece is the first to be met, and along one another is; or they are next to such
        alone."""
        ground, lines = self.ground, self.lines
        mine = np.zeros(len(lines.kind), dtype=bool)
        mine[piece.nodes] = True
        own, foreign = np.zeros((2, len(ground.vertices)), dtype=bool)
        for end, nodes in enumerate(lines.nearest_to_ends):
            vertex = ground.ends[np.searchsorted(ground.edges, lines.element[nodes]), end]
            own[vertex[mine[nodes]]] = True
            foreign[vertex[~mine[nodes] & ~self._meeting(piece, nodes)]] = True
        foreign &= ~own
        if not foreign.any():
            return foreign
        beside = np.zeros(len(ground.faces), dtype=bool)
        beside[self._faces_by(piece)[1]] = True
        for _ in range(2):
            near = np.zeros(len(ground.vertices), dtype=bool)
            near[ground.corners[beside[ground.face_of_corner]]] = True
            near &= ~foreign
            beside = np.logical_or.reduceat(near[ground.corners], ground.starts[:-1])
        return ~near

    def _meeting(self, piece: Piece, nodes: Ints) -> Bools:
        """Which nodes (n,) lie beside a station at an end of a piece: lines that meet there don't
        part what lies round it."""
        found = np.zeros(len(nodes), dtype=bool)
        for end in piece.nodes[[0, -1]].tolist():
            if self.stations[end]:
                reach = BESIDE * self.ground.sizes[self.at_station[end]]
                away = np.linalg.norm(self.lines.place[nodes] - self.lines.place[end], axis=1)
                found |= away <= reach
        return found

    def _around(self, piece: Piece) -> tuple[Ints, Ints, Ints]:
        """The vertices round a piece, and the segments of it, from the first to the last, that lie
        in faces by each."""
        ground = self.ground
        count = len(ground.faces)
        low, high = np.full(count, np.iinfo(np.int64).max), np.full(count, -1)
        segment, face = self._faces_by(piece)
        np.minimum.at(low, face, segment)
        np.maximum.at(high, face, segment)
        crossed = distinct(face)
        starts, others = ground.neighbours
        at, rows = row_positions(starts, crossed)
        beside = others[at]
        owner = np.repeat(crossed, np.diff(rows))
        wide_low, wide_high = low.copy(), high.copy()
        np.minimum.at(wide_low, beside, low[owner])
        np.maximum.at(wide_high, beside, high[owner])
        faces = distinct(np.concatenate([crossed, beside]))
        at, rows = row_positions(ground.starts, faces)
        owner = np.repeat(faces, np.diff(rows))
        least = np.full(len(ground.vertices), np.iinfo(np.int64).max)
        most = np.full(len(ground.vertices), -1)
        np.minimum.at(least, ground.corners[at], wide_low[owner])
        np.maximum.at(most, ground.corners[at], wide_high[owner])
        near = distinct(ground.corners[at])
        return least[near] - 1, most[near] + 1, near

    def _faces_by(self, piece: Piece) -> tuple[Ints, Ints]:
        """The segments of a piece and the faces each lies in or along, as two rows."""
        segment = np.flatnonzero(piece.faces >= 0)
        face = np.searchsorted(self.ground.faces, piece.faces[segment])
        for s in np.flatnonzero(piece.faces < 0).tolist():
            beside = self._faces_along(int(piece.spans[s]))
            segment = np.append(segment, [s] * len(beside))
            face = np.append(face, beside)
        return segment, face

    def _faces_along(self, span: int) -> Ints:
        """The faces at the edge that a span runs along."""
        ground = self.ground
        edge = int(np.searchsorted(ground.edges, self.lines.edge_of(ground.mesh, span)))
        found = ground.beside[edge]
        return found[found >= 0]

    def _way(
        self,
        near: Ints,
        free: Bools,
        along: Floats,
        away: Floats,
        first: int,
        last: int,
        whole: float,
    ) -> Ints:
        ground = self.ground
        count = len(ground.vertices)
        far, costs = np.zeros(count), np.full(count, np.inf)
        far[near] = along
        share = away / ground.sizes[near]
        costs[near] = STRAIGHT + AWAY * share**2
        costs[[first, last]] = np.where(
            np.isfinite(costs[[first, last]]), costs[[first, last]], STRAIGHT
        )
        open_ = near[free & (share <= FARTHEST)]
        order = open_[np.argsort(far[open_], kind="stable")]
        length = np.linalg.norm(
            ground.points[ground.ends[:, 1]] - ground.points[ground.ends[:, 0]], axis=1
        )
        edges = ground.open_edges
        starts, rows = ground.at_vertices
        way = cheapest_onward(
            order,
            far,
            costs,
            length,
            starts,
            rows,
            ground.ends,
            edges,
            first,
            last,
            whole,
            first == last,
        )
        return self._shortened(way, edges)

    def _shortened(self, way: Ints, open_edges: Bools) -> Ints:
        """A way without the detours that go round a whole face: where a vertex two or three on is
        joined to one by an edge."""
        ground = self.ground
        starts, rows = ground.at_vertices
        found = way.tolist()
        k = 0
        while k < len(found) - 2:
            v = found[k]
            edges = rows[starts[v] : starts[v + 1]]
            edges = edges[open_edges[edges]]
            others = set(ground.ends[edges].ravel().tolist()) - {v}
            for further in (3, 2):
                there = k + further < len(found) and found[k + further] in others
                # Round a closed line there has to be something left.
                if there and (found[0] != found[-1] or len(found) - further >= 3):
                    del found[k + 1 : k + further]
                    break
            k += 1
        return np.array(found, dtype=np.int64)


def _evened(along: Floats, whole: float) -> Floats:
    """How far along the vertices between two ends come to lie, the ends included: each a little on
    the way to the middle between its neighbours, none out of order."""
    found = np.concatenate([[0.0], np.clip(along, 0.0, whole), [whole]])
    for _ in range(EVENED):
        found[1:-1] = 0.5 * found[1:-1] + 0.25 * (found[2:] + found[:-2])
    gaps = np.diff(found)
    least = CLOSEST * whole / len(gaps)
    if gaps.min() < least:
        gaps = np.maximum(gaps, least)
        found = np.concatenate([[0.0], np.cumsum(gaps)]) * (whole / gaps.sum())
        found[-1] = whole
    return found
