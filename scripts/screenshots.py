"""Takes the pictures in docs/screenshots anew, from the sample project: `python -m
scripts.screenshots`."""

from __future__ import annotations

import io
import os
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from math import sin
from pathlib import Path

import numpy as np
from PIL import Image
from playwright.sync_api import FloatRect, expect

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
    {state: {hintsRead: ['pick', 'knife', 'loop', 'slice', 'outline', 'gauge', 'mend', 'freehand', 'ruled', 'seam']}, version: 0}))"""


# Where the plan stands in the page.
PLAN: FloatRect = {"x": 977, "y": 150, "width": 303, "height": 545}


def finishes(person: Person) -> None:
    """One slice in each of the ways its faces may end, side by side, and how they compare."""
    pieces = []
    # The part alone, at its middle.
    part: FloatRect = {"x": 330, "y": 150, "width": 320, "height": 545}
    for finish in ("as cut", "all quads", "woven"):
        person.open_part("Lantern housing").press("s")
        choose(person, "plane-by", "square to y")
        person.see("plane-tilt-1").fill("14")
        person.see("plane-tilt-1").press("Enter")
        if finish != "as cut":
            choose(person, "finish", finish)
        settle(person)
        if finish == "woven":
            person.see("compare").click()
            person.see("compared").scroll_into_view_if_needed()
            person.see("compared").locator("tr[data-finish=woven]").hover()
            settle(person)
            card = person.page.screenshot(clip=PLAN)
        person.page.mouse.move(60, 400)
        person.make()
        # What was just made is drawn thick for a while.
        person.page.wait_for_timeout(4000)
        pieces.append(person.page.screenshot(clip=part))
        person.press("Control+z")
        settle(person)
    side_by_side([*pieces, card], OUT / "finishes.png")
    choose(person, "finish", "as cut")
    person.press("Escape", "Escape")


def side_by_side(pictures: list[bytes], path: Path) -> None:
    """Pictures put beside each other, from the top."""
    images = [Image.open(io.BytesIO(picture)) for picture in pictures]
    whole = Image.new(
        "RGB",
        (sum(i.width for i in images), max(i.height for i in images)),
        images[0].getpixel((0, 0)),
    )
    left = 0
    for image in images:
        whole.paste(image, (left, 0))
        left += image.width
    whole.save(path)


def take(person: Person) -> None:
    person.page.add_init_script(AT_HOME)
    person.open().page.wait_for_selector("[data-testid=picture]")
    person.picture(str(OUT / "projects.png"))

    person.open_part("Lantern housing").press("p")
    person.page.mouse.click(*person.pixel_of(housing_place(5.5, 22.5)))
    person.see("work-move").click()
    person.see("falloff-rings").fill("2")
    person.see("falloff-rings").press("Enter")
    person.see("move-along-normal").fill("12mm")
    person.see("move-along-normal").press("Enter")
    settle(person)
    person.picture(str(OUT / "pick.png"))
    person.press("Escape")
    person.press("Escape", "Escape", "l")
    person.point_at(housing_place(7, 21), kind="vertex").choose()
    person.point_at(housing_place(9, 22.4), kind="edge").choose()
    person.point_at(housing_place(9.5, 24), kind="half").choose()
    person.point_at(housing_place(5, 24.5), kind="half").choose()
    person.point_at(housing_place(2.3, 26), kind="edge")
    person.picture(str(OUT / "planning.png"))
    person.make().page.mouse.move(60, 400)
    settle(person)

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

    finishes(person)
    person.open_part("Deck plate").press("n")
    person.page.mouse.click(*person.pixel_of([0, 8, 0]))
    person.see("mend-quads").click()
    settle(person)
    person.see("way-1").hover()
    settle(person)
    person.picture(str(OUT / "mend.png"))
    person.press("Escape", "Escape")
    person.open_part("Lantern housing").press("p")

    smooth(person)
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
    person.press("Escape")

    drawn_on_the_hull(person)
    on_the_table(person)
    a_lesson(person)

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


def drawn_on_the_hull(person: Person) -> None:
    """A score, ruled lines, a seam, and patches, on the hull as it came."""
    person.press("Control+z")
    settle(person)
    hull = float_hull()
    middle = 0.5 * (hull.box[0] + hull.box[1])
    person.press("d")
    x, y = person.pixel_of([middle[0], hull.box[1][1], middle[2]])
    mouse = person.page.mouse
    mouse.move(x - 130, y + 60)
    mouse.down()
    for k in range(60):
        mouse.move(x - 130 + 4 * k, y + 60 - 2.2 * k + 26 * sin(k / 8))
    mouse.up()
    choose(person, "keeps", "only where edges are crossed")
    choose(person, "at-edges", "several side by side")
    mouse.move(60, 400)
    settle(person)
    person.picture(str(OUT / "freehand.png"))
    person.press("Escape", "Escape", "p")

    top = np.flatnonzero(
        hull.face_normals()[:, 1] > 0.9 * np.linalg.norm(hull.face_normals(), axis=1)
    )
    places = [hull.points[hull.face(int(f))].mean(axis=0) for f in top]
    near = sorted(places, key=lambda place: float(np.abs(place - middle)[2]))[:16]
    for place in near:
        person.page.keyboard.down("Shift")
        mouse.click(*person.pixel_of(place))
        person.page.keyboard.up("Shift")
        person.wait_for_answers()
    person.press("u", "x")
    first = hull.face(
        int(top[int(np.argmin([abs(p[2] - middle[2]) + abs(p[0] - middle[0]) for p in places]))])
    )
    mouse.click(*person.pixel_of(hull.points[first[:2]].mean(axis=0)))
    person.wait_for_answers()
    choose(person, "ruled-towards", "at an angle")
    person.see("ruled-count").fill("7")
    person.see("ruled-count").press("Enter")
    mouse.move(60, 400)
    settle(person)
    person.picture(str(OUT / "ruled.png"))
    person.press("Escape", "Escape", "p")
    person.page.get_by_role("button", name="pick nothing").click()

    person.press("m")
    for k in (0.2, 0.8):
        place = hull.points[first[0]] + np.array(
            [25 - 40 * k, 0, (2 * k - 1) * 0.36 * np.ptp(hull.box[:, 2])]
        )
        mouse.click(*person.pixel_of(place))
        person.wait_for_answers()
    mouse.move(60, 400)
    settle(person)
    person.picture(str(OUT / "seam.png"))
    person.press("Escape", "Escape", "p")

    choose(person, "patch-from", "all up to an angle")
    person.see("patch-make").click()
    person.see("patch").nth(3).wait_for()
    person.see("patch").nth(1).hover()
    settle(person)
    person.picture(str(OUT / "patches.png"))
    mouse.move(60, 400)


def a_lesson(person: Person) -> None:
    person.open().see("lessons").locator("[data-name=first-line]").get_by_role("button").click()
    expect(person.see("lesson")).to_be_visible()
    person.wait_for_rest().press("l")
    first, second = (person.see("lesson-aims").locator("g").nth(k) for k in (0, 1))
    for aim in (first, second):
        box = aim.locator("path").first.bounding_box()
        assert box is not None
        person.page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        settle(person)
        if aim is first:
            person.page.mouse.down()
            person.page.mouse.up()
            settle(person)
    person.picture(str(OUT / "lesson.png"))
    person.press("Escape")


def on_the_table(person: Person) -> None:
    """All parts as they stand, and the housing broken, its shards drawn apart."""
    person.open_part("Lantern housing").take_view("p").press("t", "Shift+Home")
    settle(person)
    person.picture(str(OUT / "table.png"))
    person.press("n")
    person.see("mend-shards").click()
    settle(person)
    person.make().press("p")
    settle(person)
    for box in person.page.locator("[data-part*=shard] input").all():
        box.check()
    person.see("spread").get_by_role("slider").focus()
    for _ in range(35):
        person.press("ArrowRight")
    settle(person)
    person.picture(str(OUT / "shards.png"))
    person.page.get_by_label("Fold the list of parts away").click()
    person.see("canvas").focus()
    person.press("Control+z")
    settle(person)


def smooth(person: Person) -> None:
    """The smooth form before and after a planned loop, and where it moves."""
    person.open_part("Lantern housing").press("v", "3")
    settle(person)
    person.press("e").point_at(housing_place(6.4, 23), kind="edge")
    person.page.mouse.down()
    person.page.mouse.up()
    person.see("show-moves").click()
    line = person.see("split-line").bounding_box()
    assert line is not None
    person.page.mouse.move(line["x"] + 8, 300)
    person.page.mouse.down()
    person.page.mouse.move(line["x"] - 52, 300)
    person.page.mouse.up()
    settle(person)
    person.picture(str(OUT / "smooth.png"))
    person.press("Escape", "v", "1")


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with workshop() as address, browser(smooth=True) as running:
        take(Person(running.new_page(viewport=SCREEN), address))


if __name__ == "__main__":
    main()
