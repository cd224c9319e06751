"""Where a stretch runs: near side and right through, past rims and gaps, over poles, borders and
edges."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase

from cutcore import Mesh, PathError, Trace, apply_step, parse_step, trace_step
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from cutcore.trace.trace import ON_EDGE, ON_VERTEX
from tests.guarantees import assert_guarantees
from tests.zoo import bow_tie, three_on_an_edge, two_shells

TOP = {
    "eye": [0, 10, 0],
    "target": [0, 0, 0],
    "up": [0, 0, -1],
    "projection": "parallel",
    "height": 8,
    "size": [800, 800],
}
RING = torus(2.0, 0.5, 24, 12)


def over(x: float, z: float) -> dict[str, Any]:
    """The point of the view from above over a place."""
    return {"screen": [400 + 100 * x, 400 + 100 * z]}


def drawn(mesh: Mesh, *points: dict[str, Any], **more: Any) -> Trace:
    return trace_step(
        mesh, parse_step({"tool": "knife", "lines": [{"points": list(points)}], **more})
    )


def length_of(trace: Trace, chosen: Any = slice(None)) -> float:
    ends = trace.place[trace.ends[chosen]]
    return float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())


class InAView(SimpleTestCase):
    def test_near_side_is_what_can_be_seen_and_right_through_all_of_it(self) -> None:
        near = drawn(RING, over(-3, 0.1), over(3, 0.2), view=TOP)
        through = drawn(RING, over(-3, 0.1), over(3, 0.2), view=TOP, reach="through")
        self.assertFalse(near.far.any())
        self.assertTrue((near.place[np.unique(near.ends), 1] >= -0.05).all())
        self.assertTrue(through.far.any() and not through.far.all())
        # Both tubes are cut: on the near side over the top, right through all round.
        self.assertAlmostEqual(length_of(through) / length_of(near), 2.0, places=1)

    def test_a_line_from_beside_the_part_to_beside_it_cuts_clean_across(self) -> None:
        cube = box(2, 2, 2)
        trace = drawn(cube, over(-3, 0.25), over(3, 0.25), view=TOP)
        self.assertEqual(len(trace.ends), 1)
        np.testing.assert_allclose(sorted(trace.place[trace.ends[0], 0]), [-1, 1])

    def test_a_line_that_crosses_a_gap_is_cut_on_both_sides_of_it(self) -> None:
        a = RING.points[np.argmin(RING.points[:, 0])]
        trace = drawn(
            RING, over(float(a[0]) + 0.4, 0.03), over(2.1, 0.04), view=TOP, open_ends="extend"
        )
        self.assertIn("broken-line", [n.code for n in trace.notes])
        x = trace.place[np.unique(trace.ends[trace.cut]), 0]
        self.assertTrue((x < -1.4).any() and (x > 1.4).any())

    def test_between_two_chosen_points_the_eye_need_not_see_the_path(self) -> None:
        # Both points are on the upper side, a wall stands between them: the line runs over the
        # wall.
        points = [
            [x, y, z]
            for x, y in ((-2, 0), (-0.2, 0), (-0.2, 1), (0.2, 1), (0.2, 0), (2, 0))
            for z in (-1, 1)
        ]
        wall = Mesh.of(
            np.array(points, float), [[2 * k, 2 * k + 1, 2 * k + 3, 2 * k + 2] for k in range(5)]
        )
        view = {**TOP, "eye": [4, 10, 0], "up": [0, 1, 0]}
        ends = ({"face": 0, "at": [-1, 0, 0.1]}, {"face": 4, "at": [1, 0, 0.1]})
        trace = drawn(wall, *ends, view=view, open_ends="join")
        self.assertEqual(sorted(set(trace.face[trace.stretch == 0].tolist())), [0, 1, 2, 3, 4])

    def test_another_view_gives_another_cut_between_the_same_points(self) -> None:
        ends = ({"vertex": 2}, {"vertex": 12 * 3 + 2})
        places = []
        for eye in ([0, 10, 0.01], [3, 10, 0.01], [-3, 10, 4]):
            places.append(drawn(RING, *ends, view={**TOP, "eye": eye}).place)
        self.assertFalse(
            any(
                len(a) == len(b) and np.allclose(a, b)
                for k, a in enumerate(places)
                for b in places[:k]
            )
        )

    def test_a_limit_keeps_the_line_to_its_faces(self) -> None:
        grid = sheet(4, 4, 4, 4)
        whole = drawn(grid, over(-3, 0.3), over(3, 0.3), view=TOP)
        some = drawn(grid, over(-3, 0.3), over(3, 0.3), view=TOP, limit=whole.face[:2].tolist())
        self.assertEqual(set(some.face.tolist()), set(whole.face[:2].tolist()))

    def test_two_points_in_one_line_of_sight_are_refused(self) -> None:
        cube = box(2, 2, 2)
        with self.assertRaisesRegex(PathError, "one line of sight"):
            drawn(
                cube, {"face": 3, "at": [0.2, 1, 0.3]}, {"face": 2, "at": [0.2, -1, 0.3]}, view=TOP
            )

    def test_a_second_shell_in_the_way_hides_the_first(self) -> None:
        low, high = sheet(4, 4, 2, 2), sheet(1, 1, 1, 1)
        faces = [low.face(f).tolist() for f in range(4)] + [
            (high.face(0) + low.vertex_count).tolist()
        ]
        pair = Mesh.of(np.concatenate([low.points, high.points + [0, 1, 0]]), faces)
        near = drawn(pair, over(-3, 0.1), over(3, 0.1), view=TOP)
        self.assertEqual(4 in near.face, True)
        through = drawn(pair, over(-3, 0.1), over(3, 0.1), view=TOP, reach="through")
        self.assertGreaterEqual(len(through.face), len(near.face))


class WithoutAView(SimpleTestCase):
    def test_the_shortest_stretch_of_the_section_is_taken(self) -> None:
        tube = turned([(1.0, 0.0), (1.0, 2.0)], 16)
        trace = drawn(tube, {"edge": [0, 16], "t": 0.5}, {"edge": [3, 19], "t": 0.5})
        self.assertEqual(len(trace.ends), 3)
        self.assertEqual({int(k) for k in trace.kind[np.unique(trace.ends)]}, {ON_EDGE})
        np.testing.assert_allclose(trace.place[np.unique(trace.ends), 1], 1.0)

    def test_it_runs_through_vertices_and_poles(self) -> None:
        cone = turned([(1.0, 0.0), (0.0, 1.0)], 8)
        base = [v for v in range(cone.vertex_count) if cone.points[v, 1] == 0]
        tip = next(v for v in range(cone.vertex_count) if cone.points[v, 1] == 1)
        trace = drawn(cone, {"vertex": base[0]}, {"vertex": tip}, {"vertex": base[3]})
        self.assertTrue((trace.face < 0).all())
        low = turned([(1.0, 0.0), (0.7, 0.5), (0.0, 1.0)], 8)
        ring = [v for v in range(low.vertex_count) if low.points[v, 1] == 0.5]
        # From one half of the fan to the other, over the tip.
        half = ({"edge": [ring[0], ring[1]], "t": 0.5}, {"edge": [ring[4], ring[5]], "t": 0.5})
        across = drawn(low, *half)
        top = next(v for v in range(low.vertex_count) if low.points[v, 1] == 1)
        self.assertIn(top, across.element[across.kind == ON_VERTEX].tolist())
        made = apply_step(low, parse_step({"tool": "knife", "lines": [{"points": list(half)}]}))
        assert_guarantees(low, made, flat=False)

    def test_it_bends_round_a_box(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        front = next(
            f
            for f in range(24)
            if np.allclose(cube.points[cube.face(f)].mean(axis=0), [0.5, 0.5, 1])
        )
        side = next(
            f
            for f in range(24)
            if np.allclose(cube.points[cube.face(f)].mean(axis=0), [1, 0.5, 0.5])
        )
        trace = drawn(
            cube,
            {"face": front, "at": [0.5, 0.5, 1]},
            {"face": side, "at": [1, 0.5, 0.5]},
            open_ends="join",
        )
        self.assertEqual(set(trace.face[trace.stretch == 0].tolist()), {front, side})
        self.assertAlmostEqual(length_of(trace, trace.stretch == 0), 1.0)

    def test_nothing_leads_from_one_shell_to_another_or_over_a_touching_vertex_by_chance(
        self,
    ) -> None:
        pair = two_shells()
        with self.assertRaises(PathError) as caught:
            drawn(pair, {"vertex": 1}, {"vertex": pair.vertex_count - 2})
        self.assertEqual(
            [e.as_json() for e in caught.exception.elements],
            [{"vertex": 1}, {"vertex": pair.vertex_count - 2}],
        )
        tie = bow_tie()
        line = {"points": [{"edge": [1, 2], "t": 0.5}, {"vertex": 0}, {"edge": [3, 4], "t": 0.5}]}
        made = apply_step(tie, parse_step({"tool": "knife", "lines": [line]}))
        assert_guarantees(tie, made, flat=True)
        self.assertEqual(made.mesh.face_count, 4)

    def test_it_crosses_an_edge_with_three_faces(self) -> None:
        fan = three_on_an_edge()
        line = {
            "points": [
                {"edge": [2, 3], "t": 0.3},
                {"edge": [0, 1], "t": 0.5},
                {"edge": [6, 7], "t": 0.6},
            ]
        }
        made = apply_step(fan, parse_step({"tool": "knife", "lines": [line]}))
        assert_guarantees(fan, made, flat=True)
        # The third face has the vertex on its border, too: no T-junction.
        self.assertEqual(sorted(made.mesh.sizes.tolist()), [4, 4, 4, 4, 5])
