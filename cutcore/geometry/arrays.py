"""Shapes of unequal size in flat arrays: the few operations that everything else is made of.

A ragged table of n rows is `starts (n+1,)` and a flat array of values; row i is
`values[starts[i]:starts[i+1]]`.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.integer[Any]]
Bools = NDArray[np.bool_]

INDEX = np.int32


def starts_of(sizes: Ints) -> Ints:
    """Row starts (n+1,) of rows with these sizes (n,)."""
    starts = np.zeros(len(sizes) + 1, dtype=np.int64)
    np.cumsum(sizes, out=starts[1:])
    return starts


def row_positions(starts: Ints, rows: Ints) -> tuple[Ints, Ints]:
    """Where the values of some rows lie in the flat array: (positions, starts of the gathered
    table)."""
    sizes = starts[rows + 1] - starts[rows]
    gathered = starts_of(sizes)
    shift = np.repeat(starts[rows] - gathered[:-1], sizes)
    return np.arange(gathered[-1], dtype=np.int64) + shift, gathered


def owner_of(starts: Ints) -> Ints:
    """The row (0..n-1) that each flat value belongs to."""
    return np.repeat(np.arange(len(starts) - 1, dtype=np.int64), np.diff(starts))


def next_in_row(starts: Ints) -> Ints:
    """For each flat position the position of its cyclic successor within its row; rows are not
    empty."""
    following = np.arange(1, int(starts[-1]) + 1, dtype=np.int64)
    following[starts[1:] - 1] = starts[:-1]
    return following


def distinct(values: Ints) -> Ints:
    """The different values, ascending. (`np.unique` hashes first, which is slower on the few
    thousand that a cut touches.)"""
    ordered = np.sort(values, kind="stable")
    fresh = np.ones(len(ordered), dtype=bool)
    np.not_equal(ordered[1:], ordered[:-1], out=fresh[1:])
    return ordered[fresh]


def found_in(values: Ints, ordered: Ints) -> Bools:
    """Which values (n,) are among some ascending ones."""
    if len(ordered) == 0:
        return np.zeros(len(values), dtype=bool)
    at = np.minimum(np.searchsorted(ordered, values), len(ordered) - 1)
    return np.asarray(ordered[at] == values)


def cross(a: Floats, b: Floats) -> Floats:
    """Cross products (..., 3), as `np.cross` gives them: that is slow on single vectors and short
    rows."""
    x, y, z = a[..., 0], a[..., 1], a[..., 2]
    u, v, w = b[..., 0], b[..., 1], b[..., 2]
    made = np.empty((*np.broadcast_shapes(a.shape[:-1], b.shape[:-1]), 3))
    made[..., 0] = y * w - z * v
    made[..., 1] = z * u - x * w
    made[..., 2] = x * v - y * u
    return made


def sealed(array: Any) -> Any:
    """An array made just now, read-only from here on: `frozen` then takes it over without a
    copy."""
    array.flags.writeable = False
    return array


def frozen(array: Any, dtype: Any) -> Any:
    """The array with this type, contiguous and read-only; copied only where that is needed to
    protect it."""
    result = np.ascontiguousarray(array, dtype=dtype)
    if result.flags.writeable:
        if result is array or result.base is not None:
            result = result.copy()
        result.flags.writeable = False
    return result
