"""Edge loops: where they run, where they stop and say why, and exact shares all round."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, Result, StepError, apply_step, parse_step
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from tests.guarantees import assert_guarantees
from tests.zoo import ZOO, three_on_an_edge


def loop(mesh: Mesh, edge: Any, at: list[float], **more: Any) -> Result:
    return apply_step(mesh, parse_step({"tool": "loop", "edge": list(edge), "at": at, **more}))


def codes(result: Result) -> list[str]:
    return [note.code for note in result.notes]


class Loops(SimpleTestCase):
    def test_one_edge_is_enough_for_a_loop_all_round_at_exact_shares_from_the_first_vertex_named(
        self,
    ) -> None:
        ring = torus(1.0, 0.3, 12, 8)
        a, b = ring.face(0)[:2].tolist()
        for first, second in ((a, b), (b, a)):
            result = loop(ring, (first, second), [0.25, 0.8])
            assert_guarantees(ring, result, flat=False)
            self.assertEqual((result.mesh.vertex_count, result.mesh.face_count), (96 + 16, 96 + 16))
            p, q = ring.points[[first, second]]
            for share in (0.25, 0.8):
                reach = np.linalg.norm(result.mesh.points[96:] - (p + share * (q - p)), axis=1)
                self.assertLess(reach.min(), 1e-15)
        self.assertEqual(codes(result), [])

    def test_constant_distance_is_the_same_all_round_and_a_longer_one_is_refused_by_edge(
        self,
    ) -> None:
        cone = turned([(1.0, 0.0), (0.5, 2.0)], 8)
        low = cone.points[:, 1].min()
        bottom = [int(v) for v in np.flatnonzero(cone.points[:, 1] == low)]
        edge = next(e for e in cone.edges.ends.tolist() if (e[0] in bottom) != (e[1] in bottom))
        first = edge if edge[0] in bottom else edge[::-1]
        result = loop(cone, first, [0.3], measure="distance")
        new = result.mesh.points[cone.vertex_count :]
        gaps = np.linalg.norm(new[:, None] - cone.points[bottom][None], axis=2).min(axis=1)
        np.testing.assert_allclose(gaps, 0.3, rtol=1e-12)
        with self.assertRaisesRegex(
            StepError, r"at\[0\]: the edge \d+–\d+ of the ring is .* long, got a distance of 9"
        ):
            loop(cone, first, [9.0], measure="distance")

    def test_it_stops_at_what_is_no_quad_at_a_border_and_at_the_limit_and_says_so(self) -> None:
        grid = sheet(4.0, 3.0, 4, 3)
        edge = grid.face(5)[:2].tolist()
        result = loop(grid, edge, [0.5])
        assert_guarantees(grid, result, flat=True)
        self.assertEqual(codes(result), ["loop-border", "loop-border"])
        limited = loop(grid, edge, [0.5], limit=[4, 5])
        assert_guarantees(grid, limited, flat=True)
        self.assertEqual(sorted(codes(limited)), ["loop-border", "loop-limit"])
        self.assertIn("face 3", " ".join(n.words for n in limited.notes))
        self.assertEqual(limited.mesh.face_count, grid.face_count + 2)

        poles = ZOO["turned, with poles"]
        upright = next(
            e
            for e in poles.edges.ends.tolist()
            if abs(poles.points[e[0], 1] - poles.points[e[1], 1]) == 0
        )
        stopped = loop(poles, upright, [0.5])
        assert_guarantees(poles, stopped, flat=False)
        self.assertEqual(codes(stopped), ["loop-triangle", "loop-triangle"])
        with self.assertRaisesRegex(
            StepError, r"no quad beside this edge: it ends at face \d+, a triangle"
        ):
            loop(ZOO["triangulated torus"], ZOO["triangulated torus"].edges.ends[0], [0.5])
        with self.assertRaisesRegex(StepError, "more than two faces"):
            loop(three_on_an_edge(), (0, 1), [0.5])

    def test_ends_and_repeats_add_nothing_and_say_so(self) -> None:
        ring = torus(1.0, 0.3, 12, 8)
        edge = ring.face(0)[:2].tolist()
        result = loop(ring, edge, [0.0, 0.5, 0.5, 1.0])
        self.assertEqual(codes(result), ["loop-at-end", "loop-twice", "loop-at-end"])
        self.assertEqual(result.mesh.face_count, ring.face_count + 8)
        self.assertIs(loop(ring, edge, [1.0]).mesh, ring)

    def test_a_one_sided_strip_closes_at_the_half_and_stops_elsewhere(self) -> None:
        count = 12
        turn = 2 * np.pi * np.arange(count) / count
        reach = [2 + side * 0.4 * np.cos(turn / 2) for side in (-1, 1)]
        height = [side * 0.4 * np.sin(turn / 2) for side in (-1, 1)]
        rim = [
            np.stack([r * np.cos(turn), h, r * np.sin(turn)], axis=1)
            for r, h in zip(reach, height, strict=True)
        ]
        faces = [[k, k + 1, count + k + 1, count + k] for k in range(count - 1)] + [
            [count - 1, count, 0, 2 * count - 1]
        ]
        strip = Mesh.of(np.concatenate(rim), faces)
        closed = loop(strip, (0, count), [0.25, 0.75])
        self.assertEqual((codes(closed), closed.mesh.face_count), ([], 3 * count))
        half = loop(strip, (0, count), [0.5])
        self.assertEqual((codes(half), half.mesh.face_count), ([], 2 * count))
        alone = loop(strip, (0, count), [0.25])
        self.assertEqual((codes(alone), alone.mesh.face_count), (["loop-one-sided"], 2 * count - 1))

    @settings(max_examples=40)
    @given(st.integers(5, 40), st.floats(0.1, 0.9), st.floats(0.0, 1.0))
    def test_follow_lands_on_the_circle_at_full_strength_and_on_the_edges_at_none(
        self, sides, share, follow
    ) -> None:
        tube = turned([(1.0, 0.0), (1.0, 1.0), (1.0, 2.0), (1.0, 3.0)], sides)
        ring = np.flatnonzero(tube.points[:, 1] == 1.0)
        edge = next(e for e in tube.edges.ends.tolist() if set(e) <= set(ring.tolist()))
        for strength in (0.0, follow, 1.0):
            result = loop(tube, edge, [share], follow=strength, limit=list(range(1, 1 + 3 * sides)))
            new = result.mesh.points[tube.vertex_count :]
            inner = new[(new[:, 1] > 0.5) & (new[:, 1] < 2.5)]
            a, b = tube.points[edge]
            flat = np.hypot(*((1 - share) * a + share * b)[[0, 2]])
            lifted = np.hypot(inner[:, 0], inner[:, 2])
            round_place = np.hypot(
                *(np.array([np.cos(share * 2 * np.pi / sides), np.sin(share * 2 * np.pi / sides)]))
            )
            np.testing.assert_allclose(round_place, 1.0)
            if strength == 0.0:
                np.testing.assert_allclose(lifted, flat, rtol=1e-12)
            elif strength == 1.0:
                np.testing.assert_allclose(lifted, 1.0, rtol=1e-9)
            else:
                self.assertTrue(((lifted >= flat - 1e-12) & (lifted <= 1.0 + 1e-12)).all())

    def test_follow_lands_on_a_sphere(self) -> None:
        angle = np.linspace(0, np.pi, 13)
        profile = [
            (float(np.sin(a)) if 0 < k < 12 else 0.0, -float(np.cos(a)))
            for k, a in enumerate(angle)
        ]
        sphere = turned(profile, 16)
        # Vertices come ring by ring after the lower pole: this edge runs up a meridian.
        edge = (1 + 5 * 16, 1 + 6 * 16)
        result = loop(sphere, edge, [0.5], follow=1.0)
        np.testing.assert_allclose(
            np.linalg.norm(result.mesh.points[sphere.vertex_count :], axis=1), 1.0, rtol=1e-9
        )

    def test_extra_points_lie_on_the_new_edges(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        edge = cube.edges.ends[0].tolist()
        result = loop(cube, edge, [0.5], extra_points=2)
        assert_guarantees(cube, result, flat=True)
        self.assertEqual(result.mesh.vertex_count - cube.vertex_count, 8 + 16)
        self.assertEqual(sorted(set(result.mesh.sizes.tolist())), [4, 6])

    def test_a_mirror_makes_the_counterpart_or_notes_that_there_is_none(self) -> None:
        cube = box(2, 2, 2, (3, 3, 3))
        edge = next(
            e
            for e in cube.edges.ends.tolist()
            if (cube.points[e, 0] > 0.3).all() and abs(np.diff(cube.points[e, 0])[0]) > 0.1
        )
        low = edge if cube.points[edge[0], 0] < cube.points[edge[1], 0] else edge[::-1]
        both = loop(cube, low, [0.25], mirror={"axis": "x"})
        assert_guarantees(cube, both, flat=True)
        self.assertEqual(
            sorted(set(np.round(both.mesh.points[cube.vertex_count :, 0], 12))), [-0.5, 0.5]
        )
        one = loop(cube, low, [0.25], mirror={"axis": "x", "offset": 0.1})
        self.assertEqual(codes(one), ["no-counterpart"])

    @settings(max_examples=80)
    @given(
        st.sampled_from(sorted(ZOO)),
        st.integers(0, 10_000),
        st.lists(
            st.sampled_from([0.0, 0.1, 0.25, 1 / 3, 0.5, 0.75, 1.0, 1e-9]), min_size=1, max_size=3
        ),
        st.integers(0, 2),
        st.sampled_from([None, "x", "y", "z"]),
    )
    def test_every_guarantee_holds_for_random_loops(self, name, number, at, extra, axis) -> None:
        mesh = ZOO[name]
        edge = mesh.edges.ends[number % len(mesh.edges)].tolist()
        mirror = None if axis is None else {"axis": axis}
        try:
            result = loop(mesh, edge, at, extra_points=extra, mirror=mirror)
        except CutError:
            assume(False)
        assert_guarantees(mesh, result, flat=name in ("box", "sheet"))
