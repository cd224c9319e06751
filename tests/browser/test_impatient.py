"""One order under the hand: what was meant happens, whatever is pressed when, and whatever is not answered."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
from playwright.sync_api import Route, expect

from tests.browser.deck import PLATE, on_edge
from tests.browser.person import SCREEN
from tests.browser.test_under_the_hand import Plate
from workshop.models import Entry, Part, Snapshot, Step


class Impatient(Plate):
    @contextmanager
    def unanswered(self, pattern: str, *, done: bool) -> Iterator[list[str]]:
        """What the page asks within is not answered; `done` says whether the service gets it."""
        asked: list[str] = []

        def lost(route: Route) -> None:
            asked.append(route.request.url)
            if done and len(asked) == 1:
                route.fetch()
            route.abort()

        self.person.intercept(pattern, lost)
        try:
            yield asked
        finally:
            self.person.page.unroute(pattern)

    def applied(self, count: int) -> None:
        expect(self.person.see("steps").locator("li[data-applied=true]")).to_have_count(count)

    def undo_says(self, words: str) -> None:
        expect(
            self.person.page.get_by_role("button", name=re.compile(f"^Undo.*{words}"))
        ).to_be_enabled()

    def place(self) -> None:
        """Place the part on the table by typing."""
        person = self.person
        person.press("t")
        person.see("place-at-x").fill("70")
        person.see("place-at-x").press("Enter")
        expect(person.see("place-at-x")).to_have_value("70")


class LostAnswers(Impatient):
    def test_a_cut_whose_answer_is_lost_is_made_once(self) -> None:
        for done in (True, False):
            with self.subTest(done=done):
                before = Step.objects.count()
                self.plan_a_loop()
                with self.unanswered("**/steps?job=*", done=done):
                    self.person.press("Enter")
                    expect(self.person.see("trouble")).to_contain_text("does not answer")
                # It goes on by itself, and the plan is gone with the cut.
                self.applied(before + 1)
                expect(self.person.see("planned-mark")).to_have_count(0)
                self.assertEqual(Step.objects.count(), before + 1)
                self.person.press("Escape", "Escape")

    def test_a_cut_that_was_made_all_the_same_is_seen_if_its_plan_was_let_go(self) -> None:
        self.plan_a_loop()
        with self.unanswered("**/steps?job=*", done=True):
            self.person.press("Enter")
            expect(self.person.see("trouble")).to_contain_text("does not answer")
            self.person.press("Escape")
        self.applied(1)
        self.assertEqual(Step.objects.count(), 1)

    def test_an_undo_while_the_service_is_away_is_done_when_it_is_back(self) -> None:
        self.slice_by_api(2.0)
        self.person.page.reload()
        self.person.wait_for_rest()
        self.applied(1)
        for done in (True, False):
            with self.subTest(done=done), self.unanswered("**/undo", done=done) as asked:
                self.person.press("Control+z")
                self.person.is_told("as soon as it is back")
                # However long that takes.
                self.person.wait_until(lambda _, asked=asked: len(asked) > 2, at_rest=False)
            self.applied(0)
            self.person.press("Control+Shift+z")
            self.applied(1)

    def test_a_mark_that_is_never_answered_is_asked_again(self) -> None:
        person = self.person.press("l")
        x, y = person.pixel_of(on_edge(2, 3, 0.3))
        never: list[Route] = []

        def hold_the_first(route: Route) -> None:
            if never:
                route.continue_()
            else:
                never.append(route)

        person.intercept("**/aim", hold_the_first)
        person.page.mouse.move(x - 9, y)
        person.wait_until(lambda _: never, at_rest=False)
        person.point_at(on_edge(2, 3, 0.3), kind="edge")
        # The answer that comes at last shows nothing any more.
        never[0].continue_()
        person.wait_for_answers()
        expect(person.see("mark")).to_have_attribute("data-share", "0.3")


class OneOrder(Impatient):
    def test_a_plan_let_go_comes_back_before_a_made_cut_is_undone(self) -> None:
        self.slice_by_api(2.0)
        person = self.person
        person.page.reload()
        person.wait_for_rest()
        self.plan_a_loop()
        person.see("loop-at").fill("70%")
        person.see("loop-at").press("Enter")
        expect(person.see("loop-at")).to_have_value("70 %")
        person.press("Escape")
        expect(person.see("planned-mark")).to_have_count(0)
        self.undo_says("the plan of Edge loop let go")
        person.press("Control+z")
        expect(person.see("loop-at")).to_have_value("70 %")
        self.applied(1)
        person.press("Escape", "Escape")
        # Put down with a step in between, it stays behind that.
        person.page.get_by_role("button", name="Discard").count()
        self.undo_says("the plan of")
        self.slice_by_api(3.0)
        person.page.reload()
        person.wait_for_rest()
        self.undo_says("Slice")
        person.press("Control+z")
        self.applied(1)
        self.undo_says("the plan of Edge loop let go")

    def test_undo_takes_what_was_done_last_steps_and_places(self) -> None:
        self.slice_by_api(2.0)
        person = self.person
        person.page.reload()
        person.wait_for_rest()
        self.place()
        self.undo_says("Deck plate placed")
        person.page.locator("body").press("Control+z")
        expect(person.see("place-at-x")).to_have_value("0")
        self.applied(1)
        self.undo_says("Slice")
        person.press("Control+z")
        self.applied(0)
        for way in ("Slice", "placed"):
            expect(
                person.page.get_by_role("button", name=re.compile(f"^Redo: .*{way}"))
            ).to_be_enabled()
            person.press("Control+Shift+z")
        expect(person.see("place-at-x")).to_have_value("70")
        self.applied(1)

    def test_a_step_of_another_part_is_undone_with_that_in_hand(self) -> None:
        self.slice_by_api(2.0)
        person = self.person.take_part("Lantern housing")
        self.undo_says("on Deck plate")
        person.press("Control+z")
        expect(person.page.get_by_role("button", name="Deck plate", exact=True)).to_have_attribute(
            "aria-current", "true"
        )
        self.applied(0)
        person.is_told("Undone")

    def test_undo_while_a_cut_is_being_made_undoes_the_cut(self) -> None:
        self.plan_a_loop()
        self.person.wait_for_answers()
        with self.person.held(re.compile(r"/steps\?job=")):
            self.person.press("Enter", "Control+z")
        expect(self.person.see("steps").locator("li[data-applied=false]")).to_have_count(1)
        expect(self.person.see("planned-mark")).to_have_count(0)
        self.assertEqual(list(Entry.objects.values_list("undone", flat=True)), [1])

    def step_by_api(self, part: str, step: dict[str, object]) -> None:
        """Make a step of a part behind the page's back."""
        found = Part.objects.get(name=part, deleted=None)
        ask = """([part, body]) => fetch(`/api/parts/${part}/steps`, {method: "POST", headers: {
            "Content-Type": "application/json",
            "X-CSRFToken": document.cookie.match(/csrftoken=([^;]+)/)[1]}, body: JSON.stringify(body)})"""
        self.person.page.evaluate(ask, [found.pk, {"revision": found.revision, "step": step}])

    def test_what_goes_along_is_told_before_going_back(self) -> None:
        person = self.person
        self.slice_by_api(2.0)
        shards = {"tool": "shards", "by": {"way": "counts", "x": 2, "y": 1, "z": 1}}
        self.step_by_api("Deck plate", shards)
        self.step_by_api("Deck plate, shard 2", {"tool": "triangulate"})
        person.page.reload()
        person.wait_for_rest()
        self.applied(2)
        person.see("steps").get_by_role("button", name="1.").click()
        person.is_told("Going back takes along 1 more thing")
        self.applied(2)
        person.page.get_by_role("button", name="Go back", exact=True).click()
        self.applied(1)
        expect(person.page.get_by_role("button", name="Deck plate, shard 2")).to_have_count(0)
        # Done again, what went along comes back with it.
        person.press("Control+Shift+z")
        person.is_told("Done again")
        self.assertEqual(Part.objects.get(name="Deck plate, shard 2").position, 1)

    def test_an_open_plan_is_there_again_after_a_reload(self) -> None:
        self.plan_a_loop()
        person = self.person
        person.see("loop-at").fill("70%")
        person.see("loop-at").press("Enter")
        expect(person.see("loop-at")).to_have_value("70 %")
        person.page.reload()
        person.wait_for_rest()
        person.is_told("The plan of Edge loop was kept")
        expect(person.see("loop-at")).to_have_value("70 %")
        expect(person.see("planned-mark")).to_have_count(1)
        person.make()
        self.assertEqual(self.exported().face_count, PLATE.face_count + 8)
        # One that waits while another tool is in hand is kept, too.
        self.plan_a_loop()
        person.press("p")
        expect(person.see("planned-mark")).to_have_count(0)
        person.page.reload()
        person.wait_for_rest()
        person.is_told("The plan of Edge loop was kept")
        person.press("e")
        expect(person.see("planned-mark")).to_have_count(1)
        person.press("Escape")
        # Let go or made, it is not open any more.
        person.page.reload()
        person.wait_for_rest().wait_for_answers()
        expect(person.see("planned-mark")).to_have_count(0)

    def test_the_last_part_that_was_deleted_is_had_back_by_undo(self) -> None:
        Part.objects.exclude(name="Deck plate").delete()
        person = self.person
        person.page.reload()
        person.wait_for_rest()
        person.page.get_by_role("button", name="Part: export").click()
        person.page.get_by_role("menuitem", name="Delete the part").click()
        expect(person.page.get_by_text("This project has no part yet")).to_be_visible()
        self.undo_says("Deck plate deleted")
        person.press("Control+z")
        person.wait_for_rest()
        expect(person.page.get_by_role("button", name="Deck plate", exact=True)).to_be_visible()

    def test_a_deleted_part_stands_in_a_list_with_a_way_back(self) -> None:
        person = self.person
        person.page.get_by_role("button", name="Part: export").click()
        person.page.get_by_role("menuitem", name="Delete the part").click()
        person.page.get_by_role("button", name="All parts: find, order, show").click()
        row = person.see("deleted-parts").get_by_role("listitem").filter(has_text="Deck plate")
        expect(row).to_contain_text("gone for good in 30 days")
        row.get_by_role("button", name="Bring it back").click()
        expect(person.see("deleted-parts")).to_have_count(0)
        expect(person.see("parts-list")).to_contain_text("Deck plate")


