"""The real server as a process of its own, on a folder of its own, and a client with the page's
token."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import urllib.request
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
    return port


class Server:
    """`manage.py serve` on a free port, and a client with the page's token."""

    def __init__(self, data: str, port: int | None = None) -> None:
        self.port = free_port() if port is None else port
        environment = {**os.environ, "WERTOME_DATA": data, "PORT": str(self.port)}
        command = [sys.executable, "manage.py", "serve"]
        self.process = subprocess.Popen(
            command,
            cwd=ROOT,
            env=environment,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
        )
        self.jar = CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        assert self.process.stdout is not None
        self.lines: list[str] = []
        # What it has to say before it serves, and then where it is.
        while not self.lines or "http://" not in self.lines[-1]:
            line = self.process.stdout.readline()
            assert line, f"the server did not start: {self.lines}"
            self.lines.append(line)
        self.opener.open(f"http://127.0.0.1:{self.port}/").close()

    def ask(self, path: str, body: dict[str, Any] | None = None) -> Any:
        token = next(cookie.value for cookie in self.jar if cookie.name == "csrftoken")
        data = None if body is None else json.dumps(body).encode()
        headers = {"Content-Type": "application/json", "X-CSRFToken": token or ""}
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}/api{path}", data, headers)
        with self.opener.open(request) as answer:
            content = answer.read()
            return json.loads(content) if "json" in answer.headers["Content-Type"] else content

    def kill(self) -> None:
        """End it at once, as a power cut would."""
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        assert self.process.stdout is not None
        self.process.stdout.close()

    def stop(self) -> int:
        """Ask it to end, and wait for that; gives what it ends with."""
        self.process.terminate()
        ended = self.process.wait(timeout=90)
        assert self.process.stdout is not None
        self.process.stdout.close()
        return ended
