"""A whole project as one file: out, and in again with the same bytes of every mesh; broken files."""

from __future__ import annotations

import io
import json
import tempfile
import zipfile
from contextlib import nullcontext
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, override_settings

from cutcore.errors import FormatError
from workshop.mesh_arrays import digest_of
from workshop.models import Drawing, GaugeList, Outline, Part, Project, Snapshot, Step
from workshop.project_file import read_project
from workshop.services.live_meshes import forget_all, mesh_of, read_kept
from workshop.services.parts import part_at
from workshop.services.sample import add_sample


def across(part: Part, k: int) -> list[Any]:
    """Places on two opposite edges of a quad of a part as it is."""
    mesh = mesh_of(part_at(part.pk))
    face = mesh.face(int(np.flatnonzero(mesh.sizes == 4)[3 * k]))
    pairs = [(int(face[0]), int(face[1])), (int(face[2]), int(face[3]))]
    return [{"edge": sorted(pair), "t": 0.5} for pair in pairs]


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

    def step_of(self, told: Any) -> Any:
        return next(part for part in told["parts"] if part["steps"])["steps"][0]

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

    def cut_hull(self, count: int) -> None:
        part = self.project.parts.get(name="Float hull")
        for k in range(count):
            revision = self.client.get(f"/api/parts/{part.pk}").json()["revision"]
            edge = {"tool": "knife", "lines": [{"points": across(part, k)}]}
            self.post(f"/api/parts/{part.pk}/steps", {"revision": revision, "step": edge})

    def test_states_are_kept_as_what_changed_and_the_file_is_no_longer_than_the_folder(
        self,
    ) -> None:
        self.cut_hull(12)
        kept = sum(len(row.arrays) for row in Snapshot.objects.all())
        data = self.taken_out()
        self.assertLess(len(data), 2 * kept)
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            told = json.loads(archive.read("project.json"))
        wholes = [whole for part in told["parts"] for whole in part["whole"]]
        self.assertIn(False, wholes)
        again = self.bring_in(data)
        self.assertEqual(again.status_code, 201, again.content)
        twin = Project.objects.get(pk=again.json()["id"])
        self.assertEqual(self.facts(twin), self.facts(self.project))

    def test_what_an_earlier_version_told_of_a_step_is_no_hindrance(self) -> None:
        for step in Step.objects.filter(part__project=self.project):
            step.report.pop("title")
            step.report |= {"made_parts": [1], "something": "else"}
            step.params |= {"no longer": "known"}
            step.save()
        answer = self.bring_in(self.taken_out())
        self.assertEqual(answer.status_code, 201, answer.content)

    def test_what_would_take_far_more_room_than_the_file_is_refused(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path, spool = f"{folder}/project.zip", f"{folder}/spool"
            Path(path).write_bytes(self.taken_out())
            read_project(path, spool)
            kept = Path(spool).stat().st_size
            self.assertLess(kept, 2 * Path(path).stat().st_size)
            for room in (kept, kept - 1):
                with (
                    mock.patch("workshop.project_file.A_LITTLE", room),
                    mock.patch("workshop.project_file.MOST_TIMES", 0),
                    nullcontext() if room == kept else self.assertRaises(FormatError),
                ):
                    read_project(path, spool)
        self.assertEqual(list(settings.DATA.glob("unfinished-*")), [])

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
            "reports are no reports": lambda told, _: self.step_of(told)["report"].update(
                new_vertices=1e300
            ),
            "names are no names": lambda told, _: self.step_of(told)["report"].update(names=5),
            "a place is none": lambda told, _: self.step_of(told)["report"].update(
                own_place={"move": "x"}
            ),
            "a step is none": lambda told, _: self.step_of(told).update(params={"faces": 1}),
            "entry of no part": lambda told, _: told["entries"][0].update(made=[99999]),
            "entry of no step": lambda told, _: told["entries"][0].update(number=99),
            "entry undone that is applied": lambda told, _: told["entries"][0].update(undone=1),
            "entry missing": lambda told, _: told["entries"].pop(),
            "placed nowhere": lambda told, _: told["entries"][0].update(placed={"x": []}),
            "first not whole": lambda told, _: told["parts"][0].update(whole=[False]),
            "broken header": lambda told, e: header(
                e, told["parts"][0]["states"][0], b"\x93NUMPY\x01\x00\x10\x00{'descr'"
            ),
            "a shape of 10^30": lambda told, e: header(
                e,
                told["parts"][0]["states"][0],
                b"\x93NUMPY\x01\x00\x76\x00"
                + b"{'descr': '<f8', 'fortran_order': False, 'shape': (10**30, 3), }".replace(
                    b"10**30", b"1" + b"0" * 30
                ).ljust(117)
                + b"\n",
            ),
            "names nested deep": lambda told, e: arrays(
                e,
                told["parts"][0]["states"][0],
                names=np.frombuffer(b'{"materials": ' + b"[" * 60_000, dtype=np.uint8),
            ),
            "twice": lambda told, _: told["parts"][1].update(number=told["parts"][0]["number"]),
        }

        def header(entries: Any, path: str, begin: bytes) -> None:
            out = io.BytesIO()
            with (
                zipfile.ZipFile(io.BytesIO(entries[path])) as archive,
                zipfile.ZipFile(out, "w") as again,
            ):
                for name in archive.namelist():
                    broken = name == "points.npy"
                    again.writestr(name, begin if broken else archive.read(name))
            entries[path] = out.getvalue()

        count = Project.objects.count()
        for name, change in changes.items():
            with self.subTest(name):
                answer = self.bring_in(self.changed(change))
                self.assertEqual(answer.status_code, 422, answer.content)
                told = answer.json()
                self.assertTrue(told["words"])
                path = told["where"].split(".npz")
                self.assertLessEqual(len(path), 2, told["where"])
        locked = bytearray(self.taken_out())
        for begin in (b"PK\x03\x04", b"PK\x01\x02"):
            # The bit that says that an entry is encrypted, in its own header and in the directory.
            at = locked.find(begin)
            while at >= 0:
                locked[at + (6 if begin == b"PK\x03\x04" else 8)] |= 1
                at = locked.find(begin, at + 4)
        for data in (b"", b"no archive", self.taken_out()[:-200], bytes(locked)):
            self.assertEqual(self.bring_in(data).status_code, 422)
        self.assertEqual(Project.objects.count(), count)
