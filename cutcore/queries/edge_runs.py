"""Edges as runs of vertices."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.mesh.mesh import Mesh


def edge_runs(mesh: Mesh, edges: Ints) -> list[tuple[Ints, bool]]:
    """Edges as runs of vertices and whether they close; runs end where other than two of the edges
    meet."""
    beside: dict[int, list[int]] = {}
    for a, b in mesh.edges.ends[edges].tolist():
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
