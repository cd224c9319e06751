"""Measuring and sizing in the browser: read what is picked, type over it, see it, make it."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import HOUSING_PROFILE, HOUSING_SIDES, lantern_housing

HOUSING = lantern_housing()
RING = 10
RADIUS, HEIGHT = HOUSING_PROFILE[RING]


class Measure(WorkshopCase):
    def settle(self, field: str, text: str) -> None:
        self.person.see(field).fill(text)
        self.person.see(field).press("Enter")

    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option).click()

    def width_along_an_edge(self) -> float:
        """How far the ring reaches along the side at its front."""
        ring = HOUSING.points[1:-1].reshape(-1, HOUSING_SIDES, 3)[RING - 1]
        front = int(np.argmax(ring[:, 2]))
        along = ring[(front + 1) % HOUSING_SIDES] - ring[front]
        return float(np.ptp(ring @ (along / np.linalg.norm(along))))

    def test_a_part_is_sized_about_its_low_side_and_undone(self) -> None:
        person = self.person.open_part("Lantern housing").press("p")
        original = person.export()
        expect(person.see("size-y")).to_have_value("141.000 mm")
        self.choose("size-about", "its low side")
        self.settle("size-y", "15cm")
        expect(person.see("canvas")).to_have_attribute("data-planned", "shown")
        person.press("Escape")
        expect(person.see("size-y")).to_have_value("141.000 mm")
        self.settle("size-y", "15cm")
        self.settle("move-x", "-2.5")
        person.make()
        mesh = self.exported()
        self.assertEqual(
            (float(mesh.points[:, 1].min()), float(mesh.points[:, 1].max())), (0.0, 150.0)
        )
        self.assertAlmostEqual(float(mesh.points[:, 0].mean()), -2.5)
        expect(person.see("steps").locator("li").first).to_contain_text(
            "The part sized to y 150.00 mm"
        )
        person.press("Control+z")
        expect(person.see("steps").locator("li[data-applied=false]")).to_have_count(1)
        self.assertEqual(person.wait_for_rest().export(), original)

    def test_a_ring_is_read_and_sized_to_its_diameter(self) -> None:
        person = self.person.open_part("Lantern housing").take_view("f").press("p")
        self.choose("pick-kind", "edges")
        ring = HOUSING.points[1:-1].reshape(-1, HOUSING_SIDES, 3)[RING - 1]
        front = int(np.argmax(ring[:, 2]))
        person.page.mouse.click(
            *person.pixel_of(0.5 * (ring[front] + ring[(front + 1) % HOUSING_SIDES]))
        )
        expect(person.see("picked")).to_have_attribute("data-edges", "1")
        expect(
            person.see("measure").locator("[data-measure='length of the edges']")
        ).to_be_visible()
        person.see("measure-along").click()
        side = 2 * RADIUS * np.sin(np.pi / HOUSING_SIDES)
        along = person.see("measure").locator("[data-measure='along the edge']")
        expect(along).to_contain_text(f"{side:.3f} mm")
        person.see("pick").get_by_role("button", name="loop", exact=True).click()
        expect(along).to_contain_text(f"{self.width_along_an_edge():.3f} mm")
        expect(person.see("size-diameter")).to_have_value(f"{2 * RADIUS:.3f} mm")
        self.settle("size-diameter", "7.5cm")
        person.make()
        mesh = self.exported()
        sized = mesh.points[np.abs(mesh.points[:, 1] - HEIGHT) < 1e-9]
        np.testing.assert_allclose(np.hypot(sized[:, 0], sized[:, 2]), 37.5, rtol=1e-12)
        self.assertEqual(len(sized), HOUSING_SIDES)
        expect(person.see("size-diameter")).to_have_value("75.000 mm")
