"""The table: placed, joined, copied, broken and let fall, undone and redone, after a restart too."""

from __future__ import annotations

import json
import random
from itertools import pairwise
from typing import Any
from unittest import mock

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile

from cutcore import read_part
from cutcore.geometry.placement import Placement
from cutcore.queries.bodies import is_closed
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from tests.guarantees import volume_of
from tests.service.test_parts_api import CUBE, WithCube
from workshop.models import Entry, Part, Snapshot
from workshop.services.live_meshes import forget_all
from workshop.services.parts import add_part
from workshop.services.projects import add_project

FRONT = {
    "eye": [0, 0, 10],
    "target": [0, 0, 0],
    "projection": "parallel",
    "height": 8,
    "size": [800, 600],
}
# A cut that leaves the side alone at which the other part stands.
ACROSS_X = {"tool": "slice", "plane": {"point": [0.1, 0, 0], "normal": [1, 0, 0]}}


class OnTable(WithCube):
    def setUp(self) -> None:
        super().setUp()
        self.other = add_part(self.project, "Other", CUBE, Placement(move=(2.0, 0.0, 0.0)))
        self.at = f"/projects/{self.project.pk}"

    def table(self) -> Any:
        # Nothing may hang on what is kept in memory.
        forget_all()
        return self.client.get(f"/api{self.at}/table").json()

    def names(self) -> list[str]:
        return [part["name"] for part in self.table()["parts"]]

    def put(self, path: str, body: Any) -> Any:
        return self.client.put(f"/api{path}", json.dumps(body), content_type="application/json")

    def ask(self, path: str, body: Any = None) -> Any:
        return self.client.post(
            f"/api{path}", json.dumps(body or {}), content_type="application/json"
        )

    def back(self, way: str = "undo") -> Any:
        return self.ask(f"{self.at}/{way}-deed")

    def mesh(self, part: int, ending: str = "glb") -> Any:
        content = self.client.get(f"/api/parts/{part}/export.{ending}").content
        return read_part(f"part.{ending}", content)[0]


