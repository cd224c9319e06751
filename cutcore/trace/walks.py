"""Strokes as walks over the surface: which edges they cross, one after the other, and which way."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from cutcore.geometry.arrays import Floats, Ints
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
        for k in order.tolist():
            s = int(spans[k])
            a, b = (int(v) for v in trace.ends[s])
            if not open_at.get(a) and (first[k] > second[k] or open_at.get(b)):
                a, b = b, a
            walk = open_at[a].pop() if open_at.get(a) else None
            if walk is None:
                walk = Walk([a], [], bool(facing[k]), bool(trace.far[s]))
                walks.append(walk)
            walk.anchors.append(b)
            walk.faces.append(int(trace.face[s]))
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
    """Where a walk meets edges and vertices: the anchors (n,), and the face (n,) that it goes on
    through after each, -1 for none."""

    anchors: Ints
    onward: Ints


def crossings_of(trace: Trace, walk: Walk) -> Crossings:
    """The edges and vertices a walk meets, in order, without those that undo each other: what
    leaves a face and comes back over the same edge."""
    anchors, faces = walk.anchors, walk.faces
    if walk.closed:
        # A closed walk is looked at from where it first meets an edge.
        start = next((k for k, a in enumerate(anchors) if trace.kind[a] != IN_FACE), 0)
        anchors = anchors[start:-1] + anchors[: start + 1]
        faces = faces[start:] + faces[:start]
    met: list[int] = []
    onward: list[int] = []
    for k, anchor in enumerate(anchors):
        if trace.kind[anchor] == IN_FACE:
            continue
        goes_on = faces[k] if k < len(faces) else -1
        if met and onward[-1] >= 0 and _same_edge(trace, met[-1], anchor):
            met.pop()
            onward.pop()
            if met:
                onward[-1] = goes_on
            continue
        met.append(anchor)
        onward.append(goes_on)
    return Crossings(np.array(met, dtype=np.int64), np.array(onward, dtype=np.int64))


def _same_edge(trace: Trace, a: int, b: int) -> bool:
    return bool(
        a != b
        and trace.kind[a] == trace.kind[b] == ON_EDGE
        and trace.element[a] == trace.element[b]
    )


def left_is_low(mesh: Mesh, trace: Trace, walk: Walk, anchor: int) -> bool:
    """Whether the lower vertex of a crossed edge lies to the left of the walk, as the eye sees the
    stroke.

    Walking out of a face over its edge u to v, counter-clockwise seen from outside, v lies to the
    left; what faces away from the eye is seen from inside."""
    edge = int(trace.element[anchor])
    at = walk.anchors.index(anchor)
    if at > 0 and walk.faces[at - 1] >= 0:
        left_is_head, face = True, walk.faces[at - 1]
    elif at < len(walk.faces) and walk.faces[at] >= 0:
        left_is_head, face = False, walk.faces[at]
    else:
        return True
    row = mesh.edges.of_corner[mesh.starts[face] : mesh.starts[face + 1]]
    corner = int(np.flatnonzero(row == edge)[0])
    tail_is_low = bool(mesh.face(face)[corner] == mesh.edges.ends[edge, 0])
    head_is_low = not tail_is_low
    low = head_is_low if left_is_head else tail_is_low
    return low if walk.seen else not low
