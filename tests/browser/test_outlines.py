"""Outlines in the browser: brought in, made, drawn, lettered; placed, projected, worked on; and
told where they miss."""

from __future__ import annotations

import re

import numpy as np
from playwright.sync_api import Route, expect

from cutcore import Mesh, apply_step, parse_step, read_part
from tests.browser.person import Person
from tests.browser.workshop_case import WorkshopCase
from tests.guarantees import volume_of
from workshop.sample.skerry_light import HOUSING_SIDES, deck_plate, float_hull, lantern_housing

PLATE = deck_plate()
HOUSING = lantern_housing()
SVG = b'<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="20mm" viewBox="0 0 40 20"><path d="M0 0H40V20H0Z"/></svg>'


class Outlines(WorkshopCase):
    def settle(self, field: str, text: str) -> None:
        self.person.see(field).fill(text)
        self.person.see(field).press("Enter")

    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option, exact=True).click()

    def open_drawer(self) -> None:
        self.person.see("open-drawer").click()

    def take(self, name: str) -> None:
        self.person.see("outlines-in-hand").get_by_role("button", name=name, exact=True).click()

    def badge_on_the_plate(self) -> Person:
        """Bring the badge in as an SVG file and have it face the deck plate, at its origin."""
        person = self.person.open_part("Deck plate").press("o")
        self.open_drawer()
        person.see("outlines").get_by_role("button", name="SVG file").click()
        with person.page.expect_file_chooser() as waiting:
            person.page.get_by_role("button", name="Choose an SVG file").click()
        waiting.value.set_files({"name": "badge.svg", "mimeType": "image/svg+xml", "buffer": SVG})
        expect(person.see("outline-editor")).to_have_attribute("data-points", "4")
        person.page.get_by_role("button", name="Close the drawer").click()
        self.take("badge")
        self.choose("sheet-facing", "along y")
        person.see("stand-at-origin").click()
        expect(person.see("sheet")).to_be_visible()
        return person

    def made(self) -> Mesh:
        return self.exported()

    def test_an_svg_file_is_placed_by_numbers_projected_extruded_and_exported(self) -> None:
        person = self.badge_on_the_plate()
        self.settle("sheet-x", "1.5cm")
        self.settle("sheet-z", "-5")
        self.settle("sheet-turn-field", "90")
        expect(person.see("landing")).to_have_attribute("data-on", "4")
        person.make()
        expect(person.see("steps").locator("li").first).to_contain_text("Outline, 1 curve")
        person.see("work-extrude").click()
        self.settle("extrude-distance", "2.5")
        expect(person.see("canvas")).to_have_attribute("data-planned", "shown")
        person.make()
        mesh = self.made()
        self.assertAlmostEqual(volume_of(mesh) - volume_of(PLATE), 40 * 20 * 2.5, places=6)
        raised = mesh.points[mesh.points[:, 1] > 8 + 1e-9]
        np.testing.assert_allclose(sorted({round(float(y), 9) for y in raised[:, 1]}), [10.5])
        np.testing.assert_allclose([raised[:, 0].min(), raised[:, 0].max()], [5, 25], atol=1e-9)
        np.testing.assert_allclose([raised[:, 2].min(), raised[:, 2].max()], [-25, 15], atol=1e-9)
        self.assertIn(b"badge", person.export())
        # The same by the engine alone.
        corners = [[25, 20, 15], [25, 20, -25], [5, 20, -25], [5, 20, 15]]
        alone = apply_step(
            PLATE,
            parse_step(
                {
                    "tool": "outline",
                    "curves": [{"points": corners}],
                    "along": {"direction": [0, -1, 0]},
                }
            ),
        )
        alone = apply_step(
            alone.mesh,
            parse_step({"tool": "extrude", "faces": alone.picked.faces.tolist(), "distance": 2.5}),
        )
        self.assertEqual(
            (alone.mesh.vertex_count, alone.mesh.face_count), (mesh.vertex_count, mesh.face_count)
        )

    def test_numbers_typed_faster_than_they_are_answered_all_count(self) -> None:
        person = self.badge_on_the_plate()
        held: list[Route] = []
        person.intercept("**/aim/outline", lambda route: held.append(route))
        self.settle("sheet-x", "1.5cm")
        self.settle("sheet-z", "-5")
        self.settle("sheet-turn-field", "90")
        person.wait_until(lambda _: len(held) == 3)
        # The answers come in the wrong order.
        for route in reversed(held):
            route.continue_()
        expect(person.see("landing")).to_have_attribute("data-on", "4")
        expect(person.see("sheet-x")).to_have_value("15")
        # What was typed and let go of counts for nothing.
        person.see("sheet-x").fill("70")
        person.see("sheet-x").press("Escape")
        expect(person.see("sheet-x")).to_have_value("15")
        person.make()
        cut = self.made().points
        new = cut[len(PLATE.points) :]
        np.testing.assert_allclose([new[:, 0].min(), new[:, 0].max()], [5, 25], atol=1e-9)
        np.testing.assert_allclose([new[:, 2].min(), new[:, 2].max()], [-25, 15], atol=1e-9)

    def test_numbers_are_moved_by_arrow_keys_and_read_as_what_they_are(self) -> None:
        person = self.badge_on_the_plate()
        size = person.see("sheet-scale-field")
        expect(size).to_have_value("100 %")
        size.press("ArrowUp")
        expect(size).to_have_value("110 %")
        size.press("ArrowDown")
        size.press("ArrowDown")
        expect(size).to_have_value("90 %")
        for typed, shown in (("150", "150 %"), ("62,5 %", "62.5 %"), ("-3", None)):
            size.fill(typed)
            size.press("Enter")
            if shown is not None:
                expect(size).to_have_value(shown)
        expect(person.page.get_by_role("alert")).to_have_text("A percentage, such as 150")
        size.press("Escape")
        expect(size).to_have_value("62.5 %")
        count = person.see("outline-count")
        expect(count).to_have_value("as drawn")
        self.settle("outline-count", "12")
        expect(person.see("landing")).to_have_attribute("data-on", "12")
        self.settle("outline-count", "as drawn")
        expect(person.see("landing")).to_have_attribute("data-on", "4")
        self.settle("outline-collar", "1/4 in")
        expect(person.see("outline-collar")).to_have_value("6.350 mm")
        self.settle("outline-collar", "0")
        expect(person.see("outline-collar")).to_have_value("none")

    def test_it_is_stamped_where_one_clicks_again_and_again(self) -> None:
        person = self.person.open_part("Float hull").take_view("t").press("o")
        self.take("Vent slot")
        hull = float_hull()
        top = hull.points[hull.points[:, 1] > hull.points[:, 1].max() - 8]
        for k, along in enumerate((0.35, 0.6)):
            z = float(top[:, 2].min() + along * np.ptp(top[:, 2]))
            person.page.mouse.click(*person.pixel_of([0, float(top[:, 1].max()), z]))
            expect(person.see("sheet")).to_be_visible()
            expect(person.see("landing")).to_have_attribute("data-on", re.compile("[1-9]"))
            person.make()
            expect(person.see("steps").locator("li")).to_have_count(k + 1)
            expect(person.see("sheet")).to_have_count(0)
        # What was made is picked for the next operation and does not limit the next stamp.
        expect(person.see("limit")).to_have_attribute("data-faces", "0")
        expect(person.see("work-inset")).to_be_visible()
        mesh = self.made()
        self.assertFalse(mesh.edges.border.any())
        self.assertGreater(mesh.face_count, hull.face_count + 2)

    def test_a_sheet_is_turned_and_sized_by_its_handles(self) -> None:
        person = self.person.open_part("Deck plate").take_view("t").press("o")
        self.take("Inspection hatch")
        person.page.mouse.click(*person.pixel_of([30, 8, 20]))
        expect(person.see("sheet")).to_be_visible()
        expect(person.see("sheet-turn-field")).to_have_value("0°")
        grip = person.see("sheet-turn").bounding_box()
        place = person.see("sheet-place").bounding_box()
        assert grip and place
        person.page.mouse.move(grip["x"] + 8, grip["y"] + 6)
        person.page.mouse.down()
        person.page.mouse.move(place["x"] + 130, place["y"] + 6, steps=4)
        person.page.mouse.up()
        # Only where the drag ends does the sheet stand still, and its corner with it.
        expect(person.see("sheet-turn-field")).to_have_value("-90°")
        corner = person.see("sheet-scale").bounding_box()
        assert corner
        person.page.mouse.move(corner["x"] + 7, corner["y"] + 7)
        person.page.mouse.down()
        person.page.mouse.move(corner["x"] + 40, corner["y"] + 40, steps=4)
        person.page.mouse.up()
        expect(person.see("sheet-scale-field")).not_to_have_value("100 %")

    def test_every_miss_says_why_and_offers_what_helps(self) -> None:
        person = self.person.open_part("Deck plate").press("o")
        self.take("Inspection hatch")
        self.choose("sheet-facing", "along y")
        person.see("stand-at-origin").click()
        expect(person.see("landing")).to_be_visible()
        self.settle("sheet-x", "400")
        note = person.see("plan").locator("[data-code='outline-misses']")
        expect(note).to_contain_text("misses the part")
        expect(person.see("landing")).to_have_attribute("data-on", "0")
        expect(person.page.get_by_role("button", name="Make the cut")).to_be_disabled()
        self.settle("sheet-x", "85")
        expect(person.see("plan").locator("[data-code='outline-off-the-part']")).to_contain_text(
            "lie off the part"
        )
        self.settle("sheet-x", "0")
        self.settle("sheet-lift", "-60")
        expect(person.see("plan").locator("[data-code='outline-behind']")).to_be_visible()
        person.see("landing").get_by_role("button", name="Move it forward").click()
        expect(person.see("plan").locator("[data-code='outline-behind']")).to_have_count(0)
        expect(person.see("landing")).to_have_attribute("data-on", "28")

    def test_letters_with_holes_pick_what_is_ink(self) -> None:
        person = self.person.open_part("Deck plate").press("o")
        self.open_drawer()
        person.see("outlines").get_by_role("button", name="letters").click()
        person.see("outline-words").fill("OA")
        self.settle("outline-height", "4cm")
        person.page.get_by_role("button", name="Add the outline").click()
        expect(person.see("outline-editor")).to_be_visible()
        person.page.get_by_role("button", name="Close the drawer").click()
        self.take("OA")
        self.choose("sheet-facing", "along y")
        person.see("stand-at-origin").click()
        expect(person.see("landing")).to_be_visible()
        person.make()
        person.press("p")
        picked = int(person.see("picked").get_attribute("data-faces") or 0)
        mesh = self.made()
        patch = mesh.patches.index("OA")
        ink = np.flatnonzero(mesh.patch == patch)
        self.assertEqual(len(ink), picked)
        # The holes of both letters are no ink: with them more than this would be picked.
        letters = mesh.points[np.unique(np.concatenate([mesh.face(int(f)) for f in ink]))]
        area = np.linalg.norm(mesh.face_normals(ink), axis=1).sum()
        whole = float(np.ptp(letters[:, 0])) * 40
        self.assertTrue(0.25 * whole < area < 0.6 * whole)

    def test_an_outline_is_made_drawn_on_and_changed(self) -> None:
        person = self.person.open_part("Deck plate").press("o")
        self.open_drawer()
        drawer = person.see("outlines")
        drawer.get_by_role("button", name="rectangle").click()
        self.settle("outline-width", "30")
        self.settle("outline-corner", "0")
        person.page.get_by_role("button", name="Add the outline").click()
        editor = person.see("outline-editor")
        expect(editor).to_have_attribute("data-points", "4")
        self.settle("outline-corners", "0.4cm")
        expect(editor).to_have_attribute("data-points", "28")
        self.settle("outline-pieces", "3")
        expect(editor).to_have_attribute("data-points", "16")
        corner = person.page.locator("[data-node='0.2']")
        box = corner.bounding_box()
        assert box
        person.page.mouse.move(box["x"] + 4, box["y"] + 4)
        person.page.mouse.down()
        person.page.mouse.move(box["x"] + 24, box["y"] - 16, steps=3)
        person.page.mouse.up()
        expect(person.see("node-x")).not_to_have_value("15")
        self.settle("node-x", "20")
        expect(editor).to_contain_text("34.243 mm")
        person.page.locator("[data-between='0.3']").click()
        expect(editor).to_have_attribute("data-points", "17")
        editor.get_by_role("button", name="mirror left to right").click()
        editor.get_by_role("button", name="lay them in a row").click()
        expect(editor).to_contain_text("54.243 mm")
        editor.get_by_role("button", name="Back to all outlines").click()
        expect(drawer.locator("li[data-outline=Rectangle]")).to_have_attribute("data-points", "34")
        drawer.get_by_role("button", name="Copy Rectangle").click()
        expect(drawer.locator("li")).to_have_count(6)
        with person.page.expect_download() as waiting:
            drawer.get_by_role("button", name="Export Rectangle as SVG", exact=True).click()
        self.assertIn(b'width="54.2', waiting.value.path().read_bytes())
        drawer.get_by_role("button", name="Drop Rectangle, copy").click()
        expect(drawer.locator("li")).to_have_count(5)

    def test_picked_faces_are_inset_joined_taken_off_and_bridged(self) -> None:
        person = self.person.open_part("Deck plate").take_view("t").press("p")
        person.page.mouse.click(*person.pixel_of([0, 8, 0]))
        expect(person.see("picked")).to_have_attribute("data-faces", "1")
        person.see("work-inset").click()
        self.settle("inset-width", "900")
        expect(person.see("refusal")).to_contain_text("there is room for a strip of less than")
        self.settle("inset-width", "1cm")
        person.make()
        mesh = self.made()
        self.assertEqual(
            (mesh.face_count, mesh.vertex_count), (PLATE.face_count + 8, PLATE.vertex_count + 8)
        )
        expect(person.see("steps").locator("li").first).to_contain_text("inset by 10.00 mm")
        person.see("work-take-off").click()
        person.make()
        self.assertEqual(int(self.made().edges.border.sum()), 8)
        person.press("Control+z").wait_for_rest()
        grip = person.see("work-extrude")
        grip.click()
        handle = person.see("push-handle").locator("rect")
        expect(handle).to_be_visible()
        person.press("Escape")
        expect(person.see("push-handle")).to_have_count(0)
        person.press("b")
        self.assertEqual(read_part("a.obj", person.export())[0].face_count, PLATE.face_count + 8)

    def test_edges_become_an_outline_that_lies_where_it_lay_and_a_ring_is_made_round(self) -> None:
        person = self.person.open_part("Deck plate").take_view("t").press("p")
        self.choose("pick-kind", "edges")
        rim = PLATE.points[:8]
        person.page.mouse.click(*person.pixel_of(0.5 * (rim[1] + rim[2])))
        expect(person.see("picked")).to_have_attribute("data-edges", "1")
        for k in (2, 3, 4, 5, 6, 7, 0):
            person.page.keyboard.down("Shift")
            person.page.mouse.click(*person.pixel_of(0.5 * (rim[k] + rim[(k + 1) % 8])))
            person.page.keyboard.up("Shift")
        expect(person.see("picked")).to_have_attribute("data-edges", "8")
        person.press("o")
        self.open_drawer()
        person.see("outlines").get_by_role("button", name="picked edges").click()
        expect(person.see("outline-editor")).to_have_attribute("data-points", "8")
        person.page.get_by_role("button", name="Close the drawer").click()
        self.take("Edges of Deck plate")
        place = person.page.get_by_role("button", name="Place it where it lay")
        expect(place).to_be_visible()
        place.click()
        expect(person.see("sheet-y")).to_have_value("8")
        # There is nothing to cut where it lay; smaller, it is an inset of the face.
        self.settle("sheet-scale-field", "50")
        expect(person.see("landing")).to_have_attribute("data-on", "8")
        person.make()
        mesh = self.made()
        fresh = mesh.points[PLATE.vertex_count :]
        away = np.linalg.norm(fresh[:, None] - 0.5 * (rim + [0, 8, 0]), axis=2).min(axis=1)
        self.assertLess(float(away.max()), 1e-9)
        person.press("p")
        self.choose("pick-kind", "edges")
        person.press("Escape")
        person.page.mouse.click(*person.pixel_of(0.25 * (rim[1] + rim[2]) + [0, 4, 0]))
        expect(person.see("picked")).to_have_attribute("data-edges", "1")
        person.see("pick").get_by_role("button", name="loop", exact=True).click()

    def test_it_stands_round_an_axis_and_along_the_view(self) -> None:
        person = self.person.open_part("Lantern housing").take_view("f").press("o")
        self.take("Vent slot")
        self.settle("sheet-scale-field", "40")
        person.page.mouse.click(*person.pixel_of([0, 60, 30]))
        expect(person.see("sheet")).to_be_visible()
        self.choose("copies", "round y")
        expect(person.see("landing")).to_have_attribute("data-of", "104")
        expect(person.see("not-at-default")).to_contain_text("copies")
        before = person.see("plan-adds").inner_text()
        person.press("w")
        expect(person.see("reach")).to_have_text("right through")
        expect(person.see("plan-adds")).not_to_have_text(before)
        person.see("plan-lines").locator("[data-side=far]").first.wait_for(state="attached")
        person.see("not-at-default").get_by_role("button", name="reset").click()
        expect(person.see("not-at-default")).to_have_count(0)
        expect(person.see("landing")).to_have_attribute("data-of", "26")
        self.settle("sheet-scale-field", "40")
        self.choose("outline-along", "along the view")
        expect(person.see("not-at-default")).to_contain_text("along the view")
        person.make()
        self.assertFalse(self.made().edges.border.any())

    def test_openings_are_bridged_and_a_ring_is_rounded_by_number(self) -> None:
        person = self.person.open_part("Lantern housing").take_view("f").press("p")
        self.choose("pick-kind", "edges")
        person.page.mouse.click(*person.pixel_of(self.on_a_ring(6)))
        expect(person.see("picked")).to_have_attribute("data-edges", "1")
        person.see("pick").get_by_role("button", name="loop", exact=True).click()
        person.see("work-round").click()
        self.settle("round-diameter", "7cm")
        self.settle("round-y", "100")
        self.choose("round-axis", "y")
        person.make()
        mesh = self.made()
        ring = mesh.points[np.abs(mesh.points[:, 1] - 100) < 1e-9]
        self.assertEqual(len(ring), HOUSING_SIDES)
        np.testing.assert_allclose(np.hypot(ring[:, 0], ring[:, 2]), 35, rtol=1e-9)
        expect(person.see("steps").locator("li").first).to_contain_text(
            "A ring made round, 70.00 mm across"
        )

    def on_a_ring(self, ring: int) -> object:
        """The middle of the side at the front of a ring of the housing."""
        rings = HOUSING.points[1:-1].reshape(-1, HOUSING_SIDES, 3)[ring]
        front = int(np.argmax(rings[:, 2]))
        return 0.5 * (rings[front] + rings[(front + 1) % HOUSING_SIDES])