class Table(OnTable):
    def test_parts_stand_where_they_were_put_and_all_of_it_is_undone(self) -> None:
        first, second = self.table()["parts"]
        self.assertEqual(first["placement"], {"move": [0, 0, 0], "turn": [0, 0, 0]})
        self.assertEqual((second["middle"], second["faces"]), ([2, 0, 0], CUBE.face_count))
        stands = {"move": [5, 1, 0], "turn": [0, 90, 0]}
        places = {"places": [{"part": self.part.pk, "placement": stands}]}
        self.assertEqual(self.put(f"{self.at}/places", places).status_code, 200)
        self.assertEqual(self.table()["parts"][0]["middle"], [5, 1, 0])
        self.assertEqual(self.table()["undo"], "Cube placed")
        self.back()
        self.assertEqual(self.table()["parts"][0]["middle"], [0, 0, 0])
        self.back("redo")
        self.assertEqual(self.read()["placement"], stands)
        self.assertEqual(self.back("redo").status_code, 422)

    def test_facts_of_meshes_kept_before_they_were_noted_are_found(self) -> None:
        Snapshot.objects.update(faces=None, box=None)
        self.assertEqual(self.table()["parts"][1]["high"], [1, 1, 1])
        self.assertFalse(Snapshot.objects.filter(faces=None).exists())

    def test_a_place_is_made_the_part_s_own_as_a_step(self) -> None:
        before = self.mesh(self.other.pk)
        path = f"/parts/{self.other.pk}/place-made-its-own"
        made = self.ask(path, {"revision": 1})
        self.assertEqual(made.status_code, 201)
        after = self.mesh(self.other.pk)
        np.testing.assert_array_equal(after.points, before.points + [2.0, 0.0, 0.0])
        part = self.client.get(f"/api/parts/{self.other.pk}").json()
        self.assertEqual(part["placement"]["move"], [0, 0, 0])
        self.assertEqual(self.ask(path, {"revision": 2}).status_code, 422)
        undone = self.ask(f"/parts/{self.other.pk}/undo", {"revision": 2}).json()
        self.assertEqual(undone["placement"]["move"], [2, 0, 0])
        np.testing.assert_array_equal(self.mesh(self.other.pk).points, before.points)
        redone = self.ask(f"/parts/{self.other.pk}/redo", {"revision": 3}).json()
        self.assertEqual(redone["placement"]["move"], [0, 0, 0])

    def test_undoing_a_place_made_its_own_takes_along_where_it_was_put_since(self) -> None:
        turned = Placement(move=(2.0, 0.0, 0.0), turn=(0.0, 90.0, 30.0))
        places = {"places": [{"part": self.other.pk, "placement": turned.model_dump()}]}
        self.put(f"{self.at}/places", places)
        first = self.table()["parts"]
        self.ask(f"/parts/{self.other.pk}/place-made-its-own", {"revision": 1})
        further = {"places": [{"part": self.other.pk, "placement": {"move": [0, 7, 0]}}]}
        self.put(f"{self.at}/places", further)
        seen = self.table()["parts"]
        self.assertEqual(seen[1]["middle"], [2, 7, 0])
        for way, revision, state in (("undo", 2, first), ("redo", 3, seen), ("undo", 4, first)):
            done = self.ask(f"/parts/{self.other.pk}/{way}", {"revision": revision}).json()
            words = {entry["words"] for entry in done["turned"]}
            self.assertEqual(words, {"Other placed", "Its place made its own"})
            stands = [(part["middle"], part["placement"]) for part in self.table()["parts"]]
            self.assertEqual(stands, [(part["middle"], part["placement"]) for part in state])

    def test_joining_takes_the_parts_place_and_undoing_gives_them_back_with_their_steps(
        self,
    ) -> None:
        self.ask(f"/parts/{self.part.pk}/steps", {"revision": 1, "step": ACROSS_X})
        body = {"parts": [self.part.pk, self.other.pk], "name": "Both", "weld": 1e-6}
        made = self.ask(f"{self.at}/join", body)
        self.assertEqual(made.status_code, 201)
        (card,) = made.json()["parts"]
        self.assertEqual(
            made.json()["notes"],
            ["4 vertices were welded.", "2 faces that lay on each other went."],
        )
        self.assertEqual(self.names(), ["Both"])
        whole = self.mesh(card["id"])
        self.assertAlmostEqual(volume_of(whole), 16.0, places=9)
        self.back()
        self.assertEqual(self.names(), ["Cube", "Other"])
        self.assertTrue(self.read()["can_undo"])
        self.back("redo")
        self.assertEqual(self.names(), ["Both"])
        again = self.ask(f"{self.at}/join", {"parts": [card["id"]]})
        self.assertEqual(again.status_code, 422)
        strange = add_part(add_project("Elsewhere"), "Far", CUBE)
        foreign = self.ask(f"{self.at}/join", {"parts": [card["id"], strange.pk]})
        self.assertEqual(foreign.status_code, 422)

    def test_bridged_to_the_nearest_opening_of_another_part(self) -> None:
        low = add_part(self.project, "Low", sheet(4, 3, 4, 3), Placement(turn=(180.0, 0.0, 0.0)))
        high = add_part(self.project, "High", sheet(4, 3, 4, 3), Placement(move=(0.0, 2.0, 0.0)))
        border = np.flatnonzero(sheet(4, 3, 4, 3).edges.border).tolist()
        body = {"revision": 1, "edges": border, "to": low.pk}
        made = self.ask(f"/parts/{high.pk}/bridge-to", body).json()
        self.assertTrue(is_closed(self.mesh(made["parts"][0]["id"])))
        self.assertEqual(self.names(), ["Cube", "Other", "High"])
        stale = self.ask(f"/parts/{self.part.pk}/bridge-to", {**body, "revision": 9})
        self.assertEqual(stale.status_code, 409)

    def test_copies_keep_steps_and_stand_in_a_row_or_mirrored(self) -> None:
        self.cut()
        row = {"copies": {"way": "row", "count": 2, "step": [0, 3, 0]}}
        made = self.ask(f"/parts/{self.part.pk}/copies", row).json()["parts"]
        self.assertEqual([part["name"] for part in made], ["Cube 2", "Cube 3"])
        copy = self.client.get(f"/api/parts/{made[1]['id']}").json()
        self.assertEqual((copy["placement"]["move"], copy["can_undo"]), ([0, 6, 0], True))
        image = {"copies": {"way": "mirrored", "axis": "x", "offset": 4}}
        self.ask(f"/parts/{self.other.pk}/copies", image)
        self.assertEqual(self.table()["parts"][-1]["middle"], [6, 0, 0])
        self.back()
        self.back()
        self.assertEqual(self.names(), ["Cube", "Other"])

    def test_spread_is_set_and_shown_parts_are_chosen(self) -> None:
        parts = [self.part.pk, self.other.pk]
        self.ask(f"{self.at}/spread", {"parts": parts, "by": 0.5})
        self.assertEqual([p["middle"][0] for p in self.table()["parts"]], [-0.5, 2.5])
        self.back()
        self.assertEqual([p["middle"][0] for p in self.table()["parts"]], [0, 2])
        self.put(f"{self.at}/shown", {"parts": [self.other.pk]})
        self.assertEqual([p["hidden"] for p in self.table()["parts"]], [True, False])
        self.put(f"{self.at}/shown", {"parts": None})
        self.assertEqual([p["hidden"] for p in self.table()["parts"]], [False, False])

    def test_letting_fall_changes_nothing_and_is_the_same_each_time(self) -> None:
        body = {"parts": [self.part.pk, self.other.pk], "ground": -6}
        before = self.table()
        first, again = (self.ask(f"{self.at}/fall", body).json() for _ in range(2))
        self.assertEqual(first, again)
        self.assertEqual(self.table(), before)
        self.assertAlmostEqual(first["moves"][-1][0][1], -5.0, places=6)
        self.assertEqual(self.ask(f"{self.at}/fall", {"parts": []}).status_code, 422)

    def random_deed(self, source: random.Random) -> None:
        """One thing done on the table, or to a part on it, as somebody might do it next."""
        parts = self.table()["parts"]
        one = source.choice(parts)
        some = [part["id"] for part in source.sample(parts, min(len(parts), 3))]
        place = {"move": [source.randrange(-9, 9), 0, source.random()], "turn": [0, 30, 90]}
        match source.randrange(5):
            case 0:
                self.put(f"{self.at}/places", {"places": [{"part": one["id"], "placement": place}]})
            case 1:
                self.ask(f"{self.at}/join", {"parts": some, "weld": source.choice([None, 0.1])})
            case 2:
                copies = {"way": "round", "count": 2, "axis": "z", "degrees": 50, "rise": 1}
                self.ask(f"/parts/{one['id']}/copies", {"copies": copies})
            case 3:
                self.ask(f"{self.at}/spread", {"parts": some, "by": source.uniform(0.1, 2)})
            case 4:
                copies = {"way": "mirrored", "axis": source.choice("xyz"), "offset": 3}
                self.ask(f"/parts/{one['id']}/copies", {"copies": copies})

    def test_whatever_was_done_undone_gives_the_table_back_and_redone_too(self) -> None:
        for seed in range(4):
            source = random.Random(seed)
            seen = [self.table()]
            for _ in range(6):
                self.random_deed(source)
                seen.append(self.table())
            done = [a for a, b in pairwise(seen) if a != b] + seen[-1:]
            for way, states in (("undo", done[-2::-1]), ("redo", done[1:]), ("undo", done[-2::-1])):
                for state in states:
                    self.back(way)
                    self.assertEqual(self.table()["parts"], state["parts"], f"seed {seed}")

    def test_what_a_joined_part_was_broken_into_goes_with_it(self) -> None:
        body = {"parts": [self.part.pk, self.other.pk], "name": "Both"}
        card = self.ask(f"{self.at}/join", body).json()["parts"][0]
        step = {"tool": "shards", "by": {"way": "counts", "x": 1, "y": 2, "z": 1}}
        self.ask(f"/parts/{card['id']}/steps", {"revision": 1, "step": step})
        broken = self.names()
        self.assertEqual(len(broken), 4)
        self.back()
        self.assertEqual(self.names(), ["Cube", "Other"])
        self.back("redo")
        self.assertEqual(self.names(), broken)

    def test_copies_that_would_fill_the_disk_are_refused(self) -> None:
        with mock.patch("workshop.services.table.MOST_COPIED", 5000):
            row = {"copies": {"way": "row", "count": 200, "step": [0, 3, 0]}}
            refused = self.ask(f"/parts/{self.part.pk}/copies", row)
        self.assertEqual((refused.status_code, refused.json()["where"]), (422, "count"))
        self.assertEqual(self.names(), ["Cube", "Other"])

    def test_a_part_that_can_t_be_read_leaves_the_others_on_the_table(self) -> None:
        Snapshot.objects.filter(part=self.other).update(arrays=b"nothing", faces=None)
        first, second = self.table()["parts"]
        self.assertEqual((first["faces"], second["faces"]), (CUBE.face_count, 0))

    def test_which_part_is_seen_and_points_that_settle_on_others(self) -> None:
        whose = {"hand": self.part.pk, "view": FRONT, "pixel": [400 + 2.2 * 75, 300]}
        found = self.ask(f"{self.at}/whose", whose).json()
        self.assertEqual(found, {"part": self.other.pk})
        apart = {"parts": [self.part.pk, self.other.pk], "by": 2.0}
        self.assertEqual(
            self.ask(f"{self.at}/whose", {**whose, "spread": apart}).json(), {"part": None}
        )
        self.client.patch(
            f"/api/parts/{self.other.pk}",
            json.dumps({"hidden": True}),
            content_type="application/json",
        )
        self.assertEqual(self.ask(f"{self.at}/whose", whose).json(), {"part": None})
        # A vertex of a part behind the one in hand is seen at a third of its side.
        behind = Placement(move=(1 + 1 / 3, 0.0, -5.0))
        add_part(self.project, "Behind", box(2, 2, 2, (1, 1, 1)), behind)
        pointer = [400 + 75 * (1 / 3) + 4, 300 - 75 + 3]
        asked = {"revision": 1, "view": FRONT, "pointer": pointer, "on_others": True}
        mark = self.ask(f"/parts/{self.part.pk}/aim", asked).json()["mark"]
        self.assertIn("at a vertex of Behind", mark["words"])
        np.testing.assert_allclose(mark["at"][:2], [1 / 3, 1.0], atol=1e-6)

    def test_a_deed_whose_parts_are_gone_for_good_is_not_undone(self) -> None:
        self.ask(f"{self.at}/join", {"parts": [self.part.pk, self.other.pk]})
        Part.objects.filter(pk=self.part.pk).delete()
        refused = self.back()
        self.assertEqual(refused.status_code, 422)
        self.assertEqual(self.names(), ["Cube"])
        self.assertEqual(Entry.objects.exclude(undone=0).count(), 0)


