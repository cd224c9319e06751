"""Several parts made one, as they stand on the table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from cutcore.errors import StepError
from cutcore.formats.scene_part import ScenePart, moved_to
from cutcore.geometry.arrays import Ints
from cutcore.geometry.components import components
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.submesh import without_faces
from cutcore.mesh.together import together
from cutcore.notes import Note
from cutcore.queries.border_loops import border_loops
from cutcore.reshape.joining import bridge
from cutcore.reshape.joining.weld import as_far_as_legal
from cutcore.words import count_of


@dataclass(frozen=True, eq=False)
class Joined:
    """What joining gives: the mesh, how many vertices became one with those of another part, how
    many faces went since two lay on each other, and what there is to say."""

    mesh: Mesh
    welded: int
    faces_gone: int
    notes: tuple[Note, ...]


def joined(parts: Sequence[ScenePart], weld: float | None = None) -> Joined:
    """One mesh of some parts, at least two. With a distance, vertices of different parts that lie
    within it become one, at the place of the first part's; faces of two parts that then lie on each
    other, back to back, go.

    Raises StepError if nothing would be left."""
    meshes = [moved_to(part) for part in parts]
    whole = together(meshes)
    if weld is None:
        return Joined(whole, 0, 0, ())
    part_of = np.repeat(np.arange(len(meshes)), [mesh.vertex_count for mesh in meshes])
    pairs = cKDTree(whole.points).query_pairs(weld, output_type="ndarray")
    pairs = pairs[part_of[pairs[:, 0]] != part_of[pairs[:, 1]]]
    if len(pairs) == 0:
        words = "No two of these parts touch within that distance: nothing was welded."
        return Joined(whole, 0, 0, (Note("nothing-to-weld", words),))
    group = components(pairs, whole.vertex_count)[1]
    lowest = np.full(int(group.max()) + 1, whole.vertex_count)
    np.minimum.at(lowest, group, np.arange(whole.vertex_count))
    goal = lowest[group]
    gone = _back_to_back(whole, goal)
    left = whole
    if gone.any():
        left, origin = without_faces(whole, gone)
        number = np.full(whole.vertex_count, -1, dtype=np.int64)
        number[origin.vertex] = np.arange(left.vertex_count)
        # The lowest that is left of each group.
        still = np.full(int(group.max()) + 1, left.vertex_count)
        np.minimum.at(still, group[origin.vertex], np.arange(left.vertex_count))
        goal = still[group[origin.vertex]]
    result = as_far_as_legal(left, goal)
    return Joined(
        result.mesh,
        left.vertex_count - result.mesh.vertex_count,
        int(gone.sum()),
        result.notes,
    )


def _back_to_back(mesh: Mesh, goal: Ints) -> np.ndarray:
    """Which faces (F,) would have, once vertices are merged into their goals, the same vertices as
    another."""
    gone = np.zeros(mesh.face_count, dtype=bool)
    merged = goal[mesh.corners]
    touched = np.flatnonzero(np.logical_and.reduceat(_shared(goal)[merged], mesh.starts[:-1]))
    first: dict[tuple[int, ...], int] = {}
    for f in touched.tolist():
        key = tuple(sorted(merged[mesh.starts[f] : mesh.starts[f + 1]].tolist()))
        other = first.pop(key, None)
        if other is None:
            first[key] = f
        else:
            gone[[f, other]] = True
    return gone


def _shared(goal: Ints) -> np.ndarray:
    """Which vertices (V,) others are merged into."""
    return np.bincount(goal, minlength=len(goal)) > 1


def bridged(one: ScenePart, other: ScenePart, edges: Ints, steps: int = 0) -> Joined:
    """Two parts made one by a bridge from an opening of the first, given by its border edges (n,),
    to the opening of the second that lies nearest to it.

    Raises StepError where the second has no opening, or the edges are none."""
    first, second = moved_to(one), moved_to(other)
    if len(edges) == 0 or not first.edges.border[edges].all():
        raise StepError("pick the boundary of the opening that the bridge begins at", where="edges")
    loops = border_loops(second, second.edges.ends[second.edges.border])
    if not loops:
        raise StepError("the other part has no opening to be bridged to", where="to")
    ends = first.edges.ends[edges]
    middle = first.points[np.unique(ends)].mean(axis=0)
    away = [float(np.linalg.norm(second.points[loop].mean(axis=0) - middle)) for loop in loops]
    loop = loops[int(np.argmin(away))] + first.vertex_count
    pairs = [*ends.tolist(), *zip(loop.tolist(), np.roll(loop, -1).tolist(), strict=True)]
    whole = together([first, second])
    made = bridge.apply(
        whole, bridge.BridgeParams(edges=tuple((int(a), int(b)) for a, b in pairs), steps=steps)
    )
    words = f"{count_of(made.mesh.face_count - whole.face_count, 'face')} join the two parts."
    return Joined(made.mesh, 0, 0, (*made.notes, Note("bridged", words)))
