"""Every fault is answered in words, and leaves nothing half made."""

from __future__ import annotations

import json
import threading
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError, connection
from django.test import Client, TransactionTestCase

from cutcore import parse_step
from cutcore.shapes.box import box
from cutcore.shapes.torus import torus
from tests import fresh_seed
from tests.fuzz import assault, lines
from tests.guarantees import assert_same_mesh
from tests.pictures import picture
from tests.service.test_parts_api import WithCube
from workshop import aside, readers
from workshop.api import api
from workshop.models import Part, Project, Snapshot, Step
from workshop.services import live_meshes
from workshop.services.live_meshes import forget_all, mesh_of
from workshop.services.make_cut import make_cut
from workshop.services.parts import add_part, part_at
from workshop.services.projects import add_project
from workshop.storage.room import free_pages

ACROSS = {"tool": "slice", "plane": {"point": [0, 0.1, 0], "normal": [0, 1, 0.3]}}


class Asked(WithCube):
    def setUp(self) -> None:
        super().setUp()
        self.client.raise_request_exception = False

    def assert_in_words(self, answer: Any, status: int, code: str) -> None:
        self.assertEqual(answer.status_code, status, answer.content)
        said = answer.json()
        self.assertEqual(said["code"], code)
        self.assertTrue(0 < len(said["words"]) <= 300 and "\n" not in said["words"], said)

    def test_requests_drawn_from_the_schema_are_answered_in_words(self) -> None:
        told = assault(500, seed=fresh_seed(10**6))
        self.assertEqual(told.faults, [], "\n".join(lines(told)))
        self.assertGreater(told.statuses[200] + told.statuses[201], 100)

    def test_fields_that_nobody_knows_are_refused(self) -> None:
        part = f"/api/parts/{self.part.pk}"
        answer = self.client.patch(part, {"hiden": True}, content_type="application/json")
        self.assert_in_words(answer, 422, "bad-request")
        self.assertEqual(answer.json()["where"], "body.hiden")
        unknown, described = [], api.get_openapi_schema()

        def look(found: Any) -> None:
            if isinstance(found, dict):
                name = found.get("$ref", "").rpartition("/")[2]
                if name and name not in seen:
                    seen.add(name)
                    look(described["components"]["schemas"][name])
                if "properties" in found and found.get("additionalProperties") is not False:
                    unknown.append(found["title"])
            for value in found.values() if isinstance(found, dict) else found:
                if isinstance(value, dict | list):
                    look(value)

        seen: set[str] = set()
        operations = [one for ways in described["paths"].values() for one in ways.values()]
        for one in operations:
            look(one.get("requestBody", {}).get("content", {}).get("application/json", {}))
            self.assertTrue(any(str(status)[0] == "2" for status in one["responses"]), one)
        self.assertEqual(unknown, [])
        self.assertGreater(len(seen), 100)
        names = [one["operationId"] for one in operations]
        self.assertEqual(len(set(names)), len(names))

    def test_impossible_numbers_are_refused_before_anything_is_made(self) -> None:
        for step in (
            {"tool": "bridge", "faces": [0, 3], "twist": 1e30},
            {"tool": "delete", "faces": [10**20]},
        ):
            self.assert_in_words(self.cut(1, step), 422, "bad-request")
        body = {"revision": 1, "step": ACROSS, "pick": {"faces": [2**70]}}
        self.assert_in_words(self.post(f"/parts/{self.part.pk}/steps", body), 422, "bad-request")
        self.assertEqual((Step.objects.count(), self.read()["revision"]), (0, 1))
        for path in ("/parts/99999999999999999999", "/meshes/99999999999999999999", "/projects/-5"):
            self.assertIn(self.client.get(f"/api{path}").status_code, (404, 422))

    def test_a_part_whose_step_is_not_allowed_any_more_still_opens(self) -> None:
        self.cut()
        Step.objects.update(params={"tool": "bridge", "faces": [0, 3], "twist": 10**30})
        self.assertEqual((len(self.read()["steps"]), self.kept(1)), (1, None))
        self.assertEqual(self.post(f"/parts/{self.part.pk}/undo", {"revision": 2}).status_code, 200)

    def test_where_the_answer_fails_nothing_was_made(self) -> None:
        with mock.patch("workshop.api.parts.PartOut.of", side_effect=ValueError("odd")):
            self.assert_in_words(self.cut(), 500, "fault")
        self.assertEqual(
            (Step.objects.count(), Snapshot.objects.filter(part=self.part).count()), (0, 1)
        )
        self.assertEqual(self.cut().status_code, 201)
        with mock.patch("workshop.api.parts.PartOut.of", side_effect=ValueError("odd")):
            self.assert_in_words(
                self.post(f"/parts/{self.part.pk}/undo", {"revision": 2}), 500, "fault"
            )
        self.assertEqual((self.read()["revision"], self.read()["can_undo"]), (2, True))

    def test_faults_of_the_disk_are_told_apart(self) -> None:
        for said, status, code in (
            ("database or disk is full", 507, "no-space"),
            ("database is locked", 503, "busy"),
            ("attempt to write a readonly database", 503, "read-only"),
            ("disk I/O error", 507, "no-disk"),
            ("database disk image is malformed", 500, "damaged"),
        ):
            with mock.patch(
                "workshop.services.make_cut.Step.objects.create", side_effect=OperationalError(said)
            ):
                self.assert_in_words(self.cut(), status, code)
        with mock.patch("workshop.services.make_cut.apply_step", side_effect=MemoryError):
            self.assert_in_words(self.cut(), 503, "no-memory")
        self.assertEqual(self.cut().status_code, 201)

    def test_a_disk_that_is_full_loses_nothing_and_goes_on_when_there_is_room(self) -> None:
        part = add_part(self.project, "Ring", torus(1.0, 0.3, 120, 80))
        with connection.cursor() as cursor:
            # What other tests have left free is room, too: it is taken first.
            cursor.execute("CREATE TABLE taken (room BLOB)")
            cursor.execute("INSERT INTO taken VALUES (zeroblob(%s))", [4096 * free_pages()])
            cursor.execute("PRAGMA page_count")
            pages = cursor.fetchone()[0]
            cursor.execute(f"PRAGMA max_page_count={pages + 2}")
            try:
                flip = {"tool": "flip", "faces": list(range(9000))}
                self.assert_in_words(
                    self.post(f"/parts/{part.pk}/steps", {"revision": 1, "step": flip}),
                    507,
                    "no-space",
                )
                self.assertEqual((part_at(part.pk).revision, Step.objects.count()), (1, 0))
                self.assertEqual(self.client.get(f"/api/parts/{part.pk}").status_code, 200)
            finally:
                cursor.execute("PRAGMA max_page_count=1073741823")
        self.assertEqual(
            self.post(f"/parts/{part.pk}/steps", {"revision": 1, "step": flip}).status_code, 201
        )

    def test_what_never_reaches_the_api_is_in_words_too(self) -> None:
        self.assert_in_words(self.client.get("/api/nowhere"), 404, "not-there")
        self.assert_in_words(self.client.get("/assets/nothing.js"), 404, "not-there")
        closed = self.client.put("/api/projects")
        self.assert_in_words(closed, 405, "not-possible")
        self.assertEqual(set(closed["Allow"].split(", ")), {"GET", "POST"})
        self.assert_in_words(
            self.client.get("/api/projects", headers={"host": "elsewhere.example"}),
            400,
            "bad-request",
        )
        strict = Client(enforce_csrf_checks=True)
        self.assert_in_words(
            strict.post("/api/projects", "{}", content_type="application/json"), 403, "forbidden"
        )
        for body in (
            b"",
            b"{",
            b"\xff\xfe",
            b"[" * 100_000,
            b'{"name": NaN}',
            b'{"name": "\\ud800"}',
        ):
            answer = self.client.generic(
                "POST", "/api/projects", body, content_type="application/json"
            )
            self.assertIn(answer.status_code, (400, 422), body[:20])
            self.assertTrue(answer.json()["words"])
        many = b'{"revision": 1, "shown": [' + b"[]," * 2_100_000 + b"[]]}"
        answer = self.client.generic(
            "POST", f"/api/parts/{self.part.pk}/pick", many, content_type="application/json"
        )
        self.assert_in_words(answer, 413, "too-large")
        wrong = json.dumps(
            {"revision": 1, "pick": {"by": "flow", "what": "ngons"}, "shown": ["x"] * 300_000}
        )
        answer = self.client.generic(
            "POST", f"/api/parts/{self.part.pk}/pick", wrong, content_type="application/json"
        )
        self.assert_in_words(answer, 422, "bad-request")

    def test_the_name_of_an_exported_file_can_not_be_forged(self) -> None:
        for ending in ("obj%0d%0aX-Evil: 1", 'obj"; filename="x.exe', "exe", "OBJ"):
            answer = self.client.get(f"/api/parts/{self.part.pk}/export.{ending}")
            self.assertIn(answer.status_code, (404, 422))
            self.assertNotIn("Content-Disposition", answer.headers)

    def test_other_peoples_files_that_are_too_much_are_refused_in_words(self) -> None:
        files = {
            "vast.ply": b"ply\nformat ascii 1.0\nelement vertex 9000000\nproperty float x\nend_header\n"
            + b"0\n" * 9_000_001,
            "rings.svg": b'<svg xmlns="http://www.w3.org/2000/svg">'
            + b'<circle r="1e8"/>' * 5
            + b"</svg>",
            "many.svg": b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0'
            + b" L1 2 3 4" * 200_000
            + b'"/></svg>',
        }
        for name, data in files.items():
            path = "outlines/svg" if name.endswith("svg") else "parts"
            answer = self.client.post(
                f"/api/projects/{self.project.pk}/{path}", {"file": SimpleUploadedFile(name, data)}
            )
            self.assert_in_words(answer, 422, "bad-file")
        # Ordinary drawings are larger than they look.
        points = b" ".join(b"%d,%d" % (k, k * k % 977) for k in range(25_000))
        paths = b'<path d="M0 0 L5 5 L7 1 Z"/>' * 2_500
        for name, body in {
            "points.svg": b'<polygon points="' + points + b'"/>',
            "paths.svg": paths,
        }.items():
            drawing = b'<svg xmlns="http://www.w3.org/2000/svg">' + body + b"</svg>"
            answer = self.client.post(
                f"/api/projects/{self.project.pk}/outlines/svg",
                {"file": SimpleUploadedFile(name, drawing)},
            )
            self.assertEqual(answer.status_code, 201, answer.content[:300])

    def test_a_reading_that_takes_too_long_or_too_much_or_that_nobody_waits_for_is_ended(
        self,
    ) -> None:
        triangle = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"
        self.assertEqual(aside.aside(readers.part_of_file, "a.obj", triangle, 1.0)[1], ())
        hurried = mock.patch.multiple(aside, SECONDS=-1.0, GRACE_SECONDS=0.0)
        with hurried, self.assertRaisesRegex(Exception, "more than -1 seconds"):
            aside.aside(readers.part_of_file, "a.obj", triangle * 300_000, 1.0)
        with self.assertRaisesRegex(Exception, "nobody waits"):
            aside.aside(
                readers.part_of_file, "a.obj", triangle * 300_000, 1.0, stopped=lambda: True
            )
        with self.assertRaisesRegex(Exception, "more than"):
            aside.aside(bytearray, 3 << 30)


