"""Projects of lessons: one copy of the sample each, nobody's project, let go for good."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

from django.db import connection
from django.test import Client, TestCase, TransactionTestCase
from django.utils import timezone

from workshop.models import Entry, Part, Project, Snapshot
from workshop.services.deleted import KEPT_DAYS, purge
from workshop.services.sample import add_sample

LESSON = "/api/lessons/first-line"
LINE = {
    "tool": "knife",
    "lines": [{"points": [{"vertex": 30}, {"vertex": 59}]}],
    "view": None,
}


class Lessons(TestCase):
    def test_taken_up_twice_it_is_one_copy_as_it_was_left(self) -> None:
        project = self.client.put(LESSON).json()
        self.assertEqual(project["lesson"], "first-line")
        part = project["parts"][0]
        made = self.client.post(
            f"/api/parts/{part['id']}/steps",
            {"revision": 1, "step": LINE},
            content_type="application/json",
        )
        self.assertEqual(made.status_code, 201, made.content)
        again = self.client.put(LESSON).json()
        self.assertEqual(again["id"], project["id"])
        self.assertNotEqual(again["parts"][0]["snapshot"], part["snapshot"])
        self.assertEqual(
            self.client.get("/api/lessons").json(),
            [{"lesson": "first-line", "project": project["id"]}],
        )
        # Somebody deletes it as a project: it is not among what can be brought back.
        self.client.delete(f"/api/projects/{project['id']}")
        self.assertEqual(self.client.get("/api/deleted-projects").json(), [])
        self.assertEqual(self.client.put(LESSON).json()["id"], project["id"])

    def test_it_is_nobodys_project_and_its_copy_is(self) -> None:
        project = self.client.put(LESSON).json()
        self.assertEqual(self.client.get("/api/projects").json(), [])
        # A workshop that has only lessons has never had a project.
        self.assertIsNotNone(add_sample())
        copy = self.client.post(f"/api/projects/{project['id']}/duplicate").json()
        self.assertIsNone(copy["lesson"])
        self.assertEqual(len(self.client.get("/api/projects").json()), 2)

    def test_let_go_it_is_gone_for_good_with_all_it_had_however_often(self) -> None:
        add_sample()
        before = [kind.objects.count() for kind in (Project, Part, Snapshot, Entry)]
        project = self.client.put(LESSON).json()
        for _ in range(2):
            self.assertEqual(self.client.delete(LESSON).status_code, 204)
            self.assertEqual(
                [kind.objects.count() for kind in (Project, Part, Snapshot, Entry)], before
            )
        self.assertEqual(self.client.get(f"/api/projects/{project['id']}").status_code, 404)

    def test_other_names_are_refused(self) -> None:
        for name in ("none", "..%2F", "x" * 500):
            for call in (self.client.put, self.client.delete):
                self.assertIn(call(f"/api/lessons/{name}").status_code, (404, 422))
        self.assertEqual(Project.objects.count(), 0)

    def test_one_that_nobody_touches_goes_after_a_while(self) -> None:
        add_sample()
        self.client.put(LESSON)
        long_ago = timezone.now() - timedelta(days=KEPT_DAYS, hours=1)
        Project.objects.update(changed=long_ago)
        self.assertEqual(purge(), 1)
        self.assertEqual(Project.objects.get().lesson, "")


class AtOnce(TransactionTestCase):
    def test_two_at_once_begin_one(self) -> None:
        def begin(_: int) -> int:
            try:
                return int(Client().put(LESSON).json()["id"])
            finally:
                connection.close()

        with ThreadPoolExecutor(4) as all_of_them:
            self.assertEqual(len(set(all_of_them.map(begin, range(4)))), 1)
        self.assertEqual(Project.objects.count(), 1)
