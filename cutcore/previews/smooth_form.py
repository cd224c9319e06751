"""The smooth form of a part in patches, so that after a change only what it touched is worked out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints, cross, row_positions
from cutcore.geometry.vectors import units
from cutcore.mesh.creases import strengths_of, strengths_of_pairs
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.submesh import of_rows
from cutcore.progress import come_to
from cutcore.queries.nearest import Surface
from cutcore.queries.normals import corners_across, fan_normals, fans_apart
from cutcore.reshape.dividing.subdivide import rounds_of, shares_of_rules, sharp_edges, subdivided

# A smooth form has so many quads at most, and is subdivided so often at most.
MOST_QUADS = 400_000
MOST_ROUNDS = 2
# A patch depends on faces so many rings away, its normals included.
RINGS = 2
# In which order the corners of the quads of two rounds make a grid of three by three: of the four
# quads at a corner which one, and which corner of it.
_GRID = {
    1: ((0, 0), (0, 1), (0, 3), (0, 2)),
    2: ((0, 0), (0, 1), (1, 0), (0, 3), (0, 2), (1, 1), (3, 0), (2, 1), (2, 0)),
}


@dataclass(frozen=True, eq=False)
class SmoothForm:
    """A grid of places for each corner of a mesh: along the edge that leaves it, and row by row
    towards the one that comes in; at the far end the middle of the face.

    origin   (3,)       what places are relative to
    rounds              1 for grids of two by two, 2 for three by three
    places, normals (C, k, 3) float32
    """

    origin: Floats
    rounds: int
    places: np.ndarray
    normals: np.ndarray

    @property
    def bytes_held(self) -> int:
        return int(self.places.nbytes + self.normals.nbytes)


@dataclass(frozen=True, eq=False)
class Remade:
    """A form made from one before it: which corners were worked out anew (n,), ascending; the runs of
    corners (r, 3) that were taken over: where to, where from, how many."""

    form: SmoothForm
    fresh: Ints
    runs: Ints


def rounds_for(mesh: Mesh) -> int:
    """How often a part can be subdivided to be shown. Raises StepError for one that is too large for
    one round."""
    corners = len(mesh.corners)
    found = next((r for r in (MOST_ROUNDS, 1) if corners * 4 ** (r - 1) <= MOST_QUADS), 0)
    if found == 0:
        words = f"the part is too large to be shown smooth: {MOST_QUADS // 4:,} faces at most are possible, pick some to see these"
        raise StepError(words)
    return found


def smooth_form(mesh: Mesh, rounds: int | None = None, origin: Floats | None = None) -> SmoothForm:
    """The form a part holds when it is subdivided without end, after so many rounds with its vertices
    put where they come to in the end. Raises StepError for a part that is too large."""
    wanted = rounds_for(mesh) if rounds is None else rounds
    finer = mesh
    # Each round takes four times the one before, the places in the end as long as the last.
    whole = 4.0 ** (wanted + 1)
    for done in range(wanted):
        come_to("subdividing", 4.0**done / whole)
        finer = subdivided(finer).mesh
    come_to("finding where it ends", 0.3)
    places = limit_places(finer)
    come_to("shading it", 0.6)
    placed = Mesh(places, finer.starts, finer.corners)
    fan = fans_apart(finer, sharp_edges(finer))
    of_fan, exact, known = fan_normals(placed, fan), *limit_normals(finer)
    middle = mesh.box.mean(axis=0) if origin is None else origin
    # The quads that came of one corner lie together.
    quad, corner = np.array(_GRID[wanted]).T
    at = (4 ** (wanted - 1) * np.arange(len(mesh.corners))[:, None] + quad) * 4 + corner
    vertex = finer.corners[at]
    return SmoothForm(
        middle,
        wanted,
        (places[vertex] - middle).astype("<f4"),
        np.where(known[vertex][..., None], exact[vertex], of_fan[fan[at]]).astype("<f4"),
    )


def remade(form: SmoothForm, before: Mesh, after: Mesh, kept: Ints) -> Remade:
    """The form of a mesh made from another, of which faces are `kept` (F,) under new numbers, -1 for
    none: worked out only near what has changed. Raises StepError for a mesh that is too large."""
    rounds = rounds_for(after)
    if rounds != form.rounds or np.abs(after.box - before.box).max() > before.diagonal:
        made = smooth_form(after)
        return Remade(made, np.arange(len(after.corners)), np.zeros((0, 3), np.int64))
    old = np.flatnonzero(kept >= 0)
    new = kept[old].astype(np.int64)
    changed = np.ones(after.face_count, dtype=bool)
    changed[new] = _differ(before, after, old, new)
    changed[new[_grown(before, kept < 0, 1)[old]]] = True
    changed |= _hard_anew(before, after, old, new)
    dirty = _grown(after, changed, RINGS)
    faces = np.flatnonzero(_grown(after, dirty, RINGS))
    fresh, _ = row_positions(after.starts, np.flatnonzero(dirty))
    shape = (len(after.corners), form.places.shape[1], 3)
    places, normals = np.empty(shape, "<f4"), np.empty(shape, "<f4")
    stays = ~dirty[new]
    source, _ = row_positions(before.starts, old[stays])
    goal, _ = row_positions(after.starts, new[stays])
    places[goal], normals[goal] = form.places[source], form.normals[source]
    if len(fresh):
        at, starts = row_positions(after.starts, faces)
        local = smooth_form(_cut_out(after, at, starts, faces), rounds, form.origin)
        inside = dirty[after.face_of_corner[at]]
        places[at[inside]], normals[at[inside]] = local.places[inside], local.normals[inside]
    return Remade(SmoothForm(form.origin, rounds, places, normals), fresh, _runs(goal, source))


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


def limit_normals(mesh: Mesh) -> tuple[Floats, Bools]:
    """The unit normals (V, 3) of the smooth surface at the vertices of a mesh of quads, and for which
    of these (V,) they are told: those inside it, away from creases.

    The cross product of its tangents there, which are sums over the n neighbours E and the corners F
    across the quads in turn (M. Halstead, M. Kass, T. DeRose, 1993):

        Σ A cos(2πi/n) E_i + (cos(2πi/n) + cos(2π(i+1)/n)) F_i,
        A = 1 + cos(2π/n) + cos(π/n) √(2 (9 + cos(2π/n)))

    and the same with sines. Along creases and borders normals are means over faces instead."""
    count, corners = mesh.vertex_count, mesh.corners.reshape(-1, 4)
    at = np.arange(len(mesh.corners))
    ahead = at // 4 * 4 + (at + 1) % 4
    # The corner that comes next round each vertex, counter-clockwise: across the edge that comes in.
    one, other, _ = corners_across(mesh)
    across = np.full(len(at), -1, dtype=np.int64)
    opposed = mesh.corners[one] != mesh.corners[other]
    across[one[opposed]], across[other[opposed]] = other[opposed], one[opposed]
    following = across[at // 4 * 4 + (at + 3) % 4]
    valence = np.bincount(mesh.corners, minlength=count)
    closed = np.bincount(mesh.corners[following < 0], minlength=count) == 0
    closed &= (valence > 2) & (np.bincount(mesh.edges.ends.ravel(), minlength=count) == valence)
    closed[mesh.edges.ends[strengths_of(mesh) > 0].ravel()] = False
    first = np.full(count, -1, dtype=np.int64)
    first[mesh.corners[::-1]] = at[::-1]
    rows = np.flatnonzero(closed & (first >= 0))
    n, here = valence[rows].astype(np.float64), first[rows]
    tangents = np.zeros((2, len(rows), 3))
    weight = 1 + np.cos(2 * np.pi / n)
    weight += np.cos(np.pi / n) * np.sqrt(2 * (9 + np.cos(2 * np.pi / n)))
    diagonal = np.roll(corners, 2, axis=1).ravel()
    for i in range(int(n.max(initial=0))):
        turning = n > i
        corner, angle = here[turning], 2 * np.pi / n[turning]
        beside, beyond = mesh.points[mesh.corners[ahead[corner]]], mesh.points[diagonal[corner]]
        for k, wave in enumerate((np.cos, np.sin)):
            share = wave(i * angle)
            tangents[k, turning] += (weight[turning] * share)[:, None] * beside
            tangents[k, turning] += (share + wave((i + 1) * angle))[:, None] * beyond
        here[turning] = following[corner]
    normals = np.zeros((count, 3))
    normals[rows] = units(cross(tangents[0], tangents[1]))
    return normals, np.asarray(normals.any(axis=1))


def moves_of(form: SmoothForm, before: Mesh, made: Remade) -> Floats:
    """How far the places (n, k) that were worked out anew lie from the form before."""
    if len(made.fresh) == 0:
        return np.zeros((0, form.places.shape[1]))
    copied = np.zeros(len(before.corners), dtype=bool)
    for _, source, count in made.runs.tolist():
        copied[source : source + count] = True
    gone = np.zeros(before.face_count, dtype=bool)
    gone[before.face_of_corner[~copied]] = True
    near = _grown(before, gone, 1) if gone.any() else np.ones(before.face_count, dtype=bool)
    corners = near[before.face_of_corner]
    surface = Surface(_triangles(form.places[corners].astype(np.float64)))
    places = made.form.places[made.fresh].astype(np.float64).reshape(-1, 3)
    away = np.linalg.norm(surface.nearest(places) - places, axis=1)
    return np.asarray(away.reshape(len(made.fresh), -1))


def smooth_form_of(mesh: Mesh, faces: Ints) -> SmoothForm:
    """The smooth form of some faces (n,) alone, ascending. Raises StepError if these are too many."""
    return smooth_form(_cut_out(mesh, *row_positions(mesh.starts, faces), faces))


def _cut_out(mesh: Mesh, at: Ints, starts: Ints, faces: Ints) -> Mesh:
    """Some faces, given as rows of corners, as a mesh with nothing but its hard edges."""
    part, vertices = of_rows(mesh, at, starts, faces)
    strength = strengths_of_pairs(mesh, vertices[part.hard])
    return Mesh(part.points, part.starts, part.corners, hard=part.hard, strength=strength)


def _triangles(grids: Floats) -> Floats:
    """The triangles (t, 3, 3) of grids (n, k, 3)."""
    side = round(grids.shape[1] ** 0.5)
    square = grids.reshape(-1, side, side, 3)
    a, b = square[:, :-1, :-1], square[:, :-1, 1:]
    c, d = square[:, 1:, 1:], square[:, 1:, :-1]
    both = [np.stack(three, axis=3).reshape(-1, 3, 3) for three in ((a, b, c), (a, c, d))]
    return np.concatenate(both)


def _differ(before: Mesh, after: Mesh, old: Ints, new: Ints) -> Bools:
    """Which kept faces (n,) have other corners, or these elsewhere."""
    same = before.sizes[old] == after.sizes[new]
    source, starts = row_positions(before.starts, old[same])
    goal, _ = row_positions(after.starts, new[same])
    apart = (before.points[before.corners[source]] != after.points[after.corners[goal]]).any(axis=1)
    differ = ~same
    if len(starts) > 1:
        differ[same] = np.logical_or.reduceat(apart, starts[:-1])
    return differ


def _grown(mesh: Mesh, faces: Bools, rings: int) -> Bools:
    """Some faces (F,) with those that have a vertex in common with them, so many times."""
    grown = faces
    for _ in range(rings):
        if not grown.any() or grown.all():
            return grown
        marked = np.zeros(mesh.vertex_count, dtype=bool)
        marked[mesh.corners[grown[mesh.face_of_corner]]] = True
        grown = np.logical_or.reduceat(marked[mesh.corners], mesh.starts[:-1])
    return grown


def _hard_anew(before: Mesh, after: Mesh, old: Ints, new: Ints) -> Bools:
    """The faces (F,) of a mesh, among those kept, at whose corners edges have another strength."""
    changed = np.zeros(after.face_count, dtype=bool)
    if len(before.hard) == len(after.hard) == 0:
        return changed
    # Told by the strength of the edge that leaves each corner.
    source, starts = row_positions(before.starts, old)
    goal, _ = row_positions(after.starts, new)
    if len(source) != len(goal):
        changed[new] = True
        return changed
    sharp = [_strength_of_corners(mesh) for mesh in (before, after)]
    apart = sharp[0][source] != sharp[1][goal]
    changed[new] = np.logical_or.reduceat(apart, starts[:-1]) if len(starts) > 1 else False
    return changed


def _strength_of_corners(mesh: Mesh) -> Floats:
    from_edges = np.zeros(len(mesh.edges))
    at = np.flatnonzero(mesh.edges.joining(mesh.hard))
    from_edges[at] = strengths_of_pairs(mesh, mesh.edges.ends[at])
    return from_edges[mesh.edges.of_corner]


def _runs(goal: Ints, source: Ints) -> Ints:
    """Corners that are taken over (n,) as runs (r, 3)."""
    if len(goal) == 0:
        return np.zeros((0, 3), dtype=np.int64)
    breaks = np.flatnonzero((np.diff(goal) != 1) | (np.diff(source) != 1)) + 1
    firsts = np.concatenate([[0], breaks])
    counts = np.diff(np.append(firsts, len(goal)))
    return np.column_stack([goal[firsts], source[firsts], counts])
