"""What can be wrong with a mesh, as a list of notes; an empty list means sound."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from cutcore.geometry.arrays import Bools, Ints, row_positions
from cutcore.geometry.polygons import distance_to_segments
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, edge, face, vertex


def problems(mesh: Mesh, *, weld: float | None = None) -> list[Note]:
    """Degenerate faces, wrong tables, loose direction, T-junctions: everything a cut must not bring
    about."""
    tolerance = weld_of(mesh) if weld is None else weld
    found: list[Note] = []
    zero = zero_area_faces(mesh, weld=tolerance)
    if len(zero):
        found.append(
            Note("zero-area", f"{len(zero)} faces have no area", tuple(face(f) for f in zero))
        )
    pairs = np.sort(mesh.face_of_corner * np.int64(mesh.vertex_count) + mesh.corners)
    twice = np.flatnonzero(pairs[1:] == pairs[:-1])
    if len(twice):
        found.append(
            Note(
                "repeated-vertex",
                "a face names a vertex twice",
                (face(int(pairs[twice[0]] // mesh.vertex_count)),),
            )
        )
    clash = clashing_edges(mesh)
    if len(clash):
        found.append(
            Note(
                "clashing-faces",
                "two faces run the same way along an edge",
                tuple(edge(mesh.edges.ends[e]) for e in clash),
            )
        )
    stray = t_junctions(mesh, weld=tolerance)
    if len(stray):
        found.append(
            Note("t-junction", "a vertex lies inside an edge", tuple(vertex(v) for v in stray))
        )
    return found


def zero_area_faces(mesh: Mesh, *, weld: float) -> Ints:
    """Faces no wider than the tolerance: twice their area is at most their longest edge times the
    tolerance."""
    area = np.linalg.norm(mesh.face_normals(), axis=1)
    length = np.linalg.norm(np.diff(mesh.points[mesh.edges.ends], axis=1)[:, 0], axis=1)
    longest = np.maximum.reduceat(length[mesh.edges.of_corner], mesh.starts[:-1])
    return np.flatnonzero(2 * area <= longest * weld)


def flat_among(mesh: Mesh, faces: Ints, *, weld: float) -> Bools:
    """Which of some faces (n,) have no area, as `zero_area_faces` has it."""
    at, starts = row_positions(mesh.starts, faces)
    flat = np.zeros(len(faces), dtype=bool)
    if len(faces):
        alone = Mesh(mesh.points, starts, mesh.corners[at])
        flat[zero_area_faces(alone, weld=weld)] = True
    return flat


def clashing_edges(mesh: Mesh) -> Ints:
    """Edges with exactly two faces that run along them in the same direction."""
    forward = mesh.edges.ends[mesh.edges.of_corner, 0] == mesh.corners
    count = np.bincount(
        mesh.edges.of_corner, weights=np.where(forward, 1, -1), minlength=len(mesh.edges)
    )
    two = ~mesh.edges.border
    two[list(mesh.edges.crowded)] = False
    return np.flatnonzero(two & (count != 0))


def inside_borders(mesh: Mesh, vertices: Ints, *, weld: float) -> Ints:
    """Which of some border vertices (n,) lie inside a border edge they don't belong to, within the
    tolerance."""
    ends = mesh.edges.ends[np.flatnonzero(mesh.edges.border)]
    a, b = mesh.points[ends[:, 0]], mesh.points[ends[:, 1]]
    found = []
    for index in vertices.tolist():
        place = mesh.points[index]
        near = distance_to_segments(place[None], a, b)[0] <= weld
        for of in (a, b):
            near &= np.linalg.norm(of - place, axis=1) > weld
        if near.any():
            found.append(index)
    return np.array(found, dtype=np.int64)


def t_junctions(mesh: Mesh, *, weld: float) -> Ints:
    """Border vertices that lie inside a border edge they don't belong to, within the tolerance."""
    border = np.flatnonzero(mesh.edges.border)
    if len(border) == 0:
        return np.zeros(0, dtype=np.int64)
    ends = mesh.edges.ends[border]
    candidates = np.unique(ends)
    a, b = mesh.points[ends[:, 0]], mesh.points[ends[:, 1]]
    tree = cKDTree(mesh.points[candidates])
    reach = 0.5 * np.linalg.norm(b - a, axis=1) + weld
    found: set[int] = set()
    for k, near in enumerate(tree.query_ball_point(0.5 * (a + b), reach)):
        others = candidates[[n for n in near if candidates[n] not in ends[k]]]
        if len(others):
            places = mesh.points[others]
            close = distance_to_segments(places, a[k][None], b[k][None])[:, 0] <= weld
            apart = (
                np.minimum(
                    np.linalg.norm(places - a[k], axis=1), np.linalg.norm(places - b[k], axis=1)
                )
                > weld
            )
            found.update(int(v) for v in others[close & apart])
    return np.array(sorted(found), dtype=np.int64)
