"""The server as a process: its port, its limits, faults in words below the application, and an end
that loses nothing."""

from __future__ import annotations

import signal
import socket
import time
from types import FrameType
from typing import Any

import orjson
import waitress
from django.conf import settings
from django.db import connection
from waitress.channel import HTTPChannel
from waitress.server import BaseWSGIServer
from waitress.task import ErrorTask

from wertome.data_folder import CannotStart
from workshop.faults import Fault

HOST = "127.0.0.1"
THREADS = 6
# Browsers keep a handful of connections each; whoever opens hundreds and says nothing must not keep
# others out.
CONNECTIONS = 1000
IDLE_SECONDS = 30
# A cut that is being made when the server is told to stop is finished, if it doesn't take longer
# than this.
LAST_WORK_SECONDS = 60.0
# How often the loop looks up.
TURN_SECONDS = 0.25


class _ErrorInWords(ErrorTask):  # type: ignore[misc]
    """What the server refuses before the application sees it, in the words of the application."""

    def execute(self) -> None:
        fault = Fault.of(self.request.error.code)
        body = orjson.dumps(fault.body())
        self.status = f"{fault.status} {self.request.error.reason}"
        self.response_headers.append(("Content-Type", "application/json"))
        self.set_close_on_finish()
        self.content_length = len(body)
        self.write(body)


class _Channel(HTTPChannel):  # type: ignore[misc]
    error_task_class = _ErrorInWords


def port_of(given: str) -> int:
    """A port as the environment names it. Raises CannotStart."""
    if not given.isdecimal() or not 1 <= int(given) <= 65535:
        raise CannotStart(f"PORT is {given[:40]!r}: name a number from 1 to 65535")
    return int(given)


def bound(port: int) -> socket.socket:
    """The door, open before anything else is done. Raises CannotStart if it can't be had."""
    door = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    door.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        door.bind((HOST, port))
        door.listen(128)
    except OSError as trouble:
        door.close()
        reason = str(trouble.strerror or trouble).lower()
        raise CannotStart(
            f"port {port} can't be used ({reason}): stop what uses it, or name another one in PORT"
        ) from trouble
    return door


class Server:
    """Serves until it is told to stop, by Ctrl+C or SIGTERM; then finishes what it is doing."""

    def __init__(self, application: Any, door: socket.socket) -> None:
        self._stopping = False
        self._server: BaseWSGIServer = waitress.create_server(
            application,
            sockets=[door],
            threads=THREADS,
            connection_limit=CONNECTIONS,
            channel_timeout=IDLE_SECONDS,
            cleanup_interval=5,
            asyncore_use_poll=True,
            # Read on while an answer is made: only so it is noticed that whoever asked has gone.
            channel_request_lookahead=1,
            max_request_body_size=settings.PROJECT_BYTES + (1 << 20),
            ident="wertome",
        )
        self._server.channel_class = _Channel

    def run(self) -> None:
        """Serve; return once all is finished."""
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, self._stop)
        while not self._stopping:
            self._turn()
        self._server.accepting = False
        ends = time.monotonic() + LAST_WORK_SECONDS
        while self._busy() and time.monotonic() < ends:
            self._turn()
        self._server.task_dispatcher.shutdown()
        self._server.close()
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")

    def _turn(self) -> None:
        self._server.asyncore.loop(
            timeout=TURN_SECONDS, map=self._server._map, use_poll=True, count=1
        )

    def _busy(self) -> bool:
        """Whether a request is in hand or an answer is not sent in full."""
        return any(
            channel.requests or channel.total_outbufs_len
            for channel in list(self._server.active_channels.values())
        )

    def _stop(self, number: int, frame: FrameType | None) -> None:
        if self._stopping:
            raise SystemExit(1)
        self._stopping = True
