"""Woven in the page: a cut whose grid bends to it, compared with the other ways, made and taken
back."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import float_hull, lantern_housing

HOUSING, HULL = lantern_housing(), float_hull()

# Plans can be made to take long.
SLOW_PLANS = """const ask = window.fetch;
    window.fetch = async (...what) => {
        const plan = String(what[0]?.url ?? what[0]).endsWith('/plan');
        const stopped = new Promise(done => what[0].signal?.addEventListener('abort', done));
        if (plan && window.slowPlans)
            await Promise.race([stopped, new Promise(done => setTimeout(done, window.slowPlans))]);
        return ask(...what);
    };"""


class Woven(WorkshopCase):
    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option).click()

    def plan_a_slice(self) -> None:
        self.person.open_part("Lantern housing").press("s")
        self.choose("plane-by", "square to y")
        self.person.see("plane-tilt-1").fill("14")
        self.person.see("plane-tilt-1").press("Enter")
        # The plane is turned first, then the plan asked for.
        expect(self.person.see("plan-adds")).to_contain_text("30 new vertices")
        self.person.wait_for_answers()

    def test_a_slice_woven_over_the_housing_keeps_its_quads_and_is_taken_back(self) -> None:
        person = self.person
        self.plan_a_slice()
        self.choose("finish", "woven")
        person.wait_for_answers()
        mending = person.see("mending")
        expect(mending).to_contain_text("bend to it")
        self.assertGreater(float(mending.get_attribute("data-jacobian") or 0), 0.3)
        self.assertGreater(float(mending.get_attribute("data-median") or 0), 0.9)
        self.assertGreater(person.see("plan-mending").locator("line").count(), 50)
        expect(person.see("not-at-default")).to_contain_text("woven")
        person.make()
        made = self.exported()
        self.assertEqual((made.sizes != 4).sum(), (HOUSING.sizes != 4).sum())
        self.assertEqual(made.face_count, HOUSING.face_count + 2 * 28)
        expect(person.see("steps")).to_contain_text("woven")
        person.press("Control+z").wait_for_answers()
        self.assertEqual(self.exported().face_count, HOUSING.face_count)

    def test_the_ways_are_compared_drawn_when_pointed_at_and_chosen_there(self) -> None:
        person = self.person
        self.plan_a_slice()
        person.see("compare").click()
        rows = person.see("compared").locator("tbody tr")
        expect(rows).to_have_count(3)
        drawn = person.see("plan-mending").locator("line")
        expect(drawn).to_have_count(0)
        rows.nth(2).hover()
        self.assertGreater(drawn.count(), 50)
        rows.nth(0).hover()
        expect(drawn).to_have_count(0)
        rows.nth(2).get_by_role("button", name="woven", exact=True).click()
        expect(person.see("finish")).to_have_attribute("data-value", "woven")
        person.wait_for_answers()
        # The same plan finished otherwise is still the one that was compared.
        expect(rows).to_have_count(3)
        rows.nth(2).get_by_role("button", name="show the worst quad").click()
        person.see("plane-tilt-1").fill("20")
        person.see("plane-tilt-1").press("Enter")
        expect(person.see("compared")).to_have_count(0)
        expect(person.see("compare")).to_be_visible()

    def test_an_answer_that_comes_late_is_not_shown_beside_another_plan(self) -> None:
        person = self.person
        self.plan_a_slice()
        with person.held("**/finishes"):
            person.see("compare").click()
            person.see("plane-tilt-1").fill("20")
            person.see("plane-tilt-1").press("Enter")
            expect(person.see("plan-adds")).to_contain_text("34 new vertices")
        person.wait_for_answers()
        expect(person.see("compared")).to_have_count(0)

    def test_a_plan_that_takes_long_is_said_to_be_worked_out_and_its_old_numbers_fade(self) -> None:
        person = self.person
        person.page.add_init_script(SLOW_PLANS)
        self.plan_a_slice()
        adds = person.see("plan-adds")
        person.page.evaluate("window.slowPlans = 1500")
        person.see("finish").click()
        person.page.get_by_role("option", name="woven").click()
        expect(person.see("working")).to_be_visible()
        expect(person.see("plan")).to_contain_text("being worked out")
        expect(adds).to_have_css("opacity", "0.4")
        expect(person.see("working")).to_have_count(0)
        expect(adds).to_have_css("opacity", "1")
        expect(person.see("mending")).to_contain_text("bend to it")

    def test_a_plan_that_takes_too_long_is_stopped_and_is_as_it_was(self) -> None:
        person = self.person
        person.page.add_init_script(SLOW_PLANS)
        self.plan_a_slice()
        before = person.see("plan-adds").inner_text()
        person.page.evaluate("window.slowPlans = 60000")
        self.choose("finish", "woven")
        stop = person.see("working").get_by_role("button", name="Stop")
        expect(stop).to_be_visible()
        stop.click()
        expect(person.see("working")).to_have_count(0)
        expect(person.see("finish")).to_have_attribute("data-value", "as cut")
        self.assertEqual(person.see("plan-adds").inner_text(), before)
        person.page.evaluate("window.slowPlans = 0")
        person.make()
        # One that was never answered is let go, and comes back by undo.
        person.press("l").page.evaluate("window.slowPlans = 60000")
        for vertex in (40, 44):
            person.page.mouse.click(*person.pixel_of(HOUSING.points[vertex]))
        stop.click()
        expect(person.see("make-bar")).to_have_count(0)
        person.page.evaluate("window.slowPlans = 0")
        person.press("Control+z")
        expect(person.see("make-bar")).to_be_visible()

    def test_a_limit_that_is_passed_is_said_and_can_be_set(self) -> None:
        person = self.person
        self.plan_a_slice()
        self.choose("finish", "woven")
        person.see("most-moved").fill("0.1 %")
        person.see("most-moved").press("Enter")
        person.wait_for_answers()
        expect(person.see("plan")).to_contain_text("more than is allowed")
        # The field is marked as long as its value is refused.
        expect(person.see("most-moved")).to_have_attribute("data-refused", "true")
        person.see("most-moved").fill("20 %")
        person.see("most-moved").press("Enter")
        expect(person.see("most-moved")).not_to_have_attribute("data-refused", "true")
        expect(person.see("not-at-default")).to_contain_text("how it is woven")
        person.see("not-at-default").get_by_role("button", name="reset").click()
        expect(person.see("finish")).to_have_attribute("data-value", "as cut")

    def test_a_seam_is_woven_over_the_hull(self) -> None:
        person = self.person
        person.open_part("Float hull").take_view("t").press("m")
        for vertex in (67, 157):
            person.page.mouse.click(*person.pixel_of(HULL.points[vertex]))
            person.wait_for_answers()
        self.choose("finish", "woven")
        person.see("most-moved").fill("40 %")
        person.see("most-moved").press("Enter")
        person.wait_for_answers()
        person.make()
        made = self.exported()
        self.assertEqual((made.sizes != 4).sum(), (HULL.sizes != 4).sum())
        self.assertGreater(made.face_count, HULL.face_count + 8)
        gaps = np.linalg.norm(made.points[:, None] - HULL.points[[67, 157]], axis=2).min(axis=0)
        np.testing.assert_allclose(gaps, 0, atol=1e-4)

    def test_how_well_faces_are_formed_is_painted_and_a_bar_picks_them(self) -> None:
        person = self.person
        person.open_part("Float hull").press("p")
        person.page.get_by_role("button", name="Flow", exact=True).click()
        person.wait_for_answers()
        self.choose("flow-paint", "scaled Jacobian")
        bars = person.see("histogram").get_by_role("button")
        expect(bars).to_have_count(11)
        faces = [int(bar.get_attribute("data-faces") or 0) for bar in bars.all()]
        self.assertEqual(sum(faces), HULL.face_count)
        worst = max(k for k, count in enumerate(faces) if count)
        bars.nth(worst).click()
        expect(person.see("readout")).to_contain_text(f"{faces[worst]} faces")
        self.choose("flow-paint", "the flow")
        expect(person.see("histogram")).to_have_count(0)
