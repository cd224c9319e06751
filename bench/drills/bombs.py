"""Other people's worst files, sent to a server that somebody is working with: each is answered in
time, in words or with a part, within bounds of memory; and previews go on meanwhile.

`python -m bench.drills.bombs`
"""

from __future__ import annotations

import http.client
import json
import struct
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from bench.drills.memory import resident
from cutcore import write_part
from cutcore.formats.budget import SECONDS
from cutcore.shapes.torus import torus
from tests.server_process import Server

# What sending a file and making a part of it may take beside the reading.
SENDING_SECONDS = 2.0
MOST_MEGABYTES_MORE = 1024 + 400
PREVIEW_SECONDS = 0.1
VIEW = {
    "eye": [0, 150, 350],
    "target": [0, 60, 0],
    "up": [0, 1, 0],
    "projection": "perspective",
    "fov": 35,
    "size": [900, 700],
}

_SVG = b'<svg xmlns="http://www.w3.org/2000/svg">%b</svg>'


def _ply(vertices: int, faces: int, kind: str) -> bytes:
    places = "".join(f"property float {c}\n" for c in "xyz")
    lists = f"element face {faces}\nproperty list uchar int vertex_indices\n"
    return (
        f"ply\nformat {kind} 1.0\nelement vertex {vertices}\n{places}{lists}end_header\n".encode()
    )


def _glb(scene: dict[str, Any], blob: bytes = b"") -> bytes:
    text = json.dumps({"asset": {"version": "2.0"}, **scene}).encode()
    text += b" " * (-len(text) % 4)
    head = struct.pack("<5I", 0x46546C67, 2, 28 + len(text) + len(blob), len(text), 0x4E4F534A)
    return head + text + struct.pack("<2I", len(blob), 0x004E4942) + blob


def _ragged() -> bytes:
    rows = struct.pack("<B3i", 3, 0, 1, 2) + struct.pack("<B4i", 4, 0, 1, 2, 3)
    return (
        _ply(4, 4_000_000, "binary_little_endian")
        + np.zeros((4, 3), "<f4").tobytes()
        + rows * 2_000_000
    )


def _one_mesh_often() -> bytes:
    places = np.random.default_rng(1).random((30_000, 3)).astype("<f4").tobytes()
    accessor = {"bufferView": 0, "componentType": 5126, "count": 30_000, "type": "VEC3"}
    scene = {
        "scene": 0,
        "scenes": [{"nodes": list(range(4000))}],
        "nodes": [{"mesh": 0}] * 4000,
        "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
        "accessors": [accessor],
        "bufferViews": [{"byteLength": len(places)}],
        "buffers": [{"byteLength": len(places)}],
    }
    return _glb(scene, places)


def _nested_uses() -> bytes:
    layers = [b'<g id="a0"><rect width="1" height="1"/></g>']
    layers += [
        b'<g id="a%d">%b</g>' % (k, b'<use href="#a%d"/>' % (k - 1) * 10) for k in range(1, 9)
    ]
    return _SVG % b"".join(layers)


def _vast_picture() -> bytes:
    """A PNG that says it has 2^31 pixels."""
    import zlib

    def chunk(kind: bytes, data: bytes) -> bytes:
        return (
            struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
        )

    head = struct.pack(">2I5B", 65_536, 32_768, 1, 0, 0, 0, 0)
    rows = zlib.compress(bytes(8193 * 2000), 9)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", rows) + chunk(b"IEND", b"")


@dataclass(frozen=True)
class Bomb:
    """A file, where it is sent, and whether it is one that has to be read."""

    name: str
    path: str
    data: Callable[[], bytes]
    is_read: bool = False


