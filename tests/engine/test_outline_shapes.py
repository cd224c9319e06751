"""Outlines on their own: sizes that are exact, corners and bows that are arcs, letters with holes,
changes, points put in place."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from cutcore import StepError
from cutcore.aiming.placed_sheet import PlacedSheet
from cutcore.geometry.polygons import loop_area
from cutcore.outlines.changed import OutlineChange, changed_outline
from cutcore.outlines.drawn import DrawnCurve, DrawnOutline, Node, flattened
from cutcore.outlines.from_edges import outline_of_edges
from cutcore.outlines.lettering import lettering
from cutcore.outlines.makers import (
    KINDS,
    CircleOutline,
    PolygonOutline,
    RectangleOutline,
    SlotOutline,
    StarOutline,
    make_outline,
)
from cutcore.queries.measure import fitted_ring
from tests.zoo import ZOO

LENGTHS = st.floats(0.5, 200)


def loops(outline: DrawnOutline) -> list[np.ndarray]:
    return [curve.points[:, :2] for curve in flattened(outline)]


def change(outline: DrawnOutline, **what: Any) -> DrawnOutline:
    return changed_outline(outline, TypeAdapter(OutlineChange).validate_python(what))


def extent(outline: DrawnOutline) -> list[float]:
    return np.ptp(np.concatenate(loops(outline)), axis=0).tolist()


class Shapes(SimpleTestCase):
    @settings(max_examples=40)
    @given(LENGTHS, LENGTHS, st.integers(3, 60), st.floats(0.1, 0.9))
    def test_every_shape_has_its_size_and_runs_counter_clockwise(
        self, one, other, count, inner
    ) -> None:
        made = {
            "rectangle": (RectangleOutline(width=one, height=other, corner=0), [one, other]),
            "circle": (CircleOutline(diameter=one), [one, one]),
            "slot": (SlotOutline(length=one + other, width=other), [one + other, other]),
            "polygon": (PolygonOutline(sides=4 * count, diameter=one), [one, one]),
            "star": (StarOutline(points=2 * count, diameter=one, inner=inner), None),
        }
        self.assertEqual(set(made), set(KINDS))
        for shape, size in made.values():
            outline = make_outline(shape)
            (loop,) = loops(outline)
            self.assertGreater(loop_area(loop), 0)
            if size is not None:
                np.testing.assert_allclose(extent(outline), size, rtol=1e-12)

    @settings(max_examples=40)
    @given(LENGTHS, st.integers(2, 64))
    def test_bows_lie_on_their_circle_and_pieces_are_what_is_asked(self, diameter, pieces) -> None:
        outline = make_outline(CircleOutline(diameter=diameter)).model_copy(
            update={"pieces": pieces}
        )
        (loop,) = loops(outline)
        self.assertEqual(len(loop), 4 * pieces)
        np.testing.assert_allclose(np.hypot(*loop.T), diameter / 2, rtol=1e-12)
        ring = fitted_ring(np.column_stack([loop, np.zeros(len(loop))]))
        assert ring is not None
        self.assertAlmostEqual(ring.diameter, diameter, delta=1e-9 * diameter)

    @settings(max_examples=60)
    @given(st.integers(3, 12), st.floats(0.05, 3), st.integers(1, 12))
    def test_rounded_corners_touch_both_sides_at_the_radius(self, sides, radius, pieces) -> None:
        plain = make_outline(PolygonOutline(sides=sides, diameter=20))
        rounded = change(plain, change="corners", radius=radius).model_copy(
            update={"pieces": pieces}
        )
        (sharp,), (loop,) = loops(plain), loops(rounded)
        self.assertEqual(len(loop), sides * (pieces + 1))
        side = float(np.linalg.norm(sharp[1] - sharp[0]))
        half = np.pi / 2 - np.pi / sides
        # A radius too large for the sides is cut down to what they have room for.
        reach = min(radius, 0.5 * side * np.tan(half))
        for k, corner in enumerate(sharp):
            arc = loop[k * (pieces + 1) : (k + 1) * (pieces + 1)]
            centre = corner * (1 - reach / np.sin(half) / float(np.linalg.norm(corner)))
            np.testing.assert_allclose(np.linalg.norm(arc - centre, axis=1), reach, rtol=1e-9)
        self.assertLess(loop_area(loop), loop_area(sharp))

    def test_a_bow_rises_to_the_left_of_the_way_and_a_corner_beside_it_stays_sharp(self) -> None:
        nodes = (
            Node(at=(0, 0), bow=3),
            Node(at=(10, 0), corner=2),
            Node(at=(10, -8), corner=2),
            Node(at=(0, -8)),
        )
        (loop,) = loops(DrawnOutline(curves=(DrawnCurve(nodes=nodes),), pieces=8))
        self.assertAlmostEqual(float(loop[:, 1].max()), 3.0, places=12)
        self.assertEqual(len(loop), 4 + 7 + 8)
        (open_one,) = flattened(
            DrawnOutline(curves=(DrawnCurve(nodes=nodes[:3], closed=False),), pieces=8)
        )
        self.assertEqual((open_one.closed, len(open_one.points)), (False, 3 + 7))


class Letters(SimpleTestCase):
    def test_holes_run_against_their_letters_and_capitals_have_their_height(self) -> None:
        areas = [loop_area(loop) for loop in loops(lettering("OA", 20, tolerance=0.05))]
        self.assertEqual((sum(a > 0 for a in areas), sum(a < 0 for a in areas)), (2, 2))
        # Letters drawn with strokes that overlap are one outline each.
        self.assertEqual(
            [len(loops(lettering(letter, 20, tolerance=0.05))) for letter in "AXB8"], [2, 1, 3, 3]
        )
        self.assertAlmostEqual(extent(lettering("H", 12.5, tolerance=0.1))[1], 12.5, places=9)
        wide = extent(lettering("SL-7", 16, tolerance=0.08))
        self.assertGreater(wide[0], extent(lettering("SL", 16, tolerance=0.08))[0])

    def test_a_finer_tolerance_takes_more_points_and_moves_none_further(self) -> None:
        coarse, fine = (np.concatenate(loops(lettering("S", 20, tolerance=t))) for t in (0.5, 0.01))
        self.assertGreater(len(fine), 2 * len(coarse))
        away = np.linalg.norm(coarse[:, None] - fine[None], axis=2).min(axis=1)
        self.assertLess(float(away.max()), 0.6)

    def test_what_cannot_be_lettered_says_why(self) -> None:
        for words, why in (("a☃", "the font has no '☃'"), ("  ", "nothing to letter")):
            with self.assertRaisesRegex(StepError, f"words: .*{why}"):
                lettering(words, 10, tolerance=0.1)


class Changes(SimpleTestCase):
    @settings(max_examples=40)
    @given(st.sampled_from(["x", "y"]), st.integers(1, 5), st.integers(1, 4), LENGTHS)
    def test_mirrors_rows_and_rounds(self, across, columns, rows, gap) -> None:
        outline = change(
            make_outline(StarOutline()), change="node", curve=0, node=0, to=[3, 21], step=0
        )
        outline = outline.model_copy(
            update={
                "curves": (*outline.curves, make_outline(SlotOutline(length=12, width=3)).curves[0])
            }
        )
        there = change(outline, change="mirror", across=across)
        flip = np.array([-1, 1] if across == "x" else [1, -1])
        for before, after in zip(loops(outline), loops(there), strict=True):
            self.assertAlmostEqual(loop_area(before), loop_area(after))
            away = np.linalg.norm((before * flip)[:, None] - after[None], axis=2).min(axis=1)
            self.assertLess(float(away.max()), 1e-9)
        home = change(there, change="mirror", across=across)
        np.testing.assert_allclose(
            np.sort(loops(home)[0], axis=0), np.sort(loops(outline)[0], axis=0), atol=1e-12
        )
        laid = change(outline, change="rows", columns=columns, rows=rows, across=gap, down=2 * gap)
        self.assertEqual(len(laid.curves), 2 * columns * rows)
        wide, tall = extent(outline)
        np.testing.assert_allclose(
            extent(laid), [wide + (columns - 1) * gap, tall + (rows - 1) * 2 * gap], rtol=1e-9
        )
        round_it = change(
            make_outline(CircleOutline(diameter=2)), change="round", count=columns + 2, radius=gap
        )
        middles = np.array([loop.mean(axis=0) for loop in loops(round_it)])
        np.testing.assert_allclose(np.hypot(*middles.T), gap, rtol=1e-9)

    @settings(max_examples=60)
    @given(
        st.floats(-50, 50),
        st.floats(-50, 50),
        st.sampled_from(["free", "level", "plumb", "angle"]),
        st.sampled_from([0, 0.5, 1, 2.5]),
    )
    def test_a_point_goes_where_it_is_held_and_settles(self, x, y, lock, step) -> None:
        outline = make_outline(RectangleOutline(width=40, height=30, corner=0))
        before = np.array(outline.curves[0].nodes[1].at)
        placed = change(outline, change="node", curve=0, node=2, to=[x, y], lock=lock, step=step)
        at = np.array(placed.curves[0].nodes[2].at)
        away = at - before
        if lock == "free" and step:
            steps = at / step
            level = [
                abs(value - other) < 1e-9
                for k, value in enumerate(at)
                for other in (-20, 20, -15, 15)
            ]
            self.assertTrue(np.isclose(steps, np.round(steps)).all() or any(level))
        self.assertTrue({"level": away[1] == 0, "plumb": away[0] == 0}.get(lock, True))
        if lock == "angle" and np.linalg.norm(away) > 1e-6:
            turn = np.degrees(np.arctan2(away[1], away[0])) / 15
            self.assertAlmostEqual(float(turn), round(float(turn)), places=6)
        assume(np.linalg.norm(away) > 1e-3)
        long = change(
            outline, change="node", curve=0, node=2, to=[x, y], lock=lock, step=step, length=7.5
        )
        self.assertAlmostEqual(
            float(np.linalg.norm(np.array(long.curves[0].nodes[2].at) - before)), 7.5, places=9
        )

    def test_points_are_added_between_and_after_and_wrong_ones_are_refused(self) -> None:
        outline = make_outline(CircleOutline(diameter=20))
        between = change(outline, change="node", curve=0, node=1, insert=True, to=[9, 9], step=1)
        self.assertEqual([n.at for n in between.curves[0].nodes][:3], [(10, 0), (9, 9), (0, 10)])
        self.assertEqual(between.curves[0].nodes[0].bow, 0)
        line = DrawnOutline(
            curves=(DrawnCurve(nodes=(Node(at=(0, 0)), Node(at=(5, 0))), closed=False),)
        )
        longer = change(line, change="node", curve=0, node=2, to=[5.2, 6.9], lock="plumb")
        self.assertEqual(longer.curves[0].nodes[2].at, (5.0, 7.0))
        for wrong, words in (
            ({"curve": 4, "node": 0}, "there are 1 curves"),
            ({"curve": 0, "node": 9}, "there are 2 points"),
        ):
            with self.assertRaisesRegex(StepError, words):
                change(line, change="node", to=[0, 0], **wrong)
        with self.assertRaisesRegex(StepError, "at most"):
            change(make_outline(StarOutline()), change="rows", columns=100, rows=100)


class FromEdges(SimpleTestCase):
    @settings(max_examples=50)
    @given(st.sampled_from(sorted(ZOO)), st.integers(0, 2**31), st.integers(1, 14))
    def test_an_outline_lifted_off_a_part_lies_where_it_lay(self, name, seed, count) -> None:
        mesh = ZOO[name]
        edges = np.unique(np.random.default_rng(seed).integers(len(mesh.edges), size=count))
        lifted = outline_of_edges(mesh, edges)
        sheet = PlacedSheet(
            centre=tuple(lifted.centre.tolist()), normal=tuple(lifted.normal.tolist())
        )
        curves = flattened(lifted.outline)
        there = np.concatenate([sheet.places(curve.points) for curve in curves])
        wanted = mesh.points[np.unique(mesh.edges.ends[edges])]
        away = np.linalg.norm(there[:, None] - wanted[None], axis=2)
        self.assertLess(
            max(float(away.min(axis=0).max()), float(away.min(axis=1).max())), 1e-9 * mesh.diagonal
        )
        # Every edge is in one run, once.
        self.assertEqual(sum(len(c.points) - (not c.closed) for c in curves), len(edges))

    def test_no_edges_give_no_outline(self) -> None:
        with self.assertRaisesRegex(StepError, "edges: pick the edges"):
            outline_of_edges(ZOO["box"], np.zeros(0, dtype=np.int64))
