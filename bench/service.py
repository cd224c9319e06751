"""The same work through the service: a server of its own, asked over a socket as the page asks
it."""

from __future__ import annotations

import http.client
import json
import os
import socket
import subprocess
import sys
import time
from typing import Any

import numpy as np

from bench.timing import median, times_once
from cutcore import Mesh
from cutcore.geometry.camera import View


class Service:
    """The server as a process of its own, on the same data, and a connection to it that stays
    open."""

    def __init__(self) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        command = [sys.executable, "manage.py", "serve"]
        self._process = subprocess.Popen(
            command, env={**os.environ, "PORT": str(port)}, stdout=subprocess.PIPE
        )
        assert self._process.stdout is not None
        self._process.stdout.readline()
        self._door = http.client.HTTPConnection("127.0.0.1", port)
        for _ in range(100):
            try:
                self._door.request("GET", "/")
                break
            except OSError:
                time.sleep(0.1)
        answer = self._door.getresponse()
        answer.read()
        self._token = (answer.getheader("Set-Cookie") or "").split("csrftoken=")[1].split(";")[0]

    def stop(self) -> None:
        self._process.kill()
        self._process.wait()

    def ask(self, path: str, body: Any = None) -> bytes:
        """The bytes of an answer."""
        headers = {
            "Content-Type": "application/json",
            "X-CSRFToken": self._token,
            "Cookie": f"csrftoken={self._token}",
        }
        self._door.request(
            "GET" if body is None else "POST",
            f"/api{path}",
            None if body is None else json.dumps(body),
            headers,
        )
        answer = self._door.getresponse()
        data = answer.read()
        assert answer.status < 300, data[:300]
        return data


def loop_preview_seconds(
    service: Service, part: int, view: View, pointer: tuple[float, float]
) -> tuple[float, int]:
    """One preview under the pointer, asked, answered and read; and how many faces the loop
    crosses."""
    body = {"revision": 1, "view": view.model_dump(), "pointer": pointer}
    crossed = len(json.loads(service.ask(f"/parts/{part}/aim/loop", body))["crossed"])
    return median(lambda: service.ask(f"/parts/{part}/aim/loop", body), 25), crossed


def slice_seconds(service: Service, part: int, step: Any) -> tuple[float, float, float]:
    """A slice made, kept for good and answered; the changes sent; and their share of the whole mesh
    in bytes."""
    asked, sent, share = [], [], 0.0
    revision = 1
    before = json.loads(service.ask(f"/parts/{part}"))["snapshot"]
    whole = len(service.ask(f"/meshes/{before}"))
    for _ in range(7):
        answers: list[bytes] = []
        body = {"revision": revision, "step": step}
        asked.append(
            times_once(
                lambda body=body, answers=answers: answers.append(
                    service.ask(f"/parts/{part}/steps", body)
                )
            )
        )
        made = json.loads(answers[0])["part"]
        path = f"/meshes/{made['snapshot']}?since={before}"
        sent.append(
            times_once(lambda path=path, answers=answers: answers.append(service.ask(path)))
        )
        share = len(answers[1]) / whole
        revision = made["revision"] + 1
        service.ask(f"/parts/{part}/undo", {"revision": made["revision"]})
    return float(np.median(asked[1:])), float(np.median(sent[1:])), share


def part_of(mesh: Mesh) -> int:
    """A part that the service knows."""
    from workshop.services.parts import add_part
    from workshop.services.projects import add_project

    return int(add_part(add_project("Bench"), "Bench", mesh).pk)