_TRIANGLE = b"v 0 0 0\nv 1 0 0\nv 0 1 0\n"
BOMBS = (
    Bomb(
        "million.stl",
        "parts",
        lambda: write_part("a.stl", torus(1.0, 0.3, 1000, 500)),
        is_read=True,
    ),
    Bomb(
        "million quads.ply",
        "parts",
        lambda: write_part("a.ply", torus(1.0, 0.3, 1000, 1000)),
        is_read=True,
    ),
    Bomb(
        "half a million quads.obj",
        "parts",
        lambda: write_part("a.obj", torus(1.0, 0.3, 1000, 500)),
        is_read=True,
    ),
    Bomb("faces.obj", "parts", lambda: _TRIANGLE + b"f 1 2 3\n" * 7_700_000),
    Bomb("broken lines.obj", "parts", lambda: _TRIANGLE + b"f 1 2 9\n" * 7_700_000),
    Bomb("ragged.ply", "parts", _ragged),
    Bomb(
        "long.ply",
        "parts",
        lambda: _ply(4, 7_000_000, "ascii") + b"0 0 0\n" * 4 + b"3 0 1 2\n" * 7_000_000,
    ),
    Bomb(
        "nodes.glb", "parts", lambda: _glb({"nodes": [{}] * 2_000_000, "scenes": [{"nodes": [0]}]})
    ),
    Bomb("one mesh often.glb", "parts", _one_mesh_often),
    Bomb("lists.glb", "parts", lambda: _glb({"nodes": [[]] * 15_000_000})),
    Bomb("five rings.svg", "outlines/svg", lambda: _SVG % (b'<circle r="1e8"/>' * 5)),
    Bomb(
        "million segments.svg",
        "outlines/svg",
        lambda: _SVG % (b'<path d="M0 0' + b" L1 2" * 1_000_000 + b'"/>'),
    ),
    Bomb(
        "three thousand paths.svg",
        "outlines/svg",
        lambda: _SVG % (b'<path d="M0 0 L5 5 L7 1 Z"/>' * 3000),
        is_read=True,
    ),
    Bomb("nested.svg", "outlines/svg", _nested_uses),
    Bomb("nested.svg", "drawings", _nested_uses),
    Bomb("vast.png", "drawings", _vast_picture),
)


class Watch:
    """Somebody who moves the pointer over a part all the time, and somebody who looks at the
    memory."""

    def __init__(self, server: Server) -> None:
        self._server, self._done = server, threading.Event()
        self.waits: list[float] = []
        self.most = 0
        self._threads = [
            threading.Thread(target=work, daemon=True) for work in (self._point, self._look)
        ]

    def __enter__(self) -> Watch:
        for thread in self._threads:
            thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._done.set()
        for thread in self._threads:
            thread.join()

    def _point(self) -> None:
        k = 0
        while not self._done.wait(0.01):
            k += 1
            begun = time.monotonic()
            self._server.ask(
                "/parts/1/aim", {"revision": 1, "view": VIEW, "pointer": [400 + k % 100, 350]}
            )
            self.waits.append(time.monotonic() - begun)

    def _look(self) -> None:
        while not self._done.wait(0.03):
            self.most = max(self.most, resident(self._server))


def sent(server: Server, path: str, name: str, data: bytes) -> tuple[int, dict[str, Any]]:
    """Bring a file in, as the page does."""
    token = next(cookie.value for cookie in server.jar if cookie.name == "csrftoken") or ""
    mark = "----a-mark-that-is-nowhere-else"
    head = f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\nContent-Type: application/octet-stream\r\n\r\n'
    body = head.encode() + data + f"\r\n--{mark}--\r\n".encode()
    door = http.client.HTTPConnection("127.0.0.1", server.port, timeout=120)
    headers = {
        "Content-Type": f"multipart/form-data; boundary={mark}",
        "X-CSRFToken": token,
        "Cookie": f"csrftoken={token}",
    }
    door.request("POST", f"/api/projects/1/{path}", body, headers)
    answer = door.getresponse()
    told = json.loads(answer.read())
    door.close()
    return answer.status, told


def drill() -> Iterator[str]:
    """Send them all; gives what is wrong."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server(folder)
        try:
            sent(server, "parts", "first.obj", _TRIANGLE + b"f 1 2 3\n")
            before = resident(server)
            for bomb in BOMBS:
                data = bomb.data()
                with Watch(server) as watch:
                    begun = time.monotonic()
                    status, told = sent(server, bomb.path, bomb.name, data)
                    took = time.monotonic() - begun
                p95 = float(np.percentile(watch.waits, 95)) if watch.waits else 0.0
                words = told.get("words", "read")
                figures = (
                    f"{took:.1f} s, {watch.most - before} MB more, previews p95 {1000 * p95:.0f} ms"
                )
                print(
                    f"{bomb.name}: {len(data) >> 20} MB, {status}, {figures}: {words[:90]}",
                    flush=True,
                )
                if status >= 500 or (status != 201) == bomb.is_read:
                    yield f"{bomb.name}: answered {status}, {words}"
                if took > SECONDS + SENDING_SECONDS:
                    yield f"{bomb.name}: took {took:.1f} s"
                if watch.most - before > MOST_MEGABYTES_MORE:
                    yield f"{bomb.name}: took {watch.most - before} MB"
                if len(watch.waits) > 20 and p95 > PREVIEW_SECONDS:
                    yield f"{bomb.name}: previews waited {1000 * p95:.0f} ms"
        finally:
            server.kill()


if __name__ == "__main__":
    found = list(drill())
    print("\n".join(found))
    sys.exit(1 if found else 0)
