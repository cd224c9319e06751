"""Borders as loops of vertices."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.mesh.mesh import Mesh


def border_loops(mesh: Mesh, pairs: Ints) -> list[Ints]:
    """Loops of vertices along border edges given as pairs (n, 2), each against the direction of the
    face beside it.

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
