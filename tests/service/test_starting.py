"""Starting and stopping: one line and a way out where it can't start, nothing lost where it is
stopped."""

from __future__ import annotations

import json
import os
import socket
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from pathlib import Path
from typing import Any

from django.test import SimpleTestCase

from tests.campaign import SECONDS, limited
from tests.server_process import Server, free_port
from tests.warm_start import ROOT
from wertome.data_folder import CannotStart, check_database, data_folder, secret_key
from workshop.server import port_of

STEP = {"tool": "slice", "plane": {"point": [0, 60.5, 0], "normal": [0, 1, 0.1]}}


class CannotBegin(SimpleTestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def refuse(self, words: str, **environment: str) -> None:
        """Start the server; it must end at once with one line that has these words."""
        settings = {
            **os.environ,
            "WERTOME_DATA": str(self.folder),
            "PORT": str(free_port()),
            **environment,
        }
        ended = subprocess.run(
            [sys.executable, "manage.py", "serve"],
            cwd=ROOT,
            env=settings,
            capture_output=True,
            text=True,
            timeout=60,
        )
        self.assertEqual((ended.returncode, ended.stdout), (1, ""))
        self.assertEqual(len(ended.stderr.splitlines()), 1, ended.stderr)
        self.assertTrue(ended.stderr.startswith("wertome: "), ended.stderr)
        self.assertIn(words, ended.stderr)

    def test_a_port_that_is_taken_is_told_before_anything_is_touched(self) -> None:
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            self.refuse("address already in use", PORT=str(taken.getsockname()[1]))
        self.assertFalse((self.folder / "wertome.sqlite3").exists())

    def test_what_is_no_database_is_left_as_it_is(self) -> None:
        file = self.folder / "wertome.sqlite3"
        file.write_bytes(b"a diary, page one\n" * 200)
        self.refuse("is no database")
        self.assertEqual(file.read_bytes(), b"a diary, page one\n" * 200)

    def test_a_database_of_a_newer_version_is_left_as_it_is(self) -> None:
        Server(str(self.folder)).stop()
        file = self.folder / "wertome.sqlite3"
        with closing(sqlite3.connect(file)) as database:
            database.execute(
                "insert into django_migrations (app, name, applied) values ('workshop', '9001_from_tomorrow', '2030-01-01')"
            )
            database.commit()
            database.execute("pragma wal_checkpoint(truncate)")
        before = file.read_bytes()
        self.refuse("9001_from_tomorrow")
        self.assertEqual(file.read_bytes(), before)

    def test_a_full_disk_is_told(self) -> None:
        # A disk on which no file may grow beyond a few pages.
        limited = "import resource, sys; resource.setrlimit(resource.RLIMIT_FSIZE, (20000, 20000)); sys.argv = ['manage.py', 'serve']; "
        run = "import runpy; runpy.run_path('manage.py', run_name='__main__')"
        settings = {**os.environ, "WERTOME_DATA": str(self.folder), "PORT": str(free_port())}
        ended = subprocess.run(
            [sys.executable, "-c", limited + run],
            cwd=ROOT,
            env=settings,
            capture_output=True,
            text=True,
            timeout=60,
        )
        self.assertEqual((ended.returncode, len(ended.stderr.splitlines())), (1, 1), ended.stderr)
        self.assertIn("can't be brought up to date", ended.stderr)

    def test_ports_and_folders_that_can_not_be(self) -> None:
        for port in ("", "abc", "-1", "0", "65536", "80.5", "9" * 400):
            with self.assertRaises(CannotStart) as refused:
                port_of(port)
            self.assertLess(len(str(refused.exception)), 200)
        self.assertEqual(port_of("8600"), 8600)
        file = self.folder / "file"
        file.write_text("x")
        for place, words in (
            (file, "is a file"),
            (file / "below", "can't be made"),
            (Path("/proc/nothing/here"), "can't be made"),
        ):
            with self.assertRaisesRegex(CannotStart, words):
                data_folder(place)
        self.assertEqual(data_folder(self.folder / "a" / "b"), self.folder / "a" / "b")

    def test_an_empty_key_is_made_anew_and_another_programs_database_is_left_alone(self) -> None:
        (self.folder / "secret.key").write_text("\n")
        key = secret_key(self.folder)
        self.assertGreater(len(key), 40)
        self.assertEqual(secret_key(self.folder), key)
        self.assertEqual((self.folder / "secret.key").stat().st_mode & 0o777, 0o600)
        with closing(sqlite3.connect(self.folder / "wertome.sqlite3")) as database:
            database.execute("create table recipes (name text)")
        with self.assertRaisesRegex(CannotStart, "another program"):
            check_database(self.folder, set())


class Running(SimpleTestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.data = folder.name
        self.server = Server(self.data)
        self.addCleanup(self.server.kill)

    def test_a_cut_in_hand_is_finished_and_answered_when_the_server_is_told_to_stop(self) -> None:
        ring = {"shape": "torus", "diameter": 100, "thickness": 30, "around": 500, "across": 200}
        part = self.server.ask("/projects/1/shapes", {"shape": ring})["id"]
        self.server.ask(f"/parts/{part}")
        step = {"tool": "gauge", "axis": "y", "widths": [0.1] * 3}
        answers: list[Any] = []
        asking = threading.Thread(
            target=lambda: answers.append(
                self.server.ask(f"/parts/{part}/steps", {"revision": 1, "step": step})
            )
        )
        asking.start()
        time.sleep(0.15)
        self.assertEqual(self.server.stop(), 0)
        asking.join()
        self.assertEqual(answers[0]["part"]["revision"], 2)
        # What stood in the log is in the database itself.
        log = Path(self.data) / "wertome.sqlite3-wal"
        self.assertEqual(log.stat().st_size if log.exists() else 0, 0)
        again = Server(self.data)
        self.addCleanup(again.kill)
        self.assertEqual(again.ask(f"/parts/{part}")["revision"], 2)
        self.assertEqual(again.stop(), 0)

    def test_hundreds_that_say_nothing_do_not_keep_others_out(self) -> None:
        idle = [socket.create_connection(("127.0.0.1", self.server.port)) for _ in range(150)]
        try:
            for one in idle[:50]:
                one.sendall(
                    b"POST /api/projects HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 1000\r\n\r\n{"
                )
            # Answered while the idle ones still hold their lines.
            with limited(SECONDS):
                self.assertEqual(self.server.ask("/projects")[0]["name"], "Skerry Light")
        finally:
            for one in idle:
                one.close()

    def test_what_is_refused_below_the_application_is_in_words_too(self) -> None:
        def said(request: bytes) -> tuple[bytes, Any]:
            with socket.create_connection(("127.0.0.1", self.server.port)) as door:
                door.sendall(request)
                door.settimeout(10)
                answer = b""
                while chunk := door.recv(65536):
                    answer += chunk
            head, _, body = answer.partition(b"\r\n\r\n")
            return head.split(b"\r\n")[0], json.loads(body)

        vast = said(
            b"POST /api/projects HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 9000000000\r\n\r\n"
        )
        self.assertEqual((vast[0].split()[1], vast[1]["code"]), (b"413", "too-large"))
        broken = said(b"GET /api/pro jects HTTP/1.1 x\r\nHost: 127.0.0.1\r\n\r\n")
        self.assertEqual((broken[0].split()[1], broken[1]["code"]), (b"400", "bad-request"))

    def test_two_servers_that_start_at_once_on_an_empty_folder_make_one_sample(self) -> None:
        with tempfile.TemporaryDirectory() as empty, ThreadPoolExecutor(2) as both:
            one, two = both.map(Server, (empty, empty))
            self.assertEqual([len(server.ask("/projects")) for server in (one, two)], [1, 1])
            self.assertEqual((one.stop(), two.stop()), (0, 0))

    def test_two_servers_on_one_folder_see_each_others_work(self) -> None:
        other = Server(self.data)
        self.addCleanup(other.kill)
        made = self.server.ask("/parts/1/steps", {"revision": 1, "step": STEP})
        self.assertEqual(other.ask("/parts/1")["revision"], 2)
        self.assertEqual(
            other.ask(f"/meshes/{made['part']['snapshot']}"),
            self.server.ask(f"/meshes/{made['part']['snapshot']}"),
        )
        self.assertEqual((other.stop(), self.server.stop()), (0, 0))
