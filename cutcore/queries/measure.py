"""Measuring: how far a pick reaches, how long, how large, how round."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Floats, Ints, distinct, row_positions
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.mesh.mesh import Mesh


@dataclass(frozen=True, eq=False)
class Ring:
    """A circle fitted to some places: `roundness` is the difference of their largest and smallest
    distance from its centre, `flatness` how far they lie off its plane, both over all; `height`
    where the centre lies along the normal."""

    centre: Floats
    normal: Floats
    diameter: float
    roundness: float
    flatness: float
    height: float


@dataclass(frozen=True, eq=False)
class Measures:
    """What can be said of a pick; None where it has no meaning.

    low, high  (3,) the extents along the axes
    along      lowest and highest along a direction that was asked for
    distance   between two vertices, or the middles of two edges or two faces
    angle      in degrees between two edges, or the normals of two faces
    length     of all edges; area of all faces
    normal     (3,) the mean normal of the faces
    """

    low: Floats
    high: Floats
    along: tuple[float, float] | None
    distance: float | None
    angle: float | None
    length: float | None
    area: float | None
    normal: Floats | None
    ring: Ring | None


def vertices_of(mesh: Mesh, vertices: Ints, edges: Ints, faces: Ints) -> Ints:
    """The vertices (n,) that picked elements have, ascending; all that faces use if nothing is
    picked."""
    if len(vertices) + len(edges) + len(faces) == 0:
        return distinct(mesh.corners.astype(np.int64))
    parts = (
        vertices,
        mesh.edges.ends[edges].ravel(),
        mesh.corners[row_positions(mesh.starts, faces)[0]],
    )
    return distinct(np.concatenate([np.asarray(part, dtype=np.int64) for part in parts]))


def measured(
    mesh: Mesh, vertices: Ints, edges: Ints, faces: Ints, *, direction: Floats | None = None
) -> Measures:
    """The measures of some picked elements, or of the whole part if nothing is picked."""
    chosen = vertices_of(mesh, vertices, edges, faces)
    places = mesh.points[chosen]
    along = None
    if direction is not None and np.linalg.norm(direction) > 0:
        heights = places @ (direction / np.linalg.norm(direction))
        along = (float(heights.min()), float(heights.max()))
    ends = mesh.points[mesh.edges.ends[edges]]
    normals = mesh.face_normals(faces) if len(faces) else np.zeros((0, 3))
    return Measures(
        places.min(axis=0),
        places.max(axis=0),
        along,
        _distance(mesh, vertices, ends, faces),
        _angle(ends[:, 1] - ends[:, 0], normals),
        float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum()) if len(edges) else None,
        float(np.linalg.norm(normals, axis=1).sum()) if len(faces) else None,
        _mean_normal(normals),
        fitted_ring(places) if len(vertices) + len(edges) else None,
    )


def fitted_ring(places: Floats) -> Ring | None:
    """The circle nearest to some places (N, 3), or None if they are fewer than three or lie on one
    line.

    Its plane is the mean plane (least squares of the distances off it). In it centre c and radius r solve
    |p|² = 2 c·p + (r² - |c|²) in the least squares sense (I. Kåsa, A circle fitting procedure and its error analysis,
    IEEE Transactions on Instrumentation and Measurement 25, 1976): exact for places on a circle.
    """
    if len(places) < 3:
        return None
    middle = places.mean(axis=0)
    local = places - middle
    _, spread, axes = np.linalg.svd(local, full_matrices=False)
    if spread[1] <= NEGLIGIBLE * spread[0]:
        return None
    flat = local @ axes[:2].T
    system = np.column_stack([2 * flat, np.ones(len(flat))])
    (x, y, rest), *_ = np.linalg.lstsq(system, (flat**2).sum(axis=1), rcond=None)
    reach = np.linalg.norm(flat - [x, y], axis=1)
    normal = axes[2] if axes[2][int(np.argmax(np.abs(axes[2])))] > 0 else -axes[2]
    off = local @ normal
    centre = middle + x * axes[0] + y * axes[1]
    radius = float(np.sqrt(rest + x * x + y * y))
    return Ring(
        centre, normal, 2 * radius, float(np.ptp(reach)), float(np.ptp(off)), float(centre @ normal)
    )


def _distance(mesh: Mesh, vertices: Ints, ends: Floats, faces: Ints) -> float | None:
    """Between the two elements there are, if there are two of a kind."""
    if len(vertices) == 2:
        pair = mesh.points[vertices]
    elif len(ends) == 2 and len(vertices) == 0:
        pair = ends.mean(axis=1)
    elif len(faces) == 2 and len(vertices) + len(ends) == 0:
        pair = np.array([mesh.points[mesh.face(int(f))].mean(axis=0) for f in faces])
    else:
        return None
    return float(np.linalg.norm(pair[1] - pair[0]))


def _mean_normal(normals: Floats) -> Floats | None:
    """The unit mean of normals weighted by area, or None if there are none or they cancel out."""
    total = normals.sum(axis=0)
    size = float(np.linalg.norm(total))
    return (
        total / size if size > NEGLIGIBLE * float(np.linalg.norm(normals, axis=1).sum()) else None
    )


def _angle(edges: Floats, normals: Floats) -> float | None:
    pair = edges if len(edges) == 2 else normals if len(normals) == 2 and len(edges) == 0 else None
    if pair is None:
        return None
    sizes = np.linalg.norm(pair, axis=1)
    if (sizes == 0).any():
        return None
    across = np.linalg.norm(np.cross(pair[0], pair[1]))
    # Edges have no direction: the smaller angle between their lines is meant.
    dot = float(pair[0] @ pair[1])
    return float(np.degrees(np.arctan2(across, abs(dot) if len(edges) == 2 else dot)))
