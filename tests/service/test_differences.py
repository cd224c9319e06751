"""Cuts kept and sent as differences: the same mesh, down to the numbers of its edges, whichever way
it comes."""

from __future__ import annotations

import random
from dataclasses import replace
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from cutcore import Mesh, apply_step, parse_step
from cutcore.mesh.difference import KeptMesh, MeshDifference, applied
from cutcore.queries.flow import flow_counts, flow_counts_after
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from tests.guarantees import assert_same_mesh, assert_tables_true
from tests.random_steps import TOOLS, random_walk
from tests.service.drawn import Drawn, assert_drawn_alike
from tests.service.kept import mesh_of_number
from tests.service.test_parts_api import WithCube
from tests.zoo import ZOO, painted
from workshop.mesh_arrays import digest_of, pack_mesh, unpack_difference, unpack_mesh
from workshop.mesh_payload import MAGIC, MAGIC_OF_DIFFERENCE, difference_payload, mesh_payload
from workshop.models import Snapshot
from workshop.services import make_cut as making
from workshop.services.live_meshes import forget_all
from workshop.services.make_cut import stored_form
from workshop.services.parts import add_part
from workshop.services.projects import duplicate_project


class Differences(WithCube):
    def setUp(self) -> None:
        super().setUp()
        pillar = turned([(3.0 + 0.1 * (k % 3), float(k)) for k in range(40)], 12)
        hard = pillar.edges.ends[::5]
        hard = hard[np.lexsort((hard[:, 1], hard[:, 0]))]
        striped = np.arange(pillar.face_count) % 2
        mesh = Mesh(
            pillar.points,
            pillar.starts,
            pillar.corners,
            pillar.uv,
            striped,
            hard=hard,
            materials=("a", "b"),
        )
        self.part = add_part(self.project, "Pillar", mesh)

    def snapshots(self) -> list[Snapshot]:
        return list(Snapshot.objects.filter(part=self.part).order_by("number"))

    def slice_at(self, height: float, revision: int, **more: Any) -> Any:
        step = {"tool": "slice", "plane": {"point": [0, height, 0], "normal": [0, 1, 0]}, **more}
        answer = self.cut(revision, step)
        self.assertEqual(answer.status_code, 201, answer.content)
        return answer.json()

    def bytes_of(self, snapshot: int, since: int | None = None) -> bytes:
        return bytes(
            self.client.get(
                f"/api/meshes/{snapshot}" + (f"?since={since}" if since else "")
            ).content
        )

    def test_what_the_asker_has_may_be_gone_the_mesh_is_sent_whole_then(self) -> None:
        self.slice_at(20.5, 1)
        gone, now = self.snapshots()[0].pk + 1000, self.snapshots()[-1].pk
        self.assertEqual(self.bytes_of(now, gone), self.bytes_of(now))
        self.assertEqual(self.client.get(f"/api/meshes/{gone}?since={now}").status_code, 404)

    def test_a_chain_of_differences_gives_every_mesh_again_with_its_numbers(self) -> None:
        for revision, height in enumerate((20.5, 6.25, 20.75, 11.7), 1):
            self.slice_at(height, revision)
        points = mesh_of_number(self.snapshots()[-1].pk).points
        edge = [
            int(np.argmin(np.linalg.norm(points - [3.0 + 0.1 * (k % 3), k, 0.0], axis=1)))
            for k in (30, 31)
        ]
        self.assertEqual(
            self.cut(5, {"tool": "loop", "edge": edge, "at": [0.3], "follow": 0.8}).status_code, 201
        )
        kept = self.snapshots()
        self.assertEqual([s.whole for s in kept], [True, *[False] * 5])
        self.assertLess(len(kept[1].arrays), len(kept[0].arrays))
        live = [mesh_of_number(s.pk) for s in kept]
        forget_all()
        for snapshot, mesh in zip(reversed(kept), reversed(live), strict=True):
            again = mesh_of_number(snapshot.pk)
            assert_same_mesh(again, mesh)
            assert_tables_true(again)
            # The browser names edges by number: a restart must not renumber them.
            np.testing.assert_array_equal(again.edges.ends, mesh.edges.ends)
            np.testing.assert_array_equal(again.edges.of_corner, mesh.edges.of_corner)

    def test_what_is_sent_as_changes_draws_the_same_as_what_is_sent_whole(self) -> None:
        first = self.snapshots()[0].pk
        drawn = Drawn(self.bytes_of(first))
        before = first
        for revision, height in enumerate((20.5, 6.25, 33.5), 1):
            now = self.slice_at(height, revision)["part"]["snapshot"]
            sent = self.bytes_of(now, before)
            self.assertEqual(np.frombuffer(sent, "<u4", 1)[0], MAGIC_OF_DIFFERENCE)
            whole_bytes = self.bytes_of(now)
            self.assertLess(len(sent), 0.6 * len(whole_bytes))
            drawn.change(sent)
            whole = Drawn(whole_bytes)
            assert_drawn_alike(drawn, whole)
            before = now
        # Another mesh than the one before: all of it comes.
        self.assertEqual(np.frombuffer(self.bytes_of(before, first), "<u4", 1)[0], MAGIC)

    def test_what_renumbers_or_changes_much_is_kept_and_sent_whole(self) -> None:
        first = self.snapshots()[0].pk
        now = self.slice_at(6.5, 1, then="discard")["part"]["snapshot"]
        self.assertEqual([s.whole for s in self.snapshots()], [True, True])
        self.assertEqual(np.frombuffer(self.bytes_of(now, first), "<u4", 1)[0], MAGIC)
        forget_all()
        whole = mesh_of_number(now)
        assert_tables_true(whole)

    def test_after_many_differences_one_is_kept_whole(self) -> None:
        most, making.MOST_DIFFERENCES = making.MOST_DIFFERENCES, 2
        self.addCleanup(setattr, making, "MOST_DIFFERENCES", most)
        for revision, height in enumerate((20.1, 20.2, 20.3, 20.4, 20.5, 20.6), 1):
            self.slice_at(height, revision)
        self.assertEqual(
            [s.whole for s in self.snapshots()], [True, False, False, True, False, False, True]
        )
        numbers = mesh_of_number(self.snapshots()[-1].pk).edges.ends
        forget_all()
        np.testing.assert_array_equal(mesh_of_number(self.snapshots()[-1].pk).edges.ends, numbers)

    def test_undone_cuts_and_copies_of_projects_keep_their_differences(self) -> None:
        self.slice_at(20.5, 1)
        self.slice_at(6.25, 2)
        self.post(f"/parts/{self.part.pk}/undo", {"revision": 3})
        self.slice_at(9.3, 4)
        meshes = [mesh_of_number(s.pk) for s in self.snapshots()]
        copy = duplicate_project(self.project.pk)
        forget_all()
        twin = copy.parts.get(name="Pillar")
        for snapshot, mesh in zip(
            Snapshot.objects.filter(part=twin).order_by("number"), meshes, strict=True
        ):
            assert_same_mesh(mesh_of_number(snapshot.pk), mesh)

    def test_shards_are_parts_of_the_project(self) -> None:
        step = {
            "tool": "slice",
            "plane": {"point": [0, 0, 0], "normal": [0, 1, 0]},
            "then": "part",
            "as_parts": True,
            "cap": True,
        }
        cube = add_part(self.project, "Cube again", box(2, 2, 2))
        answer = self.post(f"/parts/{cube.pk}/steps", {"revision": 1, "step": step})
        self.assertEqual(answer.status_code, 201, answer.content)
        names = [
            part["name"]
            for part in self.client.get(f"/api/projects/{self.project.pk}").json()["parts"]
        ]
        self.assertEqual(names[-1], "Cube again, taken off")
        self.assertEqual(answer.json()["part"]["flow"]["borders"], 0)


