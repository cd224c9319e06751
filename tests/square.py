"""Faces seen square to themselves, and to the face they come of: what must hold of them after a step,
worked out apart from the engine."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from cutcore import Mesh, Result

# Sides that cross by less than this share of the square of the way round only touch.
TOUCHING = 1e-12


def seen_along(places: np.ndarray, normal: np.ndarray) -> np.ndarray:
    """Places (n, 3) as they lie in a plane square to a normal (n, 2)."""
    normal = normal / np.linalg.norm(normal)
    across = np.cross(normal, np.eye(3)[int(np.argmin(np.abs(normal)))])
    across /= np.linalg.norm(across)
    local = places - places[0]
    return np.stack([local @ across, local @ np.cross(normal, across)], axis=1)


def crosses_itself(flat: np.ndarray) -> bool:
    """Whether two sides of a polygon (n, 2) cross in the inside of both."""
    count = len(flat)
    if count < 4:
        return False
    i, j = np.triu_indices(count, 2)
    apart = (i > 0) | (j < count - 1)
    i, j = i[apart], j[apart]
    ahead = np.roll(flat, -1, axis=0)
    slack = TOUCHING * float(np.linalg.norm(ahead - flat, axis=1).sum()) ** 2

    def parted(a: np.ndarray, b: np.ndarray, c: np.ndarray, d: np.ndarray) -> np.ndarray:
        way = b - a
        one = way[:, 0] * (c - a)[:, 1] - way[:, 1] * (c - a)[:, 0]
        other = way[:, 0] * (d - a)[:, 1] - way[:, 1] * (d - a)[:, 0]
        return (np.minimum(one, other) < -slack) & (np.maximum(one, other) > slack)

    return bool(
        (
            parted(flat[i], ahead[i], flat[j], ahead[j])
            & parted(flat[j], ahead[j], flat[i], ahead[i])
        ).any()
    )


def area_vector(places: np.ndarray) -> np.ndarray:
    local = places - places[0]
    return 0.5 * np.cross(local, np.roll(local, -1, axis=0)).sum(axis=0)


def is_narrow(places: np.ndarray, share: float = 1e-6) -> bool:
    """Whether a polygon has hardly any area: as a share of the square of the way round it."""
    around = float(np.linalg.norm(np.roll(places, -1, axis=0) - places, axis=1).sum())
    return float(np.linalg.norm(area_vector(places))) <= share * around**2


def is_crossed(mesh: Mesh, face: int) -> bool:
    """Whether a face crosses itself, seen square to itself; one without area has no such side."""
    places = mesh.points[mesh.face(face)]
    if is_narrow(places, 1e-13):
        return False
    return crosses_itself(seen_along(places, area_vector(places)))


def area_vectors(mesh: Mesh, faces: np.ndarray) -> np.ndarray:
    """As `area_vector`, of many faces (n,): (n, 3)."""
    owner, places, ahead, _ = _round(mesh, faces)
    first = places[np.searchsorted(owner, owner)]
    x, y, z = (places - first).T
    u, v, w = (ahead - first).T
    turned = (y * w - z * v, z * u - x * w, x * v - y * u)
    return 0.5 * np.stack([np.bincount(owner, one, len(faces)) for one in turned], axis=1)


def _round(mesh: Mesh, faces: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """For the corners of faces (n,): in which of these each is, and the places (c, 3) of it, of the
    next and of the one before."""
    sizes = mesh.sizes[faces].astype(np.int64)
    owner = np.repeat(np.arange(len(faces)), sizes)
    step = np.arange(len(owner)) - (np.cumsum(sizes) - sizes)[owner]
    row = mesh.starts[faces][owner]
    here, ahead, behind = (
        mesh.points[mesh.corners[row + (step + by) % sizes[owner]]] for by in (0, 1, -1)
    )
    return owner, here, ahead, behind


def surely_simple(mesh: Mesh, faces: np.ndarray, normals: np.ndarray) -> np.ndarray:
    """Which faces (n,) turn the same way at all corners, and once round, seen along their normals (n, 3):
    these cross nothing. Of others it takes longer to tell."""
    owner, places, after, before = _round(mesh, faces)
    ahead, behind = after - places, places - before
    with np.errstate(invalid="ignore", divide="ignore"):
        square = (normals / np.linalg.norm(normals, axis=1)[:, None])[owner]
    x, y, z = behind.T
    u, v, w = ahead.T
    turn = (y * w - z * v) * square[:, 0] + (z * u - x * w) * square[:, 1]
    turn += (x * v - y * u) * square[:, 2]
    on = (behind * ahead).sum(axis=1)
    on -= (behind * square).sum(axis=1) * (ahead * square).sum(axis=1)
    slack = 1e-9 * np.linalg.norm(behind, axis=1) * np.linalg.norm(ahead, axis=1)
    right = np.bincount(owner, ~(turn > slack), len(faces))
    round_ = np.bincount(owner, np.arctan2(turn, on), len(faces))
    return (right == 0) & (np.abs(round_ - 2 * np.pi) < 1e-6)


def changed_faces(result: Result) -> np.ndarray:
    changed = np.ones(result.mesh.face_count, dtype=bool)
    changed[result.origin.kept[result.origin.kept >= 0]] = False
    return np.flatnonzero(changed)


def crossed_anew(before: Mesh, result: Result, *, pieces: bool = False) -> Iterator[int]:
    """The faces that cross themselves and came of none that did, or that had hardly any area and so
    no side to be seen from. Those that are `pieces` of others may be simple only as seen square to
    these: slivers of bent ones."""
    changed = changed_faces(result)
    simple = surely_simple(result.mesh, changed, area_vectors(result.mesh, changed))
    for face in changed[~simple].tolist():
        parent = int(result.origin.face[face])
        if not is_crossed(result.mesh, face):
            continue
        if parent >= 0:
            was = before.points[before.face(parent)]
            if is_narrow(was) or is_crossed(before, parent):
                continue
        if pieces and parent >= 0:
            normal = area_vector(before.points[before.face(parent)])
            if not crosses_itself(seen_along(result.mesh.points[result.mesh.face(face)], normal)):
                continue
        yield face


def assert_pieces_lie_within(before: Mesh, result: Result) -> None:
    """Seen square to the face it comes of, no piece is turned over or crosses itself: then all lie
    within it, since together they are as large. Faces that are ill themselves promise nothing."""
    whole: dict[int, tuple[np.ndarray, bool]] = {}
    changed = changed_faces(result)
    normals = area_vectors(before, np.maximum(result.origin.face[changed], 0))
    every = surely_simple(result.mesh, changed, normals)
    for face, simple in zip(changed.tolist(), every.tolist(), strict=True):
        parent = int(result.origin.face[face])
        if parent not in whole:
            places = before.points[before.face(parent)]
            whole[parent] = area_vector(places), is_narrow(places) or is_crossed(before, parent)
        normal, ill = whole[parent]
        if ill:
            continue
        places = result.mesh.points[result.mesh.face(face)]
        assert float(area_vector(places) @ normal) > 0, f"face {face} is turned over in {parent}"
        if not simple and crosses_itself(seen_along(places, normal)):
            raise AssertionError(f"face {face} crosses itself in {parent}")
