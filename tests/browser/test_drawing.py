"""From a dimensioned drawing to an exact part: the walk-through of the README, from an empty
project."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from tests.browser.workshop_case import WorkshopCase
from tests.guarantees import euler_of
from workshop.sample.housing_drawing import ABOVE, BELOW, LEFT, TALL, WIDE, housing_drawing
from workshop.sample.skerry_light import HOUSING_PROFILE

ROWS = [(height, 2 * radius) for radius, height in HOUSING_PROFILE[1:-1]]
FULL = ABOVE + TALL + BELOW


class FromADrawing(WorkshopCase):
    def settle(self, field: str, text: str) -> None:
        self.person.see(field).fill(text)
        self.person.see(field).press("Enter")

    def chip(self, words: str) -> None:
        self.person.see("drawing-card").get_by_role("button", name=words, exact=True).click()

    def click_at(self, right: float, up: float) -> None:
        self.person.page.mouse.click(*self.person.pixel_of((right, up, 0)))

    def test_a_turned_part_is_rebuilt_to_the_last_digit(self) -> None:
        person = self.person.open()
        person.page.get_by_role("button", name="From a shape…").click()
        person.page.get_by_role("button", name="Cylinder").click()
        for field, text in (
            ("diameter", "8cm"),
            ("height", "141"),
            ("sides", "24"),
            ("along_height", "1"),
        ):
            self.settle(f"shape-{field}", text)
        person.see("shapes").get_by_label("ends").click()
        person.page.get_by_role("option", name="fans of triangles").click()
        person.page.get_by_role("button", name="Make the part").click()
        person.wait_for_rest().take_view("f")

        # The drawing is brought in at some size, and calibrated by two points of it that are 141
        # apart.
        person.page.get_by_role("button", name="Drawing", exact=True).click()
        card = person.see("drawing-card")
        card.get_by_test_id("file").set_input_files(
            {"name": "housing.svg", "mimeType": "image/svg+xml", "buffer": housing_drawing()}
        )
        expect(person.see("drawing")).to_be_attached()
        # It stands behind the middle of the part, as tall as it.
        expect(person.see("drawing-height")).to_have_value("141.000 mm")
        left = float(person.see("drawing-x").input_value().removesuffix(" mm"))
        breadth = person.page.evaluate(
            "document.querySelector('[data-testid=drawing]').naturalWidth"
            " / document.querySelector('[data-testid=drawing]').naturalHeight"
        )
        self.assertAlmostEqual(left, -141 * breadth / 2, delta=0.01)
        for field, text in (("height", "100"), ("x", "0"), ("y", "0")):
            self.settle(f"drawing-{field}", text)
        scale = 100.0 / FULL
        self.chip("calibrate")
        for up in (BELOW, BELOW + TALL):
            self.click_at((LEFT + WIDE / 2) * scale, up * scale)
        self.settle("drawing-apart", "14.1cm")
        expect(person.see("drawing-apart")).to_have_count(0)
        height = float((person.see("drawing-height").input_value()).removesuffix(" mm"))
        self.assertAlmostEqual(height, FULL, delta=0.5)
        self.settle("drawing-height", f"{FULL:g}")
        self.settle("drawing-x", f"{-(LEFT + WIDE / 2):g}")
        self.settle("drawing-y", f"{-BELOW:g}")

        self.chip("heights")
        for k, (height, _) in enumerate(ROWS):
            self.click_at(-60, height)
            expect(person.see("drawn-height")).to_have_count(k + 1)
        self.chip("widths")
        for k, (height, diameter) in enumerate(ROWS):
            self.click_at(-diameter / 2, height)
            self.click_at(diameter / 2, height)
            expect(person.see("drawn-width")).to_have_count(k + 1)
        self.chip("Profile: cuts and diameters")
        expect(person.see("bench")).to_have_attribute("data-tool", "gauge")
        expect(person.see("gauge-rows").locator("li")).to_have_count(len(ROWS))
        expect(person.see("diameter-3")).to_have_value("73.000 mm")
        # The tip of the roof has no diameter: the end is drawn in by hand.
        self.settle("gauge-add", f"{TALL:g}")
        self.settle(f"diameter-{len(ROWS)}", "1")
        expect(person.see("profile-says")).to_be_visible()
        # It is asked for nothing that a profile takes no heed of.
        for setting in ("follow", "hard-above", "limit"):
            expect(person.see(setting)).to_have_count(0)
        expect(person.see("finish")).to_have_count(1)
        expect(person.see("gauge-total")).to_contain_text("nothing left")
        expect(person.see("canvas")).to_have_attribute("data-planned", "shown")
        person.see("gauge-add").press("Escape")
        person.make()

        mesh = self.exported()
        for height, diameter in [*ROWS, (TALL, 1.0)]:
            there = mesh.points[np.abs(mesh.points[:, 1] - height) < 1e-9]
            reach = 2 * np.hypot(there[:, 0], there[:, 2])
            np.testing.assert_allclose(
                reach[reach > 1e-6], diameter, rtol=1e-9, err_msg=f"at {height}"
            )
        self.assertEqual((euler_of(mesh), int(mesh.edges.border.sum())), (2, 0))
        expect(person.see("steps").locator("li").first).to_contain_text("Profile, 17 heights on y")

    def test_the_sample_drawing_stands_behind_the_housing_and_only_in_its_view(self) -> None:
        person = self.person.open_part("Lantern housing").take_view("f")
        person.page.get_by_role("button", name="Drawing", exact=True).click()
        picture = person.see("drawing")
        expect(picture).to_be_attached()
        # A picture that is shown in full has a width of its own.
        expect(person.see("drawing")).to_have_js_property("complete", True)
        self.assertGreater(person.see("drawing").evaluate("picture => picture.naturalWidth"), 0)
        box = picture.bounding_box()
        assert box is not None
        foot = person.pixel_of((0, -BELOW, 0))
        self.assertAlmostEqual(box["y"] + box["height"], foot[1], delta=1.5)
        self.assertAlmostEqual(
            box["x"] + box["width"] * (LEFT + WIDE / 2) / (LEFT + WIDE + 60), foot[0], delta=1.5
        )
        person.take_view("r")
        expect(picture).to_have_count(0)
        expect(
            person.see("drawing-card").get_by_role("button", name="heights", exact=True)
        ).to_be_disabled()
        person.see("drawing-card").get_by_role("button", name="go there").click()
        expect(picture).to_be_attached()
        person.see("drawing-card").get_by_role("button", name="locked").click()
        self.chip("move")
        x, y = person.pixel_of((70, 60, 0))
        person.page.mouse.move(x, y)
        person.page.mouse.down()
        person.page.mouse.move(*person.pixel_of((80, 55, 0)), steps=3)
        person.page.mouse.up()
        expect(person.see("drawing-x")).to_have_value("-76")
        expect(person.see("drawing-y")).to_have_value("-25")
