"""Make groups of vertices one: what collapse and weld have in common."""

from __future__ import annotations

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import (
    Bools,
    Floats,
    Ints,
    next_in_row,
    owner_of,
    row_positions,
    starts_of,
)
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.notes import Note, face


def merge_vertices(mesh: Mesh, goal: Ints, points: Floats, notes: tuple[Note, ...] = ()) -> Result:
    """The mesh with every vertex v replaced by goal[v] (V,), whose place becomes points[goal[v]]
    (V, 3).

    Corners that fall together with the next are dropped, faces left with fewer than three different
    corners too, and two faces that fall onto one another, back to back. A face that would touch
    itself at a vertex is parted there into simple faces. Vertices that were merged into others, or
    whose last face vanished, go; the rest keep their order."""
    corner = goal[mesh.corners]
    following = corner[next_in_row(mesh.starts)]
    keep = corner != following
    touched = np.unique(mesh.face_of_corner[(corner != mesh.corners)])
    sizes = np.bincount(mesh.face_of_corner[keep], minlength=mesh.face_count)

    owner = owner_of(mesh.starts)[keep]
    place = np.flatnonzero(keep)
    starts = starts_of(sizes)
    special = {
        int(f): _simple_loops(
            corner[place[starts[f] : starts[f + 1]]], place[starts[f] : starts[f + 1]]
        )
        for f in touched
    }
    plain = np.ones(mesh.face_count, dtype=bool)
    plain[touched] = False

    rows: list[Ints] = []
    parents: list[int] = []
    lost: list[int] = []
    further: list[tuple[int, Ints]] = []
    for f, loops in special.items():
        if loops:
            rows.append(loops[0])
            parents.append(f)
            further += [(f, loop) for loop in loops[1:]]
        else:
            lost.append(f)
    flat_pairs = _back_to_back(corner, [*rows, *(loop for _, loop in further)])
    if flat_pairs:
        lost += [parents[k] for k in flat_pairs if k < len(rows)]
        further = [one for k, one in enumerate(further, len(rows)) if k not in flat_pairs]
        parents = [f for k, f in enumerate(parents) if k not in flat_pairs]
        rows = [row for k, row in enumerate(rows) if k not in flat_pairs]
    if plain.sum() + len(parents) == 0:
        raise StepError("nothing of the part would be left")
    at = [place[plain[owner]], *rows, *(loop for _, loop in further)]
    parent = np.concatenate([np.flatnonzero(plain), np.array(parents, dtype=np.int64)])
    row_sizes = np.concatenate([sizes[plain], np.array([len(r) for r in rows], dtype=np.int64)])
    flat, first = np.concatenate(at[: 1 + len(rows)]), starts_of(row_sizes)
    # Faces keep their order; only the further loops of a parted face come last.
    order = np.argsort(parent, kind="stable")
    cells = row_positions(first, order)[0]
    corners_at = (
        np.concatenate([flat[cells], *(loop for _, loop in further)]) if len(flat) else flat
    )
    new_sizes = np.concatenate(
        [row_sizes[order], np.array([len(loop) for _, loop in further], dtype=np.int64)]
    )
    face_from = np.concatenate([parent[order], np.array([f for f, _ in further], dtype=np.int64)])
    # Who was merged goes, and who was in a face and is in none any more.
    in_a_face = np.zeros(mesh.vertex_count, dtype=bool)
    in_a_face[corner[corners_at]] = True
    stays = (goal == np.arange(mesh.vertex_count)) & (in_a_face | ~mesh.used)
    number = np.full(mesh.vertex_count, -1, dtype=np.int64)
    number[stays] = np.arange(int(stays.sum()))
    made = mesh.rebuilt(
        points[stays],
        starts_of(new_sizes),
        number[corner[corners_at]],
        edge_data=mesh.edge_data.renumbered(number[goal]),
        faces_from=face_from,
        corners_from=corners_at,
    )
    kept = np.full(mesh.face_count, -1, dtype=np.int64)
    moved: Bools = (points != mesh.points).any(axis=1)
    still = plain & ~np.logical_or.reduceat(moved[mesh.corners], mesh.starts[:-1])
    untouched = np.flatnonzero(still[face_from])
    kept[face_from[untouched]] = untouched
    if lost:
        notes = (
            *notes,
            Note(
                "faces-vanished",
                f"{len(lost)} faces had no corners left and vanished.",
                tuple(face(f) for f in lost[:50]),
            ),
        )
    return Result(made, Origin(face_from, np.flatnonzero(stays), kept), Picked(), notes)


def _back_to_back(corner: Ints, rows: list[Ints]) -> set[int]:
    """Which of some loops (corner places) lie on one another, the one run backwards: they enclose
    nothing."""
    waiting: dict[tuple[int, ...], int] = {}
    found: set[int] = set()
    for k, row in enumerate(rows):
        loop = corner[row].tolist()
        first = loop.index(min(loop))
        ahead = tuple(loop[first:] + loop[:first])
        back = (ahead[0], *ahead[:0:-1])
        other = waiting.pop(back, None)
        if other is None:
            waiting[ahead] = k
        else:
            found |= {k, other}
    return found


def _simple_loops(loop: Ints, place: Ints) -> list[Ints]:
    """The corner places of a closed loop of vertices, parted where a vertex comes twice; loops of
    two vanish."""
    found: list[Ints] = []
    path: list[int] = []
    position: dict[int, int] = {}
    for vertex, at in zip(loop.tolist(), place.tolist(), strict=True):
        if vertex in position:
            start = position[vertex]
            closed = path[start:]
            if len(closed) > 2:
                found.append(np.array(closed))
            for left, where in list(position.items()):
                if where > start:
                    del position[left]
            del path[start + 1 :]
        else:
            position[vertex] = len(path)
            path.append(at)
    if len(path) > 2:
        found.append(np.array(path))
    return found[::-1]
