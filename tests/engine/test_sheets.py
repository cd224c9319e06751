"""Sheets before a part: how they stand, what their handles do, copies; and what suits an outline to
its surroundings."""

from __future__ import annotations

from unittest import mock

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from cutcore import Mesh, StepError, Trace, apply_step, parse_step, trace_step
from cutcore.aiming.placed_sheet import PlacedSheet, facing_normal, pulled, standing
from cutcore.aiming.sheet_copies import AlongPath, RoundAxis, copies_of
from cutcore.geometry.camera import Camera, View
from cutcore.geometry.polygons import inside_loop
from cutcore.outlines.drawn import flattened
from cutcore.outlines.makers import RectangleOutline, make_outline
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.tools.outline.forms import with_count
from cutcore.tools.outline.outline import OutlineParams, landed
from cutcore.trace.as_seen import Seen
from tests.engine.test_knife import DIRECTIONS, view_along
from tests.engine.test_outline import CUBE, DOWN, area_of_ring, codes, picked_area, project, ring
from tests.guarantees import area_of, assert_guarantees


def view(mesh: Mesh, forward: tuple[float, float, float]) -> View:
    """A parallel view of a part along a direction."""
    return View.model_validate(view_along(mesh, tuple((-np.array(forward)).tolist()), "parallel"))


CURVES = flattened(make_outline(RectangleOutline(width=0.6, height=0.4, corner=0.1)))
TOP = PlacedSheet(centre=(0.0, 1.0, 0.0), normal=(0.0, 1.0, 0.0), lift=0.5)


class Standing(SimpleTestCase):
    @settings(max_examples=60)
    @given(DIRECTIONS, st.floats(-360, 360), st.floats(0.1, 10), st.floats(-5, 5))
    def test_axes_are_square_and_places_keep_their_shape(self, normal, turn, scale, lift) -> None:
        placed = PlacedSheet(
            centre=(1.0, 2.0, 3.0), normal=tuple(normal), turn=turn, scale=scale, lift=lift
        )
        axes = np.array(placed.axes())
        np.testing.assert_allclose(axes @ axes.T, np.eye(3), atol=1e-12)
        self.assertAlmostEqual(float(np.linalg.det(axes)), 1.0, places=12)
        points = np.array([[0.0, 0, 0], [1, 0, 0], [0, 2, 0], [0, 0, 3]])
        there = placed.places(points)
        np.testing.assert_allclose(
            np.linalg.norm(there[1:] - there[0], axis=1), scale * np.array([1, 2, 3]), rtol=1e-12
        )
        np.testing.assert_allclose((there[0] - [1, 2, 3]) @ axes[2], lift, atol=1e-9)

    def pull(
        self,
        placed: PlacedSheet,
        handle: str,
        pixel: np.ndarray,
        *,
        free: bool = False,
        mesh: Mesh = CUBE,
    ):
        camera = Camera.of(view(CUBE, (0.0, -1.0, 0.0)))
        return pulled(
            mesh,
            placed,
            handle,
            tuple(pixel.tolist()),
            camera,
            facing="face",
            curves=CURVES,
            free=free,
            shown=None,
        )

    def test_over_the_part_it_stands_on_what_is_under_the_pointer_and_settles(self) -> None:
        camera = Camera.of(view(CUBE, (0.0, -1.0, 0.0)))

        def over(x: float, z: float) -> np.ndarray:
            return camera.project(np.array([[x, 1.0, z]]))[0]

        tilted = TOP.model_copy(update={"normal": (0.0, 0.0, 1.0)})
        for at, free, words, wanted in (
            ((0.01, 0.01), False, "part's middle", (0, 1, 0)),
            ((0.4, 0.3), False, "face", (0.4, 1, 0.3)),
            ((0.01, 0.01), True, "face", (0.01, 1, 0.01)),
            ((0.99, 0.99), False, "vertex", (1, 1, 1)),
        ):
            placed, on = self.pull(tilted, "place", over(*at), free=free)
            np.testing.assert_allclose(placed.centre, wanted, atol=1e-9)
            np.testing.assert_allclose(placed.normal, (0, 1, 0), atol=1e-12)
            self.assertIn(words, on or "")
        beside, on = self.pull(TOP, "place", over(5.0, 0.0))
        self.assertIsNone(on)
        np.testing.assert_allclose(beside.centre, (5, 1, 0), atol=1e-9)

    @settings(max_examples=40)
    @given(st.floats(-179, 179), st.floats(0.2, 4))
    def test_handles_turn_and_size_it_under_the_pointer(self, turn, scale) -> None:
        camera = Camera.of(view(CUBE, (0.0, -1.0, 0.0)))
        goal = TOP.model_copy(update={"turn": turn, "scale": scale})
        grips = standing(goal, CURVES).handles
        turned, _ = self.pull(TOP, "turn", camera.project(grips["turn"][None])[0], free=True)
        self.assertAlmostEqual(turned.turn, turn, places=6)
        sized, _ = self.pull(TOP, "scale", camera.project(grips["scale"][None])[0], free=True)
        self.assertAlmostEqual(sized.scale, scale, places=6)
        settled, _ = self.pull(TOP, "turn", camera.project(grips["turn"][None])[0])
        self.assertAlmostEqual((settled.turn / 15) % 1, 0, places=9)

    def test_it_faces_a_face_the_view_or_an_axis(self) -> None:
        camera = Camera.of(view(CUBE, (0.3, -1.0, 0.2)))
        np.testing.assert_allclose(facing_normal(CUBE, "view", -1, camera), -camera.forward)
        np.testing.assert_allclose(facing_normal(CUBE, "-z", -1, None), (0, 0, -1))
        for f in range(6):
            normal = facing_normal(CUBE, "face", f, None)
            np.testing.assert_allclose(normal, CUBE.face_normals(np.array([f]))[0] / 4)
        self.assertIsNone(facing_normal(CUBE, "face", -1, None))
        with self.assertRaisesRegex(StepError, "sheet.normal"):
            PlacedSheet(normal=(0.0, 0.0, 0.0)).axes()


