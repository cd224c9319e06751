"""Rows of a table that share a value."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.kernels.compiled import compiled


@compiled
def rows_beside(
    starts: Ints, values: Ints, value_starts: Ints, owners: Ints, kind: Ints
) -> tuple[Ints, Ints]:
    """The rows of the same kind that share a value with each row of a ragged table, itself left
    out: as rows, starts and others, ascending in no order. `owners` are the rows that hold each
    value, by `value_starts`; `kind (n,)` is that of the rows."""
    count = len(starts) - 1
    first = np.zeros(count + 1, dtype=np.int64)
    seen = np.full(count, -1, dtype=np.int64)
    for turn in range(2):
        if turn == 1:
            found = np.empty(first[count], dtype=np.int64)
            seen[:] = -1
        at = 0
        for r in range(count):
            seen[r] = r
            for c in range(starts[r], starts[r + 1]):
                v = values[c]
                for k in range(value_starts[v], value_starts[v + 1]):
                    other = owners[k]
                    if seen[other] != r and kind[other] == kind[r]:
                        seen[other] = r
                        if turn == 1:
                            found[at] = other
                        at += 1
            if turn == 0:
                first[r + 1] = at
    return first, found
