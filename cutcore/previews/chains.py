"""The spans of a trace as runs, for drawing each as one path."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.trace.trace import Trace


@dataclass(frozen=True, eq=False)
class Chain:
    """A run of spans of one line, for drawing as one path: `anchors (n,)` of the trace."""

    line: int
    far: bool
    trimmed: bool
    anchors: np.ndarray


def chains_of(trace: Trace) -> list[Chain]:
    """The spans of a trace as runs."""
    neighbours: dict[tuple[int, bool, bool], dict[int, list[int]]] = {}
    for (a, b), *of in zip(
        trace.ends.tolist(),
        trace.line.tolist(),
        trace.far.tolist(),
        trace.trimmed.tolist(),
        strict=True,
    ):
        near = neighbours.setdefault((of[0], of[1], of[2]), {})
        near.setdefault(a, []).append(b)
        near.setdefault(b, []).append(a)
    chains = []
    for of_run, near in neighbours.items():
        degree = {node: len(others) for node, others in near.items()}
        # Runs begin at ends and forks; what is left over is closed.
        for start in sorted(near, key=lambda node: degree[node] == 2):
            while near[start]:
                run = [start]
                while True:
                    goal = near[run[-1]].pop(0)
                    near[goal].remove(run[-1])
                    run.append(goal)
                    if degree[goal] != 2 or not near[goal]:
                        break
                chains.append(Chain(*of_run, np.array(run)))
    return chains
