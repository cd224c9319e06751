"""A trace of faces of which it is known what they fall into."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.mesh.mesh import Mesh
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, Trace, anchor_place


@dataclass
class KnownFaces:
    """Collects anchors and the children of faces as loops of them. Every anchor on an edge becomes
    a vertex."""

    mesh: Mesh
    _anchors: list[tuple[int, int, float, Floats]] = field(default_factory=list)
    _known: dict[tuple[int, float], int] = field(default_factory=dict)
    _spans: list[tuple[int, int, int]] = field(default_factory=list)
    _children: dict[int, list[list[int]]] = field(default_factory=dict)

    def vertex(self, vertex: int) -> int:
        """The anchor on a vertex."""
        key = (-1 - vertex, 0.0)
        if key not in self._known:
            place = np.asarray(self.mesh.points[vertex])
            self._known[key] = self._add(ON_VERTEX, vertex, 0.0, place)
        return self._known[key]

    def on_edge(self, edge: int, share: float) -> int:
        """The anchor at a share of an edge from its lower vertex, well apart from others."""
        key = (edge, share)
        if key not in self._known:
            place = anchor_place(self.mesh, edge, share)
            self._known[key] = self._add(ON_EDGE, edge, share, place)
        return self._known[key]

    def in_face(self, face: int, place: Floats) -> int:
        """A new anchor inside a face."""
        return self._add(IN_FACE, face, 0.0, place)

    def put(self, face: int, children: list[list[int]]) -> None:
        """Let a face fall into children; what two of them share are the lines drawn in it."""
        self._children[face] = children
        once: set[tuple[int, int]] = set()
        for child in children:
            for a, b in zip(child, child[1:] + child[:1], strict=True):
                pair = (min(a, b), max(a, b))
                if pair in once:
                    self._spans.append((*pair, face))
                once.add(pair)

    def trace(self) -> Trace:
        """All that was put."""
        spans = np.array(self._spans, dtype=np.int64).reshape(-1, 3)
        kind, element, share, place = zip(*self._anchors, strict=True)
        kinds = np.array(kind)
        drawn = Trace.of(
            kinds,
            np.array(element),
            np.array(share),
            np.array(place),
            spans[:, :2],
            spans[:, 2],
        )
        return drawn.known(self._children, stands=kinds == ON_EDGE)

    def _add(self, kind: int, element: int, share: float, place: Floats) -> int:
        self._anchors.append((kind, element, share, place))
        return len(self._anchors) - 1
