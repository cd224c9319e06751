"""Walking over a part by arrow keys: where one comes to can be seen, is what was walked to, and lies that way."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from cutcore import Mesh
from cutcore.aiming.marks import Settling, mark_at
from cutcore.aiming.walk import WAYS, By, Way, walk
from cutcore.geometry.camera import Camera, View
from cutcore.queries.visibility import look_at
from cutcore.shapes.box import box
from cutcore.shapes.turned import turned
from tests.zoo import concave_plate, three_on_an_edge, warped_sheet

PARTS = (
    box(2, 2, 2, (3, 3, 3)),
    turned([(1.0, 0.0), (1.2, 1.0), (1.0, 2.0)], 8),
    concave_plate(),
    warped_sheet(),
    three_on_an_edge(),
)
SETTLING = Settling(step=0.25)


def seen(mesh: Mesh, turn: float, rise: float, *, parallel: bool) -> Camera:
    away = 3.0 * mesh.diagonal
    middle = mesh.box.mean(axis=0)
    towards = np.array([np.cos(rise) * np.sin(turn), np.sin(rise), np.cos(rise) * np.cos(turn)])
    how = {"projection": "parallel", "height": 1.3 * mesh.diagonal} if parallel else {"fov": 32}
    eye, target = (tuple(float(x) for x in at) for at in (middle + away * towards, middle))
    return Camera.of(View.model_validate({"eye": eye, "target": target, "size": (900, 700), **how}))


class Walks(SimpleTestCase):
    @given(
        st.sampled_from(range(len(PARTS))),
        st.floats(0, 6.28),
        st.floats(-1.2, 1.2),
        st.booleans(),
        st.tuples(st.integers(250, 650), st.integers(200, 500)),
        st.lists(st.sampled_from(sorted(WAYS)), min_size=1, max_size=8),
        st.sampled_from(("stops", "vertices")),
    )
    def test_every_place_walked_to_can_be_seen_and_lies_that_way(
        self,
        part: int,
        turn: float,
        rise: float,
        parallel: bool,
        start: tuple[int, int],
        ways: list[Way],
        by: By,
    ) -> None:
        mesh = PARTS[part]
        camera = seen(mesh, turn, rise, parallel=parallel)
        pixel = (float(start[0]), float(start[1]))
        for way in ways:
            here = mark_at(mesh, pixel, camera, SETTLING)
            found = walk(mesh, pixel, camera, way, by, SETTLING)
            if here.kind == "off":
                self.assertIsNone(found)
            if found is None:
                continue
            assert here.place is not None
            step = np.array(found) - camera.project(here.place[None])[0]
            self.assertGreater(float(step @ np.array(WAYS[way])), 0)
            places = mesh.points[mesh.edges.ends]
            stops = np.concatenate(
                [(1 - t) * places[:, 0] + t * places[:, 1] for t in (0, 0.25, 0.5, 0.75, 1)]
            )
            near = np.linalg.norm(camera.project(stops) - np.array(found), axis=1) < 1e-6
            self.assertTrue(near.any())
            self.assertTrue(look_at(mesh, camera, stops[near]).clear.any())
            if by == "vertices":
                corners = np.linalg.norm(camera.project(mesh.points) - np.array(found), axis=1)
                self.assertLess(corners.min(), 1e-6)
            pixel = found

    def test_from_stop_to_stop_along_an_edge_and_back(self) -> None:
        mesh = box(2, 2, 2)
        front = View(
            eye=(0, 0, 10), target=(0, 0, 0), projection="parallel", height=4, size=(400, 400)
        )
        camera, at = Camera.of(front), (100.0, 100.0)
        reached = []
        for way in ("right", "right", "right", "right", "right", "left"):
            found = walk(mesh, at, camera, way, "stops", SETTLING)
            reached.append(found)
            at = found or at
        self.assertEqual(
            reached, [(150, 100), (200, 100), (250, 100), (300, 100), None, (250, 100)]
        )
        self.assertEqual(walk(mesh, (200.0, 210.0), camera, "down", "vertices", SETTLING)[1], 300)
        self.assertIsNone(walk(mesh, (10.0, 10.0), camera, "down", "vertices", SETTLING))
