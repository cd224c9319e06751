"""Knife line in full: every way to place a point, checked by the coordinates of the exported part,
and undone again."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from cutcore import Mesh
from tests.browser.person import Person
from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import deck_plate

PLATE = deck_plate()


def on_edge(low: int, high: int, share: float) -> np.ndarray:
    """A place of the plate at a share of an edge from its lower vertex."""
    return PLATE.points[low] + share * (PLATE.points[high] - PLATE.points[low])


class KnifeLine(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.open_part("Deck plate").take_view("t").press("l")
        self.original = self.person.export()

    def settle(self, label: str, option: str) -> None:
        """Choose one of the settings of the readout."""
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option).click()

    def made(self, *places: np.ndarray, faces: int, exactly: bool = True) -> Mesh:
        """Make the cut: the part has just these new vertices and so many faces more. Then undo it
        to the same bytes, and redo."""
        self.person.make()
        mesh = self.exported()
        new = mesh.points[PLATE.vertex_count :]
        for place in places:
            self.assertLess(
                np.linalg.norm(new - place, axis=1).min(), 1e-9, f"no vertex at {place}"
            )
        if exactly:
            self.assertEqual(len(new), len(places))
        self.assertEqual(mesh.face_count - PLATE.face_count, faces)
        self.person.press("Control+z")
        expect(self.person.see("steps").locator("li[data-applied=false]")).to_have_count(1)
        self.assertEqual(self.person.wait_for_rest().export(), self.original)
        self.person.press("Control+Shift+z")
        expect(self.person.see("steps").locator("li[data-applied=true]")).to_have_count(1)
        return mesh

    def type_number(self, text: str, kind: str) -> None:
        self.person.press(text[0])
        typed = self.person.see("typed")
        expect(typed).to_have_attribute("data-kind", kind)
        self.person.page.keyboard.type(text[1:])
        self.person.press("Enter")
        expect(typed).to_have_count(0)

    def test_a_typed_share_is_the_value(self) -> None:
        person = self.person
        person.point_at(on_edge(2, 3, 0.41), kind="edge")
        self.type_number("37.5%", "share")
        person.point_at(on_edge(6, 7, 0.62), kind="edge")
        self.type_number("1/3", "share")
        expect(person.see("plan-items").locator("li")).to_have_count(2)
        self.made(on_edge(2, 3, 0.375), on_edge(6, 7, 1 / 3), faces=1)

    def test_halves_and_stops_are_exact(self) -> None:
        person = self.person
        person.point_at(on_edge(2, 3, 0.33), kind="edge").press("h")
        expect(person.see("mark")).to_have_attribute("data-mark", "half")
        person.choose()
        self.settle("stops", "every 25 %")
        person.point_at(on_edge(6, 7, 0.7), kind="edge", share=0.75).choose()
        self.made(on_edge(2, 3, 0.5), on_edge(6, 7, 0.75), faces=1)

    def test_stops_at_any_typed_share(self) -> None:
        person = self.person
        field = person.see("stop-share")
        field.fill("0")
        field.press("Enter")
        expect(person.page.get_by_role("alert")).to_contain_text("A share of the edge")
        field.fill("1/6")
        field.press("Enter")
        expect(person.see("stops")).to_contain_text("every 1/6")
        expect(person.see("not-at-default")).to_contain_text("stops")
        person.point_at(on_edge(2, 3, 0.35), kind="edge").choose()
        person.point_at(on_edge(6, 7, 0.8), kind="edge").choose()
        self.made(on_edge(2, 3, 2 / 6), on_edge(6, 7, 5 / 6), faces=1)

    def test_stops_by_length(self) -> None:
        person = self.person
        self.settle("stops", "by length")
        field = person.see("stop-length")
        field.fill("1cm")
        field.press("Enter")
        length = float(np.linalg.norm(PLATE.points[3] - PLATE.points[2]))
        person.point_at(on_edge(2, 3, 21 / length), kind="edge").choose()
        person.point_at(on_edge(6, 7, 11 / length), kind="edge").choose()
        self.made(on_edge(2, 3, 20 / length), on_edge(6, 7, 10 / length), faces=1)

    def test_a_typed_angle_holds_the_stretch_exactly(self) -> None:
        person = self.person
        start = on_edge(3, 4, 0.5)
        person.point_at(start, kind="half").choose()
        person.press("q")
        expect(person.see("lock")).to_have_attribute("data-value", "angle")
        person.point_at([10, 8, -20], kind="face")
        self.type_number("30", "angle")
        expect(person.see("guide")).to_have_attribute("data-angle", "30")
        # The guide leaves the upper face where it meets the edge between the vertices 0 and 1.
        low, high = PLATE.points[[0, 1]]
        way = np.array([np.cos(np.pi / 6), 0.0, -np.sin(np.pi / 6)])
        share = np.linalg.solve(
            np.array([[way[0], low[0] - high[0]], [way[2], low[2] - high[2]]]),
            (low - start)[[0, 2]],
        )[1]
        person.point_at(on_edge(0, 1, float(share)), kind="edge").choose()
        mesh = self.made(start, on_edge(0, 1, float(share)), faces=1)
        new = mesh.points[PLATE.vertex_count :]
        end = new[np.argmax(new[:, 0])]
        self.assertAlmostEqual(
            float(np.degrees(np.arctan2(start[2] - end[2], end[0] - start[0]))), 30.0, places=9
        )

    def test_axis_square_and_edge_locks_and_a_typed_length(self) -> None:
        person = self.person
        person.point_at(on_edge(3, 4, 0.2), kind="edge", share=0.2).choose()
        person.press("q", "q")
        expect(person.see("lock")).to_have_attribute("data-value", "x")
        person.point_at([0, 8, float(on_edge(3, 4, 0.2)[2]) + 6], kind="face")
        self.type_number("25", "length")
        expect(person.see("plan-items").locator("li")).to_have_count(2)
        for _ in range(4):
            person.press("q")
        expect(person.see("lock")).to_have_attribute("data-value", "along")
        person.press("Shift+q", "Shift+q", "Shift+q")
        expect(person.see("lock")).to_have_attribute("data-value", "y")
        person.press("Shift+q", "Shift+q", "Shift+q")
        expect(person.see("lock")).to_have_attribute("data-value", "free")
        person.point_at(on_edge(5, 6, 0.5), kind="half").choose()
        inner = on_edge(3, 4, 0.2) + [25, 0, 0]
        self.made(on_edge(3, 4, 0.2), inner, on_edge(5, 6, 0.5), faces=1)

    def test_the_grid_of_a_parallel_view_holds_points(self) -> None:
        person = self.person
        self.settle("lock", "grid")
        for x, z in ((-19, -21), (22, -19), (18, 23), (-23, 18)):
            person.point_at([x, 8, z], kind="face").choose()
        person.point_at([-19, 8, -21], kind="face")
        person.page.mouse.down()
        person.page.mouse.up()
        expect(person.see("plan")).to_contain_text("↺")
        corners = [np.array([x, 8.0, z]) for x, z in ((-20, -20), (20, -20), (20, 20), (-20, 20))]
        self.made(*corners, faces=2)

    def test_a_mirror_makes_the_counterpart(self) -> None:
        person = self.person
        self.settle("mirror", "across x")
        person.point_at(on_edge(0, 1, 0.3), kind="edge", share=0.3).choose()
        expect(person.see("mark-counterpart")).to_have_count(1)
        person.point_at(on_edge(0, 7, 0.4), kind="edge", share=0.4).choose()
        expect(person.see("counterpart")).to_have_count(2)
        mirrored = [on_edge(0, 1, 0.3) * [-1, 1, 1], on_edge(0, 7, 0.4) * [-1, 1, 1]]
        self.made(on_edge(0, 1, 0.3), on_edge(0, 7, 0.4), *mirrored, faces=2)

    def test_picked_faces_limit_the_cut_until_that_is_lifted(self) -> None:
        person = self.person
        person.press("p")
        person.page.mouse.click(*person.pixel_of([10, 8, 10]))
        expect(person.see("picked")).to_have_attribute("data-faces", "1")
        person.press("l")
        expect(person.see("limit")).to_contain_text("1 picked face")
        person.point_at(on_edge(11, 12, 0.3), kind="edge", share=0.3).choose()
        person.point_at(on_edge(8, 15, 0.6), kind="edge", share=0.6).choose()
        expect(person.see("plan-adds")).to_contain_text("2 new vertices")
        person.page.get_by_role("button", name="Lift the limit").click()
        expect(person.see("plan-adds")).to_contain_text("4 new vertices")
        person.page.get_by_role("button", name="to 1 picked face").click()
        expect(person.see("plan-adds")).to_contain_text("2 new vertices")
        self.made(faces=1, exactly=False)
        # The pick was carried: both halves of the face are picked now.
        expect(person.see("picked")).to_have_attribute("data-faces", "2")

    def test_several_lines_are_one_plan(self) -> None:
        person = self.person
        for low, high in ((3, 7), (4, 6)):
            person.point_at(on_edge(low, low + 1, 0.3), kind="edge", share=0.3).choose()
            other = (0, 7) if high == 7 else (high, high + 1)
            person.point_at(on_edge(*other, 0.7), kind="edge", share=0.7).choose()
            person.press("b")
        expect(person.see("plan")).to_contain_text("2 lines, 4 points")
        self.made(
            on_edge(3, 4, 0.3),
            on_edge(0, 7, 0.7),
            on_edge(4, 5, 0.3),
            on_edge(6, 7, 0.7),
            faces=2,
            exactly=False,
        )

    def test_a_planned_point_is_dragged_inserted_and_removed(self) -> None:
        person = self.person
        person.point_at(on_edge(2, 3, 0.3), kind="edge", share=0.3).choose()
        person.point_at(on_edge(6, 7, 0.6), kind="edge", share=0.6).choose()
        self.drag(person, on_edge(6, 7, 0.6), on_edge(6, 7, 0.2))
        expect(person.see("share-0-1")).to_have_value("20 %")
        self.drag(person, on_edge(6, 7, 0.2), on_edge(5, 6, 0.8))
        expect(person.see("plan-items").locator("li").nth(1)).to_contain_text("edge 5–6")
        rows = person.see("plan-items").locator("li")
        rows.first.hover()
        person.page.get_by_role("button", name="Insert a point after point 1").click()
        person.point_at([5, 8, 12], kind="face").choose()
        expect(rows.nth(1)).to_have_attribute("data-kind", "face")
        rows.nth(1).hover()
        person.page.get_by_role("button", name="Remove point 2").click()
        expect(rows).to_have_count(2)
        self.made(on_edge(2, 3, 0.3), on_edge(5, 6, 0.8), faces=1)

    def test_open_ends_are_trimmed_extended_or_joined(self) -> None:
        person = self.person
        person.point_at(on_edge(2, 3, 0.3), kind="edge", share=0.3).choose()
        person.point_at([0, 8, 10], kind="face").choose()
        expect(person.see("note")).to_contain_text("trimmed")
        expect(person.see("make-bar").get_by_role("button", name="Make the cut")).to_be_disabled()
        self.settle("open-ends", "extended to the boundary")
        expect(person.see("note")).to_contain_text("extended")
        self.settle("open-ends", "joined to a corner")
        expect(person.see("note")).to_contain_text("joined")
        expect(person.see("not-at-default")).to_contain_text("open ends")
        self.made(on_edge(2, 3, 0.3), faces=1, exactly=False)
        person.page.get_by_role("button", name="reset").click()
        expect(person.see("not-at-default")).to_have_count(0)

    def test_an_edge_under_the_pointer_is_taken_away_as_a_step(self) -> None:
        person = self.person
        person.point_at(on_edge(3, 4, 0.3), kind="edge").press("Delete")
        expect(person.see("steps").locator("li")).to_contain_text("Dissolve")
        self.assertEqual(self.exported().face_count, PLATE.face_count - 1)
        person.press("Control+z")
        expect(person.see("steps").locator("li[data-applied=false]")).to_have_count(1)
        self.assertEqual(person.wait_for_rest().export(), self.original)

    def test_new_edges_are_picked_afterwards_and_undo_brings_the_pick_back(self) -> None:
        person = self.person
        person.point_at(on_edge(2, 3, 0.3), kind="edge", share=0.3).choose()
        person.point_at(on_edge(6, 7, 0.6), kind="edge", share=0.6).choose()
        person.make()
        expect(person.see("picked")).to_have_attribute("data-edges", "1")
        person.press("Control+z")
        expect(person.see("picked")).to_have_attribute("data-edges", "0")
        person.press("Control+Shift+z")
        expect(person.see("picked")).to_have_attribute("data-edges", "1")

    def test_the_plan_waits_while_the_server_is_gone(self) -> None:
        person = self.person
        person.point_at(on_edge(2, 3, 0.3), kind="edge", share=0.3).choose()
        person.intercept("**/api/**", lambda route: route.abort())
        person.page.mouse.move(*person.pixel_of([0, 8, 10]))
        expect(person.see("trouble")).to_contain_text("does not answer")
        self.assertEqual(person.points(), 1)
        person.page.unroute("**/api/**")
        expect(person.see("trouble")).to_have_count(0)
        person.point_at(on_edge(6, 7, 0.6), kind="edge", share=0.6).choose()
        self.made(on_edge(2, 3, 0.3), on_edge(6, 7, 0.6), faces=1)

    def test_all_commands_are_found_by_their_words(self) -> None:
        person = self.person
        person.press("Control+k")
        person.page.get_by_placeholder("Type what you want to do").fill("all n-gons")
        person.press("Enter")
        expect(person.see("picked")).to_have_attribute("data-faces", "1")
        person.press("?")
        expect(person.page.get_by_role("dialog")).to_contain_text("Begin a new line elsewhere")

    def drag(self, person: Person, start: np.ndarray, end: np.ndarray) -> None:
        person.page.mouse.move(*person.pixel_of(start))
        person.page.mouse.down()
        person.page.mouse.move(*person.pixel_of(0.5 * (start + end)))
        person.page.mouse.move(*person.pixel_of(end))
        person.page.mouse.up()
