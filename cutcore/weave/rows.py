"""Rows: the ground opened along its chains, with a quad on either side of every edge of a line."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, cross, distinct
from cutcore.geometry.components import components
from cutcore.geometry.vectors import NOT_ZERO, units
from cutcore.notes import position
from cutcore.trace.trace import ON_EDGE, ON_VERTEX
from cutcore.weave.chain import Chain
from cutcore.weave.ground import Ground
from cutcore.weave.lines import Lines
from cutcore.weave.refusal import too_coarse

# A copy of a vertex begins so far on the way from the line to what lies behind it; if that is
# another line, which has a copy on this side, too, less far.
BEHIND = 0.5
BETWEEN = 1.0 / 3.0

# A copy begins at the old vertex if that is so many edges behind the line, and so little askew.
CLEAR = 0.2
ASKEW = 0.8

# Lines that leave a place at an angle whose cotangent is above this leave a wedge.
ACUTE = 1.0

# On a locked edge a copy lies so far on the way from the line to the edge's end.
ON_LOCKED = 0.5


@dataclass(frozen=True, eq=False)
class Line:
    """The vertices of all chains: `vertex (k,)` in the ground, ascending, `place (k, 3)` on the
    line, `chain` and `along (k,)` where that is; `edges (e, 2)` join them, by their rows here.

    `node (k,)` is the station there, or -1; `kept (k,)` says which were there before, on the line
    already; `drawn (e,)` which edges are the line's own: others lead a little further."""

    vertex: Ints
    place: Floats
    chain: Ints
    along: Floats
    node: Ints
    kept: Bools
    edges: Ints
    drawn: Bools

    @staticmethod
    def of(chains: list[Chain], lines: Lines, stations: dict[int, int]) -> Line:
        vertex = np.concatenate([c.vertices for c in chains])
        places = np.concatenate([c.places(c.along) for c in chains])
        number = np.concatenate([np.full(len(c.vertices), k) for k, c in enumerate(chains)])
        along = np.concatenate([c.along for c in chains])
        own, first, row = np.unique(vertex, return_index=True, return_inverse=True)
        place, node = places[first], np.full(len(own), -1)
        kept = np.zeros(len(own), dtype=bool)
        for n, v in stations.items():
            k = int(np.searchsorted(own, v))
            # Stations keep every digit.
            place[k], node[k] = lines.place[n], n
            kept[k] = lines.kind[n] == ON_VERTEX
        last = np.cumsum([len(c.vertices) for c in chains]) - 1
        inner = np.ones(len(vertex), dtype=bool)
        inner[last] = False
        at = np.flatnonzero(inner)
        edges = np.stack([row[at], row[at + 1]], axis=1)
        drawn = np.repeat([c.drawn for c in chains], [len(c.vertices) - 1 for c in chains])
        return Line(own, place, number[first], along[first], node, kept, edges, drawn)


@dataclass(frozen=True, eq=False)
class Rows:
    """The ground with its rows. Vertices are numbered as in the ground, new ones after.

    corners     (c,)   the vertex of each corner of the ground now
    quads       (q, 4) the quads beside the lines
    parents     (q,)   the face of the ground beside each
    line        (k,)   the vertices of the line
    copies      (s,)   the copy of each sector: the vertex its faces have now
    of_copy     (s,)   the row of the line each belongs to
    ends        (m, 2) the ends of the ground's edges now
    further     (f, 2) the ends of new edges
    quad_edges  (q, 4) the edge from each of the quads' corners to the next; new ones from m on
    lines       (e,)   which edges are those of the line
    locked      (s,)   the locked edge of the ground in each sector, on which its copy lies, or -1
    rungs       (s,)   that on which the way from the line to the copy lies, or -1
    stays       (s,)   which copies have the place of the old vertex for good
    home        (s,)   which begin there
    second_corners     corners of the ground whose edge is a new one now, since it was opened
    second_edges       those edges
    places      (n', 3) where all begin
    """

    corners: Ints
    quads: Ints
    parents: Ints
    line: Ints
    copies: Ints
    of_copy: Ints
    ends: Ints
    further: Ints
    quad_edges: Ints
    lines: Ints
    locked: Ints
    rungs: Ints
    stays: Bools
    home: Bools
    second_corners: Ints
    second_edges: Ints
    sector: Ints
    places: Floats


def opened(ground: Ground, lines: Lines, line: Line) -> Rows:
    """The ground with a row of quads on either side of its chains. Raises StepError where a line
    ends, turns or passes so that there can be none."""
    return _Opening(ground, lines, line).rows()


