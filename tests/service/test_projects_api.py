"""Projects and the doors round them: listing, renaming, deleting, pages, and what the seams
promise."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import SimpleTestCase, TestCase

from cutcore import errors as engine_errors
from cutcore import write_part
from cutcore.shapes.box import box
from cutcore.steps.registry import TOOLS, CuttingStep, ReshapingStep
from cutcore.steps.steps_file import steps_schema
from workshop import errors as workshop_errors
from workshop.api import api
from workshop.api.errors import STATUS
from workshop.models import Part, Project
from workshop.services.live_meshes import forget_all
from workshop.services.parts import add_part
from workshop.services.projects import add_project

ROOT = Path(__file__).resolve().parent.parent.parent


class Projects(TestCase):
    def setUp(self) -> None:
        forget_all()

    def call(self, method: str, path: str, body: dict[str, Any] | None = None) -> Any:
        if method == "get":
            return self.client.get(f"/api{path}")
        return getattr(self.client, method)(
            f"/api{path}", json.dumps(body or {}), content_type="application/json"
        )

    def test_the_last_changed_project_comes_first(self) -> None:
        first, second = add_project("First"), add_project("Second")
        self.assertEqual(
            [p["name"] for p in self.client.get("/api/projects").json()], ["Second", "First"]
        )
        add_part(first, "Cube", box(1, 1, 1))
        listed = self.client.get("/api/projects").json()
        self.assertEqual([p["name"] for p in listed], ["First", "Second"])
        self.assertEqual([part["name"] for part in listed[0]["parts"]], ["Cube"])
        self.assertEqual(
            self.call("patch", f"/projects/{second.pk}", {"name": " Third "}).json()["name"],
            "Third",
        )

    def test_names_are_asked_for_and_bounded(self) -> None:
        for name, status in (("", 422), ("x" * 121, 422), ("x" * 120, 201)):
            self.assertEqual(self.call("post", "/projects", {"name": name}).status_code, status)
        self.assertEqual(Project.objects.count(), 1)

    def test_what_is_not_there_is_told_in_the_same_shape_everywhere(self) -> None:
        project = add_project("One")
        part = add_part(project, "Cube", box(1, 1, 1))
        view = {"eye": [0, 0, 9], "target": [0, 0, 0], "fov": 40, "size": [10, 10]}
        calls = [
            ("get", "/projects/99", None),
            ("patch", "/projects/99", {"name": "x"}),
            ("delete", "/projects/99", None),
            ("post", "/projects/99/restore", None),
            ("post", "/projects/99/duplicate", None),
            ("get", "/parts/99", None),
            ("patch", "/parts/99", {"name": "x"}),
            ("delete", "/parts/99", None),
            ("post", "/parts/99/undo", {"revision": 1}),
            ("post", "/parts/99/aim", {"revision": 1, "view": view, "pointer": [1, 1]}),
            ("get", "/parts/99/export.obj", None),
            ("get", "/meshes/99", None),
        ]
        for method, path, body in calls:
            with self.subTest(path):
                answer = self.call(method, path, body)
                self.assertEqual(answer.status_code, 404)
                self.assertEqual(
                    (answer.json()["code"], set(answer.json())),
                    ("not-there", {"code", "words", "elements"}),
                )
        self.assertEqual(self.call("get", f"/parts/{part.pk}/export.doc").status_code, 422)

    def test_parts_are_renamed_exported_in_every_format_and_kept_in_order(self) -> None:
        project = add_project("One")
        for name in ("B", "A", "C"):
            add_part(project, name, box(1, 1, 1))
        part = Part.objects.first()
        assert part is not None
        self.assertEqual(
            self.call("patch", f"/parts/{part.pk}", {"name": "Ä lid"}).json()["name"], "Ä lid"
        )
        names = [p["name"] for p in self.client.get(f"/api/projects/{project.pk}").json()["parts"]]
        self.assertEqual(names, ["Ä lid", "A", "C"])
        for ending, start in (
            ("obj", b"v "),
            ("ply", b"ply"),
            ("stl", b"Wertome"),
            ("glb", b"glTF"),
        ):
            answer = self.client.get(f"/api/parts/{part.pk}/export.{ending}")
            self.assertTrue(answer.content.startswith(start), ending)
            self.assertIn(f'filename="a-lid.{ending}"', answer["Content-Disposition"])

    def test_a_part_comes_back_with_its_steps_after_it_was_deleted(self) -> None:
        part = add_part(add_project("One"), "Cube", box(1, 1, 1))
        step = {"tool": "slice", "plane": {"point": [0, 0.1, 0], "normal": [0, 1, 0]}}
        self.call("post", f"/parts/{part.pk}/steps", {"revision": 1, "step": step})
        self.call("delete", f"/parts/{part.pk}")
        self.assertEqual(self.client.get("/api/projects").json()[0]["parts"], [])
        back = self.call("post", f"/parts/{part.pk}/restore").json()
        self.assertEqual((len(back["steps"]), back["faces"], back["can_undo"]), (1, 10, True))

    def test_a_separated_piece_becomes_a_part_of_the_project(self) -> None:
        part = add_part(add_project("One"), "Cube", box(1, 1, 1))
        self.call(
            "post",
            f"/parts/{part.pk}/steps",
            {"revision": 1, "step": {"tool": "separate", "faces": [0, 1]}},
        )
        parts = self.client.get("/api/projects").json()[0]["parts"]
        self.assertEqual([p["name"] for p in parts], ["Cube", "Cube, taken off"])
        self.assertEqual(self.client.get(f"/api/parts/{parts[1]['id']}").json()["faces"], 2)

    def test_every_address_gives_the_page_and_it_is_not_kept(self) -> None:
        for path in ("/", "/projects/1", "/projects/1/parts/2"):
            answer = self.client.get(path)
            self.assertContains(answer, '<div id="root">')
            self.assertIn("no-store", answer["Cache-Control"])
            self.assertIn("csrftoken", answer.cookies)
        self.assertEqual(self.client.get("/api/nowhere").status_code, 404)
        self.assertEqual(self.client.get("/")["X-Frame-Options"], "DENY")

    def test_the_database_writes_ahead_and_to_the_disk(self) -> None:
        with connection.cursor() as cursor:
            settings = [
                cursor.execute(f"PRAGMA {name}").fetchone()[0]
                for name in ("journal_mode", "synchronous", "foreign_keys")
            ]
        self.assertEqual(settings, ["wal", 2, 1])


class Seams(SimpleTestCase):
    def test_every_refusal_has_a_status_and_a_code_of_its_own(self) -> None:
        for module, root in (
            (engine_errors, engine_errors.CutError),
            (workshop_errors, workshop_errors.WorkshopError),
        ):
            kinds = [
                kind
                for kind in vars(module).values()
                if isinstance(kind, type) and issubclass(kind, root) and kind is not root
            ]
            self.assertEqual(len({kind.code for kind in kinds}), len(kinds))
            for kind in kinds:
                self.assertTrue(any(issubclass(kind, known) for known in STATUS), kind.__name__)

    def test_every_tool_is_in_the_steps_schema_and_in_the_api(self) -> None:
        tools = {
            kind.model_fields["tool"].default
            for union in (CuttingStep, ReshapingStep)
            for kind in union.__args__
        }
        self.assertEqual(tools, set(TOOLS))
        self.assertEqual(
            set(steps_schema()["properties"]["steps"]["items"]["discriminator"]["mapping"]), tools
        )
        described = json.dumps(api.get_openapi_schema())
        for tool in tools:
            self.assertIn(f'"const": "{tool}"', described)

    def test_generated_files_are_up_to_date(self) -> None:
        self.assertEqual(
            json.loads((ROOT / "docs/steps.schema.json").read_text()),
            json.loads(json.dumps(steps_schema())),
        )
        self.assertEqual(
            json.loads((ROOT / "api/openapi.json").read_text()),
            json.loads(json.dumps(api.get_openapi_schema())),
        )


class Units(TestCase):
    def test_a_file_is_converted_to_the_unit_of_its_project_and_that_is_noted(self) -> None:
        forget_all()
        project = add_project("Units")
        path = f"/api/projects/{project.pk}"
        changed = self.client.patch(
            path, json.dumps({"unit": "cm"}), content_type="application/json"
        ).json()
        self.assertEqual(
            (changed["unit"], changed["file_unit"], changed["name"]), ("cm", "mm", "Units")
        )

        def bring(unit: str) -> Any:
            file = SimpleUploadedFile("block.obj", write_part("x.obj", box(2, 2, 2)))
            return self.client.post(f"{path}/parts{unit}", {"file": file})

        inches = bring("?unit=in").json()
        self.assertIn("1 in in the file is 2.54 cm here", inches["notes"][-1])
        part = self.client.get(f"/api/parts/{inches['part']['id']}").json()
        self.assertAlmostEqual(part["high"][0], 2.54)
        self.assertEqual(self.client.get(path).json()["file_unit"], "in")
        as_it_is = bring("").json()
        self.assertEqual(
            (
                as_it_is["notes"],
                self.client.get(f"/api/parts/{as_it_is['part']['id']}").json()["high"][0],
            ),
            ([], 1.0),
        )
        self.assertEqual(bring("?unit=ell").status_code, 422)
        self.assertEqual(
            self.client.patch(
                path, json.dumps({"unit": "ell"}), content_type="application/json"
            ).status_code,
            422,
        )
