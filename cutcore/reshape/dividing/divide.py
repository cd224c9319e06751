"""Divide: faces split evenly, quads into rows and columns, others into four or into corners."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Ints
from cutcore.imprint import imprinted
from cutcore.mesh.changed_edges import edges_of_picked_faces
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, face
from cutcore.progress import one_by_one
from cutcore.queries.named_elements import Faces, chosen_faces
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.trace.known_faces import KnownFaces
from cutcore.words import count_of

MostParts = Annotated[int, Field(ge=1, le=64)]


class DivideParams(Reshaping):
    """The faces to split evenly, all if none are named: quads into `columns` along their first side
    and `rows` along the next, through all quads side by side; with two and two, triangles into four
    and larger faces into a quad at every corner."""

    tool: Literal["divide"] = "divide"
    faces: Faces | None = None
    columns: MostParts = 2
    rows: MostParts = 2


def apply(mesh: Mesh, params: DivideParams) -> Result:
    """Nothing moves. Faces next to these get the new vertices on their borders. Faces that can't be
    split so stay, with a note. Raises StepError where columns and rows would meet at one edge."""
    chosen = chosen_faces(mesh, params.faces)
    halves = params.columns == params.rows == 2
    fits = chosen & ((mesh.sizes == 4) | halves)
    notes: tuple[Note, ...] = ()
    stuck = np.flatnonzero(chosen & ~fits)
    if len(stuck):
        words = (
            f"{count_of(len(stuck), 'face')} are no quads: those can only be split in two and two."
        )
        notes = (Note("not-divided", words, tuple(face(f) for f in stuck[:50])),)
    if not fits.any() or params.columns == params.rows == 1:
        nothing = Note("nothing-to-do", "None of these faces can be split so.")
        return Result(mesh, Origin.same(mesh), notes=notes or (nothing,))
    parts = _parts_of_edges(mesh, fits, params.columns, params.rows)
    drawn = KnownFaces(mesh)
    for f in one_by_one("splitting faces", np.flatnonzero(fits).tolist()):
        _split(drawn, parts, f)
    made = imprinted(mesh, drawn.trace(), weld=weld_of(mesh))
    inside = np.flatnonzero(fits[made.origin.face])
    return Result(made.mesh, made.origin, Picked(inside, made.picked.edges), notes)


def _parts_of_edges(mesh: Mesh, chosen: Bools, columns: int, rows: int) -> Ints:
    """Into how many parts each edge (E,) is split: edges across a quad from each other into as
    many, edges next to each other into the other number."""
    parts = np.zeros(len(mesh.edges), dtype=np.int64)
    if columns == rows:
        for f in np.flatnonzero(chosen).tolist():
            parts[mesh.edges.of_corner[mesh.starts[f] : mesh.starts[f + 1]]] = columns
        return parts
    for start in np.flatnonzero(chosen).tolist():
        if parts[mesh.edges.of_corner[mesh.starts[start]]]:
            continue
        waiting = [(start, 0, columns)]
        while waiting:
            f, side, count = waiting.pop()
            edges = mesh.edges.of_corner[mesh.starts[f] : mesh.starts[f + 1]].tolist()
            for k, edge in enumerate(edges):
                wanted = count if (k - side) % 2 == 0 else columns + rows - count
                if parts[edge] == wanted:
                    continue
                if parts[edge]:
                    raise StepError(
                        "columns and rows meet at one edge: split these faces into as many of both",
                        where="columns",
                        elements=(face(f),),
                    )
                parts[edge] = wanted
                for other in mesh.edges.faces_at(edge):
                    if other != f and chosen[other]:
                        begin = int(mesh.starts[other])
                        row = mesh.edges.of_corner[begin : int(mesh.starts[other + 1])].tolist()
                        waiting.append((other, row.index(edge), wanted))
    return parts


def _split(drawn: KnownFaces, parts: Ints, f: int) -> None:
    """Split one face evenly, its sides into so many parts as the edges (E,) have."""
    mesh = drawn.mesh
    loop = mesh.face(f).tolist()
    sides = [_side(drawn, parts, f, k) for k in range(len(loop))]
    if len(loop) == 4:
        _grid(drawn, f, loop, sides)
    elif len(loop) == 3:
        (a, ab, b), (_, bc, c), (_, ca, _) = sides
        drawn.put(f, [[a, ab, ca], [b, bc, ab], [c, ca, bc], [ab, bc, ca]])
    else:
        middle = drawn.in_face(f, mesh.points[loop].mean(axis=0))
        drawn.put(f, [[side[0], side[1], middle, sides[k - 1][1]] for k, side in enumerate(sides)])


def _grid(drawn: KnownFaces, f: int, loop: list[int], sides: list[list[int]]) -> None:
    wide, high = len(sides[0]) - 1, len(sides[1]) - 1
    name = np.full((high + 1, wide + 1), -1, dtype=np.int64)
    name[0], name[:, wide] = sides[0], sides[1]
    name[high, ::-1], name[::-1, 0] = sides[2], sides[3]
    a, b, c, d = drawn.mesh.points[loop]
    for j in range(1, high):
        for i in range(1, wide):
            u, v = i / wide, j / high
            place = (1 - v) * ((1 - u) * a + u * b) + v * ((1 - u) * d + u * c)
            name[j, i] = drawn.in_face(f, place)
    quads = np.stack([name[:-1, :-1], name[:-1, 1:], name[1:, 1:], name[1:, :-1]], axis=2)
    drawn.put(f, quads.reshape(-1, 4).tolist())


def _side(drawn: KnownFaces, parts: Ints, f: int, k: int) -> list[int]:
    """The anchors along a side of a face, both corners included."""
    mesh = drawn.mesh
    at = int(mesh.starts[f]) + k
    edge = int(mesh.edges.of_corner[at])
    low, high = mesh.edges.ends[edge].tolist()
    count = int(parts[edge])
    between = [drawn.on_edge(edge, n / count) for n in range(1, count)]
    run = [drawn.vertex(low), *between, drawn.vertex(high)]
    return run if int(mesh.corners[at]) == low else run[::-1]


TOOL = Reshape(
    params=DivideParams,
    title=lambda params: f"Faces split {params.columns} by {params.rows}",
    examples=(
        Example("plate", {"faces": [0, 1]}),
        Example("plate", {"columns": 3, "rows": 1, "faces": [5]}),
        Example("drum", {}),
        Example("triangles", {"faces": [0, 1, 2]}),
    ),
    moves=edges_of_picked_faces,
    apply=apply,
)
