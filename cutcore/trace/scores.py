"""Scores along the edges that a walk crosses, several side by side."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.mesh.mesh import Mesh
from cutcore.trace.merged import places_on_edges
from cutcore.trace.trace import ON_EDGE, ON_VERTEX, Trace
from cutcore.trace.walks import Crossings


def scores_at(
    mesh: Mesh, drawn: Trace, crossings: Crossings, shares: Floats, *, far: bool
) -> Trace:
    """Scores over the crossings (n) of a walk, at shares (r, n) of the edges from their lower
    vertices; a vertex is crossed where it is."""
    rows, count = shares.shape
    element = np.tile(drawn.element[crossings.anchors], rows)
    on_edge = np.tile(drawn.kind[crossings.anchors] == ON_EDGE, rows)
    share = np.where(on_edge, shares.ravel(), 0.0)
    anchor = np.arange(rows * count).reshape(rows, count)
    return Trace.of(
        np.where(on_edge, ON_EDGE, ON_VERTEX),
        element,
        share,
        places_on_edges(mesh, element, on_edge, share),
        np.stack([anchor[:, :-1], anchor[:, 1:]], axis=2).reshape(-1, 2),
        np.tile(crossings.onward[:-1], rows),
        line=np.repeat(np.arange(rows), count - 1),
        far=far,
    )
