"""Mending: the flow planned with a cut, the tray of repairs, and what the flow view tells."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from cutcore.queries.flow import flow
from tests.browser.deck import PLATE, on_edge
from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import float_hull, lantern_housing

RINGS = lantern_housing().points[1:-1].reshape(-1, 28, 3)


class Mending(WorkshopCase):
    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option).click()

    def click(self, place: object, *, add: bool = False) -> None:
        if add:
            self.person.page.keyboard.down("Shift")
        self.person.page.mouse.click(*self.person.pixel_of(place))
        if add:
            self.person.page.keyboard.up("Shift")
        self.person.wait_for_answers()

    def test_a_knife_line_that_ends_in_quads_shows_its_mending_and_makes_it(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("l")
        person.point_at(on_edge(8, 9, 0.5), kind="half").choose()
        person.point_at(on_edge(11, 12, 0.3), kind="edge").choose()
        self.choose("finish", "all quads")
        mending = person.see("mending")
        expect(mending).to_contain_text("smallest angle")
        self.assertGreater(float(mending.get_attribute("data-jacobian") or 0), 0.1)
        lines = person.see("plan-mending").locator("line")
        self.assertGreater(lines.count(), 2)
        mending.get_by_role("button", name="Show the smallest angle").click()
        expect(person.see("not-at-default")).to_contain_text("all quads")
        person.make()
        made = self.exported()
        # What the cut touched is quads; the plate's eight-sided underside was not.
        self.assertEqual(int((made.sizes != 4).sum()), int((PLATE.sizes != 4).sum()) - 1)
        expect(person.see("steps")).to_contain_text("all quads")
        person.press("Control+z").wait_for_answers()
        self.assertEqual(self.exported().face_count, PLATE.face_count)

    def test_the_setting_stays_for_the_next_tool_and_is_named_there(self) -> None:
        person = self.person
        person.open_part("Lantern housing").press("s")
        self.choose("plane-by", "square to x")
        person.see("plane-tilt-1").fill("12")
        person.see("plane-tilt-1").press("Enter")
        person.wait_for_answers()
        before = person.see("flow").locator("[data-flow=ngons]").inner_text()
        self.choose("finish", "all quads")
        expect(person.see("mending")).to_be_visible()
        person.wait_for_answers()
        self.assertNotEqual(before, person.see("flow").locator("[data-flow=ngons]").inner_text())
        person.press("g")
        expect(person.see("not-at-default")).to_contain_text("all quads")

    def test_a_face_offers_ways_seen_on_hover_and_taken_by_click(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("n")
        self.click([0, 8, 0])
        person.see("mend-quads").click()
        ways = person.see("quad-ways").get_by_role("button")
        expect(ways).to_have_count(3)
        adds = person.see("plan-adds")
        expect(adds).to_contain_text("0 new vertices · 2 new edges")
        ways.nth(1).hover()
        expect(adds).to_contain_text("1 new vertex · 4 new edges")
        person.page.mouse.move(40, 400)
        expect(adds).to_contain_text("0 new vertices · 2 new edges")
        # What was only looked at is nothing to take back.
        person.page.keyboard.press("Control+z")
        expect(person.see("mend")).not_to_contain_text("scaled Jacobian")
        person.page.keyboard.press("Control+Shift+z")
        ways.nth(1).click()
        expect(adds).to_contain_text("1 new vertex · 4 new edges")
        person.make()
        made = self.exported()
        self.assertEqual(made.face_count, PLATE.face_count + 3)
        self.assertEqual(int((made.sizes > 4).sum()), int((PLATE.sizes > 4).sum()) - 1)

    def test_corners_are_joined_by_hand_and_the_rest_follows(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("n")
        self.click([0, 8, 0])
        person.see("mend-quads").click()
        person.see("join-corners").click()
        corners = PLATE.face(int(np.argmax(PLATE.sizes)))
        top = [v for v in corners.tolist() if PLATE.points[v][1] > 7.9] or [8, 9, 10, 11, 12]
        for vertex in (top[0], top[3]):
            self.click(PLATE.points[vertex])
        expect(person.see("forget-corners")).to_contain_text("1 edge")
        person.wait_for_answers()
        person.make()
        made = self.exported()
        self.assertGreaterEqual(made.edges.between(int(top[0]), int(top[3])), 0)

    def test_the_tray_welds_splits_fills_and_says_what_it_needs(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("n")
        expect(person.see("mend-collapse")).to_have_attribute("data-faint", "true")
        person.see("mend-weld").click()
        person.see("weld-within").fill("24")
        person.see("weld-within").press("Enter")
        expect(person.see("weld-pairs")).to_be_attached()
        person.press("Escape")
        person.press("n")
        self.click([0, 8, 0])
        person.see("mend-take-off").click()
        person.make()
        person.see("mend-fill").click()
        self.choose("fill-by", "a grid")
        person.wait_for_answers()
        person.make()
        made = self.exported()
        self.assertEqual(flow(made).counts.borders, 0)
        self.assertEqual(int((made.sizes > 4).sum()), int((PLATE.sizes > 4).sum()) - 1)

    def test_what_is_chosen_from_the_tray_is_planned_in_sight(self) -> None:
        person = self.person
        person.open_part("Deck plate").press("n")
        chips = person.see("mend").locator("button:not([data-faint])")
        expect(person.see("mend-quads")).to_be_visible()
        names = [
            str(chip.get_attribute("data-testid"))
            for chip in chips.all()
            if chip.get_attribute("data-testid")
        ]
        self.assertGreater(len(names), 10)
        for width, height in ((1280, 800), (1024, 700)):
            person.page.set_viewport_size({"width": width, "height": height})
            for name in names:
                with self.subTest(name, height=height):
                    person.see(name).click()
                    # The others are folded away, and come back when they are asked for.
                    expect(person.see("mend-another")).to_be_visible()
                    expect(chips.filter(has_text="weld onto")).to_have_count(0)
                    for button in ("Make it so", "Discard"):
                        box = (
                            person.see("make-bar").get_by_role("button", name=button).bounding_box()
                        )
                        assert box is not None
                        self.assertLess(box["y"] + box["height"], height - 56)
                    person.see("mend-another").click()
        expect(person.see("mend-quads")).to_be_visible()

    def test_what_waits_for_a_pick_says_so_and_is_planned_when_it_comes(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("n")
        person.see("mend-weld-onto").click()
        expect(person.see("mend")).to_contain_text("For it pick two vertices")
        expect(person.see("make-bar")).to_have_count(0)
        # What is pointed at is of the kind that it needs.
        self.click(PLATE.points[8])
        expect(person.see("make-bar")).to_have_count(0)
        self.click(PLATE.points[9], add=True)
        expect(person.see("make-bar")).to_be_visible()
        person.wait_for_answers()
        expect(person.see("mend")).not_to_contain_text("For it pick")

    def test_who_chooses_by_keyboard_goes_on_at_what_was_chosen(self) -> None:
        person = self.person
        person.open_part("Deck plate").press("n")
        person.see("mend-thicken").focus()
        for chip in ("mend-thicken", "mend-another"):
            person.page.keyboard.press("Tab")
            person.see(chip).focus()
            person.page.keyboard.press("Enter")
            expect(person.see("mend-thicken")).to_be_focused()

    def test_a_collapse_that_folds_is_refused_and_taken_anyway(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("n")
        self.choose("pick-kind", "vertices")
        self.click(PLATE.points[8])
        self.click(PLATE.points[12], add=True)
        person.see("mend-collapse").click()
        self.choose("collapse-to", "a typed place")
        person.see("collapse-x").fill("900")
        person.see("collapse-x").press("Enter")
        refusal = person.see("refusal")
        expect(refusal).to_contain_text("fold over")
        expect(refusal.get_by_role("button", name="Show")).to_be_visible()
        person.see("tick-anyway").click()
        expect(refusal).to_have_count(0)
        person.wait_for_answers()
        person.make()
        self.assertEqual(self.exported().vertex_count, PLATE.vertex_count - 1)

    def test_an_outline_is_woven_into_the_hull(self) -> None:
        person, hull = self.person, float_hull()
        person.open_part("Float hull").press("o")
        person.see("outlines-in-hand").get_by_role("button", name="Inspection hatch").click()
        self.click([0, float(hull.points[:, 1].max()), 0])
        self.choose("weave", "a ring")
        expect(person.see("mending")).to_contain_text("mend the flow")
        person.wait_for_answers()
        person.make()
        made = self.exported()
        self.assertEqual(int((made.sizes != 4).sum()), int((hull.sizes != 4).sum()))
        expect(person.see("steps")).to_contain_text("woven in")

    def test_the_flow_view_shows_loops_and_rings_whole_and_leads_to_quads(self) -> None:
        person = self.person
        person.open_part("Lantern housing").take_view("f").press("p")
        person.page.get_by_role("button", name="Flow", exact=True).click()
        expect(person.see("flow").locator("[data-flow=folded]")).to_be_visible()
        front = max(range(28), key=lambda k: RINGS[9, k, 2])
        level = 0.5 * (RINGS[9, front] + RINGS[9, (front + 1) % 28])
        person.page.mouse.move(*person.pixel_of(level))
        loop = person.see("flow-lines").locator("[data-line=loop]")
        expect(loop).to_have_attribute("data-closed", "true")
        expect(loop).to_have_attribute("data-count", "28")
        expect(person.see("flow-words")).to_contain_text("ends at face")
        person.see("quads-triangles").click()
        expect(person.see("mend")).to_contain_text("turn into quads")
        expect(person.see("plan-adds")).to_be_visible()
        person.make()
        self.assertTrue((self.exported().sizes == 4).all())

    def test_the_menu_of_an_element_offers_mends_for_it(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("p")
        person.page.mouse.click(*person.pixel_of([0, 8, 0]), button="right")
        menu = person.see("element-menu")
        menu.get_by_role("menuitem", name="Mend").press("ArrowRight")
        person.page.get_by_role("menuitem", name="Circle in a face").click()
        expect(person.see("mend")).to_contain_text("across")
        self.choose("circle-tie", "quads all round")
        person.wait_for_answers()
        person.make()
        made = self.exported()
        self.assertGreater(made.face_count, PLATE.face_count + 8)
