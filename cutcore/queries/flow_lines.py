"""The loop an edge lies on and the ring across it, whole: how long they run, where they end and
why."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats
from cutcore.mesh.mesh import Mesh
from cutcore.queries.edge_rings import edge_ring
from cutcore.queries.follow import continued


@dataclass(frozen=True, eq=False)
class FlowLine:
    """A loop along edges, or a ring across them.

    path    (n, 3) the vertices of a loop, the halves of a ring's edges, in order
    closed         it comes back to where it began
    count          how many edges it has
    length         how long its path is
    ends           why it ends, at its beginning and its end; none if it closes
    """

    path: Floats
    closed: bool
    count: int
    length: float
    ends: tuple[str, ...]


def loop_line(mesh: Mesh, edge: int) -> FlowLine:
    """The loop of an edge: straight on at vertices with four edges."""
    a, b = (int(v) for v in mesh.edges.ends[edge])
    forward, stop = _walk(mesh, edge, b)
    if stop is None:
        return _line(mesh.points[forward], closed=True, count=len(forward), ends=())
    backward, begin = _walk(mesh, edge, a)
    run = [*backward[::-1], *forward]
    return _line(mesh.points[run], closed=False, count=len(run) - 1, ends=(begin or stop, stop))


def loop_edges(mesh: Mesh, edge: int) -> set[int]:
    """The edges of the loop of an edge, itself among them."""
    found = {edge}
    for end in mesh.edges.ends[edge].tolist():
        vertices, _ = _walk(mesh, edge, end)
        found.update(mesh.edges.between(a, b) for a, b in pairwise(vertices))
    return found


def _walk(mesh: Mesh, edge: int, vertex: int) -> tuple[list[int], str | None]:
    """The vertices from one end of an edge on, that end first, until the loop ends, with why; or
    until it comes back to the edge, without."""
    found, at = [vertex], edge
    while True:
        goal = continued(mesh, at, vertex)
        if goal < 0:
            return found, _why(mesh, vertex)
        at, vertex = mesh.edges.between(vertex, goal), goal
        if at == edge:
            return found, None
        found.append(vertex)


def _why(mesh: Mesh, vertex: int) -> str:
    around = mesh.edges.at_vertex(vertex)
    if any(int(e) in mesh.edges.crowded for e in around):
        return "at an edge with more than two faces"
    if mesh.edges.border[around].any():
        return "at the boundary of the part"
    if len(around) == 2:
        return "at a stray vertex"
    return f"at a pole of {len(around)}" if len(around) != 4 else "where the faces are no quads"


def ring_line(mesh: Mesh, edge: int) -> FlowLine:
    """The ring across an edge."""
    try:
        ring = edge_ring(mesh, edge, int(mesh.edges.ends[edge, 0]), None)
    except StepError as refusal:
        middle = mesh.points[mesh.edges.ends[edge]].mean(axis=0)[None]
        return _line(middle, closed=False, count=1, ends=(refusal.words.split(": ")[-1],))
    halves = mesh.points[mesh.edges.ends[ring.edges]].mean(axis=1)
    ends = tuple(note.words.rstrip(".").removeprefix("It ends ") for note in ring.stops)
    return _line(halves, closed=ring.closed, count=len(ring.edges), ends=ends)


def _line(path: Floats, *, closed: bool, count: int, ends: tuple[str, ...]) -> FlowLine:
    whole = np.concatenate([path, path[:1]]) if closed else path
    length = float(np.linalg.norm(np.diff(whole, axis=0), axis=1).sum())
    return FlowLine(path, closed, count, length, tuple(dict.fromkeys(ends)))
