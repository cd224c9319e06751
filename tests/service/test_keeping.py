"""Nothing made is lost, nothing half made is kept: faults in the middle of a cut, two at once, and
memory that runs out."""

from __future__ import annotations

import threading
from typing import Any
from unittest import mock

from django.db import OperationalError, connection
from django.test import TestCase, TransactionTestCase

from cutcore import parse_step
from cutcore.mesh.difference import KeptMesh
from cutcore.shapes.box import box
from cutcore.shapes.torus import torus
from tests.guarantees import assert_same_mesh
from workshop.errors import NothingTo, Stale
from workshop.mesh_arrays import pack_mesh, unpack_mesh
from workshop.models import Part, Snapshot, Step
from workshop.services import live_meshes
from workshop.services.live_meshes import mesh_of
from workshop.services.make_cut import make_cut
from workshop.services.parts import add_part, mesh_at, part_at
from workshop.services.projects import add_project
from workshop.services.undo import redo, undo


def itself(made: Any, *_: Any) -> Any:
    return made


CUT = parse_step({"tool": "slice", "plane": {"point": [0, 0.1, 0], "normal": [0, 1, 0.3]}})
OTHER = parse_step({"tool": "slice", "plane": {"point": [0.2, 0, 0], "normal": [1, 0.1, 0]}})


class Faults(TestCase):
    def setUp(self) -> None:
        live_meshes.forget_all()
        self.part = add_part(add_project("One"), "Cube", box(2, 2, 2))

    def test_a_fault_while_writing_leaves_everything_as_it_was(self) -> None:
        before = mesh_at(self.part.pk, 1)
        for place in (
            "workshop.services.make_cut.Snapshot.objects.create",
            "workshop.services.history.touch",
        ):
            with (
                mock.patch(place, side_effect=OperationalError("disk full")),
                self.assertRaises(OperationalError),
            ):
                make_cut(self.part.pk, 1, CUT, itself)
            live_meshes.forget_all()
            self.assertEqual((Step.objects.count(), Snapshot.objects.count()), (0, 1))
            self.assertEqual(part_at(self.part.pk).revision, 1)
            assert_same_mesh(mesh_at(self.part.pk, 1), before)
        self.assertEqual(make_cut(self.part.pk, 1, CUT, itself).part.revision, 2)

    def test_undo_and_redo_stop_at_the_ends(self) -> None:
        with self.assertRaisesRegex(NothingTo, "nothing to undo"):
            undo(self.part.pk, 1, itself)
        made = make_cut(self.part.pk, 1, CUT, itself)
        part = made.part
        with self.assertRaisesRegex(NothingTo, "nothing to redo"):
            redo(part.pk, part.revision, itself)
        part = redo(part.pk, undo(part.pk, part.revision, itself).revision, itself)
        assert_same_mesh(mesh_at(part.pk, part.revision), made.result.mesh)
        with self.assertRaises(Stale):
            undo(part.pk, 1, itself)

    def test_many_steps_are_walked_back_and_forth_to_the_same_bytes(self) -> None:
        states = [mesh_at(self.part.pk, 1)]
        revision = 1
        for k in range(4):
            step = parse_step(
                {
                    "tool": "slice",
                    "plane": {"point": [0.1 * k, 0.05, 0], "normal": [1, 0.2 * k, 0.3]},
                }
            )
            made = make_cut(self.part.pk, revision, step, itself)
            revision = made.part.revision
            states.append(made.result.mesh)
        for way, order in ((undo, states[-2::-1]), (redo, states[1:])):
            for state in order:
                live_meshes.forget_all()
                revision = way(self.part.pk, revision, itself).revision
                assert_same_mesh(mesh_at(self.part.pk, revision), state)

    def test_meshes_are_packed_and_unpacked_to_the_same_bytes(self) -> None:
        for mesh in (box(1, 2, 3), torus(1.0, 0.2, 9, 7)):
            assert_same_mesh(unpack_mesh(pack_mesh(KeptMesh.of(mesh))).live(), mesh)

    def test_only_so_many_meshes_are_kept_live(self) -> None:
        for size in range(200):
            mesh_of(add_part(add_project("More"), "Torus", torus(1.0, 0.1 + size / 400, 120, 60)))
        self.assertLessEqual(live_meshes.bytes_kept(), live_meshes.ROOM_IN_BYTES)
        for part in Part.objects.all():
            self.assertGreater(live_meshes.mesh_of(part).face_count, 0)


class AtOnce(TransactionTestCase):
    def test_of_two_cuts_at_one_revision_exactly_one_is_made(self) -> None:
        live_meshes.forget_all()
        part = add_part(add_project("One"), "Cube", box(2, 2, 2))
        told: list[str] = []
        ready = threading.Barrier(2)

        def cut(step: object) -> None:
            ready.wait()
            try:
                make_cut(part.pk, 1, step, itself)
                told.append("made")
            except Stale:
                told.append("stale")
            finally:
                connection.close()

        threads = [threading.Thread(target=cut, args=(step,)) for step in (CUT, OTHER)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(sorted(told), ["made", "stale"])
        self.assertEqual((Step.objects.count(), part_at(part.pk).revision), (1, 2))
