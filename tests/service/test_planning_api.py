"""Aiming and picking over the API: locks, lengths, mirrors, limits, hidden faces, and answers that
read back as steps."""

from __future__ import annotations

from typing import Any

from cutcore.shapes.box import box
from tests.service.test_parts_api import WithCube
from workshop.services.parts import add_part

TOP = {
    "eye": [0, 10, 0],
    "target": [0, 0, 0],
    "up": [0, 0, -1],
    "projection": "parallel",
    "height": 4,
    "size": [400, 400],
}


class Aiming(WithCube):
    def setUp(self) -> None:
        super().setUp()
        self.part = add_part(self.project, "Cut cube", box(2, 2, 2, (2, 2, 2)))

    def aim(self, x: float, z: float, **more: Any) -> Any:
        body = {"revision": 1, "view": TOP, "pointer": [200 + 100 * x, 200 + 100 * z], **more}
        answer = self.post(f"/parts/{self.part.pk}/aim", body)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def start(self) -> Any:
        return self.aim(-1, 0.02)["mark"]["point"]

    def test_a_lock_holds_and_a_typed_length_is_the_length(self) -> None:
        start = self.aim(-0.5, 0.5)["mark"]["point"]
        held = self.aim(-0.1, 0.61, start=start, lock={"kind": "x"})
        self.assertAlmostEqual(held["mark"]["at"][2], 0.5)
        self.assertAlmostEqual(abs(held["guide"]["direction"][0]), 1.0)
        at_length = self.aim(-0.1, 0.61, start=start, lock={"kind": "x"}, length=0.25)
        self.assertAlmostEqual(at_length["mark"]["at"][0], -0.25)
        self.assertAlmostEqual(at_length["length"], 0.25)
        turned = self.aim(-0.1, 0.3, start=start, lock={"kind": "angle", "degrees": 15})
        self.assertEqual(turned["guide"]["angle"], 30.0)

    def test_a_mirror_shows_the_counterpart_and_a_grid_needs_no_edge(self) -> None:
        self.assertAlmostEqual(self.aim(-0.5, 0.5, mirror={"axis": "x"})["counterpart"][0], 0.5)
        self.assertIsNone(self.aim(-0.5, 0.5, mirror={"axis": "x", "offset": 0.2})["counterpart"])
        settled = self.aim(-0.43, 0.57, lock={"kind": "grid", "spacing": 0.5})["mark"]
        self.assertEqual([round(v, 9) for v in settled["at"]], [-0.5, 1.0, 0.5])

    def test_hidden_faces_are_not_met(self) -> None:
        mesh = box(2, 2, 2, (2, 2, 2))
        below = [f for f in range(mesh.face_count) if (mesh.points[mesh.face(f), 1] == -1).all()]
        self.assertEqual(self.aim(-0.5, 0.5, shown=below)["mark"]["at"][1], -1.0)

    def test_a_limit_the_surface_does_not_allow_is_told(self) -> None:
        told = self.aim(0.5, 0.5, start=self.start(), limit=[0])
        self.assertIn("no surface lies between", told["refusal"])

    def test_a_plan_that_the_part_has_moved_under_is_told_beside_the_mark(self) -> None:
        told = self.aim(-0.5, 0.5, start={"edge": [0, 25], "t": 0.5})
        self.assertEqual((told["mark"]["kind"], told["chains"]), ("face", []))
        self.assertIn("no edge between the vertices 0 and 25", told["refusal"])

    def test_picks_are_answered_by_kind_and_wrong_ones_refused(self) -> None:
        def pick(**way: Any) -> Any:
            return self.post(f"/parts/{self.part.pk}/pick", {"revision": 1, "pick": way})

        face = pick(by="pointer", kind="faces", view=TOP, pointer=[150, 150]).json()
        self.assertEqual((face["kind"], len(face["elements"])), ("faces", 1))
        grown = pick(by="grow", kind="faces", elements=face["elements"]).json()
        self.assertGreater(len(grown["elements"]), 4)
        self.assertEqual(
            len(pick(by="border", kind="faces", elements=face["elements"]).json()["elements"]), 4
        )
        self.assertEqual(len(pick(by="flow", what="poles").json()["elements"]), 8)
        self.assertEqual(pick(by="loop", elements=[9999]).status_code, 404)
        self.assertEqual(pick(by="guess", elements=[1]).status_code, 422)

    def test_a_made_cut_says_what_has_become_of_the_pick(self) -> None:
        step = {"tool": "slice", "line": {"from": [100, 130], "to": [300, 160]}, "view": TOP}
        mesh = box(2, 2, 2, (2, 2, 2))
        body = {
            "revision": 1,
            "step": step,
            "pick": {"faces": list(range(mesh.face_count)), "vertices": [3], "edges": []},
        }
        made = self.post(f"/parts/{self.part.pk}/steps", body).json()
        self.assertEqual(len(made["carried"]["faces"]), made["part"]["faces"])
        self.assertEqual(made["carried"]["vertices"], [3])
        self.assertEqual(len(made["new"]["edges"]), len(made["new_edges"]))
        # The step reads back as a steps file has it.
        self.assertEqual(self.kept(1)["line"], step["line"])
        again = {"revision": 2, "step": self.kept(1)}
        self.assertEqual(self.post(f"/parts/{self.part.pk}/plan", again).json()["new_vertices"], 0)
