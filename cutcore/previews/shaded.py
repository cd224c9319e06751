"""How a part looks, apart from its facets: shaded by hard and soft edges, or as its smooth form."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints
from cutcore.mesh.creases import strengths_of
from cutcore.mesh.mesh import Mesh
from cutcore.queries.normals import fan_normals, fans_apart
from cutcore.reshape.subdivide import rounds_of, shares_of_rules, sharp_edges, subdivided
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
    weight = np.minimum(rounds_of(strengths_of(mesh)), 1.0)
    crease, corner, along = (of.reshape(count, -1) for of in shares_of_rules(mesh, weight))
    on_line = (4 * points + along) / 6
    return np.where(
        corner + crease > 0, found + crease * (on_line - found) + corner * (points - found), found
    )


def _with_normals(mesh: Mesh, points: Floats, wire: Floats) -> Shaded:
    """A mesh with its vertices at `points (V, 3)`, each as often as sharp edges part the faces round
    it."""
    placed = Mesh(points, mesh.starts, mesh.corners)
    fan = fans_apart(mesh, sharp_edges(mesh))
    normals = fan_normals(placed, fan)
    places = np.empty((len(normals), 3))
    places[fan] = points[mesh.corners]
    cells = placed.triangles
    at = corner_places(placed, cells.face.astype(np.int64), cells.corners)
    return Shaded(places, normals, fan[at], wire)
