"""Shortest ways over the surface: held against ways from point to point of a fine net on the same
triangles, from both ends, through limits and over edges of three faces."""

from __future__ import annotations

import random

import numpy as np
from django.test import SimpleTestCase
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import dijkstra

from cutcore import Mesh, PathError, apply_step, parse_step
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.torus import torus
from cutcore.trace.geodesic import Geodesic, geodesic
from cutcore.trace.surface_points import SurfacePoint
from cutcore.trace.trace import IN_FACE, ON_EDGE, ON_VERTEX, SpanOf, TraceBuilder, anchor_place
from tests.awkward import awkward, fins

# So many points of the net lie inside each side of a triangle.
FINE = 8


def net_length(mesh: Mesh, start: int, end: int) -> float:
    """The length of the shortest way from vertex to vertex over points on the sides of triangles:
    never less than that of the shortest way, and hardly more."""
    places = list(mesh.points)
    on_side: dict[tuple[int, int], list[int]] = {}

    def side(a: int, b: int) -> list[int]:
        pair = min(a, b), max(a, b)
        if pair not in on_side:
            low, high = mesh.points[list(pair)]
            on_side[pair] = list(range(len(places), len(places) + FINE))
            places.extend(low + (high - low) * j / (FINE + 1) for j in range(1, FINE + 1))
        return [pair[0], *on_side[pair], pair[1]]

    one, other = [], []
    for triangle in mesh.triangles.corners.tolist():
        sides = [side(triangle[i], triangle[(i + 1) % 3]) for i in range(3)]
        for i in range(3):
            one.append(np.array(sides[i][:-1]))
            other.append(np.array(sides[i][1:]))
            for j in range(i + 1, 3):
                a, b = np.meshgrid(sides[i], sides[j])
                one.append(a.ravel())
                other.append(b.ravel())
    at = np.array(places)
    a, b = np.concatenate(one), np.concatenate(other)
    pairs = np.unique(np.sort(np.stack([a, b], axis=1)[a != b], axis=1), axis=0)
    length = np.linalg.norm(at[pairs[:, 0]] - at[pairs[:, 1]], axis=1)
    table = coo_matrix((length + 1e-300, pairs.T), shape=(len(at),) * 2).tocsr()
    return float(dijkstra(table, directed=False, indices=start)[end])


def on_vertex(mesh: Mesh, vertex: int) -> SurfacePoint:
    return SurfacePoint(ON_VERTEX, vertex, 0.0, mesh.points[vertex])


def somewhere(mesh: Mesh, source: random.Random) -> SurfacePoint:
    """A vertex, a place on an edge, or one inside a face."""
    match source.randrange(3):
        case 0:
            return on_vertex(mesh, int(source.choice(mesh.corners.tolist())))
        case 1:
            edge = source.randrange(len(mesh.edges))
            share = source.choice([0.5, 0.25, source.random()])
            return SurfacePoint(ON_EDGE, edge, share, anchor_place(mesh, edge, share))
    face = source.randrange(mesh.face_count)
    inside = mesh.triangles.of_face(face)
    weights = np.random.default_rng(source.randrange(10**6)).dirichlet([1, 1, 1])
    return SurfacePoint(
        IN_FACE, face, 0.0, weights @ mesh.points[inside[source.randrange(len(inside))]]
    )


def ground(source: random.Random) -> Mesh:
    while True:
        mesh = source.choice(
            [lambda: awkward(source)[1], lambda: ball(1.0, 4), lambda: box(3, 2, 1, (2, 3, 1))]
        )()
        if mesh.face_count <= 200:
            return mesh


class Shortest(SimpleTestCase):
    def test_no_way_over_a_fine_net_is_shorter(self) -> None:
        source = random.Random(3)
        for _ in range(80):
            mesh = ground(source)
            a, b = source.choices(sorted(set(mesh.corners.tolist())), k=2)
            if a == b:
                continue
            over_the_net = net_length(mesh, a, b)
            try:
                found = geodesic(mesh, on_vertex(mesh, a), on_vertex(mesh, b), None)
            except PathError:
                self.assertEqual(over_the_net, np.inf)
                continue
            self.assertTrue(found.shown)
            self.assertLessEqual(found.length(mesh), over_the_net * (1 + 1e-9))
            self.assert_leads_there(mesh, found)

    def assert_leads_there(self, mesh: Mesh, found: Geodesic) -> None:
        """Raise AssertionError unless its spans, laid, join start and end in one run."""
        builder = TraceBuilder(mesh, 1e-9 * mesh.diagonal)
        found.lay(builder, SpanOf(0, 0))
        trace = builder.build()
        degree = np.bincount(trace.ends.ravel(), minlength=len(trace.kind))
        odd = trace.place[degree % 2 == 1]
        ends = np.array([found.start.place, found.end.place])
        for place in ends:
            self.assertLess(np.linalg.norm(odd - place, axis=1).min(), 1e-6 * mesh.diagonal)
        self.assertEqual(len(odd), 2)

    def test_both_ends_say_the_same_and_no_detour_is_shorter(self) -> None:
        source = random.Random(8)
        for _ in range(120):
            mesh = ground(source)
            a, b, c = (somewhere(mesh, source) for _ in range(3))
            limit = None
            if source.random() < 0.4:
                chance = np.random.default_rng(source.randrange(10**6))
                limit = chance.random(mesh.face_count) < 0.8
            try:
                there = geodesic(mesh, a, b, limit)
            except PathError:
                with self.assertRaises(PathError):
                    geodesic(mesh, b, a, limit)
                continue
            length, slack = there.length(mesh), 1e-9 * mesh.diagonal
            self.assertAlmostEqual(geodesic(mesh, b, a, limit).length(mesh), length, delta=slack)
            self.assertGreaterEqual(length + slack, float(np.linalg.norm(a.place - b.place)))
            if limit is not None:
                self.assertTrue(limit[there.faces].all())
            try:
                round_c = [geodesic(mesh, p, q, limit).length(mesh) for p, q in ((a, c), (c, b))]
            except PathError:
                continue
            self.assertLessEqual(length, sum(round_c) + slack)

    def test_over_an_edge_of_three_faces_the_way_is_the_unfolded_one(self) -> None:
        for seed in range(8):
            mesh = fins(random.Random(seed))
            vertices = sorted(set(mesh.corners.tolist()))
            for a, b in zip(vertices, reversed(vertices), strict=True):
                if a != b:
                    found = geodesic(mesh, on_vertex(mesh, a), on_vertex(mesh, b), None)
                    self.assertLessEqual(found.length(mesh), net_length(mesh, a, b) * (1 + 1e-9))

    def test_where_not_all_can_be_looked_at_it_is_said(self) -> None:
        mesh = torus(3.0, 1.0, 160, 100)
        far = 80 * 100 + 33
        few = geodesic(mesh, on_vertex(mesh, 0), on_vertex(mesh, far), None, most=500)
        self.assertFalse(few.shown)
        near = geodesic(mesh, on_vertex(mesh, 0), on_vertex(mesh, 505), None)
        self.assertTrue(near.shown)
        large = torus(3.0, 1.0, 400, 250)
        seam = {"tool": "seam", "points": [{"vertex": 0}, {"vertex": 200 * 250 + 80}]}
        told = [note.code for note in apply_step(large, parse_step(seam)).notes]
        self.assertIn("seam-not-shown", told)
