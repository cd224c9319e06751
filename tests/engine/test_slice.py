"""Slices: exact planes, which side goes, openings closed, parts moved apart, limits and lines
across a view."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, Result, StepError, apply_step, parse_step, problems
from cutcore.mesh.tolerance import weld_of
from cutcore.shapes.box import box
from cutcore.shapes.torus import torus
from tests.engine.test_knife import DIRECTIONS, FLAT
from tests.guarantees import (
    area_of,
    assert_guarantees,
    assert_origin_true,
    assert_same_mesh,
    euler_of,
    shells_of,
    volume_of,
)
from tests.zoo import CLOSED, ZOO


def cut(mesh: Mesh, point: Any, normal: Any, **more: Any) -> Result:
    return apply_step(
        mesh,
        parse_step(
            {"tool": "slice", "plane": {"point": list(point), "normal": list(normal)}, **more}
        ),
    )


class Slices(SimpleTestCase):
    def test_keep_discard_and_part_give_the_volumes_that_geometry_says(self) -> None:
        cube = box(2, 2, 2)
        kept = cut(cube, (0, 0.3, 0), (0, 5, 0))
        assert_guarantees(cube, kept, flat=True)
        self.assertEqual((kept.mesh.vertex_count, kept.mesh.face_count), (12, 10))
        left = cut(cube, (0, 0.3, 0), (0, 5, 0), then="discard")
        self.assertEqual((left.mesh.face_count, int(left.mesh.edges.border.sum())), (5, 4))
        self.assertAlmostEqual(left.mesh.points[:, 1].max(), 0.3)
        capped = cut(cube, (0, 0.3, 0), (0, 5, 0), then="discard", cap=True)
        self.assertAlmostEqual(volume_of(capped.mesh), 2 * 2 * 1.3)
        self.assertEqual(
            (capped.picked.faces.tolist(), int(capped.mesh.edges.border.sum())), ([5], 0)
        )
        parted = cut(cube, (0, 0.3, 0), (0, 5, 0), then="part", gap=[0, 1, 0], cap=True)
        self.assertEqual((shells_of(parted.mesh), parted.mesh.vertex_count), (2, 16))
        self.assertAlmostEqual(volume_of(parted.mesh), 8.0)
        self.assertEqual(np.ptp(parted.mesh.points[:, 1]), 3.0)
        self.assertEqual(sorted(set(np.round(parted.mesh.points[:, 1], 9))), [-1.5, -0.2, 0.8, 1.5])

    def test_an_opening_inside_an_opening_is_closed_by_a_ring_tied_with_two_links(self) -> None:
        ring = torus(1.0, 0.3, 16, 8)
        half = cut(ring, (0, 0.05, 0), (0, 1, 0), then="discard", cap=True)
        self.assertEqual(
            (len(half.picked.faces), euler_of(half.mesh), int(half.mesh.edges.border.sum())),
            (2, 0, 0),
        )
        np.testing.assert_allclose(
            half.mesh.face_normals(half.picked.faces)[:, [0, 2]], 0, atol=1e-12
        )
        self.assertTrue((half.mesh.face_normals(half.picked.faces)[:, 1] > 0).all())
        self.assertEqual(problems(half.mesh), [])

    def test_a_limit_keeps_the_cut_and_the_scrap_to_its_faces(self) -> None:
        cube = box(2, 2, 2)
        front = next(f for f in range(6) if (cube.points[cube.face(f), 2] == 1).all())
        limited = cut(cube, (0, 0.3, 0), (0, 1, 0), limit=[front])
        assert_guarantees(cube, limited, flat=True)
        self.assertEqual((limited.mesh.vertex_count, limited.mesh.face_count), (10, 7))
        self.assertEqual(
            cut(cube, (0, 0.3, 0), (0, 1, 0), limit=[front], then="discard").mesh.face_count, 6
        )
        for limit, words in (([], "empty list"), ([77], "there are 6 faces, got face 77")):
            with self.assertRaisesRegex(StepError, f"limit: .*{words}"):
                cut(cube, (0, 0, 0), (0, 1, 0), limit=limit)

    def test_a_line_across_a_view_cuts_along_the_plane_of_sight(self) -> None:
        cube = box(2, 2, 2)
        view = {
            "eye": [0, 0, 10],
            "target": [0, 0, 0],
            "projection": "parallel",
            "height": 4,
            "size": [400, 400],
        }
        line = {"from": [0, 200 - 30], "to": [400, 200 - 30]}
        result = apply_step(
            cube, parse_step({"tool": "slice", "line": line, "view": view, "then": "discard"})
        )
        # Right of the way from left to right is down.
        np.testing.assert_allclose(
            [result.mesh.points[:, 1].min(), result.mesh.points[:, 1].max()], [0.3, 1.0]
        )
        eye = {**view, "projection": "perspective", "fov": 40, "height": None}
        seen = apply_step(cube, parse_step({"tool": "slice", "line": line, "view": eye}))
        new = seen.mesh.points[8:]
        self.assertEqual(len(new), 4)
        self.assertGreater(np.ptp(new[:, 1]), 0.01)
        for steps, words in (({"line": line}, "needs the view"), ({}, "either a plane or a line")):
            with self.assertRaisesRegex(StepError, words):
                parse_step({"tool": "slice", **steps})

    def test_a_mirror_cuts_twice_and_takes_both_scraps(self) -> None:
        cube = box(2, 2, 2)
        both = cut(cube, (0.5, 0, 0), (1, 0, 0), then="discard", cap=True, mirror={"axis": "x"})
        self.assertAlmostEqual(volume_of(both.mesh), 4.0)
        self.assertEqual(int(both.mesh.edges.border.sum()), 0)

    def test_a_plane_that_misses_or_leaves_nothing_says_so(self) -> None:
        cube = box(2, 2, 2)
        missed = cut(cube, (0, 5, 0), (0, 1, 0))
        self.assertEqual(
            (missed.mesh, [n.code for n in missed.notes]), (cube, ["slice-misses", "nothing-to-do"])
        )
        kept = cut(cube, (0, 5, 0), (0, 1, 0), then="discard")
        self.assertEqual([n.code for n in kept.notes][-1], "nothing-discarded")
        with self.assertRaisesRegex(StepError, "nothing of the part would be left"):
            cut(cube, (0, -5, 0), (0, 1, 0), then="discard")
        with self.assertRaisesRegex(
            StepError, r"plane\.normal: a plane needs a normal that is not zero"
        ):
            cut(cube, (0, 0, 0), (0, 0, 0))

    def test_a_concave_face_all_but_in_the_plane_is_refused_not_torn(self) -> None:
        comb = ZOO["comb"]
        point = comb.box[0] + 0.375 * (comb.box[1] - comb.box[0])
        with self.assertRaisesRegex(StepError, "lies all but in the plane"):
            cut(comb, point, (2.1626878776714875e-07, 0.5, 0.0))

    @settings(
        max_examples=70,
        deadline=None,
        suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow],
    )
    @given(
        st.sampled_from(sorted(ZOO)),
        DIRECTIONS,
        st.floats(0, 1),
        st.integers(0, 10_000) | st.none(),
    )
    def test_every_guarantee_holds_and_every_new_vertex_lies_on_the_plane(
        self, name, normal, where, through
    ) -> None:
        mesh = ZOO[name]
        point = mesh.box[0] + where * (mesh.box[1] - mesh.box[0])
        if through is not None:
            point = mesh.points[mesh.corners[through % len(mesh.corners)]]
        try:
            result = cut(mesh, point, normal)
        except StepError as refusal:
            self.assertIn("lies all but in the plane", refusal.words)
            return
        assert_guarantees(mesh, result, flat=name in FLAT)
        unit = np.array(normal) / np.linalg.norm(normal)
        off = np.abs((result.mesh.points[mesh.vertex_count :] - point) @ unit)
        self.assertTrue((off <= 1e-9 * mesh.diagonal).all())
        assert_same_mesh(cut(result.mesh, point, normal).mesh, result.mesh)

    @settings(
        max_examples=70,
        deadline=None,
        suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow],
    )
    @given(
        st.sampled_from(sorted(CLOSED)),
        DIRECTIONS,
        st.floats(0.05, 0.95),
        st.sampled_from([[0, 0, 0], [1, -2, 0.5]]),
    )
    def test_two_capped_halves_are_closed_and_make_the_whole(
        self, name, normal, where, gap
    ) -> None:
        mesh = ZOO[name]
        point = mesh.box[0] + where * (mesh.box[1] - mesh.box[0])
        try:
            one = cut(mesh, point, normal, then="discard", cap=True)
            other = cut(mesh, point, [-x for x in normal], then="discard", cap=True)
        except CutError:
            assume(False)
        if any(n.code == "nothing-discarded" for n in (*one.notes, *other.notes)):
            return
        for half in (one, other):
            self.assertEqual(problems(half.mesh), [])
            self.assertFalse(half.mesh.edges.border.any())
            assert_origin_true(mesh, half)
        # Caps are flat only to the tolerance of the plane.
        slack = 10 * weld_of(mesh) * area_of(mesh)
        self.assertAlmostEqual(
            volume_of(one.mesh) + volume_of(other.mesh),
            volume_of(cut(mesh, point, normal).mesh),
            delta=slack,
        )
        parted = cut(mesh, point, normal, then="part", gap=gap, cap=True)
        self.assertTrue(
            (parted.origin.vertex[: len(mesh.points)] == np.arange(len(mesh.points))).all()
        )
        self.assertFalse(parted.mesh.edges.border.any())
        self.assertAlmostEqual(
            volume_of(parted.mesh), volume_of(one.mesh) + volume_of(other.mesh), delta=slack
        )
