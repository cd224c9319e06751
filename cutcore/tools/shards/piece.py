"""A piece of a part, and how a plane halves it."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from cutcore.geometry.arrays import Bools, owner_of, row_positions
from cutcore.geometry.plane import Plane
from cutcore.geometry.vectors import units
from cutcore.imprint import imprinted
from cutcore.mesh.mesh import Mesh, newell
from cutcore.mesh.result import Origin, Result
from cutcore.mesh.submesh import then, without_faces
from cutcore.notes import Note
from cutcore.queries.section import section
from cutcore.reshape.dividing.triangulate import in_triangles
from cutcore.tools.slice.caps import capped
from cutcore.tools.slice.sides import Sides, opened_edges
from cutcore.trace.section_trace import trace_of_section

# A face whose corners lie further off its plane than this share of the part's diagonal is bent.
BENT = 1e-11


@dataclass(frozen=True, eq=False)
class Piece:
    """A piece: its mesh, and where its faces and vertices come from in the part. Faces that closed
    an opening come from no face."""

    mesh: Mesh
    origin: Origin
    notes: tuple[Note, ...] = ()

    def part_of(self, faces: Bools) -> Piece:
        """The piece that some of its faces (F,) make."""
        if faces.all():
            return self
        mesh, origin = without_faces(self.mesh, ~faces)
        return replace(self, mesh=mesh, origin=then(self.origin, origin))


@dataclass(frozen=True, eq=False)
class Halving:
    """How pieces are halved: whether what is opened is closed, and the tolerance, one for all."""

    cap: bool
    weld: float

    def both(self, piece: Piece, plane: Plane) -> list[Piece]:
        """What lies below a plane, and what lies above it, where there is something."""
        height = plane.heights(piece.mesh.points)
        if height.max() <= self.weld or height.min() >= -self.weld:
            return [piece]
        halves = self._halves(piece, plane, above=True)
        return [half for half in halves if half is not None]

    def below(self, piece: Piece, plane: Plane) -> Piece | None:
        """What lies below a plane that goes through a piece, on the side its normal points away
        from."""
        return self._halves(piece, plane, above=False)[0]

    def _halves(
        self, piece: Piece, plane: Plane, *, above: bool
    ) -> tuple[Piece | None, Piece | None]:
        mesh = piece.mesh
        found = section(mesh, plane, weld=self.weld)
        cut = imprinted(mesh, trace_of_section(mesh, found, None), weld=self.weld)
        sides = Sides.by_section(found, cut, plane, self.weld)
        # A face in the plane closes what lies behind it.
        face = sides.face
        flat = np.flatnonzero(face == 0)
        if len(flat):
            face = face.copy()
            face[flat] = np.where(cut.mesh.face_normals(flat) @ plane.normal > 0, -1, 1)
        return (
            self._half(piece, cut, sides, face < 0, plane),
            self._half(piece, cut, sides, face > 0, Plane(plane.point, -plane.normal))
            if above
            else None,
        )

    def _half(
        self, piece: Piece, cut: Result, sides: Sides, faces: Bools, plane: Plane
    ) -> Piece | None:
        """The faces (F,) of a cut piece on one side, closed by faces along the plane's normal."""
        if not faces.any():
            return None
        left, origin = without_faces(cut.mesh, ~faces)
        # A plane that only runs along edges has changed nothing before that.
        whole = then(
            piece.origin, then(cut.origin, origin) if cut.mesh is not piece.mesh else origin
        )
        if not self.cap:
            return Piece(left, whole, piece.notes)
        opened = opened_edges(cut.mesh, left, origin.vertex)
        flat = opened[(sides.vertex[origin.vertex][opened] == 0).all(axis=1)]
        closed, added, notes = capped(left, flat, plane, weld=self.weld)
        grown = replace(whole, face=np.concatenate([whole.face, np.full(added, -1)]))
        return Piece(closed, grown, (*piece.notes, *notes))


def flat_where_cut(piece: Piece, cut: Bools) -> Piece:
    """The piece with those of some faces (F,) that are bent in triangles, as they are drawn: what is
    flat can be cut without losing of its volume."""
    mesh = piece.mesh
    faces = np.flatnonzero(cut & (mesh.sizes > 3))
    if len(faces) == 0:
        return piece
    at, starts = row_positions(mesh.starts, faces)
    places = mesh.points[mesh.corners[at]]
    owner = owner_of(starts)
    normal = units(newell(places, starts))
    off = np.einsum("ij,ij->i", places - places[starts[:-1]][owner], normal[owner])
    bent = np.maximum.reduceat(np.abs(off), starts[:-1]) > BENT * mesh.diagonal
    chosen = np.zeros(mesh.face_count, dtype=bool)
    chosen[faces[bent]] = True
    # What crosses itself stays as it is: it has no triangles.
    chosen &= np.bincount(mesh.triangles.face, minlength=mesh.face_count) == mesh.sizes - 2
    if not chosen.any():
        return piece
    made = in_triangles(mesh, chosen)
    return replace(piece, mesh=made.mesh, origin=then(piece.origin, made.origin))
