"""The pick moved where it is: by its handles, along its edges, evened out, cut off; compared on the
export."""

from __future__ import annotations

from typing import Any

import numpy as np
from playwright.sync_api import expect

from cutcore import Mesh, apply_step, parse_step
from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import lantern_housing

HOUSING = lantern_housing()
RINGS = HOUSING.points[1:-1].reshape(-1, 28, 3)
# The side of the housing that looks at the eye.
FRONT = max(range(28), key=lambda k: RINGS[9, k, 2])


def vertex(ring: int, side: int) -> int:
    return 1 + ring * 28 + side % 28


class Handles(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.open_part("Lantern housing").wait_for_answers().press("p")

    def pick(self, kind: str, *places: Any) -> None:
        person = self.person
        person.see("pick-kind").click()
        person.page.get_by_role("option", name=kind, exact=True).click()
        for k, place in enumerate(places):
            person.page.mouse.click(*person.pixel_of(place), delay=10)
            # A pick that an undo brought back looks the same: what is answered to this one counts.
            person.wait_for_answers()
            expect(person.see("picked")).to_have_attribute(f"data-{kind}", str(k + 1))
            person.page.keyboard.down("Shift")
        person.page.keyboard.up("Shift")

    def begin(self, work: str) -> None:
        self.person.see(f"work-{work}").click()
        self.person.wait_for_answers()

    def settle(self, field: str, text: str) -> None:
        self.person.see(field).fill(text)
        self.person.see(field).press("Enter")
        self.person.wait_for_answers()

    def pull(self, handle: str, across: float, down: float, *, part: str = "circle") -> None:
        """Take hold of a handle and pull it by pixels."""
        page = self.person.page
        box = page.locator(f"[data-testid={handle}] {part}").first.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + across / 2, y + down / 2)
        page.mouse.move(x + across, y + down)
        page.mouse.up()
        self.person.wait_for_answers()

    def made(self) -> Mesh:
        self.person.make()
        return self.exported()

    def assert_same(self, made: Mesh, step: dict[str, Any]) -> None:
        """Raise AssertionError unless a mesh is what a step makes of the housing."""
        wanted = apply_step(HOUSING, parse_step(step)).mesh
        self.assertEqual(made.corners.tolist(), wanted.corners.tolist())
        np.testing.assert_allclose(made.points, wanted.points, atol=1e-9)

    def test_a_vertex_pulled_by_its_handles_and_put_where_another_is(self) -> None:
        person, at = self.person, vertex(9, FRONT)
        self.pick("vertices", HOUSING.points[at])
        self.begin("move")
        self.pull("pick-shift-y", 0, -40)
        by = float(person.see("move-by-y").input_value())
        self.assertGreater(by, 1.0)
        expect(person.see("move-by-x")).to_have_value("0")
        # Digits go along the handle that was held last.
        person.page.mouse.move(200, 300)
        person.page.keyboard.type("7")
        person.press("Enter").wait_for_answers()
        expect(person.see("move-by-y")).to_have_value("7")
        by = 7.0
        self.settle("falloff-rings", "2")
        made = self.made()
        self.assert_same(
            made,
            {
                "tool": "move",
                "vertices": [at],
                "move": {"way": "shift", "by": [0, by, 0]},
                "falloff": {"rings": 2},
            },
        )
        person.press("Control+z").wait_for_answers()
        # Onto a vertex that lies there, by the handle of the view's plane.
        self.pick("vertices", HOUSING.points[at])
        self.begin("move")
        goal = HOUSING.points[vertex(9, FRONT + 2)]
        page = person.page
        page.mouse.move(*person.pixel_of(HOUSING.points[at]))
        page.mouse.down()
        page.keyboard.down("Control")
        page.mouse.move(*person.pixel_of(goal))
        expect(person.see("settled-on")).to_contain_text("onto vertex")
        page.mouse.up()
        page.keyboard.up("Control")
        person.wait_for_answers()
        made = self.made()
        np.testing.assert_allclose(made.points[at], goal, atol=1e-9)

    def test_typed_mirrored_turned_and_taken_back(self) -> None:
        person = self.person
        side = next(k for k in range(28) if RINGS[9, k, 0] > 5 and RINGS[9, k, 2] > 5)
        at = vertex(9, side)
        self.pick("vertices", HOUSING.points[at])
        self.begin("move")
        self.settle("move-by-x", "3mm")
        person.see("pick-mirror").click()
        person.page.get_by_role("option", name="across x", exact=True).click()
        person.wait_for_answers()
        made = self.made()
        places = {tuple(p) for p in (made.points.round(9) + 0.0).tolist()}
        self.assertEqual(places, {(-x + 0.0, y, z) for x, y, z in places})
        self.assertEqual(round(float(made.points[at, 0] - HOUSING.points[at, 0]), 9), 3.0)
        person.press("Control+z").wait_for_answers()
        np.testing.assert_allclose(self.exported().points, HOUSING.points, atol=1e-9)
        # Digits set the angle about the axis that was chosen.
        self.pick("faces", 0.25 * (RINGS[9:11, FRONT : FRONT + 2].sum(axis=(0, 1))))
        person.see("pick-mirror").wait_for(state="detached")
        self.begin("move")
        person.see("pick-mirror").click()
        person.page.get_by_role("option", name="off", exact=True).click()
        person.see("move-way-turn").click()
        person.wait_for_answers()
        self.settle("turn-degrees", "20")
        made = self.made()
        moved = np.flatnonzero(np.abs(made.points - HOUSING.points).max(axis=1) > 1e-9)
        middle = HOUSING.points[moved].mean(axis=0)
        radius = [np.hypot(*(of.points[moved] - middle)[:, [0, 2]].T) for of in (HOUSING, made)]
        self.assertEqual(len(moved), 4)
        np.testing.assert_allclose(radius[0], radius[1], atol=1e-9)
        np.testing.assert_allclose(made.points[moved, 1], HOUSING.points[moved, 1], atol=1e-9)

    def test_an_edge_turned_about_another_place_and_scaled_by_a_handle(self) -> None:
        person = self.person
        level = sorted([vertex(9, FRONT), vertex(9, FRONT + 1)])
        self.pick("edges", HOUSING.points[level].mean(axis=0))
        self.begin("move")
        person.see("move-way-turn").click()
        person.see("turn-about").click()
        person.page.get_by_role("option", name="its edge", exact=True).click()
        self.settle("move-pivot-y", "0")
        self.settle("turn-degrees", "10")
        made = self.made()
        a, b = HOUSING.points[level]
        about = 0.5 * (a + b) * [1, 0, 1]
        axis = (b - a) / np.linalg.norm(b - a)
        turn = {"way": "turn", "about": about.tolist(), "axis": axis.tolist(), "degrees": 10}
        self.assert_same(made, {"tool": "move", "edges": [level], "move": turn})
        person.press("Control+z").wait_for_answers()
        self.pick("edges", HOUSING.points[level].mean(axis=0))
        self.begin("move")
        person.see("move-way-scale").click()
        person.wait_for_answers()
        self.pull("pick-scale-y", 0, -40, part="rect")
        factor = float(person.see("move-factor-y").input_value().split()[0])
        self.assertGreater(factor, 1.0)
        expect(person.see("move-factor-x")).to_have_value("1 ×")
        middle = (0.5 * (a + b)).tolist()
        scale = {"way": "scale", "about": middle, "factors": [1, factor, 1]}
        # An edge that lies level has nothing to scale along y: told, and not made.
        expect(person.see("note")).to_be_visible()
        self.pull("pick-scale-all", 40, 0)
        factors = [float(person.see(f"move-factor-{k}").input_value().split()[0]) for k in "xyz"]
        self.assertGreater(min(factors[0], factors[2]), 1.0)
        made = self.made()
        self.assert_same(
            made, {"tool": "move", "edges": [level], "move": {**scale, "factors": factors}}
        )

    def test_a_vertex_is_cut_off(self) -> None:
        at = vertex(9, FRONT)
        self.pick("vertices", HOUSING.points[at])
        self.begin("bevel")
        self.settle("bevel-width", "1mm")
        self.assert_same(self.made(), {"tool": "bevel", "vertices": [at], "width": 1.0})

    def test_a_loop_slides_by_its_handle_and_by_a_number(self) -> None:
        person = self.person
        level = [vertex(9, FRONT), vertex(9, FRONT + 1)]
        self.pick("edges", HOUSING.points[level].mean(axis=0))
        self.begin("slide")
        expect(person.see("slide-rails")).to_have_attribute("data-count", "2")
        self.pull("slide-handle", 0, -14, part="rect")
        expect(person.see("slide-by")).not_to_have_value("0 %")
        self.settle("slide-by", "-25 %")
        made = self.made()
        self.assert_same(made, {"tool": "slide", "edges": [level], "by": -0.25})
        a, b = (made.points[v] for v in level)
        self.assertNotEqual(a[1], HOUSING.points[level[0], 1])
        self.assertAlmostEqual(a[1], b[1], places=9)

    def test_edges_bevelled_round_and_told_where_there_is_no_room(self) -> None:
        person = self.person
        level = sorted([vertex(9, FRONT), vertex(9, FRONT + 1)])
        self.pick("edges", HOUSING.points[level].mean(axis=0))
        person.see("pick").get_by_role("button", name="loop", exact=True).click()
        expect(person.see("picked")).to_have_attribute("data-edges", "28")
        self.begin("bevel")
        self.settle("bevel-rounds", "3")
        self.settle("bevel-width", "400mm")
        expect(person.see("note")).to_contain_text("There is room for a width of")
        self.settle("bevel-width", "1.5mm")
        expect(person.see("note")).to_have_count(0)
        loop = [sorted([vertex(9, k), vertex(9, k + 1)]) for k in range(28)]
        made = self.made()
        self.assert_same(made, {"tool": "bevel", "edges": sorted(loop), "width": 1.5, "rounds": 3})

    def test_a_pick_relaxed_stays_on_the_surface(self) -> None:
        faces = 0.25 * (RINGS[9:11, FRONT : FRONT + 2].sum(axis=(0, 1)))
        self.pick("faces", faces)
        self.person.see("pick").get_by_role("button", name="grow", exact=True).click()
        self.begin("relax")
        self.settle("relax-rounds", "3")
        made = self.made()
        moved = np.flatnonzero(np.abs(made.points - HOUSING.points).max(axis=1) > 1e-9)
        self.assertGreater(len(moved), 4)
        self.assertEqual(made.corners.tolist(), HOUSING.corners.tolist())

    def test_a_slice_follows_the_form_and_says_how_far(self) -> None:
        person = self.person.press("s")
        person.see("plane-by").click()
        person.page.get_by_role("option", name="square to x").click()
        person.wait_for_answers()
        self.settle("plane-offset", "7.3")
        self.settle("follow", "100%")
        self.assertGreater(float(person.see("lifted").get_attribute("data-most") or 0), 0.1)
        wanted = {"tool": "slice", "plane": {"point": [7.3, 0, 0], "normal": [1, 0, 0]}}
        made = self.made()
        self.assert_same(made, {**wanted, "follow": 1.0})
        # The rings are circles again.
        new = made.points[HOUSING.vertex_count :]
        np.testing.assert_allclose(new[:, 0], 7.3, atol=1e-9)
        ring = RINGS[9]
        on = new[np.abs(new[:, 1] - ring[0, 1]) < 1e-9]
        reach = np.hypot(ring[0, 0], ring[0, 2])
        np.testing.assert_allclose(np.hypot(on[:, 0], on[:, 2]), reach, rtol=1e-9)

    def test_what_is_answered_late_moves_nothing_else(self) -> None:
        person, first, second = self.person, vertex(9, FRONT), vertex(6, FRONT)
        self.pick("vertices", HOUSING.points[first])
        self.begin("move")
        page = person.page
        box = page.locator("[data-testid=pick-shift-y] circle").first.bounding_box()
        assert box is not None
        with person.held("**/aim/handle"):
            page.mouse.move(box["x"] + 8, box["y"] + 8)
            page.mouse.down()
            page.mouse.move(box["x"] + 8, box["y"] - 40)
            page.mouse.up()
            # Before that is answered something else is picked.
            page.mouse.click(*person.pixel_of(HOUSING.points[second]))
        person.wait_for_answers()
        expect(person.see("pick-handles")).to_have_count(0)
        self.begin("move")
        expect(person.see("move-by-y")).to_have_value("0")
        middle = person.see("pick-shift-view").locator("circle").first.bounding_box()
        assert middle is not None
        x, y = person.pixel_of(HOUSING.points[second])
        self.assertLess(abs(middle["x"] + middle["width"] / 2 - x), 2.0)
        self.assertLess(abs(middle["y"] + middle["height"] / 2 - y), 2.0)
        # Pressed and let go, a handle moves nothing.
        self.settle("move-by-y", "1.237")
        self.pull("pick-shift-x", 1, 0)
        expect(person.see("move-by-y")).to_have_value("1.237")
        expect(person.see("move-by-x")).to_have_value("0")
