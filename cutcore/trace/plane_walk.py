"""Lines that begin at a place of the surface and run on straight, over the faces they meet."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, cross
from cutcore.geometry.plane import Plane
from cutcore.geometry.vectors import PARALLEL, units
from cutcore.kernels import walk_plane
from cutcore.mesh.mesh import Mesh
from cutcore.trace.merged import places_on_edges
from cutcore.trace.surface_points import SurfacePoint
from cutcore.trace.trace import ON_EDGE, ON_VERTEX, Trace

# The normals of so many faces are worked out at once, beforehand.
FEW = 20_000


@dataclass(frozen=True, eq=False)
class Straight:
    """A straight line from a surface point: the edges (n,) it meets, -1 on a vertex, the vertices
    (n,), -1 on an edge, the shares (n,) from the lower vertex, and the faces (n,) it reaches each
    through, -1 along an edge. It lies in a `plane`."""

    start: SurfacePoint
    plane: Plane
    edges: Ints
    vertices: Ints
    shares: Floats
    faces: Ints

    def shortened(self, most: int) -> Straight:
        """Its first so many spans."""
        return replace(
            self,
            edges=self.edges[:most],
            vertices=self.vertices[:most],
            shares=self.shares[:most],
            faces=self.faces[:most],
        )


def trace_of_straights(mesh: Mesh, straights: list[Straight], line: list[int]) -> Trace:
    """Straight lines, at least one, as lines of a trace with these numbers; the places they begin
    at come first."""
    count = len(straights)
    edges, shares, faces = (
        np.concatenate([getattr(one, row) for one in straights])
        for row in ("edges", "shares", "faces")
    )
    vertices = np.concatenate([one.vertices for one in straights])
    starts = [one.start for one in straights]
    on_edge = np.append([start.kind == ON_EDGE for start in starts], edges >= 0)
    element = np.append([start.element for start in starts], np.where(edges >= 0, edges, vertices))
    share = np.append([start.share for start in starts], shares)
    sizes = np.array([len(one.faces) for one in straights])
    after = count + np.arange(len(faces))
    before = after - 1
    begins = (np.cumsum(sizes) - sizes)[sizes > 0]
    before[begins] = np.flatnonzero(sizes > 0)
    return Trace.of(
        np.where(on_edge, ON_EDGE, ON_VERTEX),
        element,
        share,
        places_on_edges(mesh, element, on_edge, share),
        np.stack([before, after], axis=1),
        faces,
        line=np.repeat(np.array(line, dtype=np.int64), sizes),
    )


class Walker:
    """Walks straight lines over the faces that a limit (F,) allows."""

    def __init__(self, mesh: Mesh, limit: Bools | None, weld: float) -> None:
        self._mesh, self._weld = mesh, weld
        self.allowed = np.ones(mesh.face_count, dtype=bool) if limit is None else limit.copy()
        table = mesh.edges
        self._barred = table.border.copy()
        self._barred[list(table.crowded)] = True
        self._around = table.around_vertices
        faces = np.flatnonzero(self.allowed)
        self._known = faces if len(faces) <= FEW else faces[:0]
        self._normals = units(mesh.face_normals(self._known))

    def straight(self, start: SurfacePoint, face: int, direction: Floats) -> Straight:
        """The line from a place on an edge or vertex into a face, towards a direction in it.

        It lies in the plane through the place that holds the direction and the mean of the unit
        normals of the faces it meets; these are found first with the plane square to the first
        face. So it leaves the place just in the direction, and bends with the surface no more than
        a plane does."""
        normal = self._normals_of(np.array([face]))[0]
        first = self._walk(start, face, direction, normal)
        met = np.unique(first.faces[first.faces >= 0])
        mean = self._normals_of(met).mean(axis=0) if len(met) else normal
        if np.linalg.norm(cross(direction, mean)) <= PARALLEL or np.abs(mean - normal).max() == 0:
            return first
        return self._walk(start, face, direction, mean)

    def _normals_of(self, faces: Ints) -> Floats:
        """The unit normals (n, 3) of faces (n,)."""
        if len(self._known):
            return np.asarray(self._normals[np.searchsorted(self._known, faces)])
        return units(self._mesh.face_normals(faces))

    def _walk(self, start: SurfacePoint, face: int, direction: Floats, normal: Floats) -> Straight:
        mesh, table = self._mesh, self._mesh.edges
        starts, around = self._around
        plane = Plane.through(start.place, cross(direction, normal))
        found = walk_plane(
            mesh.points,
            mesh.starts,
            mesh.corners,
            table.of_corner,
            table.ends,
            table.faces,
            self._barred,
            starts,
            around,
            self.allowed,
            # Compiled loops take what can't be written to for another kind of array.
            np.array(plane.point),
            plane.normal,
            direction,
            start.element if start.kind == ON_EDGE else -1,
            start.element if start.kind == ON_VERTEX else -1,
            face,
            self._weld,
            mesh.face_count + 2,
        )
        return Straight(start, plane, *found)
