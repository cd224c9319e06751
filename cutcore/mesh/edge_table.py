"""The edges of a mesh and the faces on either side.

Laws
----
ends[e]              lower vertex first
of_corner[c]         the edge from corner c to the next corner of its face
faces[e]             the first two faces at edge e, -1 where there is none; faces[e, 0] >= 0
crowded[e]           all faces of an edge that has more than two; absent otherwise
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from scipy.sparse import csr_matrix

from cutcore.geometry.arrays import INDEX, Bools, Ints, frozen, next_in_row, owner_of


@dataclass(frozen=True, eq=False)
class EdgeTable:
    ends: Ints
    of_corner: Ints
    faces: Ints
    crowded: dict[int, tuple[int, ...]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for name in ("ends", "of_corner", "faces"):
            object.__setattr__(self, name, frozen(getattr(self, name), INDEX))

    @staticmethod
    def build(starts: Ints, corners: Ints, vertex_count: int) -> EdgeTable:
        """The table of a mesh from scratch: one sort over all corners."""
        here = corners.astype(np.int64)
        there = here[next_in_row(starts)]
        key = np.minimum(here, there) * vertex_count + np.maximum(here, there)
        order = np.argsort(key, kind="stable")
        ordered = key[order]
        first = np.ones(len(key), dtype=bool)
        first[1:] = ordered[1:] != ordered[:-1]
        of_corner = np.empty(len(key), dtype=INDEX)
        of_corner[order] = np.cumsum(first) - 1
        heads = np.flatnonzero(first)
        unique = ordered[heads]
        ends = np.stack([unique // vertex_count, unique % vertex_count], axis=1)
        counts = np.diff(np.append(heads, len(key)))
        face_of = owner_of(starts)[order]
        faces = np.full((len(heads), 2), -1, dtype=INDEX)
        faces[:, 0] = face_of[heads]
        double = counts > 1
        faces[double, 1] = face_of[heads[double] + 1]
        crowded = {
            int(e): tuple(int(f) for f in face_of[heads[e] : heads[e] + counts[e]])
            for e in np.flatnonzero(counts > 2)
        }
        return EdgeTable(ends, of_corner, faces, crowded)

    def numbered_as(self, ends: Ints) -> EdgeTable:
        """The same edges, numbered as some ends (E, 2) list them."""
        count = np.int64(self.ends.max()) + 1 if len(self.ends) else np.int64(1)
        number = np.empty(len(ends), dtype=INDEX)
        number[self._order(self.ends, count)] = self._order(ends, count)
        faces = np.empty_like(self.faces)
        faces[number] = self.faces
        return EdgeTable(
            ends,
            number[self.of_corner],
            faces,
            {int(number[e]): f for e, f in self.crowded.items()},
        )

    @staticmethod
    def _order(ends: Ints, count: np.int64) -> Ints:
        return np.argsort(ends[:, 0] * count + ends[:, 1], kind="stable")

    def __len__(self) -> int:
        return len(self.ends)

    @cached_property
    def valence(self) -> Ints:
        """How many edges each vertex has, up to the highest vertex that has any."""
        return np.bincount(self.ends.ravel())

    def take_valence(self, before: EdgeTable) -> None:
        """Work the valences out from those of a table whose edges kept their numbers: only what
        changed is counted."""
        if "valence" in self.__dict__ or len(self) < len(before):
            return
        edges = self.changed_since(before)
        changed = before.ends[edges].ravel()
        added = np.concatenate([self.ends[edges], self.ends[len(before) :]]).ravel()
        size = max(len(before.valence), int(added.max(initial=-1)) + 1)
        valence = np.zeros(size, dtype=before.valence.dtype)
        valence[: len(before.valence)] = before.valence
        np.subtract.at(valence, changed, 1)
        np.add.at(valence, added, 1)
        self.__dict__["valence"] = valence

    @cached_property
    def border(self) -> Bools:
        """Which edges (E,) have a face on one side only."""
        return self.faces[:, 1] < 0

    def faces_at(self, edge: int) -> tuple[int, ...]:
        """All faces at one edge, in the order of the mesh."""
        if edge in self.crowded:
            return self.crowded[edge]
        a, b = int(self.faces[edge, 0]), int(self.faces[edge, 1])
        return (a,) if b < 0 else (a, b)

    def face_pairs(self, edges: Ints) -> tuple[Ints, Ints]:
        """All (edge, face) incidences of some edges as two parallel rows."""
        edges = np.asarray(edges, dtype=np.int64)
        pairs = self.faces[edges]
        there = pairs >= 0
        edge_rows, faces = np.repeat(edges, 2).reshape(-1, 2)[there], pairs[there]
        if self.crowded:
            extra = [
                (e, f) for e in edges.tolist() if e in self.crowded for f in self.crowded[e][2:]
            ]
            if extra:
                more = np.array(extra, dtype=np.int64)
                edge_rows, faces = (
                    np.concatenate([edge_rows, more[:, 0]]),
                    np.concatenate([faces, more[:, 1]]),
                )
        return edge_rows, faces.astype(np.int64)

    def beside(self, edges: Ints, face_count: int) -> Bools:
        """Which faces (F,) some edges have on any side."""
        # The faces that are not there, numbered -1, fall into a place of their own at the end.
        flagged = np.zeros(face_count + 1, dtype=bool)
        flagged[self.faces.take(edges, axis=0)] = True
        if self.crowded:
            for edge in np.intersect1d(edges, list(self.crowded)).tolist():
                flagged[list(self.crowded[edge])] = True
        return flagged[:-1]

    @cached_property
    def _at_vertex(self) -> csr_matrix:
        """Vertex → edges as a sparse table: building it is a counting sort."""
        vertices = self.ends.ravel()
        edges = np.repeat(np.arange(len(self.ends), dtype=INDEX), 2)
        size = int(vertices.max()) + 1 if len(vertices) else 0
        return csr_matrix(
            (np.ones(len(edges), np.int8), (vertices, edges)), shape=(size, len(self.ends))
        )

    @property
    def around_vertices(self) -> tuple[Ints, Ints]:
        """The edges round every vertex as rows: the starts, and the edges."""
        return self._at_vertex.indptr, self._at_vertex.indices

    def at_vertex(self, vertex: int) -> Ints:
        """The edges (n,) that end at a vertex."""
        table = self._at_vertex
        if vertex + 1 >= len(table.indptr):
            return np.zeros(0, dtype=INDEX)
        return np.sort(table.indices[table.indptr[vertex] : table.indptr[vertex + 1]])

    def faces_at_vertex(self, vertex: int) -> Ints:
        """The faces (n,) that have a corner at a vertex, ascending."""
        return np.unique(self.face_pairs(self.at_vertex(vertex))[1])

    def changed_since(self, before: EdgeTable) -> Ints:
        """The edges of a table before this one, ascending, that join other vertices under their
        number now."""
        # Both ends of an edge are compared as one number.
        now, then = (table.ends[: len(before)].view(np.int64)[:, 0] for table in (self, before))
        return np.flatnonzero(now != then)

    def among_new(self, pairs: Ints, since: int) -> Ints:
        """The numbers (n,) of edges given as vertex pairs, lower first, that are looked for among
        those from a number on: what a cut adds comes last. -1 for a pair that is not there."""
        keys = self.ends[since:].astype(np.int64)
        count = np.int64(max(int(self.ends.max(initial=0)), int(np.max(pairs, initial=0)))) + 1
        order = np.argsort(keys[:, 0] * count + keys[:, 1])
        ordered = (keys[:, 0] * count + keys[:, 1])[order]
        wanted = pairs[:, 0].astype(np.int64) * count + pairs[:, 1]
        if len(ordered) == 0:
            return np.full(len(pairs), -1, dtype=np.int64)
        at = np.minimum(np.searchsorted(ordered, wanted), len(ordered) - 1)
        return np.asarray(np.where(ordered[at] == wanted, since + order[at], -1), dtype=np.int64)

    def joining(self, pairs: Ints) -> Bools:
        """Which edges (E,) join the vertices of one of some pairs (n, 2), lower vertex first."""
        if len(pairs) == 0:
            return np.zeros(len(self), dtype=bool)
        weights = np.array([int(max(self.ends.max(initial=0), pairs.max())) + 1, 1])
        return np.isin(self.ends.astype(np.int64) @ weights, pairs.astype(np.int64) @ weights)

    def between(self, a: int, b: int) -> int:
        """The edge between two vertices, or -1."""
        low, high = min(a, b), max(a, b)
        near = self.at_vertex(low) if low >= 0 else np.zeros(0, dtype=INDEX)
        hit = near[(self.ends[near] == (low, high)).all(axis=1)]
        return int(hit[0]) if len(hit) else -1
