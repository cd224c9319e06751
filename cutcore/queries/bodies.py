"""What a mesh is made of: shells of faces that hang together by edges, and bodies, which are shells
with the hollows inside them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, cross
from cutcore.geometry.components import components
from cutcore.geometry.polygons import inside_loop
from cutcore.geometry.vectors import unit
from cutcore.mesh.mesh import Mesh
from cutcore.queries.ray_caster import caster_of

# A way that runs along no edge or face that people make.
ODD_WAY = unit(np.array([0.5377, 0.6781, 0.5010]))


@dataclass(frozen=True, eq=False)
class Shells:
    """The shells of a mesh.

    of_face  (F,) which shell each face is in
    closed   (S,) whether a shell has no border and no edge with more than two faces
    """

    of_face: Ints
    closed: Bools


def shells_of(mesh: Mesh) -> Shells:
    """The shells of a mesh, numbered by their first faces."""
    table = mesh.edges
    links = table.faces[(table.faces >= 0).all(axis=1)].astype(np.int64)
    crowded = [(faces[0], other) for faces in table.crowded.values() for other in faces[1:]]
    pairs = np.concatenate([links, np.array(crowded, dtype=np.int64).reshape(-1, 2)])
    number, of_face = components(pairs, mesh.face_count)
    closed = np.ones(number, dtype=bool)
    loose = table.border.copy()
    loose[list(table.crowded)] = True
    closed[of_face[table.face_pairs(np.flatnonzero(loose))[1]]] = False
    return Shells(of_face, closed)


def shell_volumes(mesh: Mesh, shell: Ints, number: int, turned: Bools | None = None) -> Floats:
    """The volume (number,) each shell (F,) encloses: the sum of the tetrahedra between its faces,
    in triangles as they are drawn, and the middle of the mesh; of some faces `turned` round."""
    a, b, c = np.moveaxis(mesh.points[mesh.triangles.corners] - mesh.box.mean(axis=0), 1, 0)
    part = np.einsum("ij,ij->i", a, cross(b, c)) / 6
    face = mesh.triangles.face
    if turned is not None:
        part = np.where(turned[face], -part, part)
    return np.asarray(np.bincount(shell[face], part, minlength=number), dtype=np.float64)


def volume_of(mesh: Mesh) -> float:
    """The volume that a closed mesh encloses, as `shell_volumes` reckons it."""
    return float(shell_volumes(mesh, np.zeros(mesh.face_count, dtype=np.int64), 1)[0])


def is_closed(mesh: Mesh) -> bool:
    """Whether every edge of a mesh has exactly two faces."""
    return not mesh.edges.border.any() and not mesh.edges.crowded


def bodies_of(mesh: Mesh) -> Ints:
    """The body (F,) of each face, numbered by their first faces: a closed shell that looks inwards
    is a hollow, and belongs to the smallest shell round it."""
    shells = shells_of(mesh)
    if len(shells.closed) == 1:
        return shells.of_face
    volume = shell_volumes(mesh, shells.of_face, len(shells.closed))
    hollow = np.flatnonzero(shells.closed & (volume < 0))
    body = np.arange(len(shells.closed))
    for k in hollow.tolist():
        place = mesh.points[mesh.face(int(np.argmax(shells.of_face == k)))[0]]
        around = [
            other
            for other in np.flatnonzero(shells.closed & (volume > 0)).tolist()
            if _goes_round(mesh, shells.of_face == other, place)
        ]
        if around:
            body[k] = min(around, key=lambda other: float(volume[other]))
    of_face = body[shells.of_face]
    _, first, number = np.unique(of_face, return_index=True, return_inverse=True)
    order = np.empty(len(first), dtype=np.int64)
    order[np.argsort(first)] = np.arange(len(first))
    return order[number.ravel()]


def _goes_round(mesh: Mesh, faces: Bools, place: Floats) -> bool:
    """Whether a place lies inside the shell that some faces (F,) make: a line from it crosses the
    shell an odd number of times."""
    triangles = mesh.triangles.corners[faces[mesh.triangles.face]]
    helper = np.eye(3)[int(np.argmin(np.abs(ODD_WAY)))]
    right = unit(cross(helper, ODD_WAY))
    up = cross(ODD_WAY, right)
    local = mesh.points[triangles] - place
    flat = np.stack([local @ right, local @ up], axis=2)
    low, high = flat.min(axis=1), flat.max(axis=1)
    near = np.flatnonzero(((low <= 0) & (high >= 0)).all(axis=1))
    crossed = 0
    for k in near.tolist():
        if bool(inside_loop(flat[k], np.zeros((1, 2)))[0]):
            normal = cross(local[k, 1] - local[k, 0], local[k, 2] - local[k, 0])
            way = float(normal @ ODD_WAY)
            crossed += way != 0 and float(local[k, 0] @ normal) / way > 0
    return crossed % 2 == 1


def inside(mesh: Mesh, places: Floats) -> Bools:
    """Which places (n, 3) lie inside a closed mesh: a ray from them first meets a face from its
    back."""
    hits = caster_of(mesh).first(places, np.broadcast_to(ODD_WAY, places.shape))
    found = np.zeros(len(places), dtype=bool)
    hit = np.flatnonzero(hits.face >= 0)
    found[hit] = mesh.face_normals(hits.face[hit]) @ ODD_WAY > 0
    return found
