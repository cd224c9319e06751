"""Which faces lie inside projected curves, by how much of each does."""

from __future__ import annotations

import numpy as np
import shapely

from cutcore.geometry.arrays import Bools, Floats, Ints, row_positions
from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.triangles import triangulate
from cutcore.queries.visibility import look_at

# A triangle is looked at in the middle of each of the 4 ** n it falls into by the middles of their
# sides: small ones and those of many faces in fewer places.
FINELY, COARSELY = 3, 1
MANY_TRIANGLES = 500


def faces_inside(
    mesh: Mesh, cut: Result, camera: Camera, loops: list[Floats], *, through: bool
) -> Bools:
    """Which faces (F,) of a cut mesh lie inside loops of pixels; of nested ones, between them.

    Of a face that lies there in part, as where an outline is cut off, or is seen in part, the larger
    part decides. With `through` it need not be seen."""
    after = cut.mesh
    found = np.zeros(after.face_count, dtype=bool)
    near = _beside(after, camera, loops) if loops else np.zeros(0, np.int64)
    if len(near) == 0:
        return found
    at, starts = row_positions(after.starts, near)
    tri = triangulate(after.points, starts, after.corners[at])
    pixels = camera.project(after.points)[tri.corners]
    area, inside = _areas_inside(pixels, loops)
    count = len(near)
    chosen = np.bincount(tri.face, inside, count) > 0.5 * np.bincount(tri.face, area, count)
    if not through and chosen.any():
        looked = np.flatnonzero(chosen[tri.face] & (inside > 0))
        face = near[tri.face[looked]]
        seen = inside.copy()
        seen[looked] *= _seen(mesh, cut, camera, tri.corners[looked], face)
        in_sight = np.bincount(tri.face, seen, count)
        chosen &= in_sight > 0.5 * np.bincount(tri.face, inside, count)
    found[near[chosen]] = True
    return found


def _beside(mesh: Mesh, camera: Camera, loops: list[Floats]) -> Ints:
    """The faces (n,), ascending, in front of the eye, whose box as projected meets that of some
    loops of pixels."""
    low = np.min([loop.min(axis=0) for loop in loops], axis=0)
    high = np.max([loop.max(axis=0) for loop in loops], axis=0)
    pixels = camera.project(mesh.points)[mesh.corners]
    least = np.minimum.reduceat(pixels, mesh.starts[:-1])
    most = np.maximum.reduceat(pixels, mesh.starts[:-1])
    with np.errstate(invalid="ignore"):
        return np.flatnonzero(((least <= high) & (most >= low)).all(axis=1))


def _areas_inside(pixels: Floats, loops: list[Floats]) -> tuple[Floats, Floats]:
    """The areas (n,) of triangles of pixels (n, 3, 2), and how much of each lies inside loops."""
    triangles = shapely.polygons(pixels)
    area = shapely.area(triangles)
    region = shapely.Polygon()
    for loop in loops:
        region = region.symmetric_difference(shapely.make_valid(shapely.Polygon(loop)))
    shapely.prepare(region)
    inside = np.where(shapely.contains(region, triangles), area, 0.0)
    crossed = np.flatnonzero((inside == 0) & (area > 0) & shapely.intersects(region, triangles))
    inside[crossed] = shapely.area(shapely.intersection(region, triangles[crossed]))
    return area, inside


def _seen(mesh: Mesh, cut: Result, camera: Camera, corners: Ints, faces: Ints) -> Floats:
    """How much of triangles (n, 3) of some faces (n,) of a cut mesh is seen, as a share (n,)."""
    after = cut.mesh
    weights = _middles(FINELY if len(corners) < MANY_TRIANGLES else COARSELY)
    places = np.einsum("sk,tkd->tsd", weights, after.points[corners]).reshape(-1, 3)
    owner = np.repeat(faces, len(weights))
    seen = look_at(mesh, camera, places, own=cut.origin.face[owner])
    sights = seen.sights.reshape(-1, len(weights), 3)
    ahead = np.einsum("nd,nsd->ns", after.face_normals(faces), sights) < 0
    clear = (seen.clear & seen.before_eye).reshape(ahead.shape)
    return np.asarray((clear & ahead).mean(axis=1))


def _middles(halvings: int) -> Floats:
    """The middles of the triangles that one falls into, as barycentric coordinates (4 ** n, 3)."""
    found = np.eye(3)[None]
    for _ in range(halvings):
        a, b, c = found.transpose(1, 0, 2)
        ab, bc, ca = 0.5 * (a + b), 0.5 * (b + c), 0.5 * (c + a)
        found = np.concatenate(
            [np.stack(t, axis=1) for t in ((a, ab, ca), (ab, b, bc), (ca, bc, c), (ab, bc, ca))]
        )
    return np.asarray(found.mean(axis=1))
