"""The outlines of a project over the API: made, changed, kept, exported; and sheets aimed before a
part."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile

from cutcore.formats.svg import read_svg
from tests.service.test_parts_api import WithCube
from workshop.models import Outline

SQUARE_SVG = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="20mm" height="10mm" viewBox="0 0 20 10">'
    b'<rect width="20" height="10"/><circle cx="5" cy="5" r="2"/></svg>'
)
VIEW = {
    "eye": [0, 0, 10],
    "target": [0, 0, 0],
    "projection": "parallel",
    "height": 4,
    "size": [400, 400],
}


class Outlines(WithCube):
    def add(self, source: dict[str, Any], name: str = "") -> dict[str, Any]:
        answer = self.post(
            f"/projects/{self.part.project_id}/outlines", {"name": name, "source": source}
        )
        self.assertEqual(answer.status_code, 201, answer.content)
        return answer.json()

    def patch(self, number: int, **body: Any):
        return self.client.patch(f"/api/outlines/{number}", body, content_type="application/json")

    def listed(self) -> list[dict[str, Any]]:
        return self.client.get(f"/api/projects/{self.part.project_id}/outlines").json()

    def test_every_source_gives_an_outline_of_its_size(self) -> None:
        shapes = self.client.get("/api/outline-shapes").json()
        self.assertEqual(
            {s["shape"] for s in shapes}, {"rectangle", "circle", "polygon", "slot", "star"}
        )
        for shape in shapes:
            made = self.add({"by": "shape", "shape": shape})
            self.assertEqual(made["name"], shape["shape"].capitalize())
        letters = self.add({"by": "letters", "words": "OA", "height": 8})
        self.assertEqual((letters["name"], len(letters["curves"])), ("OA", 4))
        nodes = [{"at": [0, 0]}, {"at": [4, 0], "corner": 1}, {"at": [4, 3]}]
        drawn = self.add(
            {"by": "drawn", "drawn": {"curves": [{"nodes": nodes, "closed": False}]}}, "Hook"
        )
        self.assertEqual(
            (drawn["name"], drawn["width"], drawn["height"], drawn["points"]), ("Hook", 4, 3, 9)
        )
        edges = self.add({"by": "edges", "part": self.part.pk, "revision": 1, "edges": [0, 1]})
        self.assertEqual((edges["curves"][0]["closed"], edges["sheet"] is not None), (False, True))
        self.assertEqual(len(self.listed()), 5 + 3)

    def test_an_svg_drawing_comes_in_about_its_middle_and_goes_out_as_it_came(self) -> None:
        path = f"/api/projects/{self.part.project_id}/outlines/svg?tolerance=0.01"
        made = self.client.post(path, {"file": SimpleUploadedFile("plate.svg", SQUARE_SVG)}).json()[
            "outline"
        ]
        self.assertEqual(
            (made["name"], made["width"], made["height"], len(made["curves"])), ("plate", 20, 10, 2)
        )
        coarse = self.client.post(
            path.replace("0.01", "0.5"), {"file": SimpleUploadedFile("plate.svg", SQUARE_SVG)}
        ).json()["outline"]
        self.assertLess(coarse["points"], made["points"])
        out = self.client.get(f"/api/outlines/{made['id']}/export.svg")
        self.assertIn("sandbox", out["Content-Security-Policy"])
        curves, _ = read_svg(out.content)
        np.testing.assert_allclose(np.ptp(curves[0].points, axis=0), [20, 10], rtol=1e-9)
        self.assertEqual(
            [len(c.points) for c in curves], [len(c["points"]) for c in made["curves"]]
        )
        for name, data, status in (("x.svg", b"<svg", 422), ("x.svg", b"", 422)):
            self.assertEqual(
                self.client.post(path, {"file": SimpleUploadedFile(name, data)}).status_code, status
            )
        wrong = self.client.post(
            path.replace("0.01", "0"), {"file": SimpleUploadedFile("x.svg", SQUARE_SVG)}
        )
        self.assertEqual(
            (
                wrong.status_code,
                "tolerance" in wrong.json()["words"] or "possible" in wrong.json()["words"],
            ),
            (422, True),
        )

    def test_changes_copies_and_drops(self) -> None:
        made = self.add(
            {"by": "shape", "shape": {"shape": "rectangle", "width": 4, "height": 2, "corner": 0}}
        )
        renamed = self.patch(made["id"], name="  Hatch ").json()
        self.assertEqual((renamed["name"], renamed["drawn"]), ("Hatch", made["drawn"]))
        round_it = self.patch(made["id"], change={"change": "corners", "radius": 0.5}).json()
        self.assertEqual((round_it["points"], round_it["width"]), (28, 4))
        moved = self.patch(
            made["id"],
            change={"change": "node", "curve": 0, "node": 0, "to": [-3.2, -1.4], "step": 0.5},
        ).json()
        self.assertEqual(moved["drawn"]["curves"][0]["nodes"][0]["at"], [-3.0, -1.5])
        copy = self.post(f"/outlines/{made['id']}/copy", {}).json()
        self.assertEqual((copy["name"], copy["drawn"]), ("Hatch, copy", moved["drawn"]))
        self.assertEqual(self.client.delete(f"/api/outlines/{made['id']}").status_code, 204)
        self.assertEqual([o["id"] for o in self.listed()], [copy["id"]])
        self.assertEqual(self.patch(made["id"], name="x").status_code, 404)
        refused = self.patch(
            copy["id"], change={"change": "node", "curve": 3, "node": 0, "to": [0, 0]}
        )
        self.assertEqual((refused.status_code, Outline.objects.get().drawn), (422, copy["drawn"]))
        project = self.post(f"/projects/{self.part.project_id}/duplicate", {}).json()["id"]
        self.assertEqual(len(self.client.get(f"/api/projects/{project}/outlines").json()), 1)

    def test_a_sheet_is_placed_projected_and_made(self) -> None:
        made = self.add({"by": "shape", "shape": {"shape": "circle", "diameter": 1}})
        path = f"/parts/{self.part.pk}/aim/outline"
        ask = {"revision": 1, "outlines": [made["id"]], "placed": {"lift": 3}}
        placed = self.post(
            path, {**ask, "handle": "place", "pointer": [200, 200], "view": VIEW}
        ).json()
        self.assertEqual(
            (placed["on"], placed["placed"]["normal"]), ("the part's middle", [0, 0, 1])
        )
        self.assertEqual(len(placed["curves"][0]["points"]), 24)
        step = {
            "tool": "outline",
            "curves": placed["curves"],
            "along": {"direction": [0, 0, -1]},
            "patch": "Port",
        }
        plan = self.post(f"/parts/{self.part.pk}/plan", {"revision": 1, "step": step}).json()
        self.assertEqual(
            (plan["extra"]["landed"], plan["changes"], plan["refusal"]), ([24, 24], True, None)
        )
        self.assertGreater(min(plan["extra"]["smallest"]), 0)
        done = self.post(f"/parts/{self.part.pk}/steps", {"revision": 1, "step": step}).json()
        self.assertEqual(len(done["new"]["faces"]), 1)
        round_y = self.post(
            path,
            {
                **ask,
                "revision": 2,
                "placed": placed["placed"],
                "copies": {"by": "axis", "axis": "y", "count": 4},
            },
        )
        self.assertEqual(len(round_y.json()["curves"]), 4)
        for wrong, status in (
            ({"outlines": [999]}, 404),
            ({"revision": 1}, 409),
            ({"revision": 2, "face": 999}, 422),
            ({"outlines": []}, 422),
        ):
            self.assertEqual(
                self.post(path, {**ask, "revision": 2, **wrong}).status_code, status, wrong
            )
