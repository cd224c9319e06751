"""Aiming loops and slices over the API, plans of both, starter shapes, and the places of the flow
report."""

from __future__ import annotations

import json
from typing import Any

import numpy as np

from cutcore import parse_step
from cutcore.shapes.box import box
from tests.service.test_parts_api import WithCube
from workshop.sample.skerry_light import deck_plate
from workshop.services.parts import add_part

FRONT = {
    "eye": [0, 0, 10],
    "target": [0, 0, 0],
    "projection": "parallel",
    "height": 4,
    "size": [400, 400],
}
TOP = {**FRONT, "eye": [0, 40, 0], "up": [0, 0, -1], "height": 200}


class Aims(WithCube):
    def setUp(self) -> None:
        super().setUp()
        self.mesh = box(2, 2, 2, (2, 2, 2))
        self.part = add_part(self.project, "Divided cube", self.mesh)
        self.plate = add_part(self.project, "Plate", deck_plate())

    def aim(self, what: str, part: Any = None, **body: Any) -> Any:
        answer = self.post(f"/parts/{(part or self.part).pk}/aim/{what}", {"revision": 1, **body})
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def plan(self, step: Any, part: Any = None, **more: Any) -> Any:
        answer = self.post(
            f"/parts/{(part or self.part).pk}/plan", {"revision": 1, "step": step, **more}
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def test_hovering_shows_the_whole_loop_before_anything_is_clicked(self) -> None:
        found = self.aim("loop", view=FRONT, pointer=[178, 103])
        self.assertEqual(
            (found["mark"]["kind"], found["ends"], len(found["crossed"])), ("edge", [], 8)
        )
        self.assertEqual({chain["far"] for chain in found["chains"]}, {True, False})
        self.assertEqual(parse_step(found["step"]).tool, "loop")
        share = found["mark"]["share"]
        self.assertEqual(found["step"]["at"], [share])
        flipped = self.aim("loop", view=FRONT, pointer=[178, 103], flipped=True)
        self.assertEqual(
            (flipped["step"]["edge"], flipped["step"]["at"]),
            (found["step"]["edge"][::-1], [1 - share]),
        )
        far = self.aim("loop", view=FRONT, pointer=[178, 103], settings={"measure": "distance"})
        self.assertAlmostEqual(far["step"]["at"][0], share * far["mark"]["length"])
        several = self.aim("loop", view=FRONT, pointer=[178, 103], spread={"count": 3})
        self.assertEqual(
            (several["step"]["at"], len({chain["line"] for chain in several["chains"]})), (None, 3)
        )
        self.assertEqual(self.aim("loop", view=FRONT, pointer=[5, 5])["step"], None)

    def test_an_end_at_an_ngon_of_even_sides_offers_to_go_on(self) -> None:
        edge = deck_plate().face(0)[:2].tolist()
        found = self.plan({"tool": "loop", "edge": edge, "at": [0.5]}, self.plate)
        offers = [end["through"] for end in found["extra"]["ends"]]
        self.assertEqual(
            (offers, {end["code"] for end in found["extra"]["ends"]}), ([0, 0], {"loop-ngon"})
        )
        np.testing.assert_allclose(found["extra"]["ends"][0]["at"], [0, 8, 0], atol=1e-9)
        gone_on = self.plan({"tool": "loop", "edge": edge, "at": [0.5], "through": [0]}, self.plate)
        self.assertEqual((gone_on["extra"]["ends"], gone_on["changes"]), ([], True))

    def test_a_held_loop_slides_along_its_own_edge(self) -> None:
        step = self.aim("loop", view=FRONT, pointer=[178, 103])["step"]
        slid = self.aim(
            "loop", view=FRONT, pointer=[131, 350], held=step["edge"], settling={"step": 0.25}
        )
        self.assertEqual(sorted(slid["step"]["edge"]), sorted(step["edge"]))
        self.assertIn(slid["mark"]["share"], (0.25, 0.75))
        gone = self.post(
            f"/parts/{self.part.pk}/aim/loop",
            {"revision": 1, "view": FRONT, "pointer": [1, 1], "held": [0, 25]},
        )
        self.assertEqual((gone.status_code, gone.json()["code"]), (422, "bad-step"))

    def test_a_line_shows_where_it_would_cut_and_its_plane(self) -> None:
        begun = self.aim("slice", view=FRONT, pointer=[20, 150])
        self.assertEqual(
            (begun["mark"]["kind"], begun["angle"], begun["chains"]), ("off", None, [])
        )
        drawn = self.aim(
            "slice",
            view=FRONT,
            pointer=[380, 160],
            start=begun["pixel"],
            lock={"kind": "angle", "degrees": 10},
        )
        self.assertAlmostEqual(drawn["angle"], 0.0)
        self.assertTrue(drawn["chains"])
        line = {"from": begun["pixel"], "to": drawn["pixel"]}
        found = self.plan({"tool": "slice", "line": line, "view": FRONT, "then": "discard"})
        self.assertEqual(
            (found["extra"]["scrap"], found["changes"], found["new_edges"]), (True, True, 16)
        )
        (plane,) = found["extra"]["planes"]
        # Right of the way from left to right is down: that is the scrap.
        np.testing.assert_allclose(plane["normal"], [0, -1, 0], atol=1e-12)
        np.testing.assert_allclose([corner[1] for corner in plane["frame"]], 0.5)
        self.assertEqual(found["after"]["borders"], 1)
        missed = self.plan({"tool": "slice", "plane": {"point": [0, 9, 0], "normal": [0, 1, 0]}})
        self.assertEqual(
            (missed["changes"], [n["code"] for n in missed["notes"]]), (False, ["slice-misses"])
        )

    def test_a_plane_is_placed_and_pulled(self) -> None:
        placed = {"by": "axis", "axis": "y", "offset": 0.25}
        found = self.aim("plane", placed=placed)
        self.assertEqual((found["point"][1], found["normal"]), (0.25, [0, 1, 0]))
        x, y = 200 + 100 * found["handles"]["move"][0], 200 - 100 * found["handles"]["move"][1]
        pulled = self.aim(
            "plane", placed=placed, handle="move", pointer=[x, y - 40], view=FRONT, free=True
        )
        self.assertAlmostEqual(pulled["placed"]["offset"], 0.65)
        refused = self.post(
            f"/parts/{self.part.pk}/aim/plane",
            {"revision": 1, "placed": {"by": "face", "face": 999}},
        )
        self.assertEqual(
            (refused.status_code, refused.json()["words"]),
            (422, "there are 24 faces, got face 999"),
        )

    def test_starter_shapes_are_listed_looked_at_and_made_parts(self) -> None:
        shapes = self.client.get("/api/shapes").json()
        self.assertEqual(len(shapes), 8)
        for shape in shapes:
            self.assertEqual(self.post("/shapes", {"shape": shape}).status_code, 200)
            made = self.post(f"/projects/{self.project.pk}/shapes", {"shape": shape})
            self.assertEqual(made.status_code, 201)
        part = self.client.get(f"/api/parts/{made.json()['id']}").json()
        self.assertEqual((part["name"], part["faces"]), ("Sheet", 48))
        wrong = self.post("/shapes", {"shape": {"shape": "torus", "diameter": 3, "thickness": 3}})
        self.assertEqual(wrong.status_code, 422)
        self.assertIn("thickness", wrong.json()["words"])

    def test_the_flow_report_has_places_and_every_row_can_be_picked(self) -> None:
        flow = self.client.get(f"/api/parts/{self.plate.pk}/flow?revision=1").json()
        self.assertEqual((flow["ngons"], len(flow["poles"]), flow["borders"]), ([0], 12, []))
        self.assertEqual({pole["valence"] for pole in flow["poles"]}, {3})
        for what, kind, count in (
            ("ngons", "faces", 1),
            ("poles3", "vertices", 12),
            ("poles5", "vertices", 0),
            ("warped", "faces", 0),
        ):
            picked = self.post(
                f"/parts/{self.plate.pk}/pick",
                {"revision": 1, "pick": {"by": "flow", "what": what}},
            ).json()
            self.assertEqual((picked["kind"], len(picked["elements"])), (kind, count), what)
        opened = {
            "tool": "slice",
            "plane": {"point": [0, 0.5, 0], "normal": [0, 1, 0]},
            "then": "discard",
        }
        part = self.post(f"/parts/{self.part.pk}/steps", {"revision": 1, "step": opened}).json()[
            "part"
        ]
        self.assertEqual(part["flow"]["borders"], 1)
        body = {"revision": 2, "pick": {"by": "flow", "what": "borders"}}
        self.assertEqual(len(self.post(f"/parts/{self.part.pk}/pick", body).json()["elements"]), 8)
        self.assertEqual(
            json.loads(self.client.get(f"/api/parts/{self.part.pk}/flow?revision=1").content)[
                "code"
            ],
            "stale",
        )


class GaugesAndMeasures(WithCube):
    def test_a_gauge_tells_every_cut_and_what_adds_nothing(self) -> None:
        ringed = add_part(self.project, "Ringed", box(2, 4, 2, (1, 4, 1)))
        step = {"tool": "gauge", "axis": "y", "widths": [1.0, 0.5, 9.0]}
        plan = self.post(f"/parts/{ringed.pk}/plan", {"revision": 1, "step": step}).json()
        gauge = plan["extra"]
        self.assertEqual((gauge["along"], gauge["low"], gauge["high"]), ([0, 1, 0], -2, 2))
        said = [(cut["width"], cut["at"], cut["adds_nothing"]) for cut in gauge["cuts"]]
        self.assertEqual(
            said, [(0, -1, "gauge-on-a-loop"), (1, -0.5, None), (2, 8.5, "gauge-off-the-part")]
        )

    def test_lists_are_kept_by_name_replaced_copied_and_dropped(self) -> None:
        path = f"/projects/{self.project.pk}/gauge-lists"
        params = {"tool": "gauge", "widths": [1.0, 2.0], "start": "high", "limit": [0]}
        made = self.post(path, {"name": "Rings", "params": params}).json()
        self.assertEqual((made["params"]["limit"], made["params"]["start"]), (None, "high"))
        self.post(path, {"name": "Rings", "params": {**params, "widths": [3.0]}})
        (kept,) = self.client.get(f"/api{path}").json()
        self.assertEqual((kept["id"], kept["params"]["widths"]), (made["id"], [3.0]))
        copy = self.post(f"/projects/{self.project.pk}/duplicate").json()["id"]
        self.assertEqual(len(self.client.get(f"/api/projects/{copy}/gauge-lists").json()), 1)
        for status in (204, 404):
            self.assertEqual(
                self.client.delete(f"/api/gauge-lists/{kept['id']}").status_code, status
            )
        self.assertEqual(self.client.get(f"/api{path}").json(), [])

    def test_picks_are_measured_and_a_plan_of_a_size_shows_where_edges_go(self) -> None:
        path = f"/parts/{self.part.pk}/measure"
        whole = self.post(path, {"revision": 1, "along": [1, 1, 0]}).json()
        self.assertEqual(
            (whole["low"], whole["high"], whole["ring"]), ([-1, -1, -1], [1, 1, 1], None)
        )
        np.testing.assert_allclose(whole["along"], [-np.sqrt(2), np.sqrt(2)])
        pair = self.post(path, {"revision": 1, "pick": {"vertices": [0, 6]}}).json()
        self.assertGreater(pair["distance"], 1.9)
        step = {"tool": "size", "extent": {"y": 3}, "about": "low"}
        plan = self.post(f"/parts/{self.part.pk}/plan", {"revision": 1, "step": step}).json()
        self.assertEqual(
            (plan["changes"], plan["new_vertices"], plan["new_edges"], len(plan["moved"])),
            (True, 0, 0, 8),
        )
        self.assertEqual(max(place[1] for edge in plan["moved"] for place in edge), 2.0)
        made = self.post(
            f"/parts/{self.part.pk}/steps",
            {"revision": 1, "step": step, "pick": {"vertices": [0], "faces": [2]}},
        ).json()
        self.assertEqual(
            (made["part"]["high"][1], made["carried"]["vertices"], made["carried"]["faces"]),
            (2.0, [0], [2]),
        )
