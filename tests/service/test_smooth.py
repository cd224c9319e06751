"""The smooth form over the service: whole, as what a cut changed, as planned, of a pick alone; after a
restart, of states that are gone, and too large."""

from __future__ import annotations

import json
import time
from typing import Any
from unittest import mock

import numpy as np
from django.test import TestCase

from cutcore import Mesh
from cutcore.previews.smooth_form import smooth_form
from cutcore.shapes.torus import torus
from workshop.services import live_meshes, smooth_forms
from workshop.services.live_meshes import mesh_of
from workshop.services.parts import add_part, part_at
from workshop.services.projects import add_project


class Form:
    """A smooth form as an answer tells it, put together as the page does."""

    def __init__(self, data: bytes, before: Form | None = None) -> None:
        magic, corners, grid, runs, fresh, told, *_ = np.frombuffer(data, "<u4", 8).tolist()
        assert magic == 0x574D5332
        self.origin = np.frombuffer(data, "<f8", 3, 32)
        at = 56
        taken = np.frombuffer(data, "<u4", 3 * runs, at).reshape(-1, 3)
        at += taken.nbytes
        anew = np.frombuffer(data, "<u4", fresh, at)
        at += anew.nbytes
        size = fresh * grid * 3
        rows = np.frombuffer(data, "<f4", 2 * size, at).reshape(2, fresh, grid, 3)
        at += rows.nbytes
        self.moves = np.frombuffer(data, "<f4", told, at)
        assert at + self.moves.nbytes == len(data)
        self.fresh = fresh
        self.rows = np.full((2, corners, grid, 3), np.nan, "<f4")
        for to, source, count in taken.tolist():
            assert before is not None
            self.rows[:, to : to + count] = before.rows[:, source : source + count]
            # What was told before may be relative to another origin.
            self.rows[0, to : to + count] += (before.origin - self.origin).astype("<f4")
        self.rows[:, anew] = rows

    def assert_that_of(self, mesh: Mesh) -> None:
        """Raise AssertionError unless it is the smooth form of a mesh."""
        wanted = smooth_form(mesh, origin=self.origin)
        np.testing.assert_allclose(self.rows[0], wanted.places, atol=1e-6 * mesh.diagonal)
        np.testing.assert_allclose(self.rows[1], wanted.normals, atol=1e-4)


