"""Measuring and sizing: exact extents about what stays, circles fitted, and refusals by place."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh, Result, StepError, apply_step, parse_step
from cutcore.queries.measure import fitted_ring, measured, vertices_of
from cutcore.shapes.box import box
from cutcore.shapes.turned import turned
from tests.guarantees import assert_same_mesh, assert_tables_true
from tests.zoo import ZOO
from workshop.sample.skerry_light import lantern_housing

CUBE = box(2, 4, 6, (2, 2, 2))
NONE = np.zeros(0, dtype=np.int64)
PLACES = st.tuples(st.floats(-50, 50), st.floats(-50, 50), st.floats(-50, 50))


def size(mesh: Mesh, **params: Any) -> Result:
    return apply_step(mesh, parse_step({"tool": "size", **params}))


class Sizes(SimpleTestCase):
    @settings(max_examples=70)
    @given(
        st.sampled_from(sorted(ZOO)),
        st.lists(st.integers(0, 10_000), min_size=2, max_size=12),
        st.sampled_from(["centre", "part", "low", "high", "vertex"]),
        st.sampled_from("xyz"),
        st.floats(0.01, 100),
    )
    def test_extents_are_exact_what_stays_stays_and_nothing_else_moves(
        self, name, numbers, about, axis, wanted
    ) -> None:
        mesh = ZOO[name]
        chosen = sorted({n % mesh.vertex_count for n in numbers})
        k = "xyz".index(axis)
        low, high = mesh.points[chosen].min(axis=0), mesh.points[chosen].max(axis=0)
        step = {
            "vertices": chosen,
            "extent": {axis: wanted},
            "about": {"vertex": chosen[0]} if about == "vertex" else about,
        }
        if high[k] - low[k] <= 1e-6:
            with self.assertRaisesRegex(
                StepError, rf"extent\.{axis}: the pick is flat along {axis}"
            ):
                size(mesh, **step)
            return
        made = size(mesh, **step).mesh
        self.assertAlmostEqual(float(np.ptp(made.points[chosen, k])) / wanted, 1.0, delta=1e-12)
        others = np.setdiff1d(np.arange(mesh.vertex_count), chosen)
        np.testing.assert_array_equal(made.points[others], mesh.points[others])
        rest = [c for c in range(3) if c != k]
        np.testing.assert_array_equal(made.points[:, rest], mesh.points[:, rest])
        if about == "vertex":
            np.testing.assert_array_equal(made.points[chosen[0]], mesh.points[chosen[0]])
        elif about in ("low", "high"):
            now = made.points[chosen, k].min() if about == "low" else made.points[chosen, k].max()
            self.assertEqual(now, low[k] if about == "low" else high[k])
        elif about == "centre":
            middle = 0.5 * (made.points[chosen, k].min() + made.points[chosen, k].max())
            self.assertAlmostEqual(middle, 0.5 * (low[k] + high[k]), delta=1e-12 * max(1, wanted))
        assert_tables_true(made)

    def test_a_ring_gets_its_diameter_in_its_own_plane(self) -> None:
        housing = lantern_housing()
        ring = np.flatnonzero(housing.points[:, 1] == 92.0).tolist()
        made = size(housing, vertices=ring, diameter=71.3).mesh
        np.testing.assert_allclose(
            np.hypot(made.points[ring, 0], made.points[ring, 2]), 71.3 / 2, rtol=1e-12
        )
        np.testing.assert_allclose(made.points[ring, 1], 92.0, rtol=1e-12)
        edges = [e for e in housing.edges.ends.tolist() if set(e) <= set(ring)]
        assert_same_mesh(size(housing, edges=edges, diameter=71.3).mesh, made)
        with self.assertRaisesRegex(StepError, "diameter: no circle can be fitted"):
            size(housing, vertices=ring[:2], diameter=3)
        with self.assertRaisesRegex(StepError, "either extents or a diameter"):
            size(housing, diameter=3, extent={"x": 1})

    def test_the_whole_part_is_sized_moved_and_told_when_nothing_changes(self) -> None:
        made = size(CUBE, extent={"x": 10, "y": None, "z": 3}, about="low", move=[1, 0, -2]).mesh
        np.testing.assert_allclose(made.box, [[0, -2, -5], [10, 2, -2]], atol=1e-12)
        same = size(CUBE, extent={"x": 2})
        self.assertEqual((same.mesh, [n.code for n in same.notes]), (CUBE, ["nothing-to-move"]))
        top = [f for f in range(CUBE.face_count) if (CUBE.points[CUBE.face(f), 1] == 2).all()]
        lifted = size(CUBE, faces=top, move=[0, 1.5, 0])
        self.assertEqual(float(lifted.mesh.points[:, 1].max()), 3.5)
        self.assertEqual(len(lifted.origin.vertex), CUBE.vertex_count)
        pressed = size(CUBE, faces=top, move=[0, -2, 0])
        self.assertEqual([n.code for n in pressed.notes], ["move-flattens"])
        with self.assertRaisesRegex(
            StepError, r"about\.vertex\[0\]: there are 26 vertices, got vertex 99"
        ):
            size(CUBE, extent={"x": 3}, about={"vertex": 99})


class Measuring(SimpleTestCase):
    def test_extents_distances_angles_lengths_and_areas(self) -> None:
        whole = measured(CUBE, NONE, NONE, NONE, direction=np.array([0.0, 2.0, 0.0]))
        self.assertEqual(
            (whole.low.tolist(), whole.high.tolist(), whole.along),
            ([-1, -2, -3], [1, 2, 3], (-2.0, 2.0)),
        )
        corner = [
            int(np.argmin(np.linalg.norm(CUBE.points - c, axis=1)))
            for c in ([-1, -2, -3], [1, 2, 3])
        ]
        self.assertAlmostEqual(
            measured(CUBE, np.array(corner), NONE, NONE).distance or 0.0, np.sqrt(56)
        )
        faces = np.array(
            [f for f in range(CUBE.face_count) if (CUBE.points[CUBE.face(f), 0] == 1).all()]
        )
        side = measured(CUBE, NONE, NONE, faces)
        self.assertAlmostEqual(side.area or 0.0, 24.0)
        top = next(f for f in range(CUBE.face_count) if (CUBE.points[CUBE.face(f), 1] == 2).all())
        self.assertAlmostEqual(
            measured(CUBE, NONE, NONE, np.array([faces[0], top])).angle or 0.0, 90.0
        )
        edge = CUBE.edges.of_corner[CUBE.starts[top] : CUBE.starts[top] + 2].astype(np.int64)
        two = measured(CUBE, NONE, edge, NONE)
        self.assertAlmostEqual(two.angle or 0.0, 90.0)
        self.assertAlmostEqual(two.length or 0.0, 1.0 + 3.0)
        self.assertEqual(len(vertices_of(CUBE, NONE, edge, NONE)), 3)

    @settings(max_examples=80)
    @given(
        PLACES,
        PLACES.filter(lambda n: np.linalg.norm(n) > 1),
        st.floats(0.1, 80),
        st.integers(3, 40),
        st.floats(0.3, 1.0),
    )
    def test_places_on_a_circle_give_that_circle(self, centre, normal, radius, count, part) -> None:
        axis = np.array(normal) / np.linalg.norm(normal)
        first = np.cross(axis, np.eye(3)[int(np.argmin(np.abs(axis)))])
        first /= np.linalg.norm(first)
        turn = 2 * np.pi * part * np.arange(count) / count
        places = np.array(centre) + radius * (
            np.cos(turn)[:, None] * first + np.sin(turn)[:, None] * np.cross(axis, first)
        )
        ring = fitted_ring(places)
        assert ring is not None
        self.assertAlmostEqual(ring.diameter / (2 * radius), 1.0, delta=1e-8)
        np.testing.assert_allclose(ring.centre, centre, atol=1e-7 * (radius + 50))
        self.assertAlmostEqual(abs(float(ring.normal @ axis)), 1.0, delta=1e-9)
        self.assertLess(max(ring.roundness, ring.flatness), 1e-7 * (radius + 50))

    def test_no_ring_through_fewer_than_three_places_or_along_a_line(self) -> None:
        self.assertIsNone(fitted_ring(np.eye(3)[:2]))
        self.assertIsNone(fitted_ring(np.outer(np.arange(5.0), [1.0, 2.0, 3.0])))
        cone = turned([(3.0, 0.0), (1.0, 2.0)], 12)
        lower = np.flatnonzero(cone.points[:, 1] == 0.0)
        ring = measured(cone, lower, NONE, NONE).ring
        assert ring is not None
        self.assertAlmostEqual(ring.diameter, 6.0)
