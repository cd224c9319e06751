"""Files by their ending."""

from __future__ import annotations

from pathlib import Path

from cutcore.errors import FormatError
from cutcore.formats.budget import Budget
from cutcore.formats.glb import read_glb, write_glb
from cutcore.formats.obj import read_obj, write_obj
from cutcore.formats.ply import read_ply, write_ply
from cutcore.formats.stl import read_stl, write_stl
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Note

READERS = {".obj": read_obj, ".ply": read_ply, ".stl": read_stl, ".glb": read_glb}
WRITERS = {".obj": write_obj, ".ply": write_ply, ".stl": write_stl, ".glb": write_glb}


def read_part(
    name: str, data: bytes, budget: Budget | None = None
) -> tuple[Mesh, tuple[Note, ...]]:
    """A mesh from the bytes of a file with this name, and what reading it had to say.

    Raises FormatError if it can't be read, or not within what one reading may take.
    """
    budget = Budget() if budget is None else budget
    budget.check_bytes(data)
    ending = Path(name).suffix.lower()
    if ending not in READERS:
        raise FormatError(
            f"files ending in {ending[:20] or 'nothing'} can't be read; try {', '.join(READERS)}"
        )
    return READERS[ending](data, budget)


def write_part(name: str, mesh: Mesh) -> bytes:
    """The bytes of a file with this name for a mesh."""
    ending = Path(name).suffix.lower()
    if ending not in WRITERS:
        raise FormatError(
            f"files ending in {ending[:20] or 'nothing'} can't be written; try {', '.join(WRITERS)}"
        )
    return WRITERS[ending](mesh)
