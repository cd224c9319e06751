"""What people expect to find: a menu of what lies there, parts in order, preferences, hints, fingers and pens, keys
that walk, long work that can be stopped, and plans that look like what they make."""

from __future__ import annotations

import io
import json
import re
import time
from typing import Any
from unittest import mock

import numpy as np
from django.test import tag
from PIL import Image
from playwright.sync_api import Page, expect

from cutcore import Mesh, Result, apply_step
from cutcore.progress import come_to
from cutcore.shapes.box import box
from cutcore.steps.registry import Step
from tests.browser.deck import PLATE, on_edge
from tests.browser.person import Person
from tests.browser.workshop_case import WorkshopCase
from workshop.models import Part, Project
from workshop.services.parts import add_part


class OverThePlate(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.open_part("Deck plate").take_view("t")

    def menu_at(self, place: object) -> Person:
        x, y = self.person.pixel_of(place)
        self.person.page.mouse.click(x, y, button="right")
        expect(self.person.see("element-menu")).to_be_visible()
        return self.person

    def take(self, item: str) -> None:
        self.person.page.get_by_role("menuitem", name=item, exact=True).click()


class ElementMenus(OverThePlate):
    def test_of_a_face_it_picks_and_plans_but_makes_nothing(self) -> None:
        before = self.person.export()
        self.menu_at([0, 8, 0])
        self.take("Pick it")
        expect(self.person.see("pick-count")).to_have_text(re.compile("^1 face"))
        self.menu_at([0, 8, 0])
        self.take("Extrude")
        expect(self.person.see("canvas")).to_have_attribute("data-planned", "shown")
        # The handle stands over the face that is pushed.
        expect(self.person.see("push-handle")).to_have_count(1)
        self.assertEqual(self.person.export(), before)
        self.person.press("Escape")
        expect(self.person.see("canvas")).to_have_attribute("data-planned", "none")

    def test_of_an_edge_it_plans_a_loop_there_and_a_drag_opens_none(self) -> None:
        self.menu_at(on_edge(2, 3, 0.4))
        self.take("Edge loop through here")
        expect(self.person.see("planned-mark")).to_have_count(1)
        self.person.press("Escape")
        x, y = self.person.pixel_of(on_edge(2, 3, 0.4))
        mouse = self.person.page.mouse
        mouse.move(x, y)
        mouse.down(button="right")
        mouse.move(x + 60, y + 20)
        mouse.up(button="right")
        self.person.wait_for_answers()
        expect(self.person.see("element-menu")).to_have_count(0)

    def test_of_a_vertex_it_begins_a_line_and_one_key_closes_it(self) -> None:
        self.menu_at(PLATE.points[2])
        self.take("Knife line from here")
        expect(self.person.see("plan-items").locator("li")).to_have_count(1)
        # In another view it would be about another place.
        self.menu_at(PLATE.points[3])
        self.person.page.mouse.move(200, 300)
        self.person.page.mouse.wheel(0, -200)
        expect(self.person.see("element-menu")).to_have_count(0)
        self.person.wait_for_rest()
        self.menu_at(PLATE.points[3])
        self.person.press("Escape")
        expect(self.person.see("element-menu")).to_have_count(0)
        expect(self.person.see("plan-items").locator("li")).to_have_count(1)


class Parts(WorkshopCase):
    def row(self) -> list[str]:
        return (
            self.person.page.get_by_label("Parts", exact=True)
            .locator("button[aria-current]")
            .all_inner_texts()
        )

    def test_they_are_duplicated_ordered_and_kept_out_of_sight(self) -> None:
        person = self.person.open_part("Deck plate")
        part = Part.objects.get(name="Deck plate")
        self.assertEqual(self.row(), ["Lantern housing", "Deck plate", "Float hull"])
        menu = person.page.get_by_role("button", name="Part: export")

        def choose(item: str) -> None:
            menu.click()
            person.page.get_by_role("menuitem", name=item).click()

        choose("Duplicate the part")
        copy = person.page.get_by_role("button", name="Deck plate (copy)")
        expect(copy).to_have_attribute("aria-current", "true")
        self.assertEqual(
            person.wait_for_rest().export(), self.someone().open_part("Deck plate").export()
        )
        choose("Move it to the left")
        names = person.page.locator("nav[aria-label=Parts] button[aria-current]")
        expect(names).to_have_text(
            ["Lantern housing", "Deck plate (copy)", "Deck plate", "Float hull"]
        )
        choose("Keep it out of the row")
        person.take_part("Float hull")
        expect(names).to_have_text(["Lantern housing", "Deck plate", "Float hull"])
        # From another page, and after a reload, it is the same.
        person.page.reload()
        expect(names).to_have_text(["Lantern housing", "Deck plate", "Float hull"])
        person.page.get_by_role("button", name="All parts: find").click()
        person.page.get_by_role("button", name="Show Deck plate (copy) in the row").click()
        person.page.get_by_role("button", name="Move Float hull up").click()
        expect(person.see("parts-list").locator("li")).to_contain_text(
            ["Lantern housing", "Deck plate (copy)", "Float hull", "Deck plate"]
        )
        part.refresh_from_db()
        self.assertFalse(part.hidden)


class Preferences(WorkshopCase):
    def test_they_are_kept_in_the_browser_and_change_what_is_drawn(self) -> None:
        person = self.person.open_part("Deck plate")
        person.press("Control+,")
        person.see("preferred-stops").click()
        person.page.get_by_role("option", name="every 25 %").click()
        person.see("preferred-thread").click()
        person.page.get_by_role("option", name="indigo").click()
        person.see("preferred-unit").click()
        person.page.get_by_role("option", name="in", exact=True).click()
        person.see("preferred-marks").get_by_role("slider").press("End")
        person.press("Escape")
        person.page.reload()
        person.wait_for_rest().take_view("t").press("l")
        expect(person.see("stops")).to_have_attribute("data-value", "0.25")
        expect(person.see("not-at-default")).to_have_count(0)
        person.point_at(on_edge(2, 3, 0.26), kind="edge", share=0.25)
        bar = person.see("mark").locator("line").nth(1)
        self.assertEqual(
            bar.evaluate("(line) => getComputedStyle(line).stroke"), "rgb(58, 47, 208)"
        )
        wide = bar.evaluate("(line) => line.getBoundingClientRect()")
        self.assertAlmostEqual(float(np.hypot(wide["width"], wide["height"])), 36, delta=6)
        person.open("/").page.get_by_role("button", name="New project").click()
        person.page.get_by_label("Name", exact=True).fill("Fittings")
        person.press("Enter")
        expect(person.see("unit")).to_have_attribute("data-value", "in")

    def test_what_another_version_left_in_the_browser_does_no_harm(self) -> None:
        for left in (
            "{not json",
            "null",
            '{"state": null}',
            '{"state": {"wire": "thick", "marks": -3, "keys": [1], "thread": "no such", "stops": 7}}',
            '{"state": {"keys": {"knife": 5, "undo": null}}}',
        ):
            person = self.someone()
            person.page.add_init_script(f"localStorage.setItem('preferences', {json.dumps(left)})")
            person.open_part("Deck plate").take_view("t").press("l")
            person.point_at(on_edge(2, 3, 0.31), kind="edge", share=0.3)

    def test_keys_are_changed_and_conflicts_are_told(self) -> None:
        person = self.person.open_part("Deck plate").press("?")
        page = person.page
        expect(page.get_by_role("dialog")).to_contain_text("Pick is in hand. Click what is meant")
        page.get_by_role("button", name="the key for: Knife line").click()
        person.press("g")
        expect(person.see("key-change")).to_contain_text("is a key for Gauge")
        page.get_by_role("button", name="Take it all the same").click()
        page.get_by_role("button", name="the key for: Gauge").click()
        person.press("?")
        expect(person.see("key-change")).to_contain_text("can't be given away")
        person.press("y")
        page.get_by_role("button", name="Give it this key").click()
        person.press("Escape")
        person.press("?")
        page.get_by_role("button", name="the key for: Reach").click()
        person.press("v")
        # All views would lose theirs, not only the one that is named.
        expect(person.see("key-change")).to_contain_text(re.compile(r"begins those of \d+ more"))
        page.get_by_role("button", name="Leave it").click()
        person.press("Escape")
        for key, tool in (("g", "knife"), ("y", "gauge"), ("e", "loop"), ("l", "loop")):
            person.press(key)
            expect(person.see("bench")).to_have_attribute("data-tool", tool)
        person.press("?")
        page.get_by_role("button", name="All keys as usual").click()
        person.press("Escape", "l")
        expect(person.see("bench")).to_have_attribute("data-tool", "knife")

    def test_a_hint_is_given_once(self) -> None:
        person = self.person.open_part("Deck plate").press("s")
        expect(person.see("hint")).to_contain_text("Draw a line across the part")
        person.page.get_by_role("button", name="Got it").click()
        expect(person.see("hint")).to_have_count(0)
        person.page.reload()
        person.wait_for_rest()
        expect(person.see("hint")).to_have_count(0)
        person.press("g")
        expect(person.see("hint")).to_contain_text("Type the distances")


class Fingers(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        context = self._browser.new_context(
            viewport={"width": 1280, "height": 800}, reduced_motion="reduce", has_touch=True
        )
        self.addCleanup(context.close)
        self.person = self._person_at(context.new_page())
        self.person.open_part("Deck plate").take_view("t")
        self.tools = context.new_cdp_session(self.person.page)

    def touch(self, kind: str, *places: tuple[float, float]) -> None:
        points = [{"x": x, "y": y, "id": k} for k, (x, y) in enumerate(places)]
        self.tools.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})

    def test_a_knife_line_is_tapped_and_aimed_while_the_finger_is_held(self) -> None:
        person = self.person.press("l")
        self.person.page.touchscreen.tap(*person.pixel_of(on_edge(2, 3, 0.3)))
        expect(person.see("plan-items").locator("li")).to_have_count(1)
        # Put down somewhere else, drawn to where it is meant, lifted there.
        x, y = person.pixel_of(on_edge(6, 7, 0.8))
        self.touch("touchStart", (x + 60, y + 30))
        self.touch("touchMove", (x + 20, y + 8))
        self.touch("touchMove", (x, y))
        expect(person.see("mark")).to_have_attribute("data-share", re.compile("0.2|0.8"))
        self.touch("touchEnd")
        expect(person.see("plan-items").locator("li")).to_have_count(2)
        person.make()
        new = self.exported().points[PLATE.vertex_count :]
        for place in (on_edge(2, 3, 0.3), on_edge(6, 7, 0.8)):
            self.assertLess(np.linalg.norm(new - place, axis=1).min(), 1e-6)

    def test_two_fingers_move_the_view_and_place_nothing(self) -> None:
        person = self.person.press("l")
        before = person.camera()
        x, y = person.pixel_of([0, 8, 0])
        self.touch("touchStart", (x - 120, y))
        self.touch("touchStart", (x - 120, y), (x + 120, y))
        for k in range(1, 6):
            self.touch("touchMove", (x - 120 - 12 * k, y + 10 * k), (x + 120 + 12 * k, y + 10 * k))
        self.touch("touchEnd")
        nearer = person.wait_for_rest().camera()
        self.assertGreater(nearer.scale, 1.2 * before.scale)
        expect(person.see("view-bar")).to_have_attribute("data-view", "top")
        self.touch("touchStart", (x, y))
        self.touch("touchStart", (x, y), (x + 50, y))
        for k in range(1, 6):
            self.touch("touchMove", (x + 12 * k, y + 10 * k), (x + 50 + 12 * k, y + 10 * k))
        self.touch("touchEnd")
        person.wait_for_rest()
        expect(person.see("view-bar")).to_have_attribute("data-view", "perspective")
        expect(person.see("plan-items").locator("li")).to_have_count(0)

    def test_a_second_finger_lets_go_of_what_the_first_took_hold_of(self) -> None:
        person = self.person.press("l")
        place = person.pixel_of(on_edge(2, 3, 0.3))
        person.page.touchscreen.tap(*place)
        expect(person.see("plan-items").locator("li")).to_have_count(1)
        share = person.see("plan-items").get_by_role("textbox")
        x, y = place
        u, v = person.pixel_of(on_edge(2, 3, 0.7))
        self.touch("touchStart", place)
        self.touch("touchMove", ((x + u) / 2, (y + v) / 2))
        self.touch("touchMove", (u, v))
        expect(share).to_have_value("70 %")
        self.touch("touchStart", (u, v), (u + 50, v))
        self.touch("touchEnd")
        expect(share).to_have_value("30 %")
        person.wait_for_answers().page.mouse.move(x + 200, y + 40)
        person.wait_for_answers()
        expect(share).to_have_value("30 %")

    def test_a_trembling_pen_places_where_it_is_lifted(self) -> None:
        person = self.person.press("l")
        x, y = person.pixel_of(on_edge(2, 3, 0.3))
        pen = {"pointerType": "pen", "button": "left", "clickCount": 1}
        send = self.tools.send
        send(
            "Input.dispatchMouseEvent",
            {**pen, "type": "mousePressed", "x": x + 9, "y": y + 7, "buttons": 1},
        )
        send(
            "Input.dispatchMouseEvent", {**pen, "type": "mouseMoved", "x": x, "y": y, "buttons": 1}
        )
        send(
            "Input.dispatchMouseEvent",
            {**pen, "type": "mouseReleased", "x": x, "y": y, "buttons": 0},
        )
        expect(person.see("plan-items").locator("li")).to_have_count(1)
        expect(person.see("plan-items").get_by_role("textbox")).to_have_value("30 %")