class Typing(Impatient):
    def pick_a_face(self) -> None:
        self.person.press("p")
        self.person.page.mouse.click(*self.person.pixel_of([0, 8, 0]))
        expect(self.person.see("picked")).to_have_attribute("data-faces", "1")

    def test_a_typed_number_is_the_value_of_what_is_planned(self) -> None:
        person = self.person
        for work, field, typed, shown in (
            ("extrude", "extrude-distance", "-3", "-3.000 mm"),
            ("inset", "inset-width", "1cm/4", "2.500 mm"),
        ):
            with self.subTest(work):
                self.pick_a_face()
                person.see(f"work-{work}").click()
                expect(person.see(field)).to_be_visible()
                person.page.mouse.move(*person.pixel_of([0, 8, 0]))
                for key in typed:
                    person.press(key)
                person.press("Enter")
                expect(person.see(field)).to_have_value(shown)
                person.press("Escape", "Escape")
        self.pick_a_face()
        person.see("work-extrude").click()
        expect(person.see("extrude-distance")).to_be_visible()
        person.press("-", "3", "Enter")
        person.make()
        box = self.exported().box
        self.assertAlmostEqual(
            float(box[1, 1] - box[0, 1]), float(np.ptp(PLATE.box[:, 1])), places=6
        )

    def test_calibrating_takes_what_is_typed_after_the_second_click(self) -> None:
        person = self.person.take_view("f")
        person.page.get_by_role("button", name="Drawing", exact=True).click()
        card = person.see("drawing-card")
        card.get_by_role("button", name="calibrate", exact=True).click()
        for right in (-20, 20):
            person.page.mouse.click(*person.pixel_of((right, 4, 0)))
        expect(person.see("drawing-apart")).to_be_visible()
        before = person.see("drawing-height").input_value()
        person.press("8", "0", "Enter")
        expect(person.see("drawing-apart")).to_have_count(0)
        expect(person.see("drawing-height")).not_to_have_value(before)

    def test_the_second_press_of_a_pair_goes_before_typing(self) -> None:
        self.plan_a_loop()
        self.person.press("v", "2")
        expect(self.person.see("typed")).to_have_count(0)
        expect(self.person.see("loop-at")).to_be_visible()

    def test_delete_takes_off_what_is_picked(self) -> None:
        self.pick_a_face()
        self.person.press("Delete")
        expect(self.person.see("plan-adds")).to_be_visible()
        self.person.press("Enter")
        self.applied(1)
        self.assertEqual(self.exported().face_count, PLATE.face_count - 1)


