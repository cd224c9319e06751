"""Mending over the API: plans that tell what they add, steps that come back after a restart, two at
once, and repairs asked of what is not there."""

from __future__ import annotations

from typing import Any

from cutcore import parse_step, read_part
from cutcore.shapes.ball import ball
from cutcore.shapes.sheet import sheet
from cutcore.steps.replay import apply_step
from tests.service.test_parts_api import WithCube
from workshop.services.live_meshes import forget_all
from workshop.services.parts import add_part

SLICE = {
    "tool": "slice",
    "plane": {"point": [0.3, 0.2, 0.1], "normal": [1, 0.7, 0.3]},
    "finish": "quads",
}
FRONT = {
    "eye": [0, 0, 40],
    "target": [0, 0, 0],
    "up": [0, 1, 0],
    "projection": "parallel",
    "height": 30,
    "size": [600, 600],
}


class Mends(WithCube):
    def setUp(self) -> None:
        super().setUp()
        self.part = add_part(self.project, "Ball", ball(10.0, 6))

    def test_nobody_works_on_for_a_page_that_is_gone(self) -> None:
        gone = {"waitress.client_disconnected": lambda: True}
        for asked in ("plan", "finishes"):
            body = {"revision": 1, "step": SLICE, "view": FRONT}
            answer = self.client.post(
                f"/api/parts/{self.part.pk}/{asked}", body, "application/json", **gone
            )
            self.assertEqual((answer.status_code, answer.json()["code"]), (409, "stopped"))
        self.assertGreater(self.plan(SLICE)["mending"]["quads"], 0)

    def plan(self, step: dict[str, Any], **more: Any) -> Any:
        answer = self.post(
            f"/parts/{self.part.pk}/plan", {"revision": 1, "step": step, "view": FRONT, **more}
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def test_the_plan_of_a_finished_cut_tells_what_mending_adds(self) -> None:
        planned = self.plan(SLICE)
        mending = planned["mending"]
        self.assertEqual((planned["after"]["ngons"], planned["after"]["triangles"]), (0, 0))
        self.assertGreater(mending["jacobian"], 0.1)
        self.assertGreater(mending["angle"], 5)
        self.assertEqual({far for _, _, far in mending["edges"]}, {True, False})
        self.assertIsNone(self.plan({**SLICE, "finish": "as cut"})["mending"])
        made = self.cut(1, SLICE).json()
        self.assertEqual(made["part"]["flow"], planned["after"])
        self.assertEqual(made["part"]["steps"][0]["title"][-11:], ", all quads")

    def test_it_comes_back_after_a_restart_and_again_after_undo(self) -> None:
        self.cut(1, SLICE)
        made = self.export()
        forget_all()
        self.assertEqual(self.export(), made)
        self.post(f"/parts/{self.part.pk}/undo", {"revision": 2})
        forget_all()
        self.post(f"/parts/{self.part.pk}/redo", {"revision": 3})
        self.assertEqual(self.export(), made)
        # The step it was recorded as makes the same again.
        again = apply_step(ball(10.0, 6), parse_step(self.kept(1))).mesh
        self.assertEqual(read_part("part.obj", made)[0].points.tolist(), again.points.tolist())

    def test_a_cut_is_compared_in_the_ways_its_faces_may_end(self) -> None:
        answer = self.post(
            f"/parts/{self.part.pk}/finishes", {"revision": 1, "step": SLICE, "view": FRONT}
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        rows = {row["finish"]: row for row in answer.json()}
        self.assertEqual(list(rows), ["as cut", "quads", "woven"])
        # Bent faces are drawn along other diagonals once they are cut.
        self.assertLess(rows["as cut"]["moved"], rows["woven"]["moved"])
        self.assertGreater(rows["woven"]["mending"]["median"], rows["quads"]["mending"]["median"])
        for name, row in rows.items():
            self.assertEqual(row["after"], self.plan({**SLICE, "finish": name})["after"])
        tight = {**SLICE, "woven": {"most_moved": 0}}
        refused = self.post(
            f"/parts/{self.part.pk}/finishes", {"revision": 1, "step": tight}
        ).json()[2]
        self.assertIn("more than is allowed", refused["refusal"]["words"])
        other = {"tool": "triangulate"}
        self.assertEqual(
            self.post(f"/parts/{self.part.pk}/finishes", {"revision": 1, "step": other}).json(), []
        )

    def test_how_well_faces_are_formed_is_told_by_bins_whose_faces_can_be_picked(self) -> None:
        self.cut(1, SLICE)
        url = f"/parts/{self.part.pk}"
        for measure in ("jacobian", "angle", "sides", "warp"):
            told = self.client.get(f"/api{url}/quality?revision=2&measure={measure}").json()
            self.assertEqual(sum(row["faces"] for row in told["bins"]), self.read()["faces"])
            worse = [
                sum(row["faces"] for row in told["bins"] if row["level"] == k) for k in (1, 2, 3)
            ]
            self.assertEqual([len(faces) for faces in told["faces"]], worse)
            number = max(k for k, row in enumerate(told["bins"]) if row["faces"])
            pick = {"by": "quality", "measure": measure, "bin": number}
            found = self.post(f"{url}/pick", {"revision": 2, "pick": pick}).json()
            self.assertEqual(len(found["elements"]), told["bins"][number]["faces"])
        asked = {"by": "quality", "measure": "warp", "bin": 99}
        self.assertEqual(self.post(f"{url}/pick", {"revision": 2, "pick": asked}).status_code, 422)
        odd = self.client.get(f"/api{url}/quality?revision=2&measure=beauty")
        self.assertEqual(odd.status_code, 422)

    def test_what_was_woven_comes_back_after_a_restart(self) -> None:
        step = {**SLICE, "finish": "woven"}
        self.assertEqual(self.cut(1, step).json()["part"]["steps"][0]["title"][-7:], ", woven")
        made = self.export()
        forget_all()
        self.assertEqual(self.export(), made)
        again = apply_step(ball(10.0, 6), parse_step(self.kept(1))).mesh
        self.assertEqual(read_part("part.obj", made)[0].points.tolist(), again.points.tolist())

    def test_what_is_asked_twice_is_made_once(self) -> None:
        quads = {"tool": "quads"}
        self.part = add_part(self.project, "Sheet", sheet(4.0, 3.0, 4, 3))
        self.cut(1, {"tool": "triangulate"})
        codes = [self.cut(2, quads).status_code for _ in range(2)]
        self.assertEqual(codes, [201, 409])
        self.assertEqual(self.read()["faces"], 12)

    def test_pairs_ways_and_lines_are_told(self) -> None:
        pairs = self.plan({"tool": "weld", "distance": 2.0})["extra"]
        self.assertEqual((pairs["of"], len(pairs["pairs"])), ("weld", pairs["count"]))
        self.part = add_part(self.project, "Octagon", sheet(4.0, 3.0, 4, 3))
        self.cut(1, {"tool": "dissolve", "faces": [0, 1, 3, 4], "keep_vertices": True})
        answer = self.post(
            f"/parts/{self.part.pk}/plan",
            {"revision": 2, "step": {"tool": "quads", "faces": [0]}},
        ).json()
        self.assertEqual(len(answer["extra"]["ways"]), 3)
        forms = [way["jacobian"] for way in answer["extra"]["ways"]]
        self.assertGreater(forms[0], 0.9)
        asked = {"revision": 2, "view": FRONT, "pointer": [300, 300]}
        told = self.post(f"/parts/{self.part.pk}/flow-lines", asked)
        self.assertEqual(told.status_code, 200)
        self.assertEqual(
            self.post(f"/parts/{self.part.pk}/flow-lines", {**asked, "revision": 1}).status_code,
            409,
        )

    def test_repairs_of_what_is_not_there_leave_all_as_it_was(self) -> None:
        before = self.export()
        count = 10_000
        for step in (
            {"tool": "quads", "faces": [count]},
            {"tool": "quads", "faces": [0], "corners": [[0, count]]},
            {"tool": "split apart", "edges": [[0, count]]},
            {"tool": "split apart", "vertices": [count]},
            {"tool": "fill"},
            {"tool": "fill", "edges": [[0, 1]]},
            {"tool": "circle", "face": count, "diameter": 1},
            {"tool": "circle", "face": 0, "diameter": 100},
            {"tool": "divide", "faces": [count]},
            {"tool": "divide", "columns": 3, "rows": 1},
            {"tool": "line up", "edges": [[0, count]]},
            {"tool": "flatten", "vertices": [0]},
            {"tool": "weld", "onto": [[0, count]]},
            {"tool": "weld"},
            {"tool": "collapse", "vertices": [0, 1], "to": "nowhere"},
            {"tool": "triangulate", "faces": [count]},
            {"tool": "join triangles", "within": 400},
            {"tool": "strays", "vertices": [count]},
            {**SLICE, "finish": "pentagons"},
        ):
            with self.subTest(step=step):
                answer = self.cut(1, step)
                self.assertEqual(answer.status_code, 422, answer.content)
                self.assertTrue(answer.json()["words"])
        self.assertEqual(self.export(), before)
