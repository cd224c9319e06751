"""The workshop round the tools: views, the hand on the part, what stays after a reload, and reach
for everyone."""

from __future__ import annotations

import re

import numpy as np
from playwright.sync_api import expect

from cutcore.version import VERSION
from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import float_hull

HULL = float_hull()
# What each fixed view looks along, and what is to its right.
VIEWS = {
    "f": ([0, 0, -1], [1, 0, 0]),
    "k": ([0, 0, 1], [-1, 0, 0]),
    "l": ([1, 0, 0], [0, 0, 1]),
    "r": ([-1, 0, 0], [0, 0, -1]),
    "t": ([0, -1, 0], [1, 0, 0]),
    "b": ([0, 1, 0], [1, 0, 0]),
}


class About(WorkshopCase):
    def test_it_tells_the_version_and_what_others_made(self) -> None:
        page = self.person.open().page
        page.get_by_role("link", name="About Wertome").click()
        expect(self.person.see("version")).to_have_text(f"Wertome {VERSION}")
        rows = self.person.see("licences").locator("li")
        expect(rows.filter(has_text="in the service").filter(has_text="numpy")).to_have_count(1)
        three = rows.filter(has_text=re.compile("^three "))
        three.locator("summary").click()
        expect(three).to_contain_text("Permission is hereby granted")
        page.go_back()
        expect(page.get_by_role("heading", name="Projects")).to_be_visible()


