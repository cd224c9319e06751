"""Caps: close the openings that a plane cut has left, with n-gons."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Ints, cross
from cutcore.geometry.chart import Chart
from cutcore.geometry.plane import Plane
from cutcore.geometry.polygons import inside_loop, loop_area
from cutcore.geometry.vectors import least_axis
from cutcore.imprint.arrangement import is_simple
from cutcore.imprint.lids import faces_between
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.submesh import with_faces, with_lids
from cutcore.notes import Note, position
from cutcore.queries.border_loops import border_loops

UNCAPPED = Note(
    "opening-left-open",
    "An opening could not be closed: its boundary does not lie flat or crosses itself.",
)


def capped(
    mesh: Mesh, openings: Ints, plane: Plane, *, weld: float
) -> tuple[Mesh, int, list[Note]]:
    """Close the openings along border edges, given as vertex pairs (n, 2), with faces that look
    along the normal.

    An opening inside an opening gives a ring tied by two links. Returns the mesh, how many faces it
    has more (they come last), and notes on openings that could not be closed."""
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
    beside = _FacesBeside(mesh)
    for k in outer:
        if is_simple(flat[k]):
            faces = faces_between(
                mesh.points, loops[k], [loops[h] for h in holes[k]], chart, weld=weld
            )
            # Loops that run twice along an edge leave room for one face there; an opening without
            # holes is closed along its own edges only, which have room.
            if not holes[k] or beside.take(faces):
                made += faces
    if not notes and (left := _left_open(openings, made)) is not None:
        notes.append(
            Note(UNCAPPED.code, UNCAPPED.words, (position(mesh.points[list(left)].mean(axis=0)),))
        )
    lidded = with_faces if any(holes.values()) else with_lids
    return lidded(mesh, made), len(made), notes


class _FacesBeside:
    """How many faces there are at an edge, with those that were taken to be made, and which way
    these run along it."""

    def __init__(self, mesh: Mesh) -> None:
        self._mesh = mesh
        self._more: dict[tuple[int, int], int] = {}
        self._ways: set[tuple[int, int]] = set()

    def take(self, faces: list[Ints]) -> bool:
        """Take some faces to be made, given as loops of vertices; not if an edge would get more
        than two by them, or two that run the same way."""
        more, ways = dict(self._more), set(self._ways)
        for loop in faces:
            for a, b in zip(loop.tolist(), np.roll(loop, -1).tolist(), strict=True):
                if (a, b) in ways or self._runs(a, b):
                    return False
                ways.add((a, b))
                side = (min(a, b), max(a, b))
                if side not in more:
                    edge = self._mesh.edges.between(*side)
                    more[side] = 0 if edge < 0 else len(self._mesh.edges.faces_at(edge))
                more[side] += 1
                if more[side] > 2:
                    return False
        self._more, self._ways = more, ways
        return True

    def _runs(self, a: int, b: int) -> bool:
        """Whether the one face there is at an edge runs from one vertex to the other."""
        edge = self._mesh.edges.between(a, b)
        there = () if edge < 0 else self._mesh.edges.faces_at(edge)
        if len(there) != 1:
            return False
        loop = self._mesh.face(there[0]).tolist()
        return bool(loop[(loop.index(a) + 1) % len(loop)] == b)


def _left_open(openings: Ints, made: list[Ints]) -> tuple[int, int] | None:
    """The first border edge, of pairs (n, 2), that no cap has as a side."""
    sides = {
        tuple(sorted(side))
        for loop in made
        for side in zip(loop.tolist(), np.roll(loop, -1).tolist(), strict=True)
    }
    return next(
        ((a, b) for a, b in np.sort(openings, axis=1).tolist() if (a, b) not in sides), None
    )


def _chart(plane: Plane) -> Chart:
    helper = least_axis(plane.normal)
    right = cross(helper, plane.normal)
    right /= np.linalg.norm(right)
    return Chart(plane.point, right, cross(plane.normal, right), plane.normal)