class Shards(OnTable):
    def break_it(self) -> Any:
        step = {"tool": "shards", "by": {"way": "cells", "count": 4}}
        return self.ask(f"/parts/{self.other.pk}/steps", {"revision": 1, "step": step})

    def test_shards_are_parts_that_go_when_the_step_is_undone(self) -> None:
        made = self.break_it()
        self.assertEqual(made.status_code, 201)
        names = ["Cube", "Other, shard 1", "Other, shard 2", "Other, shard 3", "Other, shard 4"]
        self.assertEqual(self.names(), names)
        parts = self.table()["parts"]
        self.assertEqual({tuple(p["placement"]["move"]) for p in parts[1:]}, {(2, 0, 0)})
        whole = sum(volume_of(self.mesh(part["id"])) for part in parts[1:])
        self.assertAlmostEqual(whole, 8.0, places=9)
        self.ask(f"/parts/{self.other.pk}/undo", {"revision": 2})
        self.assertEqual(self.names(), ["Cube", "Other"])
        self.ask(f"/parts/{self.other.pk}/redo", {"revision": 3})
        self.assertEqual(self.names(), names)

    def test_what_was_done_to_shards_goes_and_comes_with_them_and_a_new_name_stays(self) -> None:
        self.break_it()
        second = self.table()["parts"][2]["id"]
        step = {"tool": "triangulate"}
        self.ask(f"/parts/{second}/steps", {"revision": 1, "step": step})
        self.client.patch(
            f"/api/parts/{self.other.pk}",
            json.dumps({"name": "Mine"}),
            content_type="application/json",
        )
        names, mesh = self.names(), self.mesh(second)
        undone = self.ask(f"/parts/{self.other.pk}/undo", {"revision": 2}).json()
        self.assertEqual([one["on"] for one in undone["turned"]], ["Other, shard 2", "Mine"])
        self.assertEqual(self.names(), ["Cube", "Mine"])
        self.ask(f"/parts/{self.other.pk}/redo", {"revision": 3})
        self.assertEqual(self.names(), names)
        np.testing.assert_array_equal(self.mesh(second).corners, mesh.corners)

    def test_a_joining_of_shards_goes_and_comes_with_them(self) -> None:
        self.break_it()
        ids = [part["id"] for part in self.table()["parts"]]
        self.ask(f"{self.at}/join", {"parts": ids[2:4], "name": "Two"})
        left = ["Cube", "Other, shard 1", "Two", "Other, shard 4"]
        self.assertEqual(self.names(), left)
        self.ask(f"/parts/{self.other.pk}/undo", {"revision": 2})
        self.assertEqual(self.names(), ["Cube", "Other"])
        self.ask(f"/parts/{self.other.pk}/redo", {"revision": 3})
        self.assertEqual(self.names(), left)
        # The first shard among those joined: its siblings stay.
        self.ask(f"{self.at}/join", {"parts": [ids[1], ids[4]], "name": "Ends"})
        self.assertEqual(sorted(self.names()), ["Cube", "Ends", "Two"])
        self.back()
        self.assertEqual(self.names(), left)


