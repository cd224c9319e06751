"""Many parallel sections at once against one by one, units, and profiles against the cuts and sizes
they stand for."""

from __future__ import annotations

from itertools import pairwise, product

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from cutcore import Trace, apply_step, parse_step
from cutcore.geometry.plane import Plane
from cutcore.geometry.units import MILLIMETRES, factor
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.section import section
from cutcore.shapes.starter import CylinderShape, make_shape
from cutcore.trace.parallel_planes import trace_of_planes
from cutcore.trace.section_trace import trace_of_section
from tests.engine.test_knife import DIRECTIONS
from tests.guarantees import assert_same_mesh
from tests.zoo import ZOO


def spans(trace: Trace, line: int) -> set[tuple[int, tuple[tuple[float, ...], ...]]]:
    """The spans of one line of a trace as faces with their two ends, in no order."""
    of = trace.line == line
    ends = np.round(trace.place[trace.ends[of]], 9) + 0.0
    return {
        (int(f), tuple(sorted(map(tuple, pair.tolist()))))
        for f, pair in zip(trace.face[of], ends, strict=True)
    }


class Sections(SimpleTestCase):
    @settings(max_examples=80)
    @given(
        st.sampled_from(sorted(ZOO)),
        DIRECTIONS,
        st.lists(st.floats(-0.1, 1.1), min_size=1, max_size=7),
        st.booleans(),
    )
    def test_many_at_once_are_what_they_are_one_by_one(self, name, normal, shares, limited) -> None:
        mesh = ZOO[name]
        unit = np.array(normal) / np.linalg.norm(normal)
        heights = mesh.points @ unit
        levels = [float(heights.min() + share * np.ptp(heights)) for share in shares]
        planes = [Plane(level * unit, unit) for level in levels]
        limit = None
        if limited:
            limit = np.arange(mesh.face_count) % 2 == 0
        weld = weld_of(mesh)
        assume(len(levels) < 2 or np.diff(np.sort(levels)).min() > 4 * weld)
        together = trace_of_planes(mesh, planes, limit, weld)
        for k, plane in enumerate(planes):
            alone = trace_of_section(mesh, section(mesh, plane, weld=weld), limit)
            self.assertEqual(spans(together, k), spans(alone, 0))

    @settings(max_examples=30)
    @given(
        st.sampled_from("xyz"),
        st.lists(st.floats(0.05, 0.95), min_size=2, max_size=5, unique=True),
        st.sampled_from(["box", "torus", "star prism"]),
    )
    def test_a_gauge_is_its_slices_one_after_another(self, axis, shares, name) -> None:
        mesh = ZOO[name]
        k = "xyz".index(axis)
        extent = float(np.ptp(mesh.box[:, k]))
        levels = sorted(extent * share for share in shares)
        if min(b - a for a, b in pairwise(levels)) < 1e-3:
            return
        at_once = apply_step(
            mesh,
            parse_step({"tool": "gauge", "axis": axis, "widths": levels, "measure": "positions"}),
        ).mesh
        one_by_one = mesh
        for level in levels:
            point = mesh.box[0].copy()
            point[k] += level
            plane = {"point": point.tolist(), "normal": np.eye(3)[k].tolist()}
            one_by_one = apply_step(one_by_one, parse_step({"tool": "slice", "plane": plane})).mesh
        self.assertEqual(
            (at_once.vertex_count, at_once.face_count),
            (one_by_one.vertex_count, one_by_one.face_count),
        )
        ours, theirs = (
            np.round(m.points[np.lexsort(np.round(m.points, 7).T)], 7)
            for m in (at_once, one_by_one)
        )
        np.testing.assert_allclose(ours, theirs, atol=1e-6)


class Profiles(SimpleTestCase):
    @settings(max_examples=25)
    @given(
        st.lists(
            st.tuples(st.integers(1, 59), st.floats(10, 90)),
            min_size=1,
            max_size=5,
            unique_by=lambda row: row[0],
        ),
        st.integers(3, 20),
    )
    def test_a_profile_is_a_gauge_and_then_a_size_for_every_ring(self, rows, sides) -> None:
        tube = make_shape(CylinderShape(shape="cylinder", sides=sides, along_height=1))
        said = [
            {"height": float(height), "diameter": diameter} for height, diameter in sorted(rows)
        ]
        at_once = apply_step(tube, parse_step({"tool": "profile", "rows": said})).mesh
        heights = [row["height"] for row in said]
        by_hand = apply_step(
            tube, parse_step({"tool": "gauge", "widths": heights, "measure": "positions"})
        ).mesh
        for row in said:
            ring = np.flatnonzero(np.abs(by_hand.points[:, 1] - row["height"]) < 1e-9).tolist()
            by_hand = apply_step(
                by_hand, parse_step({"tool": "size", "vertices": ring, "diameter": row["diameter"]})
            ).mesh
        np.testing.assert_allclose(at_once.points, by_hand.points, atol=1e-9)
        np.testing.assert_array_equal(at_once.corners, by_hand.corners)

    def test_a_profile_made_again_changes_nothing_more(self) -> None:
        tube = make_shape(CylinderShape(shape="cylinder"))
        step = parse_step(
            {
                "tool": "profile",
                "rows": [{"height": 13, "diameter": 20}, {"height": 31.5, "diameter": 44}],
            }
        )
        once = apply_step(tube, step).mesh
        twice = apply_step(once, step)
        np.testing.assert_allclose(twice.mesh.points, once.points, atol=1e-12)
        self.assertEqual(
            (twice.mesh.face_count, twice.mesh.vertex_count), (once.face_count, once.vertex_count)
        )
        kept = apply_step(
            once, parse_step({"tool": "gauge", "widths": [13, 31.5], "measure": "positions"})
        )
        assert_same_mesh(kept.mesh, once)
        self.assertEqual({n.code for n in kept.notes}, {"gauge-on-a-loop", "nothing-to-do"})


class Units(SimpleTestCase):
    def test_every_unit_turns_into_every_other_and_back(self) -> None:
        for one, other in product(MILLIMETRES, repeat=2):
            self.assertAlmostEqual(factor(one, other) * factor(other, one), 1.0, places=14)
            self.assertAlmostEqual(
                factor(one, other), MILLIMETRES[one] / MILLIMETRES[other], places=14
            )
        self.assertEqual(
            (factor("in", "mm"), factor("m", "cm"), factor("mm", "mm")), (25.4, 100.0, 1.0)
        )