class Views(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.open_part("Float hull")

    def test_fixed_views_look_along_the_axes_and_show_the_whole_part(self) -> None:
        for key, (forward, right) in VIEWS.items():
            with self.subTest(key):
                camera = self.person.take_view(key).camera()
                self.assertTrue(camera.parallel)
                np.testing.assert_allclose(camera.forward, forward, atol=1e-9)
                np.testing.assert_allclose(camera.right, right, atol=1e-9)
                pixels = camera.project(HULL.points)
                self.assertTrue(((pixels > 0) & (pixels < [976, 696])).all())

    def test_the_right_button_orbits_and_never_commits(self) -> None:
        person = self.person
        person.press("l")
        before = person.camera().forward
        box = person.see("canvas").bounding_box()
        assert box is not None
        x, y = box["x"] + 480, box["y"] + 340
        person.page.mouse.move(x, y)
        person.page.mouse.click(x, y, button="right")
        self.assertEqual(person.points(), 0)
        # The menu it opens is not in the way of a drag from the same place.
        person.see("element-menu")
        person.page.mouse.down(button="right")
        person.page.mouse.move(x + 90, y + 30, steps=4)
        person.page.mouse.up(button="right")
        self.turned(before)
        self.assertEqual(person.points(), 0)
        turned = person.camera().forward
        person.page.keyboard.down("Space")
        person.page.mouse.down()
        person.page.mouse.move(x, y, steps=4)
        person.page.mouse.up()
        person.page.keyboard.up("Space")
        self.turned(turned)
        self.assertEqual(person.points(), 0)

    def turned(self, before: np.ndarray) -> None:
        """Wait until the view looks another way than before."""
        self.person.wait_until(
            lambda person: np.linalg.norm(person.camera().forward - before) > 0.1
        )

    def test_turning_a_fixed_view_leaves_it_for_perspective(self) -> None:
        person = self.person.take_view("f")
        x, y = person.pixel_of(HULL.box.mean(axis=0))
        person.page.mouse.move(x, y)
        person.page.mouse.down(button="right")
        person.page.mouse.move(x + 60, y, steps=3)
        person.page.mouse.up(button="right")
        expect(person.see("view-bar")).to_have_attribute("data-view", "perspective")

    def test_the_wheel_zooms_to_the_pointer_and_home_frames_the_part(self) -> None:
        person = self.person.take_view("t")
        bow = HULL.points[np.argmax(HULL.points[:, 2])]
        x, y = person.pixel_of(bow)
        scale = person.camera().scale
        person.page.mouse.move(x, y)
        person.page.mouse.wheel(0, -400)
        person.wait_until(lambda person: person.camera().scale > 1.1 * scale)
        after = person.pixel_of(bow)
        self.assertLess(np.hypot(after[0] - x, after[1] - y), 12)
        person.press("Home")
        person.wait_until(lambda person: abs(person.camera().scale / scale - 1.0) < 0.05)

    def test_marks_turn_with_the_view(self) -> None:
        person = self.person.take_view("t")
        person.press("l")
        deck = HULL.points[np.argmax(HULL.points[:, 1])]
        person.point_at(deck, kind="vertex").choose()
        person.take_view("f")
        mark = person.see("plan-points").locator("[data-mark=vertex]")
        shown = mark.bounding_box()
        assert shown is not None
        x, y = person.pixel_of(deck)
        self.assertLess(
            np.hypot(shown["x"] + shown["width"] / 2 - x, shown["y"] + shown["height"] / 2 - y), 3
        )

    def test_a_line_goes_on_from_where_the_view_had_turned(self) -> None:
        person = self.person.take_view("t")
        person.press("l")
        stern = HULL.points[np.argmin(HULL.points[:, 2])]
        person.point_at(stern, kind="vertex").choose()
        person.take_view("f")
        expect(person.see("plan")).to_contain_text("aimed fromtop")
        self.assertEqual(person.points(), 1)


class Kept(WorkshopCase):
    def test_a_reload_keeps_part_view_tool_and_theme(self) -> None:
        person = self.person
        person.open_part("Float hull").take_view("r").press("l")
        person.page.get_by_role("button", name="Night theme").click()
        person.page.get_by_role("button", name="Wire").click()
        where = person.camera().eye
        person.page.reload()
        person.wait_for_rest()
        expect(person.see("bench")).to_have_attribute("data-tool", "knife")
        expect(person.see("view-bar")).to_have_attribute("data-view", "right")
        self.assertEqual(person.page.evaluate("document.documentElement.dataset.theme"), "night")
        expect(person.page.get_by_role("button", name="Wire")).to_have_attribute(
            "aria-pressed", "false"
        )
        np.testing.assert_allclose(person.camera().eye, where, rtol=1e-6)
        expect(person.page.get_by_role("button", name="Float hull")).to_have_attribute(
            "aria-current", "true"
        )

    def test_the_back_button_of_the_browser_leads_through_parts_and_projects(self) -> None:
        person = self.person
        person.open().page.get_by_role("button", name="Float hull", exact=True).click()
        person.wait_for_rest()
        person.page.get_by_role("button", name="Deck plate", exact=True).click()
        expect(person.page.get_by_role("button", name="Deck plate")).to_have_attribute(
            "aria-current", "true"
        )
        person.page.go_back()
        expect(person.page.get_by_role("button", name="Float hull")).to_have_attribute(
            "aria-current", "true"
        )
        person.page.go_back()
        expect(person.see("projects")).to_be_visible()

    def test_each_part_has_its_own_pick(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("p")
        person.page.mouse.click(*person.pixel_of([0, 8, 0]))
        expect(person.see("picked")).to_have_attribute("data-faces", "1")
        person.page.get_by_role("button", name="Float hull", exact=True).click()
        expect(person.see("picked")).to_have_attribute("data-faces", "0")
        person.page.get_by_role("button", name="Deck plate", exact=True).click()
        expect(person.see("picked")).to_have_attribute("data-faces", "1")


class Everyone(WorkshopCase):
    def test_every_control_has_a_name_and_can_be_walked_to(self) -> None:
        person = self.person
        person.open()
        self._all_named()
        person.open_part("Deck plate").press("l")
        self._all_named()
        seen = set()
        for _ in range(30):
            person.press("Tab")
            seen.add(
                person.page.evaluate(
                    "document.activeElement?.ariaLabel || document.activeElement?.textContent"
                )
            )
        self.assertGreater(len(seen), 15)

    def _all_named(self) -> None:
        unnamed = self.person.page.evaluate(
            """() => [...document.querySelectorAll('button, input, select, a')].filter((e) => e.offsetParent !== null)
                .filter((e) => !(e.ariaLabel || e.textContent.trim() || e.labels?.length || e.title)).map((e) => e.outerHTML)"""
        )
        self.assertEqual(unnamed, [])

    def test_the_right_column_folds_away(self) -> None:
        person = self.person.open_part("Deck plate")
        narrow = person.see("canvas").bounding_box()
        person.page.get_by_role("button", name="Fold the right column away").click()
        expect(person.see("flow")).to_have_count(0)
        assert narrow is not None
        least = narrow["width"] + 250
        person.wait_until(
            lambda person: (person.see("canvas").bounding_box() or narrow)["width"] > least
        )

    def test_show_frames_the_place_of_a_note(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("l")
        person.point_at([0, 8, 0], kind="face").choose()
        person.point_at([40, 8, 20], kind="face").choose()
        scale = person.camera().scale
        person.see("note").first.get_by_role("button", name="Show").click()
        person.wait_until(lambda person: person.camera().scale > 1.5 * scale)
