"""One order of what was done in a project, against a plain model of what must stand where."""

from __future__ import annotations

import io
import json
import os
import random
import zipfile
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.utils import timezone

from cutcore.shapes.box import box
from workshop.models import Entry, Part, Project, Snapshot, Step
from workshop.services.deleted import KEPT_DAYS, purge
from workshop.services.live_meshes import forget_all
from workshop.services.parts import add_part
from workshop.services.projects import add_project

# So many random orders are gone through; a drill goes through more.
SEEDS = int(os.environ.get("ORDERS", "10"))
BLOCK = box(2, 2, 2, (1, 1, 1))
SHARDS = {"tool": "shards", "by": {"way": "counts", "x": 2, "y": 1, "z": 1}}


@dataclass
class Told:
    """An entry as the model remembers it: what it was asked for, and what came of it."""

    kind: str
    parts: list[int]
    made: list[int] = field(default_factory=list)
    stands: list[Any] = field(default_factory=list)


@dataclass
class Stands:
    """A part in the model: the entries its mesh is made by, and where it stands."""

    mesh: tuple[Any, ...]
    place: str


class Hand:
    """Somebody at a project, who asks and never looks into the database but for what they are told."""

    def __init__(self, test: TestCase, project: int) -> None:
        self.client, self.project, self.test = test.client, project, test

    def ask(self, path: str, body: Any = None, method: str = "post") -> Any:
        return getattr(self.client, method)(
            f"/api{path}", json.dumps(body or {}), content_type="application/json"
        )

    def table(self) -> dict[int, Any]:
        parts = self.client.get(f"/api/projects/{self.project}/table").json()["parts"]
        return {part["id"]: part for part in parts}

    def part(self, number: int) -> Any:
        return self.client.get(f"/api/parts/{number}").json()

    def next(self) -> Any:
        return self.client.get(f"/api/projects/{self.project}/history").json()["next"]

    def move(self, way: str, entry: int | None = None) -> Any:
        return self.ask(f"/projects/{self.project}/{way}", {"entry": entry})

    def state(self) -> Any:
        """All there is to see: which parts, what they are made of and where they stand."""
        digests = dict(Snapshot.objects.values_list("pk", "digest"))
        return {
            number: (one["name"], digests[one["snapshot"]], json.dumps(one["placement"]))
            for number, one in self.table().items()
        }


class Model:
    """What must stand where: whatever is done, carried out again from the start."""

    def __init__(self, parts: dict[int, Stands]) -> None:
        self.first = parts
        self.told: dict[int, Told] = {}
        self.turned: set[int] = set()

    def state(self, done: list[int]) -> dict[int, Stands]:
        there = {number: Stands(one.mesh, one.place) for number, one in self.first.items()}
        away: dict[int, Stands] = {}
        for entry in done:
            told = self.told[entry]
            if told.kind == "copy's":
                # What it leaves beside the copy comes when it is done again.
                if entry in self.turned:
                    there |= {piece: Stands(("left", piece), HOME) for piece in told.made}
                continue
            assert all(part in there for part in told.parts), (entry, told)
            match told.kind:
                case "placed":
                    for part, place in zip(told.parts, told.stands, strict=True):
                        there[part].place = place
                case "step" | "own":
                    (part,) = told.parts
                    there[part].mesh = (*there[part].mesh, entry)
                    if told.kind == "own":
                        there[part].place = HOME
                    for k, piece in enumerate(told.made):
                        there[piece] = Stands((part, *there[part].mesh, k), there[part].place)
                case "joined" | "deleted":
                    for part in told.parts:
                        away[part] = there.pop(part)
                    for part in told.made:
                        there[part] = Stands(("joined", entry), HOME)
                case "copied":
                    for part, place in zip(told.made, told.stands, strict=True):
                        own = (one for one in done if self.told[one].parts == [-part])
                        there[part] = Stands(("copy", part, *own), place)
                case "back":
                    # What came of something that is not in the order any more is as it was seen.
                    for part, place in zip(told.made, told.stands, strict=True):
                        there[part] = away.pop(part, Stands(("back", entry), place))
        return there


