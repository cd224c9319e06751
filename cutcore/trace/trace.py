"""The trace: what every cutting tool makes and what imprint takes.

Anchors are the places that may become vertices; spans join two anchors inside one face. Shares in
a trace always run from the lower vertex of the edge, so both faces at an edge see the same place.
"""

from __future__ import annotations

from bisect import bisect_left, insort
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import islice, product
from math import floor
from typing import Any, NamedTuple

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.polygons import distance_to_segments
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Note

ON_VERTEX, ON_EDGE, IN_FACE = 0, 1, 2


@dataclass(frozen=True, eq=False)
class Trace:
    """Lines on the surface of one mesh.

    kind     (A,)   ON_VERTEX, ON_EDGE or IN_FACE
    element  (A,)   the vertex, edge or face that carries the anchor
    share    (A,)   on an edge: from the lower vertex, 0..1; else 0
    place    (A, 3) where the anchor is; on an edge, at the share from the lower vertex to the last
             bit
    ends     (S, 2) the anchors each span joins
    face     (S,)   the face each span lies in; -1 where it runs along an edge
    line     (S,)   the line of the plan it belongs to
    stretch  (S,)   which stretch of that line, counted from 0; -1 where a line was carried on by
             itself
    far      (S,)   whether it lies on the far side as seen from the view
    trimmed  (S,)   whether it was drawn but is not cut: it leads to an open end
    lift     (A, 3) how far the vertex made here is moved off the surface afterwards; None for not
             at all
    stands   (A,)   anchors on edges that become vertices even if no span that is cut ends there;
             None for none
    children loops of anchors that some faces fall into by their spans, where that is known: they
             are taken as they are, not looked for
    """

    kind: Ints
    element: Ints
    share: Floats
    place: Floats
    ends: Ints
    face: Ints
    line: Ints
    stretch: Ints
    far: Bools
    trimmed: Bools
    notes: tuple[Note, ...] = ()
    lift: Floats | None = None
    stands: Bools | None = None
    children: Mapping[int, Sequence[Sequence[int]]] = field(default_factory=dict)

    @staticmethod
    def of(
        kind: Ints,
        element: Ints,
        share: Floats,
        place: Floats,
        ends: Ints,
        face: Ints,
        *,
        line: Ints | int = 0,
        far: Bools | bool = False,
        notes: tuple[Note, ...] = (),
        lift: Floats | None = None,
    ) -> Trace:
        """A trace whose spans all belong to planned lines and are all cut."""
        count = len(face)
        return Trace(
            np.asarray(kind, dtype=np.int8),
            np.asarray(element, dtype=np.int64),
            np.asarray(share, dtype=np.float64),
            place,
            ends,
            face,
            np.broadcast_to(np.asarray(line, dtype=np.int64), count),
            np.zeros(count, dtype=np.int64),
            np.broadcast_to(np.asarray(far, dtype=bool), count),
            np.zeros(count, dtype=bool),
            notes,
            lift,
        )

    @staticmethod
    def together(traces: Sequence[Trace], *, numbered: bool = False) -> Trace:
        """Several traces of one mesh as one; lines are numbered on, unless they are `numbered` in
        common already."""
        anchors, lines = 0, 0
        ends, line = [], []
        for trace in traces:
            ends.append(trace.ends + anchors)
            line.append(trace.line + lines)
            anchors += len(trace.kind)
            lines += int(trace.line.max()) + 1 if len(trace.line) and not numbered else 0
        lift = None
        if any(trace.lift is not None for trace in traces):
            lift = np.concatenate(
                [np.zeros_like(t.place) if t.lift is None else t.lift for t in traces]
            )

        def joined(name: str) -> Any:
            return np.concatenate([getattr(trace, name) for trace in traces])

        return Trace(
            joined("kind"),
            joined("element"),
            joined("share"),
            joined("place"),
            np.concatenate(ends),
            joined("face"),
            np.concatenate(line),
            joined("stretch"),
            joined("far"),
            joined("trimmed"),
            tuple(note for trace in traces for note in trace.notes),
            lift,
        )

    def known(self, children: Mapping[int, Sequence[Sequence[int]]], *, stands: Bools) -> Trace:
        """This trace with the children of faces, and which anchors (A,) stand."""
        return replace(self, children=children, stands=stands)

    @property
    def lifted(self) -> Floats:
        """Where the vertices that are made lie (A, 3)."""
        return self.place if self.lift is None else np.asarray(self.place + self.lift)

    @property
    def cut(self) -> Bools:
        """Spans that are cut into their face."""
        return (self.face >= 0) & ~self.trimmed

    def crossed_faces(self) -> Ints:
        """The faces (n,) that are cut, ascending."""
        return np.unique(self.face[self.cut])

    def along_edges(self, mesh: Mesh) -> Ints:
        """The edges that spans run along, as vertex pairs (n, 2), whole or in part."""
        found = []
        for a, b in self.ends[self.face < 0].tolist():
            on_edge = next((int(self.element[k]) for k in (a, b) if self.kind[k] == ON_EDGE), -1)
            both = (int(self.element[a]), int(self.element[b]))
            found.append(mesh.edges.ends[on_edge].tolist() if on_edge >= 0 else sorted(both))
        return np.array(found, dtype=np.int64).reshape(-1, 2)

    def stretch_lengths(self) -> dict[tuple[int, int], float]:
        """The length of each stretch on the surface, by (line, stretch)."""
        sizes = np.linalg.norm(self.place[self.ends[:, 1]] - self.place[self.ends[:, 0]], axis=1)
        lengths: dict[tuple[int, int], float] = {}
        for line, stretch, size in zip(
            self.line.tolist(), self.stretch.tolist(), sizes.tolist(), strict=True
        ):
            lengths[line, stretch] = lengths.get((line, stretch), 0.0) + size
        return lengths


