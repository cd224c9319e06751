"""Freehand, ruled lines and seams: drawn over the part, ruled from its edges, laid along it."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from cutcore import Mesh
from cutcore.geometry.polygons import distance_to_segments
from tests.browser.deck import PLATE, on_edge
from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import float_hull

HULL = float_hull()


class DrawnOn(WorkshopCase):
    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option).click()
        self.person.wait_for_answers()

    def draw(self, pixels: np.ndarray) -> None:
        """Draw over the page with the button held."""
        mouse = self.person.page.mouse
        mouse.move(*pixels[0])
        mouse.down()
        for x, y in pixels[1:]:
            mouse.move(x, y)
        mouse.up()
        self.person.wait_for_answers()

    def over(self, *places: object, count: int = 12) -> np.ndarray:
        """The pixels of the page along a polyline of places."""
        corners = np.array([self.person.pixel_of(place) for place in places])
        share = np.linspace(0, len(corners) - 1, count)
        return np.stack(
            [np.interp(share, np.arange(len(corners)), corners[:, k]) for k in (0, 1)], axis=1
        )

    def fresh(self, before: Mesh) -> np.ndarray:
        made = self.exported()
        return made.points[before.vertex_count :]

    def test_a_score_keeps_the_shape_it_was_drawn_in(self) -> None:
        person = self.person
        person.open_part("Float hull").take_view("t").press("d")
        x, y = person.pixel_of(HULL.box.mean(axis=0))
        turn = np.linspace(-1.0, 1.0, 40)
        drawn = np.round(np.stack([x + 90 * turn, y + 25 * np.sin(3 * turn)], axis=1))
        # With Alt held its ends settle on nothing.
        person.page.keyboard.down("Alt")
        self.draw(drawn)
        person.page.keyboard.up("Alt")
        expect(person.see("plan-items").locator("li")).to_have_count(1)
        expect(person.see("told-by")).to_contain_text("of 4")
        camera = person.camera()
        box = person.see("canvas").bounding_box()
        assert box is not None
        person.make()
        pixels = camera.project(self.fresh(HULL)) + [box["x"], box["y"]]
        self.assertGreater(len(pixels), 8)
        self.assertLess(distance_to_segments(pixels, drawn[:-1], drawn[1:]).min(axis=1).max(), 1.6)
        expect(person.see("steps")).to_contain_text("Freehand, as drawn")

    def test_strokes_are_taken_back_and_put_again_and_kept_by_the_tool(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("d")
        rows = person.see("plan-items").locator("li")
        for share in (0.3, 0.6):
            self.draw(self.over(on_edge(8, 9, share), on_edge(12, 13, share)))
        expect(rows).to_have_count(2)
        person.press("Backspace")
        expect(rows).to_have_count(1)
        person.press("Shift+Backspace")
        expect(rows).to_have_count(2)
        self.choose("keeps", "only where edges are crossed")
        self.choose("at-edges", "several side by side")
        expect(person.see("not-at-default")).to_contain_text("several")
        person.press("l", "d")
        expect(rows).to_have_count(2)
        # Escape throws away a stroke under way, then the plan, then the tool.
        x, y = person.pixel_of([0, 8, 0])
        person.page.mouse.click(x, y)
        person.press("Escape")
        expect(rows).to_have_count(2)
        person.press("Escape")
        expect(person.see("plan-items")).to_have_count(0)

    def test_an_answer_that_comes_late_makes_no_stroke_on_another_part(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("d")
        pixels = self.over(on_edge(8, 9, 0.3), on_edge(12, 13, 0.3))
        mouse = person.page.mouse
        with person.held("**/aim"):
            mouse.move(*pixels[0])
            mouse.down()
            for x, y in pixels[1:]:
                mouse.move(x, y)
            mouse.up()
            person.take_part("Float hull")
        person.wait_for_answers()
        expect(person.see("plan-items")).to_have_count(0)
        person.take_part("Deck plate")
        expect(person.see("plan-items")).to_have_count(0)

    def test_a_loop_is_thinned_away_and_the_part_is_as_before(self) -> None:
        person = self.person
        person.open_part("Float hull").take_view("t").press("e")
        top = HULL.face_normals()[:, 1] / np.linalg.norm(HULL.face_normals(), axis=1)
        middles = np.array([HULL.points[HULL.face(f)].mean(axis=0) for f in range(HULL.face_count)])
        flat = np.flatnonzero((top > 0.9) & (HULL.sizes == 4))
        near = flat[np.argmin(np.abs(middles[flat] - HULL.box.mean(axis=0))[:, [0, 2]].sum(axis=1))]
        a, b = HULL.face(int(near))[:2]
        place = HULL.points[a] + 0.4 * (HULL.points[b] - HULL.points[a])
        person.point_at(place, kind="edge", share=0.4 if a < b else 0.6)
        person.page.mouse.click(*person.pixel_of(place))
        person.wait_for_answers()
        person.make()
        looped = self.exported()
        person.press("Escape", "Escape", "d")
        expect(self.person.see("follow")).to_have_count(1)
        person.press("x")
        self.choose("strokes-do", "thin: edges are removed")
        # What makes no edges is asked nothing about them.
        for setting in ("follow", "finish", "hard-above"):
            expect(self.person.see(setting)).to_have_count(0)
        person.page.get_by_label("whole loops").check()
        person.wait_for_answers()
        # Across the new edge in the face that was looked for.
        new = looped.points[HULL.vertex_count :]
        here = np.argmin(np.linalg.norm(new - place, axis=1))
        beside = np.argsort(np.linalg.norm(new - new[here], axis=1))[1]
        middle, way = (new[here] + new[beside]) / 2, HULL.points[b] - HULL.points[a]
        self.draw(self.over(middle - 0.3 * way, middle + 0.25 * way, count=6))
        expect(person.see("plan-items").locator("li")).to_have_count(1)
        person.make()
        after = self.exported()
        self.assertEqual(after.face_count, HULL.face_count)
        np.testing.assert_allclose(after.points, HULL.points, atol=1e-9)

    def test_lines_are_ruled_over_the_picked_faces_at_an_angle(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("u")
        person.page.mouse.click(*person.pixel_of(on_edge(8, 9, 0.4)))
        person.wait_for_answers()
        rings = person.see("ruled-stop")
        expect(rings).to_have_count(3)
        shares = sorted(float(ring.get_attribute("data-share") or 0) for ring in rings.all())
        self.assertEqual(shares, [0.25, 0.5, 0.75])
        self.choose("ruled-towards", "at an angle")
        person.see("ruled-angle").fill("30")
        person.see("ruled-angle").press("Enter")
        person.wait_for_answers()
        # A ring that is clicked leaves its line out, and takes it again.
        box = rings.nth(1).bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        person.page.mouse.click(x, y)
        expect(person.page.locator("[data-testid=ruled-stop][data-wanted=false]")).to_have_count(1)
        person.page.get_by_role("button", name="All lines").click()
        expect(person.page.locator("[data-testid=ruled-stop][data-wanted=true]")).to_have_count(3)
        person.wait_for_answers()
        person.make()
        new = self.fresh(PLATE)
        base = PLATE.points[9] - PLATE.points[8]
        for share in (0.25, 0.5, 0.75):
            start = on_edge(8, 9, share)
            away = new - start
            size = np.linalg.norm(away, axis=1)
            there = size > 1e-9
            along = np.abs(away @ base)[there] / (size[there] * np.linalg.norm(base))
            angle = np.degrees(np.arccos(np.minimum(along, 1.0)))
            self.assertLess(np.abs(angle - 30).min(), 1e-6, share)

    def test_a_line_leaves_a_corner_at_forty_five_degrees(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("u")
        person.page.mouse.click(*person.pixel_of(on_edge(8, 9, 0.2)))
        person.wait_for_answers()
        self.choose("ruled-towards", "at 45°, off the foot")
        self.choose("ruled-by", "at places")
        person.see("ruled-list").fill("0%")
        person.see("ruled-list").press("Enter")
        person.wait_for_answers()
        expect(person.see("ruled-stop")).to_have_count(1)
        person.make()
        expect(person.see("steps")).to_contain_text("Ruled lines, at 0 % at 45°")
        new, base = self.fresh(PLATE), PLATE.points[9] - PLATE.points[8]
        away = new - PLATE.points[8]
        slope = np.abs(away @ base) / (np.linalg.norm(away, axis=1) * np.linalg.norm(base))
        self.assertLess(np.abs(slope - np.sqrt(0.5)).min(), 1e-9)

    def test_a_seam_joins_two_points_by_the_shortest_way(self) -> None:
        person = self.person
        person.open_part("Deck plate").take_view("t").press("m")
        for place in (on_edge(8, 9, 0.5), on_edge(12, 13, 0.3)):
            person.page.mouse.click(*person.pixel_of(place))
            person.wait_for_answers()
        expect(person.see("plan-items").locator("li")).to_have_count(2)
        told = person.see("seam-length").inner_text()
        # Over the bevel, the flat top and the bevel again: these unfold into one plane.
        rise = float(np.hypot(3.0, np.linalg.norm(PLATE.points[[8, 0]], axis=1) @ [1, -1]))
        far = float(np.linalg.norm(on_edge(8, 9, 0.5) - on_edge(12, 13, 0.3)))
        self.assertGreater(float(told.split()[0]), far)
        self.assertLess(float(told.split()[0]), far + rise)
        person.press("x")
        expect(person.see("not-at-default")).to_contain_text("straight")
        person.press("Backspace")
        expect(person.see("plan-items")).to_have_count(0)
        person.press("Shift+Backspace")
        expect(person.see("plan-items").locator("li")).to_have_count(2)
        person.wait_for_answers()
        person.make()
        self.assertEqual(len(self.fresh(PLATE)), 4)
        expect(person.see("steps")).to_contain_text("Seam, straight, 2 points")
