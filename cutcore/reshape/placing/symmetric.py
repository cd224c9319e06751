"""Moves done a second time across a mirror, so that a symmetric part stays so to the last bit."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.geometry.axes import AXES
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, vertex
from cutcore.trace.mirror import Mirror
from cutcore.trace.symmetry import NO_COUNTERPART, Counterparts
from cutcore.words import count_of


def moved_alike(
    mesh: Mesh, points: Floats, mirror: Mirror | None
) -> tuple[Floats, tuple[Note, ...]]:
    """Places (V, 3) of moved vertices, with their counterparts moved alike.

    Those in the mirror stay in it. Where both of a pair were moved, the side that most of them are on
    leads. What has no counterpart is moved alone, and noted."""
    if mirror is None:
        return points, ()
    moved = np.flatnonzero((points != mesh.points).any(axis=1))
    if len(moved) == 0:
        return points, ()
    height = mesh.points[moved, AXES[mirror.axis]] - mirror.offset
    leading = 1.0 if height.sum() >= 0 else -1.0
    other = Counterparts(mesh, mirror, weld=weld_of(mesh)).vertices(moved)
    made = points.copy()
    within = moved[other == moved]
    made[within] = 0.5 * (points[within] + mirror.places(points[within]))
    paired = (other >= 0) & (other != moved)
    both = np.isin(other, moved)
    leads = paired & (~both | (height * leading > 0))
    made[other[leads]] = mirror.places(points[moved[leads]])
    alone = moved[other < 0]
    if len(alone) == 0:
        return made, ()
    words = f"{count_of(len(alone), 'vertex', 'vertices')} have no counterpart in the mirror: they move alone."
    return made, (Note(NO_COUNTERPART, words, tuple(vertex(v) for v in alone[:50])),)
