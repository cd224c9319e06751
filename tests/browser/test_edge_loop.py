"""Edge loop in the browser: seen before a click, placed, slid and typed, stopped with a reason;
checked on the exported part."""

from __future__ import annotations

import re

import numpy as np
from playwright.sync_api import expect

from cutcore import Mesh
from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import HOUSING_PROFILE, HOUSING_SIDES, deck_plate, lantern_housing

HOUSING, PLATE = lantern_housing(), deck_plate()


def vertex(ring: int, side: int) -> int:
    """A vertex of the housing: rings count from the foot, 1 being the first after the pole."""
    return 1 + HOUSING_SIDES * (ring - 1) + side % HOUSING_SIDES


def place(a: int, b: int, share: float, mesh: Mesh = HOUSING) -> np.ndarray:
    return np.asarray(mesh.points[a] + share * (mesh.points[b] - mesh.points[a]))


# A face of the wall that looks at the viewer, and its edge that runs round the housing.
SIDE = 23
WALL = (vertex(10, SIDE), vertex(11, SIDE))


class EdgeLoop(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.open_part("Lantern housing").press("e")
        self.original = self.person.export()

    def hover(self, at: np.ndarray) -> None:
        self.person.point_at(at, kind="edge")

    def plan(self, at: np.ndarray) -> None:
        """Click an edge: the loop is planned there."""
        self.hover(at)
        self.person.page.mouse.down()
        self.person.page.mouse.up()
        expect(self.person.see("planned-mark")).to_have_count(1)
        expect(self.person.see("plan-adds")).to_be_visible()

    def settle(self, field: str, text: str) -> None:
        self.person.see(field).fill(text)
        self.person.see(field).press("Enter")

    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option).click()

    def made(self) -> np.ndarray:
        """Make it; undo gives the same bytes again, redo the same part. The places of the new
        vertices."""
        self.person.make()
        made = self.exported()
        self.person.press("Control+z")
        expect(self.person.see("steps").locator("li[data-applied=false]")).to_have_count(1)
        self.assertEqual(self.person.wait_for_rest().export(), self.original)
        self.person.press("Control+Shift+z")
        expect(self.person.see("steps").locator("li[data-applied=true]")).to_have_count(1)
        return made.points[HOUSING.vertex_count :]

    def test_the_whole_loop_is_seen_before_the_click_and_escape_leaves_no_trace(self) -> None:
        person = self.person
        self.hover(place(*WALL, 0.4))
        overlay = person.see("overlay")
        expect(overlay.locator("[data-side=near]").first).to_be_attached()
        expect(overlay.locator("[data-side=far]").first).to_be_attached()
        expect(overlay.locator("[data-tick]")).to_have_count(HOUSING_SIDES)
        expect(person.see("datum")).to_be_attached()
        expect(person.see("mark-words")).to_have_text("40 % · closed")
        self.plan(place(*WALL, 0.4))
        person.press("Escape")
        expect(person.see("planned-mark")).to_have_count(0)
        expect(person.see("bench")).to_have_attribute("data-tool", "loop")
        person.press("Escape")
        expect(person.see("bench")).to_have_attribute("data-tool", "pick")
        self.assertEqual(person.export(), self.original)

    def test_a_typed_share_is_the_share_all_round(self) -> None:
        person = self.person
        self.hover(place(*WALL, 0.4))
        person.press("3")
        expect(person.see("typed")).to_have_attribute("data-kind", "share")
        person.page.keyboard.type("7.5%")
        person.press("Enter")
        expect(person.see("loop-at")).to_have_value("37.50 %")
        new = self.made()
        self.assertEqual(len(new), HOUSING_SIDES)
        for side in range(HOUSING_SIDES):
            goal = place(vertex(10, side), vertex(11, side), 0.375)
            self.assertLess(np.linalg.norm(new - goal, axis=1).min(), 1e-12)
        expect(person.see("steps").locator("li").first).to_contain_text("Edge loop at 37.50 %")

    def test_five_loops_are_spread_evenly_and_can_crowd(self) -> None:
        self.plan(place(*WALL, 0.4))
        self.settle("loop-count", "5")
        expect(self.person.see("plan-adds")).to_contain_text(f"{5 * HOUSING_SIDES} new vertices")
        low, high = HOUSING_PROFILE[10][1], HOUSING_PROFILE[11][1]
        self.settle("loop-ratio", "2")
        expect(self.person.see("not-at-default")).to_contain_text("5 loops")
        self.settle("loop-ratio", "even")
        new = self.made()
        heights = np.unique(np.round(new[:, 1], 9))
        np.testing.assert_allclose(heights, low + (high - low) * np.arange(1, 6) / 6, atol=1e-9)

    def test_a_list_of_places_is_taken_as_typed_and_a_wrong_one_is_marked(self) -> None:
        self.plan(place(*WALL, 0.4))
        self.settle("loop-list", "20% 5mm")
        expect(self.person.page.get_by_role("alert")).to_contain_text("Shares or lengths")
        self.settle("loop-list", "20% 50% 80%")
        low, high = HOUSING_PROFILE[10][1], HOUSING_PROFILE[11][1]
        heights = np.unique(np.round(self.made()[:, 1], 9))
        np.testing.assert_allclose(
            heights, low + (high - low) * np.array([0.2, 0.5, 0.8]), atol=1e-9
        )

    def test_a_constant_distance_is_the_same_all_round(self) -> None:
        # Up a meridian the edges of the rings differ in length: from the foot they are all cut at 2
        # mm.
        a, b = vertex(5, SIDE), vertex(5, SIDE + 1)
        self.plan(place(a, b, 0.4))
        self.choose("loop-measure", "same distance all round")
        self.settle("loop-at", "2mm")
        new = self.made()
        self.assertGreater(len(new), 10)
        # Each lies on an edge of the part, 2 mm from the end of it on the foot's side.
        ends = HOUSING.points[HOUSING.edges.ends]
        for p in new:
            gaps = np.linalg.norm(ends - p, axis=2)
            on = np.abs(gaps.sum(axis=1) - np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)) < 1e-9
            self.assertLess(np.abs(gaps[on] - 2.0).min(), 1e-9)

    def test_it_is_slid_along_its_edge_flipped_and_put_at_dead_centre(self) -> None:
        person = self.person
        self.plan(place(*WALL, 0.4))
        at = person.see("loop-at")
        x, y = person.pixel_of(place(*WALL, 0.4))
        person.page.mouse.move(x, y)
        person.page.mouse.down()
        x, y = person.pixel_of(place(*WALL, 0.71))
        person.page.mouse.move(x, y, steps=4)
        person.page.mouse.up()
        expect(at).to_have_value("70 %")
        foot = person.see("datum").get_attribute("data-at")
        person.press("f")
        expect(at).to_have_value("70 %")
        expect(person.see("datum")).not_to_have_attribute("data-at", foot or "")
        person.press("h")
        expect(at).to_have_value("50 %")
        person.see("loop-slider").get_by_role("slider").press("ArrowRight")
        expect(at).to_have_value("51 %")
        heights = np.unique(np.round(self.made()[:, 1], 9))
        low, high = HOUSING_PROFILE[10][1], HOUSING_PROFILE[11][1]
        np.testing.assert_allclose(heights, [high + 0.51 * (low - high)], atol=1e-9)

    def test_follow_lifts_a_meridian_onto_the_circle(self) -> None:
        self.plan(place(vertex(10, SIDE), vertex(10, SIDE + 1), 0.4))
        self.settle("follow", "100%")
        expect(self.person.see("not-at-default")).to_contain_text("follow 100 %")
        new = self.made()
        ring = new[np.abs(new[:, 1] - HOUSING_PROFILE[10][1]) < 1e-9]
        np.testing.assert_allclose(
            np.hypot(ring[:, 0], ring[:, 2]), HOUSING_PROFILE[10][0], rtol=1e-9
        )

    def test_extra_points_are_counted_as_ngons_before_they_are_made(self) -> None:
        self.plan(place(*WALL, 0.4))
        self.settle("loop-extra", "1")
        expect(self.person.see("note")).to_contain_text(f"n-gons of the {2 * HOUSING_SIDES} faces")
        expect(self.person.see("flow").locator("[data-flow=ngons]")).to_contain_text(
            f"+{2 * HOUSING_SIDES}"
        )

    def test_it_keeps_to_the_picked_edges_of_its_ring(self) -> None:
        person = self.person
        person.press("p")
        self.choose("pick-kind", "edges")
        for k, side in enumerate((SIDE - 1, SIDE, SIDE + 1)):
            x, y = person.pixel_of(place(vertex(10, side), vertex(11, side), 0.5))
            if k:
                person.page.keyboard.down("Shift")
            person.page.mouse.click(x, y)
            person.page.keyboard.up("Shift")
            expect(person.see("picked")).to_have_attribute("data-edges", str(k + 1))
        person.press("e")
        self.plan(place(*WALL, 0.4))
        self.choose("loop-along", "along 3 picked edges")
        expect(person.see("loop-ends").locator("[data-code=loop-path-end]")).to_have_count(2)
        self.assertEqual(len(self.made()), 3)


class LoopsOverNgons(WorkshopCase):
    def test_it_stops_at_an_ngon_with_the_reason_and_goes_on_through_when_told(self) -> None:
        person = self.person.open_part("Deck plate").press("e")
        a, b = 6, 5
        person.point_at(place(a, b, 0.4, PLATE), kind="edge")
        expect(person.see("overlay").locator("[data-end=loop-ngon]").first).to_be_attached()
        expect(person.see("mark-words")).to_have_text(re.compile("open$"))
        person.page.mouse.down()
        person.page.mouse.up()
        ends = person.see("loop-ends").locator("[data-code=loop-ngon]")
        expect(ends.first).to_contain_text("It ends at face 0, an n-gon of 8 sides.")
        ends.first.get_by_role("button", name="Go on through it").click()
        expect(person.see("loop-ends")).to_have_count(0)
        expect(person.see("plan")).to_contain_text("it closes on itself")
        person.make()
        mesh = self.exported()
        self.assertEqual(int(mesh.edges.border.sum()), 0)
        upper = [f for f in range(mesh.face_count) if (mesh.points[mesh.face(f), 1] > 7.99).all()]
        self.assertEqual(len(upper), 4)
