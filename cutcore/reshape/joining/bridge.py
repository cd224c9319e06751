"""Bridge: join two openings, two open chains, or two groups of picked faces, by a strip of faces."""

from __future__ import annotations

from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.components import components
from cutcore.mesh.changed_edges import edges_of_picked_faces
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then, with_faces, with_points, without_faces
from cutcore.notes import Note, position
from cutcore.queries.border_loops import border_loops
from cutcore.queries.edge_runs import edge_runs
from cutcore.queries.named_elements import Edges, Faces, edges_named, face_mask
from cutcore.tool import Example, Reshape, Reshaping, one_kind


class BridgeParams(Reshaping):
    """What is joined: two openings, by border `edges` all round them, or two chains of border
    `edges` that are open, or two groups of `faces`, which go.

    `twist` turns the second end by so many vertices from where the strip turns least; `steps` are
    the rows of vertices between the ends.
    """

    tool: Literal["bridge"] = "bridge"
    edges: Edges | None = None
    faces: Faces | None = None
    twist: Annotated[int, Field(ge=-(2**31), lt=2**31)] = 0
    steps: Annotated[int, Field(ge=0, le=200)] = 0

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        one_kind("a bridge needs either edges or faces", self.edges, self.faces)
        return self


def apply(mesh: Mesh, params: BridgeParams) -> Result:
    """No border is left at either end. With as many vertices at both ends all faces are quads; else
    the difference is spread evenly as triangles, with a note.

    The start at the second end is the one with the least sum of squared distances between what is
    joined. Raises StepError where there are not two ends, or they share a vertex."""
    where = "edges" if params.edges is not None else "faces"
    opened, origin, loops, closed = _ends(mesh, params)
    if len(loops) != 2:
        words = f"two openings are joined by a bridge: {len(loops)} were found"
        raise StepError(words, where=where)
    first, second = sorted(loops, key=len, reverse=True)
    if len(np.intersect1d(first, second)):
        raise StepError("the two openings share a vertex", where=where)
    second = second[::-1]
    if closed:
        second = _facing(opened, first, second, params.twist)
    partner = second[_partner(len(first), len(second), closed=closed) % len(second)]
    rows, places = _between(opened, first, partner[: len(first)], params.steps)
    strip = []
    for one, other in zip([first, *rows], rows, strict=False):
        strip += _strip(one, np.append(other, other[:1]) if closed else other)
    strip += _strip(rows[-1] if rows else first, partner)
    made = with_faces(with_points(opened, places), strip)
    added = np.arange(opened.face_count, made.face_count)
    whole = Origin(
        np.concatenate([origin.face, np.full(len(strip), -1)]),
        np.concatenate([origin.vertex, np.full(len(places), -1)]),
        origin.kept,
    )
    triangles = [int(f) for f, loop in zip(added, strip, strict=True) if len(loop) == 3]
    notes: tuple[Note, ...] = ()
    if triangles:
        words = f"The ends have {len(first)} and {len(second)} vertices: {len(triangles)} triangles make up for it."
        middles = (made.points[made.face(f)].mean(axis=0) for f in triangles[:50])
        notes = (Note("bridge-triangles", words, tuple(position(place) for place in middles)),)
    return Result(made, whole, Picked(faces=added), notes)


def _between(mesh: Mesh, first: Ints, partner: Ints, steps: int) -> tuple[list[Ints], Floats]:
    """Rows of new vertices, evenly between those of the first end and their partners: their
    numbers, and where they lie (n, 3)."""
    count, low, high = len(first), mesh.points[first], mesh.points[partner]
    shares = np.arange(1, steps + 1) / (steps + 1)
    places = [low + share * (high - low) for share in shares.tolist()]
    rows: list[Ints] = [mesh.vertex_count + k * count + np.arange(count) for k in range(steps)]
    return rows, np.concatenate([np.zeros((0, 3)), *places])


