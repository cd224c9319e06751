"""The other half of a symmetric mesh: which vertex, edge and face lies where in the mirror."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from cutcore.geometry.arrays import Bools, Ints
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Element, Note, face
from cutcore.trace.mirror import Mirror
from cutcore.trace.surface_points import SurfacePoint
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, SpanOf, Trace, TraceBuilder

NO_COUNTERPART = "no-counterpart"
WORDS = "Some of the line has no counterpart in the mirror: it is cut on one side only."

# Counterparts may be this many weld tolerances apart: people model symmetry by hand.
SLACK = 100.0


def _tree_of(mesh: Mesh) -> cKDTree:
    """The search tree of a mesh's vertices, kept as long as the mesh."""
    return mesh.held("_vertex_tree", lambda of: cKDTree(of.points))


class Counterparts:
    """Looks elements up in the mirror; -1 where there is none."""

    def __init__(self, mesh: Mesh, mirror: Mirror, *, weld: float) -> None:
        self._mesh, self._mirror = mesh, mirror
        self._tree = _tree_of(mesh)
        self._slack = SLACK * weld

    def vertices(self, vertices: Ints) -> Ints:
        """The counterparts (n,) of vertices (n,)."""
        gap, found = self._tree.query(self._mirror.places(self._mesh.points[vertices]))
        return np.where(gap <= self._slack, found, -1).astype(np.int64)

    def edge(self, index: int) -> int:
        a, b = self.vertices(self._mesh.edges.ends[index])
        return -1 if a < 0 or b < 0 else self._mesh.edges.between(int(a), int(b))

    def face(self, index: int) -> int:
        loop = self.vertices(self._mesh.face(index))
        if (loop < 0).any():
            return -1
        corners = set(loop.tolist())
        for candidate in self._mesh.edges.faces_at_vertex(int(loop[0])).tolist():
            if set(self._mesh.face(candidate).tolist()) == corners:
                return int(candidate)
        return -1

    def of(self, surface_point: SurfacePoint) -> int:
        """The element that lies where the mirror shows a surface point."""
        if surface_point.kind == ON_VERTEX:
            return int(self.vertices(np.array([surface_point.element]))[0])
        if surface_point.kind == ON_EDGE:
            return self.edge(surface_point.element)
        return self.face(surface_point.element) if surface_point.kind == IN_FACE else -1


def with_mirror(
    mesh: Mesh, trace: Trace, mirror: Mirror, *, limit: Bools | None, weld: float
) -> Trace:
    """A trace together with its counterpart, as far as a limit (F,) allows; what has none is noted,
    with its place."""
    counterparts = Counterparts(mesh, mirror, weld=weld)
    builder = TraceBuilder.on(mesh, trace, weld)
    lines = int(trace.line.max()) + 1 if len(trace.line) else 0
    anchors: dict[int, int] = {}
    missing: list[Element] = []
    for s, (a, b) in enumerate(trace.ends.tolist()):
        goal = int(trace.face[s])
        if goal >= 0:
            goal = counterparts.face(goal)
            if goal < 0:
                missing.append(face(int(trace.face[s])))
                continue
            if limit is not None and not limit[goal]:
                continue
        ends = []
        for anchor in (a, b):
            if anchor not in anchors:
                anchors[anchor] = _mirrored(trace, anchor, counterparts, builder, mirror)
            ends.append(anchors[anchor])
        if min(ends) < 0:
            lost = a if ends[0] < 0 else b
            missing.append(SurfacePoint.of(trace, lost).element_of(mesh))
            continue
        of = SpanOf(
            lines + int(trace.line[s]),
            int(trace.stretch[s]),
            bool(trace.far[s]),
            bool(trace.trimmed[s]),
        )
        builder.span(ends[0], ends[1], goal, of)
    if missing:
        builder.note(Note(NO_COUNTERPART, WORDS, tuple(dict.fromkeys(missing))))
    return builder.build()


def _mirrored(
    trace: Trace, anchor: int, counterparts: Counterparts, builder: TraceBuilder, mirror: Mirror
) -> int:
    """The anchor in the mirror, or -1."""
    element = int(trace.element[anchor])
    lift = None if trace.lift is None else mirror.directions(trace.lift[anchor])
    if trace.kind[anchor] == ON_VERTEX:
        found = int(counterparts.vertices(np.array([element]))[0])
        return -1 if found < 0 else builder.vertex(found)
    if trace.kind[anchor] == ON_EDGE:
        found = counterparts.edge(element)
        if found < 0:
            return -1
        low = int(counterparts.vertices(builder.mesh.edges.ends[element][:1])[0])
        share = float(trace.share[anchor])
        forward = builder.mesh.edges.ends[found, 0] == low
        return builder.on_edge(found, share if forward else 1.0 - share, lift)
    found = counterparts.face(element)
    return -1 if found < 0 else builder.in_face(found, mirror.places(trace.place[anchor]), lift)
