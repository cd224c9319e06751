"""How the part is drawn: its facets, shaded by hard and soft edges, as its smooth form; and made so."""

from __future__ import annotations

import re
from unittest import mock

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
            person.page.get_by_role("button", name="Part: export").click()
            person.page.get_by_role("menuitem", name="Export as glb").click()
        made, _ = read_part("part.glb", waiting.value.path().read_bytes())
        wanted = apply_step(HOUSING, parse_step({"tool": "hard edges", "degrees": 40})).mesh
        np.testing.assert_array_equal(made.hard, wanted.hard)
        self.assertGreater(len(made.hard), 100)
        canvas = person.see("canvas")
        for key, look in (("2", "shaded"), ("3", "smooth")):
            with person.page.expect_response(re.compile(rf"/{look}(\?|$)")):
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
        with person.held("**/smooth?*"):
            person.press("v", "3")
            # What takes long says so, and can be stopped.
            expect(person.see("progress")).to_contain_text("Working out the smooth form")
            expect(person.see("progress").get_by_role("button", name="Stop")).to_be_enabled()
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

    def test_a_plan_is_seen_smooth_before_and_after_on_a_line_that_is_dragged(self) -> None:
        person = self.person.open_part("Lantern housing").press("v", "3")
        expect(person.see("smooth-size")).to_contain_text("2 rounds")
        person.press("e")
        rings = HOUSING.points[1:-1].reshape(-1, 28, 3)
        side = max(range(28), key=lambda k: rings[9, k, 2])
        place = 0.6 * rings[9, side] + 0.4 * rings[10, side]
        person.page.mouse.move(*person.pixel_of(place))
        person.wait_for_answers()
        person.page.mouse.click(*person.pixel_of(place))
        canvas = person.see("canvas")
        expect(canvas).to_have_attribute("data-after", "shown")
        told = float(person.see("split").get_attribute("data-most") or 0)
        self.assertGreater(told, 0.01)
        expect(person.see("form-moves")).to_contain_text("moves by up to")
        line = person.see("split-line")
        box = line.bounding_box()
        assert box is not None
        person.page.mouse.move(box["x"] + 8, 200)
        person.page.mouse.down()
        person.page.mouse.move(box["x"] - 192, 200)
        person.page.mouse.up()
        expect(line).not_to_have_attribute("aria-valuenow", "50")
        with person.page.expect_request("**/planned-smooth?*") as asked:
            person.see("show-moves").click()
        self.assertIn('"moves":true', asked.value.post_data or "")
        person.wait_for_answers()
        self.assertEqual(float(person.see("split").get_attribute("data-most") or 0), told)
        # Typed over it is another; made, the line goes, and only what changed is fetched.
        person.see("loop-at").fill("15%")
        person.see("loop-at").press("Enter")
        expect(person.see("split")).not_to_have_attribute("data-most", str(told))
        with person.page.expect_request("**/smooth?since=*"):
            person.make()
        expect(person.see("split")).to_have_count(0)
        expect(canvas).to_have_attribute("data-look", "shaded")

    def test_edges_become_creases_that_are_told_and_kept(self) -> None:
        person = self.person.open_part("Lantern housing").press("n")
        person.see("mend-hard-by-angle").click()
        person.see("hardness").click()
        person.page.get_by_role("option", name="a crease", exact=True).click()
        person.see("crease-strength").fill("75%")
        person.see("crease-strength").press("Enter")
        person.make()
        made = self.exported()
        step = {"tool": "hard edges", "degrees": 40, "to": "crease", "strength": 0.75}
        wanted = apply_step(HOUSING, parse_step(step)).mesh
        np.testing.assert_array_equal(made.hard, wanted.hard)
        self.assertEqual(set(made.strength.tolist() if made.strength is not None else []), {0.75})

    def test_of_a_part_too_large_the_pick_is_shown_smooth_and_that_is_said(self) -> None:
        person = self.person.open_part("Lantern housing").press("p")
        with mock.patch("cutcore.previews.smooth_form.MOST_QUADS", 300):
            person.press("v", "3").is_told("It stays in facets")
            expect(person.see("canvas")).not_to_have_attribute("data-look", "shaded")
            rings = HOUSING.points[1:-1].reshape(-1, 28, 3)
            side = max(range(28), key=lambda k: rings[9, k, 2])
            face = 0.25 * rings[9:11, side : side + 2].sum(axis=(0, 1))
            person.see("pick-kind").click()
            person.page.get_by_role("option", name="faces", exact=True).click()
            person.page.mouse.click(*person.pixel_of(face))
            expect(person.see("picked")).to_have_attribute("data-faces", "1")
            person.press("v", "3").is_told("Only the pick is shown smooth")
            expect(person.see("canvas")).to_have_attribute("data-look", "shaded")

    def test_new_edges_are_hard_above_an_angle(self) -> None:
        person = self.person.open_part("Lantern housing").press("s")
        person.see("plane-by").click()
        person.page.get_by_role("option", name="square to x").click()
        for field, text in (("plane-offset", "7.3"), ("follow", "100%"), ("hard-above", "5")):
            person.see(field).fill(text)
            person.see(field).press("Enter")
        expect(person.see("not-at-default")).to_contain_text("hard above 5°")
        person.make()
        step = {"tool": "slice", "plane": {"point": [7.3, 0, 0], "normal": [1, 0, 0]}}
        wanted = apply_step(HOUSING, parse_step({**step, "follow": 1.0, "hard_above": 5.0})).mesh
        self.assertGreater(len(wanted.hard), 4)
        np.testing.assert_array_equal(self.exported().hard, wanted.hard)
