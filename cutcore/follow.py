"""Follow: lift new vertices of a loop onto the curve that the neighbouring loops suggest."""

from __future__ import annotations

import numpy as np

from cutcore.arrays import Floats, cross
from cutcore.mesh import Mesh


def lift_onto_curve(mesh: Mesh, edge: int, first: int, share: float, follow: float) -> Floats:
    """How far (3,) to move the place at a share of an edge, counted from its vertex `first`.

    Circle splines (C. H. Séquin, K. Lee and J. Yen, Fair, G2- and C2-continuous circle splines for the
    interpolation of sparse data points, Computer-Aided Design 37, 2005). The edge a–b is continued to p
    beyond a and q beyond b. The circles through p, a, b and through a, b, q each have an arc from a to b;
    with A(t) and B(t) the places at a share t of their angles, the curve is

        C(t) = (1 - t) A(t) + t B(t)

    and the answer is `follow` (0..1) times C(t) - ((1 - t) a + t b). Where a line does not go on (at a
    border, or at a vertex without exactly four edges) the other arc is used alone; where neither goes on
    nothing is lifted. Points of one circle give that circle exactly.
    """
    low, high = (int(v) for v in mesh.edges.ends[edge])
    a, b = (low, high) if first == low else (high, low)
    before, after = continued(mesh, edge, a), continued(mesh, edge, b)
    place_a, place_b = mesh.points[a], mesh.points[b]
    straight = (1.0 - share) * place_a + share * place_b
    one = _on_arc(mesh.points[before], place_a, place_b, share) if before >= 0 else None
    other = _on_arc(mesh.points[after], place_b, place_a, 1.0 - share) if after >= 0 else None
    # Where only one arc is there it stands for both.
    one_arc, other_arc = (other if one is None else one), (one if other is None else other)
    if one_arc is None or other_arc is None:
        return np.zeros(3)
    curve = (1.0 - share) * one_arc + share * other_arc
    return np.asarray(follow * (curve - straight))


def continued(mesh: Mesh, edge: int, vertex: int) -> int:
    """The vertex that the line of an edge goes on to beyond one of its ends, or -1."""
    around = mesh.edges.at_vertex(vertex)
    if len(around) != 4:
        return -1
    beside = set(mesh.edges.faces_at(edge))
    for other in around.tolist():
        if other != edge and beside.isdisjoint(mesh.edges.faces_at(other)):
            a, b = (int(v) for v in mesh.edges.ends[other])
            return b if a == vertex else a
    return -1


def _on_arc(before: Floats, a: Floats, b: Floats, share: float) -> Floats:
    """The place at a share of the angle of the arc from a to b of the circle through before, a and b."""
    u, v = before - a, b - a
    across = cross(u, v)
    size = float(across @ across)
    if size <= 1e-18 * float(u @ u) * float(v @ v):
        return np.asarray(a + share * v)
    # The middle of the circle, seen from a.
    middle = cross((u @ u) * v - (v @ v) * u, across) / (2.0 * size)
    radial = -middle
    # From a towards b, away from `before`.
    turned = cross(across / np.sqrt(size), radial)
    if float(turned @ u) > 0:
        turned = -turned
    end = v - middle
    angle = np.arctan2(float(end @ turned), float(end @ radial)) % (2.0 * np.pi)
    return np.asarray(a + middle + np.cos(share * angle) * radial + np.sin(share * angle) * turned)
