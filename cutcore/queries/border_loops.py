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
    for start, goal in _against(mesh, np.asarray(pairs, dtype=np.int64)).tolist():
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


def _against(mesh: Mesh, pairs: Ints) -> Ints:
    """Border edges, as pairs of vertices (n, 2), against the direction of the face beside each."""
    corner = np.flatnonzero(mesh.edges.border[mesh.edges.of_corner])
    face = mesh.face_of_corner[corner]
    ahead = np.where(corner + 1 < mesh.starts[face + 1], corner + 1, mesh.starts[face])
    runs = mesh.corners[np.stack([ahead, corner], axis=1)].astype(np.int64)
    weights = np.array([mesh.vertex_count, 1])
    keys = np.sort(runs, axis=1) @ weights
    order = np.argsort(keys, kind="stable")
    return runs[order[np.searchsorted(keys[order], np.sort(pairs, axis=1) @ weights)]]
