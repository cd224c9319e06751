"""Pictures of the view: as fine as asked for, with what is asked for, as a file and on the
clipboard; lines as SVG; before and after a step."""

from __future__ import annotations

import io
from pathlib import Path
from xml.etree.ElementTree import fromstring

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from tests.browser.workshop_case import WorkshopCase

PAPER = (0xF4, 0xEF, 0xE6, 255)


class Pictures(WorkshopCase):
    def open_sheet(self) -> None:
        # Typed before the list has come, it goes into it and does nothing else.
        self.person.press("Control+k")
        self.person.page.keyboard.type("screenshot")
        expect(self.person.see("commands").locator("[data-command]").first).to_have_attribute(
            "data-command", "picture"
        )
        self.person.press("Enter")
        expect(self.person.see("picture-seen")).to_be_visible()

    def choose(self, label: str, option: str) -> None:
        self.person.see(label).click()
        self.person.page.get_by_role("option", name=option).click()

    def kept(self) -> tuple[str, bytes]:
        with self.person.page.expect_download() as waiting:
            self.person.page.get_by_role("button", name="Keep as a file").click()
        return waiting.value.suggested_filename, Path(waiting.value.path()).read_bytes()

    def picture(self) -> np.ndarray:
        return np.asarray(Image.open(io.BytesIO(self.kept()[1])).convert("RGBA"))

    def plan_a_slice(self) -> None:
        self.person.open_part("Lantern housing").press("s")
        self.choose("plane-by", "square to y")
        expect(self.person.see("plan-adds")).to_contain_text("28 new vertices")

    @staticmethod
    def red(picture: np.ndarray) -> int:
        """Pixels in the colour of the thread."""
        r, g, b, a = (picture[..., k].astype(int) for k in range(4))
        return int(((r - g > 80) & (r - b > 80) & (a > 200)).sum())

    def test_a_picture_is_as_fine_as_asked_for_with_what_is_asked_for(self) -> None:
        self.plan_a_slice()
        tool = self.person.see("bench").get_attribute("data-tool")
        self.open_sheet()
        self.assertEqual(self.person.see("bench").get_attribute("data-tool"), tool)
        canvas = self.person.see("canvas")
        width, height = canvas.evaluate("c => [c.clientWidth, c.clientHeight]")
        before = canvas.evaluate("c => [c.width, c.height]")
        for scale in (1, 4, 2):
            self.choose("picture-scale", f"{scale} ×")
            picture = self.picture()
            self.assertEqual(picture.shape[:2], (scale * height, scale * width))
            self.assertEqual(tuple(picture[3, 3]), PAPER)
            # The wire is as wide in all of them.
            share = self.red(picture) / scale**2
            self.assertGreater(share, 300)
        # The part on the screen is as it was.
        self.assertEqual(canvas.evaluate("c => [c.width, c.height]"), before)
        self.person.see("picture-ground").click()
        self.person.see("picture-marks").click()
        clear = self.picture()
        self.assertEqual(clear[3, 3, 3], 0)
        self.assertEqual(self.red(clear), 0)
        self.person.see("picture-others").click()
        alone = self.picture()
        self.assertLess((alone[..., 3] > 0).sum(), 0.8 * (clear[..., 3] > 0).sum())
        self.person.see("picture-wire").click()
        dark = [
            int((p[..., :3].max(axis=-1) < 100)[p[..., 3] > 0].sum())
            for p in (alone, self.picture())
        ]
        self.assertLess(dark[1], 0.5 * dark[0])

    def test_lines_are_drawn_with_what_is_planned_and_copied(self) -> None:
        self.person.page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        self.plan_a_slice()
        self.open_sheet()
        self.choose("picture-of", "its lines")
        name, data = self.kept()
        self.assertEqual(name, "Lantern-housing-perspective.svg")
        drawn = fromstring(data)
        self.assertIn("Deck plate", [g.get("data-part") for g in drawn.iter()])
        # What is planned is stitched over it, in its colour; nothing of the page's own goes along.
        stitches = [one for one in drawn.iter() if one.get("stroke") == "rgb(178, 58, 46)"]
        self.assertGreater(len(stitches), 10)
        self.assertNotIn(b"data-testid", data)
        self.assertNotIn(b'data-lines="behind"', data)
        self.person.see("picture-hidden").click()
        self.person.page.get_by_role("button", name="Copy", exact=True).click()
        self.person.is_told("The picture is on the clipboard")
        copied = self.person.page.evaluate("() => navigator.clipboard.readText()")
        self.assertIn('data-lines="behind"', copied)

    def test_before_and_after_a_step_stand_in_one_picture(self) -> None:
        self.plan_a_slice()
        self.person.make()
        self.person.press("Escape", "Escape")
        self.open_sheet()
        self.choose("picture-of", "before ┆ after")
        self.choose("picture-scale", "1 ×")
        self.person.see("picture-ground").click()
        width = self.person.see("canvas").evaluate("c => c.clientWidth")
        picture = self.picture()
        self.assertEqual(picture.shape[1], 2 * width)
        left, right = picture[:, :width], picture[:, width:]
        self.assertEqual(self.red(left), 0)
        self.assertGreater(self.red(right), 100)
        # A step that is undone elsewhere is said to be gone, and nothing is kept.
        self.person.press("Escape", "Control+z").wait_for_answers()
        self.open_sheet_without_step()

    def open_sheet_without_step(self) -> None:
        self.person.press("Control+k")
        self.person.page.keyboard.type("screenshot")
        expect(self.person.see("commands")).to_be_visible()
        self.person.press("Enter")
        expect(self.person.page.get_by_text("No step is made yet.")).to_be_visible()
        expect(self.person.page.get_by_role("button", name="Keep as a file")).to_be_disabled()
