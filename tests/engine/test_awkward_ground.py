"""Awkward ground: cases that once went wrong, and a short campaign with a seed of its own every
run."""

from __future__ import annotations

import random
import time
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from cutcore import (
    CutError,
    ImprintError,
    Mesh,
    Result,
    StepError,
    apply_step,
    parse_step,
    problems,
)
from cutcore.mesh.tolerance import weld_of
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.starter import CylinderShape, make_shape
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from tests import fresh_seed
from tests.awkward import band, fins
from tests.campaign import Tally, campaign, walk
from tests.guarantees import assert_tables_true

# Walks that once ended in something wrong.
KEPT_SEEDS = (
    *(100136, 100201, 100973, 101085, 200019, 300513, 503303, 505771, 603452, 605361, 703147),
    *(703523, 709165, 711096, 805604, 811407, 3016946),
    *(5005734, 5007400, 5014374, 29662),
)
CAMPAIGN_STEPS = 400


def made(mesh: Mesh, **step: Any) -> Result:
    return apply_step(mesh, parse_step(step))


class Cases(SimpleTestCase):
    def assert_sound(self, result: Result, before: Mesh) -> None:
        assert_tables_true(result.mesh)
        result.mesh.check()
        found = {note.code for note in problems(result.mesh)} - {
            note.code for note in problems(before)
        }
        self.assertEqual(found, set())
        if not before.edges.crowded:
            self.assertEqual(result.mesh.edges.crowded, {})

    def test_a_bent_face_that_no_plane_shows_whole_is_cut_all_the_same(self) -> None:
        bent = Mesh.of(
            [
                [0.3, 0.1, -0.7],
                [0.3, 0.2, 0.3],
                [-0.6, 0.2, -0.1],
                [-0.3, -0.3, -0.3],
                [0.6, -0.2, 0.5],
            ],
            [[0, 1, 2, 3, 4]],
        )
        result = made(bent, tool="slice", plane={"point": [0, 0, 0], "normal": [0.8, 0, 0.4]})
        self.assert_sound(result, bent)
        self.assertGreater(result.mesh.face_count, 1)

    def test_a_slice_leaves_no_piece_of_a_bent_face_on_both_sides(self) -> None:
        """Stars bent at random, of which no plane shows the form: every piece lies on one side, or
        the face is refused."""
        source = np.random.default_rng(20)
        refused = 0
        for _ in range(60):
            count = int(source.integers(6, 30))
            turns = 2 * np.pi * np.arange(count) / count
            radius = source.uniform(0.3, 1.0, count)
            places = np.stack(
                [radius * np.cos(turns), radius * np.sin(turns), source.uniform(-0.8, 0.8, count)],
                axis=1,
            )
            star = Mesh.of(places, [list(range(count))])
            normal = source.normal(size=3)
            try:
                cut = made(
                    star, tool="slice", plane={"point": [0, 0, 0], "normal": normal.tolist()}
                ).mesh
            except ImprintError:
                refused += 1
                continue
            height = cut.points @ normal / np.linalg.norm(normal)
            for face in range(cut.face_count):
                here = height[cut.face(face)]
                self.assertLess(min(here.max(), -here.min()), 1e-6)
        self.assertLess(refused, 12)

    def test_an_outline_goes_right_through_bent_faces(self) -> None:
        for warp in (0.0, 1e-5, 0.3):
            quad = Mesh.of([[0, 0, 0], [4, 0, 0], [4, 4, warp], [0, 4, 0]], [[0, 1, 2, 3]])
            turn = np.pi / 2 * np.arange(4)
            ring = np.stack(
                [2 + 1.2 * np.cos(turn), 2 + 1.2 * np.sin(turn), np.full(4, 5.0)], axis=1
            ).tolist()
            for reach in ("near", "through"):
                along = {"direction": [0, 0, -1]}
                result = made(
                    quad, tool="outline", curves=[{"points": ring}], along=along, reach=reach
                )
                self.assert_sound(result, quad)
                self.assertEqual(
                    (result.mesh.face_count, result.mesh.vertex_count), (3, 8), (warp, reach)
                )

    def test_a_line_that_would_double_an_edge_is_refused_with_its_faces(self) -> None:
        tent = Mesh.of(
            [[0, 1, 0], [0, -1, 0], [0, 0, 0.3], [-1, 0, 0], [1, 0, 0]],
            [[0, 3, 1, 2], [0, 2, 1, 4]],
        )
        with self.assertRaises(ImprintError) as refused:
            made(tent, tool="slice", plane={"point": [0, 0, 0.2], "normal": [0, 0, 1]})
        named = [(element.kind, element.value) for element in refused.exception.elements]
        self.assertEqual(named, [("face", 0), ("face", 1)])

    def test_places_on_faces_are_judged_by_the_face_not_by_the_part(self) -> None:
        bent = Mesh.of([[0, 0, 0], [4, 0, 0], [4, 4, 0.5], [0, 4, 0]], [[0, 1, 2, 3]])
        middle = {"face": 0, "at": bent.points.mean(axis=0).tolist()}
        self.assert_sound(
            made(bent, tool="knife", lines=[{"points": [{"vertex": 0}, middle, {"vertex": 2}]}]),
            bent,
        )
        fine = sheet(100, 100, 400, 400)
        far = {"face": 0, "at": fine.points[fine.face(5)].mean(axis=0).tolist()}
        with self.assertRaisesRegex(StepError, "does not lie on face 0"):
            made(fine, tool="knife", lines=[{"points": [{"vertex": 0}, far]}])

    def test_vertices_that_no_face_uses_do_not_count(self) -> None:
        plain = box(2, 2, 2)
        # As many corners as a part of many faces has: three for each vertex, and more.
        fine = box(2, 2, 2, (6, 6, 6))
        for cube in (plain, fine):
            stray = Mesh(
                np.concatenate([cube.points, [[0.0, 90.0, 0.0]]]), cube.starts, cube.corners
            )
            np.testing.assert_array_equal(stray.box, cube.box)
            self.assertEqual(weld_of(stray), weld_of(cube))
            cut = made(stray, tool="gauge", axis="y", start="high", widths=[0.55])
            self.assertGreater(cut.mesh.face_count, stray.face_count)

    def test_one_sided_bands_and_fins_are_cut_or_refused_in_words(self) -> None:
        one_sided = band(random.Random(1))
        for at in (0.0, 0.5, 1.0):
            for edge in one_sided.edges.ends[::3].tolist():
                self.assert_sound(made(one_sided, tool="loop", edge=edge, at=[at]), one_sided)
        three = fins(random.Random(3))
        beside = [int(f) for f in three.edges.crowded[min(three.edges.crowded)]]
        for tool in ("extrude", "inset"):
            with self.assertRaisesRegex(CutError, "meet at one edge"):
                made(three, tool=tool, faces=beside[:2], distance=0.1)
            try:
                result = made(three, tool=tool, faces=beside[:1], distance=0.02)
            except CutError:
                continue
            assert_tables_true(result.mesh)

    def test_faces_that_touch_at_a_vertex_come_apart_when_extruded(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        pairs = [
            (a, b)
            for a in range(8)
            for b in range(a + 1, 8)
            if len(np.intersect1d(cube.face(a), cube.face(b))) == 1
        ]
        result = made(cube, tool="extrude", faces=list(pairs[0]), distance=0.3)
        self.assert_sound(result, cube)
        # Eight walls, and four new corners for each of the two.
        self.assertEqual(
            (result.mesh.face_count, result.mesh.vertex_count),
            (cube.face_count + 8, cube.vertex_count + 8),
        )

    def test_a_part_with_walls_is_sized_by_its_outer_ring(self) -> None:
        wall = turned([(0.8, 0.0), (1.0, 0.0), (1.0, 3.0), (0.8, 3.0), (0.8, 0.0)], 24)
        result = made(wall, tool="profile", axis="y", rows=[{"height": 1.5, "diameter": 2.5}])
        ring = result.mesh.points[np.abs(result.mesh.points[:, 1] - 1.5) < 1e-6]
        self.assertAlmostEqual(float(np.hypot(ring[:, 0], ring[:, 2]).max()), 1.25, places=6)

    def test_merging_leaves_no_loose_vertex_and_no_edge_of_four_faces(self) -> None:
        cube = box(2, 2, 2, (3, 1, 1))
        flat = made(
            Mesh(cube.points * [1, 1e-3, 1], cube.starts, cube.corners), tool="weld", distance=0.01
        )
        self.assertEqual(flat.mesh.edges.crowded, {})
        self.assertTrue(flat.mesh.used.all())
        ring = made(box(2, 2, 2, (1, 1, 1)), tool="collapse", vertices=[0, 1])
        self.assertTrue(ring.mesh.used.all())
        with self.assertRaisesRegex(StepError, "more than two faces would meet"):
            opposite = [
                f
                for f in range(6)
                if abs(box(2, 2, 2).points[box(2, 2, 2).face(f)].mean(axis=0)[1]) > 0.9
            ]
            made(box(2, 2, 2), tool="bridge", faces=opposite)

    def test_the_time_for_many_lines_in_one_face_grows_with_their_number(self) -> None:
        plate = sheet(10, 10, 1, 1)
        taken = []
        for count in (1500, 12_000):
            turn = 2 * np.pi * np.arange(count) / count
            ring = np.stack(
                [3 * np.cos(turn), np.full(count, 5.0), 3 * np.sin(turn)], axis=1
            ).tolist()
            begun = time.process_time()
            result = made(
                plate, tool="outline", curves=[{"points": ring}], along={"direction": [0, -1, 0]}
            )
            taken.append(time.process_time() - begun)
            self.assertEqual(result.mesh.face_count, 3)
        # Eight times as many: with the square it would be 64 times as long.
        self.assertLess(taken[1], 25 * taken[0])
        source = np.random.default_rng(2)
        scribble = [
            {"face": 0, "at": [float(x), 0.0, float(z)]} for x, z in source.uniform(-4, 4, (150, 2))
        ]
        closed = made(plate, tool="knife", lines=[{"points": scribble, "closed": True}])
        self.assert_sound(closed, plate)
        self.assertGreater(closed.mesh.face_count, 1000)


def tube(sides: int, rows: int = 4) -> Mesh:
    """Walls of quads round the y axis at radius 1, open at both ends."""
    turn = 2 * np.pi * np.arange(sides) / sides
    rings = [
        np.stack([np.cos(turn), np.full(sides, float(k)), -np.sin(turn)], axis=1)
        for k in range(rows + 1)
    ]
    faces = [[k * sides + i, k * sides + (i + 1) % sides, (k + 1) * sides + (i + 1) % sides, (k + 1) * sides + i]
             for k in range(rows) for i in range(sides)]  # fmt: skip
    return Mesh.of(np.concatenate(rings), faces)


class Follow(SimpleTestCase):
    """Lifted loops on turned forms, at their ends and borders too, lie where the form is."""

    def lifted(self, mesh: Mesh, edge: list[int], follow: float = 1.0) -> np.ndarray:
        result = made(mesh, tool="loop", edge=edge, at=[0.5], follow=follow)
        return result.mesh.points[result.origin.vertex < 0]

    def test_open_tubes_and_capped_cylinders_keep_their_radius_to_the_ends(self) -> None:
        for sides in range(6, 13):
            capped = make_shape(CylinderShape(shape="cylinder", diameter=2, height=4, sides=sides))
            radius = np.hypot(capped.points[:, 0], capped.points[:, 2])
            flat = np.ptp(capped.points[capped.edges.ends][..., 1], axis=1) < 1e-9
            edge = capped.edges.ends[flat & (radius[capped.edges.ends] > 0.9).all(axis=1)][
                0
            ].tolist()
            for mesh, along in ((tube(sides), [sides, sides + 1]), (capped, edge)):
                places = self.lifted(mesh, along)
                np.testing.assert_allclose(np.hypot(places[:, 0], places[:, 2]), 1.0, rtol=0.01)
                # More follow lifts further, and none not at all.
                reach = [
                    np.hypot(*self.lifted(mesh, along, follow)[:, [0, 2]].T).min()
                    for follow in (0.0, 0.3, 0.7, 1.0)
                ]
                self.assertEqual(reach, sorted(reach))
                self.assertAlmostEqual(reach[0], float(np.cos(np.pi / sides)), places=9)

    def test_cones_balls_and_tori_keep_their_form(self) -> None:
        sphere = ball(1.0, 4)
        for edge in sphere.edges.ends[::7].tolist():
            np.testing.assert_allclose(
                np.linalg.norm(self.lifted(sphere, edge), axis=1), 1.0, rtol=0.01
            )
        cone = tube(9)
        cone = Mesh(cone.points * np.stack([1 - 0.2 * cone.points[:, 1], 1 + 0 * cone.points[:, 1], 1 - 0.2 * cone.points[:, 1]], axis=1),
                    cone.starts, cone.corners)  # fmt: skip
        places = self.lifted(cone, [9, 10])
        np.testing.assert_allclose(
            np.hypot(places[:, 0], places[:, 2]), 1 - 0.2 * places[:, 1], rtol=0.01
        )
        ring = torus(1.0, 0.35, 16, 10)
        for edge in ring.edges.ends[::11].tolist():
            places = self.lifted(ring, edge)
            across = np.hypot(np.hypot(places[:, 0], places[:, 2]) - 1.0, places[:, 1])
            np.testing.assert_allclose(across, 0.35, rtol=0.01)

    def test_flat_stays_flat_and_what_can_not_be_lifted_is_said(self) -> None:
        plate = sheet(3.0, 2.0, 5, 3)
        for edge in plate.edges.ends[::4].tolist():
            self.assertEqual(np.abs(self.lifted(plate, edge)[:, 1]).max(), 0.0)
        cube = made(box(2, 2, 2), tool="loop", edge=[0, 1], at=[0.5], follow=1.0)
        self.assertIn("not-lifted", [note.code for note in cube.notes])


class ShortCampaign(SimpleTestCase):
    def test_walks_that_once_went_wrong_go_right(self) -> None:
        for seed in KEPT_SEEDS:
            for tools in (None, ("knife", "loop", "slice", "gauge", "outline", "profile")):
                tally = Tally()
                walk(seed, tally, tools)
                self.assertEqual([list(fault.lines()) for fault in tally.faults], [])

    def test_a_stretch_of_walks_goes_right(self) -> None:
        tally = campaign(fresh_seed(1_000_000), cuts=CAMPAIGN_STEPS)
        self.assertEqual(["\n".join(fault.lines()) for fault in tally.faults], [])
