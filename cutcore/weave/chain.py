"""The chain: the existing edges that become a line, as vertices from station to station and where
on the line each comes to lie."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, distinct, row_positions
from cutcore.kernels import cheapest_onward, nearest_on_line
from cutcore.notes import position
from cutcore.trace.mirror import Mirror
from cutcore.weave.ground import Ground
from cutcore.weave.lines import Lines, Piece
from cutcore.weave.refusal import too_coarse
from cutcore.weave.stations import Stations

# What an edge of the chain costs: its length times so much, and so much more for how far it lies
# from the line, in edges there.
STRAIGHT = 0.25
AWAY = 1.5

# Vertices further from the line than so many edges are not taken.
FARTHEST = 1.6

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
    """Chains on their way, between stations that have their vertices; with a `mirror` alike on both
    sides where that can be."""

    stations: Stations
    mirror: Mirror | None = None

    @property
    def ground(self) -> Ground:
        return self.stations.ground

    @property
    def lines(self) -> Lines:
        return self.stations.lines

    @property
    def taken(self) -> Bools:
        return self.stations.taken

    @property
    def pieces(self) -> list[Piece]:
        return self.stations.pieces

    def found(self) -> list[Chain]:
        """The chains of all pieces of the lines. Raises StepError where there is none."""
        self.stations.settle()
        made: dict[int, Chain] = {}
        needed: list[tuple[int, int, int]] = []
        for k, piece in enumerate(self.pieces):
            if k in made:
                continue
            if self._needs_chord(piece):
                ends = [self.stations.vertex[int(n)] for n in piece.nodes[[0, -1]]]
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

    def _twin_piece(self, k: int) -> int:
        """The piece that a mirror shows of another, -1 for none but itself."""
        if self.mirror is None:
            return -1
        shown = np.unique(self.stations.twins[0][self.pieces[k].nodes])
        for other, piece in enumerate(self.pieces):
            if other != k and np.array_equal(np.unique(piece.nodes), shown):
                return other
        return -1

    def _twin_of(self, piece: Piece, chain: Chain) -> Chain | None:
        """A chain as the mirror shows it, if its vertices are free there."""
        assert self.mirror is not None
        node, vertex = self.stations.twins
        way = vertex[chain.vertices]
        ends = piece.nodes[[0, -1]]
        open_ = bool(self.stations.there[ends[0]])
        if (way < 0).any() or not self._free(way[1:-1] if open_ else way).all():
            return None
        if open_ and [self.stations.vertex[int(n)] for n in node[ends]] != [
            int(way[0]),
            int(way[-1]),
        ]:
            return None
        self.taken[way] = True
        return Chain(way, chain.along, self.mirror.places(chain.line), chain.lengths)

    def _needs_chord(self, piece: Piece) -> bool:
        """Whether a piece crosses one large face, from border to border, whose corners there no
        edge joins."""
        ground = self.ground
        face = int(piece.faces[0])
        if (
            not self.stations.there[piece.nodes[[0, -1]]].all()
            or (piece.faces != face).any()
            or face < 0
        ):
            return False
        a, b = (self.stations.vertex[int(n)] for n in piece.nodes[[0, -1]])
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

    def _chain(self, piece: Piece, *, alone: bool = True) -> Chain:
        """The chain of a piece; unless it is `alone` the mirror shows it on the other side, too, where
        its vertices have to be free."""
        line = self.lines.place[piece.nodes]
        steps = np.linalg.norm(np.diff(line, axis=0), axis=1)
        low, high, near = self._around(piece)
        beyond = self._beyond(piece)
        for vertex, k in self.stations.kept_for.items():
            beyond[vertex] |= self.pieces[k] is not piece
        if not alone:
            there = self.stations.twins[1]
            beyond = beyond | (there == np.arange(len(there))) | ((there >= 0) & self.taken[there])
        places = self.ground.points[near]
        if self.stations.there[piece.nodes[0]]:
            first, last = (self.stations.vertex[int(n)] for n in piece.nodes[[0, -1]])
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
            if self.stations.there[end]:
                reach = BESIDE * self.ground.sizes[self.stations.vertex[end]]
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
