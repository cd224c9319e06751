"""Edge rings: from one edge over quads to the opposite edge, both ways, until something ends them.

Across a face with an even number of sides there is an opposite edge too: a ring goes on over those
that it is told to go through."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Ints
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Element, Note
from cutcore.notes import edge as edge_element
from cutcore.notes import face as face_element


@dataclass(frozen=True, eq=False)
class EdgeRing:
    """The edges of a ring in order, beginning anywhere.

    edges   (n,)   edges; none twice
    first   (n,)   the vertex of each that lies on the same side as the first vertex named
    faces   (m,)   the face between each edge and the next: m = n if closed, else n - 1
    closed         the last face leads back to the first edge
    swapped        it leads back with the sides exchanged, as on a one-sided strip
    stops          why the ring ends, at its beginning and its end; none if closed
    """

    edges: Ints
    first: Ints
    faces: Ints
    closed: bool
    swapped: bool
    stops: tuple[Note, ...]


def edge_ring(
    mesh: Mesh,
    edge: int,
    first: int,
    limit: Bools | None,
    *,
    through: Collection[int] = (),
    along: Collection[int] | None = None,
) -> EdgeRing:
    """The ring through an edge, whose vertex `first` names the side shares count from.

    `through` are faces of an even number of sides that it goes on over; with `along` it keeps to
    those edges. Raises StepError if no quad lies beside the edge."""
    walker = _Walker(mesh, limit, frozenset(through), None if along is None else frozenset(along))
    beside = mesh.edges.faces_at(edge)
    if len(beside) > 2:
        raise StepError(
            "more than two faces meet at this edge",
            where="edge",
            elements=(edge_element(mesh.edges.ends[edge]),),
        )
    forward = walker.walk(edge, first, beside[0])
    if forward.closed:
        return EdgeRing(*forward.arrays(), True, forward.swapped, ())
    if len(beside) == 2:
        backward = walker.walk(edge, first, beside[1])
    else:
        backward = _Walk(
            [edge],
            [first],
            [],
            False,
            False,
            Note("loop-border", "It ends at the boundary of the part.", (_edge(mesh, edge),)),
        )
    if not forward.faces and not backward.faces:
        elements = forward.stop.elements if forward.stop else ()
        raise StepError(
            f"there is no quad beside this edge: {_lower(forward.stop)}",
            where="edge",
            elements=elements,
        )
    both = _Walk(
        backward.edges[:0:-1] + forward.edges,
        backward.first[:0:-1] + forward.first,
        backward.faces[::-1] + forward.faces,
        False,
        False,
        None,
    )
    return EdgeRing(
        *both.arrays(), False, False, tuple(walk.stop for walk in (backward, forward) if walk.stop)
    )


@dataclass
class _Walk:
    edges: list[int]
    first: list[int]
    faces: list[int]
    closed: bool
    swapped: bool
    stop: Note | None

    def arrays(self) -> tuple[Ints, Ints, Ints]:
        return (
            np.array(self.edges, np.int64),
            np.array(self.first, np.int64),
            np.array(self.faces, np.int64),
        )


class _Walker:
    def __init__(
        self, mesh: Mesh, limit: Bools | None, through: frozenset[int], along: frozenset[int] | None
    ) -> None:
        self._mesh = mesh
        self._limit = limit
        self._through = through
        self._along = along
        # Plain views: one number at a time is what a walk needs, and they give it fastest.
        self._starts, self._corners = mesh.starts.data, mesh.corners.data
        self._of_corner = mesh.edges.of_corner.data
        self._faces = mesh.edges.faces.data
        self._crowded = mesh.edges.crowded

    def walk(self, start: int, first: int, face: int) -> _Walk:
        """From an edge across one of its faces, and on."""
        walk = _Walk([start], [first], [], False, False, None)
        edge, side = start, first
        while True:
            at = self._starts[face]
            size = self._starts[face + 1] - at
            walk.stop = self._hindrance(face, size)
            if walk.stop is not None:
                return walk
            k = 0
            while self._of_corner[at + k] != edge:
                k += 1
            # The edge k lies opposite the edge k + half: its corner k faces the corner after that,
            # corner k + 1 that itself.
            opposite = (k + size // 2) % size
            beyond = self._of_corner[at + opposite]
            if self._along is not None and beyond not in self._along:
                walk.stop = Note(
                    "loop-path-end",
                    "It ends where the picked stretch ends.",
                    (_edge(self._mesh, edge),),
                )
                return walk
            side = (
                self._corners[at + (opposite + 1) % size]
                if self._corners[at + k] == side
                else self._corners[at + opposite]
            )
            edge = beyond
            walk.faces.append(face)
            if edge == start:
                walk.closed, walk.swapped = True, side != first
                return walk
            walk.edges.append(edge)
            walk.first.append(side)
            if edge in self._crowded:
                words = "It ends where more than two faces meet at an edge."
                walk.stop = Note("loop-crowded-edge", words, (_edge(self._mesh, edge),))
                return walk
            a, b = self._faces[edge, 0], self._faces[edge, 1]
            if b < 0:
                walk.stop = Note(
                    "loop-border",
                    "It ends at the boundary of the part.",
                    (_edge(self._mesh, edge),),
                )
                return walk
            face = b if a == face else a

    def _hindrance(self, face: int, size: int) -> Note | None:
        if size != 4 and not (size % 2 == 0 and face in self._through):
            kind = "a triangle" if size == 3 else f"an n-gon of {size} sides"
            code = "loop-triangle" if size == 3 else "loop-ngon"
            return Note(code, f"It ends at face {face}, {kind}.", (face_element(face),))
        if self._limit is not None and not self._limit[face]:
            return Note(
                "loop-limit",
                f"It ends at face {face}, which is outside the limit.",
                (face_element(face),),
            )
        return None


def _edge(mesh: Mesh, edge: int) -> Element:
    return edge_element(mesh.edges.ends[edge])


def _lower(note: Note | None) -> str:
    return (
        "it lies on the boundary"
        if note is None
        else note.words[0].lower() + note.words[1:].rstrip(".")
    )
