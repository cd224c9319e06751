"""Follow: the curves that edges suggest with those they go on to, and how far a place on an edge lies
off its curve."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, cross
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.creases import strengths_of
from cutcore.mesh.mesh import Mesh

# A line goes on at a vertex if it turns by no more than this, ...
MOST_TURN_DEGREES = 75.0
# ... and where there is no edge opposite, along one that turns by so much less than any other.
LEAST_LEAD_DEGREES = 15.0
# Halvings of an edge until the place at which its curve meets a plane is told to the last bit.
HALVINGS = 60


@dataclass(frozen=True, eq=False)
class EdgeCurves:
    """The curves of some edges, each from its lower vertex to the other.

    Circle splines (C. H. Séquin, K. Lee and J. Yen, Fair, G2- and C2-continuous circle splines for
    the interpolation of sparse data points, Computer-Aided Design 37, 2005). The edge a–b is
    continued to p beyond a and q beyond b. The circles through p, a, b and through a, b, q each
    have an arc from a to b; with A(t) and B(t) the places at a share t of their angles, the curve
    is

        C(t) = (1 - t) A(t) + t B(t).

    Where a line does not go on, the other arc is used alone; where it goes on at neither end there
    is no curve. Points of one circle give that circle exactly, points of one line that line."""

    low: Floats
    high: Floats
    from_low: _Arcs
    from_high: _Arcs
    known: Bools

    @staticmethod
    def of(mesh: Mesh, edges: Ints) -> EdgeCurves:
        """The curves of edges (n,), each given as often as there are places on it."""
        ends = mesh.edges.ends[edges].astype(np.int64)
        low, high = mesh.points[ends[:, 0]], mesh.points[ends[:, 1]]
        different, row = np.unique(edges, return_inverse=True)
        hard = mesh.edges.joining(mesh.hard) & (strengths_of(mesh) == 1.0)
        beyond = np.array(
            [
                [bent_on(mesh, edge, int(end), hard) for end in mesh.edges.ends[edge]]
                for edge in different.tolist()
            ],
            dtype=np.int64,
        ).reshape(-1, 2)[row]
        before, after = beyond.T
        known = np.asarray((beyond >= 0).any(axis=1))
        # Where only one arc is there it stands for both.
        one, other = (np.where(beyond[:, k] >= 0, k, 1 - k) for k in (0, 1))
        arcs = (
            _Arcs.of(mesh.points[before], low, high),
            _Arcs.of(mesh.points[after], high, low),
        )
        return EdgeCurves(low, high, _Arcs.chosen(arcs, one), _Arcs.chosen(arcs, other), known)

    def lifts(self, share: Floats, follow: float) -> Floats:
        """How far (n, 3) the places at shares (n,), counted from the lower vertices, are to be moved:
        `follow` (0..1) times the way to the curve, by no more than half of the edge, as far as a half
        circle over it would go. Nothing where there is no curve."""
        t = share[:, None]
        straight = self.low + t * (self.high - self.low)
        curve = (1.0 - t) * self.from_low.at(share) + t * self.from_high.at(share)
        lift = np.where(self.known[:, None], follow * (curve - straight), 0.0)
        size = np.linalg.norm(lift, axis=1)
        most = 0.5 * np.linalg.norm(self.high - self.low, axis=1)
        short = np.where(size > most, most / np.maximum(size, NOT_ZERO), 1.0)
        return np.asarray(lift * short[:, None])

    def lifts_in_planes(
        self, share: Floats, follow: float, normal: Floats, level: Floats
    ) -> Floats:
        """As `lifts`, for places that lie in planes `normal (n, 3)` · p = `level (n,)` and stay in
        them: where the lifted edge meets its plane. An edge that does not pass from one side to the
        other is not lifted."""
        from_place = self.low + share[:, None] * (self.high - self.low)

        def lifted(t: Floats) -> Floats:
            along = self.low + t[:, None] * (self.high - self.low)
            return np.asarray(along + self.lifts(t, follow))

        def height(places: Floats) -> Floats:
            return np.asarray(np.einsum("ij,ij->i", places, normal) - level)

        rises = height(self.high) > 0
        passes = (height(self.low) < 0) == rises
        begin, end = np.zeros(len(share)), np.ones(len(share))
        for _ in range(HALVINGS):
            half = 0.5 * (begin + end)
            beyond = (height(lifted(half)) > 0) == rises
            begin, end = np.where(beyond, begin, half), np.where(beyond, half, end)
        places = lifted(0.5 * (begin + end))
        # What is left of a height is rounding.
        places -= height(places)[:, None] * normal
        return np.where((passes & self.known)[:, None], places - from_place, 0.0)


def continued(mesh: Mesh, edge: int, vertex: int) -> int:
    """The vertex that the line of an edge goes on to beyond one of its ends, at a vertex with four
    edges, or -1.

    Where faces only touch, or on a border, an edge may have no face in common with several: none of
    them is opposite. What is, is so both ways, so that whoever walks on comes back to where they
    began or to an end."""
    around = mesh.edges.at_vertex(vertex).tolist()
    if len(around) != 4:
        return -1
    faces = {other: set(mesh.edges.faces_at(other)) for other in around}

    def apart(one: int) -> list[int]:
        return [other for other in around if other != one and faces[one].isdisjoint(faces[other])]

    across = apart(edge)
    if len(across) != 1 or apart(across[0]) != [edge]:
        return -1
    return _end(mesh, across[0], vertex)


def bent_on(mesh: Mesh, edge: int, vertex: int, hard: Bools) -> int:
    """The vertex that the curve of an edge goes on to beyond one of its ends, or -1: the edge
    opposite where there are four; a border goes on along the border; else it is the edge that goes
    straightest on.

    A corner is no curve: none goes on that turns by more than `MOST_TURN_DEGREES`, or across a hard
    edge, of those that are `hard` (E,)."""
    table = mesh.edges
    around = table.at_vertex(vertex)
    others = around[around != edge]
    goal = continued(mesh, edge, vertex) if not table.border[edge] else -1
    if goal >= 0:
        others = others[(table.ends[others] == goal).any(axis=1)]
    elif table.border[edge]:
        others = others[table.border[others]]
    goes_on = _straightest(mesh, edge, vertex, others)
    if goes_on < 0:
        return -1
    crossed = hard[around] & (around != edge) & (around != goes_on)
    return -1 if crossed.any() else _end(mesh, goes_on, vertex)


def _straightest(mesh: Mesh, edge: int, vertex: int, others: Ints) -> int:
    """The edge that one goes straightest on to at a vertex, of some others; -1 if none does, or two
    do alike."""
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
    return int(others[order[0]])


def _end(mesh: Mesh, edge: int, vertex: int) -> int:
    """The other end of an edge."""
    a, b = (int(v) for v in mesh.edges.ends[edge])
    return b if a == vertex else a


@dataclass(frozen=True, eq=False)
class _Arcs:
    """Arcs of circles, or straight ways (n,): `middle`, `radial`, `turned (n, 3)`, `angle (n,)`;
    `reverse` ones are run from their end."""

    a: Floats
    b: Floats
    middle: Floats
    radial: Floats
    turned: Floats
    angle: Floats
    flat: Bools
    reverse: Bools

    @staticmethod
    def of(before: Floats, a: Floats, b: Floats) -> _Arcs:
        """The arcs from a to b of the circles through before, a and b (n, 3)."""
        u, v = before - a, b - a
        across = cross(u, v)
        uu, vv, size = (np.einsum("ij,ij->i", x, x) for x in (u, v, across))
        flat = size <= NEGLIGIBLE**2 * uu * vv
        divisor = np.where(flat, 1.0, size)[:, None]
        # The middle of the circle, seen from a.
        middle = cross(uu[:, None] * v - vv[:, None] * u, across) / (2.0 * divisor)
        radial = -middle
        # From a towards b, away from `before`.
        turned = cross(across / np.sqrt(divisor), radial)
        turned = np.where((np.einsum("ij,ij->i", turned, u) > 0)[:, None], -turned, turned)
        end = v - middle
        angle = np.arctan2(
            np.einsum("ij,ij->i", end, turned), np.einsum("ij,ij->i", end, radial)
        ) % (2.0 * np.pi)
        forward = np.zeros(len(a), dtype=bool)
        return _Arcs(a, b, a + middle, radial, turned, angle, flat, forward)

    @staticmethod
    def chosen(arcs: tuple[_Arcs, _Arcs], which: Ints) -> _Arcs:
        """Of the arcs from the lower vertices and those from the others, the ones told; all run from
        the lower vertices."""

        def of(name: str) -> Any:
            one, other = (getattr(arc, name) for arc in arcs)
            return np.where(which[:, None] == 0 if one.ndim == 2 else which == 0, one, other)

        names = ("a", "b", "middle", "radial", "turned", "angle", "flat")
        return _Arcs(**{name: of(name) for name in names}, reverse=which == 1)

    def at(self, share: Floats) -> Floats:
        """The places (n, 3) at shares (n,) of the angles."""
        t = np.where(self.reverse, 1.0 - share, share)
        turn = (t * self.angle)[:, None]
        round_it = self.middle + np.cos(turn) * self.radial + np.sin(turn) * self.turned
        straight = self.a + t[:, None] * (self.b - self.a)
        return np.where(self.flat[:, None], straight, round_it)
