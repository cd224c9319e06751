"""Handles of a pick: what pulling them means, from any view, settled or free."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from cutcore.aiming.pick_handles import Held, Pull, Settles, pick_standing, pulled, slid
from cutcore.geometry.arrays import Floats
from cutcore.geometry.camera import Camera, View
from cutcore.reshape.placing.move import Scale, Shift, Turn
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box

FREE = Settles(free=True)
NONE = np.zeros(0, dtype=np.int64)
views = st.builds(
    lambda eye, flat: Camera.of(
        View(
            eye=eye,
            target=(0, 0, 0),
            up=(0, 1, 0),
            size=(800, 600),
            **({"projection": "parallel", "height": 6.0} if flat else {"fov": 40.0}),
        )
    ),
    st.tuples(st.floats(3, 8), st.floats(2, 6), st.floats(-8, -3)),
    st.booleans(),
)


def pixel(camera: Camera, place: Floats) -> tuple[float, float]:
    x, y = camera.project(place[None])[0].tolist()
    return x, y


class PickHandles(SimpleTestCase):
    def standing(self, at: Any = (0.2, 0.1, -0.3)) -> Any:
        return pick_standing(box(1, 1, 1), NONE, NONE, np.array([0]), at)

    @settings(max_examples=60)
    @given(
        views,
        st.sampled_from(["x", "y", "z", "normal", "xy", "yz", "xz", "view"]),
        st.integers(0, 9999),
    )
    def test_the_middle_comes_under_the_pointer_as_far_as_the_grip_can_go(
        self, camera, grip, seed
    ) -> None:
        standing = self.standing()
        source = np.random.default_rng(seed)
        way = source.uniform(-1, 1, 3)
        if (along := standing.direction(grip)) is not None:
            way = float(way @ along) * along
        elif grip == "view":
            way = way - float(way @ camera.forward) * camera.forward
        else:
            way[next(k for k, axis in enumerate("xyz") if axis not in grip)] = 0.0
        goal = standing.middle + way
        ends = pixel(camera, standing.middle), pixel(camera, goal)
        normal = np.eye(3)[next((k for k, axis in enumerate("xyz") if axis not in grip), 0)]
        if grip in ("xy", "yz", "xz"):
            assume(abs(float(normal @ camera.sights(goal[None])[0])) > 0.2)
        move = pulled(Pull(standing, Held(way="shift", grip=grip), *ends, camera, FREE))
        assert isinstance(move, Shift)
        np.testing.assert_allclose(move.by, way, atol=1e-9)
        # What it had moved before is added to.
        again = pulled(
            Pull(standing, Held(way="shift", grip=grip, by=move.by), ends[0], ends[0], camera, FREE)
        )
        np.testing.assert_allclose(again.by, move.by, atol=1e-12)  # type: ignore[union-attr]
        # Onto a place it goes as far as it can.
        onto = pulled(Pull(standing, Held(way="shift", grip=grip), *ends, camera, FREE), goal)
        np.testing.assert_allclose(onto.by, way, atol=1e-12)  # type: ignore[union-attr]

    @settings(max_examples=40)
    @given(views, st.sampled_from(["x", "y", "z"]), st.floats(-170, 170))
    def test_turning_goes_round_with_the_pointer(self, camera, grip, degrees) -> None:
        standing = self.standing()
        axis = standing.direction(grip)
        assume(abs(float(axis @ camera.sights(standing.middle[None])[0])) > 0.35)
        one = np.eye(3)[("xyz".index(grip) + 1) % 3]
        angle = np.radians(degrees)
        other = np.cos(angle) * one + np.sin(angle) * np.cross(axis, one)
        ends = [pixel(camera, standing.middle + 0.3 * way) for way in (one, other)]
        move = pulled(Pull(standing, Held(way="turn", grip=grip), ends[0], ends[1], camera, FREE))
        assert isinstance(move, Turn)
        self.assertAlmostEqual(move.degrees, degrees, places=6)
        stepped = pulled(
            Pull(standing, Held(way="turn", grip=grip), ends[0], ends[1], camera, Settles())
        )
        assert isinstance(stepped, Turn)
        self.assertAlmostEqual(stepped.degrees % 15.0 % 15.0, 0.0)

    @settings(max_examples=40)
    @given(views, st.sampled_from(["x", "y", "z", "all", "xz"]), st.floats(0.2, 3.0))
    def test_scaling_goes_by_how_far_the_pointer_is_pulled(self, camera, grip, factor) -> None:
        standing = self.standing()
        middle = np.array(pixel(camera, standing.middle))
        along = standing.direction(grip)
        way = np.array([50.0, 20.0])
        if along is not None:
            tip = np.array(pixel(camera, standing.middle + 1e-3 * along)) - middle
            assume(np.linalg.norm(tip) > 1e-3)
            way = 60 * tip / np.linalg.norm(tip)
        ends = [tuple((middle + f * way).tolist()) for f in (1.0, factor)]
        move = pulled(Pull(standing, Held(way="scale", grip=grip), *ends, camera, FREE))  # type: ignore[arg-type]
        assert isinstance(move, Scale)
        wanted = [factor if grip == "all" or axis in grip else 1.0 for axis in "xyz"]
        np.testing.assert_allclose(move.factors, wanted, rtol=1e-6)

    def test_shifts_settle_on_stops_and_places_on_a_grid(self) -> None:
        camera = Camera.of(
            View(eye=(0, 0, 9), target=(0, 0, 0), up=(0, 1, 0), size=(800, 600), fov=40)
        )
        standing = self.standing()
        ends = pixel(camera, standing.middle), pixel(camera, standing.middle + [0.374, 0.081, 0])
        held = Held(way="shift", grip="xy")
        stop = pulled(Pull(standing, held, *ends, camera, Settles(stop=0.25)))
        self.assertEqual(stop.by, (0.25, 0.0, 0.0))  # type: ignore[union-attr]
        grid = pulled(Pull(standing, held, *ends, camera, Settles(stop=0.25, grid=True)))
        landed = np.array(grid.by) + standing.middle  # type: ignore[union-attr]
        np.testing.assert_allclose(landed[:2], [0.5, 0.25], atol=1e-12)
        near = pulled(Pull(standing, held, *ends, camera, Settles()))
        self.assertEqual([len(str(v).split(".")[1]) <= 3 for v in near.by], [True] * 3)  # type: ignore[union-attr]
        # Seen from its edge a plane goes nowhere.
        held = Held(way="shift", grip="xz", by=(1, 0, 2))
        edge_on = pulled(Pull(standing, held, (400, 300), (500, 300), camera, FREE))
        self.assertEqual(edge_on.by[1], 0.0)  # type: ignore[union-attr]

    def test_they_stand_at_the_middle_with_normal_and_edge(self) -> None:
        globe = ball(1.0, 4)
        for vertex in (0, 17, 40):
            found = pick_standing(globe, np.array([vertex]), NONE, NONE, None)
            assert found.normal is not None
            self.assertGreater(float(found.normal @ globe.points[vertex]), 0.95)
            np.testing.assert_array_equal(found.middle, globe.points[vertex])
        edge = pick_standing(globe, NONE, np.array([5]), NONE, None)
        a, b = globe.points[globe.edges.ends[5]]
        np.testing.assert_allclose(edge.edge, (b - a) / np.linalg.norm(b - a))
        whole = pick_standing(globe, NONE, NONE, NONE, None)
        self.assertIsNone(whole.normal)

    @settings(max_examples=40)
    @given(views, st.floats(-1, 1))
    def test_sliding_finds_the_share_under_the_pointer(self, camera, by) -> None:
        here, left, right = (0.0, 0.2, 0.0), (0.0, 1.0, 0.3), (0.1, -0.9, 0.0)
        goal = np.array(left if by >= 0 else right)
        at = np.array(here) + abs(by) * (goal - here)
        self.assertAlmostEqual(slid(here, left, right, pixel(camera, at), camera), by, places=6)
        self.assertEqual(slid(here, None, None, (10, 10), camera), 0.0)
