"""Picks carried through an operation: what they have become in the mesh it made."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.tolerance import weld_of


def _nothing() -> Ints:
    return np.zeros(0, dtype=np.int64)


@dataclass(frozen=True, eq=False)
class Pick:
    """Picked elements of one mesh, ascending."""

    vertices: Ints = field(default_factory=_nothing)
    edges: Ints = field(default_factory=_nothing)
    faces: Ints = field(default_factory=_nothing)


def carried(before: Mesh, result: Result, pick: Pick) -> Pick:
    """The same pick in the mesh that a result holds: all children of picked faces, all pieces of
    picked edges."""
    if not (len(pick.vertices) or len(pick.edges) or len(pick.faces)):
        return pick
    after, origin = result.mesh, result.origin
    number = np.full(before.vertex_count, -1, dtype=np.int64)
    old = np.flatnonzero(origin.vertex >= 0)
    number[origin.vertex[old]] = old
    vertices = number[pick.vertices]
    faces = np.flatnonzero((origin.face >= 0) & np.isin(origin.face, pick.faces))
    edges = [
        e
        for edge in pick.edges.tolist()
        for e in _pieces(before, after, origin.vertex, number, edge)
    ]
    return Pick(np.sort(vertices[vertices >= 0]), np.unique(np.array(edges, dtype=np.int64)), faces)


def _pieces(before: Mesh, after: Mesh, origin: Ints, number: Ints, edge: int) -> list[int]:
    """The edges of the new mesh that lie on an edge of the old one, walked from end to end over new
    vertices."""
    a, b = (int(number[v]) for v in before.edges.ends[edge])
    if a < 0 or b < 0:
        return []
    found: list[int] = []
    end = before.points[before.edges.ends[edge, 1]]
    at = a
    while at != b:
        step = _next_along(after, origin, at, b, end, weld_of(before))
        if step is None:
            return []
        found.append(step[0])
        at = step[1]
    return found


def _next_along(
    mesh: Mesh, origin: Ints, vertex: int, goal: int, end: np.ndarray, weld: float
) -> tuple[int, int] | None:
    here = mesh.points[vertex]
    size = float(np.linalg.norm(end - here))
    for edge in mesh.edges.at_vertex(vertex).tolist():
        p, q = (int(v) for v in mesh.edges.ends[edge])
        other = q if p == vertex else p
        if other == goal:
            return edge, other
        away = mesh.points[other] - here
        share = float(away @ (end - here)) / max(size**2, NOT_ZERO)
        if (
            origin[other] < 0
            and 0.0 < share < 1.0
            and float(np.linalg.norm(away - share * (end - here))) <= 10 * weld
        ):
            return edge, other
    return None
