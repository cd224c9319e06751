"""A person at the screen: real pointer and key events in headless Chromium, waiting for states,
never for time."""

from __future__ import annotations

import re
import shutil
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import numpy as np
from playwright.sync_api import (
    Browser,
    ConsoleMessage,
    Error,
    Locator,
    Page,
    Request,
    Route,
    expect,
    sync_playwright,
)

from cutcore.geometry.camera import Camera, View

VIEW_KEYS = {
    "p": "perspective",
    "f": "front",
    "k": "back",
    "l": "left",
    "r": "right",
    "t": "top",
    "b": "bottom",
}
# Asked to see whether the browser catches requests.
PROBE = "/api/status?caught"
# The page is looked at so often while something is waited for.
BETWEEN_LOOKS_MS = 20
CHROMIUM = shutil.which("chromium") or "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--use-gl=angle",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
    "--ignore-gpu-blocklist",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
# Without a graphics card smooth lines, and putting the page together as a graphics card would, cost
# more than all else; tests need neither.
ROUGH = [
    "--webgl-antialiasing-mode=none",
    "--disable-gpu-compositing",
    "--in-process-gpu",
    "--num-raster-threads=1",
    "--disable-checker-imaging",
    "--disable-smooth-scrolling",
    # One site: a page that is left goes on in the same process, with all that was compiled for it.
    "--process-per-site",
    "--renderer-process-limit=1",
    "--disable-site-isolation-trials",
    # The address bar's own pages cost as much as ours: every window loads them anew.
    "--disable-features=IsolateOrigins,site-per-process,PaintHolding,BackForwardCache,"
    "WebUIOmniboxPopup,WebUIOmniboxAimPopup,WebUIOmniboxFullPopup",
    "--disable-extensions",
    "--disable-breakpad",
    "--js-flags=--single-threaded --min-semi-space-size=64 --initial-heap-size=1024",
]
# Three lots of tests share the machine: an answer may take its time.
expect.set_options(timeout=15_000)
SCREEN = {"width": 1280, "height": 800}
# Counts what the page draws anew, as the tools of its library would see it.
COUNTER = """
window.drawnAnew = 0;
window.__REACT_DEVTOOLS_GLOBAL_HOOK__ = {
    renderers: new Map(), supportsFiber: true, inject: () => 1, onCommitFiberUnmount() {}, onPostCommitFiberRoot() {},
    onCommitFiberRoot(_, root) {
        const walk = (fiber) => {
            if ([0, 11, 14, 15].includes(fiber.tag) && (fiber.flags & 1) && fiber.alternate) window.drawnAnew += 1;
            if (fiber.alternate && fiber.child === fiber.alternate.child) return;
            for (let child = fiber.child; child; child = child.sibling) walk(child);
        };
        walk(root.current);
    },
};"""
# What has come is on the screen after this.
TWO_FRAMES = """() => new Promise((done) =>
    requestAnimationFrame(() => requestAnimationFrame(() => done())))"""


@contextmanager
def browser(*, smooth: bool = False) -> Iterator[Browser]:
    """A headless Chromium; `smooth` for pictures that are to be looked at."""
    with sync_playwright() as playwright:
        running = playwright.chromium.launch(
            executable_path=CHROMIUM, args=FLAGS if smooth else [*FLAGS, *ROUGH]
        )
        try:
            yield running
        finally:
            running.close()