class WithoutAPointer(OverThePlate):
    def test_arrow_keys_walk_from_vertex_to_vertex_and_by_stops(self) -> None:
        person = self.person.press("l")
        person.point_at(PLATE.points[2], kind="vertex")
        person.see("canvas").focus()
        person.press("j", "j")
        person.is_told("from vertex to vertex")
        corners = person.camera().project(PLATE.points)
        at = corners[2]
        # Along the edge to the next corner of the plate, whichever way that is.
        beside = [v for edge in PLATE.edges.ends.tolist() if 2 in edge for v in edge if v != 2]
        away = corners[beside] - at
        flat = int(np.argmax(np.abs(away).max(axis=1)))
        dx, dy = away[flat]
        key = (
            ("ArrowRight" if dx > 0 else "ArrowLeft")
            if abs(dx) > abs(dy)
            else ("ArrowDown" if dy > 0 else "ArrowUp")
        )
        person.press(key)
        expect(person.see("mark")).to_have_attribute("data-mark", "vertex")
        person.wait_for_answers()
        reached = [float(x) for x in (person.see("reticle").get_attribute("data-at") or "").split()]
        np.testing.assert_allclose(reached, corners[beside[flat]], atol=0.5)
        person.press("j", "j")
        person.is_told("from stop to stop")
        back = {
            "ArrowRight": "ArrowLeft",
            "ArrowLeft": "ArrowRight",
            "ArrowUp": "ArrowDown",
            "ArrowDown": "ArrowUp",
        }
        person.press(back[key])
        expect(person.see("mark")).to_have_attribute("data-stop", "true")
        person.press("Space")
        expect(person.see("plan-items").locator("li")).to_have_count(1)
        # The menu opens there, too.
        person.press("Shift+F10")
        expect(person.see("element-menu")).to_be_visible()


