"""Data of an earlier version: what was done on the table before steps stood in one order with it."""

from __future__ import annotations

from typing import Any

from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import TransactionTestCase

from cutcore.shapes.box import box
from tests.service.test_history import SHARDS, Hand
from workshop.models import Entry, Part, Step
from workshop.services.parts import add_part
from workshop.services.projects import add_project

BEFORE, NOW = "0009_table", None


class OneOrder(TransactionTestCase):
    def setUp(self) -> None:
        self.addCleanup(self.migrated, NOW)
        self.project = add_project("Old")
        self.one, self.two = (add_part(self.project, name, box(2, 2, 2)) for name in ("One", "Two"))
        self.hand = Hand(self, self.project.pk)

    def migrated(self, to: str | None) -> Any:
        """The database as it was after a migration, or as it is after all of them."""
        executor = MigrationExecutor(connection)
        goal = executor.loader.graph.leaf_nodes("workshop") if to is None else [("workshop", to)]
        executor.migrate(goal)
        return executor.loader.project_state(goal).apps

    def as_it_was(self) -> None:
        """The same data as the earlier version kept them: of steps nothing stands among the deeds, and
        they tell themselves what they left beside their part."""
        told = {}
        for entry in Entry.objects.exclude(part=None):
            report = {"made_parts": entry.made} if entry.made else {}
            if entry.placed:
                report["own_place"] = entry.placed[str(entry.part_id)][0]
            told[entry.part_id, entry.number] = report
        Entry.objects.exclude(part=None).delete()
        deeds = list(Entry.objects.values("words", "made", "gone", "placed", "undone"))
        Entry.objects.all().delete()
        for step in Step.objects.all():
            step.report |= told[step.part_id, step.number]
            step.save()
        apps = self.migrated(BEFORE)
        deed = apps.get_model("workshop", "Deed")
        for row in deeds:
            undone = row.pop("undone") > 0
            deed.objects.create(project_id=self.project.pk, undone=undone, **row)

    def cut(self, part: Part, step: Any) -> None:
        revision = self.hand.part(part.pk)["revision"]
        self.hand.ask(f"/parts/{part.pk}/steps", {"revision": revision, "step": step})

    def test_all_that_was_done_can_be_undone_and_done_again(self) -> None:
        plane = {"point": [0.1, 0, 0], "normal": [1, 0, 0]}
        self.cut(self.one, {"tool": "slice", "plane": plane})
        place = {"places": [{"part": self.two.pk, "placement": {"move": [5, 0, 0]}}]}
        self.hand.ask(f"/projects/{self.project.pk}/places", place, "put")
        self.hand.ask(f"/parts/{self.two.pk}/place-made-its-own", {"revision": 1})
        self.cut(self.two, SHARDS)
        self.hand.ask(f"/projects/{self.project.pk}/join", {"parts": [self.one.pk, self.two.pk]})
        whole = Part.objects.get(deleted=None, pk__gt=self.two.pk, position=0, name="One")
        self.cut(whole, {"tool": "triangulate"})
        end = self.hand.state()
        self.as_it_was()
        self.migrated(NOW)
        self.assertEqual(self.hand.state(), end)
        states = [end]
        while self.hand.next()["undo"] is not None:
            self.assertEqual(self.hand.move("undo").status_code, 200)
            states.append(self.hand.state())
        first = {part.pk: part for part in (self.one, self.two)}
        self.assertEqual(
            {n: seen[0] for n, seen in states[-1].items()}, {n: p.name for n, p in first.items()}
        )
        for state in states[-2::-1]:
            self.assertEqual(self.hand.move("redo").status_code, 200)
            self.assertEqual(self.hand.state(), state)

    def test_what_was_undone_stays_so_and_comes_back_with_its_steps(self) -> None:
        self.hand.ask(f"/projects/{self.project.pk}/join", {"parts": [self.one.pk, self.two.pk]})
        whole = Part.objects.get(deleted=None)
        self.cut(whole, {"tool": "triangulate"})
        end = self.hand.state()
        self.as_it_was()
        # The earlier version left steps of a part applied when that went.
        deed = (
            MigrationExecutor(connection)
            .loader.project_state([("workshop", BEFORE)])
            .apps.get_model("workshop", "Deed")
        )
        deed.objects.update(undone=True)
        Part.objects.filter(pk=whole.pk).update(deleted=self.project.created)
        Part.objects.exclude(pk=whole.pk).update(deleted=None)
        self.migrated(NOW)
        self.assertEqual(len(self.hand.state()), 2)
        self.hand.move("redo")
        self.assertEqual(self.hand.state(), end)
