"""Faces joined over the edges between them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from cutcore.geometry.arrays import Bools, Ints, row_positions, starts_of
from cutcore.geometry.components import components
from cutcore.geometry.vectors import degrees_turned
from cutcore.kernels import crossed_rows, spliced_rows
from cutcore.mesh.mesh import Mesh, newell
from cutcore.mesh.result import Origin
from cutcore.mesh.submesh import of_rows

# Edges that turn by no more than so many degrees run on straight.
STRAIGHT_WITHIN = 1.0


@dataclass(frozen=True, eq=False)
class Joined:
    """The mesh with faces joined, the given one if none were: which are the joined `faces` in it,
    which of the old ones are `stuck`, because together they are no simple face, and which of the old
    vertices (n,) are left with two edges and stay, because these turn there, by up to so many
    degrees."""

    mesh: Mesh
    origin: Origin
    faces: Ints
    stuck: Ints
    turning: Ints = field(default_factory=lambda: np.zeros(0, np.int64))
    turn: float = 0.0


def join_over(mesh: Mesh, edges: Ints, *, straight_within: float | None) -> Joined:
    """Take away edges (n,) that have two different faces. Vertices that lose an edge and are left
    with two that run on straight, within so many degrees, go too; none does for None."""
    gone = np.zeros(len(mesh.edges), dtype=bool)
    gone[edges] = True
    uses = np.bincount(mesh.corners, minlength=mesh.vertex_count)
    rows: dict[int, Ints] = {}
    joined, stuck = [], []
    for members in _groups(mesh, edges):
        outline = _outline(mesh, members, gone)
        if (
            outline is None
            or _carries_others(mesh, members, outline, uses)
            or _crosses_itself(mesh, members, outline)
        ):
            stuck += members
        else:
            joined.append(members[0])
            rows[members[0]] = np.array(outline, dtype=np.int64)
            for f in members[1:]:
                rows[f] = np.zeros(0, dtype=np.int64)
    if not joined:
        none = np.zeros(0, dtype=np.int64)
        return Joined(mesh, Origin.same(mesh), none, np.array(stuck, dtype=np.int64))
    turning: dict[int, float] = {}
    if straight_within is not None:
        turning = _take_needless(mesh, rows, straight_within)
    made, origin = with_rows(mesh, rows)
    faces = np.flatnonzero(np.isin(origin.face, joined))
    return Joined(
        made,
        origin,
        faces,
        np.array(stuck, dtype=np.int64),
        np.array(list(turning), dtype=np.int64),
        max(turning.values(), default=0.0),
    )


def with_rows(mesh: Mesh, rows: dict[int, Ints]) -> tuple[Mesh, Origin]:
    """The mesh with the corners of some faces replaced by others of its corners, faces without any
    left out; vertices that no face uses any more go, everything else keeps its order."""
    changed = np.array(sorted(rows), dtype=np.int64)
    new = [rows[f] for f in changed.tolist()]
    sizes = mesh.sizes.astype(np.int64)
    sizes[changed] = [len(row) for row in new]
    at = spliced_rows(
        np.arange(len(mesh.corners)),
        mesh.starts,
        changed,
        np.concatenate(new),
        starts_of(sizes[changed]),
    )
    stays = np.flatnonzero(sizes)
    made, vertices = of_rows(mesh, at, starts_of(sizes[stays]), stays)
    kept = np.full(mesh.face_count, -1, dtype=np.int64)
    kept[stays] = np.arange(len(stays))
    kept[changed] = -1
    return made, Origin(stays, vertices, kept)


def _groups(mesh: Mesh, edges: Ints) -> list[list[int]]:
    """The faces that some edges join, each group in ascending order."""
    if len(edges) == 0:
        return []
    pairs = mesh.edges.faces[edges]
    labels = components(pairs, mesh.face_count)[1]
    members = np.unique(pairs)
    groups: dict[int, list[int]] = {}
    for f in members.tolist():
        groups.setdefault(int(labels[f]), []).append(f)
    return list(groups.values())


def _outline(mesh: Mesh, members: list[int], gone: Bools) -> list[int] | None:
    """The corners that go round a group of faces, or None if that is not one simple loop of three
    vertices or more."""
    following: dict[int, int] = {}
    corner_of: dict[int, int] = {}
    for f in members:
        row = range(int(mesh.starts[f]), int(mesh.starts[f + 1]))
        loop = mesh.face(f).tolist()
        for k, corner in enumerate(row):
            if gone[mesh.edges.of_corner[corner]]:
                continue
            if loop[k] in following:
                return None
            following[loop[k]] = loop[(k + 1) % len(loop)]
            corner_of[loop[k]] = corner
    if len(following) < 3:
        return None
    start = int(mesh.corners[mesh.starts[members[0]]])
    start = start if start in following else next(iter(following))
    outline, vertex = [], start
    while True:
        outline.append(corner_of[vertex])
        vertex = following[vertex]
        if vertex == start:
            break
        # Faces turned against each other lead nowhere.
        if vertex not in following or len(outline) > len(following):
            return None
    return outline if len(outline) == len(following) else None


def _carries_others(mesh: Mesh, members: list[int], outline: list[int], uses: Ints) -> bool:
    """Whether a vertex inside a group of faces is in a face of no group, which would be left hanging;
    `uses (V,)` says in how many faces each is."""
    own, count = np.unique(
        mesh.corners[row_positions(mesh.starts, np.array(members))[0]], return_counts=True
    )
    inside = ~np.isin(own, mesh.corners[outline])
    return bool((count[inside] < uses[own[inside]]).any())


def _crosses_itself(mesh: Mesh, members: list[int], outline: list[int]) -> bool:
    """Whether the corners that go round a group of faces cross, though none of the faces does."""
    loops = [np.array(outline), *(np.arange(*mesh.starts[f : f + 2]) for f in members)]
    starts = starts_of(np.array([len(loop) for loop in loops]))
    places = mesh.points[mesh.corners[np.concatenate(loops)]]
    whole, *own = crossed_rows(places, starts, newell(places, starts)).tolist()
    return bool(whole) and not any(own)


def _take_needless(mesh: Mesh, rows: dict[int, Ints], straight_within: float) -> dict[int, float]:
    """Take vertices out that lost an edge and now have just two that run on straight, where every
    face can spare them; by how many degrees the way turns at those that stay because it does."""
    lost = np.unique(np.concatenate([mesh.face(f) for f in rows]))

    def row_of(f: int) -> Ints:
        return rows[f] if f in rows else np.arange(mesh.starts[f], mesh.starts[f + 1])

    at: dict[int, list[int]] = {int(v): [] for v in lost}
    for f in np.unique(np.concatenate([mesh.edges.faces_at_vertex(int(v)) for v in lost])).tolist():
        for v in mesh.corners[row_of(f)].tolist():
            if v in at:
                at[v].append(f)
    turning: dict[int, float] = {}
    for v, faces in at.items():
        if not faces or len(mesh.edges.at_vertex(v)) < 3:
            continue
        loops = [mesh.corners[row_of(f)].tolist() for f in faces]
        sides = [(loop[(k := loop.index(v)) - 1], loop[(k + 1) % len(loop)]) for loop in loops]
        neighbours = sorted({w for pair in sides for w in pair})
        # Of three faces at the two edges one may go on elsewhere: all must have both.
        if len(neighbours) != 2 or any(len(set(pair)) != 2 for pair in sides):
            continue
        if min(map(len, loops)) < 4 or _are_joined(mesh, neighbours, at, row_of):
            continue
        turn = degrees_turned(*mesh.points[[neighbours[0], v, neighbours[1]]])
        if turn > straight_within:
            turning[v] = turn
            continue
        for f, loop in zip(faces, loops, strict=True):
            rows[f] = row_of(f)[np.array(loop) != v]
    return turning


def _are_joined(
    mesh: Mesh, pair: list[int], at: dict[int, list[int]], row_of: Callable[[int], Ints]
) -> bool:
    """Whether an edge joins two vertices: another between them would be the same one."""
    one, other = pair
    faces = at[one] if one in at else mesh.edges.faces_at_vertex(one).tolist()
    for f in faces:
        loop = mesh.corners[row_of(f)].tolist()
        if one in loop:
            k = loop.index(one)
            if other in (loop[k - 1], loop[(k + 1) % len(loop)]):
                return True
    return False
