# ruff: noqa: E501 - steps are written here as a file has them
"""Files of every format by hand, steps in words, and large parts."""

from __future__ import annotations

import json

import numpy as np
from django.test import tag
from playwright.sync_api import expect

from cutcore import apply_steps, parse_steps, read_part, write_part
from cutcore.shapes.box import box
from cutcore.shapes.torus import torus
from tests.browser.workshop_case import WorkshopCase
from tests.zoo import prism
from workshop.sample.skerry_light import deck_plate


class Files(WorkshopCase):
    def chip(self, name: str):
        return self.person.page.get_by_label("Parts").get_by_role("button", name=name, exact=True)

    def test_every_format_is_dropped_and_read(self) -> None:
        person = self.person.open_part("Deck plate")
        star = prism(4)
        for ending in ("ply", "glb", "stl"):
            person.drop(f"star {ending}.{ending}", write_part(f"x.{ending}", star))
            expect(self.chip(f"star {ending}")).to_have_attribute("aria-current", "true")
            person.wait_for_rest()
            mesh = self.exported()
            self.assertEqual(mesh.vertex_count, star.vertex_count)
            self.assertEqual(
                mesh.face_count, len(star.triangles.corners) if ending == "stl" else star.face_count
            )

    def test_a_file_dropped_on_the_projects_begins_one(self) -> None:
        person = self.person.open()
        person.page.wait_for_selector("[data-testid=picture]")
        person.drop("bollard.obj", write_part("x.obj", box(1, 2, 1)))
        expect(self.chip("bollard")).to_have_attribute("aria-current", "true")
        person.page.get_by_role("link", name="Wertome").click()
        expect(person.see("project")).to_have_count(2)
        person.drop("broken.obj", b"v 1 2")
        person.is_told("line 1: 3 numbers were expected")
        expect(person.see("project")).to_have_count(2)

    def test_what_reading_left_out_is_told(self) -> None:
        person = self.person.open_part("Deck plate")
        person.drop("half.obj", write_part("x.obj", box(1, 1, 1)) + b"f 1 2 99\n")
        person.is_told("was left out: vertex 99 is not there")

    def test_a_file_of_another_kind_is_refused_with_what_can_be_read(self) -> None:
        person = self.person.open_part("Deck plate")
        person.drop("notes.txt", b"hello")
        person.is_told("try .obj, .ply, .stl, .glb")

    @tag("drill")
    def test_a_large_part_is_drawn_and_answers(self) -> None:
        person = self.person.open_part("Deck plate")
        person.drop("ring.ply", write_part("x.ply", torus(60.0, 20.0, 160, 64)))
        expect(self.chip("ring")).to_have_attribute("aria-current", "true")
        person.wait_for_rest().press("l")
        expect(person.see("flow").locator("[data-flow=quads]")).to_contain_text("10 240")
        person.take_view("t")
        person.point_at_pixel(500, 130, kind="off").choose()
        person.point_at_pixel(505, 660, kind="off").choose()
        person.make()
        self.assertGreater(self.exported().face_count, 10_240 + 40)


