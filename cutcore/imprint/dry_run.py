"""What a cut would do to the flow, without making it."""

from __future__ import annotations

from dataclasses import asdict

import numpy as np

from cutcore.geometry.arrays import row_positions
from cutcore.imprint.subdivision import Subdivision
from cutcore.mesh.mesh import Mesh
from cutcore.queries.flow import FlowCounts, counts_of, warped_rows


def flow_after(mesh: Mesh, before: FlowCounts, cut: Subdivision) -> FlowCounts:
    """The counts after a cut, from those before it and the touched faces.

    A new vertex on an edge has that edge's two pieces; every new edge adds one at each of its ends.
    """
    sizes_gone, sizes_new = mesh.sizes[cut.faces], np.diff(cut.loop_starts)
    on_edges = int(cut.split_starts[-1])
    touched = np.unique(cut.new_edges)
    old = touched[touched < mesh.vertex_count]
    added = np.bincount(
        cut.new_edges.ravel().astype(np.int64), minlength=mesh.vertex_count + len(cut.places)
    )
    valence = np.array([len(mesh.edges.at_vertex(v)) for v in old.tolist()], dtype=np.int64)
    border = np.array(
        [bool(mesh.edges.border[mesh.edges.at_vertex(v)].any()) for v in old.tolist()], dtype=bool
    )
    fresh = added[mesh.vertex_count :].copy()
    fresh[:on_edges] += 2
    fresh_border = np.zeros(len(fresh), dtype=bool)
    fresh_border[:on_edges] = np.repeat(
        mesh.edges.border[cut.split_edges], np.diff(cut.split_starts)
    )
    at, starts = row_positions(mesh.starts, cut.faces)
    gone = counts_of(
        sizes_gone, warped_rows(mesh.points[mesh.corners[at]], starts), valence, border, (0, 0)
    )
    is_new = cut.loops >= mesh.vertex_count
    places = np.empty((len(cut.loops), 3))
    places[~is_new], places[is_new] = (
        mesh.points[cut.loops[~is_new]],
        cut.places[cut.loops[is_new] - mesh.vertex_count],
    )
    new = counts_of(
        sizes_new,
        warped_rows(places, cut.loop_starts),
        np.concatenate([valence + added[old], fresh]),
        np.concatenate([border, fresh_border]),
        (0, 0),
    )
    return FlowCounts(
        **{k: v - getattr(gone, k) + getattr(new, k) for k, v in asdict(before).items()}
    )
