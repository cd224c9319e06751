"""Parts copied, ordered and kept out of sight; work that is followed and broken off; the mesh that a plan is shown as."""

from __future__ import annotations

import json
import re
from typing import Any
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError
from django.test import SimpleTestCase

from cutcore import parse_step, write_part
from cutcore.previews.plan import plan_of
from cutcore.progress import come_to, one_by_one
from cutcore.shapes.small import SMALL
from cutcore.steps.registry import TOOLS
from cutcore.tool import Reshape
from tests.service.drawn import Drawn, assert_drawn_alike
from tests.service.test_parts_api import ACROSS, CUBE, WithCube
from workshop.errors import Stopped
from workshop.mesh_payload import MAGIC
from workshop.models import Part
from workshop.services.jobs import job, job_at
from workshop.services.live_meshes import forget_all
from workshop.services.parts import add_part
from workshop.services.projects import add_project

NAME = "0f3c5a52-8e1b-4f6e-9d0a-3c1f2b7a9e55"


class Copies(WithCube):
    def names(self) -> list[str]:
        parts = self.client.get(f"/api/projects/{self.project.pk}").json()["parts"]
        return [part["name"] for part in parts]

    def order(self, *parts: int) -> Any:
        return self.client.put(
            f"/api/projects/{self.project.pk}/order",
            json.dumps({"parts": parts}),
            content_type="application/json",
        )

    def test_a_copy_has_the_steps_and_goes_its_own_way(self) -> None:
        add_part(self.project, "Plate", CUBE)
        self.cut()
        cut = self.export()
        self.post(f"/parts/{self.part.pk}/undo", {"revision": 2})
        copy = self.post(f"/parts/{self.part.pk}/duplicate").json()
        # Between copying and reading the workshop is started anew.
        forget_all()
        self.assertEqual(self.names(), ["Cube", "Cube (copy)", "Plate"])
        self.post(f"/parts/{copy['id']}/redo", {"revision": copy["revision"]})
        self.assertEqual(self.client.get(f"/api/parts/{copy['id']}/export.obj").content, cut)
        self.assertEqual(self.read()["can_redo"], True)
        self.assertNotEqual(self.export(), cut)
        # A copy of a copy, of a part with the longest name.
        self.client.patch(
            f"/api/parts/{copy['id']}",
            json.dumps({"name": "n" * 120, "hidden": True}),
            content_type="application/json",
        )
        again = self.post(f"/parts/{copy['id']}/duplicate").json()
        self.assertEqual((len(again["name"]), again["hidden"]), (119, False))

    def test_an_order_is_of_all_parts_that_are_there(self) -> None:
        first, second = self.part.pk, add_part(self.project, "Plate", CUBE).pk
        gone = add_part(self.project, "Gone", CUBE).pk
        elsewhere = add_part(add_project("Other"), "Other", CUBE).pk
        self.client.delete(f"/api/parts/{gone}")
        self.assertEqual(self.order(second, first).status_code, 200)
        self.assertEqual(self.names(), ["Plate", "Cube"])
        # Somebody else has added or deleted a part, or the list is wrong.
        for wrong in ([first], [first, first], [first, second, gone], [first, elsewhere], []):
            self.assertEqual(self.order(*wrong).status_code, 409, wrong)
        self.assertEqual(self.names(), ["Plate", "Cube"])
        self.post(f"/parts/{gone}/restore")
        self.assertEqual(sorted(self.names()), ["Cube", "Gone", "Plate"])

    def test_what_is_out_of_sight_stays_so_and_loses_nothing(self) -> None:
        before = self.export()
        for hidden in (True, None, True, False):
            answer = self.client.patch(
                f"/api/parts/{self.part.pk}",
                json.dumps({"hidden": hidden}),
                content_type="application/json",
            )
            self.assertEqual(answer.status_code, 200)
            self.part.refresh_from_db()
            self.assertEqual(self.part.hidden, hidden is not False)
        self.assertEqual((self.export(), self.part.revision), (before, 1))


class Pages(WithCube):
    def test_the_page_of_a_part_names_what_it_will_ask_and_others_nothing(self) -> None:
        address = f"/projects/{self.project.pk}/parts/{self.part.pk}"
        page = self.client.get(address).content.decode()
        soon = re.findall(r'rel="preload" as="fetch"[^>]* href="([^"]+)"', page)
        self.assertEqual(len(soon), 3)
        for asked in soon:
            self.assertEqual(self.client.get(asked).status_code, 200, asked)
        self.client.delete(f"/api/parts/{self.part.pk}")
        far = 10**17
        for path in (address, f"/projects/{far}/parts/{far}", f"/projects/1/parts/{far}0000", "/x"):
            answer = self.client.get(path)
            self.assertEqual(answer.status_code, 200)
            self.assertNotIn("preload", answer.content.decode().replace("modulepreload", ""))
        with mock.patch("workshop.page.part_at", side_effect=OperationalError("disk I/O error")):
            self.assertEqual(self.client.get(address).status_code, 200)