def _ends(mesh: Mesh, params: BridgeParams) -> tuple[Mesh, Origin, list[Ints], bool]:
    """The mesh with both ends open, the loops round them or the chains along them, in the direction a
    face in each would have, and whether they close."""
    if params.edges is not None:
        named = edges_named(mesh, params.edges)
        inner = named[~mesh.edges.border[named]]
        if len(inner):
            raise StepError(
                "only open boundaries can be joined: pick the faces instead", where="edges"
            )
        runs = edge_runs(mesh, named)
        if len(runs) == 2 and not any(closed for _, closed in runs):
            return mesh, Origin.same(mesh), [_as_filled(mesh, run) for run, _ in runs], False
        return mesh, Origin.same(mesh), border_loops(mesh, mesh.edges.ends[named]), True
    assert params.faces is not None  # the model has checked this
    chosen = face_mask(mesh, params.faces)
    if _groups(mesh, chosen) != 2:
        raise StepError(
            f"two groups of faces are joined by a bridge: {_groups(mesh, chosen)} were picked",
            where="faces",
        )
    before = mesh.edges.ends[mesh.edges.border]
    opened, origin = without_faces(mesh, chosen)
    count = np.int64(mesh.vertex_count)
    now = np.sort(origin.vertex[opened.edges.ends[opened.edges.border]], axis=1).astype(np.int64)
    fresh = ~np.isin(now @ np.array([count, 1]), before.astype(np.int64) @ np.array([count, 1]))
    return (
        opened,
        then(Origin.same(mesh), origin),
        border_loops(opened, opened.edges.ends[opened.edges.border][fresh]),
        True,
    )


def _as_filled(mesh: Mesh, run: Ints) -> Ints:
    """A chain of border edges in the direction that a face beyond them has."""
    edge = mesh.edges.between(int(run[0]), int(run[1]))
    loop = mesh.face(int(mesh.edges.faces[edge, 0])).tolist()
    forward = loop[(loop.index(int(run[0])) + 1) % len(loop)] == int(run[1])
    return run[::-1] if forward else run


def _groups(mesh: Mesh, chosen: Bools) -> int:
    """How many groups of faces joined by edges there are among some (F,)."""
    faces = np.flatnonzero(chosen)
    pairs = mesh.edges.faces
    both = pairs[(pairs >= 0).all(axis=1) & chosen[pairs].all(axis=1)]
    return components(np.searchsorted(faces, both), len(faces))[0]


def _partner(many: int, few: int, *, closed: bool) -> Ints:
    """Which of `few` places each of `many` is joined to; if they close, the first one again."""
    if closed:
        return (np.arange(many + 1) * few) // many
    return (np.arange(many) * (few - 1)) // (many - 1)


def _facing(mesh: Mesh, first: Ints, second: Ints, twist: int) -> Ints:
    """The second loop begun where what is joined lies nearest to each other, then turned on."""
    partner = _partner(len(first), len(second), closed=True)[:-1]
    away = [
        ((mesh.points[first] - mesh.points[np.roll(second, -k)[partner]]) ** 2).sum()
        for k in range(len(second))
    ]
    return np.roll(second, -(int(np.argmin(away)) + twist))


def _strip(first: Ints, partner: Ints) -> list[Ints]:
    """Faces between vertices (n,) and their partners, walked backwards, of which there is one more
    if the strip closes: quads, and triangles where two have the same."""
    made = []
    for k in range(len(partner) - 1):
        a, b = first[k], first[(k + 1) % len(first)]
        here, there = partner[k], partner[k + 1]
        made.append(np.array([a, b, there, here] if here != there else [a, b, here]))
    return made


TOOL = Reshape(
    params=BridgeParams,
    title=lambda params: "Bridge",
    examples=(
        Example("cube", {"faces": [4, 13], "twist": 1}),
        Example("cube", {"faces": [4, 13], "steps": 2}),
    ),
    moves=edges_of_picked_faces,
    apply=apply,
)
