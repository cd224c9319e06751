"""Vertices moved, connectivity kept: the result and what there is to say of it."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.mesh.submesh import moved
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, face
from cutcore.queries.problems import flat_among

NOTHING = Note("nothing-to-move", "Everything has that size and lies there already.")


def moved_to(mesh: Mesh, points: Floats, uv: Floats | None = None) -> Result:
    """The mesh with its vertices at `points (V, 3)`, and if given its texture places; faces that lose
    their area by it are noted."""
    if (points == mesh.points).all():
        return Result(mesh, Origin.same(mesh), notes=(NOTHING,))
    made = moved(mesh, points, uv)
    changed: Bools = (points != mesh.points).any(axis=1)
    kept = np.arange(mesh.face_count)
    touched = np.flatnonzero(np.logical_or.reduceat(changed[mesh.corners], mesh.starts[:-1]))
    kept[touched] = -1
    origin = Origin(np.arange(mesh.face_count), np.arange(mesh.vertex_count), kept)
    then, now = (flat_among(one, touched, weld=weld_of(one)) for one in (mesh, made))
    flat = touched[now & ~then]
    notes = (
        (
            Note(
                "move-flattens",
                f"{len(flat)} faces have no area then.",
                tuple(face(f) for f in flat[:50]),
            ),
        )
        if len(flat)
        else ()
    )
    return Result(made, origin, notes=notes)
