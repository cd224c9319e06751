"""The real server as a process: started on its own folder, killed without warning, started
again."""

from __future__ import annotations

import contextlib
import sqlite3
import tempfile
import urllib.error
import urllib.request
from pathlib import Path

from django.test import SimpleTestCase

from tests.server_process import Server

STEP = {"tool": "slice", "plane": {"point": [0, 60.5, 0], "normal": [0, 1, 0.1]}}


class Crash(SimpleTestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.data = folder.name

    def start(self) -> Server:
        server = Server(self.data)
        self.addCleanup(server.kill)
        return server

    def test_a_made_cut_outlives_a_killed_server_and_can_still_be_undone(self) -> None:
        first = self.start()
        self.assertIn(f"http://127.0.0.1:{first.port}/", first.lines[-1])
        self.assertEqual([p["name"] for p in first.ask("/projects")], ["Skerry Light"])
        original = first.ask("/parts/1/export.obj")
        first.ask("/parts/1/steps", {"revision": 1, "step": STEP})
        cut = first.ask("/parts/1/export.obj")
        self.assertNotEqual(cut, original)
        first.kill()

        second = self.start()
        part = second.ask("/parts/1")
        self.assertEqual(
            (part["revision"], len(part["steps"]), second.ask("/parts/1/export.obj")), (2, 1, cut)
        )
        self.assertEqual(second.ask("/parts/1/undo", {"revision": 2})["can_redo"], True)
        self.assertEqual(second.ask("/parts/1/export.obj"), original)
        second.kill()

        third = self.start()
        third.ask("/parts/1/redo", {"revision": 3})
        self.assertEqual(third.ask("/parts/1/export.obj"), cut)
        # The sample was added once.
        self.assertEqual(len(third.ask("/projects")), 1)
        third.kill()

    def test_a_chain_of_small_cuts_outlives_a_killed_server_with_its_numbers(self) -> None:
        first = self.start()
        ring = [1 + 28 * 9, 1 + 28 * 10]
        for revision in range(1, 4):
            # One quad after another of the same ring: each is kept as what it changed in the mesh
            # before it.
            step = {
                "tool": "loop",
                "edge": ring,
                "at": [0.2 * revision],
                "limit": [28 * 10 + 3 * revision],
            }
            step["edge"] = [v + 3 * revision for v in ring]
            first.ask("/parts/1/steps", {"revision": revision, "step": step})
        cut, drawn = (
            first.ask("/parts/1/export.obj"),
            first.ask(f"/meshes/{first.ask('/parts/1')['snapshot']}"),
        )
        first.kill()
        with contextlib.closing(sqlite3.connect(Path(self.data) / "wertome.sqlite3")) as database:
            whole = [
                bool(row[0])
                for row in database.execute(
                    "select whole from workshop_snapshot where part_id = 1 order by number"
                )
            ]
        self.assertEqual(whole, [True, False, False, False])

        second = self.start()
        part = second.ask("/parts/1")
        self.assertEqual((part["revision"], second.ask("/parts/1/export.obj")), (4, cut))
        # What is drawn is the same to the byte: edges that a browser has picked keep their numbers.
        self.assertEqual(second.ask(f"/meshes/{part['snapshot']}"), drawn)
        for revision in (4, 5, 6):
            second.ask("/parts/1/undo", {"revision": revision})
        self.assertEqual(second.ask("/parts/1")["can_undo"], False)
        second.kill()

    def test_vertices_that_were_moved_lie_where_they_were_put_after_a_restart(self) -> None:
        first = self.start()
        ring = {"shape": "torus", "diameter": 100, "thickness": 30, "around": 60, "across": 30}
        part = first.ask("/projects/1/shapes", {"shape": ring})["id"]
        steps = [
            {"tool": "size", "faces": [0, 1], "move": [0, 5, 0]},
            {"tool": "extrude", "faces": [40], "distance": 3.0},
            {"tool": "round", "vertices": [200, 201, 202, 230, 231, 232], "diameter": 9.0},
        ]
        for revision, step in enumerate(steps, 1):
            first.ask(f"/parts/{part}/steps", {"revision": revision, "step": step})
        shaped = first.ask(f"/parts/{part}/export.obj")
        first.kill()
        with contextlib.closing(sqlite3.connect(Path(self.data) / "wertome.sqlite3")) as database:
            rows = database.execute(
                "select whole from workshop_snapshot where part_id = ? order by number", [part]
            )
            self.assertEqual([bool(row[0]) for row in rows], [True, False, False, False])
        second = self.start()
        self.assertEqual(second.ask(f"/parts/{part}/export.obj"), shaped)
        second.kill()

    def test_the_folder_is_private_and_only_this_machine_is_served(self) -> None:
        server = self.start()
        key = Path(self.data) / "secret.key"
        self.assertEqual(key.stat().st_mode & 0o777, 0o600)
        self.assertGreater(len(key.read_text()), 40)
        listening = [
            line.split()[1]
            for line in Path("/proc/net/tcp").read_text().splitlines()[1:]
            if line.split()[3] == "0A"
        ]
        self.assertIn(f"0100007F:{server.port:04X}", listening)
        self.assertNotIn(f"00000000:{server.port:04X}", listening)
        with self.assertRaises(urllib.error.HTTPError) as refused:
            urllib.request.urlopen(
                urllib.request.Request(
                    f"http://127.0.0.1:{server.port}/api/projects", headers={"Host": "elsewhere"}
                )
            )
        self.assertEqual(refused.exception.code, 400)
        refused.exception.close()
        server.kill()

    def test_two_run_side_by_side_on_folders_of_their_own(self) -> None:
        with tempfile.TemporaryDirectory() as other:
            one, two = self.start(), Server(other)
            self.addCleanup(two.kill)
            one.ask("/parts/1/steps", {"revision": 1, "step": STEP})
            self.assertEqual(
                (one.ask("/parts/1")["revision"], two.ask("/parts/1")["revision"]), (2, 1)
            )
            one.kill()
            two.kill()
