"""The repairs of the Mend tray: what each does, keeps and refuses."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase

from cutcore import CutError, Mesh, Result, apply_step, parse_step, problems
from cutcore.queries.flow import flow
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from tests.guarantees import (
    area_of,
    assert_guarantees,
    assert_origin_true,
    assert_tables_true,
    borders_of,
    euler_of,
    volume_of,
)
from tests.zoo import CLOSED, ZOO, painted, triangulated

PLATE = sheet(4.0, 3.0, 4, 3)
CUBE = box(2.0, 2.0, 2.0, (3, 3, 3))


def made(mesh: Mesh, tool: str, **more: Any) -> Result:
    result = apply_step(mesh, parse_step({"tool": tool, **more}))
    result.mesh.check()
    assert_tables_true(result.mesh)
    assert len(result.origin.vertex) == result.mesh.vertex_count
    assert len(result.origin.face) == result.mesh.face_count
    return result


def codes(result: Result) -> set[str]:
    return {note.code for note in result.notes}


class OneFromMany(SimpleTestCase):
    def test_a_collapse_goes_to_the_middle_the_first_the_last_or_a_typed_place(self) -> None:
        goals = {
            "middle": PLATE.points[[6, 7]].mean(axis=0),
            "first": PLATE.points[7],
            "last": PLATE.points[6],
        }
        for to, goal in goals.items():
            points = made(PLATE, "collapse", vertices=[7, 6], to=to).mesh.points
            self.assertLess(np.linalg.norm(points - goal, axis=1).min(), 1e-12)
            self.assertEqual(len(points), PLATE.vertex_count - 1)

    def test_what_folds_is_refused_with_its_place_or_taken_anyway_with_a_note(self) -> None:
        far = {"vertices": [6, 7], "at": [5.0, 0.0, 0.3]}
        with self.assertRaisesRegex(CutError, "would fold over") as refusal:
            made(PLATE, "collapse", **far)
        self.assertTrue(refusal.exception.elements)
        self.assertIn("folded", codes(made(PLATE, "collapse", **far, anyway=True)))
        # Two corners of a box across from each other: three faces at an edge.
        with self.assertRaisesRegex(CutError, "more than two faces|fold"):
            made(CLOSED["box"], "weld", onto=[[0, 7]])
        self.assertTrue(codes(made(CLOSED["box"], "weld", onto=[[0, 7]], anyway=True)))

    def test_a_weld_onto_keeps_the_second_and_chains_end_at_the_last(self) -> None:
        result = made(PLATE, "weld", onto=[[5, 6], [6, 7]], anyway=True)
        self.assertEqual(result.mesh.vertex_count, PLATE.vertex_count - 2)
        kept = result.mesh.points
        self.assertLess(np.linalg.norm(kept - PLATE.points[7], axis=1).min(), 1e-12)
        self.assertGreater(np.linalg.norm(kept - PLATE.points[5], axis=1).min(), 0.5)
        for circle in ([[5, 6], [6, 5]], [[5, 5]]):
            with self.assertRaisesRegex(CutError, "in a circle"):
                made(PLATE, "weld", onto=circle)


class Opened(SimpleTestCase):
    def test_a_ring_of_edges_opens_and_its_border_is_picked(self) -> None:
        around = CUBE.edges.ends[CUBE.edges.of_corner[CUBE.starts[4] : CUBE.starts[5]]].tolist()
        result = made(CUBE, "split apart", edges=around)
        self.assertEqual(result.mesh.vertex_count, CUBE.vertex_count + 4)
        self.assertEqual(borders_of(result.mesh), 2)
        self.assertEqual(len(result.picked.edges), 8)
        self.assertEqual(area_of(result.mesh), area_of(CUBE))
        assert_origin_true(CUBE, result)
        # Welding puts it together again.
        again = made(result.mesh, "weld", distance=1e-9).mesh
        self.assertEqual(borders_of(again), 0)
        self.assertEqual(euler_of(again), euler_of(CUBE))

    def test_a_vertex_opens_every_face_at_it_and_a_lone_edge_stays(self) -> None:
        result = made(PLATE, "split apart", vertices=[6])
        self.assertEqual(result.mesh.vertex_count, PLATE.vertex_count + 3)
        self.assertEqual(len(result.picked.edges), 8)
        lone = made(PLATE, "split apart", edges=[[5, 6]])
        self.assertIs(lone.mesh, PLATE)
        self.assertEqual(codes(lone), {"nothing-to-do"})
        cut = made(PLATE, "split apart", edges=[[4, 5], [5, 6]])
        self.assertEqual(len(cut.picked.edges), 4)
        self.assertEqual(borders_of(cut.mesh), 1)

    def test_vertices_dissolve_and_faces_at_edges_or_vertices_go(self) -> None:
        dissolved = made(PLATE, "dissolve", vertices=[6], keep_vertices=True).mesh
        self.assertEqual(dissolved.face_count, 9)
        self.assertEqual(dissolved.vertex_count, PLATE.vertex_count - 1)
        self.assertAlmostEqual(area_of(dissolved), 12.0)
        self.assertEqual(made(PLATE, "delete", vertices=[6]).mesh.face_count, 8)
        self.assertEqual(made(PLATE, "delete", edges=[[6, 7]]).mesh.face_count, 10)


class Closed(SimpleTestCase):
    def test_a_border_is_filled_by_a_face_a_fan_or_a_grid(self) -> None:
        hole = made(CUBE, "delete", faces=[0, 1, 3, 4]).mesh
        counts = {"one face": 1, "fan": 8, "grid": 4}
        for by, count in counts.items():
            with self.subTest(by=by):
                result = made(hole, "fill", by=by)
                self.assertEqual(len(result.picked.faces), count)
                self.assertEqual(borders_of(result.mesh), 0)
                self.assertFalse(problems(result.mesh))
                self.assertAlmostEqual(volume_of(result.mesh), 8.0)
        grid = made(hole, "fill", by="grid").mesh
        self.assertTrue((grid.sizes == 4).all())
        with self.assertRaisesRegex(CutError, "no open boundary"):
            made(hole, "fill", edges=[CUBE.edges.ends[60].tolist()])

    def test_a_grid_takes_the_corners_named_and_refuses_odd_borders(self) -> None:
        rim = PLATE.edges.ends[PLATE.edges.border]
        outer = made(PLATE, "delete", faces=[4, 7]).mesh
        inner = [
            pair.tolist()
            for pair in outer.edges.ends[outer.edges.border]
            if np.abs(outer.points[pair][:, 0]).max() < 1.5
            and np.abs(outer.points[pair][:, 2]).max() < 1
        ]
        result = made(outer, "fill", edges=inner, by="grid")
        self.assertEqual(len(result.picked.faces), 2)
        self.assertAlmostEqual(area_of(result.mesh), 12.0)
        self.assertEqual(len(rim), 14)
        triangle = made(triangulated(PLATE), "delete", faces=[9]).mesh
        with self.assertRaisesRegex(CutError, "even boundary"):
            made(triangle, "fill", by="grid")

    def test_open_chains_are_bridged_with_steps_between(self) -> None:
        two = made(PLATE, "delete", faces=[3, 4, 5]).mesh
        x = np.unique(np.round(two.points[:, 0], 9))
        chains = [
            [
                p.tolist()
                for p in two.edges.ends[two.edges.border]
                if (two.points[p][:, 0] == at).all()
            ]
            for at in (x[1], x[2])
        ]
        self.assertEqual([len(chain) for chain in chains], [3, 3])
        for steps in (0, 2):
            result = made(two, "bridge", edges=chains[0] + chains[1], steps=steps)
            self.assertEqual(len(result.picked.faces), 3 * (steps + 1))
            self.assertAlmostEqual(area_of(result.mesh), 12.0)
            self.assertFalse(problems(result.mesh))
        uneven = made(two, "bridge", edges=chains[0] + chains[1][:2], steps=1)
        self.assertIn("bridge-triangles", codes(uneven))
        self.assertFalse(problems(uneven.mesh))
        tube = made(CUBE, "bridge", faces=[4, 13], steps=2)
        self.assertEqual(borders_of(tube.mesh), 0)
        self.assertEqual(len(tube.picked.faces), 12)


class Cut(SimpleTestCase):
    def test_a_circle_is_tied_three_ways_and_refused_where_it_does_not_fit(self) -> None:
        for tie, count in (("links", 3), ("spokes", 5)):
            result = made(PLATE, "circle", face=5, diameter=0.6, count=8, tie=tie)
            self.assertEqual(result.mesh.face_count, PLATE.face_count - 1 + count)
            (inside,) = result.picked.faces
            ring = result.mesh.points[result.mesh.face(inside)]
            away = np.linalg.norm(ring - ring.mean(axis=0), axis=1)
            np.testing.assert_allclose(away, 0.3, rtol=1e-12)
            assert_guarantees(PLATE, result, flat=True)
        quads = made(PLATE, "circle", face=5, diameter=0.6, count=8, tie="quads")
        self.assertTrue((quads.mesh.sizes == 4).all())
        assert_guarantees(PLATE, quads, flat=True)
        with self.assertRaisesRegex(CutError, "does not fit"):
            made(PLATE, "circle", face=5, diameter=1.1)

    def test_faces_fall_into_triangles_and_triangles_join(self) -> None:
        for name, mesh in ZOO.items():
            with self.subTest(part=name):
                result = made(mesh, "triangulate")
                self.assertTrue((result.mesh.sizes == 3).all())
                if result.mesh is not mesh:
                    assert_guarantees(mesh, result, flat=False, bend=1e-9)
        three = made(painted(CUBE, every=4), "triangulate").mesh
        back = made(three, "join triangles")
        self.assertAlmostEqual(area_of(back.mesh), area_of(CUBE))
        self.assertGreater((back.mesh.sizes == 4).sum(), 40)
        # Over a corner of the box nothing is joined.
        one = made(triangulated(box(1, 1, 1, (1, 1, 1))), "join triangles")
        self.assertEqual(one.mesh.face_count, 6)

    def test_faces_are_divided_evenly_with_their_neighbours_told(self) -> None:
        for name in ("box", "torus", "turned, with poles", "star prism", "warped sheet"):
            mesh = ZOO[name]
            with self.subTest(part=name):
                result = made(mesh, "divide")
                assert_guarantees(mesh, result, flat=name in ("box", "star prism"), bend=0.02)
                self.assertEqual(
                    result.mesh.face_count,
                    int(np.where(mesh.sizes < 5, 4, mesh.sizes).sum()),
                )
        strip = made(PLATE, "divide", faces=[4], columns=3, rows=2)
        self.assertEqual(len(strip.picked.faces), 6)
        self.assertEqual(int((strip.mesh.sizes != 4).sum()), 4)
        self.assertAlmostEqual(area_of(strip.mesh), 12.0)
        rows = made(PLATE, "divide", columns=3, rows=1).mesh
        self.assertEqual(rows.face_count, 36)
        self.assertTrue((rows.sizes == 4).all())
        with self.assertRaisesRegex(CutError, "meet at one edge"):
            made(ball(1.0, 3), "divide", columns=3, rows=1)


class Moved(SimpleTestCase):
    def test_a_bent_face_is_made_flat_and_a_flat_one_left_alone(self) -> None:
        warped = ZOO["warped sheet"]
        result = made(warped, "flatten", faces=[7])
        self.assertIn(7, flow(warped).faces_warped)
        self.assertNotIn(7, flow(result.mesh).faces_warped)
        flat = made(PLATE, "flatten", faces=[5])
        self.assertIs(flat.mesh, PLATE)
        with self.assertRaisesRegex(CutError, "three vertices"):
            made(PLATE, "flatten", vertices=[0, 1, 2])

    def test_chains_are_made_straight_and_even(self) -> None:
        points = PLATE.points.copy()
        points[5] += [0.2, 0.3, 0.0]
        points[9] += [0.3, -0.1, 0.2]
        bent = Mesh(points, PLATE.starts, PLATE.corners)
        chain = [[1, 5], [5, 9], [9, 13], [13, 17]]
        row = [1, 5, 9, 13, 17]
        straight = made(bent, "line up", edges=chain).mesh.points[row]
        np.testing.assert_allclose(straight[:, 1], 0.0, atol=1e-12)
        both = made(bent, "line up", edges=chain, to="both").mesh.points[row]
        np.testing.assert_allclose(both, PLATE.points[row], atol=1e-12)
        even = made(bent, "line up", edges=chain, to="evenly").mesh.points[row]
        self.assertEqual(even[0].tolist(), points[1].tolist())
        self.assertEqual(even[-1].tolist(), points[17].tolist())
        length = np.linalg.norm(np.diff(points[row], axis=0), axis=1).sum()
        self.assertLess(np.linalg.norm(np.diff(even, axis=0), axis=1).max(), length / 4 + 1e-9)
        closed = made(torus(1.0, 0.35, 14, 9), "line up", edges=[[0, 1]], to="evenly")
        self.assertIn("nothing-to-move", codes(closed))


class Cleaned(SimpleTestCase):
    def test_turned_faces_agree_again_and_look_outwards(self) -> None:
        rng = np.random.default_rng(5)
        for name, mesh in CLOSED.items():
            some = sorted(rng.choice(mesh.face_count, mesh.face_count // 3, replace=False).tolist())
            mixed = made(mesh, "flip", faces=some).mesh
            with self.subTest(part=name):
                again = made(mixed, "facing").mesh
                self.assertFalse(problems(again))
                self.assertAlmostEqual(volume_of(again), volume_of(mesh))
                inside_out = made(mesh, "flip").mesh
                self.assertAlmostEqual(volume_of(made(inside_out, "facing").mesh), volume_of(mesh))
        self.assertEqual(codes(made(CUBE, "facing")), {"nothing-to-do"})

    def test_a_one_sided_strip_is_left_with_a_note(self) -> None:
        turn = np.linspace(0, 2 * np.pi, 12, endpoint=False)
        rows = [
            [
                (1 + s * 0.3 * np.cos(t / 2)) * np.cos(t),
                s * 0.3 * np.sin(t / 2),
                (1 + s * 0.3 * np.cos(t / 2)) * np.sin(t),
            ]
            for t in turn
            for s in (-1, 1)
        ]
        faces = [[2 * k, 2 * k + 1, 2 * k + 3, 2 * k + 2] for k in range(11)] + [[22, 23, 0, 1]]
        strip = Mesh.of(np.array(rows), faces)
        self.assertIn("one-sided", codes(made(strip, "facing")))

    def test_strays_go_where_faces_can_spare_them(self) -> None:
        cut = apply_step(
            PLATE,
            parse_step(
                {
                    "tool": "knife",
                    "lines": [
                        {"points": [{"edge": [5, 6], "t": 0.5}, {"edge": [9, 10], "t": 0.5}]}
                    ],
                }
            ),
        ).mesh
        new = [PLATE.vertex_count, PLATE.vertex_count + 1]
        lone = made(cut, "dissolve", edges=[new], keep_vertices=True).mesh
        self.assertEqual(flow(lone).counts.stray, 2)
        clean = made(lone, "strays")
        self.assertEqual(flow(clean.mesh).counts.stray, 0)
        self.assertEqual(clean.mesh.face_count, PLATE.face_count)
        self.assertEqual(clean.mesh.vertex_count, PLATE.vertex_count)
        loose = Mesh(np.concatenate([PLATE.points, [[9, 9, 9]]]), PLATE.starts, PLATE.corners)
        self.assertEqual(made(loose, "strays").mesh.vertex_count, PLATE.vertex_count)
        # Corners of the border are no strays, what runs straight on between them is, if asked for.
        self.assertEqual(codes(made(PLATE, "strays")), {"nothing-to-do"})