HOME = json.dumps({"move": [0.0, 0.0, 0.0], "turn": [0.0, 0.0, 0.0]})


class Order(TestCase):
    def setUp(self) -> None:
        self.project = add_project("Table")
        for name in ("One", "Two"):
            add_part(self.project, name, BLOCK)
        self.hand, self.other = Hand(self, self.project.pk), Hand(self, self.project.pk)
        self.digests: dict[Any, str] = {}

    def told_of(self, source: random.Random) -> None:
        """One thing done, as somebody might do it next, and told to the model."""
        hand, table = self.hand, self.hand.table()
        numbers = list(table)
        if not numbers:
            return
        one = source.choice(numbers)
        at = f"/projects/{self.project.pk}"
        last = Entry.objects.order_by("-pk").values_list("pk", flat=True).first() or 0
        kind = source.choice(
            [
                "placed",
                "step",
                "step",
                "step",
                "shards",
                "own",
                "joined",
                "copied",
                "deleted",
                "back",
            ]
        )
        match kind:
            case "placed":
                place = {"move": [source.randrange(9), 0, source.randrange(9)], "turn": [0, 0, 0]}
                body = {"places": [{"part": one, "placement": place}]}
                answer = hand.ask(f"{at}/places", body, "put")
                told = Told("placed", [one])
            case "step" | "shards":
                plane = {"point": [source.uniform(-0.9, 0.9), 0, 0], "normal": [1, 0.01, 0]}
                step = SHARDS if kind == "shards" else {"tool": "slice", "plane": plane}
                body = {"revision": hand.part(one)["revision"], "step": step}
                answer = hand.ask(f"/parts/{one}/steps", body)
                told = Told("step", [one])
            case "own":
                body = {"revision": hand.part(one)["revision"]}
                answer = hand.ask(f"/parts/{one}/place-made-its-own", body)
                told = Told("own", [one])
            case "joined":
                some = source.sample(numbers, min(len(numbers), 2))
                answer = hand.ask(f"{at}/join", {"parts": some})
                told = Told("joined", some)
            case "copied":
                row = {"way": "row", "count": 1, "step": [1, 0, 0]}
                answer = hand.ask(f"/parts/{one}/copies", {"copies": row})
                told = Told("copied", [])
            case "deleted":
                answer = hand.ask(f"/parts/{one}", method="delete")
                told = Told("deleted", [one])
            case _:
                gone = self.client.get(f"/api{at}/deleted-parts").json()
                if not gone:
                    return
                back = source.choice(gone)["id"]
                answer = hand.ask(f"/parts/{back}/restore")
                told = Told("back", [], [back])
        if answer.status_code >= 300:
            self.assertIn(answer.status_code, (404, 422), answer.content)
            return
        made = list(Entry.objects.filter(pk__gt=last).order_by("pk"))
        # Steps that a copy came with stand before it.
        entry = made[-1]
        for extra in made[:-1]:
            self.assertIsNotNone(extra.part_id)
            self.moving |= {extra.part_id} if extra.placed else set()
            self.moving |= set(extra.made)
            self.model.told[extra.pk] = Told("copy's", [-entry.made[0]], extra.made)
        now = hand.table()
        told.made = told.made or entry.made
        stands = told.parts if told.kind == "placed" else told.made
        told.stands = [json.dumps(now[part]["placement"]) for part in stands]
        self.model.told[entry.pk] = told

    def compare(self) -> None:
        forget_all()
        entries = Entry.objects.filter(project=self.project, undone=0).order_by("pk")
        done = list(entries.values_list("pk", flat=True))
        undone = Entry.objects.filter(project=self.project).exclude(undone=0)
        self.model.turned |= set(undone.values_list("pk", flat=True))
        want, have = self.model.state(done), self.hand.state()
        self.assertEqual(want.keys(), have.keys())
        for number, stands in want.items():
            _, digest, place = have[number]
            if number not in self.moving:
                self.assertEqual(place, stands.place, number)
            self.assertEqual(self.digests.setdefault(stands.mesh, digest), digest, number)
        for part in Part.objects.filter(project=self.project):
            steps = Entry.objects.filter(part=part).order_by("number")
            self.assertEqual(
                list(steps.values_list("number", flat=True)), [s.number for s in part.steps.all()]
            )
            self.assertEqual(steps.filter(undone=0).count(), part.position)

    def run_through(self, seed: int, turns: int) -> None:
        source = random.Random(seed)
        first = {n: Stands((n,), json.dumps(p["placement"])) for n, p in self.hand.table().items()}
        self.model = Model(first)
        # Copies that came with a step which made their place their own.
        self.moving: set[int | None] = set()
        for _ in range(turns):
            choice = source.random()
            if choice < 0.5:
                self.told_of(source)
            elif choice < 0.8:
                way = source.choice(["undo", "undo", "redo"])
                meant = self.other.next()[way]
                if meant is None:
                    self.assertEqual(self.hand.move(way).status_code, 422)
                    continue
                before = self.hand.state()
                answer = self.hand.move(way, meant["id"])
                self.assertEqual(answer.status_code, 200, answer.content)
                self.assertIn(meant["id"], [one["id"] for one in answer.json()["turned"]])
                # The other one meant the same: it is done once.
                late = self.other.move(way, meant["id"])
                self.assertEqual((late.status_code, late.json()["turned"]), (200, []))
                if way == "undo" and len(answer.json()["turned"]) == 1:
                    self.assertEqual(self.hand.move("redo", meant["id"]).status_code, 200)
                    self.assertEqual(self.hand.state(), before)
            else:
                table = self.hand.table()
                if not table:
                    continue
                number = source.choice(list(table))
                way = source.choice(["undo", "redo"])
                body = {"revision": self.hand.part(number)["revision"]}
                answer = self.hand.ask(f"/parts/{number}/{way}", body)
                self.assertIn(answer.status_code, (200, 422), answer.content)
                if answer.status_code == 200:
                    stale = self.other.ask(f"/parts/{number}/{way}", body)
                    self.assertIn(stale.status_code, (404, 409))
            self.compare()

    def test_whatever_is_done_and_undone_the_table_is_as_the_model_has_it(self) -> None:
        for seed in range(SEEDS):
            with self.subTest(seed):
                Project.objects.all().delete()
                self.setUp()
                self.run_through(seed, 24)

    def all_the_way(self, hand: Hand, way: str) -> list[Any]:
        states = [sorted(hand.state().values())]
        while hand.next()[way] is not None:
            self.assertEqual(hand.move(way).status_code, 200)
            states.append(sorted(hand.state().values()))
        return states

    def test_a_copy_of_the_project_and_one_taken_out_and_in_go_back_and_forth_by_themselves(
        self,
    ) -> None:
        for seed in (1, 2, 3, 4):
            with self.subTest(seed):
                Project.objects.all().delete()
                self.setUp()
                self.run_through(seed, 20)
                own = self.hand.state()
                copy = self.hand.ask(f"/projects/{self.project.pk}/duplicate").json()["id"]
                file = self.client.get(f"/api/projects/{self.project.pk}/project.zip")
                data = b"".join(file.streaming_content)
                again = self.client.post(
                    "/api/project-files", {"file": SimpleUploadedFile("x.zip", data)}
                )
                self.assertEqual(again.status_code, 201, again.content)
                twins = [Hand(self, copy), Hand(self, again.json()["id"])]
                for way in ("undo", "redo", "undo"):
                    each = [self.all_the_way(twin, way) for twin in twins]
                    self.assertEqual(self.hand.state(), own)
                    self.assertEqual(each[0], each[1])
                self.assertEqual(each[0], self.all_the_way(self.hand, "undo"))

    def broken(self) -> tuple[int, list[str]]:
        """The first part in shards, and the names there are then."""
        number = next(iter(self.hand.table()))
        self.hand.ask(f"/parts/{number}/steps", {"revision": 1, "step": SHARDS})
        return number, [part["name"] for part in self.hand.table().values()]

    def test_copies_of_shards_leave_the_original_its_own(self) -> None:
        number, names = self.broken()
        copy = self.hand.ask(f"/parts/{number}/duplicate").json()["id"]
        for way, count in (("undo", 4), ("redo", 5), ("undo", 4)):
            body = {"revision": self.hand.part(copy)["revision"]}
            self.assertEqual(self.hand.ask(f"/parts/{copy}/{way}", body).status_code, 200)
            now = [part["name"] for part in self.hand.table().values()]
            self.assertLessEqual(set(names), set(now))
            self.assertEqual(len(now), count)

    def test_what_an_undone_step_would_bring_back_is_not_thrown_away(self) -> None:
        _, names = self.broken()
        self.hand.move("undo")
        long_ago = timezone.now() - timedelta(days=KEPT_DAYS + 1)
        Part.objects.exclude(deleted=None).update(deleted=long_ago)
        self.assertEqual(purge(), 0)
        self.hand.move("redo")
        self.assertEqual([part["name"] for part in self.hand.table().values()], names)

    def test_what_is_gone_for_good_stands_in_nobody_s_way(self) -> None:
        one, two = self.hand.table()
        self.hand.ask(f"/parts/{one}/steps", {"revision": 1, "step": SHARDS})
        place = {"places": [{"part": two, "placement": {"move": [9, 0, 0]}}]}
        self.hand.ask(f"/projects/{self.project.pk}/places", place, "put")
        self.hand.ask(f"/parts/{one}", method="delete")
        Part.objects.filter(pk=one).update(deleted=timezone.now() - timedelta(days=KEPT_DAYS + 1))
        self.assertEqual(purge(), 1)
        # What had been done to it went with it, the pieces stay, what was done elsewhere is undone.
        self.assertEqual(self.hand.next()["undo"]["words"], "Two placed")
        self.assertEqual(self.hand.move("undo").status_code, 200)
        self.assertEqual(len(self.hand.table()), 2)

    def test_a_piece_that_is_gone_for_good_leaves_the_step_it_came_with(self) -> None:
        number, names = self.broken()
        piece = max(self.hand.table())
        self.hand.ask(f"/parts/{piece}", method="delete")
        Part.objects.filter(pk=piece).update(deleted=timezone.now() - timedelta(days=KEPT_DAYS + 1))
        self.assertEqual(purge(), 1)
        for way, count in (("undo", 2), ("redo", 2)):
            body = {"revision": self.hand.part(number)["revision"]}
            self.assertEqual(self.hand.ask(f"/parts/{number}/{way}", body).status_code, 200)
            self.assertEqual(len(self.hand.table()), count)
        self.assertEqual(self.hand.part(number)["name"], names[0])

    def test_a_key_counts_for_the_part_it_was_said_of(self) -> None:
        one, two = self.hand.table()
        plane = {"point": [0.1, 0, 0], "normal": [1, 0, 0]}
        body = {"revision": 1, "step": {"tool": "slice", "plane": plane}, "key": "abc"}
        for number in (one, two):
            self.assertEqual(self.hand.ask(f"/parts/{number}/steps", body).status_code, 201)
        self.assertEqual(Step.objects.count(), 2)

    def test_a_joined_part_with_cuts_can_be_had_again_when_the_joining_is_undone(self) -> None:
        one, two = self.hand.table()
        made = self.hand.ask(f"/projects/{self.project.pk}/join", {"parts": [one, two]})
        whole = made.json()["parts"][0]["id"]
        slice_ = {"tool": "slice", "plane": {"point": [0.1, 0, 0], "normal": [1, 0, 0]}}
        self.hand.ask(f"/parts/{whole}/steps", {"revision": 1, "step": slice_})
        cut = self.hand.state()
        for _ in range(2):
            self.hand.move("undo")
        # The part that went into it is placed: the joining can't be done again.
        place = {"places": [{"part": one, "placement": {"move": [9, 0, 0]}}]}
        self.hand.ask(f"/projects/{self.project.pk}/places", place, "put")
        self.assertIsNone(self.hand.next()["redo"])
        (gone,) = self.client.get(f"/api/projects/{self.project.pk}/deleted-parts").json()
        self.assertEqual((gone["id"], gone["days_left"]), (whole, KEPT_DAYS))
        back = self.hand.ask(f"/parts/{whole}/restore").json()
        self.assertTrue(back["can_redo"])
        self.hand.ask(f"/parts/{whole}/redo", {"revision": back["revision"]})
        self.assertEqual(self.hand.state()[whole], cut[whole])

    def test_asked_for_twice_it_is_made_once(self) -> None:
        number = next(iter(self.hand.table()))
        plane = {"point": [0.1, 0, 0], "normal": [1, 0, 0]}
        body = {"revision": 1, "step": {"tool": "slice", "plane": plane}, "key": "abc"}
        first, again = (self.hand.ask(f"/parts/{number}/steps", body) for _ in range(2))
        self.assertEqual((first.status_code, again.status_code), (201, 201))
        self.assertEqual(first.json()["part"], again.json()["part"])
        self.assertEqual(Step.objects.count(), 1)
        self.assertEqual(
            self.hand.ask(f"/parts/{number}/steps", {**body, "key": "b"}).status_code, 409
        )

    def test_what_goes_along_is_told_before(self) -> None:
        number, _ = self.broken()
        place = {"places": [{"part": number, "placement": {"move": [9, 0, 0]}}]}
        self.hand.ask(f"/projects/{self.project.pk}/places", place, "put")
        piece = max(self.hand.table())
        self.hand.ask(f"/parts/{piece}/steps", {"revision": 1, "step": {"tool": "triangulate"}})
        along = self.client.get(f"/api/parts/{number}/steps/1/along").json()
        self.assertEqual([one["on"] for one in along], ["One, shard 2"])

    def test_a_copy_stays_where_it_is_seen_when_its_steps_are_undone(self) -> None:
        number = next(iter(self.hand.table()))
        at = f"/projects/{self.project.pk}"
        place = {"places": [{"part": number, "placement": {"move": [5, 0, 0], "turn": [0, 90, 0]}}]}
        self.hand.ask(f"{at}/places", place, "put")
        self.hand.ask(f"/parts/{number}/place-made-its-own", {"revision": 1})
        row = {"way": "row", "count": 1, "step": [0, 0, 3]}
        copy = self.hand.ask(f"/parts/{number}/copies", {"copies": row}).json()["parts"][0]["id"]
        for way in ("undo", "redo"):
            body = {"revision": self.hand.part(copy)["revision"]}
            self.hand.ask(f"/parts/{copy}/{way}", body)
            for k, middle in enumerate((5, 0, 3)):
                self.assertAlmostEqual(self.hand.table()[copy]["middle"][k], middle, places=9)


