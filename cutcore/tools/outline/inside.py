"""Which faces lie inside projected curves, by how much of each does."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, cross, row_positions
from cutcore.geometry.camera import Camera
from cutcore.kernels import face_boxes, inside_polygon
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.triangles import triangulate
from cutcore.queries.visibility import look_at

# A triangle is looked at in the middle of each of the 4 ** n it falls into by the middles of their
# sides: so finely at most, and no more finely than takes so many looks in all.
FINEST = 5
MOST_SAMPLES = 20_000
MOST_LOOKS = 100_000_000


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
    weights = _middles(_fineness(len(tri.corners), sum(len(loop) for loop in loops)))
    corners = after.points[tri.corners]
    area = np.linalg.norm(
        cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1
    )
    places = np.einsum("sk,tkd->tsd", weights, corners).reshape(-1, 3)
    pixels = camera.project(places)
    inside = np.zeros(len(places), dtype=bool)
    for loop in loops:
        inside ^= inside_polygon(loop, pixels)
    owner = np.repeat(tri.face, len(weights))
    share = np.repeat(area, len(weights))
    within = np.bincount(owner, share * inside, len(near))
    chosen = within > 0.5 * np.bincount(owner, share, len(near))
    if not through and chosen.any():
        looked = np.flatnonzero(inside & chosen[owner])
        seen = np.zeros(len(places), dtype=bool)
        seen[looked] = _seen(mesh, cut, camera, places[looked], near, owner[looked])
        chosen &= np.bincount(owner, share * seen, len(near)) > 0.5 * within
    found[near[chosen]] = True
    return found


def _beside(mesh: Mesh, camera: Camera, loops: list[Floats]) -> Ints:
    """The faces (n,), ascending, in front of the eye, whose box as projected meets that of some
    loops of pixels."""
    low = np.min([loop.min(axis=0) for loop in loops], axis=0)
    high = np.max([loop.max(axis=0) for loop in loops], axis=0)
    pixels = camera.project(mesh.points)
    behind: Bools = ~np.logical_and.reduce(np.isfinite(pixels), axis=1)
    pixels[behind] = np.inf
    left, top, right, bottom = face_boxes(pixels, mesh.starts, mesh.corners)
    meets = (left <= high[0]) & (right >= low[0]) & (top <= high[1]) & (bottom >= low[1])
    if behind.any():
        meets &= ~np.logical_or.reduceat(behind[mesh.corners], mesh.starts[:-1])
    return np.flatnonzero(meets)


def _fineness(triangles: int, points: int) -> int:
    """How often triangles are halved to be looked at, with loops of so many points in all."""
    found = FINEST
    while found and (
        triangles * 4**found > MOST_SAMPLES or triangles * 4**found * points > MOST_LOOKS
    ):
        found -= 1
    return found


def _seen(
    mesh: Mesh, cut: Result, camera: Camera, places: Floats, faces: Ints, owner: Ints
) -> Bools:
    """Which places (n, 3) are seen, on the front of the faces of a cut mesh that they lie in: of some
    (k,), by position `owner (n,)`."""
    seen = look_at(mesh, camera, places, own=cut.origin.face[faces[owner]])
    normals = cut.mesh.face_normals(faces)[owner]
    ahead: Bools = np.einsum("ij,ij->i", normals, seen.sights) < 0
    return ahead & seen.clear & seen.before_eye


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
