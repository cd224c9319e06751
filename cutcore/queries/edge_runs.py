"""Edges as runs of vertices."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from cutcore.geometry.arrays import Bools, Ints
from cutcore.geometry.vectors import unit, units
from cutcore.mesh.mesh import Mesh


def edge_runs(mesh: Mesh, edges: Ints) -> list[tuple[Ints, bool]]:
    """Edges as runs of vertices and whether they close; runs end where other than two of the edges
    meet."""
    return runs_of_pairs(mesh.edges.ends[edges])


def runs_of_pairs(pairs: Ints) -> list[tuple[Ints, bool]]:
    """Pairs (n, 2) of things as runs of them and whether they close, as `edge_runs` gives them."""
    beside: dict[int, list[int]] = {}
    for a, b in pairs.tolist():
        beside.setdefault(a, []).append(b)
        beside.setdefault(b, []).append(a)
    fork = {v for v, others in beside.items() if len(others) != 2}
    runs: list[tuple[Ints, bool]] = []
    for start in [*sorted(fork), *sorted(set(beside) - fork)]:
        while beside[start]:
            run = [start]
            while True:
                goal = beside[run[-1]].pop(0)
                beside[goal].remove(run[-1])
                run.append(goal)
                if goal in fork or goal == start or not beside[goal]:
                    break
            closed = run[0] == run[-1] and len(run) > 3
            runs.append((np.array(run[:-1] if closed else run), closed))
    return runs


def straight_run(
    mesh: Mesh, edges: tuple[tuple[int, int], ...], flatness: float, among: Bools
) -> tuple[tuple[int, int], ...]:
    """A chain of edges carried on at both ends, from vertex to vertex, as far as some edge `among`
    (E,) those that are meant runs on straight: the cosine of the bend is at least `flatness`."""
    run = [edges[0][0], *(b for _, b in edges)]
    for _ in range(2):
        seen = set(run)
        while True:
            ahead = unit(mesh.points[run[-1]] - mesh.points[run[-2]])
            here = mesh.edges.at_vertex(run[-1])
            around = mesh.edges.ends[here[among[here]]]
            if len(around) == 0:
                break
            others = around.sum(axis=1) - run[-1]
            ways = units(mesh.points[others] - mesh.points[run[-1]])
            best = int(np.argmax(ways @ ahead))
            if ways[best] @ ahead < flatness or int(others[best]) in seen:
                break
            run.append(int(others[best]))
            seen.add(run[-1])
        run.reverse()
    return tuple(pairwise(run))