class Copies(SimpleTestCase):
    @settings(max_examples=40)
    @given(st.sampled_from("xyz"), st.integers(2, 9), DIRECTIONS, st.floats(-180, 180))
    def test_round_an_axis_every_copy_is_the_first_one_turned(
        self, axis, count, normal, turn
    ) -> None:
        mesh = torus(2, 0.5, 12, 8)
        placed = PlacedSheet(centre=(2.0, 0.3, 0.4), normal=tuple(normal), turn=turn, lift=1.0)
        sheets = copies_of(mesh, placed, RoundAxis(axis=axis, count=count))
        self.assertEqual(len(sheets), count)
        k = "xyz".index(axis)
        i, j = (k + 1) % 3, (k + 2) % 3
        first = sheets[0].places(CURVES[0].points) - mesh.box.mean(axis=0)
        for n, copy in enumerate(sheets):
            angle = 2 * np.pi * n / count
            wanted = first.copy()
            wanted[:, i] = np.cos(angle) * first[:, i] - np.sin(angle) * first[:, j]
            wanted[:, j] = np.sin(angle) * first[:, i] + np.cos(angle) * first[:, j]
            np.testing.assert_allclose(
                copy.places(CURVES[0].points) - mesh.box.mean(axis=0), wanted, atol=1e-9
            )

    def test_along_a_path_one_stands_on_every_vertex_and_each_cuts_its_own_way(self) -> None:
        mesh = torus(4, 1, 16, 12)
        on_top = np.isclose(mesh.points[:, 1], mesh.points[:, 1].max())
        edges = np.flatnonzero(on_top[mesh.edges.ends].all(axis=1))
        sheets = copies_of(mesh, TOP, AlongPath(edges=tuple(edges.tolist())))
        self.assertEqual(len(sheets), 16)
        np.testing.assert_allclose(
            [s.normal for s in sheets], np.tile([0, 1, 0], (16, 1)), atol=1e-9
        )
        points = flattened(make_outline(RectangleOutline(width=0.3, height=0.2, corner=0)))[
            0
        ].points
        curves = [
            {"points": s.places(points).tolist(), "direction": (-s.axes()[2]).tolist()}
            for s in sheets
        ]
        result = apply_step(
            mesh,
            parse_step({"tool": "outline", "curves": curves, "along": {"direction": [0, 0, 1]}}),
        )
        assert_guarantees(mesh, result, flat=False)
        self.assertAlmostEqual(picked_area(result) / (16 * 0.06), 1.0, delta=0.05)
        with self.assertRaisesRegex(StepError, "copies.edges"):
            copies_of(mesh, TOP, AlongPath(edges=(10**6,)))


