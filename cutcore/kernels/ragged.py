"""Rows of a binary table in which some columns are lists: where they begin can only be found one
after the other."""

from __future__ import annotations

from typing import Any

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.kernels.compiled import compiled


@compiled
def list_rows(
    data: Any,
    at: int,
    rows: int,
    item: Ints,
    length: Ints,
    signed: Ints,
    big: bool,
    places: Ints,
    counts: Ints,
) -> int:
    """Find where each of `rows` rows of k columns lies in bytes: `places (rows, k)` and, of lists,
    how many items `counts`.

    `item (k,)` is the size of a value, `length (k,)` that of the number before a list, 0 for a
    plain column; these numbers are `signed (k,)` or not. Gives the byte after the last row, or -1 -
    r if row r is not there in full."""
    for row in range(rows):
        for k in range(len(item)):
            count = np.int64(1)
            if length[k] > 0:
                if at + length[k] > len(data):
                    return -1 - row
                count = np.int64(0)
                for b in range(length[k]):
                    byte = np.int64(data[at + b])
                    count += byte << (8 * (length[k] - 1 - b) if big else 8 * b)
                if signed[k] and count >> (8 * length[k] - 1):
                    count = np.int64(0)
                at += length[k]
            if count > (len(data) - at) // item[k]:
                return -1 - row
            places[row, k], counts[row, k] = at, count
            at += count * item[k]
    return at


@compiled
def list_values(data: Any, places: Ints, sizes: Ints, into: Any) -> None:
    """Copy runs of bytes, from `places (n,)` on and `sizes (n,)` long, one after the other."""
    at = 0
    for k in range(len(places)):
        for b in range(sizes[k]):
            into[at] = data[places[k] + b]
            at += 1
