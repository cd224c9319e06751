"""Every door of planning, measuring and keeping: what it answers to an old revision, to what is not
there, to nonsense."""

from __future__ import annotations

import json
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as PropertyCase

from cutcore import parse_step
from cutcore.shapes.box import box
from cutcore.shapes.small import SMALL
from cutcore.steps.registry import TOOLS
from cutcore.tool import Cut
from tests.pictures import picture
from tests.service.kept import mesh_of_number
from tests.service.test_parts_api import WithCube
from workshop.models import Snapshot, Step
from workshop.services.live_meshes import forget_all
from workshop.services.parts import add_part
from workshop.services.projects import add_project

VIEW = {
    "eye": [0, 0, 10],
    "target": [0, 0, 0],
    "projection": "parallel",
    "height": 4,
    "size": [400, 400],
}
PLANE = {"point": [0, 0, 0], "normal": [0, 1, 0]}
# For each door a body that is answered, but for the revision.
BODIES: dict[str, dict[str, Any]] = {
    "aim/loop": {"view": VIEW, "pointer": [120, 130]},
    "aim/slice": {"view": VIEW, "pointer": [120, 130]},
    "aim/plane": {"placed": {"by": "axis", "axis": "z"}},
    "plan": {"step": {"tool": "slice", "plane": PLANE, "then": "halve"}},
    "measure": {"pick": {"faces": [0, 1]}},
    "pick": {"pick": {"by": "flow", "what": "poles3"}},
}


class Doors(WithCube):
    def test_each_answers_at_its_revision_only(self) -> None:
        for door, body in BODIES.items():
            path = f"/parts/{self.part.pk}/{door}"
            self.assertEqual(self.post(path, {"revision": 1, **body}).status_code, 200, door)
            old = self.post(path, {"revision": 7, **body})
            self.assertEqual((old.status_code, old.json()["code"]), (409, "stale"), door)
            gone = self.post(f"/parts/999/{door}", {"revision": 1, **body})
            self.assertEqual((gone.status_code, gone.json()["code"]), (404, "not-there"), door)
            self.assertEqual(self.post(path, {**body}).status_code, 422, door)
            self.assertEqual(
                self.post(path, {"revision": 1}).status_code,
                422 if door != "measure" else 200,
                door,
            )

    def test_nothing_that_only_asks_changes_anything(self) -> None:
        before = (self.export(), self.read())
        for door, body in BODIES.items():
            self.post(f"/parts/{self.part.pk}/{door}", {"revision": 1, **body})
        self.assertEqual((self.export(), self.read()), before)
        self.assertEqual(
            (Step.objects.count(), Snapshot.objects.filter(part=self.part).count()), (0, 1)
        )

    def test_views_that_are_none_and_pointers_that_are_no_numbers_are_refused_by_name(self) -> None:
        for door in ("aim/loop", "aim/slice"):
            path = f"/parts/{self.part.pk}/{door}"
            along = self.post(
                path, {"revision": 1, "view": {**VIEW, "up": [0, 0, 1]}, "pointer": [1, 1]}
            )
            self.assertEqual(along.status_code, 422, door)
            self.assertIn("up that is not along the sight", along.json()["words"])
            for wrong in (["a", 1], [1], None, [1e400, 0]):
                body = json.dumps({"revision": 1, "view": VIEW, "pointer": wrong}).replace(
                    "Infinity", "1e999"
                )
                answer = self.client.post(f"/api{path}", body, content_type="application/json")
                self.assertEqual(answer.status_code, 422, (door, wrong))

    def test_planning_a_step_that_can_not_be_made_says_why_and_draws_what_it_can(self) -> None:
        plan = self.post(
            f"/parts/{self.part.pk}/plan",
            {"revision": 1, "step": {"tool": "loop", "edge": [0, 70], "at": [0.5]}},
        ).json()
        self.assertEqual(
            (plan["refusal"]["code"], plan["changes"], plan["chains"]), ("bad-step", False, [])
        )
        far = {"tool": "size", "extent": {"x": 3}, "about": {"vertex": 70}}
        told = self.post(f"/parts/{self.part.pk}/plan", {"revision": 1, "step": far}).json()[
            "refusal"
        ]
        self.assertIn("there are 8 vertices, got vertex 70", told["words"])
        nonsense = {"tool": "slice", "plane": PLANE, "repeat": {"count": 1, "spacing": 3}}
        self.assertEqual(
            self.post(f"/parts/{self.part.pk}/plan", {"revision": 1, "step": nonsense}).status_code,
            422,
        )

    def test_a_plan_foretells_what_the_step_then_does(self) -> None:
        for tool in TOOLS.values():
            for example in tool.examples:
                step = {"tool": tool.name, **example.params}
                mesh = SMALL[example.on]()
                part = add_part(self.project, "Again", mesh)
                planned = self.post(f"/parts/{part.pk}/plan", {"revision": 1, "step": step}).json()
                self.assertIsNone(planned["refusal"], step)
                answer = self.post(f"/parts/{part.pk}/steps", {"revision": 1, "step": step})
                self.assertEqual(answer.status_code, 201, step)
                made = answer.json()
                self.assertEqual(planned["after"], made["part"]["flow"], step)
                codes = [[n["code"] for n in told["notes"]] for told in (planned, made)]
                self.assertEqual(codes[0], codes[1], step)
                kept = self.client.get(f"/api/parts/{part.pk}/steps/1").json()["params"]
                self.assertEqual(parse_step(kept), parse_step(step))
                lays_anew = step.get("then", "keep") != "keep" or bool(
                    {"weave", "takes"} & set(step)
                )
                if isinstance(tool, Cut) and not lays_anew:
                    new = made["part"]["vertices"] - mesh.vertex_count
                    self.assertEqual(planned["new_vertices"], new, step)
                    self.assertEqual(
                        planned["new_edges"], made["part"]["edges"] - len(mesh.edges), step
                    )

    def test_a_made_step_reads_back_as_it_was_asked(self) -> None:
        step = {"tool": "loop", "edge": [0, 1], "spread": {"count": 2, "ratio": 2.0}, "follow": 0.5}
        self.cut(1, step)
        kept = self.kept(1)
        self.assertEqual({k: kept[k] for k in step}, step)
        self.assertEqual((kept["through"], kept["along"], kept["at"]), ([], None, None))
        forget_all()
        self.assertEqual(mesh_of_number(self.read()["snapshot"]).vertex_count, 8 + 8)

    def test_lists_and_drawings_belong_to_projects_that_are_there(self) -> None:
        other = add_project("Gone")
        self.client.delete(f"/api/projects/{other.pk}")
        for path in ("gauge-lists", "drawings"):
            self.assertEqual(
                self.client.get(f"/api/projects/{other.pk}/{path}").status_code, 404, path
            )
        drawn = self.client.post(
            f"/api/projects/{other.pk}/drawings", {"file": SimpleUploadedFile("x.png", picture())}
        )
        self.assertEqual(drawn.status_code, 404)
        kept = self.post(
            f"/projects/{self.project.pk}/gauge-lists",
            {"name": "", "params": {"tool": "gauge", "widths": [1]}},
        )
        self.assertEqual(kept.status_code, 422)
        shape = {"shape": {"shape": "box", "width": -1}}
        self.assertEqual(self.post(f"/projects/{self.project.pk}/shapes", shape).status_code, 422)
        self.assertEqual(
            self.post(f"/projects/{other.pk}/shapes", {"shape": {"shape": "box"}}).status_code, 404
        )


