"""Rails: the edges on either side of a chain that its vertices can slide along."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.vectors import unit
from cutcore.mesh.mesh import Mesh
from cutcore.notes import vertex as vertex_element
from cutcore.queries.fans import Fan, fans_of


@dataclass(frozen=True, eq=False)
class Rails:
    """Where vertices can slide to: the `vertices` (n,), and the ends of their edges to the `left` and
    `right` (n,), -1 where none leaves there."""

    vertices: Ints
    left: Ints
    right: Ints


def rails_of_chains(mesh: Mesh, edges: Ints) -> Rails:
    """The rails of chains of edges (n,), open or closed; left and right as seen along each, from
    outside.

    Of several edges on one side the middle one is taken, of two the one more square to the chain.
    Raises StepError where a chain forks, with the vertex, or there is no going round one."""
    at: dict[int, list[int]] = {}
    for edge in edges.tolist():
        for vertex in mesh.edges.ends[edge].tolist():
            at.setdefault(vertex, []).append(edge)
    forks = [vertex for vertex, there in at.items() if len(there) > 2]
    if forks:
        words = "the picked edges fork at this vertex: which way it would slide nobody can say"
        raise StepError(words, where="edges", elements=(vertex_element(forks[0]),))
    rows: list[tuple[int, int, int]] = []
    left_over = set(at)
    for start in sorted(at, key=lambda vertex: (len(at[vertex]), vertex)):
        if start not in left_over:
            continue
        vertex, back = start, -1
        # A loop is closed by the edge that is not the one it began with.
        if len(at[start]) == 2:
            back = max(at[start], key=lambda edge: _other(mesh, edge, start))
        while vertex in left_over:
            left_over.remove(vertex)
            out = next((edge for edge in at[vertex] if edge != back), -1)
            rows.append((vertex, *_beside(mesh, vertex, back, out)))
            if out < 0:
                break
            vertex, back = _other(mesh, out, vertex), out
    found = np.array(rows, dtype=np.int64).reshape(-1, 3)
    return Rails(found[:, 0], found[:, 1], found[:, 2])


def rails_along(mesh: Mesh, vertices: Ints, direction: Floats) -> Rails:
    """The rails of single vertices (n,): the edges that leave most along a direction, to the left,
    and most against it."""
    way = unit(direction)
    rows = []
    for vertex in vertices.tolist():
        around = mesh.edges.at_vertex(vertex).tolist()
        ends = [_other(mesh, edge, vertex) for edge in around]
        lean = [float(unit(mesh.points[end] - mesh.points[vertex]) @ way) for end in ends]
        best, worst = (ends[int(np.argmax(lean))], ends[int(np.argmin(lean))]) if ends else (-1, -1)
        rows.append(
            (best if ends and max(lean) > 0 else -1, worst if ends and min(lean) < 0 else -1)
        )
    found = np.array(rows, dtype=np.int64).reshape(-1, 2)
    return Rails(vertices, found[:, 0], found[:, 1])


def _beside(mesh: Mesh, vertex: int, back: int, out: int) -> tuple[int, int]:
    """The far ends of the edges to the left and right of a chain that comes by one edge and leaves by
    another, -1 for none of these."""
    known = back if back >= 0 else out
    fan = next(fan for fan in fans_of(mesh, vertex) if known in fan.edges)
    if back < 0 or out < 0:
        ahead, behind = _neighbours(fan, known)
        left, right = (ahead, behind) if back < 0 else (behind, ahead)
        return _end(mesh, left, vertex), _end(mesh, right, vertex)
    if out not in fan.edges:
        return -1, -1
    tangent = _way(mesh, vertex, out) - _way(mesh, vertex, back)
    sides = _between(fan, out, back), _between(fan, back, out)
    left, right = (_chosen(mesh, vertex, side, tangent) for side in sides)
    return _end(mesh, left, vertex), _end(mesh, right, vertex)


def _neighbours(fan: Fan, edge: int) -> tuple[int, int]:
    """The edges after and before one, counter-clockwise; -1 past a border."""
    at, count = fan.edges.index(edge), len(fan.edges)
    if fan.open:
        return (
            fan.edges[at + 1] if at + 1 < count else -1,
            fan.edges[at - 1] if at > 0 else -1,
        )
    return (fan.edges[(at + 1) % count], fan.edges[at - 1]) if count > 1 else (-1, -1)


def _between(fan: Fan, first: int, last: int) -> list[int]:
    """The edges after one and before another, counter-clockwise; none past a border."""
    a, b, count = fan.edges.index(first), fan.edges.index(last), len(fan.edges)
    if a < b:
        return list(fan.edges[a + 1 : b])
    return [] if fan.open else [fan.edges[k % count] for k in range(a + 1, b + count)]


def _chosen(mesh: Mesh, vertex: int, edges: list[int], tangent: Floats) -> int:
    if not edges:
        return -1
    half = len(edges) // 2
    middle = edges[half : half + 1] if len(edges) % 2 else edges[half - 1 : half + 1]
    return min(middle, key=lambda edge: abs(float(_way(mesh, vertex, edge) @ tangent)))


def _way(mesh: Mesh, vertex: int, edge: int) -> Floats:
    return unit(mesh.points[_other(mesh, edge, vertex)] - mesh.points[vertex])


def _end(mesh: Mesh, edge: int, vertex: int) -> int:
    return -1 if edge < 0 else _other(mesh, edge, vertex)


def _other(mesh: Mesh, edge: int, vertex: int) -> int:
    a, b = mesh.edges.ends[edge].tolist()
    return int(b if a == vertex else a)
