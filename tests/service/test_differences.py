"""Cuts kept and sent as differences: the same mesh, down to the numbers of its edges, whichever way it comes."""

from __future__ import annotations

from typing import Any

import numpy as np

from cutcore import Mesh
from cutcore.shapes.box import box
from cutcore.shapes.turned import turned
from tests.guarantees import assert_same_mesh, assert_tables_true
from tests.service.test_parts_api import WithCube
from workshop.mesh_payload import MAGIC, MAGIC_OF_DIFFERENCE
from workshop.models import Snapshot
from workshop.services import make_cut as making
from workshop.services.live_meshes import forget_all, mesh_of_snapshot
from workshop.services.parts import add_part
from workshop.services.projects import duplicate_project


class Drawn:
    """A mesh as a browser holds it, from bytes of either kind."""

    def __init__(self, data: bytes) -> None:
        _, vertices, triangles, edges = np.frombuffer(data, "<u4", 4)
        self.origin = np.frombuffer(data, "<f8", 3, 32)
        at = 56
        self.places = np.frombuffer(data, "<f4", 3 * vertices, at).reshape(-1, 3)
        at += 12 * vertices
        self.triangles = np.frombuffer(data, "<u4", 3 * triangles, at).reshape(-1, 3)
        at += 12 * triangles
        self.owners = np.frombuffer(data, "<u4", triangles, at)
        at += 4 * triangles
        self.edges = np.frombuffer(data, "<u4", 2 * edges, at).reshape(-1, 2)
        self.flags = np.frombuffer(data, "u1", edges, at + 8 * edges)

    def change(self, data: bytes) -> None:
        _, old, new, faces, triangles, changed, further, _ = (int(x) for x in np.frombuffer(data, "<u4", 8))
        assert old == len(self.places)
        at = 32
        places = np.frombuffer(data, "<f8", 3 * new, at).reshape(-1, 3) - self.origin
        at += 24 * new
        replaced = np.frombuffer(data, "<u4", faces, at)
        at += 4 * faces
        corners = np.frombuffer(data, "<u4", 3 * triangles, at).reshape(-1, 3)
        at += 12 * triangles
        owners = np.frombuffer(data, "<u4", triangles, at)
        at += 4 * triangles
        numbers = np.frombuffer(data, "<u4", changed, at)
        at += 4 * changed
        ends = np.frombuffer(data, "<u4", 2 * (changed + further), at).reshape(-1, 2)
        flags = np.frombuffer(data, "u1", changed + further, at + 8 * (changed + further))
        stays = ~np.isin(self.owners, replaced)
        self.places = np.concatenate([self.places, places.astype(np.float32)])
        self.triangles = np.concatenate([self.triangles[stays], corners])
        self.owners = np.concatenate([self.owners[stays], owners])
        self.edges = np.concatenate([self.edges, ends[changed:]])
        self.flags = np.concatenate([self.flags, flags[changed:]])
        self.edges[numbers], self.flags[numbers] = ends[:changed], flags[:changed]


