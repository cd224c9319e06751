"""How the part is drawn: its facets, shaded by hard and soft edges, as its smooth form; and made so."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from cutcore import apply_step, parse_step, read_part
from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import lantern_housing

HOUSING = lantern_housing()


class Looks(WorkshopCase):
    def test_edges_made_hard_by_angle_and_the_part_seen_shaded_and_smooth(self) -> None:
        person = self.person.open_part("Lantern housing").press("n")
        person.see("mend-hard-by-angle").click()
        person.make()
        with person.page.expect_download() as waiting:
            person.page.get_by_role("button", name="Part: take out").click()
            person.page.get_by_role("menuitem", name="Take out as glb").click()
        made, _ = read_part("part.glb", waiting.value.path().read_bytes())
        wanted = apply_step(HOUSING, parse_step({"tool": "hard edges", "degrees": 40})).mesh
        np.testing.assert_array_equal(made.hard, wanted.hard)
        self.assertGreater(len(made.hard), 100)
        canvas = person.see("canvas")
        for key, look in (("2", "shaded"), ("3", "smooth")):
            with person.page.expect_response(f"**/{look}"):
                person.press("v", key)
            expect(canvas).to_have_attribute("data-look", "shaded")
        # A cut is seen in the look that was chosen, and undone in it.
        person.press("Control+z")
        expect(person.see("steps").locator("li[data-applied=false]")).to_have_count(1)
        expect(canvas).to_have_attribute("data-look", "shaded")
        person.wait_for_rest().press("v", "1")
        expect(canvas).to_have_attribute("data-look", "faces")

    def test_a_smooth_form_that_comes_late_is_not_put_over_another_part(self) -> None:
        person = self.person.open_part("Lantern housing")
        with person.held("**/smooth"):
            person.press("v", "3")
            person.see("canvas").wait_for()
            person.press("v", "1")
        person.wait_for_answers()
        expect(person.see("canvas")).not_to_have_attribute("data-look", "shaded")

    def test_subdivided_it_is_the_smooth_form_made_real(self) -> None:
        person = self.person.open_part("Deck plate").press("n")
        person.see("mend-subdivide").click()
        person.see("subdivide-rounds").fill("2")
        person.see("subdivide-rounds").press("Enter")
        expect(person.see("canvas")).to_have_attribute("data-planned", "shown")
        person.make()
        mesh = self.exported()
        self.assertEqual(set(mesh.sizes.tolist()), {4})