class Smooth(TestCase):
    def setUp(self) -> None:
        self.restart()
        self.mesh = torus(3.0, 1.0, 50, 40)
        self.part = add_part(add_project("One"), "Ring", self.mesh)
        self.cut = self.cut_at(900)

    def cut_at(self, number: int) -> dict[str, Any]:
        """A knife line from an edge into the middle of a face beside it."""
        face = int(self.mesh.edges.faces[number, 0])
        inside = self.mesh.points[self.mesh.face(face)].mean(axis=0).tolist()
        edge = {"edge": self.mesh.edges.ends[number].tolist(), "t": 0.3}
        points = [edge, {"face": face, "at": inside}]
        return {"tool": "knife", "lines": [{"points": points}], "open_ends": "extend"}

    def restart(self) -> None:
        live_meshes.forget_all()
        smooth_forms.forget_forms()

    def get(self, snapshot: int, **since: int) -> bytes:
        answer = self.client.get(f"/api/meshes/{snapshot}/smooth", since)
        self.assertEqual(answer.status_code, 200, answer.content[:200])
        return answer.content

    def post(self, way: str, body: dict[str, Any], status: int = 200) -> Any:
        answer = self.client.post(
            f"/api/parts/{self.part.pk}/{way}",
            json.dumps({"revision": 1, **body}),
            content_type="application/json",
        )
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer

    def make(self, revision: int = 1) -> int:
        made = self.post("steps", {"revision": revision, "step": self.cut}, 201).json()
        return int(made["part"]["snapshot"])

    def test_after_a_cut_only_what_it_touched_is_sent_and_it_is_right(self) -> None:
        first = part_at(self.part.pk)
        snapshot = live_meshes.state_of(first).snapshot
        whole = Form(data := self.get(snapshot))
        whole.assert_that_of(self.mesh)
        made = self.make()
        change = self.get(made, since=snapshot)
        self.assertLess(len(change), 0.1 * len(data))
        after = mesh_of(part_at(self.part.pk))
        Form(change, whole).assert_that_of(after)
        # The same once more, from what is in memory now; and of the state before, undone.
        Form(self.get(made, since=snapshot), whole).assert_that_of(after)
        back = self.get(snapshot, since=made)
        self.assertLess(len(back), 0.1 * len(data))
        Form(back, Form(change, whole)).assert_that_of(self.mesh)
        # After a restart nothing is in memory: it is told as a whole.
        self.restart()
        again = Form(self.get(made, since=snapshot))
        again.assert_that_of(after)
        self.assertEqual(again.fresh, len(after.corners))
        # What the asker has is not there any more, or was never the one before.
        for gone in (10**6, made):
            Form(self.get(made, since=gone)).assert_that_of(after)
        self.assertEqual(self.client.get("/api/meshes/999999/smooth").status_code, 404)

    def test_what_was_told_before_a_restart_fits_what_is_told_after_it(self) -> None:
        snapshot = live_meshes.state_of(self.part).snapshot
        first = Form(self.get(snapshot))
        # A vertex far out: the box, and with it the origin of whoever begins anew, is another.
        out = {"way": "shift", "by": [2.5, 0, 0]}
        cut, self.cut = self.cut, {"tool": "move", "vertices": [0], "move": out}
        second = Form(self.get(moved := self.make(), since=snapshot), first)
        self.restart()
        anew = Form(self.get(moved))
        self.assertGreater(np.abs(anew.origin - second.origin).max(), 0.1)
        self.cut = cut
        change = self.get(self.make(2), since=moved)
        third = Form(change, second)
        self.assertLess(third.fresh, len(self.mesh.corners))
        third.assert_that_of(mesh_of(part_at(self.part.pk)))
        told = self.post("planned-smooth", {"revision": 3, "step": self.cut_at(2500)})
        Form(told.content, third)

    def test_a_plan_is_told_as_it_would_be_made_with_how_far_the_form_moves(self) -> None:
        snapshot = live_meshes.state_of(self.part).snapshot
        whole = Form(self.get(snapshot))
        quiet = self.post("planned-smooth", {"step": self.cut})
        most = float(quiet["X-Moves-Most"])
        self.assertGreater(most, 0.0)
        self.assertEqual(len(Form(quiet.content, whole).moves), 0)
        told = Form(self.post("planned-smooth", {"step": self.cut, "moves": True}).content, whole)
        self.assertEqual(len(told.moves), 9 * told.fresh)
        self.assertAlmostEqual(float(told.moves.max()), most, places=5)
        # Nothing was made; made, it is what was told.
        self.assertEqual(part_at(self.part.pk).revision, 1)
        self.make()
        told.assert_that_of(mesh_of(part_at(self.part.pk)))
        self.post("planned-smooth", {"step": self.cut}, 409)
        impossible = {"tool": "inset", "faces": [0], "distance": 99.0}
        self.post("planned-smooth", {"revision": 2, "step": impossible}, 422)

    def test_a_part_that_is_too_large_is_refused_in_words_and_its_pick_shown(self) -> None:
        snapshot = live_meshes.state_of(self.part).snapshot
        with mock.patch("cutcore.previews.smooth_form.MOST_QUADS", 4000):
            answer = self.client.get(f"/api/meshes/{snapshot}/smooth")
            self.assertEqual(answer.status_code, 422)
            self.assertIn("pick some", answer.json()["words"])
            self.post("planned-smooth", {"step": self.cut}, 422)
            alone = Form(self.post("smooth-pick", {"faces": [5, 6, 7]}).content)
            self.assertEqual(alone.rows.shape[1], 12)
        with mock.patch("cutcore.previews.smooth_form.MOST_QUADS", 8000):
            self.assertEqual(Form(self.get(snapshot)).rows.shape[2], 4, "one round")
        self.post("smooth-pick", {"faces": [10**6]}, 422)
        self.post("smooth-pick", {"faces": []}, 422)

    def test_memory_is_bounded_and_a_local_cut_costs_little(self) -> None:
        big = add_part(self.part.project, "Large", torus(3.0, 1.0, 125, 80))
        self.part, self.mesh = big, mesh_of(big)
        snapshot = live_meshes.state_of(big).snapshot
        clock = time.process_time()
        self.get(snapshot)
        whole = time.process_time() - clock
        shares = []
        for revision in range(1, 6):
            self.cut = self.cut_at(3000 * revision)
            made = self.make(revision)
            clock = time.process_time()
            self.get(made, since=snapshot)
            shares.append((time.process_time() - clock) / whole)
            snapshot = made
        self.assertLess(float(np.median(shares)), 0.25)
        self.assertLessEqual(smooth_forms.bytes_kept(), smooth_forms.ROOM_IN_BYTES)
        self.assertGreater(smooth_forms.bytes_kept(), 5 * 8 * 10**6)