class Earlier(TestCase):
    """Project files of the first version have no order of what was done."""

    def test_their_steps_are_undone_and_done_again(self) -> None:
        project = add_project("Old")
        part = add_part(project, "Block", BLOCK)
        hand = Hand(self, project.pk)
        hand.ask(f"/parts/{part.pk}/steps", {"revision": 1, "step": SHARDS})
        state = sorted(hand.state().values())
        file = self.client.get(f"/api/projects/{project.pk}/project.zip")
        out = io.BytesIO()
        with (
            zipfile.ZipFile(io.BytesIO(b"".join(file.streaming_content))) as archive,
            zipfile.ZipFile(out, "w") as old,
        ):
            for name in archive.namelist():
                data = archive.read(name)
                if name == "project.json":
                    told = json.loads(data)
                    entry = told.pop("entries")[0]
                    told["wertome_project"] = 1
                    report = told["parts"][0]["steps"][0]["report"]
                    report |= {"made_parts": entry["made"]}
                    data = json.dumps(told).encode()
                old.writestr(name, data)
        answer = self.client.post(
            "/api/project-files", {"file": SimpleUploadedFile("x.zip", out.getvalue())}
        )
        self.assertEqual(answer.status_code, 201, answer.content)
        twin = Hand(self, answer.json()["id"])
        self.assertEqual(sorted(twin.state().values()), state)
        twin.move("undo")
        self.assertEqual(len(twin.table()), 1)
        twin.move("redo")
        self.assertEqual(sorted(twin.state().values()), state)
