"""Takes the pictures in docs/screenshots anew, from the sample project: `python -m scripts.screenshots`."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from tests.browser.person import SCREEN, Person, browser
from workshop.sample.skerry_light import HOUSING_SIDES, deck_plate, lantern_housing

OUT = Path("docs/screenshots")


@contextmanager
def workshop() -> Iterator[str]:
    """A workshop of its own on a free port, with the sample project; gives its address."""
    with tempfile.TemporaryDirectory() as data, socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
        probe.close()
        command = [sys.executable, "manage.py", "serve"]
        server = subprocess.Popen(command, env={**os.environ, "WERTOME_DATA": data, "PORT": str(port)}, stdout=subprocess.DEVNULL)
        address = f"http://127.0.0.1:{port}"
        try:
            for _ in range(100):
                try:
                    urllib.request.urlopen(address).close()
                    break
                except OSError:
                    time.sleep(0.2)
            yield address
        finally:
            server.terminate()
            server.wait()


def housing_place(ring: float, side: float) -> object:
    """A place on the lantern housing: rings count from the foot, sides round it, both with fractions."""
    rings = lantern_housing().points[1:-1].reshape(-1, HOUSING_SIDES, 3)
    low, high = rings[int(ring)], rings[min(int(ring) + 1, len(rings) - 1)]
    level = (1 - ring % 1) * low + ring % 1 * high
    return (1 - side % 1) * level[int(side)] + side % 1 * level[int(side) + 1]


def take(person: Person) -> None:
    person.open().page.wait_for_selector("[data-testid=picture]")
    person.picture(str(OUT / "projects.png"))

    person.open_part("Lantern housing").press("p")
    for side in (20.5, 21.5, 22.5, 23.5, 24.5):
        person.page.keyboard.down("Shift")
        person.page.mouse.click(*person.pixel_of(housing_place(3.5, side)))
        person.page.keyboard.up("Shift")
        person.page.wait_for_timeout(300)
    person.picture(str(OUT / "pick.png"))

    person.press("Escape", "l")
    person.point_at(housing_place(7, 21), kind="vertex").choose()
    person.point_at(housing_place(9, 22.4), kind="edge").choose()
    person.point_at(housing_place(9.5, 24), kind="half").choose()
    person.point_at(housing_place(5, 24.5), kind="half").choose()
    person.point_at(housing_place(2.3, 26), kind="edge")
    person.picture(str(OUT / "planning.png"))
    person.make().page.mouse.move(60, 400)
    person.page.wait_for_timeout(1500)
    person.picture(str(OUT / "made.png"))

    plate = deck_plate().points
    person.open_part("Deck plate").take_view("t").press("w")
    person.point_at(0.7 * plate[11] + 0.3 * plate[12], kind="edge").choose()
    person.point_at(0.4 * plate[8] + 0.6 * plate[15], kind="edge").choose()
    person.press("b", "q")
    person.point_at(0.5 * plate[3] + 0.5 * plate[4], kind="half").choose()
    person.point_at([-40, 8, -25], kind="face").choose()
    person.page.get_by_role("button", name="Night theme").click()
    person.point_at([10, 8, -45], kind="face")
    person.picture(str(OUT / "night.png"))


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with workshop() as address, browser() as running:
        take(Person(running.new_page(viewport=SCREEN), address))


if __name__ == "__main__":
    main()
