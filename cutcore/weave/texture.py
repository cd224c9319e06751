"""Texture places of what was woven: those of the old surface at each place."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, cross, row_positions
from cutcore.geometry.polygons import distance_to_segments
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.weave.even import Evened, faces_of
from cutcore.weave.ground import Ground
from cutcore.weave.rows import Line, Rows


def textured(ground: Ground, rows: Rows, line: Line, even: Evened) -> tuple[Floats, Floats] | None:
    """Texture places of the ground's corners (c, 2) and of the quads' (q * 4, 2); None for a part
    that has none. Across a seam each side has its own."""
    mesh = ground.mesh
    if mesh.uv is None:
        return None
    own = mesh.uv[row_positions(mesh.starts, ground.faces)[0]]
    _, corners = faces_of(ground, rows)
    found = np.concatenate([own, np.full((rows.quads.size, 2), np.nan)])
    there = np.flatnonzero(even.triangle[corners] >= 0)
    vertices = corners[there]
    cells = ground.triangles[0][even.triangle[vertices]]
    weights = _weights(ground.points[ground.corners[cells]], even.places[vertices])
    found[there] = np.einsum("ij,ijk->ik", weights, own[cells])
    charts = np.concatenate(
        [ground.charts[ground.face_of_corner], np.repeat(ground.charts[rows.parents], 4)]
    )
    for vertex, edge in _on_locked(ground, rows, line, even):
        for corner in np.flatnonzero(corners == vertex).tolist():
            found[corner] = _along(ground, own, edge, int(charts[corner]), even.places[vertex])
    count = len(own)
    return found[:count], found[count:]


def _weights(cells: Floats, places: Floats) -> Floats:
    """Barycentric weights (n, 3) of places (n, 3) in triangles (n, 3, 3) they lie in."""
    a, b, c = np.moveaxis(cells, 1, 0)
    normal = cross(b - a, c - a)
    size = np.maximum(np.einsum("ij,ij->i", normal, normal), NOT_ZERO)
    one = np.einsum("ij,ij->i", cross(c - b, places - b), normal) / size
    other = np.einsum("ij,ij->i", cross(a - c, places - c), normal) / size
    return np.stack([one, other, 1.0 - one - other], axis=1)


def _on_locked(ground: Ground, rows: Rows, line: Line, even: Evened) -> list[tuple[int, int]]:
    """The vertices that lie on locked edges of the old ground elsewhere than they did, each with
    the edge it lies on."""
    was = {
        int(rows.copies[s]): int(line.vertex[rows.of_copy[s]])
        for s in np.flatnonzero(rows.locked >= 0)
    }
    locked = np.flatnonzero(ground.locks[line.vertex] > 0)
    was.update({int(rows.line[k]): int(line.vertex[k]) for k in locked})
    moved = np.flatnonzero((ground.locks > 0) & (even.triangle[: len(ground.vertices)] >= 0))
    was.update({int(v): int(v) for v in moved if int(v) not in was})
    starts, edges = ground.at_vertices
    found = []
    for vertex, old in was.items():
        at = edges[starts[old] : starts[old + 1]]
        at = at[ground.locked[at]]
        ends = ground.points[ground.ends[at]]
        away = distance_to_segments(even.places[vertex][None], ends[:, 0], ends[:, 1])[0]
        found.append((vertex, int(at[int(np.argmin(away))])))
    return found


def _along(ground: Ground, own: Floats, edge: int, chart: int, place: Floats) -> Floats:
    """The texture place of a place on an edge, on the side that lies in a chart."""
    halves = np.flatnonzero(ground.of_corner == edge)
    side = [c for c in halves.tolist() if ground.charts[ground.face_of_corner[c]] == chart]
    corner = side[0] if side else int(halves[0])
    other = int(ground.following[corner])
    low, high = ground.points[ground.corners[[corner, other]]]
    along = high - low
    share = float(np.clip((place - low) @ along / max(float(along @ along), NOT_ZERO), 0.0, 1.0))
    return np.asarray(own[corner] + share * (own[other] - own[corner]))