class Suited(SimpleTestCase):
    @settings(max_examples=60)
    @given(st.integers(3, 40), st.integers(3, 60))
    def test_another_number_of_points_keeps_the_shape(self, sides, count) -> None:
        before = np.array(ring(sides, 1.0))
        after = with_count(before, count)
        self.assertEqual(len(after), count)
        kept = sum(bool((np.abs(before - p).max(axis=1) == 0).any()) for p in after)
        self.assertEqual(kept, min(sides, count))
        if count >= sides:
            lengths = [
                float(np.linalg.norm(np.roll(c, -1, axis=0) - c, axis=1).sum())
                for c in (before, after)
            ]
            self.assertAlmostEqual(*lengths)

    def test_a_collar_lies_at_its_distance_and_makes_quads_all_round(self) -> None:
        result = project(CUBE, ring(8, 0.4), collar=0.15)
        strip = np.flatnonzero(result.mesh.sizes == 4)
        inner = area_of_ring(8, 0.4)
        self.assertAlmostEqual(picked_area(result), inner)
        apothem = 0.4 * np.cos(np.pi / 8)
        wide = inner * ((apothem + 0.15) / apothem) ** 2 - inner
        quads = [
            f for f in strip if len(np.intersect1d(result.mesh.face(int(f)), np.arange(8))) == 0
        ]
        areas = np.linalg.norm(result.mesh.face_normals(np.array(quads)), axis=1)
        self.assertEqual(len(quads), 8)
        self.assertAlmostEqual(float(areas.sum()), wide)
        # Of nested shapes the inner one has its collar inside its hole.
        nested = project(CUBE, ring(8, 0.7), ring(8, 0.4), collar=0.1)
        self.assertAlmostEqual(picked_area(nested), area_of_ring(8, 0.7) - area_of_ring(8, 0.4))

    def test_spokes_tie_every_corner_and_give_quads_where_counts_allow(self) -> None:
        square = project(CUBE, ring(4, 0.5, turn=np.pi / 4), tie="spokes")
        self.assertEqual(sorted(square.mesh.sizes.tolist()), [4] * 10)
        for sides in (3, 5, 12):
            result = project(CUBE, ring(sides, 0.5), tie="spokes")
            self.assertAlmostEqual(picked_area(result), area_of_ring(sides, 0.5))
            self.assertEqual(result.mesh.face_count, 6 + 4)
        over = project(sheet(4, 4, 7, 5), ring(30, 1.3), tie="spokes")
        self.assertAlmostEqual(picked_area(over), area_of_ring(30, 1.3))

    def test_points_settle_on_vertices_then_edges_near_by(self) -> None:
        grid = sheet(4, 4, 4, 4)
        near = [[-1.04, 2, -0.97], [1.03, 2, -1.02], [0.98, 2, 0.5], [-1.0, 2, 1.05]]
        result = project(grid, near, settle=0.1)
        fresh = result.mesh.points[result.origin.vertex < 0]
        self.assertEqual(len(result.mesh.points) - len(grid.points), len(fresh))
        self.assertTrue(np.isclose(fresh, np.round(fresh)).any(axis=1).all())
        self.assertFalse(np.isclose(np.abs(fresh - [0.98, 0, 0.5]).max(axis=1), 0).any())
        self.assertLess(len(fresh), len(project(grid, near).mesh.points) - len(grid.points))

    def test_what_falls_inside_is_a_patch_by_name_and_points_that_land_are_counted(self) -> None:
        hatch = {"tool": "outline", "along": DOWN, "patch": "Hatch"}
        first = apply_step(CUBE, parse_step({**hatch, "curves": [{"points": ring(6, 0.3, -0.5)}]}))
        self.assertEqual((first.mesh.patches, (first.mesh.patch == 0).sum()), (("Hatch",), 1))
        again = apply_step(
            first.mesh, parse_step({**hatch, "curves": [{"points": ring(6, 0.3, 0.5)}]})
        )
        self.assertEqual((again.mesh.patches, (again.mesh.patch == 0).sum()), (("Hatch",), 2))
        step = parse_step(
            {
                "tool": "outline",
                "curves": [{"points": ring(10, 0.5, 1.0)}],
                "along": DOWN,
                "collar": 0.1,
            }
        )
        assert isinstance(step, OutlineParams)
        on, of = landed(CUBE, step)
        self.assertEqual((0 < on < of, of), (True, 10))
        self.assertIn("outline-off-the-part", [note.code for note in trace_step(CUBE, step).notes])


def star(mesh: Mesh, chance: np.random.Generator, sides: int, forward: np.ndarray) -> np.ndarray:
    """A random star before a part, on a sheet square to a direction (k, 3)."""
    right = np.cross(forward, np.eye(3)[int(np.argmin(np.abs(forward)))])
    right /= np.linalg.norm(right)
    turn = 2 * np.pi * (np.arange(sides) + chance.uniform(0.1, 0.9, sides)) / sides
    reach = chance.uniform(0.25, 0.7, sides)
    flat = np.stack([reach * np.cos(turn), reach * np.sin(turn)], axis=1) + chance.uniform(
        -0.4, 0.4, 2
    )
    return np.asarray(flat[:, :1] * right + flat[:, 1:] * np.cross(right, forward) - 6 * forward)


STARS = {"ball": ball(2.0, 6), "torus": torus(2, 0.9, 24, 16), "box": box(2.4, 2.4, 2.4, (3, 3, 3))}


