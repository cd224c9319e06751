"""Faces joined over the edges between them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Bools, Ints, starts_of
from cutcore.geometry.components import components
from cutcore.kernels import spliced_rows
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin
from cutcore.mesh.submesh import of_rows


@dataclass(frozen=True, eq=False)
class Joined:
    """The mesh with faces joined, the given one if none were: which are the joined `faces` in it,
    and which of the old ones are `stuck`, because together they are no simple face."""

    mesh: Mesh
    origin: Origin
    faces: Ints
    stuck: Ints


def join_over(mesh: Mesh, edges: Ints, *, keep_vertices: bool) -> Joined:
    """Take away edges (n,) that have two different faces. Vertices that lose an edge and are left
    with two go too, unless `keep_vertices`."""
    gone = np.zeros(len(mesh.edges), dtype=bool)
    gone[edges] = True
    rows: dict[int, Ints] = {}
    joined, stuck = [], []
    for members in _groups(mesh, edges):
        outline = _outline(mesh, members, gone)
        if outline is None:
            stuck += members
        else:
            joined.append(members[0])
            rows[members[0]] = np.array(outline, dtype=np.int64)
            for f in members[1:]:
                rows[f] = np.zeros(0, dtype=np.int64)
    if not joined:
        none = np.zeros(0, dtype=np.int64)
        return Joined(mesh, Origin.same(mesh), none, np.array(stuck, dtype=np.int64))
    if not keep_vertices:
        _take_needless(mesh, rows)
    made, origin = with_rows(mesh, rows)
    faces = np.flatnonzero(np.isin(origin.face, joined))
    return Joined(made, origin, faces, np.array(stuck, dtype=np.int64))


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


def _take_needless(mesh: Mesh, rows: dict[int, Ints]) -> None:
    """Take vertices out that lost an edge and now have just two, where every face can spare
    them."""
    lost = np.unique(np.concatenate([mesh.face(f) for f in rows]))

    def row_of(f: int) -> Ints:
        return rows[f] if f in rows else np.arange(mesh.starts[f], mesh.starts[f + 1])

    at: dict[int, list[int]] = {int(v): [] for v in lost}
    for f in np.unique(np.concatenate([mesh.edges.faces_at_vertex(int(v)) for v in lost])).tolist():
        for v in mesh.corners[row_of(f)].tolist():
            if v in at:
                at[v].append(f)
    for v, faces in at.items():
        neighbours = set()
        for f in faces:
            loop = mesh.corners[row_of(f)].tolist()
            k = loop.index(v)
            neighbours |= {loop[k - 1], loop[(k + 1) % len(loop)]}
        before = len(mesh.edges.at_vertex(v))
        if len(neighbours) == 2 and before > 2 and faces and all(len(row_of(f)) > 3 for f in faces):
            for f in faces:
                row = row_of(f)
                rows[f] = row[mesh.corners[row] != v]
