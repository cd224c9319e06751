"""What a plan draws: runs of spans, each of one line and one side, whatever way the spans come."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase

from cutcore import Mesh, parse_step, trace_step
from cutcore.mesh.mesh import Mesh as EngineMesh
from cutcore.previews.chains import chains_of
from cutcore.previews.plan import plan_of
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from workshop.mesh_payload import BORDER, CROWDED, HARD, mesh_payload

TOP = {
    "eye": [0, 10, 0],
    "target": [0, 0, 0],
    "up": [0, 0, -1],
    "projection": "parallel",
    "height": 8,
    "size": [800, 800],
}


def planned(mesh: Mesh, *lines: list[dict[str, Any]], **more: Any) -> Any:
    return parse_step(
        {"tool": "knife", "lines": [{"points": points} for points in lines], "view": TOP, **more}
    )


class Chains(SimpleTestCase):
    def check(self, trace: Any) -> list[Any]:
        """Every span is drawn once, by a run of its own line and side."""
        chains = chains_of(trace)
        drawn = sorted(
            (min(a, b), max(a, b))
            for c in chains
            for a, b in zip(c.anchors[:-1].tolist(), c.anchors[1:].tolist(), strict=True)
        )
        self.assertEqual(drawn, sorted({(min(a, b), max(a, b)) for a, b in trace.ends.tolist()}))
        return chains

    def test_a_line_over_many_faces_is_one_run(self) -> None:
        grid = sheet(4, 4, 6, 6)
        step = planned(grid, [{"screen": [100, 390]}, {"screen": [700, 430]}])
        chains = self.check(trace_step(grid, step))
        self.assertEqual([(c.line, c.far, c.trimmed) for c in chains], [(0, False, False)])

    def test_near_and_far_side_are_runs_of_their_own(self) -> None:
        ring = torus(2.0, 0.5, 24, 12)
        step = planned(ring, [{"screen": [100, 410]}, {"screen": [700, 420]}], reach="through")
        chains = self.check(trace_step(ring, step))
        self.assertEqual(sorted({c.far for c in chains}), [False, True])
        self.assertEqual(len(chains), 4)

    def test_what_is_trimmed_is_drawn_apart(self) -> None:
        grid = sheet(4, 4, 2, 2)
        step = planned(grid, [{"screen": [100, 390]}, {"screen": [520, 430]}])
        plan = plan_of(grid, step)
        assert plan.trace is not None
        self.assertEqual(sorted(c.trimmed for c in self.check(plan.trace)), [False, True])
        self.assertEqual((plan.new_vertices, [n.code for n in plan.notes]), (3, ["open-end-trim"]))

    def test_lengths_add_up_by_line_and_stretch(self) -> None:
        grid = sheet(4, 4, 4, 4)
        lines = [
            {"face": 5, "at": [-0.5, 0, 0.5]},
            {"face": 5, "at": [-0.2, 0, 0.5]},
            {"face": 5, "at": [-0.2, 0, 0.9]},
        ]
        lengths = trace_step(grid, planned(grid, lines)).stretch_lengths()
        self.assertEqual({k: round(v, 9) for k, v in lengths.items()}, {(0, 0): 0.3, (0, 1): 0.4})

    def test_points_are_told_by_what_they_sit_on(self) -> None:
        grid = sheet(4, 4, 4, 4)
        points = [
            {"vertex": 3},
            {"edge": [8, 7], "t": 0.25},
            {"edge": [7, 12], "t": 0.5},
            {"screen": [10, 10]},
            {"vertex": 99},
        ]
        extra: Any = plan_of(grid, planned(grid, points)).extra
        (told,) = extra.lines
        self.assertEqual([p.kind for p in told], ["vertex", "edge", "half", "off", "off"])
        self.assertEqual((told[1].share, told[1].words), (0.25, "edge 7–8"))
        self.assertIn("got vertex 99", told[4].words)


class Payload(SimpleTestCase):
    def test_edges_are_flagged_as_border_hard_or_crowded(self) -> None:
        points = [
            [0, 0, 0],
            [0, 1, 0],
            [1, 0, 0],
            [1, 1, 0],
            [-1, 0, 0],
            [-1, 1, 0],
            [0, 0, 1],
            [0, 1, 1],
        ]
        fan = EngineMesh.of(
            np.array(points, float),
            [[0, 2, 3, 1], [4, 0, 1, 5], [0, 6, 7, 1]],
            hard=np.array([[2, 3]]),
        )
        data = mesh_payload(fan)
        flags = np.frombuffer(data, np.uint8)[-len(fan.edges) :]
        named = {tuple(e): int(f) for e, f in zip(fan.edges.ends.tolist(), flags, strict=True)}
        self.assertEqual((named[0, 1], named[2, 3], named[0, 2]), (CROWDED, BORDER | HARD, BORDER))