class Steps(WorkshopCase):
    def make_by_api(self, step: dict[str, object]) -> None:
        """A step from elsewhere: what the interface says of it is what is looked at here."""
        person = self.person
        part = int(person.page.url.rsplit("/", 1)[1])
        person.page.evaluate(
            """async ([part, step]) => {
                const headers = {'X-CSRFToken': document.cookie.match(/csrftoken=([^;]+)/)[1], 'Content-Type': 'application/json'};
                const {revision} = await (await fetch(`/api/parts/${part}`)).json();
                const answer = await fetch(`/api/parts/${part}/steps`, {method: 'POST', headers, body: JSON.stringify({revision, step})});
                if (!answer.ok) throw new Error(await answer.text());
            }""",
            [part, step],
        )

    def test_steps_are_told_in_words_newest_first_and_walked_back(self) -> None:
        person = self.person.open_part("Deck plate")
        steps: list[tuple[dict[str, object], str]] = [
            ({"tool": "gauge", "axis": "x", "widths": [30.0, 40.0]}, "Gauge, 2 cuts on x"),
            ({"tool": "slice", "plane": {"point": [0, 2, 0], "normal": [0, 1, 0]}}, "Slice, kept both"),
            ({"tool": "outline", "curves": [{"points": [[-9, 20, -9], [9, 20, -9], [0, 20, 9]]}], "along": {"direction": [0, -1, 0]}}, "Outline, 1 curve"),
            ({"tool": "delete", "faces": [1, 2]}, "2 faces deleted"),
            ({"tool": "flip"}, "Faces flipped"),
        ]  # fmt: skip
        for step, _ in steps:
            self.make_by_api(step)
        person.page.reload()
        person.wait_for_rest()
        rows = person.see("steps").locator("li")
        expect(rows).to_have_count(len(steps))
        for k, (_, words) in enumerate(reversed(steps)):
            expect(rows.nth(k)).to_contain_text(words)
        for left in range(len(steps) - 1, -1, -1):
            person.press("Control+z")
            expect(person.see("steps").locator("li[data-applied=true]")).to_have_count(left)
        expect(rows.first).to_contain_text("undone")
        self.assertEqual(self.exported().face_count, 29)
        for done in range(1, len(steps) + 1):
            person.press("Control+y")
            expect(person.see("steps").locator("li[data-applied=true]")).to_have_count(done)

    def test_the_steps_of_a_part_are_a_steps_file(self) -> None:
        person = self.person.open_part("Deck plate")
        self.make_by_api({"tool": "slice", "plane": {"point": [0, 2, 0], "normal": [0, 1, 0]}})
        self.make_by_api({"tool": "gauge", "axis": "x", "widths": [30.0]})
        person.page.reload()
        person.wait_for_rest()
        part = person.page.url.rsplit("/", 1)[1]
        ask = "step => fetch(`/api/parts/${step}`).then((answer) => answer.json())"
        steps = [person.page.evaluate(ask, f"{part}/steps/{number}")["params"] for number in (1, 2)]
        replayed = apply_steps(
            deck_plate(), parse_steps(json.dumps({"wertome": 1, "steps": steps})).steps
        )
        mesh, _ = read_part("x.obj", person.export())
        self.assertTrue((replayed.mesh.points == mesh.points).all())


class Units(WorkshopCase):
    def test_a_file_in_inches_is_converted_and_that_is_said_and_remembered(self) -> None:
        person = self.person.open_part("Deck plate")
        person.drop("block.obj", write_part("x.obj", box(1, 2, 3)), unit="in")
        person.is_told("1 in in the file is 25.4 mm here")
        expect(person.page.get_by_role("button", name="block", exact=True)).to_have_attribute(
            "aria-current", "true"
        )
        block = self.exported(person.wait_for_rest())
        np.testing.assert_allclose(np.ptp(block.points, axis=0), [25.4, 50.8, 76.2])
        person.page.get_by_test_id("file").first.set_input_files(
            {
                "name": "other.obj",
                "mimeType": "model/obj",
                "buffer": write_part("x.obj", box(1, 1, 1)),
            }
        )
        expect(person.see("file-unit")).to_have_attribute("data-value", "in")
        person.press("Escape")
        expect(person.see("unit-question")).to_have_count(0)

    def test_a_project_in_another_unit_says_it_at_every_number_and_reads_all_of_them(self) -> None:
        person = self.person.open_part("Lantern housing").press("p")
        original = person.export()
        expect(person.see("size-y")).to_have_value("141.000 mm")
        person.see("unit").click()
        person.page.get_by_role("option", name="in", exact=True).click()
        person.is_told("The numbers stay as they are")
        expect(person.see("size-y")).to_have_value("141.000 in")
        self.assertEqual(person.export(), original)
        person.see("size-about").click()
        person.page.get_by_role("option", name="its low side").click()
        person.see("size-y").fill("(100 + 2*25.4mm) - 2.54cm")
        person.see("size-y").press("Enter")
        expect(person.see("size-y")).to_have_value("101.000 in")
        person.make()
        self.assertEqual(float(self.exported().points[:, 1].max()), 101.0)
