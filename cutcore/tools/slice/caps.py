"""Caps: close the openings that a plane cut has left, with n-gons."""

from __future__ import annotations

import numpy as np

from cutcore.errors import ImprintError
from cutcore.geometry.arrays import Ints, cross
from cutcore.geometry.chart import Chart
from cutcore.geometry.plane import Plane
from cutcore.geometry.polygons import inside_loop, loop_area
from cutcore.imprint.arrangement import FaceLines, arrange, is_simple
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.submesh import with_faces
from cutcore.mesh.triangles import place_inside
from cutcore.notes import Note, position
from cutcore.queries.border_loops import border_loops

UNCAPPED = Note("opening-left-open", "An opening could not be closed: its border does not lie flat or crosses itself.")


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