class Stars(SimpleTestCase):
    @settings(max_examples=60)
    @given(
        st.sampled_from(sorted(STARS)),
        st.integers(0, 2**31),
        st.integers(4, 24),
        DIRECTIONS,
        st.sampled_from(["near", "through"]),
        st.booleans(),
    )
    def test_inside_and_outside_make_the_whole_and_the_border_is_the_outline(
        self, name, seed, sides, direction, reach, seen
    ) -> None:
        mesh = STARS[name]
        chance = np.random.default_rng(seed)
        forward = np.array(direction) / np.linalg.norm(direction)
        points = star(mesh, chance, sides, forward)
        along = (
            {"view": view(mesh, forward).model_dump()} if seen else {"direction": forward.tolist()}
        )
        step = {
            "tool": "outline",
            "curves": [{"points": points.tolist()}],
            "along": along,
            "reach": reach,
        }
        result = apply_step(mesh, parse_step(step))
        assert_guarantees(mesh, result, flat=name == "box")
        self.assertAlmostEqual(
            area_of(result.mesh) / area_of(mesh), 1.0, delta=1e-9 if name == "box" else 0.05
        )
        assume(not codes(result))
        after = result.mesh
        camera = Camera.of(view(mesh, forward))
        outline = camera.project(points)
        chosen = np.zeros(after.face_count, dtype=bool)
        chosen[result.picked.faces] = True
        # The border of the picked faces projects onto the outline, edge by edge.
        border = after.edges.faces[
            (chosen[np.maximum(after.edges.faces, 0)] & (after.edges.faces >= 0)).sum(axis=1) == 1
        ]
        self.assertGreater(len(border), 0)
        rim = np.flatnonzero(
            (chosen[np.maximum(after.edges.faces, 0)] & (after.edges.faces >= 0)).sum(axis=1) == 1
        )
        halves = camera.project(after.points[after.edges.ends[rim]].mean(axis=1))
        ahead = np.roll(outline, -1, axis=0)
        share = np.clip(
            ((halves[:, None] - outline) * (ahead - outline)).sum(axis=2)
            / ((ahead - outline) ** 2).sum(axis=1),
            0,
            1,
        )
        gap = np.linalg.norm(
            outline + share[..., None] * (ahead - outline) - halves[:, None], axis=2
        ).min(axis=1)
        if reach == "near":
            self.assertLess(float(gap.max()), 1e-3 * float(np.ptp(outline)))
        # A flat face is picked exactly if its middle projects inside, and it can be seen or
        # everything is meant.
        middles = np.array(
            [after.points[after.face(f)].mean(axis=0) for f in range(after.face_count)]
        )
        inside = inside_loop(outline, camera.project(middles))
        self.assertFalse((chosen & ~inside & (after.sizes == 3)).any())
        facing = after.face_normals() @ camera.forward < 0
        if reach == "near":
            self.assertTrue((facing | ~chosen).all())
        else:
            self.assertTrue((chosen | ~(inside & (after.sizes == 3))).all())

    @settings(max_examples=40)
    @given(
        st.sampled_from(sorted(STARS)),
        st.integers(0, 2**31),
        st.integers(4, 40),
        DIRECTIONS,
        st.sampled_from([None, "limit", "view"]),
    )
    def test_what_is_walked_over_the_faces_is_what_planes_of_sight_find(
        self, name, seed, sides, direction, how
    ) -> None:
        mesh = STARS[name]
        forward = np.array(direction) / np.linalg.norm(direction)
        points = star(mesh, np.random.default_rng(seed), sides, forward)
        along = (
            {"view": view(mesh, forward).model_dump()}
            if how == "view"
            else {"direction": forward.tolist()}
        )
        limit = list(range(0, mesh.face_count, 2)) if how == "limit" else None
        step = parse_step(
            {
                "tool": "outline",
                "curves": [{"points": points.tolist()}],
                "along": along,
                "limit": limit,
            }
        )
        walked = trace_step(mesh, step)
        with mock.patch.object(
            Seen,
            "walked",
            lambda self, builder, flat, stretches, *rest: np.zeros(len(stretches), dtype=bool),
        ):
            found = trace_step(mesh, step)

        def spans(trace: Trace) -> set[tuple[int, tuple[tuple[float, ...], ...]]]:
            ends = np.round(trace.place[trace.ends], 7) + 0.0
            return {
                (int(f), tuple(sorted(map(tuple, pair.tolist()))))
                for f, pair in zip(trace.face, ends, strict=True)
            }

        self.assertEqual(spans(walked), spans(found))
        self.assertEqual([n.code for n in walked.notes], [n.code for n in found.notes])