class Differences(WithCube):
    def setUp(self) -> None:
        super().setUp()
        pillar = turned([(3.0 + 0.1 * (k % 3), float(k)) for k in range(40)], 12)
        hard = pillar.edges.ends[::5]
        hard = hard[np.lexsort((hard[:, 1], hard[:, 0]))]
        striped = np.arange(pillar.face_count) % 2
        mesh = Mesh(pillar.points, pillar.starts, pillar.corners, pillar.uv, striped, hard=hard, materials=("a", "b"))
        self.part = add_part(self.project, "Pillar", mesh)

    def snapshots(self) -> list[Snapshot]:
        return list(Snapshot.objects.filter(part=self.part).order_by("number"))

    def slice_at(self, height: float, revision: int, **more: Any) -> Any:
        step = {"tool": "slice", "plane": {"point": [0, height, 0], "normal": [0, 1, 0]}, **more}
        answer = self.cut(revision, step)
        self.assertEqual(answer.status_code, 201, answer.content)
        return answer.json()

    def bytes_of(self, snapshot: int, since: int | None = None) -> bytes:
        return bytes(self.client.get(f"/api/meshes/{snapshot}" + (f"?since={since}" if since else "")).content)

    def test_a_chain_of_differences_gives_every_mesh_again_with_its_numbers(self) -> None:
        for revision, height in enumerate((20.5, 6.25, 20.75, 11.7), 1):
            self.slice_at(height, revision)
        points = mesh_of_snapshot(self.snapshots()[-1].pk).points
        edge = [int(np.argmin(np.linalg.norm(points - [3.0 + 0.1 * (k % 3), k, 0.0], axis=1))) for k in (30, 31)]
        self.assertEqual(self.cut(5, {"tool": "loop", "edge": edge, "at": [0.3], "follow": 0.8}).status_code, 201)
        kept = self.snapshots()
        self.assertEqual([s.whole for s in kept], [True, *[False] * 5])
        self.assertLess(len(kept[1].arrays), len(kept[0].arrays))
        live = [mesh_of_snapshot(s.pk) for s in kept]
        forget_all()
        for snapshot, mesh in zip(reversed(kept), reversed(live), strict=True):
            again = mesh_of_snapshot(snapshot.pk)
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
            np.testing.assert_allclose(drawn.places + drawn.origin, whole.places + whole.origin, atol=1e-5)
            np.testing.assert_array_equal(drawn.edges, whole.edges)
            np.testing.assert_array_equal(drawn.flags, whole.flags)

            def by_face(one: Drawn) -> list[tuple[int, ...]]:
                rows = np.column_stack([one.owners, one.triangles]).astype(int)
                return sorted(map(tuple, rows.tolist()))

            self.assertEqual(by_face(drawn), by_face(whole))
            before = now
        # Another mesh than the one before: all of it comes.
        self.assertEqual(np.frombuffer(self.bytes_of(before, first), "<u4", 1)[0], MAGIC)

    def test_what_renumbers_or_changes_much_is_kept_and_sent_whole(self) -> None:
        first = self.snapshots()[0].pk
        now = self.slice_at(6.5, 1, then="discard")["part"]["snapshot"]
        self.assertEqual([s.whole for s in self.snapshots()], [True, True])
        self.assertEqual(np.frombuffer(self.bytes_of(now, first), "<u4", 1)[0], MAGIC)
        forget_all()
        whole = mesh_of_snapshot(now)
        assert_tables_true(whole)

    def test_after_many_differences_one_is_kept_whole(self) -> None:
        most, making.MOST_DIFFERENCES = making.MOST_DIFFERENCES, 2
        self.addCleanup(setattr, making, "MOST_DIFFERENCES", most)
        for revision, height in enumerate((20.1, 20.2, 20.3, 20.4, 20.5, 20.6), 1):
            self.slice_at(height, revision)
        self.assertEqual([s.whole for s in self.snapshots()], [True, False, False, True, False, False, True])
        numbers = mesh_of_snapshot(self.snapshots()[-1].pk).edges.ends
        forget_all()
        np.testing.assert_array_equal(mesh_of_snapshot(self.snapshots()[-1].pk).edges.ends, numbers)

    def test_undone_cuts_and_copies_of_projects_keep_their_differences(self) -> None:
        self.slice_at(20.5, 1)
        self.slice_at(6.25, 2)
        self.post(f"/parts/{self.part.pk}/undo", {"revision": 3})
        self.slice_at(9.3, 4)
        meshes = [mesh_of_snapshot(s.pk) for s in self.snapshots()]
        copy = duplicate_project(self.project.pk)
        forget_all()
        twin = copy.parts.get(name="Pillar")
        for snapshot, mesh in zip(Snapshot.objects.filter(part=twin).order_by("number"), meshes, strict=True):
            assert_same_mesh(mesh_of_snapshot(snapshot.pk), mesh)

    def test_shards_are_parts_of_the_project(self) -> None:
        step = {"tool": "slice", "plane": {"point": [0, 0, 0], "normal": [0, 1, 0]}, "then": "part", "as_parts": True, "cap": True}
        cube = add_part(self.project, "Cube again", box(2, 2, 2))
        answer = self.post(f"/parts/{cube.pk}/steps", {"revision": 1, "step": step})
        self.assertEqual(answer.status_code, 201, answer.content)
        names = [part["name"] for part in self.client.get(f"/api/projects/{self.project.pk}").json()["parts"]]
        self.assertEqual(names[-1], "Cube again, taken off")
        self.assertEqual(answer.json()["part"]["flow"]["borders"], 0)
