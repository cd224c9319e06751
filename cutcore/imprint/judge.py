"""Whether what a cut makes of the touched faces is sound, looked at once more before anything is
built from it.

Whatever the ground is like, a cut either gives sound faces or is refused with the place: a face
that names a vertex twice, that has no width, a new edge that does not lie between two faces, or a
piece that crosses itself or is turned over, seen square to the face it is of, is never returned.
A face that crosses itself so to begin with has pieces that may, too."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

import numpy as np

from cutcore.errors import ImprintError
from cutcore.geometry.arrays import (
    Bools,
    Floats,
    Ints,
    distinct,
    next_in_row,
    owner_of,
    row_positions,
)
from cutcore.kernels import askew_rows, crossed_rows, unsound_rows, wrong_sides
from cutcore.mesh.mesh import Mesh
from cutcore.notes import face as face_element

# From so many children on a second thread looks at some: the loops let others run meanwhile. The
# first looks at the larger share of them, while the second looks at their sides, too.
MANY_ROWS = 20_000
OWN_SHARE = 0.66


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
    lifted: bool,
) -> None:
    """Raise ImprintError, naming the face, if the children of touched faces are not sound.

    `faces (T,)` are touched, `parents (L,)` says of each child which face it lies in; the children
    are vertices `loops` in rows `loop_starts (L+1,)` with the edges from corner to corner; `places
    (N, 3)` are the new vertices, the first `on_edges` of them on edges, `lifted` off it or not."""
    if len(loops) == 0:
        return
    rows = len(loop_starts) - 1
    wrong, thin, turned, crossed, crooked = np.zeros((5, rows), dtype=bool)
    first_inner = len(mesh.edges) + on_edges

    def look_at_rows(begin: int, end: int) -> None:
        at = slice(begin, end)
        starts = loop_starts[begin : end + 1]
        unsound_rows(mesh.points, places, loops, starts, weld, wrong[at], thin[at])
        of_mesh = (parents[at], mesh.starts, mesh.corners)
        askew_rows(mesh.points, places, loops, starts, *of_mesh, lifted, turned[at], crossed[at])

    def look_at_sides() -> bool:
        uses, turns = np.zeros((2, max(first_inner, int(loop_edges.max()) + 1)), dtype=np.int8)
        laid = (loops, loop_starts, loop_edges, faces, mesh.starts, mesh.edges.of_corner)
        count = (len(mesh.edges), first_inner, mesh.vertex_count)
        return bool(wrong_sides(*laid, *count, uses, turns, crooked))

    if rows < MANY_ROWS:
        look_at_rows(0, rows)
        joins_old = look_at_sides()
    else:
        own = int(rows * OWN_SHARE)
        with ThreadPoolExecutor(1) as other:
            rest = other.submit(look_at_rows, own, rows)
            sides = other.submit(look_at_sides)
            look_at_rows(0, own)
        rest.result()
        joins_old = sides.result()
    if thin.any():
        wrong |= thin & ~np.isin(parents, _thin_before(mesh, faces, weld))
    if turned.any():
        wrong |= turned & ~np.isin(parents, _thin_before(mesh, faces, weld))
    if crossed.any():
        wrong |= crossed & ~np.isin(parents, _crossed_before(mesh, faces))
    wrong |= crooked
    if joins_old:
        wrong |= _doubled(mesh, loops, loop_starts, loop_edges >= first_inner)
    if wrong.any():
        raise tangled(*distinct(parents[wrong]).tolist())


def _crossed_before(mesh: Mesh, faces: Ints) -> Ints:
    """Which of some faces crossed themselves to begin with, seen square to themselves."""
    at, starts = row_positions(mesh.starts, faces)
    places = mesh.points[mesh.corners[at]]
    return faces[crossed_rows(places, starts, mesh.face_normals(faces))]


def tangled(face: int, *others: int) -> ImprintError:
    """The refusal of lines that can't be laid into a face, and into others."""
    return ImprintError(
        f"face {face} is too bent or too narrow for the lines laid into it",
        elements=tuple(face_element(f) for f in (face, *others)),
    )


def _thin_before(mesh: Mesh, faces: Ints, weld: float) -> Ints:
    """Which of some faces had no width to begin with."""
    at, starts = row_positions(mesh.starts, faces)
    wrong, thin = np.zeros((2, len(faces)), dtype=bool)
    unsound_rows(mesh.points, mesh.points[:0], mesh.corners[at], starts, weld, wrong, thin)
    return faces[thin]


def _doubled(mesh: Mesh, loops: Ints, starts: Ints, inner: Bools) -> Bools:
    """Which rows (L,) have a side inside a face that joins two vertices which an edge joins
    already."""
    ahead = loops[next_in_row(starts)]
    sides = np.flatnonzero(inner & (loops < mesh.vertex_count) & (ahead < mesh.vertex_count))
    wrong = np.zeros(len(starts) - 1, dtype=bool)
    wrong[owner_of(starts)[sides[_joined(mesh, loops[sides], ahead[sides])]]] = True
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
