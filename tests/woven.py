"""What must hold of every cut that was woven in, worked out apart from the engine."""

from __future__ import annotations

import numpy as np

from cutcore import Mesh, Result
from cutcore.geometry.polygons import distance_to_segments
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.corner_forms import scaled_jacobians
from cutcore.trace.trace import Trace
from tests.guarantees import (
    assert_tables_true,
    border_length,
    crowded_length,
    problems_anew,
    shells_of,
)

# What rounding leaves, as a share of the part.
ROUNDED = 1e-9


def touched_quads(result: Result) -> np.ndarray:
    """The quads (n,) of a result that were changed or made."""
    touched = np.ones(result.mesh.face_count, dtype=bool)
    touched[result.origin.kept[result.origin.kept >= 0]] = False
    return np.flatnonzero(touched & (result.mesh.sizes == 4))


def hard_length(mesh: Mesh) -> float:
    ends = mesh.points[mesh.hard]
    return float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())


def assert_woven(before: Mesh, result: Result, *, lifted: bool = False) -> None:
    """Sound faces, nothing opened, borders and hard edges where they were unless the line was lifted
    off them, nothing folded, what was told to be kept as it was, attributes of the face each came
    of."""
    after, origin = result.mesh, result.origin
    after.check()
    assert_tables_true(after)
    found = problems_anew(before, result)
    assert not found, f"the weave brought about: {sorted(found)}"
    near = ROUNDED * before.diagonal * max(len(before.edges), 1)
    if not lifted:
        assert abs(border_length(after) - border_length(before)) <= near, "a boundary moved"
        assert abs(crowded_length(after) - crowded_length(before)) <= near
        assert abs(hard_length(after) - hard_length(before)) <= near, "a hard edge moved"
    assert shells_of(after) == shells_of(before)
    assert len(origin.face) == after.face_count
    assert len(origin.vertex) == after.vertex_count
    kept = np.flatnonzero(origin.kept >= 0)
    for old, new in zip(kept.tolist(), origin.kept[kept].tolist(), strict=True):
        assert origin.face[new] == old
        assert np.array_equal(before.points[before.face(old)], after.points[after.face(new)])
    came = origin.face >= 0
    assert came.all(), "a face comes of none"
    assert (after.material == before.material[origin.face]).all()
    assert (after.patch == before.patch[origin.face]).all()
    assert (before.uv is None) == (after.uv is None)
    quads = touched_quads(result)
    least = scaled_jacobians(after, quads)
    was = before.sizes[origin.face[quads]] == 4
    old = np.ones(len(quads))
    old[was] = scaled_jacobians(before, origin.face[quads[was]])
    assert not ((least <= 0) & (old > 0)).any(), "a quad is folded"


def assert_on_the_line(trace: Trace, result: Result) -> None:
    """Every vertex of the line lies on what was drawn."""
    drawn = trace.ends
    there = result.mesh.points[np.unique(result.picked.edges)]
    away = distance_to_segments(there, trace.lifted[drawn[:, 0]], trace.lifted[drawn[:, 1]])
    # Lines that cross in a bent face pass each other by a little.
    meets = (np.unique(result.picked.edges, return_counts=True)[1] > 2).any()
    near = max(10 * weld_of(result.mesh), 1e-4 * result.mesh.diagonal * meets)
    assert away.min(axis=1).max() <= near, "a vertex is off the line"
