"""Strokes, ruled lines, seams and patches over the API: plans and made cuts agree, come back after
a restart, and are refused in words."""

from __future__ import annotations

from typing import Any

import numpy as np

from cutcore import parse_step, read_part
from cutcore.shapes.ball import ball
from cutcore.steps.replay import apply_step
from tests.service.test_parts_api import WithCube
from workshop.services.live_meshes import forget_all
from workshop.services.parts import add_part

FRONT = {
    "eye": [0, 0, 40],
    "target": [0, 0, 0],
    "up": [0, 1, 0],
    "projection": "parallel",
    "height": 30,
    "size": [600, 600],
}
BALL = ball(10.0, 6)
STROKE = [[150.0 + 10 * k, 300.0 + 3 * ((k * 7) % 5)] for k in range(31)]
EDGE = BALL.edges.ends[40].tolist()
STEPS: list[dict[str, Any]] = [
    {"tool": "freehand", "strokes": [{"points": STROKE}], "view": FRONT, "smooth": 0.2},
    {
        "tool": "freehand",
        "strokes": [{"points": STROKE}],
        "view": FRONT,
        "keeps": "edges",
        "spread": {"count": 4},
        "reach": "through",
    },
    {"tool": "ruled", "bases": [{"edges": [EDGE]}], "spread": {"count": 3}, "degrees": 70},
    {"tool": "seam", "points": [{"vertex": 0}, {"vertex": 100}]},
    {"tool": "thin", "strokes": [{"points": STROKE}], "view": FRONT},
    {"tool": "patch", "up_to": "angle", "degrees": 20, "name": "Side", "each": True},
]


class DrawnOn(WithCube):
    def setUp(self) -> None:
        super().setUp()
        self.part = add_part(self.project, "Ball", BALL)

    def plan(self, step: dict[str, Any], revision: int = 1) -> Any:
        body = {"revision": revision, "step": step, "view": FRONT}
        answer = self.post(f"/parts/{self.part.pk}/plan", body)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def patches(self, revision: int) -> Any:
        return self.client.get(f"/api/parts/{self.part.pk}/patches?revision={revision}")

    def test_what_is_planned_is_made_and_comes_back_after_a_restart(self) -> None:
        for step in STEPS:
            with self.subTest(step["tool"]):
                self.part = add_part(self.project, "Ball", BALL)
                planned = self.plan(step)
                self.assertIsNone(planned["refusal"])
                made = self.cut(1, step).json()
                self.assertEqual(made["part"]["flow"], planned["after"])
                file = self.export()
                forget_all()
                self.assertEqual(self.export(), file)
                # The same strokes, as kept, make the same to the last bit.
                again = apply_step(BALL, parse_step(self.kept(1))).mesh
                places = read_part("part.obj", file)[0].points
                np.testing.assert_array_equal(places, again.points)
                self.post(f"/parts/{self.part.pk}/undo", {"revision": 2})
                self.post(f"/parts/{self.part.pk}/redo", {"revision": 3})
                self.assertEqual(self.export(), file)

    def test_the_plan_tells_what_only_its_tool_knows(self) -> None:
        score, scores, ruled, seam, *_ = (self.plan(step)["extra"] for step in STEPS[:4])
        self.assertEqual((score["lines"], score["drawn"]), (1, 31))
        self.assertLess(score["points"], 31)
        self.assertGreater(scores["points"], 4 * 8)
        self.assertEqual([stop["share"] for stop in ruled["stops"]], [0.25, 0.5, 0.75])
        self.assertGreater(seam["length"], np.linalg.norm(BALL.points[0] - BALL.points[100]))

    def test_patches_are_told_of_the_part_as_it_stands_only(self) -> None:
        self.assertEqual(self.patches(1).json(), [])
        self.cut(1, STEPS[-1])
        told = self.patches(2).json()
        self.assertEqual(sum(patch["faces"] for patch in told), BALL.face_count)
        self.assertEqual(self.patches(1).status_code, 409)
        self.assertEqual(self.client.get("/api/parts/99999/patches?revision=1").status_code, 404)

    def test_refusals_name_the_field_and_leave_everything_as_it_was(self) -> None:
        for bad, where in (
            ({**STEPS[0], "strokes": [{"points": [[1, 1]]}]}, "strokes"),
            ({**STEPS[0], "share": 0.5}, "shares of edges"),
            ({**STEPS[0], "strokes": [{"points": STROKE, "start": {"vertex": 9999}}]}, "start"),
            ({**STEPS[1], "spread": {"count": 51}}, "count"),
            ({**STEPS[2], "degrees": 180}, "degrees"),
            ({**STEPS[2], "bases": []}, "bases"),
            ({**STEPS[3], "points": [{"vertex": 0}]}, "points"),
            ({**STEPS[4], "share": 0.5}, "share"),
            ({"tool": "rename patch", "patch": "x", "name": ""}, "name"),
        ):
            answer = self.cut(1, bad)
            self.assertEqual(answer.status_code, 422, bad)
            self.assertIn(where, answer.content.decode())
        self.assertEqual(self.client.get(f"/api/parts/{self.part.pk}").json()["revision"], 1)
