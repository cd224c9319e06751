"""The lessons: each is taken as its sentences say, waits for what is really done, goes back with what
is undone, can be left and taken up, and its project is let go afterwards."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import expect

from tests.browser.person import Person
from tests.browser.workshop_case import WorkshopCase
from workshop.models import Part, Project

# Every lesson, in its order, and what is done in it, stage after stage.
Deeds = list[Callable[["Lessons"], object]]


class Lessons(WorkshopCase):
    def begin(self, name: str) -> Person:
        person = self.person.open()
        slip = person.see("lessons").locator(f"[data-name={name}]")
        slip.get_by_role("button", name="Begin").click()
        expect(person.see("lesson")).to_have_attribute("data-name", name)
        return person.wait_for_rest()

    def is_at(self, stage: int) -> None:
        expect(self.person.see("lesson")).to_have_attribute("data-stage", str(stage))

    def click_aim(self, number: int) -> None:
        """Click on the part where the lesson has put a number."""
        sign = self.person.see("lesson-aims").locator("g").nth(number - 1).locator("path").first
        box = sign.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.person.page.mouse.move(x - 1, y)
        self.person.page.mouse.move(x, y)
        self.person.wait_for_answers()
        self.person.page.mouse.click(x, y)
        self.person.wait_for_answers()

    def settle(self, field: str, text: str) -> None:
        self.person.see(field).first.fill(text)
        self.person.see(field).first.press("Enter")
        self.person.wait_for_answers()

    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option).click()
        self.person.wait_for_answers()

    def chip(self, words: str) -> None:
        self.person.page.get_by_role("button", name=words, exact=True).click()

    def make(self) -> None:
        drawn = self.person.see("canvas").get_attribute("data-snapshot")
        self.person.press("Enter")
        self.person.page.wait_for_selector(f"canvas[data-snapshot]:not([data-snapshot='{drawn}'])")
        self.person.wait_for_answers()

    def take(self, name: str, deeds: Deeds) -> None:
        """Take a lesson: each deed does what the sentence of its stage says, and no other is done
        before it."""
        self.begin(name)
        for stage, deed in enumerate(deeds):
            self.is_at(stage)
            deed(self)
        self.is_at(len(deeds))
        lesson = self.person.see("lesson")
        expect(lesson).to_contain_text(f"{len(deeds)} of {len(deeds)}")
        self.assertEqual(self.person.troubles, [])

    def test_a_first_line_is_left_taken_up_undone_and_let_go(self) -> None:
        person = self.begin("first-line")
        self.is_at(0)
        # It is nobody's project: it is not listed, and the sample is as it was.
        self.assertEqual(len(person.page.request.get(person.address + "/api/projects").json()), 1)
        person.press("l")
        self.is_at(1)
        self.click_aim(1)
        self.is_at(1)
        self.click_aim(2)
        self.is_at(2)
        # Taken back, it is to be done again.
        person.press("Backspace").wait_for_answers()
        self.is_at(1)
        self.click_aim(2)
        self.is_at(2)
        share = person.see("plan-items").locator("input[data-typed]").first
        share.fill("1/3")
        share.press("Enter")
        self.is_at(3)
        # Loaded anew, the plan is there, and the lesson where it was.
        person.page.reload()
        person.wait_for_rest()
        self.is_at(3)
        self.make()
        self.is_at(4)
        person.press("Control+z").wait_for_answers()
        self.assertLess(int(person.see("lesson").get_attribute("data-stage") or 9), 4)
        person.press("Control+Shift+z").wait_for_answers()
        self.is_at(4)

        # Left by the name of the house, it is taken up where it was.
        person.page.get_by_role("link", name="Wertome").click()
        slip = person.see("lessons").locator("[data-name=first-line]")
        slip.get_by_role("button", name="Go on").click()
        self.is_at(4)
        person.wait_for_rest().see("lesson").get_by_role("button", name="Done").click()
        expect(slip.get_by_label("taken")).to_be_visible()
        expect(slip.get_by_role("button", name="Go on")).to_have_count(0)
        self.assertEqual(Project.objects.exclude(lesson="").count(), 0)
        self.assertEqual(Part.objects.count(), 3)

    def test_a_loop_that_stops_goes_on_through_the_top(self) -> None:
        def on_through(case: Lessons) -> None:
            ends = case.person.see("loop-ends")
            expect(ends).to_contain_text("8")
            ends.get_by_role("button", name="Go on through it").first.click()

        self.take(
            "loop-that-stops",
            [
                lambda case: case.person.press("e"),
                lambda case: case.click_aim(1),
                on_through,
                lambda case: case.make(),
            ],
        )
        # The next lesson follows, and this one's project is gone.
        self.person.see("lesson").get_by_role("button", name="Next").click()
        expect(self.person.see("lesson")).to_have_attribute("data-name", "halve-and-mirror")
        names = Project.objects.exclude(lesson="").values_list("lesson", flat=True)
        self.assertEqual(list(names), ["halve-and-mirror"])

    def test_a_slice_halves_and_mirrors(self) -> None:
        def make(case: Lessons) -> None:
            case.settle("plane-offset", "4")
            case.make()

        self.take(
            "halve-and-mirror",
            [
                lambda case: case.person.press("s"),
                lambda case: case.choose("plane-by", "square to x"),
                lambda case: case.choose("then", "halve, and mirror the rest"),
                make,
            ],
        )

    def test_an_outline_becomes_a_vent(self) -> None:
        def choose(case: Lessons) -> None:
            case.person.see("outlines-in-hand").get_by_label("Vent slot").click()
            case.click_aim(1)

        def press_in(case: Lessons) -> None:
            case.person.see("work-extrude").click()
            case.settle("extrude-distance", "-3")
            case.make()

        self.take(
            "vent",
            [
                lambda case: case.person.take_view("f"),
                lambda case: case.person.press("o"),
                choose,
                lambda case: case.make(),
                press_in,
            ],
        )

    def test_heights_are_read_off_a_drawing(self) -> None:
        def show(case: Lessons) -> None:
            case.person.take_view("f")
            case.chip("Drawing")

        def read(case: Lessons) -> None:
            case.chip("heights")
            case.click_aim(1)
            case.is_at(1)
            case.click_aim(2)

        def hand_over(case: Lessons) -> None:
            case.settle("height-0", "36")
            case.settle("height-1", "83")
            case.chip("Heights to the gauge")

        def make(case: Lessons) -> None:
            expect(case.person.see("plan-adds")).to_contain_text("56 new vertices")
            case.make()

        self.take("off-a-drawing", [show, read, hand_over, make])

    def test_an_oblique_slice_ends_in_quads(self) -> None:
        def plan(case: Lessons) -> None:
            case.choose("plane-by", "square to y")
            case.is_at(1)
            case.settle("plane-tilt-0", "14")

        self.take(
            "quads-to-the-end",
            [
                lambda case: case.person.press("s"),
                plan,
                lambda case: case.choose("finish", "woven"),
                lambda case: case.make(),
            ],
        )

    def test_a_part_breaks_into_shards_and_is_one_again(self) -> None:
        self.take(
            "shards",
            [
                lambda case: case.person.press("n"),
                lambda case: case.person.see("mend-shards").click(),
                lambda case: case.settle("shards-count", "5"),
                lambda case: case.make(),
            ],
        )
        self.person.press("Control+z").wait_for_answers()
        self.assertLess(int(self.person.see("lesson").get_attribute("data-stage") or 9), 4)

    def test_a_form_is_held_when_it_is_smooth(self) -> None:
        def click(case: Lessons) -> None:
            case.person.press("e")
            case.click_aim(1)

        self.take(
            "held-form",
            [
                lambda case: case.person.press("v", "3"),
                click,
                lambda case: case.settle("loop-at", "8%"),
                lambda case: case.make(),
            ],
        )

    def test_a_lesson_begins_from_the_workshop_and_asks_about_an_open_plan(self) -> None:
        person = self.person.open_part("Lantern housing").press("s")
        self.choose("plane-by", "square to y")
        person.press("?")
        person.page.get_by_role("button", name="Eight short lessons").click()
        slip = person.see("lessons").locator("[data-name=vent]")
        slip.get_by_role("button", name="Begin").dblclick()
        person.page.get_by_role("alertdialog").get_by_role("button", name="Discard").click()
        expect(person.see("lesson")).to_have_attribute("data-name", "vent")
        person.wait_for_rest()
        self.assertEqual(Project.objects.exclude(lesson="").count(), 1)

        # Begun anew while it is in hand, from a sheet that closes, it is another copy.
        before = Project.objects.exclude(lesson="").get().pk
        person.press("o")
        self.is_at(2)
        person.press("?")
        person.page.get_by_role("button", name="Eight short lessons").click()
        slip.get_by_role("button", name="Begin anew").click()
        expect(person.page).not_to_have_url(re.compile(f"/projects/{before}/"))
        expect(person.see("lesson")).to_have_attribute("data-name", "vent")
        person.wait_for_rest()
        self.assertNotEqual(Project.objects.exclude(lesson="").get().pk, before)
