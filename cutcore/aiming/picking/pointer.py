"""What lies under the pointer, under a brush, or in a rectangle of the view."""

from __future__ import annotations

from typing import Literal

import numpy as np

from cutcore.aiming.marks import UNSETTLED, Settling, mark_at
from cutcore.geometry.arrays import Floats, Ints, distinct, row_positions
from cutcore.geometry.camera import Camera, Pixel
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.mesh.mesh import Mesh
from cutcore.queries.ray_caster import Shown, first_hits
from cutcore.queries.visibility import look_at, reach_of
from cutcore.trace.surface_points import EdgePoint, VertexPoint

Kind = Literal["vertices", "edges", "faces"]

# Rays across a brush: so many pixels apart.
BRUSH_STEP_PIXELS = 4.0
EDGE_ON = 1e-6


def under_pointer(
    mesh: Mesh, kind: Kind, pixel: Pixel, camera: Camera, shown: Shown | None = None
) -> Ints:
    """The element (0 or 1) under the pointer: for vertices and edges the nearest within reach."""
    if kind == "faces":
        origins, directions = camera.rays(
            np.array([pixel], dtype=np.float64), reach=reach_of(mesh, camera)
        )
        face = first_hits(mesh, origins, directions, shown).face
        return face[face >= 0]
    point = mark_at(
        mesh, pixel, camera, UNSETTLED.model_copy(update={"free": kind == "edges"}), shown=shown
    ).point
    if kind == "vertices" and isinstance(point, VertexPoint):
        return np.array([point.vertex])
    if kind == "edges" and isinstance(point, EdgePoint):
        return np.array([mesh.edges.between(*point.edge)])
    return np.zeros(0, dtype=np.int64)


def kind_under_pointer(
    mesh: Mesh, pixel: Pixel, camera: Camera, shown: Shown | None = None
) -> Kind:
    """The kind of element that a pointer is on, the nearest first: a vertex, an edge, or else
    faces, whether there is one or not."""
    point = mark_at(mesh, pixel, camera, Settling(step=None), shown=shown).point
    if isinstance(point, VertexPoint):
        return "vertices"
    return "edges" if isinstance(point, EdgePoint) else "faces"


def under_brush(
    mesh: Mesh, kind: Kind, pixel: Pixel, radius: float, camera: Camera, shown: Shown | None = None
) -> Ints:
    """Everything that can be seen within a radius in pixels: faces the brush touches, edges and
    vertices in it."""
    steps = np.arange(-radius, radius + NEGLIGIBLE, min(BRUSH_STEP_PIXELS, max(radius, 0.5)))
    grid = np.stack(np.meshgrid(steps, steps), axis=2).reshape(-1, 2)
    grid = np.concatenate([[[0.0, 0.0]], grid[(grid**2).sum(axis=1) <= radius**2]])
    origins, directions = camera.rays(np.array(pixel) + grid, reach=reach_of(mesh, camera))
    hit = first_hits(mesh, origins, directions, shown).face
    faces = np.unique(hit[hit >= 0])
    if kind == "faces":
        return faces
    elements, places = _of_faces(mesh, kind, faces)
    near = np.linalg.norm(camera.project(places) - np.array(pixel), axis=1) <= radius
    elements, places = elements[near], places[near]
    return elements[_seen(mesh, places, camera, shown)]


def in_rectangle(
    mesh: Mesh,
    kind: Kind,
    corner: Pixel,
    other: Pixel,
    camera: Camera,
    *,
    through: bool,
    shown: Shown | None = None,
) -> Ints:
    """Everything whose middle lies in a rectangle of the view; unless `through`, only what can be
    seen."""
    low, high = np.minimum(corner, other), np.maximum(corner, other)
    faces = np.arange(mesh.face_count) if shown is None else shown.faces
    if not through:
        # What has no face that is turned to the eye is not seen.
        faces = faces[_facing(mesh, faces, camera)]
    elements, places = _of_faces(mesh, kind, faces)
    with np.errstate(invalid="ignore"):
        pixels = camera.project(places)
        inside = ((pixels >= low) & (pixels <= high)).all(axis=1)
    elements, places = elements[inside], places[inside]
    return elements if through else elements[_seen(mesh, places, camera, shown)]


def _of_faces(mesh: Mesh, kind: Kind, faces: Ints) -> tuple[Ints, Floats]:
    """Some faces, or their edges or vertices, with the middle of each."""
    if kind == "faces":
        at, starts = row_positions(mesh.starts, faces)
        sums = (
            np.add.reduceat(mesh.points[mesh.corners[at]], starts[:-1])
            if len(faces)
            else np.zeros((0, 3))
        )
        return faces.astype(np.int64), sums / mesh.sizes[faces, None]
    rows = row_positions(mesh.starts, faces)[0]
    if kind == "edges":
        edges = distinct(mesh.edges.of_corner[rows]).astype(np.int64)
        return edges, mesh.points[mesh.edges.ends[edges]].mean(axis=1)
    vertices = distinct(mesh.corners[rows]).astype(np.int64)
    return vertices, mesh.points[vertices]


def _facing(mesh: Mesh, faces: Ints, camera: Camera) -> np.ndarray:
    """Which faces (n,) are turned to the eye, not away and not edge-on."""
    normals = mesh.face_normals(faces)
    slope = np.einsum(
        "ij,ij->i", normals, camera.sights(mesh.points[mesh.corners[mesh.starts[faces]]])
    )
    return np.asarray(slope < -EDGE_ON * np.linalg.norm(normals, axis=1))


def _seen(mesh: Mesh, places: Floats, camera: Camera, shown: Shown | None) -> np.ndarray:
    """Which places (n,) of the surface nothing lies before."""
    if len(places) == 0:
        return np.zeros(0, dtype=bool)
    return look_at(mesh, camera, places, shown).clear
