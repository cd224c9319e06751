"""What an operation has changed in a mesh, as arrays: for keeping it, and for sending it to a
browser that has the rest.

Only where vertices, most faces and most edges keep their numbers; others are kept and sent whole.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from cutcore.geometry.arrays import Floats, Ints, row_positions, starts_of
from cutcore.kernels import spliced_rows
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result, moved_vertices

# A mesh is kept and sent whole if more than this share of its faces or of its vertices changed.
AT_MOST = 0.1


@dataclass(frozen=True, eq=False)
class KeptMesh:
    """A mesh as it is kept: its arrays, and the ends (E, 2) of its edges in the order of their
    numbers. Whoever looks at the part names edges by these, and a cut leaves edges their
    numbers."""

    mesh: Mesh
    edge_ends: Ints

    @staticmethod
    def of(mesh: Mesh) -> KeptMesh:
        return KeptMesh(mesh, mesh.edges.ends)

    def bare(self) -> KeptMesh:
        """The same without what was derived from it, which takes several times its room."""
        return KeptMesh(replace(self.mesh), self.edge_ends)

    def live(self) -> Mesh:
        """The mesh, ready to be worked on."""
        mesh = self.mesh
        if "edges" not in mesh.__dict__:
            mesh.with_edges(mesh.edges.numbered_as(self.edge_ends))
        return mesh


@dataclass(frozen=True, eq=False)
class MeshDifference:
    """A mesh as seen from the one before it.

    points    (n, 3) vertices that came after the old ones
    moved     (k,)   old vertices that lie elsewhere now, ascending
    places    (k, 3) where
    replaced  (m,)   old faces that are others now, ascending
    sizes     (m+x,) how many corners these have, and after them the x further faces
    corners, uv, material, patch   of those m+x faces
    hard      (H, 2) all hard edges, if they are not those of before
    strength  (H,)   how sharp they are, if that is not as before
    edges     (e,)   old edges that join other vertices now, ascending
    ends      (e+y, 2) what they join, and after them the y further edges
    """

    points: Floats
    moved: Ints
    places: Floats
    replaced: Ints
    sizes: Ints
    corners: Ints
    uv: Floats | None
    material: Ints
    patch: Ints
    hard: Ints | None
    edges: Ints
    ends: Ints
    strength: Floats | None = None


def difference_between(before: Mesh, result: Result) -> MeshDifference | None:
    """What an operation has changed; None if it took something away, renumbered or changed too much
    to be worth it.

    This goes by what the operation says of itself: whoever keeps a difference compares what it
    makes with the mesh."""
    after, kept = result.mesh, result.origin.kept
    more = after.face_count - before.face_count
    if more < 0 or after.vertex_count < before.vertex_count or len(after.edges) < len(before.edges):
        return None
    if (after.materials, after.patches, after.uv is None) != (
        before.materials,
        before.patches,
        before.uv is None,
    ):
        return None
    stays = kept == np.arange(before.face_count)
    for name in ("material", "patch"):
        stays &= getattr(after, name)[: before.face_count] == getattr(before, name)
    replaced = np.flatnonzero(~stays)
    moved = moved_vertices(before, after)
    if (
        len(replaced) + more > AT_MOST * before.face_count
        or len(moved) > AT_MOST * before.vertex_count
    ):
        return None
    faces = np.concatenate([replaced, np.arange(before.face_count, after.face_count)])
    at, starts = row_positions(after.starts, faces)
    edges = after.edges.changed_since(before.edges)
    return MeshDifference(
        after.points[before.vertex_count :],
        moved,
        after.points[moved],
        replaced,
        np.diff(starts),
        after.corners[at],
        None if after.uv is None else after.uv[at],
        after.material[faces],
        after.patch[faces],
        None if np.array_equal(after.hard, before.hard) else after.hard,
        edges,
        np.concatenate([after.edges.ends[edges], after.edges.ends[len(before.edges) :]]),
        _strength_anew(before, after),
    )


def _strength_anew(before: Mesh, after: Mesh) -> Floats | None:
    """How sharp hard edges (H,) are now; None if that is as before."""
    then, now = before.edge_data.strength, after.edge_data.strength
    same = np.array_equal(then, now) or (before.strength is None and after.strength is None)
    return None if same else now


def applied(before: KeptMesh, change: MeshDifference) -> KeptMesh:
    """The mesh that a difference was taken of, down to the numbers of its edges."""
    was, count = before.mesh, len(change.replaced)
    bounds = starts_of(change.sizes)
    sizes = np.concatenate([was.sizes, change.sizes[count:]])
    sizes[change.replaced] = change.sizes[:count]
    points = np.concatenate([was.points, change.points])
    points[change.moved] = change.places
    ends = np.concatenate([before.edge_ends, change.ends[len(change.edges) :]])
    ends[change.edges] = change.ends[: len(change.edges)]

    def of_faces(old: Ints, new: Ints) -> Ints:
        made = np.concatenate([old, new[count:]])
        made[change.replaced] = new[:count]
        return made

    strength = was.strength if change.strength is None else change.strength
    if strength is not None and (strength == 1.0).all():
        strength = None
    mesh = replace(
        was,
        points=points,
        starts=starts_of(sizes),
        corners=spliced_rows(was.corners, was.starts, change.replaced, change.corners, bounds),
        uv=None
        if was.uv is None
        else spliced_rows(was.uv, was.starts, change.replaced, change.uv, bounds),
        material=of_faces(was.material, change.material),
        patch=of_faces(was.patch, change.patch),
        hard=was.hard if change.hard is None else change.hard,
        strength=strength,
    )
    return KeptMesh(mesh, ends)
