"""Drawings over the API: brought in, shown harmlessly, placed, read off, and taken away."""

from __future__ import annotations

import json
from typing import Any

from defusedxml import ElementTree
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from tests.pictures import picture
from workshop.sample.housing_drawing import housing_drawing, placement
from workshop.sample.skerry_light import HOUSING_PROFILE
from workshop.services.projects import add_project

PNG = picture()


class Drawings(TestCase):
    def setUp(self) -> None:
        self.path = f"/api/projects/{add_project('Drawn').pk}/drawings"

    def bring(self, name: str, data: bytes) -> Any:
        return self.client.post(self.path, {"file": SimpleUploadedFile(name, data)})

    def test_a_picture_is_kept_placed_and_taken_away(self) -> None:
        made = self.bring("front elevation.png", PNG).json()
        empty = {"heights": [], "widths": []}
        self.assertEqual(
            (made["name"], made["placement"]["view"], made["marks"]),
            ("front elevation", "front", empty),
        )
        url = f"/api/drawings/{made['id']}"
        placed = {**made["placement"], "x": -12.5, "height": 240, "view": "left"}
        change = {
            "revision": made["revision"],
            "placement": placed,
            "marks": {"heights": [4.5], "widths": [{"at": 1, "width": 3}]},
        }
        changed = self.client.patch(url, json.dumps(change), content_type="application/json").json()
        self.assertEqual((changed["placement"], changed["marks"]["heights"]), (placed, [4.5]))
        only_marks = self.client.patch(
            url,
            json.dumps({"revision": 2, "marks": {"heights": [], "widths": []}}),
            content_type="application/json",
        ).json()
        self.assertEqual(
            (only_marks["placement"]["height"], only_marks["marks"]["heights"]), (240, [])
        )
        wrong = {"revision": 3, "placement": {**made["placement"], "height": 0}}
        self.assertEqual(
            self.client.patch(url, json.dumps(wrong), content_type="application/json").status_code,
            422,
        )
        picture = self.client.get(f"{url}/picture")
        self.assertEqual((picture["Content-Type"], picture.content), ("image/png", PNG))
        self.assertEqual(self.client.delete(url).status_code, 204)
        self.assertEqual(self.client.get(f"{url}/picture").json()["code"], "not-there")
        self.assertEqual(self.client.get(self.path).json(), [])

    def test_what_is_no_picture_is_refused_and_an_svg_can_do_nothing(self) -> None:
        bomb = b'<!DOCTYPE svg [<!ENTITY a "aa"><!ENTITY b "&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg">&b;</svg>'
        nested = b'<svg xmlns="http://www.w3.org/2000/svg"><g id="a0"><rect/></g>' + b"".join(
            b'<g id="a%d">%b</g>' % (k, b'<use href="#a%d"/>' % (k - 1) * 10) for k in range(1, 8)
        )
        vast = picture(20_000, 2)
        cut_off = picture(300, 300)[:-40]
        for data in (
            b"hello",
            b"<html/>",
            b"",
            bomb,
            nested + b"</svg>",
            vast,
            cut_off,
            b"\x89PNG\r\n\x1a\n" + bytes(40),
        ):
            refused = self.bring("x.svg", data)
            self.assertEqual((refused.status_code, refused.json()["code"]), (422, "bad-file"), data)
        script = b'<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'
        made = self.bring("x.svg", script).json()
        shown = self.client.get(f"/api/drawings/{made['id']}/picture")
        self.assertEqual(shown["Content-Type"], "image/svg+xml")
        self.assertIn("sandbox", shown["Content-Security-Policy"])
        self.assertIn("default-src 'none'", shown["Content-Security-Policy"])
        self.assertEqual(shown["X-Content-Type-Options"], "nosniff")

    def test_the_sample_drawing_says_every_number_of_the_housing(self) -> None:
        root = ElementTree.fromstring(housing_drawing())
        words = {node.text for node in root.iter() if node.tag.endswith("text")}
        for radius, height in HOUSING_PROFILE[1:-1]:
            self.assertIn(f"⌀{2 * radius:g}", words)
            self.assertIn(f"{height:g}", words)
        _, _, _, tall = (float(x) for x in root.get("viewBox").split())
        self.assertEqual(placement()["height"], tall)
