"""Edges as they would lie where a plan moves vertices."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.reshape.bridge import BridgeParams
from cutcore.reshape.extrude import ExtrudeParams
from cutcore.reshape.inset import InsetParams
from cutcore.reshape.round import RoundParams
from cutcore.reshape.size import SizeParams
from cutcore.steps.steps_file import Step
from cutcore.tools.profile import ProfileParams

NONE_MOVED: Floats = np.zeros((0, 2, 3))


MOST_MOVED = 4000


MOVING = SizeParams | ProfileParams | ExtrudeParams | InsetParams | RoundParams | BridgeParams


def moved_edges(mesh: Mesh, step: Step, result: Result) -> Floats:
    """The edges that a step moves or makes where nothing was, as they would lie; of very many, evenly chosen ones."""
    after = result.mesh
    if not isinstance(step, MOVING) or after is mesh:
        return NONE_MOVED
    if isinstance(step, BridgeParams):
        edges = np.unique(after.edges.of_corner[np.isin(after.face_of_corner, result.picked.faces)])
    else:
        changed = np.ones(after.vertex_count, dtype=bool)
        changed[: mesh.vertex_count] = (after.points[: mesh.vertex_count] != mesh.points).any(axis=1)
        edges = np.flatnonzero(changed[after.edges.ends].any(axis=1))
    return np.asarray(after.points[after.edges.ends[edges[:: 1 + len(edges) // MOST_MOVED]]])