class AnyStep(PropertyCase):
    @settings(max_examples=30)
    @given(
        st.lists(
            st.sampled_from(
                [
                    {"tool": "slice", "plane": {"point": [0.1, 0.2, 0.3], "normal": [1, 2, 3]}},
                    {
                        "tool": "slice",
                        "plane": {"point": [0.1, 0.2, 0.3], "normal": [3, -1, 1]},
                        "then": "discard",
                        "cap": True,
                    },
                    {
                        "tool": "slice",
                        "plane": {"point": [0, 0.1, 0], "normal": [0, 1, 0.1]},
                        "then": "halve",
                    },
                    {"tool": "gauge", "axis": "x", "widths": [0.21, 0.34]},
                    {"tool": "size", "extent": {"y": 1.7}},
                    {"tool": "loop", "edge": [0, 1], "at": [0.37]},
                    {"tool": "dissolve", "edges": [[0, 1]], "faces": None, "keep_vertices": False},
                    "undo",
                    "redo",
                ]
            ),
            min_size=1,
            max_size=6,
        )
    )
    def test_any_walk_through_steps_and_undo_is_the_same_after_a_restart(self, walk) -> None:
        forget_all()
        part = add_part(add_project("Walk"), "Walked", box(2, 2, 2, (3, 3, 3)))
        revision = 1
        for step in walk:
            path, body = (
                (f"/api/parts/{part.pk}/{step}", {})
                if isinstance(step, str)
                else (f"/api/parts/{part.pk}/steps", {"step": step})
            )
            answer = self.client.post(
                path, json.dumps({"revision": revision, **body}), content_type="application/json"
            )
            # A step that can't be made, or nothing to undo, leaves the part at its revision.
            self.assertIn(answer.status_code, (200, 201, 409, 422))
            revision = self.client.get(f"/api/parts/{part.pk}").json()["revision"]
        before = self.client.get(f"/api/parts/{part.pk}/export.obj").content
        told = self.client.get(f"/api/parts/{part.pk}").json()
        forget_all()
        self.assertEqual(self.client.get(f"/api/parts/{part.pk}/export.obj").content, before)
        self.assertEqual(self.client.get(f"/api/parts/{part.pk}").json(), told)
