"""The two loops that every cut of a large part runs through, compiled.

They are plain Python to read; Numba compiles them once and keeps the result beside this file, so that
only the very first call on a machine waits. `warm` makes that call, for set-up and server start.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

import numba
import numpy as np
from numpy.typing import NDArray

from cutcore.arrays import INDEX, Floats, Ints

_Loop = TypeVar("_Loop", bound=Callable[..., Any])


def _compiled(loop: _Loop) -> _Loop:
    return cast(_Loop, numba.njit(cache=True, nogil=True)(loop))


@_compiled
def sides_and_crossed(points: Floats, normal: Floats, offset: float, weld: float, ends: Ints) -> tuple[NDArray[np.int8], Ints]:
    """The side (V,) of points (V, 3) of a plane: -1, 0 within `weld` of it, +1; and the edges (n,) between sides."""
    side = np.empty(len(points), np.int8)
    for v in range(len(points)):
        height = points[v, 0] * normal[0] + points[v, 1] * normal[1] + points[v, 2] * normal[2] - offset
        side[v] = 1 if height > weld else -1 if height < -weld else 0
    crossed = np.empty(len(ends), np.int64)
    count = 0
    for e in range(len(ends)):
        if side[ends[e, 0]] * side[ends[e, 1]] < 0:
            crossed[count] = e
            count += 1
    return side, crossed[:count].copy()


@_compiled
def splice_rows(old: Any, starts: Ints, rows: Ints, new: Any, bounds: Ints, made: Any) -> None:
    """Fill `made` with the values of `old`, row rows[k] of it replaced by new[bounds[k]:bounds[k+1]]; the rest of
    `new` comes last. `starts` are the row starts of `old`; all three are flat."""
    at = done = 0
    for k in range(len(rows)):
        run = starts[rows[k]] - done
        made[at : at + run] = old[done : done + run]
        at += run
        run = bounds[k + 1] - bounds[k]
        made[at : at + run] = new[bounds[k] : bounds[k] + run]
        at += run
        done = starts[rows[k] + 1]
    run = len(old) - done
    made[at : at + run] = old[done:]
    made[at + run :] = new[bounds[len(rows)] :]


def warm() -> None:
    """Compile everything for the types that meshes have, or take it from where it was kept."""
    points, ends = np.zeros((2, 3)), np.array([[0, 1]], dtype=INDEX)
    for array in (points, ends):
        array.flags.writeable = False
    sides_and_crossed(points, np.zeros(3), 0.0, 0.0, ends)
    starts = np.zeros(2, dtype=INDEX)
    starts.flags.writeable = False
    rows = np.zeros(0, dtype=np.int64)
    for kind in (INDEX, np.float64):
        old = np.zeros(0, dtype=kind)
        new = old.copy()
        old.flags.writeable = False
        splice_rows(old, starts, rows, new, np.zeros(1, dtype=np.int64), new)


if __name__ == "__main__":
    warm()
