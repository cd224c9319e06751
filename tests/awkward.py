"""Awkward ground, drawn by chance: bent, concave, thin, far away, dense in one place, with edges of
three faces, one-sided."""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from cutcore import Mesh, MeshError
from cutcore.mesh.creases import with_hard
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from tests.zoo import (
    OPEN,
    concave_plate,
    painted,
    prism,
    three_on_an_edge,
    triangulated,
    two_shells,
)


def star(source: random.Random) -> Mesh:
    """One star-shaped face whose points are shaken, mostly off its plane, too."""
    count = source.randrange(3, 9)
    turn = (
        np.pi * np.arange(2 * count) / count
        + np.array([source.uniform(-0.2, 0.2) for _ in range(2 * count)]) / count
    )
    reach = np.where(np.arange(2 * count) % 2, source.uniform(0.2, 0.8), 1.0)
    lift = source.choice([0.0, 0.02, 0.3])
    off = [source.uniform(-lift, lift) for _ in range(2 * count)]
    return Mesh.of(
        np.stack([reach * np.cos(turn), off, -reach * np.sin(turn)], axis=1),
        [list(range(2 * count))],
    )


def comb(source: random.Random) -> Mesh:
    plate, lift = concave_plate(), source.choice([0.0, 0.05])
    shaken = np.array(
        [
            [source.uniform(-0.2, 0.2), lift * source.random(), source.uniform(-0.2, 0.2)]
            for _ in plate.points
        ]
    )
    return Mesh.of(plate.points + shaken, [plate.face(0)])


def bent_ngon(source: random.Random) -> Mesh:
    """One face with corners anywhere: seldom flat, sometimes crossing itself when seen from a
    side."""
    count = source.randrange(4, 9)
    turn = np.sort(np.array([source.uniform(0, 2 * np.pi) for _ in range(count)]))
    off = np.array([source.uniform(-0.4, 0.4) for _ in range(count)])
    return Mesh.of(np.stack([np.cos(turn), off, -np.sin(turn)], axis=1), [list(range(count))])


def fan(source: random.Random) -> Mesh:
    """Many triangles round one vertex."""
    count = source.choice([7, 40, 200])
    turn = 2 * np.pi * np.arange(count) / count
    ring = np.stack(
        [np.cos(turn), np.array([source.uniform(-0.05, 0.05) for _ in turn]), -np.sin(turn)], axis=1
    )
    faces = [[0, 1 + k, 1 + (k + 1) % count] for k in range(count)]
    return Mesh.of(np.concatenate([[[0.0, source.uniform(0, 0.5), 0.0]], ring]), faces)


def band(source: random.Random) -> Mesh:
    """A one-sided band."""
    count = source.choice([7, 12, 24])
    turn = 2 * np.pi * np.arange(count) / count
    half = turn / 2
    across = np.stack(
        [np.cos(half) * np.cos(turn), np.sin(half), np.cos(half) * np.sin(turn)], axis=1
    )
    middle = np.stack([np.cos(turn), 0 * turn, np.sin(turn)], axis=1)
    points = np.concatenate([middle - 0.3 * across, middle + 0.3 * across])
    faces = [[k, k + 1, count + k + 1, count + k] for k in range(count - 1)]
    return Mesh.of(points, [*faces, [count - 1, count, 0, 2 * count - 1]])


def fins(source: random.Random) -> Mesh:
    """Several strips of quads that share a run of edges."""
    height, count = source.randrange(1, 5), source.choice([3, 3, 4])
    spine = [[0.0, float(k), 0.0] for k in range(height + 1)]
    points, faces = list(spine), []
    for fin in range(count):
        turn = 2 * np.pi * fin / count + source.uniform(-0.3, 0.3)
        start = len(points)
        points += [
            [np.cos(turn), float(k) + source.uniform(-0.1, 0.1), np.sin(turn)]
            for k in range(height + 1)
        ]
        faces += [[k, start + k, start + k + 1, k + 1] for k in range(height)]
    return Mesh.of(np.array(points), faces)


def slivers(source: random.Random) -> Mesh:
    """A sheet with rows and columns that are very narrow here and there."""
    plain = sheet(3.0, 2.0, 5, 4)
    points = plain.points.copy()
    for axis in (0, 2):
        lines = np.unique(points[:, axis])
        put = np.cumsum([source.choice([1.0, 1.0, 1e-3, 1e-5]) for _ in lines])
        points[:, axis] = put[np.searchsorted(lines, points[:, axis])]
    return Mesh.of(points, [plain.face(f) for f in range(plain.face_count)])


