"""Follow for every line: new vertices on edges leave the surface for the curves that the edges
suggest; those inside faces go along, and where a face would cross itself, the lines follow less."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from cutcore.errors import ImprintError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.plane import Plane
from cutcore.imprint.subdivision import Arranged, subdivide
from cutcore.imprint.weights import interpolate_inside
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Element, Note, face, position
from cutcore.queries.follow import EdgeCurves
from cutcore.trace.trace import IN_FACE, ON_EDGE, Trace
from cutcore.words import count_of

# So often a line follows half as much where a face would cross itself, before it does not at all.
HALVINGS = 4


def followed(
    mesh: Mesh, trace: Trace, follow: float, planes: Sequence[Plane] | None = None
) -> Trace:
    """A trace whose anchors on edges are lifted by `follow` (0..1) of the way to the curve of the
    row that the crossed edge is in (`EdgeCurves` has the formula).

    With `planes`, one for each line of the trace, they stay in the plane of their line. Those on
    edges that go on at neither end are not lifted, and noted."""
    if follow == 0.0:
        return trace
    anchor = np.unique(trace.ends[trace.cut])
    anchor = anchor[trace.kind[anchor] == ON_EDGE]
    curves = EdgeCurves.of(mesh, trace.element[anchor])
    if planes is None:
        lifts = curves.lifts(trace.share[anchor], follow)
    else:
        line = np.zeros(len(trace.kind), dtype=np.int64)
        line[trace.ends] = trace.line[:, None]
        normal = np.array([plane.normal for plane in planes])
        level = np.array([float(plane.normal @ plane.point) for plane in planes])
        of = line[anchor]
        lifts = curves.lifts_in_planes(trace.share[anchor], follow, normal[of], level[of])
    lift = np.zeros((len(trace.kind), 3)) if trace.lift is None else trace.lift.copy()
    lift[anchor] = lifts
    left = trace.place[anchor[~curves.known]]
    notes = trace.notes
    if len(left):
        words = (
            f"{count_of(len(left), 'new vertex', 'new vertices')} stay on the edge: the line that "
            "it is part of does not go on at either end."
        )
        notes = (*notes, Note("not-lifted", words, tuple(map(position, left[:50]))))
    return replace(trace, lift=lift, notes=notes)


def eased(mesh: Mesh, trace: Trace, weld: float) -> Trace:
    """A trace all of whose lines follow, so that its faces are sound: anchors inside faces are
    lifted as the border of their face is, those that are lifted already but for; and round faces
    that would cross themselves or turn over, lines follow half as much, or less, or not at all. A
    note tells of these."""
    if trace.lift is None:
        return trace
    own = (trace.kind != IN_FACE) | (trace.lift != 0).any(axis=1)
    share = np.ones(len(trace.kind))
    places: set[Element] = set()
    arranged: dict[int, Arranged] = {}
    for left in reversed(range(HALVINGS + 1)):
        made = replace(trace, lift=_carried(mesh, trace, trace.lift * share[:, None], own))
        try:
            subdivide(mesh, made, weld=weld, arranged=arranged)
            break
        except ImprintError as refusal:
            faces = {int(e.value) for e in refusal.elements if e.kind == "face"}  # type: ignore[arg-type]
            there = _anchors_at(mesh, trace, faces) & own & (made.lift != 0).any(axis=1)  # type: ignore[union-attr]
            if not there.any():
                # They can't be laid into it, lifted or not: that is another's to say.
                break
            share[there] *= 0.5 if left > 1 else 0.0
            places |= {face(f) for f in faces}
    if not places:
        return made
    words = (
        f"Lines follow less at {count_of(len(places), 'face')}, by {100 * share.min():.3g} % of it "
        "or more: else a face would cross itself or fold over."
    )
    where = sorted(places, key=lambda e: str(e.value))
    return replace(made, notes=(*made.notes, Note("follows-less", words, tuple(where[:50]))))


def _anchors_at(mesh: Mesh, trace: Trace, faces: set[int]) -> Bools:
    """Which anchors (A,) lie in some faces or on their edges."""
    named = np.array(sorted(faces), dtype=np.int64)
    edges = np.unique(
        np.concatenate([mesh.edges.of_corner[mesh.starts[f] : mesh.starts[f + 1]] for f in named])
    )
    on: Bools = (trace.kind == ON_EDGE) & np.isin(trace.element, edges)
    return on | (trace.kind == IN_FACE) & np.isin(trace.element, named)


def _carried(mesh: Mesh, trace: Trace, lift: Floats, own: Bools) -> Floats:
    """Lifts (A, 3) with those of anchors inside faces, where they have none of their `own`, worked
    out from the new vertices round the face."""
    used = np.zeros(len(trace.kind), dtype=bool)
    used[trace.ends[trace.cut]] = True
    inner = np.flatnonzero(used & ~own)
    if len(inner) == 0:
        return lift
    made = lift.copy()
    on_edges = np.flatnonzero(used & (trace.kind == ON_EDGE))
    order = on_edges[np.lexsort((trace.share[on_edges], trace.element[on_edges]))]
    edge = trace.element[order]
    for f in np.unique(trace.element[inner]).tolist():
        here = inner[trace.element[inner] == f]
        places, lifts = _border(mesh, trace, lift, f, order, edge)
        if lifts.any():
            made[here] = interpolate_inside(places, lifts, trace.place[here])
    return made


def _border(
    mesh: Mesh, trace: Trace, lift: Floats, f: int, order: Ints, edge: Ints
) -> tuple[Floats, Floats]:
    """The places (k, 3) round a face, new ones on its edges among them, and how far each is lifted
    (k, 3); `order` are the anchors on edges, by their `edge` and share."""
    places, lifts = [], []
    for corner in range(int(mesh.starts[f]), int(mesh.starts[f + 1])):
        vertex, e = int(mesh.corners[corner]), int(mesh.edges.of_corner[corner])
        begin, end = np.searchsorted(edge, [e, e + 1])
        along = order[begin:end]
        if mesh.edges.ends[e, 0] != vertex:
            along = along[::-1]
        places += [mesh.points[vertex], *trace.place[along]]
        lifts += [np.zeros(3), *lift[along]]
    return np.array(places), np.array(lifts)