class Person:
    """Looks at a part, points at places of it, and presses keys."""

    def __init__(self, page: Page, address: str) -> None:
        self.page = page
        self.address = address
        self.troubles: list[str] = []
        self._unanswered: set[Request] = set()
        page.set_default_timeout(20_000)
        self._listeners: dict[str, Callable[[Any], None]] = {
            "pageerror": self._note_trouble,
            "console": self._note_refused_content,
            "request": self._note_asked,
            "requestfinished": self._note_answered,
            "requestfailed": self._note_answered,
        }
        for event, listener in self._listeners.items():
            page.on(event, listener)  # type: ignore[call-overload]

    def _note_trouble(self, error: Error) -> None:
        self.troubles.append(str(error))

    def _note_refused_content(self, message: ConsoleMessage) -> None:
        """What the page's own policy keeps it from loading or running."""
        if "Content Security Policy" in message.text:
            self.troubles.append(message.text)

    def _note_asked(self, request: Request) -> None:
        self._unanswered.add(request)

    def _note_answered(self, request: Request) -> None:
        self._unanswered.discard(request)

    def leave(self) -> None:
        """Stop looking at the page."""
        for event, listener in self._listeners.items():
            self.page.remove_listener(event, listener)

    def open(self, path: str = "/") -> Person:
        self.page.goto(self.address + path)
        return self

    def open_part(self, name: str) -> Person:
        """Open a part at its address, and wait until it is drawn. (The way there over the list of
        projects has tests of its own.)"""
        projects = self.page.request.get(self.address + "/api/projects").json()
        project, part = next(
            (p["id"], q["id"]) for p in projects for q in p["parts"] if q["name"] == name
        )
        return self.open(f"/projects/{project}/parts/{part}").wait_for_rest()

    def take_part(self, name: str) -> Person:
        """Take another part of the project in hand, and wait until it is drawn."""
        chip = self.page.get_by_role("button", name=name)
        chip.click()
        expect(chip).to_have_attribute("aria-current", "true")
        return self.wait_for_rest()

    def see(self, test_id: str) -> Locator:
        return self.page.get_by_test_id(test_id)

    def wait_for_rest(self) -> Person:
        """Wait until the part is drawn and the view stands still."""
        self.page.wait_for_selector("canvas[data-state=rest][data-snapshot]")
        return self

    def wait_for_answers(self) -> Person:
        """Wait until nothing asked is unanswered, and what the answers lead to is on the screen."""

        def all_drawn(_: Person) -> bool:
            self.page.evaluate(TWO_FRAMES)
            return not self._unanswered

        return self.wait_until(all_drawn, at_rest=False)

    def intercept(
        self, pattern: str | re.Pattern[str], handle: Callable[[Route], object]
    ) -> Person:
        """Have what the page asks from now on pass through `handle`: the browser is told to catch
        it, and does so a moment later; a key pressed meanwhile would get its answer all the same."""
        self.page.route(pattern, handle)
        caught: list[Route] = []

        def catch(probe: Route) -> None:
            caught.append(probe)
            probe.fulfill()

        self.page.route("**" + PROBE, catch)
        while not caught:
            self.page.evaluate("probe => fetch(probe).then(() => null)", PROBE)
        self.page.unroute("**" + PROBE)
        return self

    @contextmanager
    def held(self, pattern: str | re.Pattern[str]) -> Iterator[None]:
        """What the page asks within is held back, and let go at the end: answers that come late."""
        asked: list[Route] = []
        self.intercept(pattern, lambda ask: asked.append(ask))
        try:
            with self.page.expect_request(pattern):
                yield
        finally:
            # Those that come from now on are not held, those that were go on.
            self.page.route(pattern, lambda ask: ask.continue_())
            for ask in asked:
                ask.continue_()
            self.page.unroute(pattern)

    def wait_until(
        self, comes: Callable[[Person], Any], seconds: float = 20.0, *, at_rest: bool = True
    ) -> Person:
        """Wait until something comes true, of the view at rest if that is what is meant."""
        until = time.monotonic() + seconds
        while not comes(self.wait_for_rest() if at_rest else self):
            if time.monotonic() > until:
                raise AssertionError("what was waited for has not come")
            self.page.wait_for_timeout(BETWEEN_LOOKS_MS)
        return self

    def press(self, *keys: str) -> Person:
        for key in keys:
            self.page.keyboard.press(key)
        return self

    def take_view(self, key: str) -> Person:
        self.press("v", key)
        expect(self.see("view-bar")).to_have_attribute("data-view", VIEW_KEYS[key])
        return self.wait_for_rest()

    def camera(self) -> Camera:
        """The view on the screen, as the page tells it."""
        return Camera.of(
            View.model_validate_json(self.see("canvas").get_attribute("data-view") or "")
        )

    def pixel_of(self, place: object) -> tuple[float, float]:
        """Where a place of the part is on the page."""
        box = self.see("canvas").bounding_box()
        assert box is not None
        x, y = self.camera().project(np.reshape(np.asarray(place, dtype=float), (1, 3)))[0]
        return box["x"] + float(x), box["y"] + float(y)

    def point_at(self, place: object, *, kind: str, share: float | None = None) -> Person:
        """Move the pointer to a place and wait until the mark there is of a kind."""
        x, y = self.pixel_of(place)
        return self.point_at_pixel(x, y, kind=kind, share=share)

    def point_at_pixel(
        self, x: float, y: float, *, kind: str, share: float | None = None
    ) -> Person:
        self.page.mouse.move(x - 2, y - 2)
        self.page.mouse.move(x, y)
        mark = self.see("mark")
        expect(mark).to_have_attribute("data-pointer", f"{self._within(x, y)}")
        expect(mark).to_have_attribute("data-mark", kind)
        if share is not None:
            expect(mark).to_have_attribute("data-share", f"{share:g}")
        return self

    def choose(self) -> Person:
        """Click where the pointer is; the plan then lists one point more."""
        before = self.points()
        self.page.mouse.down()
        self.page.mouse.up()
        expect(self.see("plan-items").locator("li")).to_have_count(before + 1)
        return self

    def points(self) -> int:
        return self.see("plan-items").locator("li").count()

    def make(self) -> Person:
        """Make the cut by key, and wait until the plan is gone and the new part is drawn."""
        drawn = self.see("canvas").get_attribute("data-snapshot")
        self.press("Enter")
        self.page.wait_for_selector(f"canvas[data-snapshot]:not([data-snapshot='{drawn}'])")
        expect(self.see("plan-items")).to_have_count(0)
        expect(self.page.get_by_text("That did not work")).to_have_count(0)
        return self.wait_for_rest()

    def export(self) -> bytes:
        """The part as an OBJ file, by the menu of the part."""
        self.page.get_by_role("button", name="Part: export").click()
        with self.page.expect_download() as waiting:
            self.page.get_by_role("menuitem", name="Export as OBJ").click()
        return waiting.value.path().read_bytes()

    def drop(self, name: str, data: bytes, unit: str | None = None) -> Person:
        """Drop a file on the page, and say what unit it is in; by default what is offered."""
        held = self.page.evaluate_handle(
            """([name, data]) => {
                const held = new DataTransfer();
                held.items.add(new File([new Uint8Array(data)], name));
                return held;
            }""",
            [name, list(data)],
        )
        place = self.page.get_by_role("main")
        for event in ("dragenter", "dragover", "drop"):
            place.dispatch_event(event, {"dataTransfer": held})
        return self.bring_in(unit)

    def bring_in(self, unit: str | None = None) -> Person:
        """Answer what unit the files are in."""
        if unit is not None:
            self.see("file-unit").click()
            self.page.get_by_role("option", name=unit, exact=True).click()
        self.see("unit-question").get_by_role("button", name="Import").click()
        return self

    def is_told(self, words: str) -> None:
        """Wait until a message at the foot of the page says so. (It is also read out, from an
        element of its own.)"""
        expect(self.page.locator("ol > li").filter(has_text=words).first).to_be_visible()

    def picture(self, path: str) -> None:
        self.page.screenshot(path=path)

    def _within(self, x: float, y: float) -> str:
        box = self.see("canvas").bounding_box()
        assert box is not None
        return f"{x - box['x']:.1f} {y - box['y']:.1f}"
