"""The real server as a process of its own, on a folder of its own, and a client with the page's
token."""

from __future__ import annotations

import json
import os
import signal
import socket
import urllib.request
from functools import cache
from http.cookiejar import CookieJar
from typing import Any

from tests.warm_start import WarmStart


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
    return port


@cache
def _warm() -> WarmStart:
    return WarmStart()


def told(command: str, data: str, warm: WarmStart) -> str:
    """What a command of `manage.py` prints, of a folder, with a line more if it does not end well."""
    process, printed = warm.start(command, {**os.environ, "WERTOME_DATA": data})
    with printed:
        words = printed.read()
    ended = warm.wait(process)
    return words if ended == 0 else f"{words}ended with {ended}\n"


class Server:
    """The real server on a free port, and a client with the page's token."""

    def __init__(self, data: str, port: int | None = None, warm: WarmStart | None = None) -> None:
        self.port = free_port() if port is None else port
        self._warm = warm or _warm()
        environment = {**os.environ, "WERTOME_DATA": data, "PORT": str(self.port)}
        self.process, self._printed = self._warm.start("serve", environment)
        self._ended: int | None = None
        self.jar = CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.lines: list[str] = []
        # What it has to say before it serves, and then where it is.
        while not self.lines or "http://" not in self.lines[-1]:
            line = self._printed.readline()
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
        if self._ended is None:
            os.kill(self.process, signal.SIGKILL)
        self._wait()

    def stop(self) -> int:
        """Ask it to end, and wait for that; gives what it ends with."""
        os.kill(self.process, signal.SIGTERM)
        return self._wait()

    def _wait(self) -> int:
        if self._ended is None:
            self._printed.close()
            self._ended = self._warm.wait(self.process)
        return self._ended
