"""The careless, the impatient and the unlucky: late answers, quick keys, ways out of a plan, a service or a picture
that fails."""

from __future__ import annotations

import re
import time

import numpy as np
from playwright.sync_api import Route, expect

from cutcore.shapes.box import box
from tests.browser.deck import PLATE, on_edge
from tests.browser.person import COUNTER
from tests.browser.workshop_case import WorkshopCase
from workshop.models import Part, Project
from workshop.services.parts import add_part


class Plate(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.open_part("Deck plate").take_view("t")

    def plan_a_loop(self) -> None:
        self.person.press("e")
        x, y = self.person.pixel_of(on_edge(2, 3, 0.4))
        self.person.page.mouse.click(x, y)
        expect(self.person.see("planned-mark")).to_have_count(1)
        expect(self.person.see("plan-adds")).to_be_visible()

    def slice_by_api(self, height: float) -> None:
        """Make a slice behind the page's back, and show the part with it."""
        part = Part.objects.get(name="Deck plate")
        step = {"tool": "slice", "plane": {"point": [0, height, 0], "normal": [0, 1, 0]}}
        ask = """([part, body]) => fetch(`/api/parts/${part}/steps`, {method: "POST", headers: {
            "Content-Type": "application/json",
            "X-CSRFToken": document.cookie.match(/csrftoken=([^;]+)/)[1]}, body: JSON.stringify(body)})"""
        self.person.page.evaluate(ask, [part.pk, {"revision": part.revision, "step": step}])


class Answers(Plate):
    def test_a_click_plants_what_lies_under_it_however_late_the_last_mark_came(self) -> None:
        person = self.person.press("l")
        person.point_at(on_edge(2, 3, 0.3), kind="edge")
        x, y = person.pixel_of(on_edge(6, 7, 0.8))
        u, v = person.pixel_of(on_edge(2, 3, 0.2))
        with person.held("**/aim"):
            person.page.mouse.move(x, y)
            person.page.mouse.click(x, y)
            person.page.mouse.click(u, v)
        expect(person.see("plan-items").locator("li")).to_have_count(2)
        person.make()
        new = self.exported().points[PLATE.vertex_count :]
        for place in (on_edge(6, 7, 0.8), on_edge(2, 3, 0.2)):
            self.assertLess(np.linalg.norm(new - place, axis=1).min(), 1e-6)

    def test_enter_right_after_a_click_makes_the_loop(self) -> None:
        person = self.person.press("e")
        x, y = person.pixel_of(on_edge(2, 3, 0.4))
        with person.held("**/aim/loop"):
            person.page.mouse.click(x, y)
            person.press("Enter")
        expect(person.see("steps").locator("li")).to_have_count(1)

    def test_a_cut_that_is_made_late_does_not_swap_the_part(self) -> None:
        self.plan_a_loop()
        person = self.person
        with person.held("**/steps?*"):
            person.press("Enter")
            person.take_part("Lantern housing")
            before = person.see("canvas").get_attribute("data-snapshot")
        person.wait_for_answers()
        self.assertEqual(Part.objects.get(name="Deck plate").revision, 2)
        self.assertEqual(person.see("canvas").get_attribute("data-snapshot"), before)
        expect(person.see("steps").locator("li")).to_have_count(0)

    def test_a_late_pick_lands_on_no_other_part(self) -> None:
        person = self.person
        x, y = person.pixel_of([0, 8, 0])
        with person.held("**/pick"):
            person.page.mouse.click(x, y)
            person.take_part("Lantern housing")
        person.wait_for_answers()
        expect(person.see("pick-count")).to_have_text(re.compile("^0 faces"))

    def test_quick_undos_are_all_carried_out(self) -> None:
        for height in (0.5, 1.5, 2.5, 3.5, 4.5):
            self.slice_by_api(height)
        person = self.person
        person.page.reload()
        person.wait_for_rest()
        expect(person.see("steps").locator("li[data-applied=true]")).to_have_count(5)
        with person.held("**/undo"):
            person.press(*["Control+z"] * 5)
        expect(person.see("steps").locator("li[data-applied=false]")).to_have_count(5)
        # A step that is clicked is gone to.
        person.see("steps").get_by_role("button", name="3.").click()
        expect(person.see("steps").locator("li[data-applied=true]")).to_have_count(3)

    def test_of_quick_undos_those_behind_a_refused_one_are_dropped(self) -> None:
        for height in (0.5, 1.5, 2.5):
            self.slice_by_api(height)
        person = self.person
        person.page.reload()
        person.wait_for_rest()
        expect(person.see("steps").locator("li[data-applied=true]")).to_have_count(3)
        # Meanwhile another page takes the part a step further.
        self.slice_by_api(3.5)
        asked: list[str] = []
        person.page.on("request", lambda one: asked.append(one.url))
        with person.held("**/undo"):
            person.press(*["Control+z"] * 3)
        expect(person.see("steps").locator("li[data-applied=true]")).to_have_count(4)
        expect(person.page.get_by_text("The part was changed elsewhere")).to_have_count(1)
        self.assertEqual(len([url for url in asked if url.endswith("/undo")]), 1)


class Plans(Plate):
    def test_escape_that_closes_a_list_leaves_the_plan(self) -> None:
        self.plan_a_loop()
        person = self.person
        person.see("loop-measure").click()
        expect(person.page.get_by_role("listbox")).to_be_visible()
        person.press("Escape")
        expect(person.page.get_by_role("listbox")).to_have_count(0)
        expect(person.see("planned-mark")).to_have_count(1)
        person.press("Escape")
        expect(person.see("planned-mark")).to_have_count(0)

    def test_undo_goes_through_the_plan_and_then_through_the_steps(self) -> None:
        self.slice_by_api(2.0)
        person = self.person
        person.page.reload()
        person.wait_for_rest()
        self.plan_a_loop()
        for share in ("60%", "70%"):
            person.see("loop-at").fill(share)
            person.see("loop-at").press("Enter")
            expect(person.see("loop-at")).to_have_value(share.replace("%", " %"))
        undo = person.page.get_by_role("button", name="Undo the last change of the plan")
        undo.click()
        expect(person.see("loop-at")).to_have_value("60 %")
        person.press("Control+Shift+z")
        expect(person.see("loop-at")).to_have_value("70 %")
        for _ in range(3):
            person.press("Control+z")
        expect(person.see("planned-mark")).to_have_count(0)
        expect(person.page.get_by_role("button", name=re.compile("^Undo: Slice"))).to_be_enabled()
        person.press("Control+z")
        expect(person.see("steps").locator("li[data-applied=false]")).to_have_count(1)

    def test_a_plan_is_kept_while_another_tool_is_in_hand(self) -> None:
        self.plan_a_loop()
        person = self.person
        share = person.see("loop-at").input_value()
        person.press("g")
        expect(person.see("planned-mark")).to_have_count(0)
        person.press("e")
        expect(person.see("planned-mark")).to_have_count(1)
        self.assertEqual(person.see("loop-at").input_value(), share)

    def test_the_browsers_way_back_asks_once(self) -> None:
        person = self.person
        person.open("/")
        person.see("project").first.get_by_text("Deck plate").click()
        person.wait_for_rest().take_view("t")
        self.plan_a_loop()
        address = person.page.url
        person.page.go_back()
        person.page.get_by_role("button", name="Stay").click()
        self.assertEqual(person.page.url, address)
        expect(person.see("planned-mark")).to_have_count(1)
        person.page.go_back()
        person.page.get_by_role("button", name="Discard and go on").click()
        expect(person.see("planned-mark")).to_have_count(0)
        self.assertNotEqual(person.page.url, address)


class Failures(WorkshopCase):
    def test_a_mesh_that_can_not_be_fetched_is_said_and_fetched_when_the_service_is_back(
        self,
    ) -> None:
        person = self.person
        person.page.route("**/api/meshes/**", lambda route: route.abort())
        part = Part.objects.get(name="Deck plate")
        person.open(f"/projects/{part.project_id}/parts/{part.pk}")
        expect(person.see("no-mesh")).to_contain_text("does not answer")
        person.page.unroute("**/api/meshes/**")
        person.wait_for_rest()
        expect(person.see("no-mesh")).to_have_count(0)

    def test_a_part_opens_by_itself_when_the_service_is_back(self) -> None:
        person = self.person
        part = Part.objects.get(name="Deck plate")
        asked: list[float] = []

        def away(route: Route) -> None:
            asked.append(time.monotonic())
            route.abort()

        person.page.route(f"**/api/parts/{part.pk}", away)
        person.open(f"/projects/{part.project_id}/parts/{part.pk}")
        expect(person.see("part-trouble")).to_contain_text("does not answer")
        # Less and less often. What else the page asked, and is answered late, lets it begin anew.
        person.wait_until(
            lambda _: len(asked) > 2 and asked[-1] - asked[-2] > 1.5 * (asked[-2] - asked[-3]),
            at_rest=False,
        )
        person.page.unroute(f"**/api/parts/{part.pk}")
        person.wait_for_rest()
        expect(person.see("part-trouble")).to_have_count(0)

    def test_without_3d_pictures_the_page_says_so_and_still_lists_what_there_is(self) -> None:
        person = self.someone()
        person.page.add_init_script(
            """const plain = HTMLCanvasElement.prototype.getContext;
            HTMLCanvasElement.prototype.getContext = function (kind, ...more) {
                return kind.startsWith('webgl') ? null : plain.call(this, kind, ...more);
            };"""
        )
        part = Part.objects.get(name="Deck plate")
        person.open(f"/projects/{part.project_id}/parts/{part.pk}")
        expect(person.see("blind")).to_contain_text("WebGL")
        expect(person.see("steps")).to_be_visible()
        self.assertIn(b"\nf ", person.export())

    def test_a_lost_picture_is_drawn_again(self) -> None:
        person = self.person.open_part("Deck plate")
        lost = """async () => {
            const context = document.querySelector('[data-testid=canvas]').getContext('webgl2');
            const extension = context.getExtension('WEBGL_lose_context');
            const later = (ms) => new Promise((done) => setTimeout(done, ms));
            extension.loseContext();
            await later(200);
            extension.restoreContext();
            await later(600);
            return context.isContextLost();
        }"""
        self.assertFalse(person.page.evaluate(lost))
        person.take_view("t").press("e")
        person.point_at(on_edge(2, 3, 0.4), kind="edge")


class Room(WorkshopCase):
    def test_a_move_of_the_pointer_draws_little_anew(self) -> None:
        person = self.someone()
        person.page.add_init_script(COUNTER)
        person.open_part("Deck plate").take_view("t")
        x, y = person.pixel_of(on_edge(2, 3, 0.5))
        for key in "plsoge":
            person.press(key)
            person.page.mouse.move(x - 40, y)
            person.wait_for_answers().page.evaluate("window.drawnAnew = 0")
            for k in range(5):
                person.page.mouse.move(x - 36 + 6 * k, y)
                person.wait_for_answers()
            self.assertLess(person.page.evaluate("window.drawnAnew") / 5, 30, key)
        # The last tool did aim.
        expect(person.see("mark")).to_be_visible()

    def test_two_hundred_parts_and_long_names_fit(self) -> None:
        project = Project.objects.get()
        for k in range(200):
            add_part(
                project,
                f"Part number {k} of a very long name that never seems to end",
                box(1, 1, 1),
            )
        person = self.person.open_part("Deck plate")
        person.page.set_viewport_size({"width": 1024, "height": 700})
        self.assertLessEqual(person.page.evaluate("document.documentElement.scrollWidth"), 1024)
        outside = """() => [...document.querySelectorAll('[data-testid=workshop] > header button, nav[aria-label=Bench] button')]
            .filter((e) => !e.closest('nav > div')).map((e) => e.getBoundingClientRect())
            .filter((b) => b.left < 0 || b.right > innerWidth || b.top < 0 || b.bottom > innerHeight).length"""
        self.assertEqual(person.page.evaluate(outside), 0)
        person.page.get_by_role("button", name="All parts: find, order, show").click()
        person.page.get_by_placeholder("Type a part's name").fill("number 137")
        person.press("Enter")
        expect(
            person.page.get_by_role("button", name=re.compile("Part number 137 "))
        ).to_have_attribute("aria-current", "true")

    def test_pictures_are_given_back(self) -> None:
        person = self.person
        told: list[str] = []
        person.page.on("console", lambda message: told.append(message.text))
        person.open_part("Deck plate")
        for turn in range(24):
            person.take_part(("Lantern housing", "Deck plate")[turn % 2])
        self.assertEqual([words for words in told if "WebGL contexts" in words], [])

    def test_a_part_is_renamed_and_deleted_and_brought_back(self) -> None:
        person = self.person.open_part("Deck plate")
        menu = person.page.get_by_role("button", name="Part: export")
        menu.click()
        person.page.get_by_role("menuitem", name="Rename the part").click()
        person.page.get_by_label("Name", exact=True).fill("Foredeck")
        person.press("Enter")
        expect(person.page.get_by_role("button", name="Foredeck", exact=True)).to_be_visible()
        menu.click()
        person.page.get_by_role("menuitem", name="Delete the part").click()
        expect(person.page.get_by_role("button", name="Foredeck", exact=True)).to_have_count(0)
        person.page.get_by_role("button", name="Bring it back").click()
        expect(person.page.get_by_role("button", name="Foredeck", exact=True)).to_be_visible()