class _Opening:
    def __init__(self, ground: Ground, lines: Lines, line: Line) -> None:
        self.ground, self.lines, self.line = ground, lines, line
        self.row = np.full(len(ground.vertices), -1)
        self.row[line.vertex] = np.arange(len(line.vertex))
        count = np.int64(len(ground.vertices))
        keys = ground.ends[:, 0] * count + ground.ends[:, 1]
        order = np.argsort(keys)
        pairs = np.sort(line.vertex[line.edges], axis=1)
        wanted = pairs[:, 0] * count + pairs[:, 1]
        self.chained = order[np.searchsorted(keys[order], wanted)]
        self._on_chain = np.zeros(len(ground.edges), dtype=bool)
        self._on_chain[self.chained] = True
        self.halves = ground.halves
        self._back = np.empty(len(ground.corners), dtype=np.int64)
        self._back[ground.following] = np.arange(len(ground.corners))
        self.opened = self._ahead()

    def _ahead(self) -> Ints:
        """For each row of the line the edge that is opened ahead of it, if it ends there inside;
        else -1."""
        ground, line = self.ground, self.line
        found = np.full(len(line.vertex), -1)
        degree = np.bincount(line.edges.ravel(), minlength=len(line.vertex))
        for k in np.flatnonzero(degree == 1).tolist():
            vertex = int(line.vertex[k])
            if ground.opens_at(vertex):
                continue
            at = int(np.argmax((line.edges == k).any(axis=1)))
            other = int(line.edges[at].sum() - k)
            edges = ground.ahead(vertex, int(self.chained[at]), line.place[k] - line.place[other])
            # Ends that face each other don't both open what lies between.
            edges = [e for e in edges if e not in found]
            if not edges:
                raise too_coarse("no edge leads on from where it ends", position(line.place[k]))
            found[k] = edges[0]
        return found

    def rows(self) -> Rows:
        ground, line, row = self.ground, self.line, self.row
        sector, vertex_of = self._sectors()
        count = len(vertex_of)
        # Which of its sectors has the vertex's own number from now on.
        locked, stays = self._locked(sector, vertex_of)
        size = np.bincount(sector[sector >= 0], minlength=count)
        size[stays] = len(sector) + 1
        order = np.lexsort((np.arange(count), -size, vertex_of))
        first = np.ones(count, dtype=bool)
        first[1:] = vertex_of[order][1:] != vertex_of[order][:-1]
        keeps = np.zeros(count, dtype=bool)
        keeps[order[first]] = True
        keeps &= ~line.kept[vertex_of]
        known = len(ground.vertices)
        copies = np.where(keeps, line.vertex[vertex_of], 0)
        copies[~keeps] = known + np.arange(int((~keeps).sum()))
        known += int((~keeps).sum())
        on_line = np.where(line.kept, line.vertex, 0)
        on_line[~line.kept] = known + np.arange(int((~line.kept).sum()))
        known += int((~line.kept).sum())
        corners = np.where(sector >= 0, copies[sector], ground.corners)

        following = ground.following
        c = self.halves[self.chained]
        c = c.ravel()
        u, v = row[ground.corners[c]], row[ground.corners[following[c]]]
        quads = np.stack([corners[following[c]], corners[c], on_line[u], on_line[v]], axis=1)
        m = len(ground.edges)
        n = len(self.chained)
        lips = np.stack([self.chained, m + np.arange(n)], axis=1).ravel()
        middles = np.repeat(m + n + np.arange(n), 2)
        rungs = m + 2 * n
        quad_edges = np.stack(
            [lips, rungs + sector[c], middles, rungs + sector[following[c]]], axis=1
        )
        # Beyond the limit a side keeps its ends.
        half = self.halves[:, 0]
        swapped = ground.outside[ground.face_of_corner[half]] & (self.halves[:, 1] >= 0)
        half = np.where(swapped, self.halves[:, 1], half)
        ends = np.sort(np.stack([corners[half], corners[following[half]]], axis=1), axis=1)
        lip = np.stack([corners[c[1::2]], corners[following[c[1::2]]]], axis=1)
        further = [lip, on_line[line.edges], np.stack([copies, on_line[vertex_of]], axis=1)]
        parents = ground.face_of_corner[c]

        at = np.flatnonzero(self.opened >= 0)
        edge = self.opened[at]
        p = self.halves[edge]
        # The first of the two begins at the end of the line.
        begins = ground.corners[p[:, 0]] == line.vertex[at]
        p = np.where(begins[:, None], p, p[:, ::-1])
        out, into = p[:, 0], following[p[:, 1]]
        ahead = np.stack(
            [corners[following[out]], corners[out], on_line[at], corners[into]], axis=1
        )
        sides = np.stack([edge, m + 2 * n + count + np.arange(len(at))], axis=1)
        sides = np.where(begins[:, None], sides, sides[:, ::-1])
        quad_edges = np.concatenate(
            [
                quad_edges,
                np.stack(
                    [sides[:, 0], rungs + sector[out], rungs + sector[into], sides[:, 1]], axis=1
                ),
            ]
        )
        second = self.halves[edge, 1]
        further.append(np.stack([corners[second], corners[following[second]]], axis=1))
        quads = np.concatenate([quads, ahead])
        parents = np.concatenate([parents, ground.face_of_corner[out]])

        made = Rows(
            corners,
            quads,
            parents,
            on_line,
            copies,
            vertex_of,
            ends,
            np.sort(np.concatenate(further), axis=1),
            quad_edges,
            m + n + np.arange(n),
            locked,
            np.where(stays, np.array([self._edge_of(int(k)) for k in vertex_of]), locked),
            stays,
            np.zeros(count, dtype=bool),
            np.concatenate([self.halves[self.chained, 1], second]),
            np.concatenate([m + np.arange(n), m + 2 * n + count + np.arange(len(at))]),
            sector,
            np.empty((known, 3)),
        )
        self._place(made)
        return made

    def _sectors(self) -> tuple[Ints, Ints]:
        """The sector of each corner (c,), -1 for one at no vertex of the line, and the row of the
        line each sector belongs to."""
        ground, row = self.ground, self.row
        there = (row[ground.corners] >= 0) & ~ground.outside[ground.face_of_corner]
        both = np.flatnonzero((self.halves[:, 1] >= 0) & ~ground.outside[ground.beside].any(axis=1))
        one, other = self.halves[both].T
        onward, back = ground.following[one], ground.following[other]
        same = ground.corners[one] == ground.corners[other]
        links = np.concatenate(
            [
                np.stack([one, np.where(same, other, back)], axis=1),
                np.stack([onward, np.where(same, back, other)], axis=1),
            ]
        )
        edges = np.tile(both, 2)
        parted = np.isin(edges, self.chained)
        opened = self.opened[row[ground.corners[links[:, 0]]]]
        parted |= (opened == edges) & there[links[:, 0]]
        group = components(links[there[links[:, 0]] & ~parted], len(ground.corners))[1]
        names = distinct(group[there])
        sector = np.where(there, np.searchsorted(names, group), -1)
        vertex_of = np.zeros(len(names), dtype=np.int64)
        vertex_of[sector[there]] = row[ground.corners[there]]
        whole = np.flatnonzero(np.bincount(vertex_of, minlength=len(self.line.vertex)) < 2)
        if len(whole):
            raise too_coarse("it does not part the faces", position(self.line.place[whole[0]]))
        return sector, vertex_of

    def _locked(self, sector: Ints, vertex_of: Ints) -> tuple[Ints, Bools]:
        """For each sector its locked edge, -1 for none; and which sectors lie beyond the old vertex
        as seen from the line: their copies have its place."""
        ground, line = self.ground, self.line
        locked, beyond = np.full(len(vertex_of), -1), np.zeros(len(vertex_of), dtype=bool)
        for k in np.flatnonzero(ground.locks[line.vertex] > 0).tolist():
            vertex = int(line.vertex[k])
            edges = ground.edges_at(vertex)
            on = self._edge_of(k)
            for edge in edges[ground.locked[edges]].tolist():
                corners = self.halves[edge]
                corners = corners[corners >= 0]
                corners = np.where(
                    ground.corners[corners] == vertex, corners, ground.following[corners]
                )
                of = int(sector[corners].max())
                if of < 0:
                    continue
                if locked[of] >= 0:
                    raise too_coarse("it turns at a sharp edge", position(line.place[k]))
                locked[of] = edge
                beyond[of] = on >= 0 and edge != on
                if on >= 0 and ground.locks[vertex] == 1:
                    # Where a locked edge ends it does so still.
                    others = np.flatnonzero((vertex_of == k) & (np.arange(len(locked)) != of))
                    if len(others) > 1:
                        raise too_coarse(
                            "lines meet at a sharp edge's end", position(line.place[k])
                        )
                    beyond[others] = True
        return locked, beyond

    def _edge_of(self, k: int) -> int:
        """The edge of the ground that a vertex of the line comes to lie on, -1 if it is none."""
        node = int(self.line.node[k])
        if node < 0 or self.lines.kind[node] != ON_EDGE:
            return -1
        return int(np.searchsorted(self.ground.edges, self.lines.element[node]))

    def _place(self, made: Rows) -> None:
        """Where all vertices begin."""
        ground, line, places = self.ground, self.line, made.places
        places[: len(ground.vertices)] = ground.points
        places[made.line] = line.place
        for s in np.flatnonzero((made.locked >= 0) & ~made.stays).tolist():
            here = line.place[made.of_copy[s]]
            places[made.copies[s]] = here + ON_LOCKED * (self._end_of(made, s) - here)
        places[made.copies[made.stays]] = ground.points[line.vertex[made.of_copy[made.stays]]]
        free = np.flatnonzero((made.locked < 0) & ~made.stays)
        behind = self._behind(made)
        places[made.copies[free]] = (line.place[made.of_copy] + behind)[free]
        # The copy on the side where the old vertex lies well behind the line begins there.
        back = ground.points[line.vertex[made.of_copy]] - line.place[made.of_copy]
        share = np.einsum("ij,ij->i", back, behind) / np.maximum(
            np.einsum("ij,ij->i", behind, behind), NOT_ZERO
        )
        size = np.linalg.norm(back, axis=1) / ground.sizes[line.vertex[made.of_copy]]
        aside = np.linalg.norm(back - share[:, None] * behind, axis=1)
        made.home[:] = (made.locked < 0) & ~made.stays & (size > CLEAR) & (share > 0)
        made.home[:] &= aside <= ASKEW * np.linalg.norm(back, axis=1)
        places[made.copies[made.home]] = ground.points[line.vertex[made.of_copy[made.home]]]

    def _end_of(self, made: Rows, s: int) -> Floats:
        """Where the stretch of a locked edge ends that a copy lies on: at the edge's end, or where
        a line crosses it again."""
        ground, line = self.ground, self.line
        edge = int(made.locked[s])
        vertex = int(ground.ends[edge].sum() - line.vertex[made.of_copy[s]])
        k = int(self.row[vertex])
        if k >= 0 and self._edge_of(k) == edge:
            # The copy of that lies in between, too.
            here = line.place[made.of_copy[s]]
            return np.asarray(here + 2.0 / 3.0 * (line.place[k] - here))
        return np.asarray(ground.points[vertex])

    def _behind(self, made: Rows) -> Floats:
        """The way (s, 3) from the line to where each copy begins: the mean of what leads to the
        vertices behind it; of one that has none, to the middle of its face."""
        ground, line = self.ground, self.line
        count = len(made.copies)
        total, number = np.zeros((count, 3)), np.zeros(count)
        here = np.flatnonzero(made.sector >= 0)
        back = self._back
        chained = self._on_chain
        for corner, edge in (
            (ground.following[here], ground.of_corner[here]),
            (back[here], ground.of_corner[back[here]]),
        ):
            inner = ~chained[edge]
            sector, other = made.sector[here[inner]], ground.corners[corner[inner]]
            row = self.row[other]
            there = np.where(row[:, None] >= 0, line.place[row], ground.points[other])
            share = np.where(row >= 0, BETWEEN, BEHIND)
            way = share[:, None] * (there - line.place[made.of_copy[sector]])
            np.add.at(total, sector, way)
            np.add.at(number, sector, 1.0)
        acute, between = self._wedges(made)
        total[acute], number[acute] = between, 1.0
        alone = number == 0
        middle = np.add.reduceat(ground.points[ground.corners], ground.starts[:-1])
        middle /= np.diff(ground.starts)[:, None]
        row = here[alone[made.sector[here]]]
        sector = made.sector[row]
        way = middle[ground.face_of_corner[row]] - line.place[made.of_copy[sector]]
        np.add.at(total, sector, BEHIND * way)
        np.add.at(number, sector, 1.0)
        return np.asarray(total / number[:, None])

    def _wedges(self, made: Rows) -> tuple[Ints, Floats]:
        """The sectors (n,) in which two lines run away from each other at an acute angle, each with
        the way (n, 3) to where its copy begins: between them."""
        ground, line = self.ground, self.line
        chained = self._on_chain
        # A sector goes from the corner that goes out along a line to the one that a line comes
        # into.
        here = np.flatnonzero(made.sector >= 0)
        out = here[chained[ground.of_corner[here]]]
        onward = ground.following[out]
        into = self._back[here]
        into = here[chained[ground.of_corner[into]]]
        first, last = np.full((2, len(made.copies)), -1)
        first[made.sector[out]] = self.row[ground.corners[onward]]
        last[made.sector[into]] = self.row[ground.corners[self._back[into]]]
        there = np.flatnonzero((first >= 0) & (last >= 0) & (first != last))
        normal = np.zeros((len(made.copies), 3))
        np.add.at(normal, made.sector[here], ground.normals[ground.face_of_corner[here]])
        at = line.place[made.of_copy[there]]
        one, other = line.place[first[there]] - at, line.place[last[there]] - at
        turn = np.einsum("ij,ij->i", cross(one, other), units(normal[there]))
        acute = (turn > 0) & (np.einsum("ij,ij->i", one, other) > ACUTE * turn)
        return there[acute], (BETWEEN * 0.5 * (one + other))[acute]
