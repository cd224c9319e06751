"""Bridge: join two openings, or two groups of picked faces, by a strip of faces."""

from __future__ import annotations

from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Ints
from cutcore.geometry.components import components
from cutcore.mesh.changed_edges import edges_of_picked_faces
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then, with_faces, without_faces
from cutcore.notes import Note, position
from cutcore.queries.border_loops import border_loops
from cutcore.queries.named_elements import Edges, Faces, edges_named, face_mask
from cutcore.tool import Example, Reshape, Reshaping


class BridgeParams(Reshaping):
    """What is joined: two openings, by border `edges` all round them, or two groups of `faces`,
    which go.

    `twist` turns the second end by so many vertices from where the strip turns least.
    """

    tool: Literal["bridge"] = "bridge"
    edges: Edges | None = None
    faces: Faces | None = None
    twist: Annotated[int, Field(ge=-(2**31), lt=2**31)] = 0

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        if (self.edges is None) == (self.faces is None):
            raise ValueError("a bridge needs either edges or faces")
        return self


def apply(mesh: Mesh, params: BridgeParams) -> Result:
    """No border is left at either end. With as many vertices at both ends all faces are quads; else
    the difference is spread evenly as triangles, with a note.

    The start at the second end is the one with the least sum of squared distances between what is
    joined. Raises StepError where there are not two ends, or they share a vertex."""
    opened, origin, loops = _ends(mesh, params)
    if len(loops) != 2:
        words = f"two openings are joined by a bridge: {len(loops)} were found"
        raise StepError(words, where="edges" if params.edges is not None else "faces")
    first, second = sorted(loops, key=len, reverse=True)
    if len(np.intersect1d(first, second)):
        raise StepError(
            "the two openings share a vertex",
            where="edges" if params.edges is not None else "faces",
        )
    strip = _strip(opened, first, _facing(opened, first, second[::-1], params.twist))
    made = with_faces(opened, strip)
    added = np.arange(opened.face_count, made.face_count)
    whole = Origin(
        np.concatenate([origin.face, np.full(len(strip), -1)]), origin.vertex, origin.kept
    )
    triangles = [int(f) for f, loop in zip(added, strip, strict=True) if len(loop) == 3]
    notes: tuple[Note, ...] = ()
    if triangles:
        words = f"The ends have {len(first)} and {len(second)} vertices: {len(triangles)} triangles make up for it."
        places = (made.points[made.face(f)].mean(axis=0) for f in triangles[:50])
        notes = (Note("bridge-triangles", words, tuple(position(place) for place in places)),)
    return Result(made, whole, Picked(faces=added), notes)


def _ends(mesh: Mesh, params: BridgeParams) -> tuple[Mesh, Origin, list[Ints]]:
    """The mesh with both ends open, and the loops round them, in the direction a face in each would
    have."""
    if params.edges is not None:
        named = edges_named(mesh, params.edges)
        inner = named[~mesh.edges.border[named]]
        if len(inner):
            raise StepError(
                "only open borders can be joined: pick the faces instead", where="edges"
            )
        return mesh, Origin.same(mesh), border_loops(mesh, mesh.edges.ends[named])
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
    )


def _groups(mesh: Mesh, chosen: Bools) -> int:
    """How many groups of faces joined by edges there are among some (F,)."""
    faces = np.flatnonzero(chosen)
    pairs = mesh.edges.faces
    both = pairs[(pairs >= 0).all(axis=1) & chosen[pairs].all(axis=1)]
    return components(np.searchsorted(faces, both), len(faces))[0]


def _partner(many: int, few: int) -> Ints:
    """Which of `few` places each of `many`, and the first one again, is joined to."""
    return (np.arange(many + 1) * few) // many


def _facing(mesh: Mesh, first: Ints, second: Ints, twist: int) -> Ints:
    """The second loop begun where what is joined lies nearest to each other, then turned on."""
    partner = _partner(len(first), len(second))[:-1]
    away = [
        ((mesh.points[first] - mesh.points[np.roll(second, -k)[partner]]) ** 2).sum()
        for k in range(len(second))
    ]
    return np.roll(second, -(int(np.argmin(away)) + twist))


def _strip(mesh: Mesh, first: Ints, second: Ints) -> list[Ints]:
    """Faces between two loops, the second walked backwards: quads, and triangles where the first
    has more vertices."""
    partner = _partner(len(first), len(second))
    made = []
    for k in range(len(first)):
        a, b = first[k], first[(k + 1) % len(first)]
        here, there = second[partner[k] % len(second)], second[partner[k + 1] % len(second)]
        made.append(np.array([a, b, there, here] if here != there else [a, b, here]))
    return made


TOOL = Reshape(
    params=BridgeParams,
    title=lambda params: "Bridge",
    examples=(Example("cube", {"faces": [4, 13], "twist": 1}),),
    moves=edges_of_picked_faces,
    apply=apply,
)
