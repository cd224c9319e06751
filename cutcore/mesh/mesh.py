"""The mesh: polygons of any size in flat arrays, never changed once made.

Layout
------
points   (V, 3) float64   where the vertices are
starts   (F+1,) int32     face f has the corners starts[f] .. starts[f+1]-1
corners  (C,)   int32     the vertex of each corner, counter-clockwise seen from outside
uv       (C, 2) float64   a texture place per corner (NaN where a corner has none), or None
material (F,)   int32     index into `materials`, -1 for none
patch    (F,)   int32     index into `patches`, -1 for none
hard     (H, 2) int32     hard edges as vertex pairs, lower vertex first, sorted
strength (H,) float64     how sharp each of them is: 1, or less for a crease; None where all are 1

Corner c lies between the edge that comes in and the edge c that goes out to the next corner, so an
edge of a face and the corner it starts from share a number. Everything else (edges, triangles) is
derived on demand and kept; since the arrays are read-only nothing ever has to be thrown away.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, TypeVar

import numpy as np

from cutcore.errors import MeshError
from cutcore.geometry.arrays import (
    INDEX,
    Bools,
    Floats,
    Ints,
    cross,
    frozen,
    owner_of,
    row_positions,
    sealed,
)
from cutcore.mesh.edge_data import EdgeData
from cutcore.mesh.edge_table import EdgeTable
from cutcore.mesh.triangles import Triangles, triangulate
from cutcore.notes import face as face_element
from cutcore.notes import vertex as vertex_element
from cutcore.params import LARGEST

_Held = TypeVar("_Held")


@dataclass(frozen=True, eq=False)
class Mesh:
    points: Floats
    starts: Ints
    corners: Ints
    uv: Floats | None = None
    material: Ints = field(default_factory=lambda: np.zeros(0, INDEX))
    patch: Ints = field(default_factory=lambda: np.zeros(0, INDEX))
    materials: tuple[str, ...] = ()
    patches: tuple[str, ...] = ()
    hard: Ints = field(default_factory=lambda: np.zeros((0, 2), INDEX))
    strength: Floats | None = None

    def __post_init__(self) -> None:
        faces = len(self.starts) - 1
        put = object.__setattr__
        put(self, "points", frozen(self.points, np.float64))
        put(self, "starts", frozen(self.starts, INDEX))
        put(self, "corners", frozen(self.corners, INDEX))
        if self.uv is not None:
            put(self, "uv", frozen(self.uv, np.float64))
        for name in ("material", "patch"):
            given = getattr(self, name)
            put(self, name, frozen(given if len(given) == faces else np.full(faces, -1), INDEX))
        put(self, "hard", frozen(np.reshape(self.hard, (-1, 2)), INDEX))
        if self.strength is not None:
            # Of other hard edges nothing is known.
            fits = len(self.strength) == len(self.hard)
            put(self, "strength", frozen(self.strength, np.float64) if fits else None)

    @staticmethod
    def of(points: Any, faces: Any, **attributes: Any) -> Mesh:
        """A checked mesh from points (V, 3) and a sequence of corner lists.

        Raises MeshError, naming the place, if the arrays are no mesh.
        """
        sizes = np.array([len(f) for f in faces], dtype=np.int64)
        starts = np.concatenate([[0], np.cumsum(sizes)])
        corners = (
            np.concatenate([np.asarray(f, dtype=np.int64) for f in faces])
            if len(faces)
            else np.zeros(0, np.int64)
        )
        mesh = Mesh(
            np.reshape(np.asarray(points, dtype=np.float64), (-1, 3)), starts, corners, **attributes
        )
        mesh.check()
        return mesh

    def check(self) -> None:
        """Raise MeshError unless every index, size and number is one the engine can work on."""
        if self.face_count == 0:
            raise MeshError("there is no face")
        bad = np.flatnonzero(~np.isfinite(self.points).all(axis=1))
        if len(bad):
            raise MeshError(
                "a vertex has a coordinate that is no number", elements=(vertex_element(bad[0]),)
            )
        sizes = np.diff(self.starts)
        if (sizes < 3).any():
            raise MeshError(
                "a face needs three corners", elements=(face_element(int(np.argmax(sizes < 3))),)
            )
        outside = (self.corners < 0) | (self.corners >= self.vertex_count)
        if outside.any():
            at = int(self.face_of_corner[int(np.argmax(outside))])
            raise MeshError("a face names a vertex that is not there", elements=(face_element(at),))
        if not self.diagonal <= LARGEST:
            raise MeshError("the part is too large for its coordinates to be told apart")
        pair = self.face_of_corner * np.int64(self.vertex_count) + self.corners
        pair = np.sort(pair)
        repeated = pair[1:] == pair[:-1]
        if repeated.any():
            at = int(pair[int(np.argmax(repeated))] // self.vertex_count)
            raise MeshError("a face names a vertex twice", elements=(face_element(at),))
        if self.uv is not None and self.uv.shape != (len(self.corners), 2):
            raise MeshError("texture places must be given for every corner")

    @property
    def vertex_count(self) -> int:
        return len(self.points)

    @property
    def face_count(self) -> int:
        return len(self.starts) - 1

    @cached_property
    def sizes(self) -> Ints:
        """How many corners each face has (F,)."""
        return np.diff(self.starts)

    @cached_property
    def face_of_corner(self) -> Ints:
        """The face of each corner (C,)."""
        return owner_of(self.starts)

    @cached_property
    def box(self) -> Floats:
        """Lowest and highest coordinates (2, 3) of the vertices that faces use."""
        if len(self.corners) == 0:
            return np.zeros((2, 3))
        return box_of(self.points if self.used.all() else self.points[self.used])

    @cached_property
    def used(self) -> Bools:
        """Which vertices (V,) faces use."""
        mask = np.zeros(self.vertex_count, dtype=bool)
        mask[self.corners] = True
        return mask

    @cached_property
    def diagonal(self) -> float:
        with np.errstate(over="ignore", invalid="ignore"):
            return float(np.linalg.norm(self.box[1] - self.box[0]))

    @cached_property
    def edges(self) -> EdgeTable:
        """The edges and what lies on either side of them."""
        return EdgeTable.build(self.starts, self.corners, self.vertex_count)

    @property
    def edge_data(self) -> EdgeData:
        """What the edges carry."""
        every = np.ones(len(self.hard)) if self.strength is None else self.strength
        return EdgeData(self.hard, every)

    @cached_property
    def triangles(self) -> Triangles:
        """The faces as triangles, for drawing and for rays."""
        return triangulate(self.points, self.starts, self.corners)

    def held(self, name: str, make: Callable[[Mesh], _Held]) -> _Held:
        """What other modules derive from this mesh under a name of theirs: made on first use, given
        back with the mesh.

        It must not refer to the mesh itself: a circle would wait for the collector of circles.
        """
        if name not in self.__dict__:
            with self.__dict__.setdefault("_making", threading.RLock()):
                if name not in self.__dict__:
                    self.__dict__[name] = make(self)
        found: _Held = self.__dict__[name]
        return found

    def rebuilt(
        self,
        points: Floats,
        starts: Ints,
        corners: Ints,
        *,
        edge_data: EdgeData,
        faces_from: Ints | None = None,
        further_from: Ints | None = None,
        corners_from: Ints | None = None,
        uv: Floats | None = None,
    ) -> Mesh:
        """A mesh made of this one, with what its faces, corners and edges carry; of the edges it is
        said which they are now.

        `faces_from (F',)` says which face of this mesh each is made of, -1 for none; without it
        they are the same faces. `further_from` are faces that come after these. `corners_from
        (C',)` says so of corners, which else are the same; texture places that are no other
        corner's are given whole as `uv (C', 2)`."""
        if uv is None and self.uv is not None:
            uv = self.uv if corners_from is None else _carried(self.uv, corners_from)
        carried = {}
        for name in ("material", "patch"):
            own = getattr(self, name)
            values = own if faces_from is None else _carried(own, faces_from)
            carried[name] = (
                values
                if further_from is None
                else sealed(np.concatenate([values, _carried(own, further_from)]))
            )
        return Mesh(
            points,
            starts,
            corners,
            uv,
            materials=self.materials,
            patches=self.patches,
            hard=edge_data.ends,
            strength=edge_data.strength if (edge_data.strength < 1.0).any() else None,
            **carried,
        )

    def carrying(self, edge_data: EdgeData) -> Mesh:
        """This mesh where its edges carry something else."""
        made = self.rebuilt(self.points, self.starts, self.corners, edge_data=edge_data)
        return made.with_edges(self.edges)

    def face(self, index: int) -> Ints:
        """The vertices (n,) of one face, in order."""
        return self.corners[self.starts[index] : self.starts[index + 1]]

    def with_edges(self, edges: EdgeTable) -> Mesh:
        """This mesh with an edge table that is already known to belong to it."""
        self.__dict__["edges"] = edges
        return self

    def face_normals(self, faces: Ints | None = None) -> Floats:
        """Area-weighted normals (n, 3) of some or all faces: half the sum of cross products of
        successive corners (Newell), so the length is the face's area if it is flat."""
        rows = np.arange(self.face_count) if faces is None else np.asarray(faces)
        at, starts = row_positions(self.starts, rows)
        return newell(self.points[self.corners[at]], starts)


def _carried(values: Any, source: Ints) -> Any:
    """The values at their sources; where there is none (-1), -1 or for places NaN."""
    found = values[source]
    missing = source < 0
    if missing.any():
        found[missing] = np.nan if values.dtype.kind == "f" else -1
    return found


def box_of(places: Floats) -> Floats:
    """Lowest and highest coordinates (2, 3) of places (n, 3), at least one."""
    # Column by column: over rows of three NumPy reduces slowly.
    return np.array(
        [[places[:, k].min() for k in range(3)], [places[:, k].max() for k in range(3)]]
    )


def newell(places: Floats, starts: Ints) -> Floats:
    """Area-weighted normals (n, 3) of loops given as places (C, 3) in ragged rows.

    Worked out about each loop's first corner, so that a small face far from the origin keeps its
    digits."""
    if len(starts) == 1:
        return np.zeros((0, 3))
    sizes = np.diff(starts)
    local = places - np.repeat(places[starts[:-1]], sizes, axis=0)
    following = np.empty_like(local)
    following[:-1] = local[1:]
    following[starts[1:] - 1] = 0.0
    return 0.5 * np.add.reduceat(cross(local, following), starts[:-1], axis=0)
