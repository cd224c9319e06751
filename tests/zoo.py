"""Named meshes of every kind, the awkward ones included, for tests to run over."""

from __future__ import annotations

import numpy as np

from cutcore import Mesh
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned


def prism(sides: int = 5, *, concave: bool = True) -> Mesh:
    """A prism with two n-gon caps; concave ones are stars. Its walls carry texture places."""
    turn = 2 * np.pi * np.arange(2 * sides) / (2 * sides)
    reach = np.where(np.arange(2 * sides) % 2 == 1, 0.45, 1.0) if concave else np.ones(2 * sides)
    circle = np.stack([reach * np.cos(turn), -reach * np.sin(turn)], axis=1)
    count = len(circle)
    low = np.stack([circle[:, 0], np.full(count, -0.5), circle[:, 1]], axis=1)
    points = np.concatenate([low, low + [0.0, 1.0, 0.0]])
    walls = [[k, (k + 1) % count, count + (k + 1) % count, count + k] for k in range(count)]
    faces = [list(range(count))[::-1], list(range(count, 2 * count)), *walls]
    return Mesh.of(points, faces)


def painted(mesh: Mesh, *, every: int) -> Mesh:
    """The same mesh with two materials, three patches, and every so many edges hard."""
    hard = mesh.edges.ends[::every]
    faces = np.arange(mesh.face_count)
    return Mesh(
        mesh.points,
        mesh.starts,
        mesh.corners,
        mesh.uv,
        faces % 2,
        faces % 3,
        ("a", "b"),
        ("p", "q", "r"),
        hard[np.lexsort((hard[:, 1], hard[:, 0]))],
    )


def triangulated(mesh: Mesh) -> Mesh:
    """The same surface in triangles."""
    return Mesh.of(mesh.points, mesh.triangles.corners)


def warped_sheet(seed: int = 3) -> Mesh:
    """An open sheet whose quads are not flat."""
    flat = sheet(4.0, 3.0, 5, 4)
    lift = np.random.default_rng(seed).uniform(-0.12, 0.12, flat.vertex_count)
    return Mesh(
        flat.points + np.stack([0 * lift, lift, 0 * lift], axis=1),
        flat.starts,
        flat.corners,
        flat.uv,
    )


def two_shells() -> Mesh:
    """A box beside a torus, in one mesh."""
    first, second = box(1.0, 1.0, 1.0, (2, 2, 2)), torus(1.0, 0.3, 12, 8)
    faces = [first.face(f).tolist() for f in range(first.face_count)]
    faces += [(second.face(f) + first.vertex_count).tolist() for f in range(second.face_count)]
    return Mesh.of(np.concatenate([first.points + [2.5, 0.0, 0.0], second.points]), faces)


def three_on_an_edge() -> Mesh:
    """Three quads that share one edge."""
    points = [
        [0, 0, 0],
        [0, 1, 0],
        [1, 0, 0],
        [1, 1, 0],
        [-1, 0, 0.4],
        [-1, 1, 0.4],
        [0, 0, 1],
        [0, 1, 1],
    ]
    return Mesh.of(np.array(points, float), [[0, 2, 3, 1], [4, 0, 1, 5], [0, 6, 7, 1]])


def bow_tie() -> Mesh:
    """Two triangles that touch at a vertex only."""
    return Mesh.of(
        np.array([[0, 0, 0], [1, 0, 0.5], [1, 0, -0.5], [-1, 0, 0.5], [-1, 0, -0.5]], float),
        [[0, 1, 2], [0, 4, 3]],
    )


def concave_plate() -> Mesh:
    """One flat comb-shaped face with texture places: a straight line crosses it many times."""
    x = [0, 7, 7, 6, 6, 5, 5, 4, 4, 3, 3, 2, 2, 1, 1, 0]
    y = [0, 0, 3, 3, 1, 1, 3, 3, 1, 1, 3, 3, 1, 1, 3, 3]
    points = np.stack([np.array(x, float), np.zeros(16), -np.array(y, float)], axis=1)
    return Mesh.of(
        points, [list(range(16))], uv=np.stack([np.array(x) / 7, np.array(y) / 3], axis=1)
    )


CLOSED: dict[str, Mesh] = {
    "box": box(2.0, 1.5, 1.0, (3, 2, 2)),
    "torus": torus(1.0, 0.35, 14, 9),
    "turned, with poles": turned([(0.0, 0.0), (1.0, 0.2), (1.2, 1.0), (0.5, 1.7), (0.0, 2.0)], 9),
    "star prism": prism(5),
    "triangulated torus": triangulated(torus(1.0, 0.4, 9, 7)),
    "two shells": two_shells(),
}
OPEN: dict[str, Mesh] = {
    "sheet": sheet(3.0, 2.0, 5, 3),
    "warped sheet": warped_sheet(),
    "comb": concave_plate(),
    "three on an edge": three_on_an_edge(),
    "bow tie": bow_tie(),
}
ZOO: dict[str, Mesh] = {**CLOSED, **OPEN}
