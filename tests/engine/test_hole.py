"""Holes right through and pockets: closed bodies, exact volumes, several layers."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import shapely
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, Result, apply_step, parse_step, problems
from cutcore.mesh.together import together
from cutcore.previews.plan import plan_of
from cutcore.queries.bodies import is_closed
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.tools.outline.outline import OutlineExtra
from tests.guarantees import assert_origin_true, euler_of, shells_of, volume_of

BOX = box(2, 2, 2, (3, 4, 5))
DOWN = {"direction": [0, 0, -1]}
HOLE = {"what": "hole"}


def circle(count: int, radius: float, x: float = 0.0, y: float = 0.0, z: float = 5.0) -> Any:
    turn = 2 * np.pi * np.arange(count) / count
    ring = np.column_stack([x + radius * np.cos(turn), y + radius * np.sin(turn), 0 * turn + z])
    return {"points": ring.tolist()}


def area(count: int, radius: float) -> float:
    return 0.5 * count * radius**2 * float(np.sin(2 * np.pi / count))


def taken(mesh: Mesh, *curves: Any, takes: dict[str, Any] = HOLE, **more: Any) -> Result:
    """The part with an outline taken out of it, sound and with true origins."""
    reach = "through" if takes["what"] == "hole" else "near"
    step = {"tool": "outline", "curves": curves, "reach": reach, "takes": takes, "along": DOWN}
    result = apply_step(mesh, parse_step({**step, **more}))
    assert problems(result.mesh) == [], problems(result.mesh)
    if takes["what"] == "hole":
        assert_origin_true(mesh, result)
    return result


class Holes(SimpleTestCase):
    def test_a_round_hole_through_a_box_equals_the_prism(self) -> None:
        result = taken(BOX, circle(24, 0.7))
        self.assertTrue(is_closed(result.mesh))
        self.assertAlmostEqual(volume_of(result.mesh), 8 - 2 * area(24, 0.7), delta=1e-9)
        self.assertEqual(euler_of(result.mesh), 0)
        walls = result.picked.faces
        self.assertEqual(set(result.mesh.sizes[walls].tolist()), {4})
        np.testing.assert_allclose(result.mesh.face_normals(walls)[:, 2], 0, atol=1e-12)

    @settings(max_examples=15, deadline=None)
    @given(
        st.integers(3, 30),
        st.floats(0.05, 0.6),
        # Not within the tolerance of a vertex or an edge: it is drawn onto these then.
        st.integers(-300, 300).map(lambda thousandths: thousandths / 1000),
        st.integers(-300, 300).map(lambda thousandths: thousandths / 1000),
        st.tuples(*[st.integers(1, 5)] * 3),
    )
    def test_any_prism_through_any_box(
        self, count: int, radius: float, x: float, y: float, parts: tuple[int, int, int]
    ) -> None:
        mesh = box(2, 2, 2, parts)
        result = taken(mesh, circle(count, radius, x, y))
        self.assertTrue(is_closed(result.mesh))
        self.assertAlmostEqual(volume_of(result.mesh), 8 - 2 * area(count, radius), delta=1e-9)

    def test_a_contour_inside_another_leaves_a_core(self) -> None:
        result = taken(BOX, circle(24, 0.7), circle(12, 0.3))
        self.assertTrue(is_closed(result.mesh))
        out = 2 * (area(24, 0.7) - area(12, 0.3))
        self.assertAlmostEqual(volume_of(result.mesh), 8 - out, delta=1e-9)

    def test_rims_of_different_counts_are_matched_on_round_and_slanting_ground(self) -> None:
        for mesh, along in (
            (ball(1.0, 8), [0.1, 0.2, -1]),
            (torus(2.0, 0.5, 32, 12), [0, 0, -1]),
            (BOX, [0.2, 0.1, -1]),
        ):
            curve = circle(20, 0.2, 0.03, 0.02) if mesh is not BOX else circle(20, 0.3, -0.8, -0.4)
            result = taken(mesh, curve, along={"direction": along})
            self.assertTrue(is_closed(result.mesh))
            self.assertEqual(set(result.mesh.sizes[result.picked.faces].tolist()) - {3}, {4})

    def test_notches_at_a_side_at_a_corner_and_a_slot_right_across(self) -> None:
        for parts in ((1, 1, 1), (3, 4, 5)):
            mesh = box(2, 2, 2, parts)
            square = {"points": [[0.5, -0.4, 5], [3, -0.4, 5], [3, 0.6, 5], [0.5, 0.6, 5]]}
            corner = {"points": [[0.5, 0.4, 5], [3, 0.4, 5], [3, 3, 5], [0.5, 3, 5]]}
            slot = {"points": [[-3, -0.2, 5], [3, -0.2, 5], [3, 0.3, 5], [-3, 0.3, 5]]}
            for curve, gone in ((square, 0.5 * 1.0), (corner, 0.5 * 0.6), (slot, 2 * 0.5)):
                result = taken(mesh, curve)
                self.assertTrue(is_closed(result.mesh))
                self.assertAlmostEqual(volume_of(result.mesh), 8 - 2 * gone, delta=1e-9)
            self.assertEqual(shells_of(taken(mesh, slot).mesh), 2)

    def test_along_the_lines_of_sight_of_a_view(self) -> None:
        view = {
            "eye": [0.3, 0.2, 8],
            "target": [0, 0, 0],
            "projection": "perspective",
            "fov": 40,
            "size": [800, 600],
        }
        result = taken(BOX, circle(24, 0.2), along={"view": view})
        self.assertTrue(is_closed(result.mesh))
        self.assertLess(volume_of(result.mesh), 8)

    def test_layers_one_behind_another_are_joined_in_pairs_and_told(self) -> None:
        far = BOX.points - [0, 0, 4]
        two = together([BOX, Mesh.of(far, [BOX.face(f) for f in range(BOX.face_count)])])
        result = taken(two, circle(16, 0.5))
        self.assertTrue(is_closed(result.mesh))
        self.assertAlmostEqual(volume_of(result.mesh), 16 - 4 * area(16, 0.5), delta=1e-9)
        (said,) = [note.words for note in result.notes if note.code == "hole-layers"]
        self.assertIn("1 with 2, 3 with 4", said)

    def test_mirrored_holes_and_ones_that_meet_on_the_mirror(self) -> None:
        mirror = {"axis": "x", "offset": 0}
        apart = taken(BOX, circle(24, 0.2, 0.5), mirror=mirror)
        self.assertAlmostEqual(volume_of(apart.mesh), 8 - 4 * area(24, 0.2), delta=1e-9)
        meeting = taken(BOX, circle(24, 0.3, 0.1), mirror=mirror)
        self.assertTrue(is_closed(meeting.mesh))

    def test_a_pocket_and_its_mirror_image_over_each_other_are_one(self) -> None:
        square = {"points": [[-0.2, -0.4, 5], [0.5, -0.4, 5], [0.5, 0.4, 5], [-0.2, 0.4, 5]]}
        pocket = {"what": "pocket", "depth": 0.3}
        result = taken(BOX, square, takes=pocket, mirror={"axis": "x", "offset": 0})
        self.assertTrue(is_closed(result.mesh))
        self.assertAlmostEqual(volume_of(result.mesh), 8 - 1.0 * 0.8 * 0.3, delta=1e-9)

    def test_the_plan_tells_the_volume(self) -> None:
        step = parse_step(
            {
                "tool": "outline",
                "curves": [circle(24, 0.7)],
                "reach": "through",
                "takes": HOLE,
                "along": DOWN,
            }
        )
        extra = plan_of(BOX, step).extra
        assert isinstance(extra, OutlineExtra)
        self.assertAlmostEqual(extra.taken or 0.0, 2 * area(24, 0.7), delta=1e-9)

    def test_a_surface_without_a_back_keeps_an_open_rim_and_says_so(self) -> None:
        flat = apply_step(sheet(4, 4, 4, 4), parse_step({"tool": "place", "turn": [90, 0, 0]})).mesh
        result = taken(flat, circle(8, 0.6))
        self.assertIn("hole-open", [note.code for note in result.notes])

    def test_where_it_can_t_be_closed_it_is_refused_and_says_where(self) -> None:
        for curve in (circle(24, 0.2, 9.0), circle(4, 40.0)):
            with self.assertRaises(CutError):
                taken(BOX, curve)
        for wrong in (
            {"reach": "near", "takes": HOLE},
            {"reach": "through", "takes": {"what": "pocket", "depth": 1}},
            {"reach": "through", "takes": HOLE, "settle": 0.1},
        ):
            with self.assertRaises(CutError):
                parse_step({"tool": "outline", "curves": [circle(5, 1)], "along": DOWN, **wrong})


class Pockets(SimpleTestCase):
    def test_a_pocket_takes_its_depth_and_keeps_the_body_closed(self) -> None:
        result = taken(BOX, circle(24, 0.3), takes={"what": "pocket", "depth": 0.5})
        self.assertTrue(is_closed(result.mesh))
        self.assertAlmostEqual(volume_of(result.mesh), 8 - 0.5 * area(24, 0.3), delta=1e-9)

    def test_a_flat_floor_is_flat_and_as_deep_as_it_is_told(self) -> None:
        mesh = ball(1.0, 8)
        takes = {"what": "pocket", "depth": 0.5, "floor": "flat"}
        result = taken(mesh, circle(24, 0.3), takes=takes)
        floor = result.picked.faces
        places = result.mesh.points[np.unique(np.concatenate([result.mesh.face(f) for f in floor]))]
        np.testing.assert_allclose(places[:, 2], places[0, 2], atol=1e-12)
        self.assertTrue(is_closed(result.mesh))

    def test_one_that_reaches_an_edge_opens_the_side(self) -> None:
        square = [[0.5, -0.4, 5], [3, -0.4, 5], [3, 0.6, 5], [0.5, 0.6, 5]]
        corner = [[0.5, 0.4, 5], [3, 0.4, 5], [3, 3, 5], [0.5, 3, 5]]
        slot = [[-3, -0.2, 5], [3, -0.2, 5], [3, 0.3, 5], [-3, 0.3, 5]]
        all_of_it = [[-3, -3, 5], [3, -3, 5], [3, 3, 5], [-3, 3, 5]]
        for parts in ((1, 1, 1), (3, 4, 5)):
            mesh = box(2, 2, 2, parts)
            for points, gone in ((square, 0.5), (corner, 0.3), (slot, 1.0), (all_of_it, 4.0)):
                for depth in (0.25, 0.4, 1.1):
                    takes = {"what": "pocket", "depth": depth}
                    result = taken(mesh, {"points": points}, takes=takes)
                    self.assertTrue(is_closed(result.mesh))
                    self.assertAlmostEqual(volume_of(result.mesh), 8 - gone * depth, delta=1e-9)
                    floor = result.mesh.points[result.mesh.corners][
                        np.isin(result.mesh.face_of_corner, result.picked.faces)
                    ]
                    np.testing.assert_allclose(floor[:, 2], 1 - depth, atol=1e-9)

    @settings(max_examples=30, deadline=None)
    @given(
        st.sampled_from([3, 4, 5, 8, 20]),
        st.floats(0.1, 1.4),
        st.tuples(*[st.integers(-1300, 1300).map(lambda thousandths: thousandths / 1000)] * 2),
        st.floats(0.05, 1.9),
        st.tuples(*[st.integers(1, 5)] * 3),
    )
    def test_any_pocket_in_any_box_takes_what_of_the_prism_lies_in_it(
        self, count: int, radius: float, middle: tuple[float, float], depth: float, parts: Any
    ) -> None:
        curve = circle(count, radius, *middle)
        within = shapely.Polygon([p[:2] for p in curve["points"]]).intersection(
            shapely.box(-1, -1, 1, 1)
        )
        takes = {"what": "pocket", "depth": depth}
        try:
            result = taken(box(2, 2, 2, parts), curve, takes=takes)
        except CutError as refusal:
            self.assertIn("nothing of the part lies inside", refusal.words)
            self.assertLess(within.area, 1e-6)
            return
        self.assertTrue(is_closed(result.mesh))
        self.assertAlmostEqual(volume_of(result.mesh), 8 - within.area * depth, delta=1e-7)

    def test_one_at_a_side_that_recedes_is_refused_with_the_place(self) -> None:
        narrow = (0.8 + 0.2 * BOX.points[:, 2:]) * [1, 1, 0] + [0, 0, 1]
        over = replace(BOX, points=BOX.points * narrow)
        square = {"points": [[0.5, -0.4, 5], [3, -0.4, 5], [3, 0.6, 5], [0.5, 0.6, 5]]}
        with self.assertRaises(CutError) as refused:
            taken(over, square, takes={"what": "pocket", "depth": 0.3})
        self.assertIn("recedes", refused.exception.words)
        self.assertTrue(refused.exception.elements)

    def test_one_that_would_come_out_or_stick_out_is_refused(self) -> None:
        for mesh, takes in (
            (BOX, {"what": "pocket", "depth": 2.0}),
            (BOX, {"what": "pocket", "depth": 5.0, "floor": "flat"}),
            (ball(1.0, 8), {"what": "pocket", "depth": 0.001, "floor": "flat"}),
        ):
            with self.assertRaises(CutError) as caught:
                taken(mesh, circle(24, 0.4), takes=takes)
            self.assertEqual(caught.exception.where, "depth")
            self.assertTrue(caught.exception.elements)
