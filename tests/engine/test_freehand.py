"""Freehand: strokes scored into the part, and strokes that thin it."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase

from cutcore import CutError, Mesh, Result, apply_step, parse_step, problems
from cutcore.geometry.camera import Camera, View
from cutcore.geometry.polygons import distance_to_segments
from cutcore.geometry.strokes import joined, simplified, smoothed
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.steps.registry import TOOLS
from cutcore.tool import Drawn
from tests.guarantees import assert_guarantees, assert_tables_true, volume_of
from tests.zoo import concave_plate, painted

PLATE = sheet(4.0, 4.0, 8, 8)
ABOVE = {
    "eye": [0, 10, 0],
    "target": [0, 0, 0],
    "up": [0, 0, -1],
    "projection": "parallel",
    "height": 5,
    "size": [500, 500],
}
FRONT = {"eye": [0, 0, 6], "target": [0, 0, 0], "fov": 35, "size": [500, 500]}


def made(mesh: Mesh, tool: str, points: Any, **more: Any) -> Result:
    strokes = points if isinstance(points[0], dict) else [{"points": points}]
    step = {"tool": tool, "view": ABOVE, "strokes": strokes, **more}
    result = apply_step(mesh, parse_step(step))
    result.mesh.check()
    assert_tables_true(result.mesh)
    return result


def codes(result: Result) -> set[str]:
    return {note.code for note in result.notes}


def wave(count: int = 60, high: float = 40.0) -> list[list[float]]:
    x = np.linspace(20, 480, count)
    return np.stack([x, 255 + high * np.sin(x / 60)], axis=1).tolist()


def new_edges(before: Mesh, result: Result) -> np.ndarray:
    """The new edges inside the faces of before, as pairs of places (n, 2, 3)."""
    mesh = result.mesh
    fresh = (result.origin.vertex[mesh.edges.ends] < 0).all(axis=1)
    return mesh.points[mesh.edges.ends[fresh]]


class Scores(SimpleTestCase):
    def test_a_score_keeps_its_shape_to_within_the_pixels_it_was_told(self) -> None:
        stroke = np.array(wave())
        for within in (0.0, 0.5, 4.0):
            result = made(PLATE, "freehand", stroke.tolist(), within=within)
            assert_guarantees(PLATE, result, flat=True)
            fresh = result.mesh.points[result.origin.vertex < 0]
            pixels = Camera.of(View.model_validate(ABOVE)).project(fresh)
            gaps = distance_to_segments(pixels, stroke[:-1], stroke[1:]).min(axis=1)
            self.assertLessEqual(gaps.max(), within + 1e-6)
            crossed = pixels[
                (np.abs(fresh[:, 0] % 0.5) < 1e-9) | (np.abs(fresh[:, 2] % 0.5) < 1e-9)
            ]
            self.assertGreater(len(crossed), 8)
        self.assertLess(len(fresh), 40, "told by few points")

    def test_only_at_edges_no_vertex_lies_inside_a_face(self) -> None:
        result = made(PLATE, "freehand", wave(), keeps="edges")
        assert_guarantees(PLATE, result, flat=True)
        fresh = result.mesh.points[result.origin.vertex < 0]
        on_lines = np.minimum(np.abs(fresh[:, 0] * 2 % 1), np.abs(fresh[:, 2] * 2 % 1))
        self.assertLess(np.minimum(on_lines, 1 - on_lines).max(), 1e-9)

    def test_a_share_counts_from_the_left_of_the_stroke_whichever_way_it_runs(self) -> None:
        across = [[20.0, 265.0], [480.0, 265.0]]
        for points, z in ((across, -0.25), (across[::-1], 0.25)):
            result = made(PLATE, "freehand", points, keeps="edges", share=0.25)
            fresh = result.mesh.points[result.origin.vertex < 0]
            row = np.floor(0.15 / 0.5) * 0.5
            self.assertEqual(set((fresh[:, 2] - row - 0.25).round(12)), {z / 2})
        self.assertEqual(len(fresh), 9)

    def test_scores_side_by_side_land_on_their_shares_to_the_last_bit(self) -> None:
        across = [[20.0, 265.0], [480.0, 265.0]]
        result = made(PLATE, "freehand", across, keeps="edges", spread={"count": 3})
        assert_guarantees(PLATE, result, flat=True)
        self.assertEqual(
            set(result.mesh.points[result.origin.vertex < 0][:, 2].tolist()), {0.125, 0.25, 0.375}
        )
        crowded = made(PLATE, "freehand", across, keeps="edges", spread={"count": 2, "ratio": 2})
        heights = sorted(set(crowded.mesh.points[crowded.origin.vertex < 0][:, 2].round(12)))
        self.assertEqual(np.diff([0, *heights, 0.5]).argmax() in (0, 2), True)

    def test_right_through_the_stroke_goes_round_the_part(self) -> None:
        solid = torus(2.0, 0.7, 16, 8)
        view = {"eye": [0, 9, 3], "target": [0, 0, 0], "fov": 40, "size": [500, 500]}
        stroke = [[10.0, 250.0], [490.0, 262.0]]
        for keeps in ("shape", "edges"):
            near = made(solid, "freehand", stroke, view=view, keeps=keeps)
            whole = made(solid, "freehand", stroke, view=view, keeps=keeps, reach="through")
            assert_guarantees(solid, whole, flat=False)
            self.assertGreater(whole.mesh.face_count, near.mesh.face_count + 10)
            self.assertEqual(len(codes(whole) & {"open-end-trim"}), 0, "it closes on itself")

    def test_a_stroke_that_comes_back_is_closed_and_strokes_that_meet_are_one(self) -> None:
        turn = np.linspace(0, 2 * np.pi, 50)
        ring = np.stack([250 + 90 * np.cos(turn), 250 + 90 * np.sin(turn)], axis=1)
        ring[-1] += [5.0, 3.0]
        step = parse_step(
            {"tool": "freehand", "view": ABOVE, "strokes": [{"points": ring.tolist()}]}
        )
        drawn = TOOLS["freehand"].trace(PLATE, step)  # type: ignore[union-attr]
        extra = TOOLS["freehand"].extra(PLATE, step, Drawn(drawn, ()))  # type: ignore[misc]
        self.assertEqual((extra.lines, extra.closed), (1, 1))  # type: ignore[union-attr]
        self.assertEqual(codes(made(PLATE, "freehand", ring.tolist())), set())
        halves = [{"points": ring[:26].tolist()}, {"points": ring[:25:-1].tolist()}]
        together = made(PLATE, "freehand", halves, join=30)
        self.assertEqual(codes(together), set())
        self.assertEqual([line.closed for line in joined([ring[:26], ring[:25:-1]], 30)], [True])

    def test_ends_settle_where_they_are_told_and_refusals_name_them(self) -> None:
        stroke = {"points": [[130, 130], [300, 200], [420, 380]], "start": {"vertex": 20}}
        result = made(PLATE, "freehand", [stroke])
        assert_guarantees(PLATE, result, flat=True)
        self.assertGreater(len(result.mesh.edges.at_vertex(20)), 4)
        for bad, where in (
            ({"start": {"vertex": 999}}, r"strokes\[0\]\.start"),
            ({"end": {"edge": [0, 50], "t": 0.5}}, r"strokes\[0\]\.end"),
        ):
            with self.assertRaisesRegex(CutError, where):
                made(PLATE, "freehand", [{"points": [[130, 130], [300, 200]], **bad}])

    def test_what_misses_crosses_nothing_or_leaves_a_face_is_said(self) -> None:
        self.assertIn("stroke-misses", codes(made(PLATE, "freehand", [[1, 1], [20, 3]])))
        inside = made(PLATE, "freehand", [[260, 260], [270, 270]], keeps="edges")
        self.assertIn("stroke-no-edges", codes(inside))
        self.assertIs(inside.mesh, PLATE)
        plate = concave_plate()
        low, high = plate.box
        view = ABOVE | {
            "height": 1.2 * float(np.ptp(plate.box)),
            "target": (0.5 * (low + high)).tolist(),
        }
        view["eye"] = [view["target"][0], 10, view["target"][2]]
        for seed in range(12):
            ends = np.random.default_rng(seed).uniform(20, 480, (6, 2)).tolist()
            bent = made(plate, "freehand", ends, view=view, keeps="edges")
            assert_guarantees(plate, bent, flat=True)

    def test_smoothing_keeps_the_ends_and_takes_out_the_trembling(self) -> None:
        line = np.array(wave()) + np.random.default_rng(2).normal(0, 2, (60, 2))
        soft = smoothed(line, 0.3, closed=False)
        np.testing.assert_array_equal(soft[[0, -1]], line[[0, -1]])
        self.assertLess(_wiggle(soft), 0.2 * _wiggle(line))
        self.assertLess(len(simplified(soft, 1.0, closed=False)), 25)
        self.assertEqual(len(simplified(line[:1], 1.0, closed=False)), 1)


def _wiggle(line: np.ndarray) -> float:
    """How much a line turns for its length."""
    along = np.diff(line, axis=0)
    turn = np.diff(np.unwrap(np.arctan2(along[:, 1], along[:, 0])))
    return float(np.abs(turn).sum())


class Thinning(SimpleTestCase):
    def test_a_loop_that_was_cut_is_thinned_away_and_the_part_is_as_before(self) -> None:
        solid = painted(torus(2.0, 0.7, 16, 8), every=3)
        a, b = solid.edges.ends[int(solid.edges.of_corner[0])].tolist()
        looped = apply_step(solid, parse_step({"tool": "loop", "edge": [a, b], "at": [0.3]})).mesh
        fresh = np.flatnonzero((looped.edges.ends >= solid.vertex_count).all(axis=1))
        view = {"eye": [0, 9, 3], "target": [0, 0, 0], "fov": 40, "size": [500, 500]}
        camera = Camera.of(View.model_validate(view))
        middles = looped.points[looped.edges.ends[fresh]].mean(axis=1)
        seen = middles[np.argmax(middles @ -camera.forward)]
        x, y = camera.project(seen[None])[0]
        done = False
        for across in ([0.0, 6.0], [6.0, 0.0]):
            stroke = [[x - across[0], y - across[1]], [x + across[0], y + across[1]]]
            result = made(looped, "thin", stroke, view=view, loops=True)
            if result.mesh.face_count == solid.face_count:
                done = True
                np.testing.assert_array_equal(result.mesh.points, solid.points)
                self.assertEqual(
                    {tuple(sorted(result.mesh.face(f).tolist())) for f in range(solid.face_count)},
                    {tuple(sorted(solid.face(f).tolist())) for f in range(solid.face_count)},
                )
        self.assertTrue(done)

    def test_crossed_edges_collapse_where_they_were_crossed_or_at_a_share(self) -> None:
        across = [[20.0, 265.0], [480.0, 265.0]]
        for share, z in ((None, 0.15), (0.5, 0.25), (0.0, 0.0)):
            result = made(PLATE, "thin", across, then="collapse", share=share)
            self.assertEqual(result.mesh.face_count, PLATE.face_count - 8)
            heights = set(result.mesh.points[:, 2].round(9))
            self.assertIn(z, heights)
            self.assertEqual(len(heights), 8)
            self.assertEqual(problems(result.mesh), [])

    def test_the_mirror_thins_the_other_side_too(self) -> None:
        short = [[130.0, 265.0], [170.0, 265.0]]
        one = made(PLATE, "thin", short)
        both = made(PLATE, "thin", short, mirror={"axis": "x"})
        self.assertEqual(one.mesh.face_count, PLATE.face_count - 1)
        self.assertEqual(both.mesh.face_count, PLATE.face_count - 2)
        lone = made(PLATE, "thin", short, mirror={"axis": "x", "offset": 1.3})
        self.assertIn("no-counterpart", codes(lone))

    def test_a_ring_goes_whole_from_one_crossing(self) -> None:
        solid = box(2, 2, 2, (3, 3, 3))
        result = made(
            solid, "thin", [[240, 270], [240, 330]], view=FRONT, then="collapse", loops=True
        )
        self.assertEqual(result.mesh.face_count, 54 - 12)
        self.assertEqual(problems(result.mesh), [])

    def test_what_would_fold_or_tear_stays_and_is_said(self) -> None:
        solid = ball(1.0, 4)
        scribble = np.random.default_rng(5).uniform(120, 380, (60, 2)).tolist()
        for more in ({}, {"then": "collapse"}, {"then": "collapse", "loops": True}):
            result = made(solid, "thin", scribble, view=FRONT, reach="through", join=0, **more)
            self.assertEqual(problems(result.mesh), [], more)
            if result.mesh is not solid:
                self.assertGreater(volume_of(result.mesh), 0)
        nothing = made(solid, "thin", [[1, 1], [9, 9]], view=FRONT)
        self.assertIn("nothing-to-do", codes(nothing))
        self.assertIs(nothing.mesh, solid)
