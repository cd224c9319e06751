"""Whether what a cut makes of the touched faces is sound, looked at once more before anything is built from it.

Whatever the ground is like, a cut either gives sound faces or is refused with the place: a face that names a vertex twice,
that has no width, or a new edge that does not lie between two faces is never returned.
"""

from __future__ import annotations

import numpy as np

from cutcore.arrays import Bools, Floats, Ints, next_in_row, owner_of, row_positions
from cutcore.errors import ImprintError
from cutcore.mesh import Mesh, newell
from cutcore.notes import face as face_element


def judge(
    mesh: Mesh,
    faces: Ints,
    parents: Ints,
    loops: Ints,
    loop_starts: Ints,
    loop_edges: Ints,
    places: Floats,
    on_edges: int,
    *,
    weld: float,
) -> None:
    """Raise ImprintError, naming the face, if the children of touched faces are not sound.

    `faces (T,)` are touched, `parents (L,)` says of each child which face it lies in; the children are vertices `loops` in
    rows `loop_starts (L+1,)` with the edges from corner to corner; `places (N, 3)` are the new
    vertices, the first `on_edges` of them on edges.
    """
    if len(loops) == 0:
        return
    wrong = _names_twice(loops, loop_starts) | (np.diff(loop_starts) < 3)
    points = _places_of(mesh, loops, places)
    following = points[next_in_row(loop_starts)] - points
    lengths = np.sqrt(np.einsum("ij,ij->i", following, following))
    thin = _thin(points, lengths, loop_starts, weld)
    if thin.any():
        wrong |= thin & ~np.isin(parents, _thin_before(mesh, faces, weld))
    # Corners nearer to one another than the tolerance, where a new vertex is one of them.
    fresh = loops >= mesh.vertex_count
    near = (lengths <= weld) & (fresh | fresh[next_in_row(loop_starts)])
    wrong[owner_of(loop_starts)[near]] = True
    wrong |= _sides_wrong(mesh, faces, loops, loop_starts, loop_edges, len(mesh.edges) + on_edges)
    if wrong.any():
        raise tangled(int(parents[int(np.argmax(wrong))]))


def tangled(face: int) -> ImprintError:
    """The refusal of lines that can't be laid into a face."""
    return ImprintError(f"face {face} is too bent or too narrow for the lines laid into it", elements=(face_element(face),))


def _names_twice(loops: Ints, starts: Ints) -> Bools:
    """Which rows (L,) name a vertex twice."""
    owner = owner_of(starts)
    key = np.sort(owner * (np.int64(loops.max()) + 1) + loops)
    wrong = np.zeros(len(starts) - 1, dtype=bool)
    wrong[key[1:][key[1:] == key[:-1]] // (np.int64(loops.max()) + 1)] = True
    return wrong


def _places_of(mesh: Mesh, loops: Ints, places: Floats) -> Floats:
    fresh = loops >= mesh.vertex_count
    points = mesh.points.take(np.where(fresh, 0, loops), axis=0)
    points[fresh] = places[loops[fresh] - mesh.vertex_count]
    return points


def _thin(points: Floats, lengths: Floats, starts: Ints, weld: float) -> Bools:
    """Which rows (L,) are no wider than the tolerance, as `problems` has it."""
    normals = newell(points, starts)
    twice = 2.0 * np.sqrt(np.einsum("ij,ij->i", normals, normals))
    return np.asarray(twice <= np.maximum.reduceat(lengths, starts[:-1]) * weld)


def _thin_before(mesh: Mesh, faces: Ints, weld: float) -> Ints:
    """Which of some faces had no width to begin with."""
    at, starts = row_positions(mesh.starts, faces)
    points = mesh.points[mesh.corners[at]]
    following = points[next_in_row(starts)] - points
    return faces[_thin(points, np.sqrt(np.einsum("ij,ij->i", following, following)), starts, weld)]


def _sides_wrong(mesh: Mesh, faces: Ints, loops: Ints, starts: Ints, edges: Ints, first_inner: int) -> Bools:
    """Which rows (L,) have a side that does not lie as it should.

    An edge that was there, or its pieces, has as many of the children beside it as of their parents; one inside a face has
    two, that run along it in opposite directions, and joins no two vertices that an edge has joined before.
    """
    at, _ = row_positions(mesh.starts, faces)
    before = mesh.edges.of_corner[at]
    wrong_edge = np.zeros(max(first_inner, int(edges.max()) + 1), dtype=bool)
    count = np.zeros(len(wrong_edge), dtype=np.int32)
    old = edges < len(mesh.edges)
    np.add.at(count, edges[old], 1)
    np.subtract.at(count, before, 1)
    # The pieces of a split edge: the first keeps its number.
    wrong_edge |= count != 0
    inner = edges >= first_inner
    ahead = loops[next_in_row(starts)]
    uses = np.bincount(edges[inner] - first_inner, minlength=len(wrong_edge) - first_inner)
    turns = np.bincount(edges[inner] - first_inner, np.where(loops[inner] < ahead[inner], 1, -1), minlength=len(wrong_edge) - first_inner)
    wrong_edge[first_inner:] |= (uses != 2) | (turns != 0)
    both_old = inner & (loops < mesh.vertex_count) & (ahead < mesh.vertex_count)
    if both_old.any():
        wrong_edge[edges[both_old][_joined(mesh, loops[both_old], ahead[both_old])]] = True
    wrong = np.zeros(len(starts) - 1, dtype=bool)
    wrong[owner_of(starts)[wrong_edge[edges]]] = True
    return wrong


def _joined(mesh: Mesh, a: Ints, b: Ints) -> Bools:
    """Which pairs of vertices (n,) an edge joins."""
    here = np.zeros(mesh.vertex_count, dtype=bool)
    here[a] = here[b] = True
    ends = mesh.edges.ends
    ends = ends[here[ends[:, 0]] & here[ends[:, 1]]].astype(np.int64)
    count = np.int64(mesh.vertex_count)
    keys = np.minimum(a, b) * count + np.maximum(a, b)
    return np.isin(keys, ends[:, 0] * count + ends[:, 1])
