"""Thin: what a stroke of the hand crosses is taken out, dissolved or collapsed."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.camera import View
from cutcore.geometry.chart import chart_of
from cutcore.geometry.components import components
from cutcore.geometry.vectors import units
from cutcore.imprint.arrangement import is_simple
from cutcore.mesh.joined_faces import STRAIGHT_WITHIN, join_over
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, edge
from cutcore.params import Index
from cutcore.queries.edge_rings import edge_ring
from cutcore.queries.flow_lines import loop_edges
from cutcore.queries.limits import limit_mask
from cutcore.reshape.joining.merge_vertices import merge_vertices
from cutcore.reshape.left_vertices import StraightWithin, vertices_stay
from cutcore.reshape.legal import clashing_anew, crossed_anew, crowded_anew, folded_anew
from cutcore.shapes.small import FROM_A_CORNER, FROM_ABOVE
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.trace.mirror import Mirror
from cutcore.trace.strokes import MOST_STROKES, Drawing, Stroke, lay_strokes
from cutcore.trace.surface_points import Share
from cutcore.trace.symmetry import NO_COUNTERPART, WORDS, Counterparts
from cutcore.trace.trace import ON_EDGE, anchor_place
from cutcore.trace.walks import crossings_of, left_is_low, walks_of

# Faces that lean against each other by more than 30 degrees meet at a sharp edge.
SHARP = 0.866


class ThinParams(Reshaping, Drawing):
    """Strokes drawn over the edges that are to go, in a view.

    Every crossed edge is dissolved, with the vertices it leaves straight, within so many degrees,
    unless `keep_vertices`;
    or it is collapsed to where it was crossed, or to a share of it from the side that the stroke
    leaves on its left. With `loops` one crossing takes out all of the edge's loop; of what is
    collapsed, all of its ring."""

    tool: Literal["thin"] = "thin"
    strokes: Annotated[tuple[Stroke, ...], Field(min_length=1, max_length=MOST_STROKES)]
    view: View
    then: Literal["dissolve", "collapse"] = "dissolve"
    share: Share | None = None
    loops: bool = False
    keep_vertices: bool = False
    straight_within: StraightWithin = STRAIGHT_WITHIN
    reach: Literal["near", "through"] = "near"
    limit: tuple[Index, ...] | None = None
    mirror: Mirror | None = None

    @model_validator(mode="after")
    def _goes_together(self) -> Self:
        if self.share is not None and self.then == "dissolve":
            raise ValueError("a share says where an edge collapses to")
        if self.keep_vertices and self.then == "collapse":
            raise ValueError("what is collapsed keeps no vertices of its own")
        return self


def apply(mesh: Mesh, params: ThinParams) -> Result:
    """What can't go without folding or tearing the part stays, with a note of the places.

    Raises StepError, naming the end, for a stroke that ends on an element that is not there."""
    crossed, notes = _crossed(mesh, params)
    if not crossed:
        nothing = Note("nothing-to-do", "The stroke crosses no edge.")
        return Result(mesh, Origin.same(mesh), notes=(*notes, nothing))
    if params.then == "dissolve":
        every = dict.fromkeys(crossed)
        if params.loops:
            every = dict.fromkeys(e for one in crossed for e in sorted(loop_edges(mesh, one)))
        straight = None if params.keep_vertices else params.straight_within
        edges = np.array(list(every), dtype=np.int64)
        made = _dissolved(mesh, edges, straight, _twins(mesh, edges, params.mirror))
    else:
        crossed = _with_rings(mesh, crossed) if params.loops else crossed
        twins = _twins(mesh, np.array(list(crossed), dtype=np.int64), params.mirror)
        made = _collapsed(mesh, crossed, twins)
    return replace(made, notes=(*notes, *made.notes))


def _crossed(mesh: Mesh, params: ThinParams) -> tuple[dict[int, float], tuple[Note, ...]]:
    """The crossed edges, each with the share from its lower vertex where it is to collapse to."""
    laid = lay_strokes(
        mesh,
        params.strokes,
        params.view,
        params,
        through=params.reach == "through",
        limit=limit_mask(mesh, params.limit),
        weld=weld_of(mesh),
    )
    drawn = laid.trace
    found: dict[int, float] = {}
    for walk in walks_of(mesh, drawn, laid.lines):
        crossings = crossings_of(drawn, walk)
        low = left_is_low(mesh, drawn, crossings, seen=walk.seen)
        for anchor, from_low in zip(crossings.anchors.tolist(), low.tolist(), strict=True):
            if drawn.kind[anchor] != ON_EDGE:
                continue
            share = float(drawn.share[anchor])
            if params.share is not None:
                share = params.share if from_low else 1.0 - params.share
            found.setdefault(int(drawn.element[anchor]), share)
    if params.mirror is None:
        return found, drawn.notes
    mirrored, whole = _with_mirrored(mesh, found, params.mirror)
    return mirrored, drawn.notes if whole else (*drawn.notes, Note(NO_COUNTERPART, WORDS))


def _with_mirrored(
    mesh: Mesh, crossed: dict[int, float], mirror: Mirror
) -> tuple[dict[int, float], bool]:
    """Crossed edges with their counterparts, at the same shares as the mirror shows them, and
    whether all have one. Of an edge and its counterpart the one that was crossed first says where;
    one that is its own goes to its middle."""
    counterparts = Counterparts(mesh, mirror, weld=weld_of(mesh))
    found: dict[int, float] = {}
    whole = True
    for e, share in crossed.items():
        low, high = counterparts.vertices(mesh.edges.ends[e]).tolist()
        other = mesh.edges.between(low, high) if min(low, high) >= 0 else -1
        whole &= other >= 0
        if e in found:
            continue
        if other == e and low > high:
            share = 0.5
        found[e] = share
        if other >= 0:
            found[other] = share if low < high else 1.0 - share
    return found, whole


def _twins(mesh: Mesh, edges: Ints, mirror: Mirror | None) -> Ints:
    """For edges (n,) where in their row the counterpart of each is, or where it is itself if there
    is none."""
    row = np.arange(len(edges))
    if mirror is None:
        return row
    counterparts = Counterparts(mesh, mirror, weld=weld_of(mesh))
    at = {e: k for k, e in enumerate(edges.tolist())}
    return np.array([at.get(counterparts.edge(e), k) for k, e in enumerate(at)], dtype=np.int64)


def _with_rings(mesh: Mesh, crossed: dict[int, float]) -> dict[int, float]:
    """The crossed edges with all others of their rings, at the same share of each."""
    found = dict(crossed)
    for e, share in crossed.items():
        first = int(mesh.edges.ends[e, 0])
        try:
            ring = edge_ring(mesh, e, first, None)
        except StepError:
            continue  # no quad lies beside it: it goes alone
        for other, side in zip(ring.edges.tolist(), ring.first.tolist(), strict=True):
            from_low = share if side == mesh.edges.ends[other, 0] else 1.0 - share
            found.setdefault(other, from_low)
    return found


def _dissolved(mesh: Mesh, edges: Ints, straight_within: float | None, twins: Ints) -> Result:
    """The edges dissolved, in the order they were crossed, without those over which a face would
    fold, tear, or be no simple one: of each such face its sharpest edge stays, or one half-way if
    none is sharp, and with each its counterpart, until all are sound.

    Only what was unsound is looked at again, and in the end all together."""
    beside = mesh.edges.faces[edges]
    two = np.logical_and.reduce(beside >= 0, axis=1) & (beside[:, 0] != beside[:, 1])
    two &= ~np.isin(edges, np.array(list(mesh.edges.crowded), dtype=np.int64))
    alone, edges, beside = edges[~two], edges[two], beside[two]
    # A counterpart that can't go stays by itself.
    kept = np.flatnonzero(two)
    number = np.full(len(two), -1, dtype=np.int64)
    number[kept] = np.arange(len(kept))
    twins = np.where(two[twins[kept]], number[twins[kept]], np.arange(len(kept)))
    unit = units(mesh.face_normals(beside.ravel())).reshape(-1, 2, 3)
    flatness = np.einsum("ij,ij->i", unit[:, 0], unit[:, 1])
    stays = np.zeros(len(edges), dtype=bool)
    again = np.ones(len(edges), dtype=bool)
    while not stays.all():
        tried = again & ~stays
        joined = join_over(mesh, edges[tried], straight_within=straight_within)
        made = Result(joined.mesh, joined.origin, Picked(faces=joined.faces))
        group = components(beside[tried], mesh.face_count)[1]
        turned = _folded(mesh, made, group, np.unique(beside[tried]))
        folded = made.origin.face[np.concatenate([turned, _torn(mesh, made)])]
        bad = np.unique(group[np.concatenate([joined.stuck, folded])])
        if len(bad) == 0 and (tried == ~stays).all():
            left = _left(mesh, np.concatenate([alone, edges[stays]]))
            return replace(made, notes=(*left, *vertices_stay(joined)))
        again = tried & np.isin(group[beside[:, 0]], bad)
        if not again.any():
            again[:] = True
        left_over = np.count_nonzero(~stays)
        for g in bad.tolist():
            inside = np.flatnonzero(tried & ~stays & (group[beside[:, 0]] == g))
            if len(inside) == 0:
                continue  # counterparts of what stays elsewhere were all it had
            sharpest = inside[np.argmin(flatness[inside])]
            one = sharpest if flatness[sharpest] < SHARP else inside[len(inside) // 2]
            stays[[one, twins[one]]] = True
        if len(bad) and np.count_nonzero(~stays) == left_over:
            break
    return Result(mesh, Origin.same(mesh), notes=_left(mesh, np.concatenate([alone, edges])))


def _folded(mesh: Mesh, made: Result, group: Ints, touched: Ints) -> Ints:
    """The joined faces that are not simple seen along their own normal, or turn their back on one
    of the `touched (n,)` old faces they were made of."""
    after = made.mesh
    joined = made.picked.faces
    mine = np.full(len(group), -1, dtype=np.int64)
    mine[group[made.origin.face[joined]]] = np.arange(len(joined))
    owner = mine[group[touched]]
    old, owner = touched[owner >= 0], owner[owner >= 0]
    normals = after.face_normals(joined)
    found = np.zeros(len(joined), dtype=bool)
    found[owner[np.einsum("ij,ij->i", mesh.face_normals(old), normals[owner]) <= 0]] = True
    for k in np.flatnonzero(~found).tolist():
        corners = after.points[after.face(int(joined[k]))]
        found[k] = not is_simple(chart_of(corners).flatten(corners))
    return joined[found]


def _torn(mesh: Mesh, made: Result) -> Ints:
    """The joined faces at edges at which more than two faces meet now, or two against each
    other."""
    edges = crowded_anew(mesh, made) + clashing_anew(mesh, made)
    beside = made.mesh.edges.face_pairs(np.array(edges, dtype=np.int64))[1]
    return np.intersect1d(beside, made.picked.faces)


def _collapsed(mesh: Mesh, crossed: dict[int, float], twins: Ints) -> Result:
    """Every edge that can be collapsed at its share; those that touch become one vertex at the mean
    of their places."""
    edges = np.array(list(crossed), dtype=np.int64)
    shares = np.array(list(crossed.values()))
    group = components(mesh.edges.ends[edges], mesh.vertex_count)[1]
    stays = np.zeros(len(edges), dtype=bool)
    while not stays.all():
        try:
            made = _merged(mesh, edges[~stays], shares[~stays])
        except StepError:
            break  # nothing of the part would be left
        bad = _broken_at(mesh, made)
        if len(bad) == 0:
            return replace(made, notes=(*made.notes, *_left(mesh, edges[stays])))
        hit = np.isin(group[mesh.edges.ends[edges, 0]], np.unique(group[bad])) & ~stays
        stays |= hit | hit[twins] if hit.any() else True
    return Result(mesh, Origin.same(mesh), notes=_left(mesh, edges))


def _merged(mesh: Mesh, edges: Ints, shares: Floats) -> Result:
    goal = np.arange(mesh.vertex_count)
    points = mesh.points.copy()
    ends = mesh.edges.ends[edges]
    groups = components(ends, mesh.vertex_count)[1]
    for g in np.unique(groups[ends[:, 0]]).tolist():
        here = np.flatnonzero(groups[ends[:, 0]] == g)
        members = np.unique(ends[here])
        goal[members] = members[0]
        places = [anchor_place(mesh, int(edges[k]), float(shares[k])) for k in here.tolist()]
        points[members[0]] = np.mean(places, axis=0)
    return merge_vertices(mesh, goal, points)


def _broken_at(mesh: Mesh, made: Result) -> Ints:
    """The old vertices (n,) at which the part would fold over or tear."""
    after = made.mesh
    broken = np.concatenate([folded_anew(mesh, made), crossed_anew(mesh, made)])
    places = [after.face(f) for f in broken.tolist()]
    edges = crowded_anew(mesh, made) + clashing_anew(mesh, made)
    places += [after.edges.ends[e] for e in edges]
    if not places:
        return np.zeros(0, dtype=np.int64)
    return np.unique(made.origin.vertex[np.concatenate(places)])


def _left(mesh: Mesh, edges: Ints) -> tuple[Note, ...]:
    if len(edges) == 0:
        return ()
    words = "Some edges stay: without them the part would fold over or tear."
    return (Note("edges-stay", words, tuple(edge(mesh.edges.ends[e]) for e in edges[:50])),)


def _title(params: ThinParams) -> str:
    whole = ", whole loops" if params.loops else ""
    return f"Thin, {'dissolved' if params.then == 'dissolve' else 'collapsed'}{whole}"


ACROSS = [[220.0, 390.0], [400.0, 410.0], [580.0, 395.0]]

TOOL = Reshape(
    params=ThinParams,
    title=_title,
    examples=(
        Example("plate", {"strokes": [{"points": ACROSS}], "view": FROM_ABOVE}),
        Example("plate", {"strokes": [{"points": ACROSS}], "view": FROM_ABOVE, "loops": True}),
        Example(
            "cube",
            {
                "strokes": [{"points": [[300, 250], [400, 280]]}],
                "view": FROM_A_CORNER,
                "then": "collapse",
                "share": 0.5,
                "reach": "through",
                "mirror": {"axis": "x"},
            },
        ),
    ),
    apply=apply,
)
