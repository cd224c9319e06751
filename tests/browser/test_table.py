"""Parts together in the browser: the table and its list, places, stencils, holes, shards, joining, and a
whole project out and in."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import expect

from cutcore import Mesh, problems, read_part
from cutcore.queries.bodies import is_closed
from tests.browser.person import Person
from tests.browser.workshop_case import WorkshopCase
from tests.guarantees import volume_of
from workshop.models import Part
from workshop.sample.skerry_light import deck_plate, lantern_housing

HOUSING = lantern_housing()
PLATE = deck_plate()
NAMES = ["Lantern housing", "Deck plate", "Float hull"]


class TableCase(WorkshopCase):
    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option, exact=True).click()

    def settle(self, field: str, text: str) -> None:
        self.person.see(field).fill(text)
        self.person.see(field).press("Enter")

    def row(self, name: str, person: Person | None = None) -> object:
        return (person or self.person).page.locator(f"[data-part='{name}']")

    def listed(self, person: Person | None = None) -> list[str]:
        rows = (person or self.person).see("table-list").locator("[data-part]")
        return [row.get_attribute("data-part") or "" for row in rows.all()]

    def tick(self, *names: str) -> None:
        for name in names:
            self.person.page.get_by_label(f"Tick {name}", exact=True).check()

    def mesh_of(self, name: str) -> Mesh:
        part = Part.objects.get(name=name, deleted=None)
        content = self.person.page.request.get(
            f"{self.live_server_url}/api/parts/{part.pk}/export.glb"
        ).body()
        return read_part("part.glb", content)[0]


class Table(TableCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.open_part("Lantern housing").press("t")
        expect(self.person.see("table-list").locator("[data-part]")).to_have_count(3)
        expect(self.person.see("canvas")).to_have_attribute("data-others", "2 of 2")

    def test_parts_are_hidden_and_another_is_taken_in_hand_where_it_is_seen(self) -> None:
        person = self.person
        person.page.get_by_label("Hide Float hull").click()
        expect(person.see("canvas")).to_have_attribute("data-others", "1 of 1")
        person.see("only-this").click()
        expect(person.see("canvas")).to_have_attribute("data-others", "0 of 0")
        person.see("show-all").click()
        expect(person.see("canvas")).to_have_attribute("data-others", "2 of 2")
        person.press("Shift+Home").wait_for_rest()
        before = person.pixel_of([0.0, 141.0, 0.0])
        # The bow of the hull, as it stands before the housing, which is 61 above it.
        x, y = person.pixel_of([0.0, 40.0 - 61.0, 150.0])
        person.page.mouse.dblclick(x, y)
        chip = person.page.get_by_role("button", name="Float hull", exact=True)
        expect(chip).to_have_attribute("aria-current", "true")
        person.wait_for_rest()
        # Nothing on the screen has moved: the tip of the housing is where it was.
        after = person.pixel_of([0.0, 141.0 + 61.0, 0.0])
        np.testing.assert_allclose(after, before, atol=0.6)

    def test_a_place_is_typed_dragged_made_its_own_and_undone(self) -> None:
        person = self.person
        self.settle("place-at-x", "5cm")
        expect(person.see("place-at-x")).to_have_value("50")
        handle = person.see("handle-move-y").bounding_box()
        assert handle is not None
        x, y = handle["x"] + handle["width"] / 2, handle["y"] + 9
        person.page.mouse.move(x, y)
        person.page.mouse.down()
        person.page.mouse.move(x, y - 40, steps=4)
        person.page.mouse.up()
        expect(person.see("place-at-y")).not_to_have_value("61")
        risen = float(person.see("place-at-y").input_value())
        self.assertGreater(risen, 61)
        self.assertEqual(risen, round(risen))
        self.settle("place-turned-y", "90")
        expect(person.see("place-turned-y")).to_have_value("90°")
        person.see("place-own").click()
        expect(person.see("place-at-y")).to_have_value("0")
        expect(person.see("steps").locator("li")).to_have_count(1)
        own = self.exported()
        np.testing.assert_allclose(own.box.mean(axis=0), [50, risen + 70.5, 0], atol=1e-9)
        person.press("Control+z")
        expect(person.see("place-at-y")).to_have_value(f"{risen:g}")
        undo = person.page.get_by_role("button", name="Undo: Lantern housing placed")
        for wanted in ("0°", "0°"):
            undo.click()
            expect(person.see("place-turned-y")).to_have_value(wanted)
        expect(person.see("place-at-y")).to_have_value("61")

    def test_parts_are_copied_joined_and_given_back(self) -> None:
        person = self.person
        self.tick("Lantern housing", "Deck plate")
        person.see("join").click()
        person.see("join-sheet").get_by_label("weld where they touch").check()
        person.page.get_by_role("button", name="Join them").click()
        person.is_told("2 parts are one now")
        expect(person.see("table-list").locator("[data-part]")).to_have_count(2)
        person.wait_for_rest()
        whole = self.exported()
        self.assertEqual(whole.face_count, HOUSING.face_count + PLATE.face_count)
        self.assertAlmostEqual(float(whole.box[1, 1]), 61 + 141, places=9)
        person.page.get_by_role("button", name="Undo: 2 parts joined").click()
        expect(person.see("table-list").locator("[data-part]")).to_have_count(3)
        self.assertEqual(self.listed(), NAMES)

    def test_an_array_of_copies_and_a_mirrored_one(self) -> None:
        person = self.person
        person.see("copies").click()
        self.choose("copies-way", "round an axis")
        self.settle("copies-count", "3")
        person.page.get_by_role("button", name="Make the copies").click()
        expect(person.see("table-list").locator("[data-part]")).to_have_count(6)
        person.see("copies").click()
        self.choose("copies-way", "mirrored")
        self.settle("copies-offset", "100")
        person.page.get_by_role("button", name="Make the copies").click()
        expect(self.row("Lantern housing, mirrored")).to_be_visible()  # type: ignore[arg-type]
        self.assertAlmostEqual(
            volume_of(self.mesh_of("Lantern housing, mirrored")) / volume_of(HOUSING), 1.0, places=9
        )

    def test_what_is_answered_late_does_not_move_another_part(self) -> None:
        person = self.person
        with person.held("**/places"):
            self.settle("place-at-x", "30")
            person.page.get_by_role("button", name="Deck plate", exact=True).click()
            person.wait_for_rest()
        person.wait_for_answers()
        expect(person.see("place-at-x")).to_have_value("0")
        places = {part.name: part.placement for part in Part.objects.all()}
        self.assertEqual(places["Lantern housing"]["move"], [30.0, 61.0, 0.0])
        self.assertEqual(places["Deck plate"]["move"], [0.0, 53.0, 0.0])


class TakenOut(TableCase):
    def test_a_hole_through_the_housing_wall_is_closed_and_its_volume_told(self) -> None:
        person = self.person.open_part("Lantern housing").take_view("f").press("o")
        person.see("outlines-in-hand").get_by_role("button", name="Vent slot", exact=True).click()
        self.choose("sheet-facing", "the view")
        person.page.mouse.click(*person.pixel_of([0.0, 82.0, 33.0]))
        self.choose("outline-takes", "goes: a hole right through")
        told = person.see("taken-out").inner_text()
        person.make()
        mesh = self.exported()
        self.assertTrue(is_closed(mesh))
        self.assertEqual(problems(mesh), [])
        gone = volume_of(HOUSING) - volume_of(mesh)
        self.assertAlmostEqual(float(told.split()[0]) / gone, 1.0, places=5)
        person.press("Control+z")
        expect(person.see("steps").locator("li[data-applied=false]")).to_have_count(1)

    def test_a_stencil_of_another_part_s_silhouette_is_cut_at_once(self) -> None:
        person = self.person.open_part("Deck plate").take_view("t").press("o")
        person.see("open-drawer").click()
        expect(person.see("stencil-part")).to_have_text("Lantern housing")
        person.page.get_by_role("button", name="Take the stencil").click()
        expect(person.see("landing")).to_have_attribute("data-on", "28")
        person.make()
        mesh = self.exported()
        new = mesh.points[PLATE.vertex_count :]
        reach = np.hypot(new[:, 0], new[:, 2])
        # The housing is 46 at its widest, as a polygon of 28 sides.
        np.testing.assert_allclose(reach, 46.0, atol=1e-4)
        np.testing.assert_allclose(new[:, 1], 8.0, atol=1e-9)

    def test_an_outline_becomes_a_part(self) -> None:
        person = self.person.open_part("Deck plate").wait_for_answers().press("o")
        person.wait_for_answers()
        person.see("open-drawer").click()
        person.page.get_by_label("Make a part of Inspection hatch").click()
        self.settle("outline-part-thickness", "3")
        person.page.get_by_role("button", name="Make the part").click()
        person.is_told("Inspection hatch is a part now")
        mesh = self.mesh_of("Inspection hatch")
        self.assertTrue(is_closed(mesh))
        self.assertEqual(np.ptp(mesh.points, axis=0).round(9).tolist(), [46, 34, 3])


class Broken(TableCase):
    def test_shards_by_two_drawn_lines_are_parts_and_undone_they_are_one(self) -> None:
        person = self.person.open_part("Lantern housing").take_view("f").press("l")
        for way in (((-30, 80, 0), (30, 82, 0)), ((3, 118, 0), (2, 4, 0))):
            for place in way:
                person.page.mouse.click(*person.pixel_of(np.array(place, dtype=float)))
                person.wait_for_answers()
            person.press("b")
        person.see("break-along").click()
        found = person.see("shards-found")
        expect(found).to_have_attribute("data-count", "4")
        expect(found).to_contain_text("4 closed")
        expect(person.see("canvas")).to_have_attribute("data-planned", "shown")
        drawn = person.see("canvas").get_attribute("data-snapshot")
        person.press("Enter")
        person.page.wait_for_selector(f"canvas[data-snapshot]:not([data-snapshot='{drawn}'])")
        person.press("p", "t")
        names = [f"Lantern housing, shard {k}" for k in (1, 2, 3, 4)]
        expect(person.see("table-list").locator("[data-part]")).to_have_count(6)
        self.assertEqual(self.listed(), [names[0], *NAMES[1:], *names[1:]])
        pieces = [self.mesh_of(name) for name in names]
        self.assertTrue(all(is_closed(piece) and problems(piece) == [] for piece in pieces))
        whole = sum(volume_of(piece) for piece in pieces)
        self.assertAlmostEqual(whole / volume_of(HOUSING), 1.0, delta=1e-9)

        self.tick(*names)
        slider = person.see("spread").get_by_role("slider")
        slider.focus()
        for _ in range(5):
            person.press("ArrowRight")
        person.see("let-fall").click()
        # Motion is to be spared: what is shown is how they come to lie.
        expect(person.see("falling")).to_have_attribute("data-frame", "60")
        person.see("put-back").click()
        slider.focus()
        person.press("ArrowRight")
        person.see("set-spread").click()
        undo = person.page.get_by_role("button", name="Undo: 4 parts spread")
        undo.click()
        expect(undo).to_have_count(0)
        person.see("canvas").focus()
        person.press("Control+z")
        expect(person.see("table-list").locator("[data-part]")).to_have_count(3)
        self.assertEqual(self.listed(), NAMES)


class WholeProjects(TableCase):
    def test_a_project_goes_out_and_comes_in_as_it_was(self) -> None:
        person = self.person.open_part("Deck plate")
        before = person.export()
        person.page.get_by_role("button", name="Part: export").click()
        with person.page.expect_download() as waiting:
            person.page.get_by_role("menuitem", name="The project").click()
        data = waiting.value.path().read_bytes()
        person.open()
        expect(person.see("projects")).to_be_visible()
        held = person.page.evaluate_handle(
            """(data) => {
                const held = new DataTransfer();
                held.items.add(new File([new Uint8Array(data)], 'skerry.zip'));
                return held;
            }""",
            list(data),
        )
        place = person.page.get_by_role("main")
        for event in ("dragenter", "dragover", "drop"):
            place.dispatch_event(event, {"dataTransfer": held})
        person.is_told("Skerry Light was imported")
        projects = person.page.request.get(f"{self.live_server_url}/api/projects").json()
        self.assertEqual([project["name"] for project in projects], ["Skerry Light"] * 2)
        twin = max(projects, key=lambda project: project["id"])
        plate = next(part for part in twin["parts"] if part["name"] == "Deck plate")
        person.open(f"/projects/{twin['id']}/parts/{plate['id']}").wait_for_rest()
        self.assertEqual(person.export(), before)

    def test_text_is_pasted_as_an_outline_or_a_part(self) -> None:
        person = self.person.open_part("Deck plate")
        paste = """(text) => {
            const held = new DataTransfer();
            held.setData('text/plain', text);
            window.dispatchEvent(new ClipboardEvent('paste', {clipboardData: held, bubbles: true}));
        }"""
        square = '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm" viewBox="0 0 9 9"><path d="M0 0H9V9Z"/></svg>'
        person.page.evaluate(paste, square)
        person.is_told("was imported as an outline")
        expect(person.see("outlines").locator("[data-outline=pasted]")).to_be_visible()
        person.page.evaluate(paste, "o one\nv 0 0 0\nv 9 0 0\nv 0 9 0\nf 1 2 3\n")
        person.page.get_by_label("each object of a file a part of its own").check()
        person.bring_in()
        person.is_told("1 part imported")
        person.page.evaluate(paste, "nothing of the kind")
        person.is_told("Nothing to paste")
