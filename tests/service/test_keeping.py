"""Nothing made is lost, nothing half made is kept: faults in the middle of a cut, two at once, and memory that runs out."""

from __future__ import annotations

import threading
from unittest import mock

from django.db import OperationalError, connection
from django.test import TestCase, TransactionTestCase

from cutcore import parse_step
from cutcore.shapes.box import box
from cutcore.shapes.torus import torus
from tests.guarantees import assert_same_mesh
from workshop.errors import NothingTo, Stale
from workshop.mesh_arrays import pack_mesh, unpack_mesh
from workshop.models import Part, Snapshot, Step
from workshop.services import live_meshes
from workshop.services.make_cut import make_cut
from workshop.services.parts import add_part, mesh_at, part_at
from workshop.services.projects import add_project
from workshop.services.undo import redo, undo

CUT = parse_step({"tool": "slice", "plane": {"point": [0, 0.1, 0], "normal": [0, 1, 0.3]}})
OTHER = parse_step({"tool": "slice", "plane": {"point": [0.2, 0, 0], "normal": [1, 0.1, 0]}})


class Faults(TestCase):
    def setUp(self) -> None:
        live_meshes.forget_all()
        self.part = add_part(add_project("One"), "Cube", box(2, 2, 2))

    def test_a_fault_while_writing_leaves_everything_as_it_was(self) -> None:
        before = mesh_at(self.part.pk, 1)
        for place in ("workshop.services.make_cut.Snapshot.objects.create", "workshop.services.make_cut.touch"):
            with mock.patch(place, side_effect=OperationalError("disk full")), self.assertRaises(OperationalError):
                make_cut(self.part.pk, 1, CUT)
            live_meshes.forget_all()
            self.assertEqual((Step.objects.count(), Snapshot.objects.count()), (0, 1))
            self.assertEqual(part_at(self.part.pk).revision, 1)
            assert_same_mesh(mesh_at(self.part.pk, 1), before)
        self.assertEqual(make_cut(self.part.pk, 1, CUT)[0].revision, 2)

    def test_undo_and_redo_stop_at_the_ends(self) -> None:
        with self.assertRaisesRegex(NothingTo, "nothing to undo"):
            undo(self.part.pk, 1)
        part, _, made = make_cut(self.part.pk, 1, CUT)
        with self.assertRaisesRegex(NothingTo, "nothing to redo"):
            redo(part.pk, part.revision)
        part = redo(part.pk, undo(part.pk, part.revision).revision)
        assert_same_mesh(mesh_at(part.pk, part.revision), made.mesh)
        with self.assertRaises(Stale):
            undo(part.pk, 1)

    def test_many_steps_are_walked_back_and_forth_to_the_same_bytes(self) -> None:
        states = [mesh_at(self.part.pk, 1)]
        revision = 1
        for k in range(4):
            step = parse_step({"tool": "slice", "plane": {"point": [0.1 * k, 0.05, 0], "normal": [1, 0.2 * k, 0.3]}})
            part, _, made = make_cut(self.part.pk, revision, step)
            revision = part.revision
            states.append(made.mesh)
        for way, order in ((undo, states[-2::-1]), (redo, states[1:])):
            for state in order:
                live_meshes.forget_all()
                revision = way(self.part.pk, revision).revision
                assert_same_mesh(mesh_at(self.part.pk, revision), state)

    def test_meshes_are_packed_and_unpacked_to_the_same_bytes(self) -> None:
        for mesh in (box(1, 2, 3), torus(1.0, 0.2, 9, 7)):
            assert_same_mesh(unpack_mesh(pack_mesh(mesh)), mesh)

    def test_only_so_many_meshes_are_kept_live(self) -> None:
        with mock.patch.object(live_meshes, "ROOM_IN_CORNERS", 60):
            for _ in range(6):
                add_part(add_project("More"), "Cube", box(1, 1, 1))
            self.assertLessEqual(sum(len(m.corners) for m in live_meshes._kept.values()), 60)
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
                make_cut(part.pk, 1, step)  # type: ignore[arg-type]
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
