"""Gauge: exact places from every datum, tilt, and what adds nothing."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, Result, StepError, apply_step, parse_step, trace_step
from cutcore.mesh.tolerance import welding
from cutcore.queries.problems import zero_area_faces
from cutcore.shapes.box import box
from cutcore.tools.gauge import cuts_of
from tests.engine.test_knife import DIRECTIONS, FLAT
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
        self.assertEqual(
            levels(gauge(CUBE, "y", [0.5, 1.25], start="centre"), CUBE), [-1.75, -0.5, 0.5, 1.75]
        )

    def test_many_planes_in_a_face_give_what_slices_one_after_the_other_give(self) -> None:
        """Two ways to the same faces: all planes laid at once, and each into what the last has left."""
        for name, normal in (
            ("comb", [1, 0, 0.02]),
            ("star prism", [1, 0.3, 0]),
            ("sheet", [1, 0, 0.4]),
        ):
            mesh = ZOO[name]
            heights = mesh.points @ np.array(normal) / np.linalg.norm(normal)
            gap = float(np.ptp(heights)) / 24
            at_once = apply_step(
                mesh, parse_step({"tool": "gauge", "direction": normal, "widths": [gap] * 23})
            ).mesh
            one_by_one = mesh
            unit = np.array(normal) / np.linalg.norm(normal)
            for k in range(1, 24):
                place = (float(heights.min()) + k * gap) * unit
                plane = {"point": place.tolist(), "normal": normal}
                one_by_one = apply_step(
                    one_by_one, parse_step({"tool": "slice", "plane": plane})
                ).mesh
            self.assertEqual(at_once.face_count, one_by_one.face_count)
            areas = [
                np.sort(np.linalg.norm(m.face_normals(), axis=1)) for m in (at_once, one_by_one)
            ]
            np.testing.assert_allclose(areas[0], areas[1], atol=1e-9)

    def test_a_cut_on_the_end_off_the_part_or_given_twice_adds_nothing_and_says_so(self) -> None:
        result = gauge(CUBE, "y", [1.0, 1e-9, 3.0 - 1e-9, 2.0])
        self.assertEqual(
            [n.code for n in result.notes],
            ["gauge-twice", "gauge-on-the-end", "gauge-off-the-part"],
        )
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

    @settings(max_examples=100)
    @given(
        st.sampled_from(sorted(ZOO)),
        st.sampled_from("xyz"),
        st.lists(st.floats(0.01, 0.5), min_size=1, max_size=6),
        st.sampled_from(["low", "high", "centre"]),
        st.none() | st.floats(-40, 40),
    )
    def test_one_pass_gives_what_single_slices_give(
        self, name, axis, shares, start, degrees
    ) -> None:
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
            alone = apply_step(
                mesh, parse_step({"tool": "slice", "plane": {"point": point, "normal": normal}})
            )
            np.testing.assert_array_equal(alone.mesh.corners, result.mesh.corners)
            np.testing.assert_allclose(alone.mesh.points, result.mesh.points, rtol=0, atol=1e-12)


class Lists(SimpleTestCase):
    def test_positions_count_each_from_the_datum_and_gaps_add_up_to_the_same(self) -> None:
        by_gap = gauge(CUBE, "y", [0.5, 0.75, 1.0])
        by_position = gauge(CUBE, "y", [2.25, 0.5, 1.25], measure="positions")
        self.assertEqual(levels(by_gap, CUBE), levels(by_position, CUBE))
        both = gauge(CUBE, "y", [0.5, 1.0], measure="positions", start="centre")
        self.assertEqual(levels(both, CUBE), [-1.0, -0.5, 0.5, 1.0])

    def test_of_many_cuts_given_twice_each_is_made_once_wherever_it_stands_in_the_list(
        self,
    ) -> None:
        tall = box(1, 100, 1)
        chance = np.random.default_rng(3)
        once = chance.permutation(np.linspace(1, 99, 400))
        near = chance.permutation(once)[:150] + chance.uniform(-1, 1, 150) * 1e-9
        params = parse_step(
            {"tool": "gauge", "measure": "positions", "widths": [*once.tolist(), *near.tolist()]}
        )
        cuts = cuts_of(tall, params)
        self.assertEqual([c.width for c in cuts if c.adds_nothing is None], list(range(400)))
        self.assertEqual(
            {c.adds_nothing.code for c in cuts if c.adds_nothing is not None}, {"gauge-twice"}
        )
        made = apply_step(tall, params).mesh
        self.assertEqual(made.vertex_count - tall.vertex_count, 4 * 400)
        np.testing.assert_allclose(
            np.unique(np.round(made.points[tall.vertex_count :, 1], 9)) + 50,
            np.sort(once),
            atol=1e-9,
        )

    def test_a_corner_no_wider_than_the_tolerance_is_cut_at_its_vertex(self) -> None:
        # Both edges at the first vertex are crossed further apart than the tolerance, but one
        # crossing all but lies on the other edge.
        weld = 1e-3
        blade = Mesh.of(
            [[0, -0.002, 0], [1, 1, 0], [0.1, 0.05, 0], [-1, -1, 0], [1, -1, 0]],
            [[0, 1, 2], [0, 3, 4]],
        )
        wide = Mesh.of(
            [[0, -0.02, 0], [1, 1, 0], [0.1, 0.5, 0], [-1, -1, 0], [1, -1, 0]],
            [[0, 1, 2], [0, 3, 4]],
        )
        for part, new in ((blade, 0), (wide, 2)):
            for step in (
                {"tool": "slice", "plane": {"point": [0, 0, 0], "normal": [0, 1, 0]}},
                {"tool": "gauge", "axis": "y", "measure": "positions", "widths": [1.0]},
            ):
                with welding(weld / part.diagonal):
                    made = apply_step(part, parse_step(step)).mesh
                self.assertEqual(made.vertex_count - part.vertex_count, new, step)
                self.assertEqual(len(zero_area_faces(made, weld=weld)), 0)

    def test_any_direction_is_measured_from_where_the_part_begins_along_it(self) -> None:
        along = np.array([1.0, 2.0, -0.5])
        unit = along / np.linalg.norm(along)
        low = float((CUBE.points @ unit).min())
        result = gauge(CUBE, "x", [0.4, 1.1], direction=along.tolist())
        assert_guarantees(CUBE, result, flat=True)
        self.assertEqual(
            sorted(set(np.round(result.mesh.points[CUBE.vertex_count :] @ unit, 9))),
            np.round([low + 0.4, low + 1.5], 9).tolist(),
        )
        with self.assertRaisesRegex(StepError, "direction: a direction can't be zero"):
            gauge(CUBE, "x", [0.4], direction=[0, 0, 0])

    def test_cuts_know_their_row_and_what_adds_nothing_says_why(self) -> None:
        ringed = box(2, 4, 2, (1, 4, 1))
        params = parse_step({"tool": "gauge", "axis": "y", "widths": [1.0, 0.5, 9.0]})
        cuts = cuts_of(ringed, params)
        self.assertEqual(
            [(c.width, c.at, c.adds_nothing is None) for c in cuts],
            [(0, -1.0, True), (1, -0.5, True), (2, 8.5, False)],
        )
        made = trace_step(ringed, params)
        self.assertEqual([n.code for n in made.notes], ["gauge-off-the-part", "gauge-on-a-loop"])
        self.assertEqual(set(made.line[made.cut].tolist()), {1})
        top = [f for f in range(ringed.face_count) if (ringed.points[ringed.face(f), 1] > 1).any()]
        self.assertEqual(
            [n.code for n in gauge(ringed, "y", [0.5], limit=top).notes][:1], ["gauge-misses"]
        )
        both = trace_step(
            ringed,
            parse_step({"tool": "gauge", "axis": "x", "widths": [0.5], "mirror": {"axis": "x"}}),
        )
        self.assertEqual(set(both.line.tolist()), {0})

    @settings(max_examples=60)
    @given(
        st.sampled_from(sorted(ZOO)),
        DIRECTIONS,
        st.lists(st.floats(0.02, 0.3), min_size=1, max_size=8),
        st.none() | st.floats(-40, 40),
    )
    def test_every_vertex_lies_on_its_plane_along_any_direction_and_tilt(
        self, name, along, shares, degrees
    ) -> None:
        mesh = ZOO[name]
        unit = np.array(along) / np.linalg.norm(along)
        widths = [share * mesh.diagonal for share in shares]
        tilt = None if degrees is None else {"about": "x", "degrees": degrees}
        step = {"tool": "gauge", "widths": widths, "direction": list(along), "tilt": tilt}
        try:
            result = apply_step(mesh, parse_step(step))
        except CutError:
            assume(False)
        assert_guarantees(mesh, result, flat=name in FLAT)
        if tilt is None:
            heights = result.mesh.points[mesh.vertex_count :] @ unit
            goals = float((mesh.points[mesh.corners] @ unit).min()) + np.cumsum(widths)
            off = (
                np.abs(heights[:, None] - goals[None]).min(axis=1) if len(heights) else np.zeros(0)
            )
            self.assertTrue((off <= 1e-9 * mesh.diagonal).all())