class Jobs(WithCube):
    def test_a_cut_that_is_stopped_changes_nothing_and_can_be_made_afterwards(self) -> None:
        path, body = f"/parts/{self.part.pk}/steps?job={NAME}", {"revision": 1, "step": ACROSS}
        said: list[str] = []

        for words in ("working the cut out", "laying lines into faces", "packing it", "keeping it"):

            def watch(now: str, share: float | None = None, *, words: str = words) -> None:
                said.append(now)
                if now == words:
                    self.assertEqual(self.client.delete(f"/api/jobs/{NAME}").status_code, 204)
                    self.assertEqual(self.client.get(f"/api/jobs/{NAME}").status_code, 200)
                    job_at(NAME).check()

            places = ("cutcore.imprint", "workshop.services.make_cut")
            with (
                mock.patch(f"{places[0]}.come_to", watch),
                mock.patch(f"{places[1]}.come_to", watch),
            ):
                answer = self.post(path, body)
            self.assertEqual((answer.status_code, answer.json()["code"]), (409, "stopped"))
            self.assertEqual((self.read()["revision"], self.read()["steps"]), (1, []))
        self.assertIn("putting the mesh together", said)
        self.assertEqual(self.client.get(f"/api/jobs/{NAME}").status_code, 404)
        self.assertEqual(self.post(path, body).status_code, 201)

    def test_a_file_that_is_stopped_leaves_no_part(self) -> None:
        def reading(*given: Any, stopped: Any) -> Any:
            self.assertFalse(stopped())
            self.client.delete(f"/api/jobs/{NAME}")
            self.assertTrue(stopped())
            raise Stopped("the reading was broken off")

        file = SimpleUploadedFile("cube.obj", write_part("cube.obj", CUBE))
        with mock.patch("workshop.services.import_part.aside", reading):
            answer = self.client.post(
                f"/api/projects/{self.project.pk}/parts?job={NAME}", {"file": file}
            )
        self.assertEqual((answer.status_code, answer.json()["code"]), (409, "stopped"))
        self.assertEqual(Part.objects.count(), 1)

    def test_names_are_bounded_and_what_is_not_there_is_said(self) -> None:
        for name in ("x", "a" * 41, "../../etc", "0f3c5a52 8e1b"):
            path = f"/parts/{self.part.pk}/steps?job={name}"
            self.assertEqual(
                self.post(path, {"revision": 1, "step": ACROSS}).status_code, 422, name
            )
        for ask in (self.client.get, self.client.delete):
            self.assertEqual(ask(f"/api/jobs/{NAME}").status_code, 404)


class Following(SimpleTestCase):
    def test_who_leaves_stops_the_work_and_two_of_one_name_do_not_meet(self) -> None:
        with self.assertRaises(Stopped), job(None, lambda: True):
            come_to("anything")
        with job(NAME, lambda: False) as first:
            for done, _ in enumerate(one_by_one("one by one", "abcd")):
                self.assertEqual((job_at(NAME).words, job_at(NAME).share), ("one by one", done / 4))
            with job(NAME, lambda: False) as second:
                job_at(NAME).broken_off.set()
                self.assertEqual((first(), second()), (False, True))
            # The work without is watched again.
            come_to("still here")
        # Outside nobody watches.
        come_to("nowhere")


class PlannedMeshes(WithCube):
    def test_what_a_plan_is_shown_as_is_what_is_then_made(self) -> None:
        shown = 0
        for tool in TOOLS.values():
            for example in tool.examples:
                mesh, params = SMALL[example.on](), {"tool": tool.name, **example.params}
                if not isinstance(tool, Reshape) and not len(
                    plan_of(mesh, parse_step(params)).moved
                ):
                    continue
                with self.subTest(tool.name, **example.params):
                    part = add_part(self.project, tool.name, mesh)
                    body = {"revision": 1, "step": params}
                    before = self.client.get(f"/api/parts/{part.pk}").json()["snapshot"]
                    planned = self.post(f"/parts/{part.pk}/planned-mesh", body).content
                    self.assertEqual(self.client.get(f"/api/parts/{part.pk}").json()["revision"], 1)
                    made = self.post(f"/parts/{part.pk}/steps", body).json()["part"]["snapshot"]
                    whole = Drawn(self.client.get(f"/api/meshes/{made}").content)
                    if int.from_bytes(planned[:4], "little") == MAGIC:
                        drawn = Drawn(planned)
                    else:
                        drawn = Drawn(self.client.get(f"/api/meshes/{before}").content)
                        drawn.change(planned)
                    assert_drawn_alike(drawn, whole)
                    shown += 1
        self.assertGreater(shown, 15)

    def test_a_step_that_can_not_be_carried_out_or_an_old_part_is_refused_in_words(self) -> None:
        path = f"/parts/{self.part.pk}/planned-mesh"
        step = {"tool": "extrude", "faces": [99], "distance": 1.0}
        for revision, code in ((1, 422), (7, 409)):
            answer = self.post(path, {"revision": revision, "step": step})
            self.assertEqual(answer.status_code, code)
            self.assertTrue(answer.json()["words"])
