"""Patches in the workshop: made, named, hidden, joined, cleaned; each is a step."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from cutcore.queries.patches import patches_of
from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import float_hull

HULL = float_hull()


class Patches(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        person = self.person
        person.open_part("Float hull").press("p")
        person.see("patch-from").click()
        person.page.get_by_role("option", name="all up to an angle").click()
        person.see("patch-make").click()
        expect(person.see("patch")).to_have_count(4)

    def row(self, name: str):  # type: ignore[no-untyped-def]
        return self.person.page.locator(f"[data-testid=patch][data-name='{name}']")

    def test_they_are_named_picked_hidden_and_limit_a_cut(self) -> None:
        person = self.person
        expect(person.see("patch-signs").locator("text")).to_have_text(["A", "B", "C", "D"])
        field = self.row("Patch 1").get_by_label("Name of patch Patch 1")
        field.fill("Deck")
        field.press("Enter")
        expect(self.row("Deck")).to_be_visible()
        person.page.get_by_role("button", name="Pick patch Deck").click()
        person.wait_for_answers()
        expect(person.see("pick")).to_contain_text("40 faces")
        person.page.get_by_role("button", name="Hide patch Deck").click()
        expect(person.page.get_by_role("button", name="Show patch Deck")).to_be_visible()
        person.page.get_by_role("button", name="Show patch Deck").click()
        expect(person.page.get_by_role("button", name="Hide patch Deck")).to_be_visible()
        person.press("l")
        expect(person.see("plan")).to_contain_text("40 picked faces")
        told = {patch.name: patch.faces for patch in patches_of(self.exported())}
        self.assertEqual(told["Deck"], 40)
        person.press("Control+z")
        person.press("p")
        expect(self.row("Patch 1")).to_be_visible()

    def test_two_are_joined_and_taken_apart_again(self) -> None:
        person = self.person
        for name in ("Patch 3", "Patch 4"):
            person.page.get_by_label(f"Choose patch {name}").check()
        person.see("patch-join").click()
        expect(person.see("patch")).to_have_count(3)
        person.page.get_by_label("Choose patch Patch 3").check()
        person.see("patch-apart").click()
        expect(person.see("patch")).to_have_count(4)
        expect(self.row("Patch 3 2")).to_be_visible()

    def test_what_is_not_flat_is_cleaned_only_with_its_heights(self) -> None:
        person = self.person
        person.page.get_by_label("Choose patch Patch 2").check()
        person.see("patch-clean").click()
        person.wait_for_answers()
        expect(person.see("mend")).to_contain_text("not flat")
        person.see("tick-heights").check()
        person.wait_for_answers()
        expect(person.see("mend")).not_to_contain_text("not flat")
        person.press("Escape")
        person.page.get_by_label("Choose patch Patch 1").check()
        person.page.get_by_label("Choose patch Patch 2").uncheck()
        person.see("patch-clean").click()
        person.wait_for_answers()
        person.see("tick-heights").uncheck()
        person.see("clean-within").fill("5%")
        person.see("clean-within").press("Enter")
        person.wait_for_answers()
        person.see("make-bar").get_by_role("button", name="Make it so").click()
        expect(person.see("steps")).to_contain_text("Clean faces to one face")
        made = self.exported()
        self.assertEqual(made.face_count, HULL.face_count - 39)
        self.assertGreater(int(np.max(made.sizes)), 20)
