"""Strokes as walks over the surface: which edges they cross, one after the other, and which way."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, owner_of, row_positions
from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.trace.as_seen import Polyline
from cutcore.trace.trace import IN_FACE, ON_EDGE, Trace


@dataclass(eq=False)
class Walk:
    """A way over the surface: anchors of a trace in order and the faces between each and the next
    (-1 along an edge). `seen` says whether it faces the eye where it runs as the stroke does."""

    anchors: list[int]
    faces: list[int] = field(default_factory=list)
    seen: bool = True
    far: bool = False

    @property
    def closed(self) -> bool:
        return len(self.anchors) > 2 and self.anchors[0] == self.anchors[-1]

    def turned(self) -> Walk:
        return Walk(self.anchors[::-1], self.faces[::-1], self.seen, self.far)

    def before(self, other: Walk) -> Walk:
        """This walk and then another that begins where it ends."""
        return Walk(self.anchors + other.anchors[1:], self.faces + other.faces, self.seen, self.far)


def walks_of(mesh: Mesh, trace: Trace, lines: list[tuple[Polyline, Camera]]) -> list[Walk]:
    """The spans of strokes as walks, each in the order it was drawn; those that meet at an end, as
    the near and the far side do at the rim, are one."""
    middle = trace.place[trace.ends].mean(axis=1)
    normals = mesh.face_normals(np.maximum(trace.face, 0))
    found: list[Walk] = []
    for number, (line, camera) in enumerate(lines):
        spans = np.flatnonzero(trace.line == number)
        facing = np.einsum("ij,ij->i", normals[spans], camera.sights(middle[spans])) <= 0
        first, second = _along(trace, line, spans, camera)
        order = np.lexsort((first + second, trace.stretch[spans]))
        walks: list[Walk] = []
        open_at: dict[int, list[Walk]] = {}
        here = spans[order]
        rows = (trace.ends[here], (first > second)[order], facing[order], trace.far[here])
        for (a, b), back, seen, far, face in zip(
            *(row.tolist() for row in rows), trace.face[here].tolist(), strict=True
        ):
            if not open_at.get(a) and (back or open_at.get(b)):
                a, b = b, a
            walk = open_at[a].pop() if open_at.get(a) else None
            if walk is None:
                walk = Walk([a], [], seen, far)
                walks.append(walk)
            walk.anchors.append(b)
            walk.faces.append(face)
            open_at.setdefault(b, []).append(walk)
        found += _round_the_rim(walks)
    return found


def _along(
    trace: Trace, line: Polyline, spans: np.ndarray, camera: Camera
) -> tuple[Floats, Floats]:
    """How far along their stretch the two ends of spans (n,) lie."""
    pairs = line.stretches()[trace.stretch[spans]]
    way = line.flat[pairs[:, 1]] - line.flat[pairs[:, 0]]
    ends = trace.ends[spans]
    first, second = (camera.project(trace.place[ends[:, k]]) for k in (0, 1))
    return np.einsum("ij,ij->i", first, way), np.einsum("ij,ij->i", second, way)


def _round_the_rim(walks: list[Walk]) -> list[Walk]:
    """Walks that end, or begin, at the same anchor as one: the stroke goes on round the part."""
    done: list[Walk] = []
    for walk in walks:
        joined = walk
        for other in list(done):
            if joined.closed or other.closed:
                continue
            if other.anchors[-1] == joined.anchors[0]:
                done.remove(other)
                joined = other.before(joined)
            elif other.anchors[-1] == joined.anchors[-1]:
                done.remove(other)
                joined = other.before(joined.turned())
            elif other.anchors[0] == joined.anchors[0]:
                done.remove(other)
                joined = _first_seen(joined.turned(), other)
        done.append(joined)
    return done


def _first_seen(turned: Walk, other: Walk) -> Walk:
    """A walk run backwards and then one run as it was drawn: this one says what faces the eye."""
    whole = turned.before(other)
    whole.seen, whole.far = other.seen, other.far
    return whole


@dataclass(frozen=True, eq=False)
class Crossings:
    """Where a walk meets edges and vertices: the anchors (n,), and the faces (n,) that it comes
    through and goes on through, -1 for none."""

    anchors: Ints
    before: Ints
    onward: Ints


def crossings_of(trace: Trace, walk: Walk) -> Crossings:
    """The edges and vertices that a walk meets, in order."""
    anchors, faces = walk.anchors, walk.faces
    if walk.closed:
        # A closed walk is looked at from where it first meets an edge.
        met = np.flatnonzero(trace.kind[np.array(anchors)] != IN_FACE)
        start = int(met[0]) if len(met) else 0
        anchors = anchors[start:-1] + anchors[: start + 1]
        faces = faces[start:] + faces[:start]
    every = np.array(anchors, dtype=np.int64)
    met = np.flatnonzero(trace.kind[every] != IN_FACE)
    through = np.array([-1, *faces, -1], dtype=np.int64)
    return Crossings(every[met], through[met], through[met + 1])


def without_undone(trace: Trace, crossings: Crossings) -> Crossings:
    """Crossings without those that undo each other: what leaves a face and comes back into it over
    the same edge. Of an edge of more than two faces it may go on into a third."""
    anchors = crossings.anchors.tolist()
    kept: list[int] = []
    for k, anchor in enumerate(anchors):
        back = kept and crossings.onward[kept[-1]] >= 0
        again = back and crossings.onward[k] in (-1, crossings.before[kept[-1]])
        if again and _same_edge(trace, anchors[kept[-1]], anchor):
            kept.pop()
        else:
            kept.append(k)
    here = np.array(kept, dtype=np.int64)
    onward = crossings.onward[np.append(here[1:] - 1, len(anchors) - 1)] if len(here) else here
    return Crossings(crossings.anchors[here], crossings.before[here], onward)


def _same_edge(trace: Trace, a: int, b: int) -> bool:
    return bool(
        a != b
        and trace.kind[a] == trace.kind[b] == ON_EDGE
        and trace.element[a] == trace.element[b]
    )


def left_is_low(mesh: Mesh, trace: Trace, crossings: Crossings, *, seen: bool) -> Bools:
    """Whether the lower vertex of each crossed edge (n,) lies to the left of the walk, as the eye
    sees the stroke; False at a vertex.

    Walking out of a face over its edge u to v, counter-clockwise seen from outside, v lies to the
    left; what faces away from the eye (not `seen`) is seen from inside."""
    out = crossings.before >= 0
    face = np.where(out, crossings.before, crossings.onward)
    found = np.zeros(len(face), dtype=bool)
    on = np.flatnonzero((trace.kind[crossings.anchors] == ON_EDGE) & (face >= 0))
    if len(on) == 0:
        return found
    edge = trace.element[crossings.anchors[on]]
    at, starts = row_positions(mesh.starts, face[on])
    owner = owner_of(starts)
    corner, first = np.unique(owner[mesh.edges.of_corner[at] == edge[owner]], return_index=True)
    tails = mesh.corners[at[mesh.edges.of_corner[at] == edge[owner]][first]]
    tail_is_low = np.zeros(len(on), dtype=bool)
    tail_is_low[corner] = tails == mesh.edges.ends[edge[corner], 0]
    found[on] = (tail_is_low != out[on]) == seen
    return found