def anchor_place(mesh: Mesh, edge: int, share: float) -> Floats:
    """Where a share of an edge lies, worked out from the lower vertex."""
    low, high = mesh.points[mesh.edges.ends[edge]]
    return np.asarray(low + share * (high - low), dtype=np.float64)


def share_of(mesh: Mesh, edge: int, place: Floats) -> float:
    """The share (0..1, from the lower vertex) of an edge that is nearest to a place."""
    low, high = mesh.points[mesh.edges.ends[edge]]
    along = high - low
    return float(np.clip((place - low) @ along / max(float(along @ along), NOT_ZERO), 0.0, 1.0))


class SpanOf(NamedTuple):
    """What a span knows of the plan: its line, its stretch of that line, whether it is on the far
    side, and whether it is only shown because it leads to an open end."""

    line: int
    stretch: int = -1
    far: bool = False
    trimmed: bool = False


@dataclass
class TraceBuilder:
    """Collects anchors and spans; anchors within the weld tolerance of each other on an edge are
    one."""

    mesh: Mesh
    weld: float
    kind: list[int] = field(default_factory=list)
    element: list[int] = field(default_factory=list)
    share: list[float] = field(default_factory=list)
    place: list[Floats] = field(default_factory=list)
    lift: list[Floats | None] = field(default_factory=list)
    spans: dict[tuple[int, int, int], SpanOf] = field(default_factory=dict)
    notes: list[Note] = field(default_factory=list)
    _at_vertex: dict[int, int] = field(default_factory=dict)
    # Of each edge the anchors on it, as (share, anchor), by share.
    _on_edge: dict[int, list[tuple[float, int]]] = field(default_factory=dict)
    # The anchors inside faces, by face and the cell of a grid as wide as the tolerance.
    _in_face: dict[tuple[int, int, int, int], list[int]] = field(default_factory=dict)

    @staticmethod
    def on(mesh: Mesh, trace: Trace, weld: float) -> TraceBuilder:
        """A builder that already holds a trace."""
        builder = TraceBuilder(mesh, weld)
        anchors = []
        for anchor in range(len(trace.kind)):
            element = int(trace.element[anchor])
            lift = None if trace.lift is None else trace.lift[anchor]
            if trace.kind[anchor] == ON_VERTEX:
                anchors.append(builder.vertex(element))
            elif trace.kind[anchor] == ON_EDGE:
                anchors.append(builder.on_edge(element, float(trace.share[anchor]), lift))
            else:
                anchors.append(builder.in_face(element, trace.place[anchor], lift))
        for s, (a, b) in enumerate(trace.ends.tolist()):
            of = SpanOf(
                int(trace.line[s]),
                int(trace.stretch[s]),
                bool(trace.far[s]),
                bool(trace.trimmed[s]),
            )
            builder.span(anchors[a], anchors[b], int(trace.face[s]), of)
        builder.notes = list(trace.notes)
        return builder

    def vertex(self, index: int) -> int:
        """The anchor on a vertex."""
        if index not in self._at_vertex:
            self._at_vertex[index] = self._add(ON_VERTEX, index, 0.0, self.mesh.points[index])
        return self._at_vertex[index]

    def on_edge(self, edge: int, share: float, lift: Floats | None = None) -> int:
        """The anchor at a share of an edge from its lower vertex; at its ends, the vertex."""
        low, high = (int(v) for v in self.mesh.edges.ends[edge])
        length = float(np.linalg.norm(self.mesh.points[high] - self.mesh.points[low]))
        if share * length <= self.weld:
            return self.vertex(low)
        if (1.0 - share) * length <= self.weld:
            return self.vertex(high)
        known = self._on_edge.setdefault(edge, [])
        reach = self.weld / length
        first = bisect_left(known, (share - 2 * reach, -1))
        near = []
        for at, anchor in islice(known, first, None):
            if at > share + 2 * reach:
                break
            if abs(at - share) * length <= self.weld:
                near.append(anchor)
        if near:
            return min(near)
        made = self._add(ON_EDGE, edge, share, anchor_place(self.mesh, edge, share), lift)
        insort(known, (share, made))
        return made

    def meets_edge(self, edge: int) -> bool:
        """Whether there is an anchor on an edge already."""
        return edge in self._on_edge

    def in_face(self, face: int, place: Floats, lift: Floats | None = None) -> int:
        """The anchor at a place inside a face; within the tolerance of its border, on that edge or
        vertex."""
        loop = self.mesh.points[self.mesh.face(face)]
        gaps = distance_to_segments(place[None], loop, np.roll(loop, -1, axis=0))[0]
        nearest = int(np.argmin(gaps))
        if gaps[nearest] <= self.weld:
            edge = int(self.mesh.edges.of_corner[self.mesh.starts[face] + nearest])
            return self.on_edge(edge, share_of(self.mesh, edge, place), lift)
        known = self._near_in_face(face, place)
        if known >= 0:
            return known
        made = self._add(IN_FACE, face, 0.0, place, lift)
        self._in_face.setdefault((face, *self._cell(place)), []).append(made)
        return made

    def _cell(self, place: Floats) -> tuple[int, int, int]:
        """The cell of a grid as wide as the tolerance that a place lies in."""
        x, y, z = (place / max(self.weld, NOT_ZERO)).tolist()
        return floor(x), floor(y), floor(z)

    def _near_in_face(self, face: int, place: Floats) -> int:
        """The first anchor inside a face within the tolerance of a place, -1 if there is none."""
        x, y, z = self._cell(place)
        near = [
            anchor
            for i, j, k in product((x - 1, x, x + 1), (y - 1, y, y + 1), (z - 1, z, z + 1))
            for anchor in self._in_face.get((face, i, j, k), ())
            if float(np.linalg.norm(self.place[anchor] - place)) <= self.weld
        ]
        return min(near, default=-1)

    def add_in_faces(self, faces: Ints, places: Floats) -> Ints:
        """Anchors (n,) at places (n, 3) inside faces (n,), known to be clear of their borders and
        of each other."""
        there = np.full(len(faces), -1, dtype=np.int64)
        if self._in_face:
            for n, face in enumerate(faces.tolist()):
                there[n] = self._near_in_face(face, places[n])
        fresh = there < 0
        there[fresh] = made = self._add_many(
            IN_FACE, faces[fresh], np.zeros(int(fresh.sum())), places[fresh]
        )
        cells = np.floor(places[fresh] / max(self.weld, NOT_ZERO)).astype(np.int64).tolist()
        for anchor, face, (x, y, z) in zip(
            made.tolist(), faces[fresh].tolist(), cells, strict=True
        ):
            self._in_face.setdefault((face, x, y, z), []).append(anchor)
        return there

    def add_on_edges(self, edges: Ints, shares: Floats, places: Floats) -> Ints:
        """Anchors (n,) at shares of edges (n,) that are known to be clear of their ends; the same
        place twice is two."""
        made = self._add_many(ON_EDGE, edges, shares, places)
        for anchor, edge, share in zip(made.tolist(), edges.tolist(), shares.tolist(), strict=True):
            insort(self._on_edge.setdefault(edge, []), (share, anchor))
        return made

    def _add_many(self, kind: int, elements: Ints, shares: Floats, places: Floats) -> Ints:
        first, count = len(self.kind), len(elements)
        self.kind += [kind] * count
        self.element += elements.tolist()
        self.share += shares.tolist()
        self.place += list(places)
        self.lift += [None] * count
        return first + np.arange(count)

    def span(self, a: int, b: int, face: int, of: SpanOf) -> None:
        """Join two anchors inside a face, or along an edge with face -1. A span given twice is kept
        once."""
        if a != b:
            if face >= 0 and self._along_border(a, b, face):
                face = -1
            self.spans.setdefault((min(a, b), max(a, b), face), of)

    def _along_border(self, a: int, b: int, face: int) -> bool:
        """Whether two anchors lie on one edge of a face."""
        if IN_FACE in (self.kind[a], self.kind[b]):
            return False
        if self.kind[a] == self.kind[b] == ON_VERTEX:
            loop = self.mesh.face(face).tolist()
            if self.element[a] not in loop or self.element[b] not in loop:
                return False
            apart = abs(loop.index(self.element[a]) - loop.index(self.element[b]))
            return apart in (1, len(loop) - 1)
        if self.kind[a] == self.kind[b]:
            return self.element[a] == self.element[b]
        edge, vertex = (a, b) if self.kind[a] == ON_EDGE else (b, a)
        return self.element[vertex] in self.mesh.edges.ends[self.element[edge]]

    def note(self, note: Note) -> None:
        if note not in self.notes:
            self.notes.append(note)

    def build(self) -> Trace:
        keys = np.array(list(self.spans), dtype=np.int64).reshape(-1, 3)
        values = list(self.spans.values())
        lift = None
        if any(moved is not None for moved in self.lift):
            lift = np.array([np.zeros(3) if moved is None else moved for moved in self.lift])
        return Trace(
            np.array(self.kind, dtype=np.int8),
            np.array(self.element, dtype=np.int64),
            np.array(self.share, dtype=np.float64),
            np.array(self.place, dtype=np.float64).reshape(-1, 3),
            keys[:, :2],
            keys[:, 2],
            np.array([v.line for v in values], dtype=np.int64),
            np.array([v.stretch for v in values], dtype=np.int64),
            np.array([v.far for v in values], dtype=bool),
            np.array([v.trimmed for v in values], dtype=bool),
            tuple(self.notes),
            lift,
        )

    def _add(
        self, kind: int, element: int, share: float, place: Floats, lift: Floats | None = None
    ) -> int:
        self.lift.append(lift)
        self.kind.append(kind)
        self.element.append(int(element))
        self.share.append(float(share))
        self.place.append(np.asarray(place, dtype=np.float64))
        return len(self.kind) - 1
