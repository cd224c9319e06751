"""Dissolve: take edges away by joining the faces on either side; or join picked faces into as few
as can be."""

from __future__ import annotations

import itertools
from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from cutcore.geometry.arrays import Bools, Ints, starts_of
from cutcore.geometry.components import components
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import of_rows
from cutcore.notes import Element, Note, edge, face
from cutcore.queries.named_elements import Edges, Faces, edges_named, face_mask
from cutcore.tool import Example, Reshape, Reshaping


class DissolveParams(Reshaping):
    """Either `edges` to take away, or `faces` whose inside edges all go. Vertices left with two
    edges in a line that was dissolved go too, unless `keep_vertices`."""

    tool: Literal["dissolve"] = "dissolve"
    edges: Edges | None = None
    faces: Faces | None = None
    keep_vertices: bool = False

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        if (self.edges is None) == (self.faces is None):
            raise ValueError("a dissolve needs either edges or faces")
        return self


def apply(mesh: Mesh, params: DissolveParams) -> Result:
    """Edges that can't go (borders, more than two faces, a join that is no simple face) stay, with
    a note."""
    if params.edges is not None:
        wanted = edges_named(mesh, params.edges)
    else:
        assert params.faces is not None  # the model has checked this
        inside = face_mask(mesh, params.faces)
        pairs = mesh.edges.faces
        wanted = np.flatnonzero((pairs >= 0).all(axis=1) & inside[pairs].all(axis=1))
    stuck: list[Element] = []
    manifold = []
    for e in wanted.tolist():
        two = mesh.edges.faces_at(e)
        if len(two) == 2 and two[0] != two[1]:
            manifold.append(e)
        else:
            stuck.append(edge(mesh.edges.ends[e]))
    groups = _groups(mesh, np.array(manifold, dtype=np.int64))
    gone = np.zeros(len(mesh.edges), dtype=bool)
    gone[manifold] = True
    joined: dict[int, list[int]] = {}
    for members in groups:
        outline = _outline(mesh, members, gone)
        if outline is None:
            stuck += [face(f) for f in members]
        else:
            joined[members[0]] = outline
            for f in members[1:]:
                joined[f] = []
    notes = []
    if stuck:
        words = "Some edges stay: they lie on a border, at more than two faces, or the joined face would not be simple."
        notes.append(Note("not-dissolved", words, tuple(stuck[:50])))
    if not joined:
        return Result(
            mesh, Origin.same(mesh), notes=(*notes, Note("nothing-to-do", "Nothing was dissolved."))
        )
    return _rebuilt(mesh, joined, keep_vertices=params.keep_vertices, notes=tuple(notes))


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
        vertex = following.get(vertex, -1)
        if vertex == start:
            break
        if vertex < 0 or len(outline) > len(following):
            return None
    return outline if len(outline) == len(following) else None


def _rebuilt(
    mesh: Mesh, joined: dict[int, list[int]], *, keep_vertices: bool, notes: tuple[Note, ...]
) -> Result:
    rows = [np.arange(begin, end) for begin, end in itertools.pairwise(mesh.starts.tolist())]
    for f, outline in joined.items():
        rows[f] = np.array(outline, dtype=np.int64)
    rows = _without_needless(mesh, rows, joined) if not keep_vertices else rows
    stays = np.array([f for f in range(mesh.face_count) if len(rows[f])])
    at = np.concatenate([rows[f] for f in stays.tolist()])
    made, vertices = of_rows(
        mesh, at, starts_of(np.array([len(rows[f]) for f in stays.tolist()])), stays
    )
    kept = np.full(mesh.face_count, -1, dtype=np.int64)
    for new, f in enumerate(stays.tolist()):
        if f not in joined and len(rows[f]) == mesh.sizes[f]:
            kept[f] = new
    picked = np.array([new for new, f in enumerate(stays.tolist()) if f in joined], dtype=np.int64)
    return Result(made, Origin(stays, vertices, kept), Picked(faces=picked), notes)


def _without_needless(mesh: Mesh, rows: list[Ints], joined: dict[int, list[int]]) -> list[Ints]:
    """Without vertices that lost an edge and now have just two, where every face can spare them."""
    lost = np.unique(np.concatenate([mesh.face(f) for f in joined]))
    at: dict[int, list[int]] = {int(v): [] for v in lost}
    for f in np.unique(np.concatenate([mesh.edges.faces_at_vertex(int(v)) for v in lost])).tolist():
        for v in mesh.corners[rows[f]].tolist():
            if v in at:
                at[v].append(f)
    for v, faces in at.items():
        neighbours = set()
        for f in faces:
            loop = mesh.corners[rows[f]].tolist()
            k = loop.index(v)
            neighbours |= {loop[k - 1], loop[(k + 1) % len(loop)]}
        before = len(mesh.edges.at_vertex(v))
        if len(neighbours) == 2 and before > 2 and faces and all(len(rows[f]) > 3 for f in faces):
            for f in faces:
                rows[f] = rows[f][mesh.corners[rows[f]] != v]
    return rows


TOOL = Reshape(
    params=DissolveParams,
    title=lambda params: "Dissolve",
    examples=(
        Example("plate", {"faces": [0, 1, 3, 4]}),
        Example("cube", {"edges": [[18, 20]], "keep_vertices": True}),
    ),
    apply=apply,
)
