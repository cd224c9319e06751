"""Seam: the shortest way over the surface, straight ways and planes by two points."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import dijkstra

from cutcore import CutError, Mesh, Result, apply_step, parse_step
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.steps.replay import trace_step
from tests.guarantees import assert_guarantees
from tests.zoo import CLOSED, ZOO, concave_plate, triangulated

CUBE = box(2.0, 2.0, 2.0, (3, 3, 3))
PLATE = sheet(4.0, 3.0, 4, 3)


def made(mesh: Mesh, *points: Any, **more: Any) -> Result:
    return apply_step(mesh, parse_step({"tool": "seam", "points": points, **more}))


def length(mesh: Mesh, *points: Any, **more: Any) -> float:
    drawn = trace_step(mesh, parse_step({"tool": "seam", "points": points, **more}))
    return float(np.linalg.norm(np.diff(drawn.place[drawn.ends], axis=1), axis=2).sum())


def along_edges(mesh: Mesh, a: int, b: int) -> float:
    """How long the shortest way along edges is."""
    ends = mesh.edges.ends
    sizes = np.linalg.norm(mesh.points[ends[:, 1]] - mesh.points[ends[:, 0]], axis=1)
    table = csr_matrix((sizes, ends.T), shape=(mesh.vertex_count,) * 2)
    return float(dijkstra(table, directed=False, indices=a)[b])


class Shortest(SimpleTestCase):
    def test_on_a_ball_it_nears_the_great_circle_as_the_ball_gets_finer(self) -> None:
        source = random.Random(4)
        for divisions, most in ((8, 8e-3), (16, 2.5e-3), (48, 1e-3)):
            solid = ball(1.0, divisions)
            for _ in range(8):
                a, b = source.sample(range(solid.vertex_count), 2)
                arc = float(np.arccos(np.clip(solid.points[a] @ solid.points[b], -1, 1)))
                found = length(solid, {"vertex": a}, {"vertex": b})
                self.assertLess(abs(found / arc - 1), most, (divisions, a, b))

    def test_on_a_box_it_is_the_straight_way_over_the_unfolded_faces(self) -> None:
        solid = triangulated(CUBE)
        for part in (CUBE, solid):
            low = int(np.argmin(part.points @ [1, 1, 1]))
            high = int(np.argmax(part.points @ [1, 1, 1]))
            # From corner to corner over two faces of 2 by 2.
            found = length(part, {"vertex": low}, {"vertex": high})
            self.assertAlmostEqual(found, np.hypot(4, 2), places=12)

    def test_it_is_never_longer_than_a_straight_seam_or_a_way_along_edges(self) -> None:
        source = random.Random(1)
        parts = [torus(2.0, 0.7, 18, 9), ball(1.0, 5), *CLOSED.values()]
        for part in parts:
            for _ in range(12):
                a, b = source.sample(np.unique(part.corners).tolist(), 2)
                edges = along_edges(part, a, b)
                if not np.isfinite(edges):
                    with self.assertRaises(CutError):
                        made(part, {"vertex": a}, {"vertex": b})
                    continue
                found = length(part, {"vertex": a}, {"vertex": b})
                self.assertLessEqual(found, edges * (1 + 1e-9))
                try:
                    straight = length(part, {"vertex": a}, {"vertex": b}, way="straight")
                except CutError:
                    continue
                self.assertLessEqual(found, straight * (1 + 1e-9))

    def test_there_and_back_it_is_as_long_wherever_it_begins(self) -> None:
        source = random.Random(7)
        part = torus(2.0, 0.7, 18, 9)
        for _ in range(10):
            ends = []
            for _ in range(2):
                face = source.randrange(part.face_count)
                corners = part.face(face).tolist()
                inside = {"face": face, "at": part.points[corners].mean(axis=0).tolist()}
                on_edge = {"edge": corners[:2], "t": source.random()}
                ends.append(source.choice([inside, on_edge, {"vertex": corners[0]}]))
            there, back = length(part, *ends), length(part, *ends[::-1])
            self.assertAlmostEqual(there, back, delta=0.02 * there)
            assert_guarantees(part, made(part, *ends), flat=False)

    def test_over_a_border_or_out_of_the_limit_it_does_not_lead(self) -> None:
        plate = concave_plate()
        for a in range(plate.vertex_count):
            for b in range(a):
                found = made(plate, {"vertex": a}, {"vertex": b})
                assert_guarantees(plate, found, flat=True)
        # Round the corner of an L of faces it bends at the corner.
        limit = [0, 1, 2, 5, 8]
        drawn = length(PLATE, {"vertex": 0}, {"vertex": 15}, limit=limit)
        corner = PLATE.points[6]
        ends = PLATE.points[[0, 15]]
        self.assertAlmostEqual(drawn, np.linalg.norm(ends - corner, axis=1).sum(), places=12)
        with self.assertRaisesRegex(CutError, "no way leads"):
            made(PLATE, {"vertex": 0}, {"vertex": 19}, limit=[0, 11])

    def test_every_part_of_the_zoo_keeps_its_guarantees(self) -> None:
        source = random.Random(11)
        for name, part in ZOO.items():
            for _ in range(6):
                a, b = (int(v) for v in source.sample(np.unique(part.corners).tolist(), 2))
                for way in ("shortest", "plane"):
                    try:
                        result = made(part, {"vertex": a}, {"vertex": b}, way=way)
                    except CutError:
                        continue
                    with self.subTest(f"{name} {a} {b} {way}"):
                        assert_guarantees(part, result, flat=False)


class OtherWays(SimpleTestCase):
    def test_several_points_make_one_closed_seam(self) -> None:
        points = [{"vertex": 2}, {"edge": [18, 20], "t": 0.5}, {"vertex": 30}]
        closed = made(CUBE, *points, closed=True)
        assert_guarantees(CUBE, closed, flat=True)
        self.assertEqual([note.code for note in closed.notes], [])
        self.assertGreater(closed.mesh.face_count, made(CUBE, *points).mesh.face_count)

    def test_the_plane_by_two_points_and_the_normal_cuts_all_that_may_be_cut(self) -> None:
        points = [{"edge": [0, 1], "t": 0.3}, {"edge": [16, 17], "t": 0.6}]
        whole = made(PLATE, *points, way="plane")
        a, b = (
            PLATE.points[i] + t * (PLATE.points[j] - PLATE.points[i])
            for i, j, t in ((0, 1, 0.3), (16, 17, 0.6))
        )
        new = whole.mesh.points[whole.origin.vertex < 0]
        off = np.cross(b - a, new - a)
        self.assertLess(np.abs(off).max(), 1e-9)
        some = made(PLATE, *points, way="plane", limit=[0, 3])
        self.assertEqual(some.mesh.face_count, PLATE.face_count + 2)
        with self.assertRaisesRegex(CutError, "points"):
            made(PLATE, {"vertex": 99}, {"vertex": 0})
