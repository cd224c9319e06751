"""A whole project as one file: out, and in again with the same bytes of every mesh; broken files."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, override_settings

from workshop.mesh_arrays import digest_of
from workshop.models import Drawing, GaugeList, Outline, Project, Snapshot
from workshop.services.live_meshes import forget_all, read_kept
from workshop.services.sample import add_sample


class ProjectFile(TestCase):
    def setUp(self) -> None:
        project = add_sample()
        assert project is not None
        self.project = project
        part = project.parts.all()[1]
        for step in (
            {"tool": "slice", "plane": {"point": [5, 0, 0], "normal": [1, 0.2, 0]}},
            {"tool": "shards", "by": {"way": "counts", "x": 2, "y": 1, "z": 1}},
        ):
            revision = self.client.get(f"/api/parts/{part.pk}").json()["revision"]
            body = {"revision": revision, "step": step}
            self.post(f"/api/parts/{part.pk}/steps", body)
        hull = project.parts.all()[2]
        self.post(
            f"/api/parts/{hull.pk}/steps",
            {"revision": 1, "step": {"tool": "triangulate"}},
        )
        self.post(f"/api/parts/{hull.pk}/undo", {"revision": 2})
        gauge = {"name": "Heights", "params": {"tool": "gauge", "axis": "y", "widths": [1, 2]}}
        self.post(f"/api/projects/{project.pk}/gauge-lists", gauge)

    def post(self, path: str, body: Any) -> Any:
        answer = self.client.post(path, json.dumps(body), content_type="application/json")
        self.assertLess(answer.status_code, 300, answer.content)
        return answer.json()

    def test_what_could_not_come_in_again_is_not_taken_out(self) -> None:
        size = len(self.taken_out())
        path = f"/api/projects/{self.project.pk}/project.zip"
        for limit in (size - 1, 400):
            with override_settings(PROJECT_BYTES=limit):
                answer = self.client.get(path)
            self.assertEqual((answer.status_code, answer.json()["code"]), (413, "too-large"))
        with override_settings(PROJECT_BYTES=size):
            self.assertEqual(self.client.get(path).status_code, 200)

    def taken_out(self) -> bytes:
        forget_all()
        answer = self.client.get(f"/api/projects/{self.project.pk}/project.zip")
        return b"".join(answer.streaming_content)

    def bring_in(self, data: bytes) -> Any:
        return self.client.post("/api/project-files", {"file": SimpleUploadedFile("x.zip", data)})

    def facts(self, project: Project) -> Any:
        """All there is to a project, without the numbers of its rows."""
        parts = []
        for part in project.parts.filter(deleted=None):
            states = Snapshot.objects.filter(part=part).order_by("number")
            steps = [
                (s.params, {k: v for k, v in s.report.items() if v is not None})
                for s in part.steps.all()
            ]
            digests = [digest_of(read_kept(state.pk)) for state in states]
            parts.append((part.name, part.position, part.placement, digests, steps))
        return (
            project.unit,
            parts,
            list(Outline.objects.filter(project=project).values_list("name", "drawn", "sheet")),
            list(GaugeList.objects.filter(project=project).values_list("name", "params")),
            [
                (d.name, bytes(d.picture), d.placement, d.marks)
                for d in Drawing.objects.filter(project=project)
            ],
        )

    def test_out_and_in_again_it_is_the_same_to_the_last_bit_and_goes_on(self) -> None:
        answer = self.bring_in(self.taken_out())
        self.assertEqual(answer.status_code, 201, answer.content)
        forget_all()
        twin = Project.objects.get(pk=answer.json()["id"])
        self.assertEqual(self.facts(twin), self.facts(self.project))
        # What was undone can be done again, and undoing takes the twin's own shards away.
        names = [part.name for part in twin.parts.filter(deleted=None)]
        hull = twin.parts.get(name="Float hull")
        self.assertTrue(self.client.get(f"/api/parts/{hull.pk}").json()["can_redo"])
        broken = twin.parts.get(name="Deck plate, shard 1")
        self.post(f"/api/parts/{broken.pk}/undo", {"revision": broken.revision})
        left = [part.name for part in twin.parts.filter(deleted=None)]
        self.assertEqual(len(left), len(names) - 1)
        self.assertEqual(self.project.parts.filter(deleted=None).count(), len(names))

    def test_other_programs_can_read_it(self) -> None:
        with zipfile.ZipFile(io.BytesIO(self.taken_out())) as archive:
            told = json.loads(archive.read("project.json"))
            for part in told["parts"]:
                if not part["away"]:
                    self.assertTrue(archive.read(part["mesh"]).startswith(b"v "))
                arrays = np.load(io.BytesIO(archive.read(part["states"][0])), allow_pickle=False)
                self.assertEqual(arrays["points"].shape[1], 3)

    def changed(self, change: Any) -> bytes:
        """The file with its description changed, or an entry of it."""
        out = io.BytesIO()
        with (
            zipfile.ZipFile(io.BytesIO(self.taken_out())) as archive,
            zipfile.ZipFile(out, "w") as again,
        ):
            entries = {name: archive.read(name) for name in archive.namelist()}
            told = json.loads(entries["project.json"])
            change(told, entries)
            entries["project.json"] = json.dumps(told).encode()
            for name, data in entries.items():
                again.writestr(name, data)
        return out.getvalue()

    def test_broken_files_are_refused_with_the_place_and_leave_nothing(self) -> None:
        def arrays(entries: Any, path: str, **more: Any) -> None:
            found = dict(np.load(io.BytesIO(entries[path]), allow_pickle=False))
            out = io.BytesIO()
            np.savez(out, **{**found, **more})
            entries[path] = out.getvalue()

        changes = {
            "version": lambda told, _: told.update(wertome_project=9),
            "unknown field": lambda told, _: told.update(extra=1),
            "missing mesh": lambda told, e: e.pop(told["parts"][0]["states"][0]),
            "wrong digest": lambda told, _: told["parts"][0]["digests"].__setitem__(0, "0" * 32),
            "too few": lambda told, _: told["parts"][0]["states"].append("x"),
            "position": lambda told, _: told["parts"][0].update(position=99),
            "corner outside": lambda told, e: arrays(
                e, told["parts"][0]["states"][0], corners=np.array([0, 1, 10**6])
            ),
            "no numbers": lambda told, e: arrays(
                e, told["parts"][0]["states"][0], points=np.full((9, 3), np.nan)
            ),
            "pickled": lambda told, e: e.__setitem__(
                told["parts"][0]["states"][0], b"PK\x05\x06" + b"\0" * 18
            ),
            "no picture": lambda told, e: e.__setitem__(told["drawings"][0]["picture"], b"GIF89a"),
            "twice": lambda told, _: told["parts"][1].update(number=told["parts"][0]["number"]),
        }
        count = Project.objects.count()
        for name, change in changes.items():
            with self.subTest(name):
                answer = self.bring_in(self.changed(change))
                self.assertEqual(answer.status_code, 422, answer.content)
                self.assertTrue(answer.json()["words"])
        for data in (b"", b"no archive", self.taken_out()[:-200]):
            self.assertEqual(self.bring_in(data).status_code, 422)
        self.assertEqual(Project.objects.count(), count)
