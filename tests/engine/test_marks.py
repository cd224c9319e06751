"""What the mark at the pointer says: the nearest thing that a person can see there."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase

from cutcore.aiming.locks import Guide, on_grid, on_guide
from cutcore.aiming.marks import Mark, Settling, mark_at, stops_of
from cutcore.geometry.camera import Camera, View
from cutcore.geometry.multiples import nearest_multiple
from cutcore.geometry.plane import Plane
from cutcore.shapes.box import box
from workshop.sample.skerry_light import HOUSING_SIDES, lantern_housing

CUBE = box(2, 2, 2)
FRONT = Camera.of(
    View(eye=(0, 0, 10), target=(0, 0, 0), projection="parallel", height=4, size=(400, 400))
)


def at(x: float, y: float, **settling: object) -> Mark:
    """The mark over a place of the cube's front."""
    return mark_at(CUBE, (200 + 100 * x, 200 - 100 * y), FRONT, Settling(**settling))


class Marks(SimpleTestCase):
    def test_vertex_edge_face_and_nothing_are_told_apart(self) -> None:
        self.assertEqual(
            [at(*p).kind for p in ((0.97, 0.95), (0.97, 0.3), (0.4, 0.4), (1.5, 0.2))],
            ["vertex", "edge", "face", "off"],
        )

    def test_shares_settle_on_exact_stops_unless_suspended(self) -> None:
        mark = at(0.98, 0.43)
        self.assertIn(mark.share, (0.3, 0.7))
        self.assertTrue(mark.stop)
        np.testing.assert_array_equal(mark.place, [1.0, 0.4, 1.0])
        free = at(0.98, 0.43, free=True)
        self.assertFalse(free.stop)
        self.assertAlmostEqual(abs(free.share - 0.5), 0.215)
        self.assertEqual(at(0.6, 0.3, half=True).share, 0.5)
        self.assertEqual(at(0.98, 0.3, step=1 / 3).share in (1 / 3, 2 / 3), True)
        self.assertEqual(stops_of(0.3).tolist(), [0.0, 0.3, 0.6, 0.8999999999999999, 1.0])

    def test_stops_too_small_to_count_leave_the_share_as_it_is(self) -> None:
        for tiny in (5e-324, 1e-300, 1e-12):
            with self.subTest(tiny=tiny):
                settled = at(0.98, 0.43, step=None, every=tiny)
                self.assertEqual(settled.kind, "edge")
                self.assertEqual(at(0.98, 0.43, step=tiny).kind, "edge")
                self.assertTrue(np.isfinite(nearest_multiple(0.3, tiny)))

    def test_an_edge_with_thousands_of_stops_has_them_to_its_end(self) -> None:
        for settling in ({"step": None, "every": 0.0002}, {"step": 0.0001}):
            settled = at(0.98, 0.43, **settling)
            assert settled.share is not None
            self.assertAlmostEqual(settled.share * 10_000, round(settled.share * 10_000), places=6)
            self.assertAlmostEqual(abs(settled.share - 0.5), 0.215)
            self.assertTrue(settled.stop)

    def test_locks_in_a_view_that_shows_nothing_hold_the_pointer_nowhere(self) -> None:
        view = View(
            eye=(0, 0, 1), target=(0, 0, 0), projection="parallel", height=1e-59, size=(1, 1)
        )
        with np.errstate(all="ignore"):
            found = on_grid(1.0, (2**31, 1.0), Camera.of(view))
            guide = Guide(
                np.full(3, 1e60),
                np.array([1.0, 0, 0]),
                Plane(np.zeros(3), np.array([0.0, 0, 1])),
                None,
            )
            along = on_guide(guide, (2**31, 1.0), Camera.of(view))
        self.assertTrue(np.isfinite(found).all())
        self.assertTrue(np.isfinite(along).all())

    def test_a_vertex_near_the_end_of_an_edge_is_the_vertex(self) -> None:
        self.assertEqual(at(0.98, 0.98, free=True).kind, "edge")
        self.assertEqual(at(0.97, 0.93).kind, "vertex")

    def test_perspective_shares_are_shares_in_space(self) -> None:
        camera = Camera.of(View(eye=(3, 0.5, 0.0), target=(1, 0, 0), fov=60, size=(800, 800)))
        low, high = np.array([1.0, 1.0, -1.0]), np.array([1.0, 1.0, 1.0])
        place = low + 0.25 * (high - low)
        mark = mark_at(
            CUBE, tuple(camera.project(place[None])[0] + [0, 1]), camera, Settling(free=True)
        )
        assert mark.place is not None
        np.testing.assert_allclose(mark.place, place, atol=0.01)

    def test_what_lies_behind_a_rim_is_not_taken(self) -> None:
        housing = lantern_housing()
        camera = Camera.of(View(eye=(0, 260, 420), target=(0, 70, 0), fov=32, size=(976, 696)))
        for side in range(HOUSING_SIDES):
            for ring in range(16):
                place = housing.points[1 + ring * HOUSING_SIDES + side]
                mark = mark_at(
                    housing,
                    tuple(camera.project(place[None])[0] + [3, 1]),
                    camera,
                    Settling(free=True),
                )
                if mark.place is not None:
                    self._assert_seen(housing, camera, mark)

    def _assert_seen(self, mesh, camera, mark):
        """No triangle of the mesh, tried one by one, lies before the mark."""
        sight = mark.place - camera.eye
        a, b, c = np.moveaxis(mesh.points[mesh.triangles.corners], 1, 0)
        normal = np.cross(b - a, c - a)
        with np.errstate(divide="ignore", invalid="ignore"):
            reach = np.einsum("ij,ij->i", a - camera.eye, normal) / (normal @ sight)
        place = camera.eye + reach[:, None] * sight
        inside = np.ones(len(a), dtype=bool)
        for p, q in ((a, b), (b, c), (c, a)):
            inside &= np.einsum("ij,ij->i", np.cross(q - p, place - p), normal) > 1e-6 * (
                normal**2
            ).sum(axis=1)
        before = inside & (reach > 0) & (reach < 1 - 1e-3)
        self.assertFalse(before.any(), f"{mark.words} is hidden")
