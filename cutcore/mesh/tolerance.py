"""The weld tolerance: a length, always relative to the part, never absolute."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from cutcore.mesh.mesh import Mesh

# Files in single precision carry noise of about 6e-8 of their largest coordinate.
RELATIVE_WELD = 1e-7


def weld_of(mesh: Mesh, relative: float = RELATIVE_WELD) -> float:
    """The length within which two places on this part count as one: a share of its box diagonal."""
    return relative * mesh.diagonal
