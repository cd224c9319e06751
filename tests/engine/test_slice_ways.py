"""Slices in full: the near side, planes at a spacing, parts of their own, and halves that are
mirrored."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from cutcore import (
    CutError,
    Mesh,
    StepError,
    apply_step,
    apply_steps,
    parse_step,
    parse_steps,
    problems,
)
from cutcore.mesh.tolerance import weld_of
from cutcore.shapes.box import box
from cutcore.shapes.torus import torus
from tests.engine.test_knife import DIRECTIONS, FLAT
from tests.engine.test_slice import cut
from tests.guarantees import (
    area_of,
    assert_guarantees,
    assert_same_mesh,
    assert_tables_true,
    euler_of,
    shells_of,
    volume_of,
)
from tests.zoo import CLOSED, ZOO, painted
from workshop.sample.skerry_light import float_hull, lantern_housing

VIEW = {
    "eye": [0, 1, 6],
    "target": [0, 0, 0],
    "projection": "perspective",
    "fov": 40,
    "size": [400, 400],
}


class Ways(SimpleTestCase):
    def test_the_near_side_cuts_only_what_the_view_sees(self) -> None:
        ring = torus(1.0, 0.3, 24, 12)
        near = cut(ring, (0.05, 0, 0), (1, 0.1, 0), view=VIEW, reach="near")
        assert_guarantees(ring, near, flat=False)
        whole = cut(ring, (0.05, 0, 0), (1, 0.1, 0), view=VIEW)
        self.assertTrue(0 < len(near.picked.edges) < len(whole.picked.edges) / 2 + 1)
        middles = near.mesh.points[near.picked.edges].mean(axis=1)
        eye = np.array(VIEW["eye"])
        parents = near.origin.face[
            near.mesh.edges.faces[
                [near.mesh.edges.between(*e) for e in near.picked.edges.tolist()], 0
            ]
        ]
        self.assertTrue(
            (np.einsum("ij,ij->i", ring.face_normals(parents), middles - eye) < 0).all()
        )
        for more, words in (
            ({"reach": "near"}, "needs a view"),
            ({"reach": "near", "view": VIEW, "then": "discard"}, "keeps both sides"),
        ):
            with self.assertRaisesRegex(StepError, words):
                cut(ring, (0, 0, 0), (1, 0, 0), **more)

    def test_several_planes_cut_at_their_spacing_like_as_many_slices(self) -> None:
        housing = lantern_housing()
        many = cut(housing, (0, 14.5, 0), (0, 1, 0), repeat={"count": 5, "spacing": 6.25})
        assert_guarantees(housing, many, flat=True)
        heights = np.unique(np.round(many.mesh.points[housing.vertex_count :, 1], 9))
        self.assertEqual(heights.tolist(), [14.5, 20.75, 27.0, 33.25, 39.5])
        one_by_one = housing
        for height in heights.tolist():
            one_by_one = cut(one_by_one, (0, height, 0), (0, 1, 0)).mesh
        self.assertEqual(
            (one_by_one.vertex_count, one_by_one.face_count),
            (many.mesh.vertex_count, many.mesh.face_count),
        )
        with self.assertRaisesRegex(StepError, "leave no one side"):
            cut(housing, (0, 20, 0), (0, 1, 0), then="discard", repeat={"count": 2, "spacing": 3})
        with self.assertRaisesRegex(StepError, r"repeat\.spacing: the planes lie closer"):
            cut(housing, (0, 20, 0), (0, 1, 0), repeat={"count": 2, "spacing": 1e-9})

    def test_shards_are_parts_of_their_own_closed_and_whole_together(self) -> None:
        housing = lantern_housing()
        step = {
            "point": (0, 20, 0),
            "normal": (0, 1, 0),
            "then": "part",
            "repeat": {"count": 3, "spacing": 40},
            "cap": True,
        }
        shards = cut(housing, **step, as_parts=True, gap=[0, 2, 0])
        every = [shards.mesh, *shards.apart]
        self.assertEqual(len(every), 4)
        for shard in every:
            self.assertEqual(
                (problems(shard), int(shard.edges.border.sum()), shells_of(shard)), ([], 0, 1)
            )
            assert_tables_true(shard)
        self.assertAlmostEqual(
            sum(volume_of(shard) for shard in every), volume_of(housing), places=4
        )
        # Spread about the middle: three gaps of 2, half of them either way.
        self.assertAlmostEqual(shards.mesh.points[:, 1].min(), -3.0)
        self.assertAlmostEqual(every[3].points[:, 1].max(), 141.0 + 3.0)
        together = cut(housing, **step, gap=[0, 2, 0])
        self.assertEqual(
            (shells_of(together.mesh), together.mesh.face_count),
            (4, sum(s.face_count for s in every)),
        )
        one = {
            "tool": "slice",
            "plane": {"point": [0, 20, 0], "normal": [0, 1, 0]},
            "then": "part",
            "as_parts": True,
        }
        steps = parse_steps(json.dumps({"wertome": 1, "steps": [one]}))
        self.assertEqual(len(apply_steps(housing, steps.steps).apart), 1)
        with self.assertRaisesRegex(StepError, "only what is parted can become parts"):
            cut(housing, (0, 20, 0), (0, 1, 0), as_parts=True)

    def test_halving_and_mirroring_a_hull_gives_it_back_symmetric_to_the_last_bit(self) -> None:
        hull = float_hull()
        left_only = Mesh(
            hull.points * [1.3, 1, 1], hull.starts, hull.corners, hull.uv, hard=hull.edges.ends[:40]
        )
        whole = cut(left_only, (0, 0, 0), (1, 0, 0), then="halve")
        self.assertEqual((problems(whole.mesh), int(whole.mesh.edges.border.sum())), ([], 0))
        mirrored = whole.mesh.points * [-1, 1, 1]
        self.assertEqual(cKDTree(whole.mesh.points).query(mirrored)[0].max(), 0.0)
        kept = cut(left_only, (0, 0, 0), (1, 0, 0))
        self.assertEqual(
            (whole.mesh.vertex_count, whole.mesh.face_count),
            (kept.mesh.vertex_count, kept.mesh.face_count),
        )
        self.assertAlmostEqual(volume_of(whole.mesh), volume_of(left_only))

    def test_halves_carry_texture_places_patches_and_hard_edges_to_both_sides(self) -> None:
        housing = painted(lantern_housing(), every=7)
        whole = cut(housing, (0.3, 0, 0), (1, 0.02, 0), then="halve").mesh
        half = whole.face_count // 2
        for name in ("material", "patch"):
            np.testing.assert_array_equal(getattr(whole, name)[:half], getattr(whole, name)[half:])
        for face in range(0, half, 9):
            here = {
                tuple(np.round(uv, 12))
                for uv in whole.uv[whole.starts[face] : whole.starts[face + 1]]
            }
            there = {
                tuple(np.round(uv, 12))
                for uv in whole.uv[whole.starts[half + face] : whole.starts[half + face + 1]]
            }
            self.assertEqual(here, there)
        ends = whole.points[whole.hard].reshape(-1, 6)
        normal = np.array([1, 0.02, 0]) / np.linalg.norm([1, 0.02, 0])
        images = (
            whole.points[whole.hard]
            - 2 * ((whole.points[whole.hard] - [0.3, 0, 0]) @ normal)[..., None] * normal
        )
        both = np.concatenate([images.reshape(-1, 6), images[:, ::-1].reshape(-1, 6)])
        self.assertLess(cKDTree(both).query(ends)[0].max(), 1e-9)
        self.assertTrue(len(whole.hard) > 20)

    def test_halving_says_when_there_is_nothing_to_join(self) -> None:
        cube = box(2, 2, 2)
        off = cut(cube, (0, 5, 0), (0, 1, 0), then="halve")
        self.assertEqual((off.mesh, off.notes[-1].code), (cube, "halve-without-seam"))
        # A plane along a side: the side goes and its mirror image is joined where it was.
        doubled = cut(cube, (0, 1, 0), (0, 1, 0), then="halve")
        self.assertEqual((doubled.mesh.face_count, int(doubled.mesh.edges.border.sum())), (10, 0))
        self.assertAlmostEqual(volume_of(doubled.mesh), 16.0)
        for more in ({"limit": [0]}, {"mirror": {"axis": "x"}}):
            with self.assertRaisesRegex(
                StepError, "halved only where the cut goes through the whole part"
            ):
                cut(cube, (0, 0, 0), (0, 1, 0), then="halve", **more)

    @settings(
        max_examples=70,
        deadline=None,
        suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow],
    )
    @given(st.sampled_from(sorted(CLOSED)), DIRECTIONS, st.floats(0.05, 0.95))
    def test_a_halved_closed_part_is_closed_symmetric_and_twice_the_half(
        self, name, normal, where
    ) -> None:
        mesh = ZOO[name]
        point = mesh.box[0] + where * (mesh.box[1] - mesh.box[0])
        try:
            half = cut(mesh, point, normal, then="discard")
            whole = cut(mesh, point, normal, then="halve")
        except CutError:
            assume(False)
        assume(
            whole.notes[-1:] == ()
            or whole.notes[-1].code not in ("halve-without-seam", "halve-crowded-seam")
        )
        made = whole.mesh
        assert_tables_true(made)
        self.assertEqual(problems(made), [])
        self.assertFalse(made.edges.border.any())
        np.testing.assert_allclose(
            area_of(made), 2 * area_of(half.mesh), rtol=1e-4, atol=1e3 * weld_of(mesh)
        )
        unit = np.array(normal) / np.linalg.norm(normal)
        images = made.points - 2 * ((made.points - point) @ unit)[:, None] * unit
        self.assertLess(cKDTree(made.points).query(images)[0].max(), 1e-9 * mesh.diagonal)
        self.assertEqual(len(whole.origin.face), made.face_count)

    @settings(
        max_examples=80,
        deadline=None,
        suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow],
    )
    @given(
        st.sampled_from(sorted(ZOO)),
        DIRECTIONS,
        st.integers(2, 6),
        st.floats(0.02, 0.3),
        st.booleans(),
    )
    def test_every_guarantee_holds_for_several_planes_and_near_sides(
        self, name, normal, count, spacing, near
    ) -> None:
        mesh = ZOO[name]
        more: dict[str, Any] = {"view": VIEW, "reach": "near"} if near else {}
        point = mesh.box.mean(axis=0)
        result = cut(
            mesh, point, normal, repeat={"count": count, "spacing": spacing * mesh.diagonal}, **more
        )
        assert_guarantees(mesh, result, flat=name in FLAT)
        if not near and not mesh.edges.crowded and len(result.picked.edges):
            torn = cut(
                mesh,
                point,
                normal,
                then="part",
                repeat={"count": count, "spacing": spacing * mesh.diagonal},
            )
            assert_tables_true(torn.mesh)
            self.assertEqual(torn.mesh.face_count, result.mesh.face_count)
            self.assertGreaterEqual(euler_of(torn.mesh), euler_of(result.mesh))
            closed_again = apply_step(torn.mesh, parse_step({"tool": "weld", "distance": 0}))
            self.assertEqual(closed_again.mesh.vertex_count, result.mesh.vertex_count)
            assert_same_mesh(
                cut(
                    mesh,
                    point,
                    normal,
                    then="part",
                    repeat={"count": count, "spacing": spacing * mesh.diagonal},
                ).mesh,
                torn.mesh,
            )
