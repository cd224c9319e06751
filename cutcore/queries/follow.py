"""Follow: lift new vertices of a loop onto the curve that the neighbouring loops suggest."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, Ints, cross
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.mesh.mesh import Mesh

# A line goes on at a vertex without four edges along the edge that turns least, if it turns by no
# more than this, ...
MOST_TURN_DEGREES = 75.0
# ... and by so much less than any other.
LEAST_LEAD_DEGREES = 15.0


def lift_onto_curve(
    mesh: Mesh, edge: int, first: int, share: float, follow: float
) -> Floats | None:
    """How far (3,) to move the place at a share of an edge, counted from its vertex `first`; None
    if no line goes on there.

    Circle splines (C. H. Séquin, K. Lee and J. Yen, Fair, G2- and C2-continuous circle splines for
    the interpolation of sparse data points, Computer-Aided Design 37, 2005). The edge a–b is
    continued to p beyond a and q beyond b. The circles through p, a, b and through a, b, q each
    have an arc from a to b; with A(t) and B(t) the places at a share t of their angles, the curve
    is

        C(t) = (1 - t) A(t) + t B(t)

    and the answer is `follow` (0..1) times C(t) - ((1 - t) a + t b). Where a line does not go on,
    the other arc is used alone. Points of one circle give that circle exactly. No place is moved
    further than half of its edge: as far as a half circle over it would go."""
    low, high = (int(v) for v in mesh.edges.ends[edge])
    a, b = (low, high) if first == low else (high, low)
    before, after = bent_on(mesh, edge, a), bent_on(mesh, edge, b)
    place_a, place_b = mesh.points[a], mesh.points[b]
    straight = (1.0 - share) * place_a + share * place_b
    one = _on_arc(mesh.points[before], place_a, place_b, share) if before >= 0 else None
    other = _on_arc(mesh.points[after], place_b, place_a, 1.0 - share) if after >= 0 else None
    # Where only one arc is there it stands for both.
    one_arc, other_arc = (other if one is None else one), (one if other is None else other)
    if one_arc is None or other_arc is None:
        return None
    lift = follow * ((1.0 - share) * one_arc + share * other_arc - straight)
    size, most = float(np.linalg.norm(lift)), 0.5 * float(np.linalg.norm(place_b - place_a))
    return np.asarray(lift if size <= most else lift * (most / size))


def continued(mesh: Mesh, edge: int, vertex: int) -> int:
    """The vertex that the line of an edge goes on to beyond one of its ends, at a vertex with four
    edges, or -1."""
    around = mesh.edges.at_vertex(vertex)
    if len(around) != 4:
        return -1
    beside = set(mesh.edges.faces_at(edge))
    for other in around.tolist():
        if other != edge and beside.isdisjoint(mesh.edges.faces_at(other)):
            return _end(mesh, other, vertex)
    return -1


def bent_on(mesh: Mesh, edge: int, vertex: int) -> int:
    """The vertex that the curve of an edge goes on to beyond one of its ends, or -1: the edge
    opposite where there are four; a border goes on along the border; else it is the edge that goes
    straightest on."""
    table = mesh.edges
    if not table.border[edge] and (opposite := continued(mesh, edge, vertex)) >= 0:
        return opposite
    around = table.at_vertex(vertex)
    others = around[around != edge]
    return _straightest(
        mesh, edge, vertex, others[table.border[others]] if table.border[edge] else others
    )


def _straightest(mesh: Mesh, edge: int, vertex: int, others: Ints) -> int:
    """The far end of the edge that an edge goes straightest on to at a vertex; -1 if none does, or
    two do alike."""
    here = mesh.points[vertex]
    comes = here - mesh.points[_end(mesh, edge, vertex)]
    ends = np.array([_end(mesh, other, vertex) for other in others.tolist()], dtype=np.int64)
    goes = mesh.points[ends] - here
    sizes = np.linalg.norm(goes, axis=1) * float(np.linalg.norm(comes))
    with np.errstate(divide="ignore", invalid="ignore"):
        turns = np.degrees(np.arccos(np.clip(goes @ comes / sizes, -1.0, 1.0)))
    order = np.argsort(turns)
    if len(order) == 0 or not turns[order[0]] <= MOST_TURN_DEGREES:
        return -1
    if len(order) > 1 and turns[order[1]] - turns[order[0]] < LEAST_LEAD_DEGREES:
        return -1
    return int(ends[order[0]])


def _end(mesh: Mesh, edge: int, vertex: int) -> int:
    """The other end of an edge."""
    a, b = (int(v) for v in mesh.edges.ends[edge])
    return b if a == vertex else a


def _on_arc(before: Floats, a: Floats, b: Floats, share: float) -> Floats:
    """The place at a share of the angle of the arc from a to b of the circle through before, a and
    b."""
    u, v = before - a, b - a
    across = cross(u, v)
    size = float(across @ across)
    if size <= NEGLIGIBLE**2 * float(u @ u) * float(v @ v):
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
