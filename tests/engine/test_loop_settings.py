"""Loops in full: spread and crowded, over n-gons, along part of their ring, with points between,
and refusals by place."""

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
from cutcore.trace.spread import Spread
from tests.engine.test_loop import codes, loop
from tests.guarantees import assert_guarantees
from tests.zoo import ZOO, prism
from workshop.sample.skerry_light import deck_plate


def spread(mesh: Mesh, edge: Any, count: int, ratio: float = 1.0, **more: Any) -> Result:
    return apply_step(
        mesh,
        parse_step(
            {"tool": "loop", "edge": list(edge), "spread": {"count": count, "ratio": ratio}, **more}
        ),
    )


class Settings(SimpleTestCase):
    def test_spread_loops_lie_at_equal_fractions_to_the_last_bit(self) -> None:
        grid = sheet(1.0, 1.0, 1, 1)
        edge = grid.face(0)[:2].tolist()
        result = spread(grid, edge, 4)
        a, b = grid.points[edge]
        along = sorted(
            float((p - a) @ (b - a)) for p in result.mesh.points[4:] if abs(p[2] - a[2]) < 1e-12
        )
        self.assertEqual(along, [0.2, 0.4, 0.6, 0.8])
        self.assertEqual(Spread(count=3).shares(), (0.25, 0.5, 0.75))

    @settings(max_examples=60)
    @given(st.integers(1, 50), st.floats(0.1, 10))
    def test_crowded_loops_leave_gaps_of_one_ratio(self, count, ratio) -> None:
        assume(
            1e-6 < ratio**count < 1e6
        )  # beyond that loops lie closer than numbers tell them apart
        edges = np.array([0.0, *Spread(count=count, ratio=ratio).shares(), 1.0])
        gaps = np.diff(edges)
        self.assertTrue((gaps > 0).all())
        np.testing.assert_allclose(gaps[1:] / gaps[:-1], ratio, rtol=1e-4)

    def test_an_ngon_is_gone_through_to_the_edge_opposite_when_told_to(self) -> None:
        plate = deck_plate()
        # The upper edge of a wall: the octagon lies beyond it.
        edge = plate.face(0)[:2].tolist()
        stopped = loop(plate, edge, [0.25])
        self.assertIn("loop-ngon", codes(stopped))
        gone_on = loop(plate, edge, [0.25], through=[0])
        assert_guarantees(plate, gone_on, flat=True)
        self.assertEqual(codes(gone_on), [])
        inside = [f for f in range(gone_on.mesh.face_count) if gone_on.origin.face[f] == 0]
        # The ring comes back to the octagon square to where it first crossed it.
        self.assertEqual(len(inside), 4)
        with self.assertRaisesRegex(
            StepError, r"through\[0\]: face 0 has 5 sides: no edge lies opposite"
        ):
            five = prism(5, concave=False)
            odd = Mesh.of(
                five.points[:10],
                [[0, 2, 4, 6, 8], *[[k, (k + 1) % 10, (k + 2) % 10] for k in range(0, 10, 2)]],
            )
            loop(odd, [0, 2], [0.5], through=[0])
        with self.assertRaisesRegex(
            StepError, rf"through\[1\]: there are {plate.face_count} faces, got face 999"
        ):
            loop(plate, edge, [0.25], through=[0, 999])

    def test_it_keeps_to_the_edges_it_is_given_and_says_that_it_ends_there(self) -> None:
        ring = torus(1.0, 0.3, 12, 8)
        a, b = ring.face(0)[:2].tolist()
        whole = apply_step(ring, parse_step({"tool": "loop", "edge": [a, b], "at": [0.5]}))
        faces = sorted(set(whole.origin.face[whole.mesh.face_count - 8 :].tolist()))
        pairs = []
        face, edge = 0, ring.edges.between(a, b)
        for _ in range(4):
            pairs.append(ring.edges.ends[edge].tolist())
            row = ring.edges.of_corner[ring.starts[face] : ring.starts[face + 1]].tolist()
            edge = row[(row.index(edge) + 2) % 4]
            face = next(f for f in ring.edges.faces_at(edge) if f != face)
        part = loop(ring, (a, b), [0.5], along=pairs)
        assert_guarantees(ring, part, flat=False)
        self.assertEqual(
            (codes(part), part.mesh.face_count - ring.face_count, len(faces)),
            (["loop-path-end"] * 2, 3, 8),
        )
        with self.assertRaisesRegex(
            StepError, "along: the edge is not one of those the loop keeps to"
        ):
            loop(ring, (a, b), [0.5], along=pairs[1:])

    def test_a_way_across_that_leaves_a_bent_face_is_no_way(self) -> None:
        comb = ZOO["comb"]
        for number in range(len(comb.edges)):
            edge = comb.edges.ends[number].tolist()
            try:
                result = loop(comb, edge, [0.5], through=[0])
            except StepError as refusal:
                self.assertRegex(str(refusal), "leaves the face")
                continue
            assert_guarantees(comb, result, flat=True)

    def test_extra_points_are_told_to_leave_ngons_as_many_as_there_are(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        result = loop(cube, cube.edges.ends[0].tolist(), [0.25, 0.5], extra_points=1)
        (note,) = [n for n in result.notes if n.code == "loop-leaves-ngons"]
        self.assertIn(f"of the {int((result.mesh.sizes > 4).sum())} faces", note.words)

    def test_places_are_given_in_one_way_only(self) -> None:
        for more, words in (
            ({}, "either places .* or a spread"),
            ({"at": [0.5], "spread": {"count": 2}}, "either places .* or a spread"),
            ({"spread": {"count": 2}, "measure": "distance"}, "spread loops go by share"),
            ({"spread": {"count": 0}}, r"spread\.count"),
        ):
            with self.assertRaisesRegex(StepError, words):
                parse_step({"tool": "loop", "edge": [0, 1], **more})

    @settings(max_examples=70)
    @given(
        st.sampled_from(sorted(ZOO)),
        st.integers(0, 10_000),
        st.integers(1, 4),
        st.sampled_from([0.5, 1.0, 2.0]),
        st.booleans(),
    )
    def test_every_guarantee_holds_over_ngons_and_for_spread_loops(
        self, name, number, count, ratio, over
    ) -> None:
        mesh = ZOO[name]
        edge = mesh.edges.ends[number % len(mesh.edges)].tolist()
        even = np.flatnonzero((mesh.sizes > 4) & (mesh.sizes % 2 == 0)).tolist() if over else []
        try:
            result = spread(mesh, edge, count, ratio, through=even)
        except CutError:
            assume(False)
        assert_guarantees(mesh, result, flat=name in ("box", "sheet"))


class Lifted(SimpleTestCase):
    @settings(max_examples=60)
    @given(st.integers(5, 36), st.integers(1, 5), st.floats(0.3, 3.0), st.floats(0.0, 1.0))
    def test_several_loops_follow_the_circle_together(self, sides, count, ratio, follow) -> None:
        tube = turned([(2.0, 0.0), (2.0, 1.0), (2.0, 2.0), (2.0, 3.0)], sides)
        ring = np.flatnonzero(tube.points[:, 1] == 1.0)
        edge = next(e for e in tube.edges.ends.tolist() if set(e) <= set(ring.tolist()))
        walls = list(range(1, 1 + 3 * sides))
        result = spread(tube, edge, count, ratio, follow=follow, limit=walls)
        new = result.mesh.points[tube.vertex_count :]
        inner = new[np.isclose(new[:, 1], 1.0)]
        self.assertEqual(len(inner), count)
        reach = np.hypot(inner[:, 0], inner[:, 2])
        a, b = tube.points[edge]
        flat = np.array(
            [
                np.hypot(*((1 - s) * a + s * b)[[0, 2]])
                for s in Spread(count=count, ratio=ratio).shares()
            ]
        )
        # Between the edge and the circle, and on them at the ends of the scale.
        self.assertTrue((np.sort(reach) >= np.sort(flat) - 1e-9).all())
        self.assertTrue((reach <= 2.0 + 1e-9).all())
        if follow == 1.0:
            np.testing.assert_allclose(reach, 2.0, rtol=1e-9)

    def test_a_mirror_lifts_its_counterpart_alike(self) -> None:
        tube = turned([(2.0, 0.0), (2.0, 1.0), (2.0, 2.0), (2.0, 3.0)], 12)
        ring = [int(v) for v in np.flatnonzero(tube.points[:, 1] == 1.0)]
        edge = (ring[1], ring[2])
        both = loop(tube, edge, [0.25], follow=1.0, mirror={"axis": "x"}, limit=list(range(1, 37)))
        new = both.mesh.points[tube.vertex_count :]
        level = new[np.isclose(new[:, 1], 1.0)]
        self.assertEqual(len(level), 2)
        np.testing.assert_allclose(level[0] * [-1, 1, 1], level[1], atol=1e-12)
        np.testing.assert_allclose(np.hypot(level[:, 0], level[:, 2]), 2.0, rtol=1e-9)

    def test_distances_count_from_either_end(self) -> None:
        cone = turned([(3.0, 0.0), (2.0, 2.0), (1.0, 4.0)], 10)
        low = [int(v) for v in np.flatnonzero(cone.points[:, 1] == 0.0)]
        edge = next(e for e in cone.edges.ends.tolist() if (e[0] in low) != (e[1] in low))
        foot, head = edge if edge[0] in low else edge[::-1]
        length = float(np.linalg.norm(cone.points[foot] - cone.points[head]))
        up = loop(cone, (foot, head), [0.4, 1.0], measure="distance").mesh.points[
            cone.vertex_count :
        ]
        down = loop(
            cone, (head, foot), [length - 1.0, length - 0.4], measure="distance"
        ).mesh.points[cone.vertex_count :]
        order = [np.lexsort(np.round(points, 9).T) for points in (up, down)]
        np.testing.assert_allclose(up[order[0]], down[order[1]], atol=1e-9)
