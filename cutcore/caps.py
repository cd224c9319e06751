"""Caps: close the openings that a plane cut has left, with n-gons."""

from __future__ import annotations

import numpy as np

from cutcore.arrays import Ints, cross
from cutcore.errors import ImprintError
from cutcore.imprint.arrangement import FaceLines, arrange, is_simple
from cutcore.inside import inside_loop, loop_area
from cutcore.mesh import Mesh
from cutcore.notes import Note, position
from cutcore.plane import Plane
from cutcore.triangles import Chart, place_inside

UNCAPPED = Note("opening-left-open", "An opening could not be closed: its border does not lie flat or crosses itself.")


def border_loops(mesh: Mesh, pairs: Ints) -> list[Ints]:
    """Loops of vertices along border edges given as pairs (n, 2), each against the direction of the face beside it.

    Where a vertex joins more than two of the edges, loops part: none names a vertex twice.
    """
    following: dict[int, list[int]] = {}
    for low, high in pairs.tolist():
        edge = mesh.edges.between(low, high)
        loop = mesh.face(int(mesh.edges.faces[edge, 0])).tolist()
        forward = loop[(loop.index(low) + 1) % len(loop)] == high
        start, goal = (high, low) if forward else (low, high)
        following.setdefault(start, []).append(goal)
    loops: list[Ints] = []
    for start in sorted(following):
        path, position = [start], {start: 0}
        while following.get(path[-1]):
            goal = following[path[-1]].pop(0)
            if goal in position:
                closed = path[position[goal] :]
                if len(closed) > 2:
                    loops.append(np.array(closed))
                for left in closed[1:]:
                    del position[left]
                del path[position[goal] + 1 :]
            else:
                position[goal] = len(path)
                path.append(goal)
    return loops


def capped(mesh: Mesh, openings: Ints, plane: Plane, *, weld: float) -> tuple[Mesh, int, list[Note]]:
    """Close the openings along border edges, given as vertex pairs (n, 2), with faces that look along the normal.

    An opening inside an opening gives a ring tied by two links. Returns the mesh, how many faces it has
    more (they come last), and notes on openings that could not be closed.
    """
    chart = _chart(plane)
    loops = border_loops(mesh, openings)
    flat = [chart.flatten(mesh.points[loop]) for loop in loops]
    area = [loop_area(places) for places in flat]
    outer = [k for k in range(len(loops)) if area[k] > 0]
    holes: dict[int, list[int]] = {k: [] for k in outer}
    notes: list[Note] = []
    for k in range(len(loops)):
        if area[k] > 0:
            continue
        around = [o for o in outer if bool(inside_loop(flat[o], flat[k][:1])[0])]
        if around:
            holes[min(around, key=lambda o: area[o])].append(k)
        else:
            notes.append(Note(UNCAPPED.code, UNCAPPED.words, (position(mesh.points[loops[k][0]]),)))
    made: list[Ints] = []
    for k in outer:
        if not is_simple(flat[k]):
            continue
        if not holes[k]:
            made.append(loops[k])
            continue
        nodes = np.concatenate([loops[k], *(loops[h] for h in holes[k])])
        segments, first = [], len(loops[k])
        for h in holes[k]:
            ring = first + np.arange(len(loops[h]))
            segments.append(np.stack([ring, np.roll(ring, -1)], axis=1))
            first += len(ring)
        lines = FaceLines(-1, mesh.points[nodes], len(loops[k]), np.concatenate(segments))
        try:
            children = arrange(lines, weld=weld).children
        except ImprintError:
            # A hole that touches its surround, or crosses it.
            continue
        for child in children:
            middle = chart.flatten(place_inside(mesh.points[nodes[child]])[None])
            if not any(inside_loop(flat[h], middle)[0] for h in holes[k]):
                made.append(nodes[child])
    if not notes and (left := _left_open(openings, made)) is not None:
        notes.append(Note(UNCAPPED.code, UNCAPPED.words, (position(mesh.points[list(left)].mean(axis=0)),)))
    return with_faces(mesh, made), len(made), notes


def _left_open(openings: Ints, made: list[Ints]) -> tuple[int, int] | None:
    """The first border edge, of pairs (n, 2), that no cap has as a side."""
    sides = {tuple(sorted(side)) for loop in made for side in zip(loop.tolist(), np.roll(loop, -1).tolist(), strict=True)}
    return next(((a, b) for a, b in np.sort(openings, axis=1).tolist() if (a, b) not in sides), None)


def _chart(plane: Plane) -> Chart:
    helper = np.eye(3)[int(np.argmin(np.abs(plane.normal)))]
    right = cross(helper, plane.normal)
    right /= np.linalg.norm(right)
    return Chart(plane.point, right, cross(plane.normal, right), plane.normal)


def with_faces(mesh: Mesh, loops: list[Ints]) -> Mesh:
    """The mesh with further faces, given as loops of vertices; they come last and have no attributes."""
    if not loops:
        return mesh
    added = np.concatenate(loops)
    starts = np.concatenate([mesh.starts, mesh.starts[-1] + np.cumsum([len(loop) for loop in loops])])
    none = np.full(len(loops), -1)
    uv = None if mesh.uv is None else np.concatenate([mesh.uv, np.full((len(added), 2), np.nan)])
    return Mesh(
        mesh.points,
        starts,
        np.concatenate([mesh.corners, added]),
        uv,
        np.concatenate([mesh.material, none]),
        np.concatenate([mesh.patch, none]),
        mesh.materials,
        mesh.patches,
        mesh.hard,
    )
