"""The API as a client meets it: import, cut, undo, redo, export, refusals, and what survives a
restart."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase, override_settings

from cutcore import read_part, write_part
from cutcore.shapes.box import box
from workshop.models import Part, Project, Snapshot, Step
from workshop.sample.skerry_light import deck_plate
from workshop.services.live_meshes import forget_all
from workshop.services.parts import add_part
from workshop.services.projects import add_project
from workshop.services.sample import add_sample

CUBE = box(2, 2, 2)
A, B, C, D = CUBE.face(1).tolist()
ACROSS = {
    "tool": "knife",
    "lines": [{"points": [{"edge": [A, B], "t": 0.25}, {"edge": [D, C], "t": 0.25}]}],
}


class WithCube(TestCase):
    def setUp(self) -> None:
        forget_all()
        self.project = add_project("Bench")
        self.part = add_part(self.project, "Cube", CUBE)

    def post(self, path: str, body: dict[str, Any] | None = None) -> Any:
        return self.client.post(
            f"/api{path}", json.dumps(body or {}), content_type="application/json"
        )

    def cut(self, revision: int = 1, step: dict[str, Any] = ACROSS) -> Any:
        return self.post(f"/parts/{self.part.pk}/steps", {"revision": revision, "step": step})

    def export(self) -> bytes:
        return self.client.get(f"/api/parts/{self.part.pk}/export.obj").content

    def read(self) -> Any:
        return self.client.get(f"/api/parts/{self.part.pk}").json()

    def kept(self, number: int) -> Any:
        """The parameters of a recorded step."""
        return self.client.get(f"/api/parts/{self.part.pk}/steps/{number}").json()["params"]


class Cutting(WithCube):
    def test_a_cut_is_recorded_undone_and_made_again_to_the_same_bytes(self) -> None:
        original = self.export()
        made = self.cut()
        self.assertEqual(made.status_code, 201)
        self.assertEqual((made.json()["part"]["vertices"], made.json()["part"]["faces"]), (10, 7))
        self.assertEqual(len(made.json()["new_edges"]), 1)
        after = self.export()
        forget_all()  # as a restart would
        undone = self.post(f"/parts/{self.part.pk}/undo", {"revision": 2}).json()
        self.assertEqual(
            (undone["revision"], undone["can_undo"], undone["can_redo"]), (3, False, True)
        )
        self.assertEqual(self.export(), original)
        forget_all()
        self.post(f"/parts/{self.part.pk}/redo", {"revision": 3})
        self.assertEqual(self.export(), after)
        self.assertEqual(self.kept(1)["lines"][0]["points"][0], {"edge": [A, B], "t": 0.25})
        self.assertEqual(self.read()["steps"][0]["title"], "Knife line, 2 points")
        self.assertEqual(self.client.get(f"/api/parts/{self.part.pk}/steps/2").status_code, 404)

    def test_a_new_cut_drops_the_undone_ones(self) -> None:
        self.cut()
        self.post(f"/parts/{self.part.pk}/undo", {"revision": 2})
        other = {"tool": "knife", "lines": [{"points": [{"vertex": A}, {"vertex": C}]}]}
        self.assertEqual(self.cut(3, other).status_code, 201)
        self.assertEqual(
            (Step.objects.count(), Snapshot.objects.filter(part=self.part).count()), (1, 2)
        )
        self.assertFalse(self.read()["can_redo"])

    def test_a_stale_write_is_refused_and_changes_nothing(self) -> None:
        self.cut()
        before = self.export()
        answers = [
            self.cut(1),
            *(
                self.post(f"/parts/{self.part.pk}/{way}", {"revision": 1})
                for way in ("undo", "redo")
            ),
        ]
        self.assertEqual([(a.status_code, a.json()["code"]) for a in answers], [(409, "stale")] * 3)
        self.assertEqual((self.export(), self.read()["revision"]), (before, 2))

    def test_refusals_name_the_place_and_store_nothing(self) -> None:
        nowhere = {"tool": "knife", "lines": [{"points": [{"vertex": 0}, {"vertex": 99}]}]}
        idle = {"tool": "knife", "lines": [{"points": [{"vertex": 0}, {"vertex": 1}]}]}
        unknown = {**ACROSS, "sharpness": 3}
        for step, code, words in (
            (nowhere, "bad-step", "lines[0].points[1].vertex"),
            (idle, "nothing-to-do", "adds nothing"),
            (unknown, "bad-request", "sharpness"),
        ):
            answer = self.cut(1, step)
            self.assertEqual((answer.status_code, answer.json()["code"]), (422, code))
            # People read the words; the path is for programs.
            self.assertIn(words, answer.json()["words"] + " " + answer.json().get("where", ""))
            self.assertNotIn("[", answer.json()["words"])
        self.assertEqual((Step.objects.count(), self.read()["revision"]), (0, 1))
        self.assertEqual(self.post(f"/parts/{self.part.pk}/undo", {"revision": 1}).status_code, 422)

    def test_a_plan_says_what_a_cut_would_do_and_does_nothing(self) -> None:
        plan = self.post(f"/parts/{self.part.pk}/plan", {"revision": 1, "step": ACROSS}).json()
        self.assertEqual((plan["new_vertices"], plan["new_edges"], plan["refusal"]), (2, 3, None))
        self.assertEqual(
            (plan["before"]["quads"], plan["after"]["quads"], plan["after"]["ngons"]), (6, 5, 2)
        )
        self.assertEqual([p["share"] for p in plan["extra"]["lines"][0]], [0.25, 0.25])
        self.assertEqual(plan["extra"]["lines"][0][1]["length"], 2.0)
        self.assertEqual(len(plan["ticks"]), 2)
        self.assertEqual(self.read()["revision"], 1)

    def test_an_impossible_plan_says_why(self) -> None:
        alone = {"tool": "knife", "lines": [{"points": [{"screen": [1, 1]}, {"screen": [2, 1]}]}]}
        view = {
            "eye": [0, 0, 9],
            "target": [0, 0, 0],
            "projection": "parallel",
            "height": 8,
            "size": [800, 800],
        }
        plan = self.post(
            f"/parts/{self.part.pk}/plan", {"revision": 1, "step": {**alone, "view": view}}
        ).json()
        self.assertEqual(plan["refusal"]["code"], "no-surface-between")
        self.assertEqual(plan["before"], plan["after"])
        self.assertEqual(self.cut(1, {**alone, "view": view}).status_code, 422)

    def test_deleted_parts_and_projects_are_gone_and_can_be_brought_back(self) -> None:
        self.client.delete(f"/api/parts/{self.part.pk}")
        self.assertEqual((self.cut().status_code, self.cut().json()["code"]), (404, "not-there"))
        self.post(f"/parts/{self.part.pk}/restore")
        self.client.delete(f"/api/projects/{self.project.pk}")
        self.assertEqual(
            (self.client.get("/api/projects").json(), self.cut().status_code), ([], 404)
        )
        self.post(f"/projects/{self.project.pk}/restore")
        self.assertEqual(self.cut().status_code, 201)

    def test_a_duplicate_has_all_steps_and_goes_its_own_way(self) -> None:
        self.cut()
        copy = self.post(f"/projects/{self.project.pk}/duplicate").json()
        part = self.client.get(f"/api/parts/{copy['parts'][0]['id']}").json()
        self.assertEqual((part["faces"], len(part["steps"]), part["can_undo"]), (7, 1, True))
        self.post(f"/parts/{part['id']}/undo", {"revision": part["revision"]})
        self.assertEqual(self.read()["faces"], 7)


class Files(WithCube):
    def upload(self, name: str, data: bytes) -> Any:
        return self.client.post(
            f"/api/projects/{self.project.pk}/parts", {"file": SimpleUploadedFile(name, data)}
        )

    def test_an_imported_part_keeps_its_ngons_and_exports_to_the_same_file(self) -> None:
        data = write_part("x.obj", deck_plate())
        answer = self.upload("plate.obj", data)
        self.assertEqual((answer.status_code, answer.json()["part"]["name"]), (201, "plate"))
        exported = self.client.get(f"/api/parts/{answer.json()['part']['id']}/export.obj")
        self.assertEqual(exported.content, data)
        self.assertIn('filename="plate.obj"', exported["Content-Disposition"])

    def test_a_broken_file_is_refused_with_its_line_and_nothing_is_stored(self) -> None:
        for data, words in (
            (b"", "empty"),
            (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "line 4"),
            (b"v nan 0 0\n" * 3 + b"f 1 2 3", "line 1"),
        ):
            answer = self.upload("x.obj", data)
            self.assertEqual((answer.status_code, answer.json()["code"]), (422, "bad-file"))
            self.assertIn(words, answer.json()["words"])
        self.assertEqual(Part.objects.count(), 1)

    @override_settings(UPLOAD_BYTES=100)
    def test_a_file_over_the_limit_is_refused(self) -> None:
        self.assertEqual(self.upload("x.obj", b"#" * 101).status_code, 413)

    def test_a_mesh_reaches_the_browser_as_arrays(self) -> None:
        answer = self.client.get(f"/api/meshes/{self.read()['snapshot']}")
        again = self.client.get(
            f"/api/meshes/{self.read()['snapshot']}", headers={"if-none-match": answer["ETag"]}
        )
        self.assertEqual((again.status_code, again.content), (304, b""))
        header = np.frombuffer(answer.content, "<u4", 8)
        self.assertEqual(header[1:5].tolist(), [8, 12, 12, 6])
        origin = np.frombuffer(answer.content, "<f8", 3, 32)
        places = np.frombuffer(answer.content, "<f4", 24, 56).reshape(8, 3) + origin
        np.testing.assert_allclose(places, CUBE.points)
        self.assertEqual(len(answer.content), 56 + 8 * 12 + 12 * 16 + 12 * 8 + 12)


class Doors(TestCase):
    def test_a_request_that_changes_something_needs_the_token_of_the_page(self) -> None:
        stranger = Client(enforce_csrf_checks=True)
        answer = stranger.post(
            "/api/projects", json.dumps({"name": "x"}), content_type="application/json"
        )
        self.assertEqual((answer.status_code, Project.objects.count()), (403, 0))

    def test_another_host_name_is_refused(self) -> None:
        self.assertEqual(
            self.client.get("/api/projects", headers={"host": "elsewhere.test"}).status_code, 400
        )

    def test_the_sample_is_added_once_and_not_to_a_workshop_in_use(self) -> None:
        self.assertEqual(
            [p.name for p in add_sample().parts.all()],
            ["Lantern housing", "Deck plate", "Float hull"],
        )
        self.assertIsNone(add_sample())
        for part in Part.objects.all():
            mesh, notes = read_part(
                "x.obj", self.client.get(f"/api/parts/{part.pk}/export.obj").content
            )
            self.assertEqual(
                (notes, mesh.edges.border.any(), len(mesh.edges.crowded)), ((), False, 0)
            )
