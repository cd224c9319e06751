"""Words that people bring lead to what they mean: every operation, action and setting is found by
what the trade calls it, what can't be used now says what it needs, and nothing else is ever run."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.deck import PLATE, on_edge
from tests.browser.workshop_case import WorkshopCase

# What is typed, and the command that comes first.
LEADS_TO = {
    # Operations.
    "chamfer": "work-bevel", "bevel": "work-bevel", "fillet": "work-bevel",
    "round edges": "work-bevel", "bridge": "work-bridge", "connect": "knife",
    "tunnel": "work-bridge", "loft": "work-bridge", "simplify": "work-clean",
    "reduce": "work-clean", "decimate": "work-clean", "collapse": "work-collapse",
    "merge vertices": "work-collapse", "dissolve": "work-dissolve",
    "remove edges": "work-dissolve", "erase edge": "work-dissolve",
    "delete edge": "work-dissolve", "divide": "work-divide", "refine": "work-divide",
    "explode": "spread", "extrude": "work-extrude", "push": "work-extrude",
    "pull": "work-extrude", "normals": "work-facing", "recalculate normals": "work-facing",
    "face orientation": "work-facing", "make normals agree": "work-facing",
    "fill hole": "work-fill", "close hole": "work-fill", "cap hole": "work-fill",
    "fill": "work-fill", "flatten": "work-flatten", "planar": "work-flatten",
    "coplanar": "work-flatten", "flip": "work-flip", "flip normals": "work-flip",
    "reverse normals": "work-flip", "invert normals": "work-flip",
    "crease": "work-hard", "sharp edges": "work-hard", "hard": "work-hard",
    "inset": "work-inset", "inner face": "work-inset", "join triangles": "work-join-triangles",
    "triangles to quads": "work-join-triangles", "merge faces": "work-join",
    "straighten": "work-line-up", "align": "work-line-up", "line up": "work-line-up",
    "move": "work-move", "translate": "work-move", "scale": "work-move", "rotate": "work-move",
    "transform": "work-move", "resize": "work-move", "quadrangulate": "work-quads",
    "remesh": "work-quads", "retopology": "work-quads", "relax": "work-relax",
    "smooth vertices": "work-relax", "circularize": "work-round", "make circle": "work-round",
    "separate": "work-separate", "detach": "work-separate", "fracture": "work-shards",
    "shatter": "work-shards", "shards": "work-shards", "slide": "work-slide",
    "edge slide": "work-slide", "tear": "work-split-apart", "unweld": "work-split-apart",
    "loose vertices": "work-strays", "subdivide": "work-subdivide",
    "subdivision": "work-subdivide", "delete": "work-take-off", "remove faces": "work-take-off",
    "delete faces": "work-take-off", "take off": "work-take-off", "solidify": "work-thicken",
    "shell": "work-thicken", "thickness": "work-thicken", "triangulate": "work-triangulate",
    "weld": "work-weld", "merge near": "work-weld", "duplicate vertices": "work-weld",
    "stitch": "work-weld",
    # Tools.
    "select": "pick", "selection": "pick", "cut": "knife", "knife": "knife", "add loop": "loop",
    "new loop": "loop", "support loop": "loop", "plane cut": "slice", "slice": "slice",
    "bisect": "slice", "symmetrize": "slice", "boolean": "outline", "engrave": "outline",
    "imprint": "outline", "text": "outline", "pocket": "outline", "dimensions": "measure",
    "sketch": "freehand", "brush": "freehand", "hatch": "ruled", "geodesic": "seam",
    "repair": "mend",
    # Actions.
    "undo": "undo", "redo": "redo", "apply": "make", "cancel": "discard", "import": "import",
    "open file": "import", "load": "import", "export": "export-obj", "save as": "export-obj",
    "paste": "paste", "rename": "rename", "duplicate": "duplicate", "clone": "duplicate",
    "delete part": "delete-part", "rotate part": "place", "position": "place",
    "array": "copies", "copies": "copies", "instances": "copies", "combine": "join-parts",
    "join parts": "join-parts", "attach": "join-parts", "exploded view": "spread",
    "spread": "spread", "gravity": "fall", "let fall": "fall", "stencil": "stencil",
    "silhouette": "stencil", "primitive": "shape", "cube": "shape", "cylinder": "shape",
    "group": "patch-of-pick", "isolate": "hide", "unhide": "hide", "deselect": "pick-none",
    "invert selection": "pick-invert", "grow selection": "pick-grow",
    "select connected": "pick-connected", "select loop": "pick-loop",
    "select ring": "pick-ring", "boundary": "pick-border", "non-manifold": "pick-all-borders",
    "measure": "measure", "backup": "export-project",
    # Views and settings.
    "symmetry": "set-mirror", "mirror": "set-mirror", "snap": "set-stops",
    "constrain": "set-lock", "cap": "set-then", "curvature": "set-follow",
    "dark mode": "night", "shortcuts": "keys", "hotkeys": "keys", "help": "keys",
    "settings": "preferences", "options": "preferences", "tutorial": "lessons", "wireframe": "wire",
    "x-ray": "see-through", "reference image": "drawing", "zoom to fit": "frame",
    "full screen": "fullscreen", "screenshot": "picture", "front": "view-front", "smooth": "look-smooth",
    "topology view": "flow",
}  # fmt: skip


class Words(WorkshopCase):
    def type(self, typed: str) -> None:
        if self.person.page.get_by_role("dialog").count() == 0:
            self.person.press("Control+k")
        self.person.page.get_by_placeholder("Type what you want to do").fill(typed)

    def first(self) -> str | None:
        item = self.person.see("commands").locator("[data-command]").first
        return item.get_attribute("data-command")

    def test_words_of_the_trade_find_what_they_mean(self) -> None:
        person = self.person
        person.open_part("Deck plate")
        self.assertGreaterEqual(len(LEADS_TO), 150)
        wrong = {}
        for typed, command in LEADS_TO.items():
            self.type(typed)
            if self.person.see("commands").locator("[data-command]").count() == 0:
                wrong[typed] = None
            elif (found := self.first()) != command:
                wrong[typed] = found
        self.assertEqual(wrong, {})

    def test_small_slips_are_forgiven_and_scattered_letters_are_not(self) -> None:
        person = self.person
        person.open_part("Deck plate")
        for typed, command in (
            ("extrud", "work-extrude"),
            ("extrudde", "work-extrude"),
            ("trianglate", "work-triangulate"),
            ("bevle", None),
            ("xqz", None),
            ("slc", None),
        ):
            self.type(typed)
            items = person.see("commands").locator("[data-command]")
            if command is None:
                expect(items).to_have_count(0)
                expect(person.see("commands")).to_contain_text("No command has these words.")
            else:
                expect(items.first).to_have_attribute("data-command", command)

    def test_what_needs_a_pick_says_so_and_is_planned_as_soon_as_it_is_picked(self) -> None:
        person, page = self.person, self.person.page
        person.open_part("Deck plate").take_view("t").press("l")
        self.type("bevel")
        item = person.see("commands").locator("[data-command=work-bevel]")
        expect(item).to_contain_text("pick edges or vertices first")
        person.press("Enter")
        expect(person.see("work")).to_contain_text("For it pick edges or vertices.")
        # What is pointed at is of the kind it needs.
        page.mouse.click(*person.pixel_of(on_edge(8, 9, 0.5)))
        expect(person.see("make-bar")).to_be_visible()
        person.wait_for_answers()
        person.make()
        self.assertGreater(self.exported().face_count, PLATE.face_count)

    def test_it_works_with_the_pick_at_hand(self) -> None:
        person, page = self.person, self.person.page
        person.open_part("Deck plate").take_view("t").press("p")
        page.mouse.click(*person.pixel_of(PLATE.points[PLATE.face(9)].mean(axis=0)))
        person.wait_for_answers()
        self.type("push")
        person.press("Enter")
        expect(person.see("work")).to_contain_text("extrude")
        expect(person.see("make-bar")).to_be_visible()

    def test_a_setting_is_led_to_where_it_is_set(self) -> None:
        person = self.person
        person.open_part("Deck plate").press("p")
        self.type("curvature")
        person.press("Enter")
        expect(person.see("follow")).to_be_focused()
        # What covers the plan makes way.
        self.type("drawer of outlines")
        person.press("Enter")
        expect(person.see("outlines")).to_be_visible()
        self.type("symmetry")
        person.press("Enter")
        expect(person.see("mirror")).to_be_focused()