def needles(source: random.Random) -> Mesh:
    """Long thin triangles that meet in a point."""
    count = source.randrange(4, 12)
    thin = source.choice([1e-2, 1e-4])
    ends = [[1.0, source.uniform(0, thin), k * thin] for k in range(count + 1)]
    return Mesh.of(np.array([[0.0, 0.0, 0.0], *ends]), [[0, k + 1, k + 2] for k in range(count)])


def shaken(mesh: Mesh, source: random.Random) -> Mesh:
    """The same faces with every vertex moved a little."""
    reach = mesh.diagonal * source.choice([0.003, 0.02, 0.06])
    moved = np.array([[source.uniform(-reach, reach) for _ in range(3)] for _ in mesh.points])
    return Mesh.of(mesh.points + moved, [mesh.face(f) for f in range(mesh.face_count)])


def stretched(mesh: Mesh, source: random.Random) -> Mesh:
    scale = np.array([source.choice([1.0, 100.0, 0.01, 1e4]) for _ in range(3)])
    return Mesh.of(mesh.points * scale, [mesh.face(f) for f in range(mesh.face_count)])


def far_away(mesh: Mesh, source: random.Random) -> Mesh:
    away = source.choice([1e3, 1e5]) * mesh.diagonal
    return Mesh.of(
        mesh.points + [away, -away, 0.5 * away], [mesh.face(f) for f in range(mesh.face_count)]
    )


GROUND: dict[str, Callable[[random.Random], Mesh]] = {
    "star": star,
    "comb": comb,
    "bent n-gon": bent_ngon,
    "fan": fan,
    "band": band,
    "fins": fins,
    "slivers": slivers,
    "needles": needles,
    "box": lambda source: box(2.0, 1.5, 1.0, (source.randrange(1, 4), 2, 2)),
    "torus": lambda source: torus(1.0, 0.35, source.randrange(6, 14), source.randrange(4, 9)),
    "turned": lambda source: turned(
        [(0.0, 0.0), (1.0, 0.2), (1.2, 1.0), (0.5, 1.7), (0.0, 2.0)], source.randrange(5, 12)
    ),
    "prism": lambda source: prism(source.randrange(3, 7), concave=source.random() < 0.5),
    "triangles": lambda source: triangulated(torus(1.0, 0.4, 9, 7)),
    "painted": lambda source: painted(torus(1.0, 0.35, 12, 8), every=3),
    "two shells": lambda source: two_shells(),
    "three on an edge": lambda source: three_on_an_edge(),
    "open": lambda source: source.choice(list(OPEN.values())),
}


def awkward(source: random.Random) -> tuple[str, Mesh]:
    """Some ground, often shaken, stretched or far away; with the name of its kind."""
    while True:
        kind = source.choice(list(GROUND))
        try:
            mesh = GROUND[kind](source)
            for change, often in ((shaken, 0.35), (stretched, 0.15), (far_away, 0.1)):
                if source.random() < often:
                    mesh, kind = change(mesh, source), f"{kind}, {change.__name__}"
        except MeshError:
            continue
        return kind, mesh


def dressed(mesh: Mesh, source: random.Random) -> Mesh:
    """The same mesh with whatever faces and edges can carry, or some of it: materials, patches,
    texture places that are one linear map of where they lie, hard edges and creases."""
    count = mesh.face_count
    made = mesh
    if source.random() < 0.5:
        made = replace(
            made,
            material=np.array([source.randrange(-1, 2) for _ in range(count)]),
            materials=("wood", "steel"),
            patch=np.array([source.randrange(-1, 2) for _ in range(count)]),
            patches=("skin", "lid"),
        )
    if source.random() < 0.5:
        made = replace(made, uv=linear_uv(mesh)[mesh.corners])
    if source.random() < 0.5:
        chosen = np.array([source.random() < 0.3 for _ in range(len(mesh.edges))])
        strength = np.full(len(mesh.edges), 0.4)
        if source.random() < 0.5:
            strength[[source.random() < 0.5 for _ in strength]] = 1.0
        made = with_hard(made, chosen, strength)
    return made


def linear_uv(mesh: Mesh) -> np.ndarray:
    """A texture place for every vertex (V, 2), by one linear map about the middle of the mesh."""
    middle, size = mesh.box.mean(axis=0), mesh.diagonal or 1.0
    ways = np.array([[0.3, 0.5], [0.7, -0.2], [0.1, 0.6]])
    return np.asarray((mesh.points - middle) / size @ ways)
