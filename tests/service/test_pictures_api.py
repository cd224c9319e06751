"""A part drawn in lines, as the service gives it."""

from __future__ import annotations

from typing import Any
from xml.etree.ElementTree import fromstring

from django.test import TestCase

from workshop.models import Part
from workshop.services.sample import add_sample

VIEW = {"eye": [60, 120, 240], "target": [0, 70, 0], "fov": 35, "size": [640, 480]}


class Pictures(TestCase):
    def setUp(self) -> None:
        add_sample()
        self.part = Part.objects.get(name="Lantern housing")

    def ask(self, picture: dict[str, Any] | None = None, **more: Any) -> Any:
        body = {"revision": self.part.revision, "picture": {"view": VIEW} | (picture or {})} | more
        return self.client.post(
            f"/api/parts/{self.part.pk}/lines", body, content_type="application/json"
        )

    def test_it_is_drawn_with_what_stands_beside_it_in_the_colours_asked_for(self) -> None:
        answer = self.ask({"hidden": True}, beside=True, colour="#102030", ground="#fefefe")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "image/svg+xml"))
        drawn = fromstring(answer.content)
        self.assertEqual((drawn.get("width"), drawn.get("height")), ("640", "480"))
        names = [g.get("data-part") for g in drawn.iter() if g.get("data-part")]
        self.assertEqual(names, ["Lantern housing", "Deck plate", "Float hull"])
        self.assertIn(b"#102030", answer.content)
        self.assertIn(b'fill="#fefefe"', answer.content)
        Part.objects.filter(name="Float hull").update(hidden=True)
        self.assertNotIn(b"Float hull", self.ask(beside=True).content)
        self.assertNotIn(b"stroke-dasharray", self.ask().content)

    def test_what_can_not_be_drawn_is_refused(self) -> None:
        for status, picture, more in (
            (422, {"view": VIEW | {"target": VIEW["eye"]}}, {}),
            (422, {"view": VIEW | {"size": [0, 480]}}, {}),
            (422, {"shown": [-1]}, {}),
            (422, {}, {"colour": '"/><script>'}),
            (422, {}, {"ground": "red"}),
            (422, {}, {"unknown": 1}),
            (409, {}, {"revision": 99}),
        ):
            answer = self.ask(picture, **more)
            self.assertEqual(answer.status_code, status, (picture, more))
        # Nothing in sight is an empty drawing.
        self.assertNotIn(b"<path", self.ask({"view": VIEW | {"target": [60, 120, 400]}}).content)
        self.assertNotIn(b"<path", self.ask({"shown": []}).content)