class LongWork(OverThePlate):
    def slowly(self) -> Any:
        """Cuts that take until they are stopped, or half a minute."""

        def apply(mesh: Mesh, step: Step) -> Result:
            until = time.monotonic() + 30
            while time.monotonic() < until:
                come_to("laying lines into faces", 0.4)
                time.sleep(0.02)
            return apply_step(mesh, step)

        return mock.patch("workshop.services.make_cut.apply_step", apply)

    def test_a_long_cut_tells_how_far_it_is_and_can_be_stopped(self) -> None:
        person = self.person.press("e")
        person.page.mouse.click(*person.pixel_of(on_edge(2, 3, 0.4)))
        expect(person.see("plan-adds")).to_be_visible()
        with self.slowly():
            person.press("Enter")
            expect(person.see("progress")).to_contain_text("laying lines into faces")
            expect(person.see("progress").get_by_role("progressbar")).to_have_attribute(
                "value", "0.4"
            )
            person.see("progress").get_by_role("button", name="Stop").click()
            expect(person.see("progress")).to_have_count(0)
        person.is_told("Nothing was changed; its plan is kept")
        self.assertEqual(Part.objects.get(name="Deck plate").revision, 1)
        # The same plan is made once nothing stops it.
        person.make()
        self.assertEqual(Part.objects.get(name="Deck plate").revision, 2)


