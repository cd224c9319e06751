"""What edges carry from one mesh to the next, as far as any edge carries something: how sharp they
are."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Floats, Ints


@dataclass(frozen=True, eq=False)
class EdgeData:
    """The edges that carry something, as vertex pairs `ends (H, 2)`, lower vertex first, sorted; and
    how sharp each is, `strength (H,)`: 1 for hard ones, less for creases."""

    ends: Ints
    strength: Floats

    @staticmethod
    def of(ends: Ints, strength: Floats) -> EdgeData:
        """The data of edges in any order, as pairs in any order. Those of which an end is gone (-1),
        or both are one, are left out; of an edge given twice the sharper one counts.

        >>> data = EdgeData.of(np.array([[4, 2], [2, 4], [1, 1], [-1, 3]]), np.array([0.5, 1, 1, 1]))
        >>> data.ends.tolist(), data.strength.tolist()
        ([[2, 4]], [1.0])
        """
        if len(ends) == 0:
            return EdgeData(np.asarray(ends).reshape(-1, 2), strength)
        pairs = np.sort(ends, axis=1)
        kept = np.flatnonzero((pairs[:, 0] >= 0) & (pairs[:, 0] != pairs[:, 1]))
        order = kept[np.lexsort((-strength[kept], pairs[kept, 1], pairs[kept, 0]))]
        pairs, strength = pairs[order], strength[order]
        first = np.ones(len(pairs), dtype=bool)
        first[1:] = (pairs[1:] != pairs[:-1]).any(axis=1)
        return EdgeData(pairs[first], strength[first])

    def renumbered(self, number: Ints) -> EdgeData:
        """The same edges where the vertices have other numbers (V,), -1 for those that are gone."""
        if len(self.ends) == 0:
            return self
        return EdgeData.of(number[self.ends], self.strength)

    def shifted(self, by: int) -> EdgeData:
        """The same edges where all vertices have numbers that are larger by so much."""
        return EdgeData(self.ends + by, self.strength)

    def rows_of(self, pairs: Ints, count: int) -> Ints:
        """The rows (n,) of edges given as vertex pairs (n, 2), lower first, of so many vertices; -1
        for those that carry nothing."""
        if len(self.ends) == 0 or len(pairs) == 0:
            return np.full(len(pairs), -1)
        keys, asked = _keys(self.ends, count), _keys(pairs, count)
        at = np.minimum(np.searchsorted(keys, asked), len(keys) - 1)
        return np.where(keys[at] == asked, at, -1)

    def of_pairs(self, pairs: Ints, count: int) -> Floats:
        """How sharp edges are (n,), given as vertex pairs (n, 2), lower first, of so many vertices:
        0 for those that carry nothing."""
        rows = self.rows_of(pairs, count)
        found = np.zeros(len(pairs))
        found[rows >= 0] = self.strength[rows[rows >= 0]]
        return found

    def taken(self, rows: Ints, ends: Ints) -> EdgeData:
        """What some rows (n,) carry, on edges (n, 2) that are now made of theirs; rows of -1 carry
        nothing."""
        there = rows >= 0
        return EdgeData.of(ends[there], self.strength[rows[there]])

    def without(self, rows: Ints) -> EdgeData:
        """All but some rows (n,); those of -1 are none."""
        kept = np.ones(len(self.ends), dtype=bool)
        kept[rows[rows >= 0]] = False
        return EdgeData(self.ends[kept], self.strength[kept])

    def with_more(self, *others: EdgeData) -> EdgeData:
        """These edges and others."""
        every = (self, *others)
        return EdgeData.of(
            np.concatenate([data.ends for data in every]),
            np.concatenate([data.strength for data in every]),
        )


def _keys(pairs: Ints, count: int) -> Ints:
    return pairs.astype(np.int64) @ np.array([count, 1], dtype=np.int64)
