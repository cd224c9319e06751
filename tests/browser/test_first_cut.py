"""From the projects to an exported cut, by pointer and keys."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from cutcore import write_part
from cutcore.shapes.box import box
from tests.browser.workshop_case import WorkshopCase
from tests.zoo import prism
from workshop.sample.skerry_light import deck_plate, lantern_housing

PLATE = deck_plate()
HOUSING = lantern_housing()


def counts(mesh):
    return mesh.vertex_count, len(mesh.edges), mesh.face_count


class FirstCut(WorkshopCase):
    def across_the_plate(self) -> None:
        """Plan a line over the bevel, the eight-sided face and the other bevel, from 30 % of one
        edge to 60 % of another."""
        self.person.open_part("Deck plate").press("l").take_view("t")
        outer, far = PLATE.points[[11, 12]], PLATE.points[[8, 15]]
        self.person.point_at(0.7 * outer[0] + 0.3 * outer[1], kind="edge", share=0.3).choose()
        self.person.point_at(0.4 * far[0] + 0.6 * far[1], kind="edge", share=0.6).choose()

    def test_a_line_over_three_faces_is_made_exported_undone_and_kept(self) -> None:
        person = self.person
        person.open_part("Deck plate")
        original = person.export()
        self.across_the_plate()
        expect(person.see("plan-adds")).to_contain_text("4 new vertices · 7 new edges")
        expect(person.see("make-bar").get_by_role("button", name="Make the cut")).to_be_enabled()
        self.assertEqual(person.page.locator("[data-tick=near]").count(), 4)
        expect(person.see("flow").locator("[data-flow=quads]")).to_contain_text("28")

        person.make()
        after = self.exported()
        self.assertEqual(
            counts(after), (PLATE.vertex_count + 4, len(PLATE.edges) + 7, PLATE.face_count + 3)
        )
        new = after.points[PLATE.vertex_count :]
        for low, high, share in ((11, 12, 0.3), (8, 15, 0.6)):
            place = PLATE.points[low] + share * (PLATE.points[high] - PLATE.points[low])
            self.assertTrue(
                (new == place).all(axis=1).any(), f"no vertex at {share} of edge {low}-{high}"
            )
        expect(person.see("steps").locator("li")).to_contain_text("Knife line, 2 points")

        person.press("Control+z")
        expect(person.see("steps").locator("li[data-applied=false]")).to_have_count(1)
        self.assertEqual(person.wait_for_rest().export(), original)
        person.press("Control+Shift+z")
        expect(person.see("steps").locator("li[data-applied=true]")).to_have_count(1)
        person.page.reload()
        person.wait_for_rest()
        expect(person.see("view-bar")).to_have_attribute("data-view", "top")
        np.testing.assert_array_equal(self.exported().points, after.points)

    def test_points_are_taken_back_put_again_typed_over_and_discarded(self) -> None:
        person = self.person
        self.across_the_plate()
        person.press("Backspace")
        expect(person.see("plan-items").locator("li")).to_have_count(1)
        person.press("Shift+Backspace")
        expect(person.see("plan-items").locator("li")).to_have_count(2)

        share = person.see("share-0-1")
        share.fill("140%")
        share.press("Enter")
        expect(person.see("plan").get_by_role("alert")).to_contain_text("from 0 to 100 %")
        share.fill("1/4")
        share.press("Enter")
        expect(share).to_have_value("25 %")
        person.page.mouse.move(700, 650)
        person.see("make-bar").get_by_role("button", name="Make the cut").click()
        expect(person.see("plan-items")).to_have_count(0)
        far = PLATE.points[[8, 15]]
        after = self.exported()
        self.assertTrue((after.points == far[0] + 0.25 * (far[1] - far[0])).all(axis=1).any())

        x, y = person.pixel_of([20, 8, 20])
        person.point_at_pixel(x, y, kind="face").choose()
        person.press("Escape")
        expect(person.see("plan-items")).to_have_count(0)
        expect(person.see("bench")).to_have_attribute("data-tool", "knife")
        person.press("Escape")
        expect(person.see("bench")).to_have_attribute("data-tool", "pick")

    def test_the_mark_names_what_lies_under_the_pointer(self) -> None:
        person = self.person
        person.open_part("Deck plate").press("l").take_view("t")
        low, high = PLATE.points[[3, 4]]
        person.point_at(low, kind="vertex")
        person.point_at(0.78 * low + 0.22 * high, kind="edge", share=0.2)
        expect(person.see("mark")).to_have_attribute("data-stop", "true")
        person.point_at(0.5 * (low + high), kind="half", share=0.5)
        person.point_at([20, 8, 10], kind="face")
        person.point_at_pixel(60, 400, kind="off")
        person.page.keyboard.down("Alt")
        person.point_at(0.78 * low + 0.22 * high, kind="edge")
        free = float(person.see("mark").get_attribute("data-share") or 0)
        self.assertNotIn(free, (0.2, 0.3))
        self.assertAlmostEqual(free, 0.22, delta=0.01)
        person.page.keyboard.up("Alt")
        expect(person.see("mark")).to_have_attribute("data-share", "0.2")
        person.press("h")
        expect(person.see("mark")).to_have_attribute("data-mark", "half")

    def test_right_through_shows_and_cuts_the_far_side(self) -> None:
        person = self.person
        person.open_part("Lantern housing").press("l").take_view("f")
        ring = HOUSING.points[1 + 9 * 28 : 1 + 10 * 28]
        left, right = ring[np.argmin(ring[:, 0])], ring[np.argmax(ring[:, 0])]
        x, y = person.pixel_of(left - [8, 9, 0])
        person.point_at_pixel(x, y, kind="off").choose()
        x, y = person.pixel_of(right + [8, -7, 0])
        person.point_at_pixel(x, y, kind="off").choose()
        expect(person.see("plan-adds")).to_contain_text("15 new vertices")
        self.assertEqual(person.page.locator("[data-testid=plan-lines] [data-side=far]").count(), 0)
        person.press("w")
        expect(person.see("plan-adds")).to_contain_text("28 new vertices")
        expect(person.see("plan")).to_contain_text("on the far side")
        self.assertGreater(
            person.page.locator("[data-testid=plan-lines] [data-side=far]").count(), 0
        )
        person.make()
        self.assertEqual(
            counts(self.exported()),
            (HOUSING.vertex_count + 28, len(HOUSING.edges) + 56, HOUSING.face_count + 28),
        )

    def test_two_points_with_nothing_between_can_not_be_made(self) -> None:
        person = self.person
        person.open_part("Deck plate").press("l").take_view("t")
        person.point_at_pixel(60, 300, kind="off").choose()
        person.point_at_pixel(60, 500, kind="off")
        expect(person.see("mark-words")).to_contain_text("no surface lies between")
        person.page.mouse.down()
        person.page.mouse.up()
        self.assertEqual(person.points(), 1)
        expect(person.see("make-bar").get_by_role("button", name="Make the cut")).to_be_disabled()


class FilesByHand(WorkshopCase):
    def test_an_obj_is_brought_in_by_button_and_by_dropping(self) -> None:
        person = self.person
        person.open_part("Deck plate")
        star = prism(5)
        data = write_part("star.obj", star)
        person.see("file").first.set_input_files(
            {"name": "star.obj", "mimeType": "model/obj", "buffer": data}
        )
        person.bring_in()
        expect(person.page.get_by_role("button", name="star", exact=True)).to_have_attribute(
            "aria-current", "true"
        )
        self.assertEqual(person.wait_for_rest().export(), data)

        person.drop("cube.obj", write_part("cube.obj", box(2, 2, 2)))
        expect(person.page.get_by_role("button", name="cube", exact=True)).to_have_attribute(
            "aria-current", "true"
        )
        self.assertEqual(counts(self.exported()), (8, 12, 6))

    def test_a_broken_file_is_told_with_its_line_and_nothing_is_added(self) -> None:
        person = self.person
        person.open_part("Deck plate")
        person.drop("broken.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n")
        person.is_told("line 4: vertex 9 is not there")
        expect(person.page.get_by_label("Parts").locator("[aria-current]")).to_have_count(3)


class Elsewhere(WorkshopCase):
    def test_a_cut_made_in_another_window_is_told_and_the_part_read_anew(self) -> None:
        first, second = self.person, self.someone()
        for one in (first, second):
            one.open_part("Deck plate").press("l").take_view("t")
        low, high = PLATE.points[[11, 12]]
        far = PLATE.points[[8, 15]]
        for one, share in ((first, 0.3), (second, 0.4)):
            one.point_at((1 - share) * low + share * high, kind="edge", share=share).choose()
            one.point_at(0.4 * far[0] + 0.6 * far[1], kind="edge", share=0.6).choose()
        first.make()
        second.press("Enter")
        second.is_told("The part was changed elsewhere")
        expect(second.see("steps").locator("li")).to_have_count(1)
        # The plan is kept; what it stood on is gone, and it says so.
        self.assertEqual(second.points(), 2)
        expect(second.see("refusal")).to_contain_text("there is no edge between the vertices")
        second.press("Escape")
        second.wait_for_rest().point_at([20, 8, 30], kind="face").choose()
        self.assertEqual(second.points(), 1)

    def test_a_plan_that_still_applies_goes_on_after_a_cut_elsewhere(self) -> None:
        first, second = self.person, self.someone()
        for one, share in ((first, 0.3), (second, 0.4)):
            one.open_part("Deck plate").press("l").take_view("t")
            low, high = (2, 3) if one is first else (4, 5)
            one.point_at(
                (1 - share) * PLATE.points[low] + share * PLATE.points[high],
                kind="edge",
                share=share,
            ).choose()
        far = PLATE.points[[5, 6]]
        first.point_at(0.4 * far[0] + 0.6 * far[1], kind="edge", share=0.6).choose()
        far = PLATE.points[[0, 1]]
        second.point_at(0.8 * far[0] + 0.2 * far[1], kind="edge", share=0.2).choose()
        first.make()
        second.press("Enter")
        second.is_told("The part was changed elsewhere")
        expect(second.see("plan-adds")).to_contain_text("3 new vertices")
        second.make()
        self.assertEqual(self.exported(second).face_count, PLATE.face_count + 1 + 2)

    def test_a_deleted_part_leads_back_to_the_projects(self) -> None:
        person, other = self.person, self.someone()
        person.open_part("Float hull")
        other.open()
        part = person.page.url.rsplit("/", 1)[1]
        other.page.evaluate(
            "id => fetch(`/api/parts/${id}`, {method: 'DELETE', headers: {'X-CSRFToken': document.cookie.match(/csrftoken=([^;]+)/)[1]}})",
            part,
        )
        person.press("l")
        person.page.mouse.move(400, 400)
        person.is_told("This part was deleted")
        expect(person.see("projects")).to_be_visible()

    def test_leaving_an_open_plan_asks_first(self) -> None:
        person = self.person
        person.open_part("Deck plate").press("l").take_view("t")
        person.point_at([20, 8, 10], kind="face").choose()
        person.page.get_by_role("button", name="Float hull", exact=True).click()
        person.page.get_by_role("button", name="Stay").click()
        self.assertEqual(person.points(), 1)
        person.page.get_by_role("link", name="Wertome").click()
        person.page.get_by_role("button", name="Discard and go on").click()
        expect(person.see("projects")).to_be_visible()


class Projects(WorkshopCase):
    def test_projects_are_made_renamed_duplicated_deleted_and_brought_back(self) -> None:
        person = self.person.open()
        cards = person.see("project")
        expect(person.see("picture")).to_have_count(1)
        person.page.get_by_role("button", name="New project").click()
        person.page.get_by_role("textbox", name="Name").fill("Mooring")
        person.press("Enter")
        expect(person.page.get_by_text("This project has no part yet")).to_be_visible()
        person.page.get_by_role("link", name="Wertome").click()
        expect(cards).to_have_count(2)
        self._choose("Mooring", "Rename")
        person.page.get_by_role("textbox", name="Name").fill("Mooring post")
        person.press("Enter")
        expect(cards.filter(has_text="Mooring post")).to_have_count(1)
        self._choose("Skerry Light", "Duplicate")
        expect(cards.filter(has_text="Skerry Light (copy)")).to_contain_text("Float hull")
        self._choose("Mooring post", "Delete")
        expect(cards).to_have_count(2)
        message = person.page.get_by_role("listitem").filter(has_text="was deleted")
        message.get_by_role("button", name="Bring it back").click()
        expect(cards).to_have_count(3)
        self._choose("Mooring post", "Delete")
        # When the message is gone there still is a way back, and it says for how long.
        kept = person.see("deleted-projects")
        expect(kept).to_contain_text("Mooring post")
        expect(kept).to_contain_text("gone for good in 30 days")
        person.open()
        kept.get_by_role("button", name="Bring it back").click()
        expect(cards).to_have_count(3)
        expect(kept).to_have_count(0)

    def _choose(self, project: str, item: str) -> None:
        self.person.page.get_by_role("button", name=f"More for {project}", exact=True).click()
        self.person.page.get_by_role("menuitem", name=item).click()
