"""Plane sections of bent faces: where the straight way from border to border would leave the face, as
seen square to it, the line goes through the triangles that the face is drawn in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, cross, row_positions
from cutcore.geometry.plane import Plane
from cutcore.geometry.vectors import units
from cutcore.kernels import convex_faces
from cutcore.mesh.mesh import Mesh
from cutcore.trace.straight_across import leaving_spans
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, Trace


def through_bent_faces(mesh: Mesh, trace: Trace, planes: Sequence[Plane], weld: float) -> Trace:
    """A trace of sections, a line for each of some planes, whose spans stay inside bent faces: of
    those that would leave one, the plane's spans in it are those of its triangles, with anchors
    where the plane meets their diagonals."""
    inside = np.flatnonzero(trace.face >= 0)
    # From side to side a straight way across a convex face stays inside it.
    plain = convex_faces(mesh.points, mesh.starts, mesh.corners, trace.face[inside])
    inside = inside[~plain]
    faces, row = np.unique(trace.face[inside], return_inverse=True)
    chosen = inside[_is_bent(mesh, faces, weld)[row]]
    if len(chosen) == 0:
        return trace
    leaving = chosen[leaving_spans(mesh, _only(trace, chosen))]
    pairs = sorted({(int(trace.face[s]), int(trace.line[s])) for s in leaving.tolist()})
    gone = np.zeros(len(trace.face), dtype=bool)
    places: list[Floats] = []
    of: list[int] = []
    spans: list[tuple[int, int, int, int]] = []
    for face, line in pairs:
        own = np.flatnonzero((trace.face == face) & (trace.line == line))
        found = _through(mesh, face, planes[line], trace, own, len(trace.kind) + len(places))
        if found is None:
            continue
        gone[own] = True
        places += found[0]
        of += [face] * len(found[0])
        spans += [(a, b, face, line) for a, b in found[1]]
    return _with(trace, ~gone, np.array(places).reshape(-1, 3), np.array(of, dtype=np.int64), spans)


def _is_bent(mesh: Mesh, faces: Ints, weld: float) -> Bools:
    """Which faces (n,) have a corner further off their plane than the tolerance."""
    at, starts = row_positions(mesh.starts, faces)
    if len(at) == 0:
        return np.zeros(0, dtype=bool)
    corners = mesh.points[mesh.corners[at]]
    sizes = np.diff(starts)
    middle = np.add.reduceat(corners, starts[:-1]) / sizes[:, None]
    normal = units(mesh.face_normals(faces))
    off = (corners - np.repeat(middle, sizes, axis=0)) * np.repeat(normal, sizes, axis=0)
    return np.asarray(np.maximum.reduceat(np.abs(off.sum(axis=1)), starts[:-1]) > weld)


def _only(trace: Trace, spans: Ints) -> Trace:
    """A trace with some of its spans."""
    names = ("ends", "face", "line", "stretch", "far", "trimmed")
    return replace(trace, **{name: getattr(trace, name)[spans] for name in names})


def _through(
    mesh: Mesh, face: int, plane: Plane, trace: Trace, spans: Ints, first: int
) -> tuple[list[Floats], list[tuple[int, int]]] | None:
    """The places where a plane meets diagonals of a face, to be anchors from `first` on, and the
    spans between anchors that it makes in the face's triangles; None where it meets its border
    elsewhere than the spans it had, or the triangles are turned over."""
    ends = np.unique(trace.ends[spans])
    on_vertex = {int(trace.element[a]): a for a in ends.tolist() if trace.kind[a] == ON_VERTEX}
    on_edge = {int(trace.element[a]): a for a in ends.tolist() if trace.kind[a] == ON_EDGE}
    height = {
        v: 0.0 if v in on_vertex else float(plane.heights(mesh.points[v][None])[0])
        for v in mesh.face(face).tolist()
    }
    places: list[Floats] = []
    named: dict[tuple[int, int], int] = {}

    def crossing(a: int, b: int) -> int:
        pair = (min(a, b), max(a, b))
        if pair not in named:
            edge = mesh.edges.between(*pair)
            if edge in on_edge:
                named[pair] = on_edge[edge]
            elif edge >= 0 and face in mesh.edges.faces_at(edge):
                named[pair] = -1
            else:
                share = height[pair[0]] / (height[pair[0]] - height[pair[1]])
                low, high = mesh.points[list(pair)]
                named[pair] = first + len(places)
                places.append(low + share * (high - low))
        return named[pair]

    triangles = mesh.triangles.of_face(face)
    corners = mesh.points[triangles]
    turns = cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    ahead = turns @ mesh.face_normals(np.array([face]))[0] > 0
    if len(triangles) < mesh.sizes[face] - 2 or not ahead.all():
        # Seen square to it, the face crosses itself: its triangles do not fill it.
        return None
    made: dict[tuple[int, int], int] = {}
    for triangle in triangles.tolist():
        nodes = [on_vertex[v] for v in triangle if v in on_vertex]
        sides = list(zip(triangle, (*triangle[1:], triangle[0]), strict=True))
        nodes += [crossing(a, b) for a, b in sides if height[a] * height[b] < 0]
        if -1 in nodes:
            return None
        if len(nodes) == 2:
            pair = (min(nodes), max(nodes))
            made[pair] = made.get(pair, 0) + 1
    border = {tuple(sorted(pair)) for pair in _border_pairs(mesh, face, on_vertex)}
    return places, [pair for pair in made if pair not in border]


def _border_pairs(mesh: Mesh, face: int, on_vertex: dict[int, int]) -> list[tuple[int, int]]:
    """The anchors at neighbouring corners of a face that lie in the plane: an edge joins them."""
    loop = mesh.face(face).tolist()
    return [
        (on_vertex[a], on_vertex[b])
        for a, b in zip(loop, (*loop[1:], loop[0]), strict=True)
        if a in on_vertex and b in on_vertex
    ]


def _with(
    trace: Trace,
    kept: Bools,
    places: Floats,
    faces: Ints,
    spans: list[tuple[int, int, int, int]],
) -> Trace:
    """A trace with the spans that are kept, and further anchors in faces and spans (from, to, face,
    line)."""
    if not spans:
        return trace
    rest = _only(trace, np.flatnonzero(kept))
    more = np.array(spans, dtype=np.int64)
    count = len(places)
    return replace(
        rest,
        kind=np.concatenate([rest.kind, np.full(count, IN_FACE, rest.kind.dtype)]),
        element=np.concatenate([rest.element, faces]),
        share=np.concatenate([rest.share, np.zeros(count)]),
        place=np.concatenate([rest.place, places]),
        ends=np.concatenate([rest.ends, more[:, :2]]),
        face=np.concatenate([rest.face, more[:, 2]]),
        line=np.concatenate([rest.line, more[:, 3]]),
        stretch=np.concatenate([rest.stretch, np.zeros(len(more), dtype=np.int64)]),
        far=np.concatenate([rest.far, np.zeros(len(more), dtype=bool)]),
        trimmed=np.concatenate([rest.trimmed, np.zeros(len(more), dtype=bool)]),
        lift=None if rest.lift is None else np.concatenate([rest.lift, np.zeros((count, 3))]),
    )
