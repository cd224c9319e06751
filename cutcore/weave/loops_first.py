"""Loops added before a line is woven in: where a single row of faces lies between edges that stay,
nothing could bend to it."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, replace

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, distinct
from cutcore.geometry.chart import chart_of
from cutcore.geometry.polygons import inside_loop
from cutcore.imprint import imprinted
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, SpanOf, TraceBuilder
from cutcore.weave.ground import Ground
from cutcore.weave.lines import Lines, crossing_of

# Edges are split there: a share.
HALF = 0.5


def edges_to_split(ground: Ground, lines: Lines, stations: Bools) -> Ints:
    """The edges (n,) of the mesh that lines cross though no vertex of theirs could become the line,
    and those round faces in which a station lies that has none."""
    free = ~ground.fixed & (ground.locks == 0)
    on_locked = ground.leads_on & (ground.locks <= 2) & (~ground.fixed | ground.limited)
    nodes = np.flatnonzero((lines.kind == ON_EDGE) & lines.used)
    edge = np.searchsorted(ground.edges, lines.element[nodes])
    able = np.where(
        ground.locked[edge],
        on_locked[ground.ends[edge]].any(axis=1),
        free[ground.ends[edge]].any(axis=1),
    )
    found: list[Ints] = [edge[~able]]
    for node in np.flatnonzero((lines.kind == IN_FACE) & stations).tolist():
        row = int(np.searchsorted(ground.faces, lines.element[node]))
        corners = slice(ground.starts[row], ground.starts[row + 1])
        if not free[ground.corners[corners]].any():
            found.append(ground.of_corner[corners])
    return ground.edges[distinct(np.concatenate(found).astype(np.int64))]


def with_loops(mesh: Mesh, edges: Ints, limit: Bools | None, *, weld: float) -> Result:
    """The mesh with loops through the middles of some edges (n,) and of all across from them; they
    end at faces of more than four corners, and at the limit."""
    builder = TraceBuilder(mesh, weld)
    table = mesh.edges
    seen = set(edges.tolist())
    waiting = list(seen)
    while waiting:
        edge = waiting.pop()
        for face in table.faces_at(edge):
            if mesh.sizes[face] > 4 or (limit is not None and not limit[face]):
                continue
            across = _across(mesh, face, edge)
            builder.span(
                builder.on_edge(edge, HALF), builder.on_edge(across, HALF), face, SpanOf(0)
            )
            if across not in seen:
                seen.add(across)
                waiting.append(across)
    trace = builder.build()
    return imprinted(mesh, replace(trace, stands=trace.kind == ON_EDGE), weld=weld)


def _across(mesh: Mesh, face: int, edge: int) -> int:
    """The edge of a quad across from one; of a triangle the other that ends where most do: loops run
    round the middle of a fan."""
    row = slice(int(mesh.starts[face]), int(mesh.starts[face + 1]))
    sides = mesh.edges.of_corner[row].tolist()
    at = sides.index(edge)
    if len(sides) == 4:
        return int(sides[(at + 2) % 4])
    before, after = mesh.corners[row][at], mesh.corners[row][(at + 1) % 3]
    many = mesh.edges.valence[before] > mesh.edges.valence[after]
    return int(sides[(at + 2) % 3] if many else sides[(at + 1) % 3])


def carried_over(mesh: Mesh, lines: Lines, made: Result, weld: float) -> Lines:
    """Lines on a mesh as they lie on what loops made of it."""
    return _Carrying(mesh, lines, made, weld).lines()


@dataclass(eq=False)
class _Carrying:
    before: Mesh
    old: Lines
    made: Result
    weld: float

    def lines(self) -> Lines:
        old = self.old
        self.kind, self.element = old.kind.copy(), old.element.copy()
        self.share, self.place = old.share.copy(), old.place
        children: dict[int, list[int]] = defaultdict(list)
        touched = np.flatnonzero(self.made.origin.kept[np.maximum(old.face, 0)] < 0)
        wanted = set(old.face[touched].tolist()) | set(old.element[old.kind == IN_FACE].tolist())
        for face, parent in enumerate(self.made.origin.face.tolist()):
            if parent in wanted:
                children[parent].append(face)
        self.children = children
        for node in np.flatnonzero(old.used).tolist():
            self._node(node)
        spans: list[tuple[int, int]] = []
        faces: list[int] = []
        self.more: list[tuple[int, int, float, Floats]] = []
        for (a, b), face in zip(old.spans.tolist(), old.face.tolist(), strict=True):
            for one, other, where in self._pieces(a, b, face):
                spans.append((one, other))
                faces.append(where)
        kinds, elements, shares, places = zip(*self.more, strict=True) if self.more else ([],) * 4
        return Lines(
            np.concatenate([self.kind, np.array(kinds, dtype=self.kind.dtype)]),
            np.concatenate([self.element, np.array(elements, dtype=np.int64)]),
            np.concatenate([self.share, np.array(shares, dtype=np.float64)]),
            np.concatenate([self.place, np.reshape(places, (-1, 3))]),
            np.array(spans),
            np.array(faces),
            np.concatenate([old.planned, np.zeros(len(self.more), dtype=bool)]),
        )

    def _node(self, node: int) -> None:
        """Put a node onto what its edge or face became."""
        after = self.made.mesh
        if self.old.kind[node] == ON_EDGE:
            edge = int(self.old.element[node])
            low, high = self.before.edges.ends[edge].tolist()
            middle = int(after.edges.ends[edge].sum() - low)
            if middle == high:
                return
            lower = self.share[node] < HALF
            gap = float(np.linalg.norm(after.points[middle] - self.place[node]))
            if gap <= self.weld:
                self.kind[node], self.element[node], self.share[node] = ON_VERTEX, middle, 0.0
                return
            piece = edge if lower else after.edges.between(middle, high)
            self.element[node] = piece
            share = self.share[node] / HALF if lower else (self.share[node] - HALF) / HALF
            first = low if lower else middle
            self.share[node] = share if after.edges.ends[piece, 0] == first else 1.0 - share
        elif self.old.kind[node] == IN_FACE:
            face = int(self.old.element[node])
            self.element[node] = self._child(face, self.place[node])

    def _child(self, face: int, place: Floats) -> int:
        """The child of a face that a place lies in."""
        found = self.children.get(face, [face])
        if len(found) == 1:
            return found[0]
        after = self.made.mesh
        chart = chart_of(self.before.points[self.before.face(face)])
        flat = chart.flatten(place[None])
        for child in found:
            if inside_loop(chart.flatten(after.points[after.face(child)]), flat)[0]:
                return child
        middles = [after.points[after.face(child)].mean(axis=0) for child in found]
        return found[int(np.argmin([np.linalg.norm(middle - place) for middle in middles]))]

    def _pieces(self, a: int, b: int, face: int) -> list[tuple[int, int, int]]:
        """A span as the pieces that loops leave of it, each with its face."""
        after = self.made.mesh
        found = self.children.get(face, [face])
        if face < 0 or len(found) == 1:
            return [(a, b, found[0] if face >= 0 else face)]
        chart = chart_of(self.before.points[self.before.face(face)])
        inner = [
            edge
            for child in found
            for edge in after.edges.of_corner[
                after.starts[child] : after.starts[child + 1]
            ].tolist()
        ]
        twice = [e for e in dict.fromkeys(inner) if inner.count(e) > 1]
        span = self.place[[a, b]]
        flat = chart.flatten(span)
        cuts: list[tuple[float, int]] = []
        for edge in twice:
            ends = after.points[after.edges.ends[edge]]
            shares = crossing_of(flat, chart.flatten(ends))
            if shares is None:
                continue
            place = ends[0] + shares[1] * (ends[1] - ends[0])
            # Where an end of the span lies on the loop it meets it already.
            if min(np.linalg.norm(span - place, axis=1)) > self.weld:
                cuts.append((shares[0], len(self.kind) + len(self.more)))
                self.more.append((ON_EDGE, edge, shares[1], place))
        row = [a, *(n for _, n in sorted(cuts)), b]
        at = [0.0, *(s for s, _ in sorted(cuts)), 1.0]
        pieces = []
        for k in range(len(row) - 1):
            middle = span[0] + 0.5 * (at[k] + at[k + 1]) * (span[1] - span[0])
            pieces.append((row[k], row[k + 1], self._child(face, middle)))
        return pieces
