"""Walking over the part without a pointer: from where one is to the next stop of an edge, or to the
next vertex, the way an arrow key points on the screen."""

from __future__ import annotations

from typing import Literal

import numpy as np

from cutcore.aiming.marks import Mark, Settling, mark_at, stops_on
from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.camera import Camera, Pixel
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.mesh.mesh import Mesh
from cutcore.queries.ray_caster import Shown
from cutcore.queries.visibility import look_at
from cutcore.trace.surface_points import EdgePoint, FacePoint, VertexPoint

Way = Literal["left", "right", "up", "down"]
By = Literal["stops", "vertices"]

# Pixels count downwards.
WAYS: dict[Way, tuple[float, float]] = {
    "left": (-1.0, 0.0),
    "right": (1.0, 0.0),
    "up": (0.0, -1.0),
    "down": (0.0, 1.0),
}
# What lies further off the way than this (the cosine of about 75 degrees) is not meant by it.
LEAST_ALONG = 0.26


def walk(
    mesh: Mesh,
    pixel: Pixel,
    camera: Camera,
    way: Way,
    by: By,
    settling: Settling,
    shown: Shown | None = None,
) -> Pixel | None:
    """The pixel of the next place that can be seen, or None if there is none that way.

    By vertices, from a vertex along the edge that runs most that way, from elsewhere to the vertex
    of the edge or face that lies most that way. By stops, the same, but no further than the next
    stop of the edge."""
    mark = mark_at(mesh, pixel, camera, settling, shown=shown)
    here = camera.project(mark.place[None])[0] if mark.place is not None else None
    if here is None or not np.isfinite(here).all():
        return None
    targets = _targets(mesh, mark, by, settling)
    if len(targets) == 0:
        return None
    pixels = camera.project(targets)
    away = pixels - here
    far = np.linalg.norm(away, axis=1)
    along = np.where(far > NEGLIGIBLE, away @ np.array(WAYS[way]) / np.maximum(far, NEGLIGIBLE), -1)
    along[~look_at(mesh, camera, targets, shown).clear] = -1
    # Of those that lie alike the nearest: the stops of one edge all lie one way.
    best = int(np.lexsort((far, -np.round(along, 6)))[0])
    if not along[best] > LEAST_ALONG:
        return None
    return float(pixels[best, 0]), float(pixels[best, 1])


def _targets(mesh: Mesh, mark: Mark, by: By, settling: Settling) -> Floats:
    """The places (n, 3) that can be walked to from a mark."""
    match mark.point:
        case VertexPoint(vertex=vertex):
            edges = mesh.edges.at_vertex(vertex)
        case EdgePoint(edge=ends):
            edges = np.array([mesh.edges.between(*ends)])
        case FacePoint(face=face):
            return np.asarray(mesh.points[mesh.face(face)])
        case _:
            return np.zeros((0, 3))
    ends_of = mesh.points[mesh.edges.ends[edges]].reshape(-1, 3)
    return (
        ends_of if by == "vertices" else np.concatenate([ends_of, *_stops(mesh, edges, settling)])
    )


def _stops(mesh: Mesh, edges: Ints, settling: Settling) -> list[Floats]:
    """The stops within some edges, as places (n, 3) each."""
    found = []
    for edge in edges.tolist():
        shares = stops_on(mesh, edge, settling)
        low, high = mesh.points[mesh.edges.ends[edge]]
        if shares is not None:
            found.append(low + shares[(shares > 0) & (shares < 1), None] * (high - low))
    return found
