"""Takes the pictures in docs/screenshots anew, from the sample project: `python -m
scripts.screenshots`."""

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
from workshop.sample.skerry_light import HOUSING_SIDES, deck_plate, float_hull, lantern_housing

OUT = Path("docs/screenshots")


@contextmanager
def workshop() -> Iterator[str]:
    """A workshop of its own on a free port, with the sample project; gives its address."""
    with tempfile.TemporaryDirectory() as data, socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
        probe.close()
        command = [sys.executable, "manage.py", "serve"]
        server = subprocess.Popen(
            command,
            env={**os.environ, "WERTOME_DATA": data, "PORT": str(port)},
            stdout=subprocess.DEVNULL,
        )
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
    """A place on the lantern housing: rings count from the foot, sides round it, both with
    fractions."""
    rings = lantern_housing().points[1:-1].reshape(-1, HOUSING_SIDES, 3)
    low, high = rings[int(ring)], rings[min(int(ring) + 1, len(rings) - 1)]
    level = (1 - ring % 1) * low + ring % 1 * high
    return (1 - side % 1) * level[int(side)] + side % 1 * level[int(side) + 1]


def choose(person: Person, label: str, option: str) -> None:
    """Choose one of a few, by the label of the setting."""
    person.see(label).click()
    person.page.get_by_role("option", name=option).click()


def settle(person: Person) -> None:
    """Let answers come in and the picture stand still."""
    person.page.wait_for_timeout(1200)


# Somebody who has read the hints.
AT_HOME = """localStorage.setItem('preferences', JSON.stringify(
    {state: {hintsRead: ['pick', 'knife', 'loop', 'slice', 'outline', 'gauge', 'mend']}, version: 0}))"""


def take(person: Person) -> None:
    person.page.add_init_script(AT_HOME)
    person.open().page.wait_for_selector("[data-testid=picture]")
    person.picture(str(OUT / "projects.png"))

    person.open_part("Lantern housing").press("p")
    for side in (20.5, 21.5, 22.5, 23.5, 24.5):
        person.page.keyboard.down("Shift")
        person.page.mouse.click(*person.pixel_of(housing_place(3.5, side)))
        person.page.keyboard.up("Shift")
        person.page.wait_for_timeout(300)
    person.picture(str(OUT / "pick.png"))
    person.page.mouse.click(*person.pixel_of(housing_place(3.5, 22.5)), button="right")
    person.see("element-menu").wait_for()
    person.picture(str(OUT / "menu.png"))
    person.press("Escape")

    person.press("Escape", "Control+,")
    person.see("preferred-wire").wait_for()
    person.picture(str(OUT / "preferences.png"))
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

    flow = person.page.get_by_role("button", name="Flow", exact=True)
    flow.click()
    settle(person)
    person.picture(str(OUT / "flow.png"))
    flow.click()
    person.press("Control+z", "e")
    settle(person)
    person.point_at(housing_place(9.4, 23), kind="edge")
    person.page.mouse.down()
    person.page.mouse.up()
    person.see("planned-mark").wait_for()
    person.see("loop-count").fill("3")
    person.see("loop-count").press("Enter")
    person.see("loop-ratio").fill("1.6")
    person.see("loop-ratio").press("Enter")
    settle(person)
    person.picture(str(OUT / "loop.png"))
    person.press("Escape", "s")
    choose(person, "plane-by", "square to x")
    choose(person, "then", "halve")
    person.see("plane-tilt-1").fill("12")
    person.see("plane-tilt-1").press("Enter")
    settle(person)
    person.picture(str(OUT / "slice.png"))
    person.press("Escape", "Escape")

    person.open_part("Lantern housing").press("s")
    choose(person, "plane-by", "square to x")
    person.see("plane-tilt-1").fill("32")
    person.see("plane-tilt-1").press("Enter")
    choose(person, "finish", "all quads")
    settle(person)
    person.picture(str(OUT / "quads.png"))
    choose(person, "finish", "as cut")
    person.press("Escape", "Escape")
    person.open_part("Deck plate").press("n")
    person.page.mouse.click(*person.pixel_of([0, 8, 0]))
    person.see("mend-quads").click()
    settle(person)
    person.see("way-1").hover()
    settle(person)
    person.picture(str(OUT / "mend.png"))
    person.press("Escape", "Escape")
    person.open_part("Lantern housing").press("p")

    person.page.get_by_role("button", name="Add a part from a starter shape").click()
    person.page.get_by_role("button", name="Sphere, by a box").click()
    settle(person)
    person.picture(str(OUT / "shapes.png"))
    person.press("Escape")

    person.open_part("Lantern housing").take_view("f").press("g")
    drawing = person.page.get_by_role("button", name="Drawing", exact=True)
    drawing.click()
    person.see("gauge-add").fill("20.5 15 3x12mm 30")
    person.see("gauge-add").press("Enter")
    person.see("diameter-1").fill("68")
    person.see("diameter-1").press("Enter")
    person.see("diameter-5").fill("90")
    person.see("diameter-5").press("Enter")
    settle(person)
    person.picture(str(OUT / "gauge.png"))
    person.see("gauge-add").press("Escape")
    person.press("Escape", "Escape")
    drawing.click()
    person.see("size-y").fill("165")
    person.see("size-y").press("Enter")
    person.see("size-about").click()
    person.page.get_by_role("option", name="its low side").click()
    settle(person)
    person.picture(str(OUT / "size.png"))
    person.press("Escape")

    person.open_part("Float hull").press("o")
    hull = float_hull()
    deck = float(hull.points[:, 1].max())
    person.see("outlines-in-hand").get_by_role("button", name="SL-7", exact=True).click()
    person.see("sheet-scale-field").fill("190")
    person.see("sheet-scale-field").press("Enter")
    person.see("sheet-turn-field").fill("90")
    person.see("sheet-turn-field").press("Enter")
    person.page.mouse.click(*person.pixel_of([0, deck, 0]))
    settle(person)
    person.picture(str(OUT / "outline.png"))
    person.make()
    person.see("work-extrude").click()
    settle(person)
    person.picture(str(OUT / "work.png"))
    person.press("Escape", "o")
    person.see("open-drawer").click()
    settle(person)
    person.see("outlines").get_by_role("button", name="slot", exact=True).click()
    person.picture(str(OUT / "drawer.png"))
    person.page.get_by_role("button", name="Close the drawer").click()
    person.press("Escape")

    plate = deck_plate().points
    person.open_part("Deck plate").take_view("t").press("l", "w")
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
    with workshop() as address, browser(smooth=True) as running:
        take(Person(running.new_page(viewport=SCREEN), address))


if __name__ == "__main__":
    main()
