"""Files by their ending."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from cutcore.errors import FormatError
from cutcore.formats.budget import Budget
from cutcore.formats.glb import read_glb, read_glb_scene, write_glb, write_glb_scene
from cutcore.formats.obj import read_obj, read_obj_scene, write_obj, write_obj_scene
from cutcore.formats.ply import read_ply, write_ply
from cutcore.formats.scene_part import ScenePart, moved_to
from cutcore.formats.stl import read_stl, write_stl
from cutcore.geometry.placement import Placement
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.together import together
from cutcore.notes import Note

SCENE_READERS = {".obj": read_obj_scene, ".glb": read_glb_scene}
SCENE_WRITERS = {".obj": write_obj_scene, ".glb": write_glb_scene}
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


def read_parts(
    name: str, data: bytes, budget: Budget | None = None
) -> tuple[list[ScenePart], tuple[Note, ...]]:
    """The objects of a file as parts, and what reading it had to say; formats that know of no
    objects give one part. Raises FormatError like `read_part`."""
    budget = Budget() if budget is None else budget
    budget.check_bytes(data)
    read = SCENE_READERS.get(Path(name).suffix.lower())
    if read is None:
        mesh, notes = read_part(name, data, budget)
        return [ScenePart("", mesh, Placement())], notes
    return read(data, budget)


def write_parts(name: str, parts: Sequence[ScenePart]) -> bytes:
    """The bytes of a file with this name for some parts together, as they stand. Raises FormatError
    for none."""
    if not parts:
        raise FormatError("there is no part to be written")
    ending = Path(name).suffix.lower()
    write = SCENE_WRITERS.get(ending)
    if write is not None:
        return write(parts)
    return write_part(name, together([moved_to(part) for part in parts]))


def write_part(name: str, mesh: Mesh) -> bytes:
    """The bytes of a file with this name for a mesh."""
    ending = Path(name).suffix.lower()
    if ending not in WRITERS:
        raise FormatError(
            f"files ending in {ending[:20] or 'nothing'} can't be written; try {', '.join(WRITERS)}"
        )
    return WRITERS[ending](mesh)
