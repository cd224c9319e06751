"""Verify: what was kept wrong is found, told, and made anew from its steps; data of an earlier
version is mended at start."""

from __future__ import annotations

import io
import tempfile
from datetime import timedelta
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np
from django.core.management import CommandError, call_command
from django.db import connection
from django.test import TestCase, TransactionTestCase
from django.utils import timezone

from cutcore import Mesh, parse_step
from cutcore.shapes.torus import torus
from tests.guarantees import assert_same_mesh
from workshop.errors import Damaged
from workshop.mesh_arrays import pack_difference, unpack_difference
from workshop.models import Part, Project, Snapshot, Step
from workshop.services.deleted import KEPT_DAYS, days_left, deleted_projects, purge
from workshop.services.live_meshes import forget_all, mesh_of
from workshop.services.make_cut import make_cut
from workshop.services.parts import add_part, delete_part
from workshop.services.projects import add_project, delete_project
from workshop.services.undo import undo
from workshop.services.upkeep import bring_up_to_date
from workshop.storage.room import free_pages, give_back_room
from workshop.storage.safety_copy import write_safety_copy

WALK: list[dict[str, Any]] = [
    {"tool": "loop", "edge": [0, 1], "at": [0.3]},
    {"tool": "size", "faces": [0, 1], "move": [0, 0.2, 0]},
    {"tool": "extrude", "faces": [5], "distance": 0.1},
    {
        "tool": "slice",
        "plane": {"point": [1.0, 0, 0], "normal": [0.2, 0.1, 1]},
        "limit": list(range(40)),
    },
]


def itself(made: Any, *_: Any) -> Any:
    return made


def walked() -> tuple[Part, list[Mesh]]:
    """A part with four steps, the last undone, and the mesh after each."""
    part = add_part(add_project("Walked"), "Ring", torus(1.0, 0.3, 40, 24))
    meshes = [mesh_of(part)]
    for revision, step in enumerate(WALK, 1):
        meshes.append(make_cut(part.pk, revision, parse_step(step), itself).result.mesh)
    return undo(part.pk, len(WALK) + 1, itself), meshes


def snapshots(part: Part) -> list[Snapshot]:
    return list(Snapshot.objects.filter(part=part).order_by("number"))


