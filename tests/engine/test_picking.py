"""Picking and locks at the core: chains, regions, brushes, what a cut makes of a pick, and exact
guides."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import apply_step, parse_step
from cutcore.aiming.locks import Lock, guide_for
from cutcore.aiming.marks import Settling, mark_at
from cutcore.aiming.picking.carried import Pick, carried
from cutcore.aiming.picking.chains import edge_loop, ring, shortest_path
from cutcore.aiming.picking.pointer import in_rectangle, under_brush, under_pointer
from cutcore.aiming.picking.regions import (
    border_of,
    by_flow,
    connected,
    grown,
    inverted,
    patch_of,
    shrunk,
)
from cutcore.geometry.camera import Camera, View
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.ray_caster import Shown
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.trace.surface_points import EdgePoint, FacePoint, locate
from tests.zoo import CLOSED, two_shells

CUBE = box(2, 2, 2, (3, 3, 3))
FRONT = Camera.of(
    View(eye=(0, 0, 10), target=(0, 0, 0), projection="parallel", height=4, size=(400, 400))
)
NONE = np.zeros(0, dtype=np.int64)


def pixel(x: float, y: float) -> tuple[float, float]:
    return 200 + 100 * x, 200 - 100 * y


class Chains(SimpleTestCase):
    def test_loops_and_rings_go_all_round(self) -> None:
        donut = torus(1.0, 0.3, 12, 8)
        a, b, c, _ = donut.face(0).tolist()
        self.assertEqual(
            {
                len(edge_loop(donut, donut.edges.between(a, b))),
                len(edge_loop(donut, donut.edges.between(b, c))),
            },
            {12, 8},
        )
        self.assertEqual(
            {
                len(ring(donut, donut.edges.between(a, b))),
                len(ring(donut, donut.edges.between(b, c))),
            },
            {12, 8},
        )
        grid = sheet(4, 3, 4, 3)
        rim = int(np.flatnonzero(grid.edges.border)[0])
        self.assertEqual(len(edge_loop(grid, rim)), 14)

    @settings(max_examples=40)
    @given(st.sampled_from(sorted(CLOSED)), st.integers(0, 9999), st.integers(0, 9999))
    def test_a_shortest_path_joins_its_ends_or_there_is_none(self, name, one, other) -> None:
        mesh = CLOSED[name]
        a, b = one % mesh.vertex_count, other % mesh.vertex_count
        path = shortest_path(mesh, a, b)
        degree = np.bincount(mesh.edges.ends[path].ravel(), minlength=mesh.vertex_count)
        if len(path):
            self.assertEqual(sorted(np.flatnonzero(degree == 1).tolist()), sorted({a, b}))
            self.assertLessEqual(degree.max(), 2)
        else:
            self.assertTrue(a == b or b not in connected(mesh, "vertices", np.array([a])))


class Regions(SimpleTestCase):
    def test_growing_then_shrinking_gives_the_pick_back(self) -> None:
        for kind, element in (("faces", 13), ("vertices", 20), ("edges", 30)):
            start = np.array([element])
            more = grown(CUBE, kind, start)
            self.assertGreater(len(more), 1)
            self.assertIn(element, shrunk(CUBE, kind, more))
            self.assertEqual(
                len(inverted(CUBE, kind, more)) + len(more), len(inverted(CUBE, kind, NONE))
            )

    def test_shells_patches_borders_and_flow(self) -> None:
        pair = two_shells()
        self.assertEqual(len(connected(pair, "faces", np.array([0]))), 24)
        self.assertEqual(len(patch_of(pair, np.array([0]))), pair.face_count)
        self.assertEqual(len(border_of(CUBE, np.array([0]))), 4)
        self.assertEqual(len(border_of(sheet(1, 1, 2, 2), NONE)), 8)
        kind, poles = by_flow(CUBE, "poles")
        self.assertEqual((kind, len(poles)), ("vertices", 8))


class Pointer(SimpleTestCase):
    def test_only_what_can_be_seen_is_picked(self) -> None:
        rim = (pixel(-1.2, -1.2), pixel(1.2, 1.2))
        self.assertEqual(len(in_rectangle(CUBE, "faces", *rim, FRONT, through=False)), 9)
        self.assertEqual(
            len(in_rectangle(CUBE, "faces", *rim, FRONT, through=True)), CUBE.face_count
        )
        self.assertEqual(len(in_rectangle(CUBE, "vertices", *rim, FRONT, through=False)), 16)
        self.assertEqual(len(under_brush(CUBE, "faces", pixel(0, 0), 60, FRONT)), 9)
        self.assertEqual(len(under_brush(CUBE, "vertices", pixel(1 / 3, 1 / 3), 10, FRONT)), 1)
        self.assertEqual(
            [
                len(under_pointer(CUBE, kind, pixel(0.34, 0.31), FRONT))
                for kind in ("faces", "edges", "vertices")
            ],
            [1, 1, 1],
        )

    def test_rays_go_through_hidden_faces(self) -> None:
        front = under_pointer(CUBE, "faces", pixel(0, 0), FRONT)
        behind = under_pointer(
            CUBE,
            "faces",
            pixel(0, 0),
            FRONT,
            Shown(CUBE, np.setdiff1d(np.arange(CUBE.face_count), front)),
        )
        self.assertEqual(CUBE.points[CUBE.face(int(behind[0])), 2].tolist(), [-1.0] * 4)


class Carried(SimpleTestCase):
    def test_a_pick_becomes_all_its_children_and_pieces(self) -> None:
        top = np.flatnonzero((CUBE.points[CUBE.corners].reshape(-1, 4, 3)[..., 1] == 1).all(axis=1))
        edge = int(CUBE.edges.of_corner[CUBE.starts[top[4]]])
        share = 0.5
        plane = {"point": [0.1, 0.05, 0.07], "normal": [1.0, 0.2, 0.9]}
        result = apply_step(CUBE, parse_step({"tool": "slice", "plane": plane}))
        held = carried(CUBE, result, Pick(np.array([0]), np.arange(len(CUBE.edges)), top))
        self.assertEqual(held.vertices.tolist(), [0])
        self.assertTrue((result.origin.face[held.faces][:, None] == top).any(axis=1).all())
        self.assertEqual(len(held.faces), int(np.isin(result.origin.face, top).sum()))
        # All old edges, whole or in pieces: what is left over is what the cut drew.
        fresh = np.setdiff1d(np.arange(len(result.mesh.edges)), held.edges)
        self.assertEqual(len(fresh), len(result.picked.edges))
        line = {
            "points": [
                {"edge": CUBE.edges.ends[edge].tolist(), "t": share},
                {"vertex": int(CUBE.face(int(top[4]))[2])},
            ]
        }
        split = apply_step(CUBE, parse_step({"tool": "knife", "lines": [line]}))
        self.assertEqual(len(carried(CUBE, split, Pick(NONE, np.array([edge]), NONE)).edges), 2)


class Locks(SimpleTestCase):
    @settings(max_examples=80)
    @given(st.floats(-170, 170), st.sampled_from(["view", "edge"]), st.floats(0.1, 0.9))
    def test_a_typed_angle_is_the_angle_on_the_face_from_any_view(
        self, degrees, against, share
    ) -> None:
        plate = sheet(4.0, 4.0, 1, 1)
        camera = Camera.of(View(eye=(1.0, 6.0, 3.0), target=(0, 0, 0), fov=40, size=(800, 600)))
        if against == "view":
            camera = Camera.of(
                View(
                    eye=(0, 9, 0),
                    target=(0, 0, 0),
                    up=(0, 0, -1),
                    projection="parallel",
                    height=6,
                    size=(600, 600),
                )
            )
        a, b = plate.edges.ends[0].tolist()
        start = locate(plate, EdgePoint(edge=(a, b), t=share), None, weld=weld_of(plate))
        guide = guide_for(
            plate,
            Lock(kind="angle", value=degrees, against=against),
            start,
            None,
            (400, 300),
            camera,
        )
        assert guide is not None
        reference = camera.right if against == "view" else plate.points[b] - plate.points[a]
        turned = np.degrees(
            np.arctan2(
                guide.direction @ np.cross([0, 1, 0], reference), guide.direction @ reference
            )
        )
        self.assertAlmostEqual(float((turned - degrees + 180) % 360), 180.0, places=9)
        inside = start.place + 1.0 * guide.direction
        if np.abs(inside[[0, 2]]).max() < 1.9:
            mark = mark_at(
                plate, tuple(camera.project(inside[None])[0]), camera, Settling(), guide=guide
            )
            assert isinstance(mark.point, FacePoint)
            away = np.array(mark.point.at) - start.place
            self.assertLess(float(np.linalg.norm(np.cross(away, guide.direction))), 1e-9)

    def test_axes_the_edge_and_square_to_it_hold_the_direction(self) -> None:
        start = locate(
            CUBE,
            EdgePoint(edge=tuple(CUBE.edges.ends[0].tolist()), t=0.5),
            None,
            weld=weld_of(CUBE),
        )
        along = CUBE.points[CUBE.edges.ends[0, 1]] - CUBE.points[CUBE.edges.ends[0, 0]]
        camera = Camera.of(View(eye=(4, 5, 9), target=(0, 0, 0), fov=40, size=(800, 600)))
        for kind, wanted in (("x", [1, 0, 0]), ("y", [0, 1, 0]), ("along", along)):
            guide = guide_for(CUBE, Lock(kind=kind), start, None, (500, 200), camera)
            assert guide is not None
            self.assertLess(float(np.linalg.norm(np.cross(guide.direction, wanted))), 1e-12)
        square = guide_for(CUBE, Lock(kind="square"), start, None, (500, 200), camera)
        assert square is not None
        self.assertAlmostEqual(float(square.direction @ along), 0.0)
        self.assertIsNone(
            guide_for(CUBE, Lock(kind="angle", against="stretch"), start, None, (500, 200), camera)
        )
