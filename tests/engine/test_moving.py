"""Vertices moved where they are: shifted, turned, scaled, slid, relaxed; alone, with neighbours, and
in the mirror."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, Result, StepError, apply_step, parse_step
from cutcore.queries.rails import rails_of_chains
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from tests.guarantees import area_of
from tests.zoo import ZOO, three_on_an_edge, warped_sheet


def made(mesh: Mesh, tool: str, **params: Any) -> Result:
    return apply_step(mesh, parse_step({"tool": tool, **params}))


def shift(*by: float) -> dict[str, Any]:
    return {"way": "shift", "by": list(by)}


class Move(SimpleTestCase):
    def test_shift_turn_and_scale_are_what_they_say(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        top = np.flatnonzero(cube.points[:, 1] == 1.0)
        faces = [f for f in range(cube.face_count) if set(cube.face(f)) <= set(top)]
        moved = made(cube, "move", faces=faces, move=shift(0.25, 0, -0.5)).mesh.points
        np.testing.assert_array_equal(moved[top], cube.points[top] + [0.25, 0, -0.5])
        rest = np.setdiff1d(np.arange(cube.vertex_count), top)
        np.testing.assert_array_equal(moved[rest], cube.points[rest])
        turn = {"way": "turn", "about": [0, 1, 0], "axis": [0, 3, 0], "degrees": 90}
        turned_top = made(cube, "move", faces=faces, move=turn).mesh.points[top]
        x, y, z = cube.points[top].T
        np.testing.assert_allclose(turned_top, np.stack([z, y, -x], axis=1), atol=1e-15)
        scale = {"way": "scale", "about": [1, 1, 1], "factors": [0.5, 1, 2]}
        scaled = made(cube, "move", faces=faces, move=scale).mesh.points[top]
        np.testing.assert_allclose(scaled, 1 + (cube.points[top] - 1) * [0.5, 1, 2], atol=1e-15)
        for nothing in (shift(0, 0, 0), {**turn, "degrees": 0}, {**scale, "factors": [1, 1, 1]}):
            same = made(cube, "move", faces=faces, move=nothing)
            self.assertEqual(same.mesh.points.tobytes(), cube.points.tobytes())
        with self.assertRaises(StepError):
            made(cube, "move", faces=faces, move={**turn, "axis": [0, 0, 0]})

    def test_neighbours_share_in_it_ring_by_ring(self) -> None:
        grid = sheet(10, 10, 10, 10)
        middle = 60
        for curve, shares in (
            ("even", [1, 0.75, 0.5, 0.25, 0]),
            ("smooth", [1, 0.84375, 0.5, 0.15625, 0]),
            ("steep", [1, 0.5625, 0.25, 0.0625, 0]),
            ("round", [1, 0.96824583, 0.8660254, 0.66143783, 0]),
        ):
            falloff = {"rings": 3, "curve": curve}
            moved = made(grid, "move", vertices=[middle], move=shift(0, 2, 0), falloff=falloff)
            lifted = moved.mesh.points[middle : middle + 5, 1]
            np.testing.assert_allclose(lifted, 2 * np.array(shares), atol=1e-8)

    @settings(max_examples=40)
    @given(st.integers(0, 10_000), st.sampled_from(["shift", "turn", "scale"]), st.integers(0, 3))
    def test_a_symmetric_part_stays_so_to_the_last_bit(self, seed, way, rings) -> None:
        source = np.random.default_rng(seed)
        mesh = ball(1.0, 4)
        vertices = source.choice(mesh.vertex_count, 1 + seed % 5, replace=False).tolist()
        move: dict[str, Any] = {
            "shift": {"way": way, "by": source.uniform(-0.1, 0.1, 3).tolist()},
            "turn": {"way": way, "about": [0.3, 0, 0], "axis": [1, 2, 0.5], "degrees": 7.0},
            "scale": {"way": way, "about": [0.1, 0.2, 0], "factors": [1.1, 0.9, 1.2]},
        }[way]
        falloff = {"rings": rings} if rings else None
        result = made(
            mesh, "move", vertices=vertices, move=move, falloff=falloff, mirror={"axis": "x"}
        )
        places = {tuple(p) for p in (result.mesh.points + 0.0).tolist()}
        image = {(-x + 0.0, y, z) for x, y, z in places}
        self.assertEqual(places, image)

    def test_what_has_no_counterpart_moves_alone_and_is_told(self) -> None:
        mesh = Mesh.of([[0, 0, 0], [2, 0, 0], [2, 1, 0], [0, 1, 0]], [[0, 1, 2, 3]])
        result = made(mesh, "move", vertices=[1], move=shift(0, 0, 1), mirror={"axis": "x"})
        self.assertEqual([note.code for note in result.notes], ["no-counterpart"])
        self.assertEqual(result.mesh.points[1].tolist(), [2, 0, 1])


class Slide(SimpleTestCase):
    @settings(max_examples=60)
    @given(
        st.sampled_from(["ring", "tube", "sheet", "ball"]),
        st.integers(0, 10_000),
        st.floats(-1, 1),
        st.booleans(),
    )
    def test_every_vertex_stays_on_its_edge(self, name, seed, by, even) -> None:
        mesh = {
            "ring": torus(3.0, 1.0, 9, 7),
            "tube": turned([(1.0, 0.0), (1.2, 1.0), (0.8, 2.0), (1.0, 3.0)], 9),
            "sheet": warped_sheet(),
            "ball": ball(1.0, 3),
        }[name]
        edge = int(seed % len(mesh.edges))
        params = {"edges": [mesh.edges.ends[edge].tolist()], "by": by, "even": even}
        result = made(mesh, "slide", **params)
        rails = rails_of_chains(mesh, np.array([edge]))
        for v, *ends in zip(rails.vertices, rails.left, rails.right, strict=True):
            gaps = []
            for end in (e for e in ends if e >= 0):
                a, b = mesh.points[[v, end]]
                t = np.clip((result.mesh.points[v] - a) @ (b - a) / ((b - a) @ (b - a)), 0, 1)
                gaps.append(np.linalg.norm(result.mesh.points[v] - (a + t * (b - a))))
            self.assertLess(min(gaps), 1e-12)
        # All others stay to the last bit.
        rest = np.setdiff1d(np.arange(mesh.vertex_count), rails.vertices)
        np.testing.assert_array_equal(result.mesh.points[rest], mesh.points[rest])

    def test_by_nothing_all_bytes_stay(self) -> None:
        for mesh in (torus(3.0, 1.0, 9, 7), warped_sheet(), sheet(3, 3, 3, 3)):
            for measure in ("share", "distance"):
                edges = [mesh.edges.ends[k].tolist() for k in (3, 11)]
                same = made(mesh, "slide", edges=edges, by=0.0, measure=measure).mesh
                self.assertEqual(same.points.tobytes(), mesh.points.tobytes())
                if mesh.uv is not None and same.uv is not None:
                    self.assertEqual(same.uv.tobytes(), mesh.uv.tobytes())

    def test_a_loop_goes_to_one_side_all_round_and_back(self) -> None:
        tube = turned([(1.0, float(k)) for k in range(4)], 8)
        ring = np.flatnonzero(tube.points[:, 1] == 1.0)
        loop = [e for e in tube.edges.ends.tolist() if set(e) <= set(ring.tolist())]
        heights = {}
        for by in (0.25, -0.25):
            moved = made(tube, "slide", edges=loop, by=by).mesh.points[ring]
            heights[by] = sorted(set(moved[:, 1].round(12)))
        self.assertEqual(sorted(heights.values()), [[0.75], [1.25]])
        far = made(tube, "slide", edges=loop, by=0.5, measure="distance").mesh.points[ring]
        self.assertEqual(set(np.abs(far[:, 1] - 1.0).round(12)), {0.5})

    def test_an_uneven_loop_is_placed_evenly(self) -> None:
        grid = sheet(6, 6, 6, 6)
        line = [3 * 7 + k for k in range(7)]
        loop = [[a, b] for a, b in pairwise(line)]
        along = int(np.argmax(np.ptp(grid.points[[line[0], line[0] + 7]], axis=0)))
        points = grid.points.copy()
        points[line, along] += np.linspace(-0.4, 0.4, 7)
        uneven = Mesh(points, grid.starts, grid.corners, grid.uv)
        even = made(uneven, "slide", edges=loop, by=0.0, even=True).mesh
        np.testing.assert_allclose(even.points[line, along], grid.points[line, along], atol=1e-12)
        # Texture places stay what they were of the flat sheet.
        assert even.uv is not None and grid.uv is not None and uneven.uv is not None
        at = np.isin(grid.corners, line)
        self.assertGreater(np.abs(even.uv[at] - uneven.uv[at]).max(), 0.01)
        for v in line:
            self.assertEqual(len({tuple(p) for p in even.uv[grid.corners == v].round(12)}), 1)

    def test_corners_without_texture_places_stay_without(self) -> None:
        grid = sheet(4, 4, 4, 4)
        assert grid.uv is not None
        bare = np.where(np.arange(len(grid.corners))[:, None] % 3 == 0, np.nan, grid.uv)
        mesh = Mesh(grid.points, grid.starts, grid.corners, bare)
        for edge in grid.edges.ends.tolist():
            slid = made(mesh, "slide", edges=[edge], by=0.3).mesh
            assert slid.uv is not None
            np.testing.assert_array_equal(np.isnan(slid.uv), np.isnan(bare))

    def test_vertices_slide_along_a_direction(self) -> None:
        grid = sheet(4, 4, 4, 4)
        for by in (0.5, -0.5):
            moved = made(grid, "slide", vertices=[12], towards=[1, 0, 0.2], by=by).mesh.points[12]
            np.testing.assert_allclose(moved - grid.points[12], [by, 0, 0], atol=1e-12)

    def test_forks_and_crowded_ground_are_refused_with_the_place(self) -> None:
        grid = sheet(4, 4, 4, 4)
        fin = three_on_an_edge()
        crowded = fin.edges.ends[next(iter(fin.edges.crowded))].tolist()
        for mesh, edges in ((grid, [[12, 11], [12, 13], [12, 7]]), (fin, [crowded])):
            with self.assertRaises(StepError) as refused:
                made(mesh, "slide", edges=edges, by=0.2)
            self.assertTrue(refused.exception.elements)
        for wrong in (
            {"by": 1.5},
            {"by": 2.0, "measure": "distance", "even": True},
            {"vertices": [1], "by": 0.1},
        ):
            with self.assertRaises(CutError):
                made(grid, "slide", edges=[[11, 12]], **wrong)


class Relax(SimpleTestCase):
    def test_a_shaken_sheet_comes_to_rest_evenly_and_its_border_stays(self) -> None:
        flat = sheet(6, 6, 6, 6)
        source = np.random.default_rng(5)
        inner = np.flatnonzero((np.abs(flat.points[:, [0, 2]]) < 2.9).all(axis=1))
        points = flat.points.copy()
        points[inner] += source.uniform(-0.3, 0.3, (len(inner), 3)) * [1, 0, 1]
        shaken = Mesh(points, flat.starts, flat.corners, flat.uv)
        rested = made(shaken, "relax", strength=1.0, rounds=200).mesh
        np.testing.assert_allclose(rested.points, flat.points, atol=1e-3)
        self.assertAlmostEqual(area_of(rested), 36.0, places=9)

    def test_on_the_surface_the_form_stays_and_off_it_does_not(self) -> None:
        fine = ball(1.0, 8)
        source = np.random.default_rng(2)
        points = fine.points + source.uniform(-0.02, 0.02, fine.points.shape)
        points /= np.linalg.norm(points, axis=1, keepdims=True)
        shaken = Mesh(points, fine.starts, fine.corners)
        on, off = (made(shaken, "relax", rounds=30, on_surface=s).mesh for s in (True, False))
        away_on, away_off = (np.abs(np.linalg.norm(m.points, axis=1) - 1).max() for m in (on, off))
        self.assertLess(away_on, 0.02)
        self.assertGreater(away_off, 0.1)
        self.assertLess(self.pull(on), 0.2 * self.pull(shaken))

    def pull(self, globe: Mesh) -> float:
        """How far the vertices of a globe lie from the middle of their neighbours, along it."""
        ends, points = globe.edges.ends, globe.points
        total = np.zeros_like(points)
        np.add.at(total, ends.ravel(), points[ends[:, ::-1].ravel()])
        away = total / np.bincount(ends.ravel())[:, None] - points
        up = points / np.linalg.norm(points, axis=1, keepdims=True)
        along = away - np.einsum("ij,ij->i", away, up)[:, None] * up
        return float(np.linalg.norm(along, axis=1).mean())

    def test_borders_and_hard_edges_keep_their_line_and_corners_their_place(self) -> None:
        cube = made(box(2, 2, 2, (4, 4, 4)), "hard edges", degrees=40).mesh
        source = np.random.default_rng(3)
        moved = np.clip(cube.points + source.uniform(-0.1, 0.1, cube.points.shape), -1, 1)
        moved = np.where(np.abs(cube.points) == 1, cube.points, moved)
        shaken = Mesh(moved, cube.starts, cube.corners, hard=cube.hard)
        rested = made(shaken, "relax", rounds=60, strength=0.8).mesh.points
        self.assertEqual(np.abs(rested).max(axis=1).min(), 1.0)
        np.testing.assert_allclose(rested, cube.points, atol=0.02)


class OnAnyMesh(SimpleTestCase):
    def test_all_of_them_leave_any_mesh_whole(self) -> None:
        for name, mesh in ZOO.items():
            steps: list[dict[str, Any]] = [
                {
                    "tool": "move",
                    "vertices": [0],
                    "move": shift(0.01, 0, 0),
                    "falloff": {"rings": 2},
                },
                {"tool": "slide", "vertices": [0, 1], "by": 0.3},
                {
                    "tool": "slide",
                    "edges": [mesh.edges.ends[0].tolist()],
                    "by": 0.3,
                    "mirror": {"axis": "x"},
                },
                {"tool": "relax", "rounds": 3},
            ]
            for step in steps:
                with self.subTest(name, tool=step["tool"]):
                    try:
                        after = apply_step(mesh, parse_step(step)).mesh
                    except StepError as refusal:
                        self.assertTrue(refusal.elements)
                        continue
                    self.assertTrue(np.isfinite(after.points).all())
                    self.assertEqual(after.corners.tolist(), mesh.corners.tolist())
