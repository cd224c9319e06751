"""The right column: what is planned comes first, what makes or discards it is always in sight, and
other cards fold to a line and stay as they were left."""

from __future__ import annotations

from typing import ClassVar

from playwright.sync_api import Locator, expect

from tests.browser.deck import on_edge
from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import deck_plate

PLATE = deck_plate()
SMALL, HALF = (1024, 700), (640, 400)


class Column(WorkshopCase):
    all_open: ClassVar[bool] = False

    def plan_with(self, tool: str) -> None:
        """Plan something with a tool, by what it takes least."""
        person, page = self.person, self.person.page
        person.press(tool)
        middle = person.pixel_of(on_edge(8, 9, 0.5))
        other = person.pixel_of(on_edge(11, 12, 0.3))
        if tool in "le":
            page.mouse.click(*middle)
            person.wait_for_answers()
            if tool == "l":
                page.mouse.click(*other)
        elif tool == "s":
            person.see("plane-by").click()
            page.get_by_role("option", name="square to x").click()
        elif tool == "o":
            page.get_by_role("button", name="Vent slot", exact=True).click()
            person.wait_for_answers()
            page.mouse.click(*person.pixel_of([0, 8, 0]))
        elif tool == "g":
            person.see("gauge-add").fill("20 30 40")
            person.see("gauge-add").press("Enter")
        elif tool == "d":
            page.mouse.move(*middle)
            page.mouse.down()
            page.mouse.move(*other, steps=5)
            page.mouse.up()
        elif tool == "u":
            page.mouse.click(*middle)
        elif tool == "m":
            for vertex in (8, 12):
                page.mouse.click(*person.pixel_of(PLATE.points[vertex]))
                person.wait_for_answers()
        person.wait_for_answers()
        expect(person.see("make-bar")).to_be_visible()

    def assert_in_window(self, what: Locator, height: int) -> None:
        box = what.bounding_box()
        assert box is not None
        self.assertGreaterEqual(box["y"], 48)
        self.assertLessEqual(box["y"] + box["height"], height - 56)

    def assert_buttons_in_sight(self, height: int) -> None:
        for button in self.person.see("make-bar").get_by_role("button").all():
            self.assert_in_window(button, height)

    def test_numbers_and_buttons_of_every_tool_lie_in_the_window(self) -> None:
        person, page = self.person, self.person.page
        person.open_part("Deck plate").take_view("t")
        for tool in "lesogdum":
            with self.subTest(tool):
                self.plan_with(tool)
                expect(person.see("hint")).to_be_visible()
                self.assert_buttons_in_sight(800)
                numbers = person.see("plan").locator("input, [role=combobox]").all()[:5]
                self.assertGreater(len(numbers), 0)
                for number in numbers:
                    self.assert_in_window(number, 800)
                for width, height in (SMALL, HALF):
                    page.set_viewport_size({"width": width, "height": height})
                    if person.see("make-bar").count() == 0:
                        page.get_by_role("button", name="Unfold the right column").click()
                    self.assert_buttons_in_sight(height)
                page.set_viewport_size({"width": 1280, "height": 800})
                person.press("Escape")

    def test_cards_fold_while_something_is_planned_and_stay_as_they_were_left(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t")
        expect(person.see("flow").locator("[data-flow=quads]")).to_be_visible()
        person.see("fold-steps").click()
        self.plan_with("l")
        flow = person.see("flow")
        expect(flow.locator("[data-flow=quads]")).to_have_count(0)
        # What matters in it is said in its line, what the plan changes in the plan.
        expect(flow).to_contain_text("quads")
        expect(person.see("plan-flow")).to_contain_text("→")
        person.see("fold-flow").click()
        expect(flow.locator("[data-flow=quads]")).to_be_visible()
        person.press("Escape")
        expect(person.see("fold-steps")).to_have_attribute("aria-expanded", "false")
        person.page.reload()
        person.wait_for_rest()
        expect(person.see("fold-steps")).to_have_attribute("aria-expanded", "false")
        person.take_view("t")
        self.plan_with("s")
        expect(flow.locator("[data-flow=quads]")).to_be_visible()

    def test_settings_seldom_changed_are_put_away_until_they_are_asked_for(self) -> None:
        person = self.person
        person.open_part("Deck plate").press("s")
        expect(person.see("hard-above")).to_have_count(0)
        person.see("more").focus()
        person.press("Enter")
        person.see("hard-above").fill("30")
        person.see("hard-above").press("Enter")
        person.see("more").click()
        expect(person.see("hard-above")).to_have_count(0)
        expect(person.see("not-at-default")).to_contain_text("hard above 30°")

    def test_the_list_of_parts_leaves_the_view_bar_free(self) -> None:
        person, page = self.person, self.person.page
        page.set_viewport_size({"width": HALF[0], "height": HALF[1]})
        person.open_part("Deck plate").press("t")
        listed = person.see("table-list").bounding_box()
        assert listed is not None
        for name in ("Perspective", "Bottom", "Table", "See through"):
            box = page.get_by_role("main").get_by_text(name, exact=True).bounding_box()
            assert box is not None
            self.assertLessEqual(box["y"] + box["height"], listed["y"] + 1, name)
        page.get_by_text("Front", exact=True).click()
        expect(person.see("view-bar")).to_have_attribute("data-view", "front")

    def test_a_card_that_breaks_says_so_and_the_plan_goes_on(self) -> None:
        person = self.person
        person.open().intercept("**/measure", lambda ask: ask.fulfill(json={"not": "meant"}))
        person.open_part("Deck plate").take_view("t").press("p")
        broken = person.see("broken-card")
        expect(broken).to_contain_text("Measure can't be shown just now")
        expect(person.see("patches")).to_be_visible()
        person.page.unroute("**/measure")
        self.plan_with("l")
        person.make()
        # What React tells of it on the console is no trouble of the page.
        person.troubles.clear()
        person.press("p")
        expect(person.see("flow")).to_be_visible()

    def test_a_size_is_planned_where_it_is_typed(self) -> None:
        person = self.person
        person.open_part("Deck plate").press("p")
        person.see("size-x").fill("300")
        person.see("size-x").press("Enter")
        expect(person.see("make-bar")).to_be_visible()
        expect(person.see("size-x")).to_be_visible()
        person.wait_for_answers()
        self.assert_in_window(person.see("size-x"), 800)
        self.assert_buttons_in_sight(800)


class Tips(WorkshopCase):
    """Settings and chips say what they do, by pointer, by finger and by keys."""

    def test_a_setting_says_what_it_does_by_pointer_keys_and_finger(self) -> None:
        person = self.person.open_part("Lantern housing").press("s")
        tip = person.see("row-tip")
        name = person.page.locator("[data-row]", has=person.see("then")).locator("[data-row-name]")
        name.hover()
        expect(tip).to_contain_text("takes the place of the other")
        # It is gone with the next press, and takes none itself.
        person.press("Shift")
        expect(tip).to_have_count(0)
        person.page.mouse.move(400, 400)
        person.see("then").focus()
        expect(tip).to_have_count(0)
        person.press("Shift+Tab", "Tab")
        expect(tip).to_contain_text("takes the place of the other")
        person.press("Shift")
        # By finger its name is touched.
        name.dispatch_event("pointerdown", {"pointerType": "touch"})
        name.dispatch_event("click")
        expect(tip).to_contain_text("takes the place of the other")

    def test_words_that_are_not_enough_have_a_drawing(self) -> None:
        person = self.person.open_part("Lantern housing").press("e")
        name = person.page.locator("[data-row]", has=person.see("follow")).locator(
            "[data-row-name]"
        )
        name.hover()
        expect(person.see("row-tip").locator("svg")).to_be_visible()

    def test_every_row_of_every_tool_has_something_to_say(self) -> None:
        person = self.person.open_part("Lantern housing")
        for key in "lesogdum":
            person.press(key).wait_for_answers()
            rows = person.see("column").locator(
                "[data-row]", has=person.page.locator("input, button")
            )
            self.assertGreater(rows.count(), 1, key)
            for k in range(rows.count()):
                row = rows.nth(k)
                said = row.get_attribute("data-row") or row.locator("[aria-label]").count()
                self.assertTrue(said, row.inner_text())

    def test_a_chip_that_can_not_be_used_says_what_has_to_come_first(self) -> None:
        person = self.person.open_part("Lantern housing").press("p")
        grow = person.see("pick").get_by_role("button", name="grow", exact=True)
        grow.hover()
        expect(person.page.get_by_role("tooltip")).to_contain_text("pick something first")
        grow.click()
        person.is_told("For it pick something")
        person.press("n")
        person.see("mend-collapse").hover()
        expect(person.page.get_by_role("tooltip")).to_contain_text("first")
