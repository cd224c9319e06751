"""The weld tolerance: a length, always relative to the part, never absolute."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from cutcore.mesh.mesh import Mesh

# Files in single precision carry noise of about 6e-8 of their largest coordinate.
RELATIVE_WELD = 1e-7


_in_force: ContextVar[float] = ContextVar("weld", default=RELATIVE_WELD)


def weld_of(mesh: Mesh) -> float:
    """The length within which two places on this part count as one: a share of its box diagonal."""
    return _in_force.get() * mesh.diagonal


@contextmanager
def welding(share: float) -> Iterator[None]:
    """Within, places count as one that are so near as a share of the part's diagonal: in all that is
    done, so that no operation can pass over it."""
    before = _in_force.set(share)
    try:
        yield
    finally:
        _in_force.reset(before)
