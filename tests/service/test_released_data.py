"""Data of every released version: it opens in this one, tells what was done, verifies, and goes on.
The files in tests/data were written by these versions; a new one is put beside them with a release."""

from __future__ import annotations

import lzma
import os
import subprocess
import sys
import tempfile
from pathlib import Path

from django.test import SimpleTestCase

from cutcore.version import VERSION
from tests.server_process import Server
from tests.warm_start import ROOT

RELEASED = sorted((ROOT / "tests" / "data").glob("*.sqlite3.xz"))


class Released(SimpleTestCase):
    def test_all_of_it_opens_verifies_and_goes_on(self) -> None:
        self.assertIn(f"{VERSION}.sqlite3.xz", [one.name for one in RELEASED])
        self.assertGreater(len(RELEASED), 1)
        for file in RELEASED:
            with self.subTest(file.name), tempfile.TemporaryDirectory() as folder:
                database = Path(folder) / "wertome.sqlite3"
                database.write_bytes(lzma.decompress(file.read_bytes()))
                server = Server(folder)
                self.addCleanup(server.kill)
                self.look(server)
                server.stop()
                verified = subprocess.run(
                    [sys.executable, "manage.py", "verify"],
                    cwd=ROOT,
                    env={**os.environ, "WERTOME_DATA": folder},
                    capture_output=True,
                    text=True,
                )
                self.assertEqual(verified.returncode, 0, verified.stdout + verified.stderr)

    def look(self, server: Server) -> None:
        """What every version was left with: a slice and a gauge of the housing, two faces of the deck
        deleted and a flip undone, a second hull."""
        (project,) = server.ask("/projects")
        parts = {part["name"]: server.ask(f"/parts/{part['id']}") for part in project["parts"]}
        self.assertEqual(len(parts), 4)
        housing, deck = parts["Lantern housing"], parts["Deck plate"]
        done = [(step["tool"], step["applied"]) for step in housing["steps"]]
        self.assertEqual(done, [("slice", True), ("gauge", True)])
        done = [(step["tool"], step["applied"]) for step in deck["steps"]]
        self.assertEqual(done, [("delete", True), ("flip", False)])
        sizes = [deck["flow"][kind] for kind in ("triangles", "quads", "ngons")]
        self.assertEqual(sum(sizes), 27)
        for part in parts.values():
            self.assertTrue(server.ask(f"/meshes/{part['snapshot']}"))
        moved = server.ask(f"/parts/{deck['id']}/redo", {"revision": deck["revision"]})
        self.assertEqual([step["applied"] for step in moved["steps"]], [True, True])
        # What was done last, as far as that version noted it, is undone, and done again.
        for way in ("undo", "redo"):
            (turned,) = server.ask(f"/projects/{project['id']}/{way}", {})["turned"]
            self.assertTrue(turned["words"])
