"""Profiles: a drawing's heights and diameters come out to the last digit, in one step."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh, Result, StepError, apply_step, parse_step, problems
from cutcore.shapes.box import box
from cutcore.shapes.starter import CylinderShape, make_shape
from tests.guarantees import assert_tables_true, euler_of
from workshop.sample.skerry_light import HOUSING_PROFILE


def profile(mesh: Mesh, rows: list[tuple[float, float | None]], **more: Any) -> Result:
    said = [{"height": height, "diameter": diameter} for height, diameter in rows]
    return apply_step(mesh, parse_step({"tool": "profile", "rows": said, **more}))


def cylinder(**more: Any) -> Mesh:
    return make_shape(
        CylinderShape(
            shape="cylinder",
            **{"diameter": 80.0, "height": 141.0, "along_height": 1, "sides": 28, **more},
        )
    )


def diameters(mesh: Mesh, height: float) -> tuple[float, float]:
    """Smallest and largest diameter of what lies at a height."""
    reach = 2 * np.hypot(*mesh.points[np.abs(mesh.points[:, 1] - height) < 1e-9][:, [0, 2]].T)
    return float(reach[reach > 1e-9].min()), float(reach.max())


class Profiles(SimpleTestCase):
    def test_a_turned_part_is_rebuilt_from_a_cylinder_and_its_drawing(self) -> None:
        rows = [(height, 2 * radius) for radius, height in HOUSING_PROFILE[1:-1]]
        made = profile(cylinder(ends="fan"), rows)
        for height, diameter in rows:
            np.testing.assert_allclose(
                diameters(made.mesh, height), (diameter, diameter), rtol=1e-12
            )
        self.assertEqual((problems(made.mesh), euler_of(made.mesh)), ([], 2))
        assert_tables_true(made.mesh)
        # The cut on the lower end adds nothing, but its ring is sized.
        self.assertEqual([note.code for note in made.notes], ["gauge-on-the-end"])

    def test_heights_count_from_the_high_side_too_and_a_row_without_diameter_only_cuts(
        self,
    ) -> None:
        made = profile(cylinder(), [(0.0, 60.0), (41.0, None)], start="high")
        np.testing.assert_allclose(diameters(made.mesh, 141.0), 60.0, rtol=1e-12)
        np.testing.assert_allclose(diameters(made.mesh, 100.0), 80.0)
        self.assertEqual(made.mesh.vertex_count, 28 * 3)

    def test_what_is_no_ring_is_said(self) -> None:
        off = profile(cylinder(), [(20.0, 50.0), (200.0, 50.0)])
        self.assertEqual(
            [note.code for note in off.notes], ["gauge-off-the-part", "profile-no-ring"]
        )
        brick = profile(box(40, 20, 10), [(10.0, 30.0)])
        self.assertEqual([note.code for note in brick.notes], [])
        long = profile(box(40, 20, 10, (4, 1, 1)), [(10.0, 30.0)])
        self.assertEqual([note.code for note in long.notes], ["profile-not-round"])
        with self.assertRaisesRegex(StepError, r"rows\[0\]\.diameter"):
            profile(cylinder(), [(3.0, -1.0)])

    @settings(max_examples=40)
    @given(
        st.lists(st.tuples(st.floats(0.01, 0.99), st.floats(0.2, 3)), min_size=1, max_size=6),
        st.integers(3, 40),
    )
    def test_every_ring_has_its_height_and_diameter(self, shares, sides) -> None:
        rows = sorted({round(share, 3): factor for share, factor in shares}.items())
        made = profile(
            cylinder(sides=sides), [(141.0 * share, 80.0 * factor) for share, factor in rows]
        ).mesh
        for share, factor in rows:
            np.testing.assert_allclose(diameters(made, 141.0 * share), 80.0 * factor, rtol=1e-11)
        self.assertEqual(euler_of(made), 2)
