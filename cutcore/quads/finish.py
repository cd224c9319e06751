"""A cut whose faces end in quads: what it leaves is mended in the same step."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.geometry.arrays import Bools, Ints
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Picked, Result
from cutcore.mesh.submesh import then
from cutcore.quads.mend import Wanted, mend


def finished(result: Result, along: Ints, limit: Bools | None, *, weld: float) -> Result:
    """What a cut made, with all faces it touched turned into quads, and those on the way of paired
    odd ones; faces of the mesh before outside the `limit (F,)` stay.

    `along (n, 2)` are edges of the mesh before that lines ran along: they stay edges, as do those
    the cut added and those round the faces it picked. What was picked is picked still."""
    mesh, origin = result.mesh, result.origin
    touched = np.ones(mesh.face_count, dtype=bool)
    touched[origin.kept[origin.kept >= 0]] = False
    allowed = None if limit is None else limit[np.maximum(origin.face, 0)] | (origin.face < 0)
    # Vertices that lines ran along may be gone.
    highest = max(int(origin.vertex.max(initial=-1)), int(along.max(initial=-1)))
    number = np.full(highest + 1, -1, dtype=np.int64)
    number[origin.vertex[origin.vertex >= 0]] = np.flatnonzero(origin.vertex >= 0)
    lines = np.concatenate([result.picked.edges.reshape(-1, 2), number[along].reshape(-1, 2)])
    kept = mesh.edges.joining(np.sort(lines, axis=1))
    inside = np.zeros(mesh.face_count, dtype=bool)
    inside[result.picked.faces] = True
    faces = mesh.edges.faces
    kept |= inside[faces[:, 0]] != inside[np.maximum(faces[:, 1], faces[:, 0])]
    done = mend(mesh, Wanted(touched, allowed, kept), weld=weld)
    if done.mesh is mesh:
        return replace(result, notes=(*result.notes, *done.notes))
    picked = Picked(
        np.flatnonzero(inside[np.maximum(done.origin.face, 0)] & (done.origin.face >= 0)),
        _pieces(mesh, done, result.picked.edges.reshape(-1, 2)),
    )
    return replace(
        result,
        mesh=done.mesh,
        origin=then(origin, done.origin),
        picked=picked,
        notes=(*result.notes, *done.notes),
        mended=done.picked.edges,
    )


def _pieces(before: Mesh, done: Result, pairs: Ints) -> Ints:
    """Edges (n, 2) of a mesh as they are in what was made of it: those that were split as their
    pieces."""
    number = np.full(before.vertex_count, -1, dtype=np.int64)
    old = done.origin.vertex >= 0
    number[done.origin.vertex[old]] = np.flatnonzero(old)
    pairs = np.sort(number[pairs], axis=1)
    edges = done.mesh.edges
    weights = np.array([done.mesh.vertex_count, 1])
    whole = np.isin(pairs @ weights, edges.ends.astype(np.int64) @ weights)
    found = [pairs[whole]]
    for a, b in pairs[~whole].tolist():
        beside = [set(edges.ends[edges.at_vertex(v)].ravel().tolist()) for v in (a, b)]
        half = 0.5 * (done.mesh.points[a] + done.mesh.points[b])
        new = [v for v in sorted(beside[0] & beside[1] - {a, b}) if not old[v]]
        away = [float(np.linalg.norm(done.mesh.points[v] - half)) for v in new]
        if new:
            middle = new[int(np.argmin(away))]
            found.append(np.sort([[a, middle], [middle, b]], axis=1))
    return np.concatenate(found)
