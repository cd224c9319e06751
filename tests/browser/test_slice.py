"""Slice in the browser: drawn lines and placed planes, sides discarded, parted, mirrored; checked
on the exported part."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect
from scipy.spatial import cKDTree

from tests.browser.workshop_case import WorkshopCase
from tests.guarantees import volume_of
from workshop.sample.skerry_light import HOUSING_SIDES, lantern_housing

HOUSING = lantern_housing()


class Slice(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.open_part("Lantern housing").take_view("f").press("s")
        self.original = self.person.export()

    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option).click()

    def settle(self, field: str, text: str) -> None:
        self.person.see(field).fill(text)
        self.person.see(field).press("Enter")

    def draw(self, start: tuple[float, float, float], end: tuple[float, float, float]) -> None:
        """Draw a line across the view by a drag."""
        person = self.person
        x, y = person.pixel_of(start)
        person.page.mouse.move(x - 3, y)
        person.page.mouse.move(x, y)
        expect(person.see("mark")).to_be_attached()
        person.page.mouse.down()
        x, y = person.pixel_of(end)
        person.page.mouse.move(x, y, steps=4)
        expect(person.see("overlay").locator("[data-side=near]").first).to_be_attached()
        person.page.mouse.up()
        expect(person.see("slice-end-to")).to_be_attached()

    def undo_gives_back(self) -> None:
        self.person.press("Control+z")
        expect(self.person.see("steps").locator("li[data-applied=false]")).to_have_count(1)
        self.assertEqual(self.person.wait_for_rest().export(), self.original)

    def test_a_drawn_line_cuts_along_the_plane_of_sight_and_its_ends_stay_draggable(self) -> None:
        person = self.person
        self.draw((-70, 70, 0), (70, 65, 0))
        # The end is put on the level of the other, with the lock.
        person.press("q")
        expect(person.see("lock")).to_have_attribute("data-value", "angle")
        x, y = person.pixel_of((70, 65, 0))
        person.page.mouse.move(x, y)
        person.page.mouse.down()
        x, y = person.pixel_of((80, 72, 0))
        person.page.mouse.move(x, y, steps=3)
        person.page.mouse.up()
        expect(person.see("readout-angle")).to_have_text("0°")
        expect(person.see("plan-adds")).to_contain_text(f"{HOUSING_SIDES} new vertices")
        person.make()
        new = self.exported().points[HOUSING.vertex_count :]
        self.assertLess(float(np.ptp(new[:, 1])), 1e-9)
        self.assertAlmostEqual(float(new[0, 1]), 70.0, delta=0.6)
        self.undo_gives_back()

    def test_the_hatched_side_is_discarded_after_flipping_it(self) -> None:
        person = self.person
        self.draw((-70, 68, 0), (70, 68, 0))
        self.choose("then", "discard the hatched side")
        flow = person.see("flow").locator("[data-flow=borders]")
        expect(flow).to_contain_text("+1")
        person.page.get_by_label("cap the openings").check()
        expect(flow).not_to_contain_text("+1")
        person.press("f")
        expect(person.see("make-bar").get_by_role("button", name="Make the cut")).to_be_enabled()
        person.make()
        mesh = self.exported()
        # Drawn from left to right the scrap was below; flipped it is above.
        self.assertAlmostEqual(float(mesh.points[:, 1].max()), 68.0, delta=0.6)
        self.assertEqual((float(mesh.points[:, 1].min()), int(mesh.edges.border.sum())), (0.0, 0))
        self.undo_gives_back()

    def test_a_plane_is_placed_by_number_pulled_by_its_handle_and_parts_the_part(self) -> None:
        person = self.person
        self.choose("plane-by", "square to y")
        self.settle("plane-offset", "50")
        expect(person.see("plane-frame")).to_be_attached()
        expect(person.see("handles")).to_have_attribute("data-offset", "50")
        handle = person.see("handle-move").bounding_box()
        assert handle is not None
        x, y = handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2
        step = person.pixel_of((0, 44, 0))[1] - person.pixel_of((0, 50, 0))[1]
        person.page.mouse.move(x, y)
        person.page.mouse.down()
        person.page.mouse.move(x, y + step + 1, steps=3)
        person.page.mouse.up()
        # A ring of the housing lies at 44: the plane settles on it, so that nothing is added there.
        expect(person.see("plane-offset")).to_have_value("44.000 mm")
        self.settle("plane-offset", "5cm")
        expect(person.see("plane-offset")).to_have_value("50.000 mm")
        self.choose("then", "part the sides by a gap")
        self.settle("gap-y", "6")
        person.page.get_by_label("as parts of their own").check()
        person.page.get_by_label("cap the openings").check()
        expect(person.see("make-bar").get_by_role("button", name="Make the cut")).to_be_enabled()
        person.make()
        lower = self.exported()
        self.assertEqual(
            (float(lower.points[:, 1].min()), float(lower.points[:, 1].max())), (-3.0, 47.0)
        )
        person.open().page.get_by_role("button", name="Lantern housing, taken off").click()
        upper = self.exported(person.wait_for_rest())
        self.assertEqual(
            (float(upper.points[:, 1].min()), float(upper.points[:, 1].max())), (53.0, 144.0)
        )
        self.assertAlmostEqual(volume_of(lower) + volume_of(upper), volume_of(HOUSING), places=3)
        self.assertEqual((int(lower.edges.border.sum()), int(upper.edges.border.sum())), (0, 0))

    def test_halving_and_mirroring_gives_a_closed_symmetric_part(self) -> None:
        person = self.person
        self.choose("plane-by", "square to x")
        self.settle("plane-offset", "0.5")
        self.settle("plane-tilt-1", "10")
        self.choose("then", "halve, and mirror the rest")
        expect(person.see("make-bar").get_by_role("button", name="Make the cut")).to_be_enabled()
        person.make()
        mesh = self.exported()
        self.assertEqual(int(mesh.edges.border.sum()), 0)
        turn = np.radians(10)
        normal = np.array([np.cos(turn), np.sin(turn), 0.0])
        point = np.array([0.5, 70.5, 0.0])
        images = mesh.points - 2 * ((mesh.points - point) @ normal)[:, None] * normal
        self.assertLess(cKDTree(mesh.points).query(images)[0].max(), 1e-9)
        expect(person.see("steps").locator("li").first).to_contain_text("halved and mirrored")
        self.undo_gives_back()

    def test_several_planes_stand_at_their_spacing(self) -> None:
        self.choose("plane-by", "square to y")
        self.settle("plane-offset", "14")
        self.settle("plane-count", "3")
        self.settle("plane-spacing", "5.25")
        expect(self.person.see("plane-frame")).to_have_count(3)
        expect(self.person.see("plan-adds")).to_contain_text(f"{3 * HOUSING_SIDES} new vertices")
        self.person.make()
        heights = np.unique(np.round(self.exported().points[HOUSING.vertex_count :, 1], 9))
        self.assertEqual(heights.tolist(), [14.0, 19.25, 24.5])

    def test_the_near_side_is_cut_alone_and_said_to_be(self) -> None:
        self.draw((-70, 68, 0), (70, 68, 0))
        self.person.press("w")
        expect(self.person.see("reach")).to_have_text("near side")
        expect(self.person.see("overlay").locator("[data-side=far]")).to_have_count(0)
        expect(self.person.see("not-at-default")).to_contain_text("near side")
        self.person.make()
        new = self.exported().points[HOUSING.vertex_count :]
        self.assertTrue(2 < len(new) < HOUSING_SIDES)
        self.assertGreater(float(new[:, 2].max()), 10.0)

    def test_a_plane_on_a_face_or_vertices_asks_for_them(self) -> None:
        person = self.person
        self.choose("plane-by", "on the picked face")
        person.is_told("Pick one face: the plane lies on it.")
        person.press("p")
        x, y = person.pixel_of((0, 68, 34))
        person.page.mouse.click(x, y)
        expect(person.see("picked")).to_have_attribute("data-faces", "1")
        person.press("s")
        self.choose("plane-by", "on the picked face")
        expect(person.see("plane-frame")).to_be_attached()
        self.settle("plane-offset", "-10")
        expect(person.see("limit")).to_contain_text("the whole part")
        person.make()
        self.assertGreater(len(self.exported().points), HOUSING.vertex_count)


class FlowAndShapes(WorkshopCase):
    def test_a_person_begins_without_a_file_and_reads_its_flow(self) -> None:
        person = self.person.open()
        person.page.get_by_role("button", name="From a shape…").click()
        person.page.get_by_role("button", name="Cylinder").click()
        for field, text in (
            ("diameter", "3cm"),
            ("height", "20"),
            ("sides", "12"),
            ("along_height", "2"),
        ):
            person.see(f"shape-{field}").fill(text)
            person.see(f"shape-{field}").press("Enter")
        expect(person.see("shape-faces")).to_have_text("26 faces")
        person.page.get_by_role("button", name="Make the part").click()
        mesh = self.exported(person.wait_for_rest())
        self.assertEqual(np.ptp(mesh.points, axis=0).tolist(), [30.0, 20.0, 30.0])
        person.page.get_by_role("button", name="Flow", exact=True).click()
        person.see("flow").get_by_role("button", name="N-gons", exact=True).click()
        expect(person.see("picked")).to_have_attribute("data-faces", "2")
        # What was only looked at does not limit the next cut.
        person.press("e")
        expect(person.see("limit")).to_have_attribute("data-faces", "0")
        person.see("flow").get_by_role("button", name="Poles of 3").click()
        expect(person.see("picked")).to_have_attribute("data-vertices", "24")

    def test_another_part_is_begun_beside_the_first_and_a_wrong_size_is_told(self) -> None:
        person = self.person.open_part("Deck plate")
        person.page.get_by_role("button", name="Add a part from a starter shape").click()
        person.page.get_by_role("button", name="Torus").click()
        person.see("shape-thickness").fill("50")
        person.see("shape-thickness").press("Enter")
        expect(person.see("shapes").get_by_role("alert")).to_contain_text(
            "more than twice its thickness"
        )
        person.see("shape-thickness").fill("12")
        person.see("shape-thickness").press("Enter")
        person.page.get_by_role("button", name="Make the part").click()
        expect(person.page.get_by_role("button", name="Torus", exact=True)).to_have_attribute(
            "aria-current", "true"
        )
        self.assertEqual(self.exported(person.wait_for_rest()).face_count, 384)
