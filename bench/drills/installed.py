"""The wheel in an empty environment: installed, asked for its version, served, and cut with from the
command line; nothing of the sources is in reach. `make wheel` comes first."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from tests.server_process import free_port

CUBE = "".join(
    [f"v {x} {y} {z}\n" for x in (0, 1) for y in (0, 1) for z in (0, 1)]
    + [f"f {f}\n" for f in ("1 2 4 3", "5 7 8 6", "1 5 6 2", "3 4 8 7", "1 3 7 5", "2 6 8 4")]
)
STEPS = {
    "wertome": 1,
    "steps": [{"tool": "slice", "plane": {"point": [0, 0.5, 0], "normal": [0, 1, 0]}}],
}


def main() -> int:
    (wheel,) = Path("dist").glob("wertome-*.whl")
    pins = Path("requirements/app.txt").resolve()
    with tempfile.TemporaryDirectory() as folder:
        home = Path(folder)
        subprocess.run([sys.executable, "-m", "venv", home / "venv"], check=True)
        bin_ = home / "venv" / "bin"
        subprocess.run(
            [bin_ / "pip", "install", "--quiet", "--constraint", pins, wheel.resolve()], check=True
        )
        version = wheel.name.split("-")[1]
        told = _output(home, bin_ / "wertome", "--version")
        assert told == f"wertome {version}\n", told
        (home / "cube.obj").write_text(CUBE)
        (home / "steps.json").write_text(json.dumps(STEPS))
        report = _output(
            home, bin_ / "python", "-m", "cutcore", "apply", "steps.json", "--in", "cube.obj", "--out", "cut.glb"
        )  # fmt: skip
        assert json.loads(report)["steps"][0]["faces"] == {"before": 6, "after": 10}, report
        _serve(home, bin_, version)
    print(f"{wheel.name}: installed, served and cut with in an empty environment")
    return 0


def _output(home: Path, *command: object) -> str:
    return subprocess.run(
        [str(one) for one in command], cwd=home, check=True, capture_output=True, text=True
    ).stdout


def _serve(home: Path, bin_: Path, version: str) -> None:
    """Start it, and read the page with all it names."""
    port = free_port()
    environment = {"PATH": os.environ["PATH"], "HOME": str(home), "PORT": str(port)}
    server = subprocess.Popen([bin_ / "wertome", "serve"], cwd=home, env=environment)
    address = f"http://127.0.0.1:{port}"

    def read(path: str) -> bytes:
        with urllib.request.urlopen(address + path) as answer:
            return bytes(answer.read())

    try:
        for _ in range(600):
            try:
                page = read("/").decode()
                break
            except OSError:
                time.sleep(0.1)
        else:
            raise AssertionError("it does not serve within a minute")
        assert json.loads(read("/api/status")) == {"version": version}
        assert len(json.loads(read("/api/projects"))[0]["parts"]) == 3
        named = re.findall(r'(?:src|href)="(/assets/[^"]+)"', page)
        assert named
        for path in named:
            assert read(path)
        # Told nothing else, it keeps its data where its user keeps data.
        assert (home / ".local" / "share" / "wertome" / "wertome.sqlite3").exists()
    finally:
        server.terminate()
        server.wait(timeout=60)


if __name__ == "__main__":
    sys.exit(main())
