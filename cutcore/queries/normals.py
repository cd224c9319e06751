"""Normals of corners as hard and soft edges part them."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, next_in_row
from cutcore.geometry.components import components
from cutcore.geometry.vectors import units
from cutcore.mesh.mesh import Mesh


def corners_across(mesh: Mesh) -> tuple[Ints, Ints, Ints]:
    """The pairs of corners whose edges are one: the first (n,), the second (n,), and the edge."""
    order = np.argsort(mesh.edges.of_corner, kind="stable")
    edge = mesh.edges.of_corner[order]
    pair = np.flatnonzero(edge[1:] == edge[:-1])
    return order[pair], order[pair + 1], edge[pair]


def fans_apart(mesh: Mesh, parted: Bools) -> Ints:
    """The fan (C,) each corner is in: corners at one vertex are in one if faces between them share
    edges (E,) that are not parted."""
    one, other, edge = corners_across(mesh)
    one, other = one[~parted[edge]], other[~parted[edge]]
    ahead = next_in_row(mesh.starts)
    # Faces that agree run along their edge in opposite directions.
    agree = mesh.corners[one] != mesh.corners[other]
    at_start = np.where(agree, ahead[other], other)
    at_end = np.where(agree, other, ahead[other])
    links = np.concatenate(
        [np.column_stack([one, at_start]), np.column_stack([ahead[one], at_end])]
    )
    return components(links, len(mesh.corners))[1]


def fan_normals(mesh: Mesh, fan: Ints) -> Floats:
    """The unit normal (n, 3) of each fan: the mean of its faces', by their areas; nothing where these
    cancel out."""
    face = np.repeat(mesh.face_normals(), mesh.sizes, axis=0)
    count = int(fan.max()) + 1
    return units(np.column_stack([np.bincount(fan, face[:, k], count) for k in range(3)]))
