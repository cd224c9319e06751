"""Outlines from edges of a part, as they lie in space, with the sheet they lie nearest to."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints
from cutcore.mesh.mesh import Mesh
from cutcore.outlines.drawn import DrawnOutline, SheetCurve, plain
from cutcore.outlines.sheet_axes import sheet_axes
from cutcore.queries.edge_runs import edge_runs


@dataclass(frozen=True, eq=False)
class Lifted:
    """An outline and where its sheet stands: `centre` and `normal` (3,)."""

    outline: DrawnOutline
    centre: Floats
    normal: Floats


def outline_of_edges(mesh: Mesh, edges: Ints) -> Lifted:
    """Runs of edges as curves on the sheet nearest to all of them (least squares); what lies off it
    is kept.

    Raises StepError for no edges.
    """
    runs = edge_runs(mesh, edges)
    if not runs:
        raise StepError("pick the edges that are to become an outline", where="edges")
    places = np.concatenate([mesh.points[run] for run, _ in runs])
    centre = 0.5 * (places.min(axis=0) + places.max(axis=0))
    normal = np.linalg.svd(places - places.mean(axis=0), full_matrices=True)[2][2]
    # A sheet is seen from its front: towards the side most of its surface looks to.
    beside = mesh.face_normals(np.unique(mesh.edges.face_pairs(edges)[1])).sum(axis=0)
    normal = -normal if float(normal @ beside) < 0 else normal
    right, up = sheet_axes(normal)
    frame = np.stack([right, up, normal], axis=1)
    return Lifted(
        plain([SheetCurve((mesh.points[run] - centre) @ frame, closed) for run, closed in runs]),
        centre,
        normal,
    )
