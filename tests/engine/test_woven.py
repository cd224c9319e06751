"""Woven: the grid bends to a line, for every tool that draws one."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, Result, apply_step, parse_step
from cutcore.errors import StepError
from cutcore.mesh.result import Origin
from cutcore.previews.finishes import finishes_compared, surface_moved
from cutcore.previews.plan import plan_of
from cutcore.queries.corner_forms import scaled_jacobians
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from cutcore.steps.registry import title_of
from cutcore.steps.replay import trace_step
from tests.guarantees import assert_same_mesh
from tests.random_steps import CUTS, Chance, random_cut
from tests.woven import assert_on_the_line, assert_woven, hard_length, touched_quads
from tests.zoo import ZOO, painted

TUBE = [(1.0, float(y)) for y in np.linspace(-1, 1, 13)]
GROUNDS: dict[str, Mesh] = {
    "torus": torus(1.0, 0.4, 32, 16),
    "thin ring": torus(1.0, 0.3, 48, 24),
    "ball": ball(1.0, 8),
    "fine ball": ball(1.0, 16),
    "sheet": sheet(20.0, 20.0, 20, 20),
    "box": box(2.0, 2.0, 2.0, (8, 8, 8)),
    "can": turned(TUBE, 24),
}
WEAVERS = tuple(tool for tool in CUTS if tool != "profile")


def woven(mesh: Mesh, **step: Any) -> Result:
    return apply_step(mesh, parse_step({**step, "finish": "woven"}))


def slice_at(point: list[float], normal: list[float], **more: Any) -> dict[str, Any]:
    return {"tool": "slice", "plane": {"point": point, "normal": normal}, **more}


def knife(*points: Any, **more: Any) -> dict[str, Any]:
    return {"tool": "knife", "lines": [{"points": list(points)}], **more}


def moved_by(mesh: Mesh, result: Result) -> tuple[float, Any]:
    return surface_moved(Result(mesh, Origin.same(mesh)), result)


def ends_of(result: Result) -> int:
    """How many vertices of the line are ends of it, or meet more than two of its edges."""
    return int((np.unique(result.picked.edges, return_counts=True)[1] != 2).sum())


class Everywhere(SimpleTestCase):
    @settings(max_examples=120, deadline=None)
    @given(st.sampled_from(sorted(GROUNDS)), st.sampled_from(WEAVERS), st.integers(0, 10**6))
    def test_whatever_is_drawn_becomes_edges_with_sound_quads_round_it(
        self, name: str, tool: str, seed: int
    ) -> None:
        mesh = GROUNDS[name]
        step = parse_step(
            {**random_cut(Chance(mesh, random.Random(seed)), tool), "finish": "woven"}
        )
        try:
            trace, result = trace_step(mesh, step), apply_step(mesh, step)
        except CutError as refusal:
            self.assertTrue(refusal.words)
            return
        if result.mesh is mesh:
            return
        assert_woven(mesh, result)
        assert_on_the_line(trace, result)
        # Faces of many corners may be parted once, loops may be added first.
        if not {note.code for note in result.notes} & {"loops-first"} and name != "can":
            added = result.mesh.face_count - mesh.face_count
            self.assertLessEqual(added, 2.2 * len(result.picked.edges) + 6 * ends_of(result))
            self.assertEqual((result.mesh.sizes != 4).sum(), (mesh.sizes != 4).sum())

    @settings(max_examples=40, deadline=None)
    @given(st.sampled_from(sorted(ZOO)), st.sampled_from(WEAVERS), st.integers(0, 10**6))
    def test_awkward_parts_are_woven_soundly_or_refused_in_words(
        self, name: str, tool: str, seed: int
    ) -> None:
        mesh = painted(ZOO[name], every=5)
        step = random_cut(Chance(mesh, random.Random(seed)), tool)
        try:
            result = woven(mesh, **{**step, "woven": {"most_moved": None}})
        except CutError as refusal:
            self.assertTrue(refusal.words)
            return
        if result.mesh is not mesh:
            assert_woven(mesh, result)

    def test_slices_leave_good_quads(self) -> None:
        source = np.random.default_rng(5)
        least, middle, made = [], [], 0
        for k in range(100):
            mesh = GROUNDS[sorted(GROUNDS)[k % len(GROUNDS)]]
            normal = source.normal(size=3)
            point = mesh.box.mean(axis=0) + source.uniform(-0.2, 0.2) * mesh.diagonal * normal / (
                2 * np.linalg.norm(normal)
            )
            try:
                result = woven(mesh, **slice_at(point.tolist(), normal.tolist()))
            except StepError:
                continue
            if result.mesh is mesh:
                continue
            made += 1
            form = scaled_jacobians(result.mesh, touched_quads(result))
            least.append(form.min())
            middle.append(float(np.median(form)))
        self.assertGreaterEqual(made, 90)
        self.assertGreaterEqual(float(np.mean(np.array(least) >= 0.3)), 0.95)
        self.assertGreaterEqual(min(middle), 0.9)


class OnTheLine(SimpleTestCase):
    def test_planned_points_ends_and_crossings_get_a_vertex_just_there(self) -> None:
        mesh = sheet(20.0, 20.0, 20, 20)
        places = [[-6.3, 0.0, 1.2], [0.4, 0.0, -2.6], [5.7, 0.0, 4.4]]
        points = [{"face": face_at(mesh, place), "at": place} for place in places]
        result = woven(mesh, **knife(*points))
        for place in places:
            gaps = np.linalg.norm(result.mesh.points - place, axis=1)
            self.assertLessEqual(gaps.min(), 1e-12 * mesh.diagonal)
        moved, _ = moved_by(mesh, result)
        self.assertLessEqual(moved, 1e-12 * mesh.diagonal)
        crossed = woven(
            mesh,
            tool="knife",
            lines=[line_of(mesh, *places[:2]), line_of(mesh, [-3.2, 0.0, -4.1], [-2.1, 0.0, 3.9])],
        )
        counts = np.unique(crossed.picked.edges, return_counts=True)[1]
        self.assertEqual(sorted(counts[counts != 2].tolist()), [1, 1, 1, 1, 4])

    def test_borders_sharp_edges_and_patches_stay_where_they_are(self) -> None:
        mesh = box(2.0, 2.0, 2.0, (8, 8, 8))
        top = mesh.points[mesh.corners].reshape(-1, 4, 3).mean(axis=1)[:, 1] > 0.99
        patched = Mesh(
            mesh.points,
            mesh.starts,
            mesh.corners,
            mesh.uv,
            patch=np.where(top, 0, 1),
            patches=("lid", "rest"),
            hard=mesh.edges.ends[(mesh.points[mesh.edges.ends] @ [4, 0, 0] == 1.0).all(axis=1)],
        )
        result = woven(patched, **slice_at([0.05, 0, 0.02], [1.0, 0.2, 0.45]))
        assert_woven(patched, result)
        for name in ("lid", "rest"):
            was, now = (area_of_patch(one, name) for one in (patched, result.mesh))
            self.assertAlmostEqual(was, now, places=9)
        self.assertAlmostEqual(hard_length(patched), hard_length(result.mesh), places=9)
        corners = [[x, y, z] for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)]
        for corner in corners:
            self.assertEqual(np.abs(result.mesh.points - corner).sum(axis=1).min(), 0.0)

    def test_texture_places_stay_those_of_the_surface(self) -> None:
        mesh = sheet(20.0, 20.0, 20, 20)
        assert mesh.uv is not None
        table = np.column_stack([mesh.points[:, [0, 2]], np.ones(mesh.vertex_count)])
        way, *_ = np.linalg.lstsq(table[mesh.corners], mesh.uv, rcond=None)
        result = woven(mesh, **slice_at([0.1, 0, 0.3], [-0.5, 0, 0.87])).mesh
        assert result.uv is not None
        now = np.column_stack([result.points[:, [0, 2]], np.ones(result.vertex_count)])
        np.testing.assert_allclose(now[result.corners] @ way, result.uv, atol=1e-12)

    def test_lines_as_dense_as_the_grid_take_a_row_each(self) -> None:
        mesh = sheet(20.0, 20.0, 20, 20)
        widths = [0.5] + [1.0] * 18
        result = woven(mesh, tool="gauge", axis="x", widths=widths)
        assert_woven(mesh, result)
        self.assertEqual(result.mesh.face_count - mesh.face_count, 19 * 2 * 20)
        with self.assertRaises(StepError):
            woven(mesh, tool="gauge", axis="x", widths=[0.06] * 300)

    def test_a_line_that_ends_inside_closes_with_one_quad_ahead(self) -> None:
        mesh = sheet(20.0, 20.0, 20, 20)
        result = woven(mesh, **knife(*line_of(mesh, [-3.5, 0, 0.4], [4.5, 0, 0.6])["points"]))
        edges = len(result.picked.edges)
        self.assertEqual(result.mesh.face_count - mesh.face_count, 2 * edges + 2)


class Settings(SimpleTestCase):
    def test_what_moves_more_than_is_allowed_is_refused_with_its_place(self) -> None:
        step = slice_at([0, 0.05, 0], [0.3, 1, 0.2])
        with self.assertRaises(StepError) as caught:
            woven(GROUNDS["torus"], **step, woven={"most_moved": 0.001})
        self.assertEqual(caught.exception.where, "woven.most_moved")
        self.assertTrue(caught.exception.elements)
        told = woven(GROUNDS["torus"], **step, woven={"most_moved": None})
        self.assertIn("surface-moved", {note.code for note in told.notes})
        with self.assertRaises(StepError) as caught:
            woven(GROUNDS["torus"], **step, woven={"most_off": 1e-9})
        self.assertEqual(caught.exception.where, "woven.most_off")

    def test_edges_that_bend_less_than_is_said_may_be_crossed_anywhere(self) -> None:
        step = slice_at([0, 0.05, 0], [0.3, 1, 0.2])
        free, held = (
            woven(GROUNDS["can"], **step, woven={"even_to": degrees, "most_moved": None})
            for degrees in (30.0, 10.0)
        )
        before = GROUNDS["can"]
        side = before.edges.ends[
            np.abs(np.diff(before.points[before.edges.ends][..., 1])[:, 0]) > 0
        ]
        still = [np.isin(side, result.origin.vertex).all(axis=1).mean() for result in (free, held)]
        self.assertEqual(still, [1.0, 1.0])
        moved = [moved_by(before, result)[0] for result in (free, held)]
        self.assertLess(moved[1], 1e-9)
        self.assertGreater(moved[0], 1e-4)

    def test_faces_beyond_a_limit_keep_their_form(self) -> None:
        mesh = sheet(20.0, 20.0, 20, 20)
        middles = mesh.points[mesh.corners].reshape(-1, 4, 3).mean(axis=1)
        limit = np.flatnonzero(middles[:, 0] < 2.0)
        result = woven(mesh, **slice_at([0, 0, 0.3], [-0.3, 0, 1.0]), limit=limit.tolist())
        assert_woven(mesh, result)
        beyond = np.setdiff1d(np.arange(mesh.face_count), limit)
        areas = [np.linalg.norm(m.face_normals(beyond), axis=1) for m in (mesh, result.mesh)]
        np.testing.assert_allclose(areas[0], areas[1], rtol=1e-12)
        self.assertGreater(result.mesh.face_count, mesh.face_count)

    def test_with_a_mirror_both_sides_are_alike_to_the_last_bit(self) -> None:
        alike = 0
        for point, normal in (([0.5, 0, 0], [1, 0.2, 0.1]), ([0.45, 0.1, 0], [1, -0.15, 0.2])):
            for name in ("ball", "box", "fine ball"):
                mesh = GROUNDS[name]
                step = slice_at(point, normal, mirror={"axis": "x", "offset": 0.0})
                result = woven(mesh, **step)
                assert_woven(mesh, result)
                if "not-alike" in {note.code for note in result.notes}:
                    continue
                alike += 1
                here = {tuple(p) for p in (result.mesh.points + 0.0).tolist()}
                shown = {tuple(p) for p in (result.mesh.points * [-1, 1, 1] + 0.0).tolist()}
                old = {tuple(p) for p in (mesh.points + 0.0).tolist()}
                if {tuple(p) for p in (mesh.points * [-1, 1, 1] + 0.0).tolist()} == old:
                    self.assertEqual(here, shown, (name, point))
        self.assertGreaterEqual(alike, 4)


class Coarse(SimpleTestCase):
    def test_where_nothing_can_bend_it_is_refused_with_the_place_and_a_way_out(self) -> None:
        mesh = sheet(2.0, 2.0, 2, 2)
        with self.assertRaises(StepError) as caught:
            woven(
                mesh,
                **knife(*line_of(mesh, [-0.9, 0, -0.9], [-0.2, 0, -0.2])["points"], {"vertex": 4}),
            )
        self.assertIn("add a loop first", caught.exception.words)
        self.assertEqual(caught.exception.where, "finish")
        self.assertTrue(caught.exception.elements)

    def test_loops_are_added_where_one_row_lies_between_sharp_edges(self) -> None:
        band = turned([(1.0, 0.0), (1.0, 0.5), (0.6, 0.6), (0.6, 1.2)], 24)
        result = woven(band, **slice_at([0, 0.35, 0], [0.25, 1.0, 0.0]))
        self.assertIn("loops-first", {note.code for note in result.notes})
        assert_woven(band, result)

    def test_a_large_face_is_parted_where_a_line_crosses_it(self) -> None:
        mesh = GROUNDS["can"]
        result = woven(mesh, **slice_at([0.1, 0, 0], [1, 0.1, 0.2]))
        assert_woven(mesh, result)
        self.assertEqual((result.mesh.sizes > 4).sum(), (mesh.sizes > 4).sum() + 2)


class Told(SimpleTestCase):
    def test_its_plan_says_what_is_made(self) -> None:
        mesh, step = (
            GROUNDS["torus"],
            parse_step({**slice_at([0, 0.05, 0], [0.3, 1, 0.2]), "finish": "woven"}),
        )
        plan, result = plan_of(mesh, step), apply_step(mesh, step)
        self.assertEqual(plan.after.quads, result.mesh.face_count)
        assert plan.mending is not None
        form = scaled_jacobians(result.mesh, touched_quads(result))
        self.assertEqual(plan.mending.jacobian, form.min())
        self.assertEqual(plan.mending.median, float(np.median(form)))
        self.assertTrue(plan.woven)
        self.assertTrue(title_of(step).endswith(", woven"))
        assert_same_mesh(result.mesh, apply_step(mesh, step).mesh)

    def test_the_ways_to_finish_are_compared(self) -> None:
        mesh, step = GROUNDS["torus"], parse_step(slice_at([0, 0.05, 0], [0.3, 1, 0.2]))
        rows = {shown.finish: shown for shown in finishes_compared(mesh, step)}
        self.assertEqual(list(rows), ["as cut", "quads", "woven"])
        added = {name: row.after.quads - row.before.quads for name, row in rows.items()}
        self.assertGreater(added["quads"], added["woven"])
        assert rows["woven"].mending is not None and rows["quads"].mending is not None
        self.assertGreater(rows["woven"].mending.median, rows["quads"].mending.median)
        self.assertLess(rows["as cut"].moved, 1e-12)
        self.assertGreater(rows["woven"].moved, 0.0)
        tight = {**slice_at([0, 0.05, 0], [0.3, 1, 0.2]), "woven": {"most_moved": 0.0}}
        refused = finishes_compared(mesh, parse_step(tight))[2]
        self.assertIsNotNone(refused.refusal)
        self.assertIsNone(refused.mending)

    def test_what_is_discarded_or_moved_apart_is_no_movement_of_the_surface(self) -> None:
        mesh = GROUNDS["ball"]
        for more in ({"then": "discard"}, {"then": "part", "gap": [0, 3, 0]}, {"then": "halve"}):
            step = parse_step({**slice_at([0, 0.05, 0], [0.3, 1, 0.2]), **more})
            rows = {row.finish: row for row in finishes_compared(mesh, step)}
            self.assertLess(rows["as cut"].moved, 1e-12)
            self.assertLess(rows["woven"].moved, 0.05)
            self.assertGreater(rows["woven"].moved, 0.0)

    def test_what_the_sides_become_is_done_with_what_was_woven(self) -> None:
        mesh = GROUNDS["ball"]
        half = woven(mesh, **slice_at([0, 0.05, 0], [0.3, 1, 0.2]), then="discard", cap=True)
        half.mesh.check()
        self.assertFalse(half.mesh.edges.border.any())
        self.assertEqual(set(half.mesh.sizes[:-1].tolist()), {4})


def face_at(mesh: Mesh, place: list[float]) -> int:
    """The face of a flat sheet whose middle is nearest to a place."""
    middles = mesh.points[mesh.corners].reshape(-1, 4, 3).mean(axis=1)
    return int(np.argmin(np.linalg.norm(middles - place, axis=1)))


def line_of(mesh: Mesh, *places: list[float]) -> dict[str, Any]:
    return {"points": [{"face": face_at(mesh, place), "at": place} for place in places]}


def area_of_patch(mesh: Mesh, name: str) -> float:
    faces = np.flatnonzero(mesh.patch == mesh.patches.index(name))
    return float(np.linalg.norm(mesh.face_normals(faces), axis=1).sum())