class AtOnce(TransactionTestCase):
    def test_a_mesh_that_was_rolled_back_is_never_shown_under_a_number_used_again(self) -> None:
        forget_all()
        project = add_project("One")
        part = add_part(project, "Box", box(2, 2, 2, (3, 3, 3)))
        separate = parse_step({"tool": "separate", "faces": [0, 1]})
        full = mock.patch(
            "workshop.services.history.touch",
            side_effect=OperationalError("database or disk is full"),
        )
        with full, self.assertRaises(OperationalError):
            make_cut(part.pk, 1, separate, lambda made: made)
        ring = torus(1.0, 0.3, 12, 8)
        fresh = add_part(project, "Ring", ring)
        assert_same_mesh(mesh_of(part_at(fresh.pk)), ring)
        self.assertEqual(Part.objects.count(), 2)

    def test_place_and_marks_of_a_drawing_changed_at_once_are_both_kept(self) -> None:
        project = add_project("Drawn")
        sent = {"file": SimpleUploadedFile("a.png", picture())}
        drawing = Client().post(f"/api/projects/{project.pk}/drawings", sent).json()
        placed = {**drawing["placement"], "x": 12.0}
        read = {"heights": [1.0, 2.0], "widths": []}

        def change(body: dict[str, Any]) -> int:
            path = f"/api/drawings/{drawing['id']}"
            answer = Client().patch(
                path,
                json.dumps({"revision": drawing["revision"], **body}),
                content_type="application/json",
            )
            connection.close()
            return answer.status_code

        for _ in range(20):
            with ThreadPoolExecutor(2) as both:
                self.assertEqual(
                    list(both.map(change, ({"placement": placed}, {"marks": read}))), [200, 200]
                )
            (drawing,) = Client().get(f"/api/projects/{project.pk}/drawings").json()
            self.assertEqual((drawing["placement"], drawing["marks"]), (placed, read))
            placed, read = (
                {**placed, "x": placed["x"] + 1},
                {**read, "heights": [*read["heights"], 3.0]},
            )
        # The same thing changed from two pages: the later one has not seen the earlier.
        self.assertEqual(change({"placement": placed}), 200)
        self.assertEqual(change({"placement": placed}), 409)

    def test_a_part_is_read_in_one_state_while_it_changes(self) -> None:
        forget_all()
        part = add_part(add_project("One"), "Box", box(2, 2, 2))
        step = parse_step(ACROSS)
        done = threading.Event()

        def work() -> None:
            revision = 1
            for _ in range(25):
                revision = make_cut(part.pk, revision, step, lambda made: made.part.revision)
                path = f"/api/parts/{part.pk}/undo"
                revision = (
                    Client()
                    .post(path, json.dumps({"revision": revision}), content_type="application/json")
                    .json()["revision"]
                )
            done.set()
            connection.close()

        worker = threading.Thread(target=work)
        worker.start()
        seen = 0
        while not done.is_set():
            told = Client().get(f"/api/parts/{part.pk}").json()
            state = (told["can_undo"], told["vertices"], [s["applied"] for s in told["steps"]][:1])
            self.assertIn(state, [(False, 8, []), (False, 8, [False]), (True, 12, [True])], told)
            self.assertEqual(told["revision"] % 2, 0 if told["can_undo"] else 1)
            seen += 1
        worker.join()
        self.assertGreater(seen, 10)

    def test_memory_for_live_meshes_is_given_back(self) -> None:
        forget_all()
        project = add_project("Many")
        with mock.patch.object(live_meshes, "_kept", live_meshes.room_for(8 << 20)):
            for k in range(12):
                part = add_part(project, "Ring", torus(1.0, 0.3 - k / 100, 90, 60))
                mesh_of(part).triangles  # noqa: B018 - derived, and counted
                make_cut(part.pk, 1, parse_step(ACROSS), lambda made: made.part)
                self.assertLessEqual(live_meshes.bytes_kept(), 8 << 20)
        self.assertEqual(Project.objects.count(), 1)