class Verifying(TestCase):
    def setUp(self) -> None:
        forget_all()
        self.part, self.meshes = walked()

    def verify(self) -> str:
        out = io.StringIO()
        call_command("verify", stdout=out)
        return out.getvalue()

    def assert_right(self) -> None:
        """Every state of the part reads as it was made, and nothing is left to say."""
        forget_all()
        for number, mesh in enumerate(self.meshes):
            Part.objects.filter(pk=self.part.pk).update(position=number)
            assert_same_mesh(mesh_of(Part.objects.get(pk=self.part.pk)), mesh)
        self.assertEqual(
            self.verify(), "5 meshes verified: 0 differ from their steps, 0 made anew, 0 lost\n"
        )

    def forget_the_moves(self) -> None:
        """Keep differences as an earlier version did: without the vertices that moved, and without
        digests."""
        for snapshot in snapshots(self.part):
            if not snapshot.whole:
                change = unpack_difference(bytes(snapshot.arrays))
                bare = type(change)(
                    **{**vars(change), "moved": change.moved[:0], "places": change.places[:0]}
                )
                snapshot.arrays = pack_difference(bare)
            snapshot.digest = ""
            snapshot.save()

    def test_what_is_right_is_left_alone(self) -> None:
        before = [(s.digest, bytes(s.arrays)) for s in snapshots(self.part)]
        self.assert_right()
        self.assertEqual([(s.digest, bytes(s.arrays)) for s in snapshots(self.part)], before)

    def test_moves_that_an_earlier_version_lost_are_made_again_at_start_once(self) -> None:
        self.forget_the_moves()
        forget_all()
        lost = mesh_of(Part.objects.get(pk=self.part.pk))
        self.assertFalse(np.array_equal(lost.points, self.meshes[3].points))
        said: list[str] = []
        bring_up_to_date(said.append)
        self.assertTrue(
            any("vertices that had been moved were lost" in line for line in said), said
        )
        self.assertIn("part 1 of 1", said[0])
        self.assert_right()
        said.clear()
        bring_up_to_date(said.append)
        self.assertEqual(said, [])

    def test_damaged_bytes_are_told_and_made_anew(self) -> None:
        for harm in (
            lambda data: data[: len(data) // 2],
            lambda data: b"",
            lambda data: data[:-30] + bytes(30),
        ):
            for number in (1, 2, 3):
                snapshot = snapshots(self.part)[number]
                snapshot.arrays = harm(bytes(snapshot.arrays))
                snapshot.save()
            forget_all()
            answer = self.client.get(f"/api/parts/{self.part.pk}")
            self.assertEqual((answer.status_code, answer.json()["code"]), (500, "damaged"))
            self.assertIn("3 made anew, 0 lost", self.verify())
            self.assert_right()
            Part.objects.filter(pk=self.part.pk).update(position=3)

    def test_a_first_mesh_that_is_lost_is_said_to_be(self) -> None:
        Snapshot.objects.filter(part=self.part, number=0).update(arrays=b"nothing")
        forget_all()
        with self.assertRaises(Damaged):
            mesh_of(Part.objects.get(pk=self.part.pk))
        with self.assertRaisesRegex(CommandError, "safety copy"):
            self.verify()

    def test_what_was_made_stays_where_the_engine_has_changed_since(self) -> None:
        Step.objects.filter(part=self.part, number=1).update(params={**WALK[0], "at": [0.4]})
        out = self.verify()
        self.assertIn("it is what was made, and stays", out)
        self.assertIn("0 made anew", out)
        forget_all()
        assert_same_mesh(mesh_of(Part.objects.get(pk=self.part.pk)), self.meshes[3])


class Room(TransactionTestCase):
    def test_what_was_deleted_long_ago_goes_for_good_and_gives_its_room_back(self) -> None:
        forget_all()
        project = add_project("Kept")
        for k in range(3):
            add_part(project, f"Ring {k}", torus(1.0, 0.3 - 0.01 * k, 160, 90))
        gone = project.parts.all()[0]
        delete_part(gone.pk)
        other = add_project("Gone")
        add_part(other, "Ring", torus(1.0, 0.2, 160, 90))
        delete_project(other.pk)
        self.assertEqual(purge(), 0)
        self.assertEqual(
            [(p.name, days_left(p)) for p in deleted_projects()], [("Gone", KEPT_DAYS)]
        )
        long_ago = timezone.now() - timedelta(days=KEPT_DAYS, hours=1)
        Part.objects.filter(pk=gone.pk).update(deleted=long_ago)
        Project.objects.filter(pk=other.pk).update(deleted=long_ago)
        self.assertEqual(purge(), 2)
        self.assertEqual(
            (Project.objects.count(), Part.objects.count(), Snapshot.objects.count()), (1, 2, 2)
        )
        file = Path(connection.settings_dict["NAME"])
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        self.assertGreater(free_pages(), 100)
        before = file.stat().st_size
        give_back_room(spare=10)
        self.assertLessEqual(free_pages(), 10)
        self.assertLess(file.stat().st_size, before - 300_000)

    def test_a_tail_that_a_cut_drops_gives_its_room_back(self) -> None:
        forget_all()
        part, _ = walked()
        tail = Snapshot.objects.get(part=part, number=4).digest
        other = parse_step({"tool": "slice", "plane": {"point": [0, 0.01, 0], "normal": [0, 1, 0]}})
        self.assertEqual(make_cut(part.pk, part.revision, other, itself).part.position, 4)
        self.assertEqual(Snapshot.objects.filter(part=part).count(), 5)
        self.assertFalse(Snapshot.objects.filter(digest=tail).exists())

    def test_a_safety_copy_is_whole_while_the_workshop_writes(self) -> None:
        forget_all()
        part, meshes = walked()
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "copy.sqlite3"
            call_command("backup", str(file), stdout=io.StringIO())
            self.assertEqual([path.name for path in Path(folder).iterdir()], ["copy.sqlite3"])
            with self.assertRaises(CommandError):
                call_command("backup", str(file))
            with self.assertRaises(CommandError):
                call_command("backup", str(Path(folder) / "no" / "such" / "copy"))
            with connection.cursor() as cursor:
                cursor.execute("ATTACH %s AS copy", [str(file)])
                try:
                    cursor.execute(
                        "SELECT digest FROM copy.workshop_snapshot WHERE part_id = %s ORDER BY number",
                        [part.pk],
                    )
                    self.assertEqual(
                        [row[0] for row in cursor.fetchall()], [s.digest for s in snapshots(part)]
                    )
                    cursor.execute("PRAGMA copy.integrity_check")
                    self.assertEqual(cursor.fetchone(), ("ok",))
                finally:
                    cursor.execute("DETACH copy")
        self.assertEqual(len(meshes), 5)

    def test_a_copy_that_fails_leaves_nothing_behind(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            with (
                mock.patch("os.fsync", side_effect=OSError(28, "No space left on device")),
                self.assertRaises(OSError),
            ):
                write_safety_copy(Path(folder) / "copy")
            self.assertEqual(list(Path(folder).iterdir()), [])