def contrast(a: np.ndarray, b: np.ndarray) -> float:
    """The contrast of two colours (3,) of 0 to 255, as WCAG 2 reckons it."""

    def brightness(colour: np.ndarray) -> float:
        c = np.asarray(colour, dtype=float) / 255
        linear = np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)
        return float(linear @ [0.2126, 0.7152, 0.0722])

    low, high = sorted((brightness(a), brightness(b)))
    return (high + 0.05) / (low + 0.05)


def pixels_round(page: Page, at: tuple[float, float], reach: int) -> np.ndarray:
    """The picture (n, 3) of a square of the page."""
    x, y = at
    clip = {"x": x - reach, "y": y - reach, "width": 2 * reach, "height": 2 * reach}
    picture = Image.open(io.BytesIO(page.screenshot(clip=clip))).convert("RGB")  # type: ignore[arg-type]
    return np.asarray(picture).reshape(-1, 3)


class Looks(OverThePlate):
    # Lines are looked at as thin as people see them.
    scale = 1.0

    def test_hatches_stand_out_from_the_part_by_day_and_by_night(self) -> None:
        person = self.person
        at = person.pixel_of([0, 8, 0])
        bare = np.median(pixels_round(person.page, at, 8), axis=0)
        for theme in ("day", "night"):
            if theme == "night":
                person.press("Escape")
                person.page.get_by_role("button", name="Night theme").click()
                bare = np.median(pixels_round(person.wait_for_rest().page, at, 8), axis=0)
            person.page.mouse.click(*at)
            expect(person.see("pick-count")).to_have_text(re.compile("^1 face"))
            person.wait_for_answers()
            seen = np.unique(pixels_round(person.wait_for_rest().page, at, 8), axis=0)
            # The line against the part, or against the rim that sets it off.
            tide = min(seen, key=lambda colour: float(colour[0]) - float(colour[2]))
            self.assertGreaterEqual(
                max(contrast(tide, other) for other in [bare, *seen]), 3.0, theme
            )
            # And what it is set off by is told from the part.
            self.assertGreaterEqual(max(contrast(bare, other) for other in seen), 3.0, theme)

    def test_magnified_twice_and_in_a_small_window_no_control_is_outside(self) -> None:
        outside = """() => [...document.querySelectorAll('button, input, a, [role=slider]')]
            .filter((one) => one.checkVisibility() && !one.closest('aside, nav > div'))
            .filter((one) => { const b = one.getBoundingClientRect();
                return b.left < -1 || b.right > innerWidth + 1 || b.top < -1 || b.bottom > innerHeight + 1; })
            .map((one) => one.getAttribute('aria-label') ?? one.textContent)"""
        person = self.person
        for width, height in ((640, 400), (1024, 700)):
            person.page.set_viewport_size({"width": width, "height": height})
            person.page.reload()
            person.wait_for_rest()
            for key in "plesog":
                person.press(key)
                self.assertEqual(person.page.evaluate(outside), [], (width, key))
            self.assertLessEqual(
                person.page.evaluate("document.documentElement.scrollWidth"), width
            )
        # Magnified, the right column is folded away, and lies over the part when it is wanted.
        person.page.set_viewport_size({"width": 640, "height": 400})
        person.page.reload()
        person.wait_for_rest()
        expect(person.see("plan")).to_have_count(0)
        person.page.get_by_role("button", name="Unfold the right column").click()
        expect(person.see("plan")).to_be_visible()


