"""Gauge: exact places from every datum, tilt, and what adds nothing."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh, Result, StepError, apply_step, parse_step
from cutcore.shapes.box import box
from tests.guarantees import assert_guarantees
from tests.zoo import ZOO

CUBE = box(2, 4, 2)


def gauge(mesh: Mesh, axis: str, widths: list[float], **more: Any) -> Result:
    return apply_step(mesh, parse_step({"tool": "gauge", "axis": axis, "widths": widths, **more}))


def levels(result: Result, mesh: Mesh, axis: int = 1) -> list[float]:
    return sorted(set(np.round(result.mesh.points[mesh.vertex_count :, axis], 9)))


class Gauge(SimpleTestCase):
    def test_widths_add_up_from_low_high_or_both_ways_from_the_centre(self) -> None:
        self.assertEqual(levels(gauge(CUBE, "y", [0.5, 1.25]), CUBE), [-1.5, -0.25])
        self.assertEqual(levels(gauge(CUBE, "y", [0.5, 1.25], start="high"), CUBE), [0.25, 1.5])
        self.assertEqual(levels(gauge(CUBE, "y", [0.5, 1.25], start="centre"), CUBE), [-1.75, -0.5, 0.5, 1.75])

    def test_a_cut_on_the_end_off_the_part_or_given_twice_adds_nothing_and_says_so(self) -> None:
        result = gauge(CUBE, "y", [1.0, 1e-9, 3.0 - 1e-9, 2.0])
        self.assertEqual([n.code for n in result.notes], ["gauge-twice", "gauge-on-the-end", "gauge-off-the-part"])
        self.assertIn("width 3, at y = 2,", result.notes[1].words)
        self.assertEqual(levels(result, CUBE), [-1.0])
        self.assertIs(gauge(CUBE, "y", [4.0]).mesh, CUBE)

    def test_a_tilt_turns_each_cut_right_handed_about_its_place_on_the_middle_axis(self) -> None:
        result = gauge(CUBE, "y", [1.0], tilt={"about": "z", "degrees": 10})
        new = result.mesh.points[CUBE.vertex_count :]
        # A right-handed turn about z takes the y axis towards -x: the cut rises with x.
        np.testing.assert_allclose(new[:, 1], -1.0 + np.tan(np.radians(10)) * new[:, 0], atol=1e-12)
        with self.assertRaisesRegex(StepError, r"tilt\.about"):
            gauge(CUBE, "y", [1.0], tilt={"about": "y", "degrees": 10})

    @settings(max_examples=1500, deadline=None)
    @given(
        st.sampled_from(sorted(ZOO)),
        st.sampled_from("xyz"),
        st.lists(st.floats(0.01, 0.5), min_size=1, max_size=6),
        st.sampled_from(["low", "high", "centre"]),
        st.none() | st.floats(-40, 40),
    )
    def test_one_pass_gives_what_single_slices_give(self, name, axis, shares, start, degrees) -> None:  # type: ignore[no-untyped-def]
        mesh = ZOO[name]
        column = "xyz".index(axis)
        extent = float(np.ptp(mesh.box[:, column]))
        if extent == 0.0:
            return
        widths = [s * extent for s in shares]
        tilt = None if degrees is None else {"about": "xyz"[(column + 1) % 3], "degrees": degrees}
        result = gauge(mesh, axis, widths, start=start, tilt=tilt)
        assert_guarantees(mesh, result, flat=False)
        if tilt is None and len(widths) == 1 and start == "low" and not result.notes:
            point = [0.0, 0.0, 0.0]
            point[column] = float(mesh.box[0, column]) + widths[0]
            normal = [float(k == column) for k in range(3)]
            alone = apply_step(mesh, parse_step({"tool": "slice", "plane": {"point": point, "normal": normal}}))
            np.testing.assert_array_equal(alone.mesh.corners, result.mesh.corners)
            np.testing.assert_allclose(alone.mesh.points, result.mesh.points, rtol=0, atol=1e-12)
