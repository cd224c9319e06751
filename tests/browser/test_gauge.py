"""Gauge in the browser: distances typed, pasted, pulled; what adds nothing is said; checked on the
exported part."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import HOUSING_SIDES, lantern_housing

HOUSING = lantern_housing()


class Gauge(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.open_part("Lantern housing").take_view("f").press("g")
        self.original = self.person.export()

    def add(self, text: str) -> None:
        field = self.person.see("gauge-add")
        field.fill(text)
        field.press("Enter")

    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option).click()

    def heights(self) -> list[float]:
        """Make the cuts; where their vertices lie. Undo gives the same bytes again."""
        self.person.see("gauge-add").press("Escape")
        self.person.make()
        found = np.unique(np.round(self.exported().points[HOUSING.vertex_count :, 1], 9)).tolist()
        self.person.press("Control+z")
        expect(self.person.see("steps").locator("li[data-applied=false]")).to_have_count(1)
        self.assertEqual(self.person.wait_for_rest().export(), self.original)
        return [float(height) for height in found]

    def test_distances_are_typed_one_after_another_in_any_unit(self) -> None:
        rows = self.person.see("gauge-rows").locator("li")
        self.add("14")
        self.add("0.2cm 3x5.5mm")
        expect(rows).to_have_count(5)
        expect(self.person.see("gauge-total")).to_contain_text("32.500 mm of 141.000 mm")
        expect(self.person.see("plan-adds")).to_contain_text(f"{5 * HOUSING_SIDES} new vertices")
        self.add("12 feet")
        expect(self.person.page.get_by_role("alert")).to_contain_text("four of 5 mm")
        self.person.see("gauge-add").fill("")
        self.assertEqual(self.heights(), [14.0, 16.0, 21.5, 27.0, 32.5])

    def test_a_mirror_stands_where_it_is_typed_in_any_unit(self) -> None:
        self.add("20")
        self.choose("mirror", "across y")
        offset = self.person.see("mirror-offset")
        expect(offset).to_have_value("at 0")
        for typed, shown in (
            ("3cm/2", "15.000 mm"),
            ("12 + 0.5in", "24.700 mm"),
            ("-(2 * 4mm)", "-8.000 mm"),
            ("1/4 in", "6.350 mm"),
            ("5cm + 20", "70.000 mm"),
        ):
            offset.fill(typed)
            offset.press("Enter")
            expect(offset).to_have_value(shown)
        for no_length in ("3cm * 2cm", "3cm / 2mm", "2 x", "1 / (2mm)"):
            offset.fill(no_length)
            offset.press("Enter")
            expect(self.person.page.get_by_role("alert")).to_contain_text("A position, such as")
        offset.press("Escape")
        expect(self.person.see("plan-adds")).to_contain_text(f"{2 * HOUSING_SIDES} new vertices")
        self.assertEqual(self.heights(), [20.0, 120.0])

    def test_a_pasted_column_counts_from_the_high_side_and_what_adds_nothing_is_said(self) -> None:
        person = self.person
        person.see("gauge-add").evaluate(
            """(field) => {
                const held = new DataTransfer();
                held.setData('text', '37\\n10\\n200\\n');
                field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: held, bubbles: true, cancelable: true }));
            }"""
        )
        rows = person.see("gauge-rows").locator("li")
        expect(rows).to_have_count(3)
        self.choose("gauge-start", "the high side")
        # A ring of the housing lies 37 below its tip.
        expect(rows.nth(0)).to_have_attribute("data-nothing", "gauge-on-a-loop")
        expect(rows.nth(2)).to_contain_text("off the part")
        expect(person.see("gauge-total")).to_contain_text("106.000 mm too long")
        rows.nth(2).hover()
        person.page.get_by_role("button", name="Remove distance 3").click()
        expect(rows).to_have_count(2)
        self.assertEqual(self.heights(), [94.0])

    def test_a_pulled_cut_changes_its_row_and_leaves_the_others(self) -> None:
        person = self.person
        self.add("20 10 40")
        expect(person.see("gauge-grip")).to_have_count(3)
        person.see("gauge-add").press("Escape")
        person.page.mouse.move(*person.pixel_of((0, 30, 0)))
        person.page.mouse.down()
        person.page.mouse.move(*person.pixel_of((0, 43, 0)), steps=4)
        person.page.mouse.up()
        # It settles on the ring at 44.
        expect(person.see("width-1")).to_have_value("24.000 mm")
        expect(person.see("width-2")).to_have_value("26.000 mm")
        person.see("width-1").fill("25")
        person.see("width-1").press("Enter")
        self.choose("gauge-measure", "distances from there")
        expect(person.see("width-2")).to_have_value("71.000 mm")
        self.assertEqual(self.heights(), [20.0, 45.0, 71.0])

    def test_a_tilt_either_way_and_the_list_mirrored_about_the_middle(self) -> None:
        person = self.person
        self.add("20")
        person.page.get_by_role("button", name="Mirror the list about the middle").click()
        expect(person.see("width-1")).to_have_value("101.000 mm")
        for degrees in (10, -10):
            person.see("gauge-tilt").fill(str(degrees))
            person.see("gauge-tilt").press("Enter")
            self.choose("gauge-tilt-about", "about z")
            expect(person.see("not-at-default")).to_contain_text(f"tilt {degrees}°")
            expect(
                person.see("make-bar").get_by_role("button", name="Make the cut")
            ).to_be_enabled()
        person.see("gauge-rows").locator("li").nth(1).hover()
        person.page.get_by_role("button", name="Remove distance 2").click()
        person.see("gauge-add").press("Escape")
        person.make()
        new = self.exported().points[HOUSING.vertex_count :]
        # A right-handed turn about z by -10 degrees: the cut falls with x.
        np.testing.assert_allclose(new[:, 1], 20.0 - np.tan(np.radians(10)) * new[:, 0], atol=1e-9)

    def test_distances_run_along_the_normal_of_a_picked_face(self) -> None:
        person = self.person
        self.choose("gauge-along", "the normal of the picked face")
        person.is_told("Pick one face")
        person.press("p")
        person.page.mouse.click(*person.pixel_of((2.0, 36, 0)))
        expect(person.see("picked")).to_have_attribute("data-faces", "1")
        person.press("g")
        self.choose("gauge-along", "the normal of the picked face")
        self.add("20 20")
        expect(person.see("limit")).to_contain_text("the whole part")
        expect(person.see("gauge-grip")).to_have_count(2)
        person.see("gauge-add").press("Escape")
        person.make()
        self.assertGreater(len(self.exported().points), HOUSING.vertex_count + 20)

    def test_a_list_is_kept_by_name_and_taken_again(self) -> None:
        person = self.person
        self.add("14 5.5")
        self.choose("gauge-start", "the high side")
        person.see("kept-lists").get_by_role("button", name="Keep this list").click()
        person.page.get_by_role("textbox", name="Name").fill("Rings")
        person.press("Enter")
        kept = person.see("kept-lists").get_by_role("button", name="Rings", exact=True)
        expect(kept).to_be_visible()
        person.press("Escape")
        expect(person.see("gauge-rows").locator("li")).to_have_count(0)
        self.choose("gauge-start", "the low side")
        kept.click()
        expect(person.see("gauge-rows").locator("li")).to_have_count(2)
        expect(person.see("gauge-start")).to_have_attribute("data-value", "high")
        self.assertEqual(self.heights(), [121.5, 127.0])
        person.page.get_by_role("button", name="Forget the list Rings").click()
        expect(kept).to_have_count(0)
