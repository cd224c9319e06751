"""What a cut has changed in a mesh, as arrays: for keeping it, and for sending it to a browser that has the rest.

Only for cuts that leave vertices, untouched faces and untouched edges their numbers; others are kept and sent whole.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from cutcore import Mesh, Result
from cutcore.arrays import Floats, Ints, row_positions, starts_of
from cutcore.edges import EdgeTable

# A mesh is kept and sent whole if more than this share of its faces changed.
AT_MOST = 0.1


@dataclass(frozen=True, eq=False)
class MeshDifference:
    """A mesh as seen from the one before it.

    points    (n, 3) vertices that came after the old ones
    replaced  (m,)   old faces that are others now, ascending
    sizes     (m+k,) how many corners these have, and after them the k further faces
    corners, uv, material, patch   of those m+k faces
    hard      (H, 2) all hard edges
    edges     (e,)   old edges that join other vertices now, ascending
    ends      (e+x, 2) what they join, and after them the x further edges
    """

    points: Floats
    replaced: Ints
    sizes: Ints
    corners: Ints
    uv: Floats | None
    material: Ints
    patch: Ints
    hard: Ints
    edges: Ints
    ends: Ints


def difference_between(before: Mesh, result: Result) -> MeshDifference | None:
    """What an operation has changed; None if it renumbered something or changed too much to be worth it."""
    after, origin = result.mesh, result.origin
    replaced = np.flatnonzero(origin.kept < 0)
    more = after.face_count - before.face_count
    if more < 0 or len(replaced) + more > AT_MOST * before.face_count or len(after.edges) < len(before.edges):
        return None
    if not origin.keeps_numbers(before) or (after.materials, after.patches) != (before.materials, before.patches):
        return None
    faces = np.concatenate([replaced, np.arange(before.face_count, after.face_count)])
    at, starts = row_positions(after.starts, faces)
    edges = after.edges.changed_since(before.edges)
    return MeshDifference(
        after.points[before.vertex_count :],
        replaced,
        np.diff(starts),
        after.corners[at],
        None if after.uv is None else after.uv[at],
        after.material[faces],
        after.patch[faces],
        after.hard,
        edges,
        np.concatenate([after.edges.ends[edges], after.edges.ends[len(before.edges) :]]),
    )


def applied(before: Mesh, change: MeshDifference) -> Mesh:
    """The mesh that a difference was taken of, down to the numbers of its edges."""
    count = len(change.replaced)
    sizes = np.concatenate([before.sizes, change.sizes[count:]])
    sizes[change.replaced] = change.sizes[:count]
    starts = starts_of(sizes)
    untouched = np.setdiff1d(np.arange(before.face_count), change.replaced)
    old, _ = row_positions(before.starts, untouched)
    goal, _ = row_positions(starts, untouched)
    fresh, _ = row_positions(starts, np.concatenate([change.replaced, np.arange(before.face_count, len(sizes))]))

    def spliced(was: Any, now: Any, kept: Ints, put: Ints, new: Ints) -> Any:
        made = np.empty((int(len(put) + len(new)), *was.shape[1:]), dtype=was.dtype)
        made[put], made[new] = was[kept], now
        return made

    faces = np.concatenate([change.replaced, np.arange(before.face_count, len(sizes))])
    mesh = Mesh(
        np.concatenate([before.points, change.points]),
        starts,
        spliced(before.corners, change.corners, old, goal, fresh),
        None if before.uv is None else spliced(before.uv, change.uv, old, goal, fresh),
        spliced(before.material, change.material, untouched, untouched, faces),
        spliced(before.patch, change.patch, untouched, untouched, faces),
        before.materials,
        before.patches,
        change.hard,
    )
    ends = np.concatenate([before.edges.ends, change.ends[len(change.edges) :]])
    ends[change.edges] = change.ends[: len(change.edges)]
    table = EdgeTable.build(mesh.starts, mesh.corners, mesh.vertex_count)
    return mesh.with_edges(table.numbered_as(ends))
