"""Edges at which the UVs of the two faces differ."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, next_in_row
from cutcore.mesh.mesh import Mesh


def uv_seams(mesh: Mesh) -> Bools:
    """Which edges (E,) are seams: two faces meet there, and at one end or both their UVs differ."""
    found = np.zeros(len(mesh.edges), dtype=bool)
    if mesh.uv is None or len(mesh.uv) == 0:
        return found
    following = next_in_row(mesh.starts)
    low_first = mesh.corners < mesh.corners[following]
    low = np.where(low_first, np.arange(len(following)), following)
    high = np.where(low_first, following, np.arange(len(following)))
    rows = np.concatenate([mesh.uv[low], mesh.uv[high]], axis=1)
    order = np.argsort(mesh.edges.of_corner, kind="stable")
    edge = mesh.edges.of_corner[order]
    same = edge[1:] == edge[:-1]
    differ = (rows[order][1:] != rows[order][:-1]).any(axis=1)
    found[edge[1:][same & differ]] = True
    return found
