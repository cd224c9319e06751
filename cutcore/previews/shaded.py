"""How a part looks, apart from its facets: shaded by hard and soft edges, or as its smooth form."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints, next_in_row
from cutcore.geometry.components import components
from cutcore.geometry.vectors import units
from cutcore.mesh.mesh import Mesh
from cutcore.reshape.subdivide import sharp_edges, subdivided
from cutcore.reshape.triangulate import corner_places

# A smooth form has so many faces at most, and is subdivided so often at most.
MOST_FACES = 400_000
MOST_ROUNDS = 2


@dataclass(frozen=True, eq=False)
class Shaded:
    """A surface to be drawn: `places` and unit `normals (n, 3)`, `triangles (t, 3)` over them, and
    the wire as pairs of places (w, 2, 3)."""

    places: Floats
    normals: Floats
    triangles: Ints
    wire: Floats


def shaded(mesh: Mesh) -> Shaded:
    """A part with normals that change only at hard edges and borders."""
    return _with_normals(mesh, mesh.points, mesh.points[mesh.edges.ends])


def smooth(mesh: Mesh) -> Shaded:
    """The form a part holds when it is subdivided without end: so many rounds of it that it looks
    smooth, its vertices put where they come to in the end, with its edges as curves.

    Raises StepError for a part that is too large for one round."""
    corners = int(mesh.sizes.sum())
    rounds = next((r for r in (MOST_ROUNDS, 1) if corners * 4 ** (r - 1) <= MOST_FACES), 0)
    if rounds == 0:
        words = f"the part is too large to be shown smooth: {MOST_FACES // 4:,} faces at most are possible"
        raise StepError(words)
    made, wire = mesh, np.ones(len(mesh.edges), dtype=bool)
    for _ in range(rounds):
        finer = subdivided(made).mesh
        # An edge is two now: from either end to the vertex that came of it.
        numbers = made.vertex_count + np.flatnonzero(wire)
        low, high = finer.edges.ends.T
        wire = np.isin(high, numbers) & (low < made.vertex_count)
        made = finer
    places = limit_places(made)
    return _with_normals(made, places, places[made.edges.ends[wire]])


def limit_places(mesh: Mesh) -> Floats:
    """Where the vertices (V, 3) of a mesh of quads come to when it is subdivided without end: on the
    smooth surface (n² P + 4 Σ E + Σ F) / (n (n + 5)), E being the n neighbours of a vertex and F the
    corners across its quads (M. Halstead, M. Kass, T. DeRose, Efficient, fair interpolation using
    Catmull-Clark surfaces, SIGGRAPH 1993); along a crease or border (4 P + A + B) / 6."""
    ends, count, points = mesh.edges.ends, mesh.vertex_count, mesh.points

    def sums(at: Ints, values: Floats) -> Floats:
        return np.column_stack([np.bincount(at, values[:, k], count) for k in range(3)])

    loops = mesh.corners.reshape(-1, 4)
    across = sums(loops.ravel(), points[np.roll(loops, 2, axis=1).ravel()])
    beside = sums(ends[:, 0], points[ends[:, 1]]) + sums(ends[:, 1], points[ends[:, 0]])
    n = np.maximum(np.bincount(ends.ravel(), minlength=count), 1)[:, None]
    found = (n * n * points + 4 * beside + across) / (n * (n + 5))
    line = ends[sharp_edges(mesh)]
    sharps = np.bincount(line.ravel(), minlength=count)
    faces = np.bincount(mesh.corners, minlength=count)
    along = sums(line[:, 0], points[line[:, 1]]) + sums(line[:, 1], points[line[:, 0]])
    crease = (sharps == 2) & (faces > 1)
    found[crease] = (4 * points[crease] + along[crease]) / 6
    stays = (sharps > 2) | ((sharps == 2) & (faces <= 1)) | (faces == 0)
    found[stays] = points[stays]
    return np.asarray(found)


def _with_normals(mesh: Mesh, points: Floats, wire: Floats) -> Shaded:
    """A mesh with its vertices at `points (V, 3)`, each as often as sharp edges part the faces round
    it."""
    placed = Mesh(points, mesh.starts, mesh.corners)
    fan = fans(mesh, sharp_edges(mesh))
    count = int(fan.max()) + 1
    face = np.repeat(placed.face_normals(), mesh.sizes, axis=0)
    normals = np.column_stack([np.bincount(fan, face[:, k], count) for k in range(3)])
    places = np.empty((count, 3))
    places[fan] = points[mesh.corners]
    cells = placed.triangles
    at = corner_places(placed, cells.face.astype(np.int64), cells.corners)
    return Shaded(places, units(np.asarray(normals, dtype=np.float64)), fan[at], wire)


def fans(mesh: Mesh, parted: Bools) -> Ints:
    """The fan (C,) each corner is in: corners at one vertex are in one if faces between them share
    edges (E,) that are not parted."""
    order = np.argsort(mesh.edges.of_corner, kind="stable")
    edge = mesh.edges.of_corner[order]
    pair = np.flatnonzero((edge[1:] == edge[:-1]) & ~parted[edge[1:]])
    one, other = order[pair], order[pair + 1]
    ahead = next_in_row(mesh.starts)
    # Faces that agree run along their edge in opposite directions.
    agree = mesh.corners[one] != mesh.corners[other]
    at_start = np.where(agree, ahead[other], other)
    at_end = np.where(agree, other, ahead[other])
    links = np.concatenate(
        [np.column_stack([one, at_start]), np.column_stack([ahead[one], at_end])]
    )
    return components(links, len(mesh.corners))[1]
