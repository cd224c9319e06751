"""Where a bevel puts the vertices that come of one: on the edges that stay, or in a face between two
edges that go."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.vectors import unit
from cutcore.mesh.mesh import Mesh
from cutcore.notes import vertex as vertex_element
from cutcore.queries.fans import Fan

# An edge that leaves beside a bevelled one at a sine below this takes its vertex no further out.
LEAST_SINE = 0.25
# Two bevelled edges that turn back on each other: the cosine between their inward normals is -1.
TURNS_BACK = 1e-6
# Corners with a smaller sine count as straight.
STRAIGHT = 1e-6


@dataclass(eq=False)
class Opened:
    """What one fan becomes: `points`, numbered counter-clockwise, and after each the `side` that goes
    on to the next: the bevelled edge it lies across, or -1 along a face.

    `reach` says for each how far (3,) it goes for a width of 1; `at_corner` which points take the
    vertex's place in the face of a corner, in its order; `on_edge` which lies on an edge that
    stays. `widths` are those, for one of 1, that bevelled edges beside edges that stay get: another
    one where there are two on which these do not agree, or one leaves beside it at hardly any
    angle."""

    fan: Fan
    points: list[int] = field(default_factory=list)
    sides: list[int] = field(default_factory=list)
    reach: list[Floats] = field(default_factory=list)
    at_corner: dict[int, list[int]] = field(default_factory=dict)
    on_edge: dict[int, int] = field(default_factory=dict)
    widths: list[float] = field(default_factory=list)


def opened(mesh: Mesh, fan: Fan, bevelled: set[int], first: int) -> Opened:
    """A fan opened at its bevelled edges, or at all if none is bevelled; its points are numbered from
    the vertex itself, then from `first`.

    Raises StepError, with the vertex, where two bevelled edges turn back on each other."""
    made = Opened(fan)
    count = len(fan.edges)
    numbers = iter([fan.vertex, *range(first, first + count)])

    def put(reach: Floats, side: int) -> int:
        number = next(numbers)
        made.points.append(number)
        made.reach.append(reach)
        made.sides.append(side)
        return number

    for i, edge in enumerate(fan.edges):
        if edge not in bevelled:
            sines = _sines_beside(mesh, fan, i, bevelled)
            reach = _reach_along(sines)
            made.widths += [reach * sine for sine in sines]
            made.on_edge[edge] = put(reach * _direction(mesh, fan.vertex, edge), -1)
        elif made.sides:
            made.sides[-1] = edge
        if i < len(fan.corners):
            after = fan.edges[fan.edge_after(i)]
            if edge in bevelled and after in bevelled:
                number = put(_between(mesh, fan, i), -1)
                made.at_corner[fan.corners[i]] = [number]
    # The edge that all begins with lies after the last point.
    if fan.edges[0] in bevelled:
        made.sides[-1] = fan.edges[0]
    for i, corner in enumerate(fan.corners):
        out, back = fan.edges[i], fan.edges[fan.edge_after(i)]
        if corner not in made.at_corner:
            kept = [made.on_edge[e] for e in (back, out) if e in made.on_edge]
            made.at_corner[corner] = list(dict.fromkeys(kept))
    if len(made.points) == 1:
        made.reach = [np.zeros(3)]
    return made


def _sines_beside(mesh: Mesh, fan: Fan, at: int, bevelled: set[int]) -> list[float]:
    """The sines of the angles between an edge that stays, by its position in a fan, and the bevelled
    ones beside it: negative where the face between them turns inward."""
    count = len(fan.edges)
    found = []
    for corner, other in ((at - 1, at - 1), (at, at + 1)):
        if fan.open and not 0 <= other < count:
            continue
        if fan.edges[other % count] in bevelled:
            found.append(_sine_at(mesh, fan, corner % len(fan.corners)))
    return found


def _sine_at(mesh: Mesh, fan: Fan, corner: int) -> float:
    """The sine of the angle inside a face at a corner, by its position in a fan."""
    out = _direction(mesh, fan.vertex, fan.edges[corner])
    back = _direction(mesh, fan.vertex, fan.edges[fan.edge_after(corner)])
    face = int(mesh.face_of_corner[fan.corners[corner]])
    turn = cross(out, back)
    size = float(np.linalg.norm(turn))
    return size if float(turn @ mesh.face_normals(np.array([face]))[0]) >= 0 else -size


def _reach_along(sines: list[float]) -> float:
    """How far along an edge that stays its distance from the bevelled ones beside it is 1, or what
    is between where they do not agree: back over the vertex, if these leave at an inward corner."""
    if not sines:
        return 1.0
    far = [1.0 / np.copysign(max(abs(sine), LEAST_SINE), sine) for sine in sines]
    return float(np.mean(far))


def _between(mesh: Mesh, fan: Fan, corner: int) -> Floats:
    """In a face, at a distance of 1 from both edges at a corner: (a + b) / (1 + a · b), with their
    inward unit normals."""
    out = _direction(mesh, fan.vertex, fan.edges[corner])
    comes = -_direction(mesh, fan.vertex, fan.edges[fan.edge_after(corner)])
    face = int(mesh.face_of_corner[fan.corners[corner]])
    normal = unit(mesh.face_normals(np.array([face]))[0])
    turn = cross(comes, out)
    size = float(np.linalg.norm(turn))
    if size > STRAIGHT:
        normal = turn / size if float(turn @ normal) >= 0 else -turn / size
    a, b = cross(normal, out), cross(normal, comes)
    divisor = 1.0 + float(a @ b)
    if divisor <= TURNS_BACK:
        words = "two of the edges turn back on each other at this vertex: there is no room between"
        raise StepError(words, elements=(vertex_element(fan.vertex),))
    return np.asarray((a + b) / divisor)


def _direction(mesh: Mesh, vertex: int, edge: int) -> Floats:
    """The unit direction (3,) in which an edge leaves a vertex."""
    a, b = mesh.edges.ends[edge].tolist()
    return unit(mesh.points[b if a == vertex else a] - mesh.points[vertex])