class Keys(Impatient):
    def test_two_quick_clicks_are_a_slice(self) -> None:
        person = self.person.press("s")
        x, y = person.pixel_of([0, 8, -40])
        u, v = person.pixel_of([3, 8, 40])
        with person.held("**/aim/slice"):
            person.page.mouse.click(x, y)
            person.page.mouse.click(u, v)
        expect(person.see("plan-adds")).to_be_visible()

    def test_the_keys_go_to_the_part_again_after_a_menu_and_the_palette(self) -> None:
        person = self.person
        person.page.mouse.click(*person.pixel_of([0, 8, 0]), button="right")
        expect(person.see("element-menu")).to_be_visible()
        person.press("Escape")
        expect(person.see("canvas")).to_be_focused()
        person.press("Control+k")
        person.page.get_by_placeholder("Type what you want to do").fill("frame the part")
        person.press("Enter")
        expect(person.see("canvas")).to_be_focused()


class Fingers(Impatient):
    def setUp(self) -> None:
        super().setUp()
        window = self._browser.new_context(
            viewport=SCREEN, has_touch=True, reduced_motion="reduce"
        ).new_page()
        self.addCleanup(window.context.close)
        self.person = self._person_at(window)
        self.person.open_part("Deck plate").take_view("t").press("p")

    def test_taps_add_and_take_away_and_a_finger_that_rests_opens_the_menu(self) -> None:
        person = self.person
        bevel = 0.5 * (PLATE.points[0] + PLATE.points[9])
        for place, count in (([0, 8, 0], 1), (bevel, 2), ([0, 8, 0], 1)):
            person.page.touchscreen.tap(*person.pixel_of(place))
            expect(person.see("picked")).to_have_attribute("data-faces", str(count))
        x, y = person.pixel_of([0, 8, 0])
        with_tools = person.page.context.new_cdp_session(person.page)
        with_tools.send(
            "Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x, "y": y}]}
        )
        expect(person.see("element-menu")).to_be_visible()
        with_tools.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
        expect(person.see("element-menu")).to_be_visible()


class Downloads(Impatient):
    def test_a_file_that_can_not_be_taken_out_is_said(self) -> None:
        Snapshot.objects.filter(part__name="Lantern housing").update(digest="0" * 32)
        self.person.page.get_by_role("button", name="Part: export").click()
        self.person.page.get_by_role("menuitem", name="The project").click()
        self.person.is_told("It could not be exported")