# Counts the buffers and textures that the page's pictures hold.
HOLDING = """
window.held = 0;
// Of a picture that is gone nothing is held.
const lose = WebGL2RenderingContext.prototype.getExtension;
WebGL2RenderingContext.prototype.getExtension = function (name) {
    const found = lose.call(this, name);
    if (name !== 'WEBGL_lose_context' || !found) return found;
    return { loseContext: () => { window.held -= this.held ?? 0; this.held = 0; found.loseContext(); },
             restoreContext: () => found.restoreContext() };
};
for (const kind of ['Buffer', 'Texture', 'Framebuffer', 'Program', 'VertexArray']) {
    const proto = WebGL2RenderingContext.prototype;
    const [make, drop] = [proto['create' + kind], proto['delete' + kind]];
    proto['create' + kind] = function () { window.held += 1; this.held = (this.held ?? 0) + 1; return make.call(this); };
    proto['delete' + kind] = function (one) { if (one) { window.held -= 1; this.held -= 1; } return drop.call(this, one); };
}"""
CLICK_OFTEN = """async ([words, times]) => {
    for (let k = 0; k < times; k++) {
        [...document.querySelectorAll('main button')].find((one) => one.textContent === words).click();
        await new Promise((done) => requestAnimationFrame(done));
    }
}"""


