"""Ragged rows, copied in runs."""

from __future__ import annotations

from typing import Any

import numpy as np

from cutcore.geometry.arrays import Ints, sealed
from cutcore.kernels.compiled import compiled


@compiled
def splice_rows(old: Any, starts: Ints, rows: Ints, new: Any, bounds: Ints, made: Any) -> None:
    """Fill `made` with the values of `old`, row rows[k] of it replaced by
    new[bounds[k]:bounds[k+1]]; the rest of `new` comes last. `starts` are the row starts of `old`;
    all three are flat."""
    at = done = 0
    for k in range(len(rows)):
        kept = starts[rows[k]] - done
        made[at : at + kept] = old[done : done + kept]
        at += kept
        for c in range(bounds[k], bounds[k + 1]):
            made[at] = new[c]
            at += 1
        done = starts[rows[k] + 1]
    kept = len(old) - done
    made[at : at + kept] = old[done:]
    made[at + kept :] = new[bounds[len(rows)] :]


def spliced_rows(old: Any, starts: Ints, rows: Ints, new: Any, bounds: Ints) -> Any:
    """A ragged table (C,) or (C, k) with rows `starts`, some rows of it (ascending) replaced by the
    first rows of another table with rows `bounds`, whose further rows come last. Read-only."""
    gone = int((starts[rows + 1] - starts[rows]).sum())
    made = np.empty((len(old) - gone + len(new), *old.shape[1:]), dtype=old.dtype)
    fresh = new.astype(old.dtype, copy=False)
    if old.ndim == 1:
        splice_rows(old, starts, rows, fresh, bounds, made)
    else:
        for column in range(old.shape[1]):
            splice_rows(old[:, column], starts, rows, fresh[:, column], bounds, made[:, column])
    return sealed(made)
