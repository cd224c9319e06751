"""For everyone: nothing an inspector of accessibility finds, on any screen, tool or sheet, by day and
by night; and a cut made without a pointer."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from playwright.sync_api import expect

from tests.browser.person import Person
from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import deck_plate

INSPECTOR = (
    Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
).read_text()
PLATE = deck_plate()


def found_on(person: Person) -> list[str]:
    """What the inspector finds on the page as it is."""
    person.page.evaluate(INSPECTOR)
    found: Any = person.page.evaluate(
        """async () => (await axe.run(document, {resultTypes: ['violations']})).violations
            .map((v) => v.id + ': ' + v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160)).join(' | '))"""
    )
    return list(found)


class Access(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        self.found: list[str] = []
        self.addCleanup(lambda: self.assertEqual(self.found, []))

    def inspected(self, what: str) -> None:
        self.found += [f"{what}: {words}" for words in found_on(self.person)]

    def test_the_list_of_projects(self) -> None:
        person = self.person.open("/")
        expect(person.see("picture").first).to_be_visible()
        for theme in ("day", "night"):
            self.inspected(theme)
            person.page.get_by_role("button", name="theme").click()
        person.page.get_by_role("button", name="From a shape").click()
        expect(person.page.get_by_role("dialog")).to_be_visible()
        self.inspected("shapes")

    def test_every_tool_with_a_plan_by_day_and_night(self) -> None:
        person = self.person.open_part("Deck plate").take_view("t")
        place = PLATE.points[2] + 0.4 * (PLATE.points[3] - PLATE.points[2])
        x, y = person.pixel_of(place)
        plans: dict[str, Callable[[], object]] = {
            "p": lambda: person.page.mouse.click(x, y),
            "l": lambda: person.page.mouse.click(x, y),
            "e": lambda: person.page.mouse.click(x, y),
            "s": lambda: (
                person.page.mouse.click(x - 200, y),
                person.page.mouse.click(x + 200, y + 40),
            ),
            "o": lambda: None,
            "g": lambda: None,
        }
        for key, plan in plans.items():
            person.press(key)
            plan()
            person.page.wait_for_load_state("networkidle")
            for theme in ("day", "night"):
                self.inspected(f"{key}, {theme}")
                person.page.get_by_role("button", name="theme").click()
            person.press("Escape")

    def test_every_sheet_and_drawer(self) -> None:
        person = self.person.open_part("Deck plate")
        for keys, role in (
            ("?", "dialog"),
            ("Control+k", "dialog"),
            ("Control+,", "dialog"),
            ("Shift+F10", "menu"),
        ):
            person.see("canvas").focus()
            person.press(keys)
            expect(person.page.get_by_role(role)).to_be_visible()
            self.inspected(keys)
            person.press("Escape")
            expect(person.page.get_by_role(role)).to_have_count(0)
        for words in ("Open or close the drawer of outlines", "Show or hide the drawing"):
            person.press("Control+k")
            person.page.get_by_placeholder("Type what you want to do").fill(words)
            person.press("Enter")
            person.page.wait_for_load_state("networkidle")
            self.inspected(words)

    def test_questions_and_editors(self) -> None:
        person = self.person.open_part("Deck plate").take_view("t").press("e")
        page = person.page
        page.mouse.click(
            *person.pixel_of(PLATE.points[2] + 0.4 * (PLATE.points[3] - PLATE.points[2]))
        )
        expect(person.see("planned-mark")).to_have_count(1)
        page.get_by_role("button", name="Lantern housing").click()
        expect(page.get_by_role("alertdialog")).to_be_visible()
        self.inspected("leaving")
        page.get_by_role("button", name="Stay").click()
        person.press("Escape")
        page.get_by_role("button", name="Part: export").click()
        page.get_by_role("menuitem", name="Rename the part").click()
        expect(page.get_by_label("Name", exact=True)).to_be_visible()
        self.inspected("renaming")
        person.press("Escape")
        file = {"name": "cube.obj", "mimeType": "text/plain", "buffer": b"v 0 0 0"}
        person.see("file").first.set_input_files(file)  # type: ignore[arg-type]
        expect(person.see("unit-question")).to_be_visible()
        self.inspected("the unit of a file")
        person.press("Escape", "o")
        person.see("open-drawer").click()
        person.see("outlines").get_by_role("button", name="slot", exact=True).click()
        self.inspected("a form for a new outline")
        page.get_by_role("button", name="Add the outline").click()
        expect(person.see("outline-editor")).to_be_visible()
        for theme in ("day", "night"):
            self.inspected(f"the editor of an outline, {theme}")
            page.get_by_role("button", name="theme").click()

    def test_undone_steps_and_the_list_of_parts(self) -> None:
        person = self.person.open_part("Deck plate").take_view("t").press("e")
        person.page.mouse.click(
            *person.pixel_of(PLATE.points[2] + 0.4 * (PLATE.points[3] - PLATE.points[2]))
        )
        expect(person.see("plan-adds")).to_be_visible()
        person.make().press("Control+z")
        expect(person.see("steps").locator("li[data-applied=false]")).to_have_count(1)
        person.page.get_by_role("button", name="Part: export").click()
        expect(person.page.get_by_role("menu")).to_be_visible()
        person.press("ArrowDown")
        for theme in ("day", "night"):
            self.inspected(f"part menu, {theme}")
            person.press("Escape")
            person.page.get_by_role("button", name="theme").click()
            person.page.get_by_role("button", name="Part: export").click()
        person.press("Escape")
        person.page.get_by_role("button", name="All parts: find").click()
        expect(person.see("parts-list")).to_be_visible()
        self.inspected("parts")

    def test_a_loop_is_made_without_a_pointer(self) -> None:
        person = self.person.open_part("Deck plate").take_view("t").press("e")
        person.press("Tab")
        expect(person.page.get_by_role("link", name="Skip to the part")).to_be_focused()
        person.press("Enter")
        expect(person.see("canvas")).to_be_focused()
        goal = PLATE.points[2] + 0.4 * (PLATE.points[3] - PLATE.points[2])
        box = person.see("canvas").bounding_box()
        assert box is not None
        person.press("ArrowRight")
        expect(person.see("reticle")).to_be_visible()
        x, y = person.pixel_of(goal)
        wanted = np.array([x - box["x"], y - box["y"]])
        for axis, (less, more) in enumerate(
            (("ArrowLeft", "ArrowRight"), ("ArrowUp", "ArrowDown"))
        ):
            here = [
                float(v) for v in (person.see("reticle").get_attribute("data-at") or "").split()
            ]
            away = wanted[axis] - here[axis]
            key = more if away > 0 else less
            person.press(*[key] * int(abs(away) // 8))
            person.press(*[f"Shift+{key}"] * round(abs(away) % 8))
        expect(person.see("mark")).to_have_attribute("data-mark", "edge")
        person.press(" ")
        expect(person.see("planned-mark")).to_have_count(1)
        expect(person.see("spoken")).to_contain_text("Planned:")
        before = person.see("canvas").get_attribute("data-view")
        person.press("Control+ArrowLeft")
        person.wait_until(lambda p: p.see("canvas").get_attribute("data-view") != before)
        # On by Tab to the button; once the cut is made the keys are at the part again.
        make = person.page.get_by_role("button", name="Make the cut")
        for _ in range(60):
            person.press("Tab")
            if make.evaluate("(button) => button === document.activeElement"):
                break
        person.press("Enter")
        expect(person.see("steps").locator("li")).to_have_count(1)
        expect(person.see("canvas")).to_be_focused()