class Stencils(OnTable):
    def test_an_outline_of_another_part_as_it_stands_before_the_one_in_hand(self) -> None:
        stencil = {"of": "silhouette", "view": FRONT}
        body = {"part": self.other.pk, "stencil": stencil, "hand": self.part.pk}
        made = self.ask(f"{self.at}/stencils", body)
        self.assertEqual(made.status_code, 201)
        out = made.json()
        self.assertEqual(out["name"], "Silhouette of Other")
        np.testing.assert_allclose(out["sheet"]["centre"], [2, 0, 0], atol=1e-12)
        self.assertAlmostEqual(out["width"], 2.0, places=6)
        closed = self.ask(f"{self.at}/stencils", {**body, "stencil": {"of": "border"}})
        self.assertEqual(closed.status_code, 422)

    def test_an_outline_becomes_a_part_where_it_was_lifted_off(self) -> None:
        section = {"of": "section", "point": [2, 0.5, 0], "normal": [0, 1, 0]}
        body = {"part": self.other.pk, "stencil": section}
        outline = self.ask(f"{self.at}/stencils", body).json()
        made = self.ask(f"/outlines/{outline['id']}/part", {"thickness": 0.25, "faces": "quads"})
        self.assertEqual(made.status_code, 201)
        card = made.json()["parts"][0]
        mesh = self.mesh(card["id"])
        self.assertAlmostEqual(volume_of(mesh), 1.0, places=9)
        np.testing.assert_allclose(self.table()["parts"][-1]["middle"], [2, 0.375, 0], atol=1e-9)


class Files(OnTable):
    def test_shown_parts_go_out_together_and_come_in_as_parts(self) -> None:
        content = self.client.get(f"/api{self.at}/export.glb").content
        file = SimpleUploadedFile("scene.glb", content)
        made = self.client.post(f"/api{self.at}/objects", {"file": file})
        self.assertEqual(made.status_code, 201)
        self.assertEqual(self.names(), ["Cube", "Other", "Cube", "Other"])
        self.assertEqual([p["middle"][0] for p in self.table()["parts"]], [0, 2, 0, 2])
        self.back()
        self.assertEqual(self.names(), ["Cube", "Other"])
        self.put(f"{self.at}/shown", {"parts": [self.other.pk]})
        obj = self.client.get(f"/api{self.at}/export.obj").content.decode()
        self.assertEqual([line for line in obj.splitlines() if line[0] == "o"], ["o Other"])
        self.assertIn("v 3.0 1.0 1.0", obj)

    def test_many_parts_are_told_with_few_questions(self) -> None:
        for k in range(20):
            add_part(self.project, f"Part {k}", box(1, 1, 1, (1, 1, 1)))
        forget_all()
        with self.assertNumQueries(8):
            self.client.get(f"/api{self.at}/table")
