"""Weaving on both sides of a mirror alike: what is chosen on one side is chosen on the other, and
what lies there lies in the mirror to the last bit."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import cKDTree

from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.axes import AXES
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note
from cutcore.trace.mirror import Mirror
from cutcore.trace.symmetry import SLACK, Counterparts
from cutcore.weave.even import Evened, faces_of
from cutcore.weave.ground import Ground
from cutcore.weave.lines import Lines
from cutcore.weave.rows import Line, Rows

NOT_ALIKE = Note(
    "not-alike",
    "The grid does not bend alike on both sides of the mirror: the part, or the line, differs there.",
)


@dataclass(frozen=True, eq=False)
class Twins:
    """The node (N,) and the vertex of the ground (n,) in the mirror of each; -1 for none."""

    node: Ints
    vertex: Ints

    @staticmethod
    def of(ground: Ground, lines: Lines, mirror: Mirror) -> Twins:
        weld = weld_of(ground.mesh)
        found = Counterparts(ground.mesh, mirror, weld=weld).vertices(ground.vertices)
        at = np.searchsorted(ground.vertices, found)
        at = np.minimum(at, len(ground.vertices) - 1)
        vertex = np.where(ground.vertices[at] == found, at, -1)
        node = np.full(len(lines.kind), -1)
        used = np.flatnonzero(lines.used)
        gap, near = cKDTree(lines.place[used]).query(mirror.places(lines.place[used]))
        node[used] = np.where(gap <= SLACK * weld, used[near], -1)
        return Twins(node, vertex)

    @staticmethod
    def none(ground: Ground, lines: Lines) -> Twins:
        return Twins(np.full(len(lines.kind), -1), np.full(len(ground.vertices), -1))


def alike(
    ground: Ground, rows: Rows, line: Line, even: Evened, twins: Twins, mirror: Mirror
) -> Evened | None:
    """What was evened out with each vertex just where the mirror shows its counterpart; None if the
    grids on both sides are not the same."""
    places = even.places
    twin = _twins_made(ground, rows, line, places, twins, mirror)
    moved = np.ones(len(places), dtype=bool)
    count = len(ground.vertices)
    moved[:count] = (places[:count] != ground.points).any(axis=1)
    moved[rows.copies] = True
    # What stayed on one side may have moved on the other.
    moved[twin[moved & (twin >= 0)]] = True
    if (twin[moved] < 0).any() or (twin[twin[moved]] != np.flatnonzero(moved)).any():
        return None
    starts, corners = faces_of(ground, rows)
    touched = np.flatnonzero(np.logical_or.reduceat(moved[corners], starts[:-1]))
    loops = [corners[starts[f] : starts[f + 1]] for f in touched.tolist()]
    there = {frozenset(loop.tolist()) for loop in loops}
    if {frozenset(twin[loop].tolist()) for loop in loops} != there:
        return None
    made = places.copy()
    first = np.flatnonzero(moved & (np.arange(len(places)) < twin))
    made[twin[first]] = mirror.places(made[first])
    middle = np.flatnonzero(moved & (np.arange(len(places)) == twin))
    made[middle, AXES[mirror.axis]] = mirror.offset
    return replace(even, places=made)


def _twins_made(
    ground: Ground, rows: Rows, line: Line, places: Floats, twins: Twins, mirror: Mirror
) -> Ints:
    """The vertex (n',) in the mirror of each, -1 for none: of a copy that of the twin's copies which
    is nearest."""
    found = np.full(len(places), -1)
    found[: len(ground.vertices)] = twins.vertex
    row = np.full(len(ground.vertices) + 1, -1)
    row[line.vertex] = np.arange(len(line.vertex))
    there = row[twins.vertex[line.vertex]]
    found[rows.line] = np.where(there >= 0, rows.line[there], -1)
    by_row: dict[int, list[int]] = defaultdict(list)
    for s, k in enumerate(rows.of_copy.tolist()):
        by_row[k].append(s)
    shown = mirror.places(places[rows.copies])
    for s, k in enumerate(rows.of_copy.tolist()):
        others = rows.copies[by_row.get(int(there[k]), [])]
        gaps = np.linalg.norm(places[others] - shown[s], axis=1)
        found[rows.copies[s]] = others[int(np.argmin(gaps))] if len(others) else -1
    return found