def awkward_parts() -> list[Mesh]:
    """Parts with all that a mesh may carry: texture places, materials, patches, hard edges,
    borders, three faces on an edge."""
    ring = painted(torus(1.0, 0.35, 40, 24), every=3)
    return [
        ring,
        painted(sheet(3, 2, 30, 20), every=7),
        painted(box(2, 1, 1, (8, 8, 8)), every=5),
        torus(1.0, 0.2, 60, 30),
        *ZOO.values(),
    ]


class AnyStep(SimpleTestCase):
    """What is kept, read back and sent is the mesh that was made, whatever made it."""

    def test_every_tool_is_kept_read_and_sent_to_the_last_bit(self) -> None:
        kept_as: dict[str, list[bool]] = {}
        for seed in range(150):
            source = random.Random(seed)
            first = source.choice(awkward_parts())
            # What was live all the time, and what was read back after every step, as after a
            # restart.
            relived = unpack_mesh(pack_mesh(KeptMesh.of(first)))
            # Small moves of a few faces are what differences once lost: every walk has some.
            tools = source.choice(
                [TOOLS, ("size", "round", "knife", "slice", "extrude", "inset", "loop")]
            )
            for step, before, result in random_walk(first, source, 5, tools):
                told = f"seed {seed}: {step}"
                with self.subTest(told):
                    stored = stored_form(before, result)
                    kept_as.setdefault(step["tool"], []).append(stored.whole)
                    if stored.whole:
                        read = unpack_mesh(stored.arrays)
                    else:
                        read = applied(relived, unpack_difference(stored.arrays))
                        self.assert_sent_alike(
                            before, result.mesh, unpack_difference(stored.arrays)
                        )
                    assert_same_mesh(read.mesh, result.mesh)
                    np.testing.assert_array_equal(read.edge_ends, result.mesh.edges.ends)
                    self.assertEqual(digest_of(read), stored.digest)
                    # The step itself comes out the same on a part that was opened anew.
                    again = apply_step(
                        KeptMesh(relived.mesh, relived.edge_ends).live(), parse_step(step)
                    )
                    self.assertEqual(digest_of(KeptMesh.of(again.mesh)), stored.digest)
                    counted = flow_counts_after(before, result)
                    self.assertEqual(
                        counted,
                        flow_counts(
                            Mesh(**{k: getattr(read.mesh, k) for k in Mesh.__dataclass_fields__})
                        ),
                    )
                    relived = KeptMesh(replace(read.mesh), read.edge_ends)
        for tool in ("knife", "loop", "slice", "size", "round", "extrude", "inset", "outline"):
            self.assertIn(False, kept_as[tool], f"{tool} is never kept as a difference")

    def assert_sent_alike(self, before: Mesh, after: Mesh, change: MeshDifference) -> None:
        drawn, whole = Drawn(mesh_payload(before)), Drawn(mesh_payload(after))
        drawn.change(difference_payload(before, after, change))
        assert_drawn_alike(drawn, whole)

    def test_a_difference_that_does_not_give_its_mesh_back_is_not_kept(self) -> None:
        ring = torus(1.0, 0.3, 80, 40)
        result = apply_step(
            ring,
            parse_step(
                {"tool": "slice", "plane": {"point": [0, 0.01, 0], "normal": [1, 0.2, 0.3]}}
            ),
        )
        self.assertFalse(stored_form(ring, result).whole)
        # An operation that is wrong about what it left alone.
        liar = replace(result, origin=replace(result.origin, kept=np.arange(ring.face_count)))
        stored = stored_form(ring, liar)
        self.assertTrue(stored.whole)
        assert_same_mesh(unpack_mesh(stored.arrays).mesh, result.mesh)

    def test_every_array_counts_in_a_digest(self) -> None:
        mesh = painted(replace(sheet(3, 2, 5, 4)), every=3)
        first = digest_of(KeptMesh.of(mesh))
        others = [
            replace(mesh, points=np.where(mesh.points == 0.0, -0.0, mesh.points)),
            replace(mesh, material=mesh.material[::-1]),
            replace(mesh, patch=mesh.patch[::-1]),
            replace(mesh, hard=mesh.hard[1:]),
            replace(mesh, uv=None),
            replace(mesh, patches=("p", "q", "s")),
        ]
        found = {digest_of(KeptMesh.of(other)) for other in others} | {
            digest_of(KeptMesh(mesh, mesh.edges.ends[::-1]))
        }
        self.assertEqual(len(found | {first}), 8)
        self.assertEqual(digest_of(KeptMesh.of(replace(mesh))), first)
