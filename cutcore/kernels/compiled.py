"""How a loop is compiled: by Numba, once, and kept beside its file, so that only the first call on
a machine waits.

Divisions give infinities and NaN as in NumPy: loops decide by comparisons that are false for those.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

import numba

_Loop = TypeVar("_Loop", bound=Callable[..., Any])


def compiled(loop: _Loop) -> _Loop:
    return cast(_Loop, numba.njit(cache=True, nogil=True, error_model="numpy")(loop))


def inlined(loop: _Loop) -> _Loop:
    """A part of one loop that runs once a face: a call costs as much as its work, since arrays
    handed over are counted."""
    return cast(_Loop, numba.njit(nogil=True, error_model="numpy", inline="always")(loop))