SWITCH_OFTEN = """async (times) => {
    for (let k = 0; k < times; k++) {
        const next = `Part ${(k + 1) % 2}`;
        [...document.querySelectorAll('header button')].find((one) => one.textContent === next).click();
        const drawn = () => document.querySelector(`button[title="${next}"][aria-current=true]`)
            && document.querySelector('canvas[data-state=rest][data-snapshot]');
        do await new Promise((done) => requestAnimationFrame(done)); while (!drawn());
    }
}"""


@tag("drill")
class Leaks(WorkshopCase):
    def test_five_hundred_repaints_and_sixty_parts_hold_no_more_than_a_few(self) -> None:
        project = Project.objects.get()
        for k in range(2):
            add_part(project, f"Part {k}", box(2, 2, 2))
        person = self.someone()
        person.page.add_init_script(HOLDING)
        person.page.set_viewport_size({"width": 800, "height": 200})
        person.open_part("Part 0")
        person.page.evaluate(CLICK_OFTEN, ["Flow", 4])
        person.wait_for_answers()
        before = person.page.evaluate("window.held")
        person.page.evaluate(CLICK_OFTEN, ["Flow", 500])
        self.assertLessEqual(person.wait_for_answers().page.evaluate("window.held"), before)
        # What one part held before is given back with its context: a handful is held ever after.
        person.page.evaluate(SWITCH_OFTEN, 60)
        self.assertLessEqual(person.wait_for_answers().page.evaluate("window.held"), before)
