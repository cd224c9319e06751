"""Pick: every way of meaning vertices, edges and faces, by pointer and by command."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.workshop_case import WorkshopCase
from workshop.sample.skerry_light import deck_plate, lantern_housing

PLATE = deck_plate()
HOUSING = lantern_housing()
RINGS = HOUSING.points[1:-1].reshape(-1, 28, 3)


class Pick(WorkshopCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.open_part("Deck plate").take_view("t").press("p")

    def picked(self, *, faces: int = 0, edges: int = 0, vertices: int = 0) -> None:
        sign = self.person.see("picked")
        for name, count in (("faces", faces), ("edges", edges), ("vertices", vertices)):
            expect(sign).to_have_attribute(f"data-{name}", str(count))

    def chip(self, words: str) -> None:
        self.person.see("pick").get_by_role("button", name=words, exact=True).click()

    def click(self, place: object, *keys: str) -> None:
        for key in keys:
            self.person.page.keyboard.down(key)
        self.person.page.mouse.click(*self.person.pixel_of(place))
        for key in keys:
            self.person.page.keyboard.up(key)

    def kind(self, words: str) -> None:
        self.person.see("pick-kind").click()
        self.person.page.get_by_role("option", name=words, exact=True).click()

    def test_clicks_pick_add_and_take_off(self) -> None:
        self.click([0, 8, 0])
        self.picked(faces=1)
        bevel = 0.5 * (PLATE.points[0] + PLATE.points[9])
        self.click(bevel, "Shift")
        self.picked(faces=2)
        self.click([0, 8, 0], "Control")
        self.picked(faces=1)
        self.click([0, 8, 0])
        self.picked(faces=1)
        self.person.press("Escape")
        self.picked()

    def test_regions_grow_shrink_invert_and_follow_connections(self) -> None:
        self.click([0, 8, 0])
        self.picked(faces=1)
        self.chip("grow")
        self.picked(faces=9)
        self.chip("shrink")
        self.picked(faces=1)
        self.chip("boundary")
        self.picked(edges=8)
        self.chip("pick nothing")
        self.kind("faces")
        self.click([0, 8, 0])
        self.picked(faces=1)
        self.chip("invert")
        self.picked(faces=PLATE.face_count - 1)
        self.chip("connected")
        self.picked(faces=PLATE.face_count)
        self.chip("n-gons")
        self.picked(faces=1)
        self.chip("poles")
        self.picked(vertices=12)

    def test_loops_rings_and_paths_start_from_an_edge_or_two_vertices(self) -> None:
        self.person.open_part("Lantern housing").take_view("f")
        self.kind("edges")
        front = max(range(28), key=lambda k: RINGS[9, k, 2])
        level = 0.5 * (RINGS[9, front] + RINGS[9, (front + 1) % 28])
        self.click(level)
        self.picked(edges=1)
        self.chip("loop")
        self.picked(edges=28)
        self.click(level)
        self.picked(edges=1)
        self.chip("ring")
        self.picked(edges=16)
        self.kind("vertices")
        self.click(RINGS[9, front])
        self.picked(vertices=1)
        self.click(RINGS[11, front], "Shift")
        self.picked(vertices=2)
        self.chip("shortest path")
        self.picked(edges=2)

    def test_a_rectangle_and_a_brush_pick_what_can_be_seen(self) -> None:
        person = self.person
        mouse = person.page.mouse
        person.see("pick-way").click()
        person.page.get_by_role("option", name="rectangle").click()
        self.drag([-100, 8, -100], [100, 8, 100])
        self.picked(faces=9)
        person.see("pick-way").click()
        person.page.get_by_role("option", name="brush").click()
        self.drag(
            0.5 * (PLATE.points[0] + PLATE.points[9]), 0.5 * (PLATE.points[3] + PLATE.points[12])
        )
        mouse.move(20, 400)
        self.picked(faces=9)
        person.press("Escape")
        self.drag([0, 8, 0], [5, 8, 5])
        self.picked(faces=1)

    def drag(self, start: object, end: object) -> None:
        mouse = self.person.page.mouse
        mouse.move(*self.person.pixel_of(start))
        mouse.down()
        mouse.move(*self.person.pixel_of(end), steps=3)
        mouse.up()

    def test_hidden_faces_are_not_in_the_way(self) -> None:
        person = self.person
        self.click([0, 8, 0])
        self.picked(faces=1)
        self.chip("invert")
        self.picked(faces=PLATE.face_count - 1)
        self.chip("hide unpicked")
        person.press("Escape")
        self.picked()
        # Through the open top the inside of the bottom is met.
        self.click([10, 0, 12])
        self.picked(faces=1)
        person.press("Escape", "l")
        expect(person.see("limit")).to_contain_text("hidden faces are left alone")
        person.press("p", "i")
        self.click([0, 8, 0])
        self.picked(faces=1)
        self.chip("n-gons")
        self.picked(faces=1)
