"""Planes placed by axis, face, vertices and hand, lines across a view, marks on edges, starter
shapes."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from cutcore import StepError, problems
from cutcore.aiming.locks import Lock
from cutcore.aiming.marks import UNSETTLED, Settling, edge_mark_at
from cutcore.aiming.placed_plane import PlacedPlane, dragged, standing
from cutcore.aiming.sight_line import line_end
from cutcore.geometry.camera import Camera, View
from cutcore.queries.flow import flow_counts
from cutcore.queries.plane_frame import frame_of
from cutcore.shapes.box import box
from cutcore.shapes.starter import KINDS, StarterShape, make_shape
from tests.guarantees import area_of, euler_of, volume_of

CUBE = box(2, 2, 2, (2, 2, 2))
FRONT = Camera.of(
    View(eye=(0, 0, 10), target=(0, 0, 0), projection="parallel", height=4, size=(400, 400))
)
ASIDE = Camera.of(View(eye=(4, 3, 8), target=(0, 0, 0), fov=35, size=(800, 600)))
ANGLES = st.floats(-179, 180)


class PlacedPlanes(SimpleTestCase):
    def test_an_axis_a_face_and_three_vertices_give_the_plane_they_say(self) -> None:
        at = standing(CUBE, PlacedPlane(by="axis", axis="x", offset=0.25))
        self.assertEqual((at.plane.normal.tolist(), float(at.plane.point[0])), ([1, 0, 0], 0.25))
        top = next(f for f in range(CUBE.face_count) if (CUBE.points[CUBE.face(f), 1] == 1).all())
        on = standing(CUBE, PlacedPlane(by="face", face=top, offset=-0.5))
        np.testing.assert_allclose(on.plane.normal, [0, 1, 0], atol=1e-15)
        self.assertAlmostEqual(float(on.plane.point[1]), 0.5)
        three = [0, 1, 5]
        through = standing(CUBE, PlacedPlane(by="vertices", vertices=(0, 1, 5)))
        np.testing.assert_allclose(through.plane.heights(CUBE.points[three]), 0, atol=1e-15)
        for wrong, words in (
            ({"by": "face"}, "face: pick the face"),
            ({"by": "face", "face": 999}, "there are 24 faces"),
            ({"by": "vertices"}, "vertices: pick the three"),
            ({"by": "vertices", "vertices": (0, 0, 1)}, "on one line"),
        ):
            with self.assertRaisesRegex(StepError, words):
                standing(CUBE, PlacedPlane.model_validate(wrong))

    @settings(max_examples=80)
    @given(st.sampled_from("xyz"), ANGLES, ANGLES, st.booleans())
    def test_tilts_are_right_handed_turns_and_flipping_turns_the_normal_only(
        self, axis, first, second, flipped
    ) -> None:
        now = standing(CUBE, PlacedPlane(axis=axis, tilt=(first, second), flipped=flipped))
        basis = np.stack([now.first, now.second, now.plane.normal])
        np.testing.assert_allclose(basis @ basis.T, np.eye(3), atol=1e-12)
        straight = standing(CUBE, PlacedPlane(axis=axis))
        lean = standing(CUBE, PlacedPlane(axis=axis, tilt=(first, 0.0)))
        expected = (
            np.cos(np.radians(first)) * straight.plane.normal
            - np.sin(np.radians(first)) * straight.second
        )
        np.testing.assert_allclose(lean.plane.normal, expected, atol=1e-12)
        other = standing(CUBE, PlacedPlane(axis=axis, tilt=(first, second), flipped=not flipped))
        np.testing.assert_allclose(other.plane.normal, -now.plane.normal, atol=1e-12)
        np.testing.assert_allclose(now.plane.heights(now.frame), 0, atol=1e-12)
        np.testing.assert_allclose(now.plane.heights(frame_of(CUBE, now.plane)), 0, atol=1e-12)

    def test_a_pulled_plane_follows_the_pointer_and_settles_on_vertices_and_round_numbers(
        self,
    ) -> None:
        placed = PlacedPlane(axis="y")
        grip = standing(CUBE, placed).handles()["move"]

        def pulled(height: float, *, free: bool = False) -> float:
            x, y = ASIDE.project((grip + [0, height, 0])[None])[0]
            return dragged(CUBE, placed, "move", (float(x), float(y)), ASIDE, free=free).offset

        self.assertAlmostEqual(pulled(0.4373, free=True), 0.4373)
        self.assertEqual(pulled(0.99), 1.0)
        self.assertEqual(pulled(0.4373), 0.44)
        flipped = PlacedPlane(axis="y", offset=0.3, flipped=True)
        back = standing(CUBE, flipped).handles()["move"]
        x, y = ASIDE.project((back + [0, 0.2, 0])[None])[0]
        self.assertAlmostEqual(
            dragged(CUBE, flipped, "move", (float(x), float(y)), ASIDE, free=True).offset, 0.5
        )

    @settings(max_examples=40)
    @given(st.sampled_from(["first", "second"]), st.integers(-11, 12))
    def test_a_pulled_rim_tilts_to_where_it_was_pulled(self, handle, steps) -> None:
        degrees = 5.0 * steps
        goal = PlacedPlane(axis="y", tilt=(degrees, 0.0) if handle == "first" else (0.0, degrees))
        at = standing(CUBE, goal).handles()[handle]
        x, y = ASIDE.project(at[None])[0]
        found = dragged(CUBE, PlacedPlane(axis="y"), handle, (float(x), float(y)), ASIDE)
        self.assertEqual(found.tilt, goal.tilt)


class LinesAndMarks(SimpleTestCase):
    def test_an_end_settles_on_a_vertex_and_may_lie_off_the_part(self) -> None:
        on = line_end(CUBE, (103, 98), FRONT, Settling(), Lock(), None)
        self.assertEqual((on.mark.kind, on.pixel), ("vertex", (100.0, 100.0)))
        off = line_end(CUBE, (20, 30), FRONT, Settling(), Lock(), (100.0, 100.0))
        self.assertEqual((off.mark.kind, off.pixel), ("off", (20, 30)))
        self.assertAlmostEqual(off.angle or 0.0, float(np.degrees(np.arctan2(70, -80))))

    def test_locks_hold_a_line_that_begins_on_or_off_the_part(self) -> None:
        for start in ((100.0, 100.0), (20.0, 60.0)):
            held = line_end(
                CUBE,
                (start[0] + 200, start[1] - 60),
                FRONT,
                Settling(),
                Lock(kind="angle", degrees=15),
                start,
            )
            self.assertAlmostEqual(held.angle or 0.0, 15.0)
            level = line_end(
                CUBE, (start[0] + 150, start[1] + 30), FRONT, Settling(), Lock(kind="x"), start
            )
            self.assertAlmostEqual(level.pixel[1], start[1])
            typed = line_end(
                CUBE,
                (start[0] + 150, start[1] - 90),
                FRONT,
                Settling(),
                Lock(kind="angle", value=33.0),
                start,
            )
            self.assertAlmostEqual(typed.angle or 0.0, 33.0)
        grid = line_end(CUBE, (33, 44), FRONT, Settling(), Lock(kind="grid", spacing=0.5), None)
        self.assertEqual(grid.pixel, (50.0, 50.0))

    def test_the_mark_of_a_loop_sits_on_an_edge_and_never_on_its_ends(self) -> None:
        inside = edge_mark_at(CUBE, (178, 103), FRONT, Settling(step=0.25))
        self.assertEqual((inside.kind, inside.stop), ("edge", True))
        near_end = edge_mark_at(CUBE, (101, 199), FRONT, Settling(step=0.25))
        self.assertIn(near_end.share, (0.25, 0.75))
        self.assertEqual(edge_mark_at(CUBE, (5, 5), FRONT, Settling()).kind, "off")
        assert inside.ends is not None
        edge = CUBE.edges.between(*inside.ends)
        a, b = FRONT.project(CUBE.points[list(inside.ends)])
        for share in (0.1, 0.62):
            x, y = a + share * (b - a)
            held = edge_mark_at(CUBE, (float(x) + 7, float(y) + 7), ASIDE, UNSETTLED, held=edge)
            self.assertEqual(held.ends, inside.ends)
            along = edge_mark_at(CUBE, (float(x), float(y)), FRONT, UNSETTLED, held=edge)
            self.assertAlmostEqual(along.share or 0.0, share)
        ends = ASIDE.project(
            (CUBE.points[inside.ends[0]] * 0.3 + CUBE.points[inside.ends[1]] * 0.7)[None]
        )[0]
        self.assertAlmostEqual(
            edge_mark_at(CUBE, (float(ends[0]), float(ends[1])), ASIDE, UNSETTLED, held=edge).share
            or 0.0,
            0.7,
        )


class Starters(SimpleTestCase):
    def test_every_shape_is_sound_sized_as_told_and_closed_but_for_the_sheet(self) -> None:
        for name, kind in KINDS.items():
            shape = kind(shape=name)
            mesh = make_shape(shape)
            self.assertEqual(problems(mesh), [], name)
            counts = flow_counts(mesh)
            self.assertEqual(
                (counts.borders, counts.stray, counts.warped), (int(name == "sheet"), 0, 0), name
            )
            self.assertEqual(euler_of(mesh), {"sheet": 1, "torus": 0}.get(name, 2), name)
            if name != "sheet":
                self.assertGreater(volume_of(mesh), 0, name)
            size = np.ptp(mesh.points, axis=0)
            if hasattr(shape, "diameter"):
                self.assertAlmostEqual(size[0], shape.diameter, msg=name)
            if hasattr(shape, "height"):
                self.assertAlmostEqual(size[1], shape.height, msg=name)

    def test_divisions_give_the_faces_they_say(self) -> None:
        wanted = {
            ("box", "along_width", 5): 2 * (5 * 2 + 5 * 2 + 4),
            ("cylinder", "sides", 10): 42,
            ("sphere", "rings", 2): 48,
            ("ball", "divisions", 3): 54,
            ("torus", "around", 7): 84,
            ("sheet", "along_depth", 1): 8,
        }
        for (name, field, value), faces in wanted.items():
            self.assertEqual(
                make_shape(KINDS[name](shape=name, **{field: value})).face_count, faces, name
            )
        fan = make_shape(KINDS["cylinder"](shape="cylinder", ends="fan"))
        self.assertEqual((flow_counts(fan).triangles, flow_counts(fan).ngons), (48, 0))
        pointed = make_shape(KINDS["cone"](shape="cone", diameter=10, height=12, sides=200))
        self.assertAlmostEqual(volume_of(pointed), np.pi * 25 * 12 / 3, delta=0.2)
        self.assertAlmostEqual(
            area_of(make_shape(KINDS["ball"](shape="ball", diameter=2, divisions=40))),
            4 * np.pi,
            delta=0.02,
        )

    def test_sizes_that_make_no_shape_are_refused_by_name(self) -> None:
        adapter: TypeAdapter[object] = TypeAdapter(StarterShape)
        for wrong, words in (
            ({"shape": "torus", "diameter": 30, "thickness": 15}, "more than twice its thickness"),
            ({"shape": "box", "width": 0}, "width"),
            ({"shape": "prism", "sides": 2}, "sides"),
            ({"shape": "pyramid"}, "shape"),
        ):
            with self.assertRaisesRegex(ValidationError, words):
                adapter.validate_python(wrong)
