"""All quads: what a cut leaves is mended in the same step, the surface where it was."""

from __future__ import annotations

import json
import os
import random
import subprocess
import sys
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, Result, apply_step, parse_step
from cutcore.geometry.polygons import loop_area
from cutcore.mesh.tolerance import weld_of
from cutcore.quads.mend import Wanted, mend
from cutcore.quads.polygon import ways_of
from cutcore.queries.corner_forms import scaled_jacobians
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from tests.guarantees import area_of, assert_guarantees, assert_tables_true, volume_of
from tests.random_steps import CUTS, random_step
from tests.zoo import CLOSED, ZOO, concave_plate, painted, three_on_an_edge

SLICE = {"tool": "slice", "plane": {"point": [0.3, 0.2, 0.1], "normal": [1, 0.7, 0.3]}}


def made(mesh: Mesh, step: dict[str, Any]) -> Result:
    return apply_step(mesh, parse_step(step))


def touched(result: Result) -> np.ndarray:
    """The faces of a result that are not as they were."""
    changed = np.ones(result.mesh.face_count, dtype=bool)
    changed[result.origin.kept[result.origin.kept >= 0]] = False
    return np.flatnonzero(changed)


def stays(result: Result) -> bool:
    return any(note.code == "quads-left" for note in result.notes)


def off_their_parents(part: Mesh, result: Result) -> float:
    """How far vertices of changed faces lie off the plane of the face these were made of."""
    mesh, faces = result.mesh, touched(result)
    parents = result.origin.face[faces]
    normals = part.face_normals(parents)
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    through = part.points[part.corners[part.starts[parents]]]
    return max(
        float(np.abs((mesh.points[mesh.face(f)] - at) @ normal).max())
        for f, at, normal in zip(faces.tolist(), through, normals, strict=True)
    )


def ring(count: int, radius: float, x: float = 0.0, y: float = 0.0) -> list[list[float]]:
    turn = 2 * np.pi * np.arange(count) / count
    return [[radius * np.cos(t) + x, radius * np.sin(t) + y, 20.0] for t in turn]


class CutsThatEndInQuads(SimpleTestCase):
    def test_an_oblique_slice_and_an_outline_leave_nothing_but_quads_on_a_ball(self) -> None:
        part = ball(10.0, 8)
        outline = {
            "tool": "outline",
            "curves": [{"points": ring(24, 4.0, 1.0, 0.5)}],
            "along": {"direction": [0, 0, -1]},
        }
        for step, worst, bad in ((SLICE, 0.2, 0), (outline, -0.4, 3)):
            plain = made(part, step)
            self.assertGreater((plain.mesh.sizes != 4).sum(), 25)
            result = made(part, step | {"finish": "quads"})
            self.assertTrue((result.mesh.sizes == 4).all())
            self.assertFalse(stays(result))
            assert_tables_true(result.mesh)
            form = scaled_jacobians(result.mesh, np.arange(result.mesh.face_count))
            self.assertGreater(form.min(), worst)
            self.assertLessEqual((form <= 0.02).sum(), bad)
            self.assertGreater(np.median(form), 0.9)
            # Vertices of the part and of the cut stay where they were.
            count = plain.mesh.vertex_count
            np.testing.assert_array_equal(result.mesh.points[:count], plain.mesh.points)

    def test_a_slice_keeps_its_vertices_on_the_plane_and_its_line_picked(self) -> None:
        result = made(ball(10.0, 8), SLICE | {"finish": "quads"})
        normal = np.array(SLICE["plane"]["normal"]) / np.linalg.norm(SLICE["plane"]["normal"])  # type: ignore[index]
        on = np.unique(result.picked.edges)
        away = (result.mesh.points[on] - SLICE["plane"]["point"]) @ normal  # type: ignore[index]
        self.assertLess(np.abs(away).max(), 1e-9 * result.mesh.diagonal)
        # The line is one closed run of edges of the result.
        ends, times = np.unique(result.picked.edges, return_counts=True)
        self.assertTrue((times == 2).all())
        self.assertTrue(all(result.mesh.edges.between(a, b) >= 0 for a, b in result.picked.edges))
        self.assertGreater(len(ends), 40)

    def test_random_cuts_of_every_tool_end_in_quads_and_hold_what_cuts_hold(self) -> None:
        left = done = 0
        for name, part in ZOO.items():
            flat = name not in ("warped sheet", "torus", "turned, with poles", "two shells")
            for seed in range(24):
                source = random.Random(f"{name} {seed}")
                step = random_step(part, source, CUTS) | {"finish": "quads"}
                if step.get("then", "keep") != "keep" or step["tool"] == "profile":
                    continue
                step.pop("follow", None)
                step.pop("takes", None)
                with self.subTest(part=name, seed=seed):
                    try:
                        result = made(part, step)
                    except CutError:
                        continue
                    if result.mesh is part:
                        continue
                    assert_guarantees(part, result, flat=flat, bend=0.2)
                    new = touched(result)
                    if flat:
                        self.assertLess(off_their_parents(part, result), 1e-9 * part.diagonal)
                    if stays(result):
                        left += 1
                    else:
                        done += 1
                        self.assertTrue((result.mesh.sizes[new] == 4).all())
                    self.assertEqual(
                        made(part, step).mesh.points.tobytes(), result.mesh.points.tobytes()
                    )
        self.assertGreater(done, 60)
        self.assertLess(left, 0.15 * done)

    def test_flat_parts_keep_area_and_volume(self) -> None:
        for part, step in (
            (box(2.0, 1.5, 1.0, (3, 2, 2)), SLICE),
            (
                box(2.0, 2.0, 2.0, (1, 1, 1)),
                {
                    "tool": "outline",
                    "curves": [{"points": ring(24, 0.6)}],
                    "along": {"direction": [0, 0, -1]},
                    "reach": "through",
                },
            ),
            (
                CLOSED["star prism"],
                {"tool": "slice", "plane": {"point": [0.1, 0, 0], "normal": [1, 0.2, 0.4]}},
            ),
        ):
            result = made(part, step | {"finish": "quads"})
            self.assertTrue((result.mesh.sizes[touched(result)] == 4).all())
            self.assertAlmostEqual(area_of(result.mesh) / area_of(part), 1.0, delta=1e-9)
            self.assertAlmostEqual(volume_of(result.mesh) / volume_of(part), 1.0, delta=1e-9)

    def test_what_faces_carry_comes_along(self) -> None:
        part = painted(CLOSED["box"], every=3)
        result = made(part, SLICE | {"finish": "quads"})
        parent = result.origin.face
        np.testing.assert_array_equal(result.mesh.material, part.material[parent])
        np.testing.assert_array_equal(result.mesh.patch, part.patch[parent])
        length = [
            np.linalg.norm(np.diff(mesh.points[mesh.hard], axis=1), axis=2).sum()
            for mesh in (part, result.mesh)
        ]
        self.assertAlmostEqual(length[0], length[1])
        comb = concave_plate()
        cut = {
            "tool": "slice",
            "plane": {"point": [0, 0, -2], "normal": [0.2, 0, 1]},
            "finish": "quads",
        }
        mapped = made(comb, cut).mesh
        assert mapped.uv is not None
        places = mapped.points[mapped.corners]
        np.testing.assert_allclose(mapped.uv, places[:, [0, 2]] / [7, -3], atol=1e-9)

    def test_a_limit_is_kept_and_what_stays_is_told(self) -> None:
        part = sheet(10.0, 10.0, 10, 10)
        corners = part.face(44).tolist()
        middle = part.points[corners].mean(axis=0).tolist()
        points = [{"edge": corners[:2], "t": 0.25}, {"face": 44, "at": middle}]
        step = {
            "tool": "knife",
            "lines": [{"points": points}],
            "open_ends": "join",
            "finish": "quads",
        }
        free = made(part, step)
        self.assertTrue((free.mesh.sizes == 4).all())
        self.assertFalse(stays(free))
        cut = made(part, step | {"limit": [44], "finish": "as cut"})
        limited = made(part, step | {"limit": [44]})
        self.assertIn("limit", next(n.words for n in limited.notes if n.code == "quads-left"))
        parents = [set(one.origin.face[touched(one)].tolist()) for one in (cut, limited)]
        self.assertEqual(*parents)

    def test_edges_with_three_faces_are_not_split(self) -> None:
        part = three_on_an_edge()
        step = {
            "tool": "knife",
            "lines": [{"points": [{"vertex": 0}, {"vertex": 3}]}],
            "finish": "quads",
        }
        result = made(part, step)
        self.assertEqual(len(result.mesh.edges.crowded), 1)
        assert_guarantees(part, result, flat=True)

    def test_the_same_bytes_under_other_hash_seeds(self) -> None:
        script = (
            "import hashlib, json, sys; from cutcore import apply_step, parse_step;"
            "from cutcore.shapes.ball import ball;"
            "m = apply_step(ball(10.0, 8), parse_step(json.loads(sys.argv[1]))).mesh;"
            "print(hashlib.sha256(m.points.tobytes() + m.corners.tobytes()).hexdigest())"
        )
        said = {
            subprocess.run(
                [sys.executable, "-c", script, json.dumps(SLICE | {"finish": "quads"})],
                env={**os.environ, "PYTHONHASHSEED": seed},
                capture_output=True,
                text=True,
                check=True,
            ).stdout
            for seed in ("1", "77")
        }
        self.assertEqual(len(said), 1)


class WovenOutlines(SimpleTestCase):
    def outline(self, points: Any, **weave: Any) -> dict[str, Any]:
        return {
            "tool": "outline",
            "curves": [{"points": points}],
            "along": {"direction": [0, 0, -1]},
            "weave": weave,
        }

    def test_a_collar_of_quads_joins_an_outline_to_a_curved_part(self) -> None:
        square = [[-4, -3, 20], [4, -3, 20], [4, 3, 20], [-4, 3, 20]]
        for part in (ball(10.0, 12), ball(10.0, 24)):
            for points, worst in ((ring(24, 4.0, 1.0, 0.5), 0.3), (square, 0.25)):
                for inside in ("rings", "grid", "one face"):
                    with self.subTest(inside=inside, faces=part.face_count, points=len(points)):
                        result = made(part, self.outline(points, inside=inside))
                        assert_guarantees(part, result, flat=False, bend=0.03)
                        new = touched(result)
                        quads = new[result.mesh.sizes[new] == 4]
                        self.assertEqual(len(new) - len(quads), inside == "one face")
                        form = scaled_jacobians(result.mesh, quads)
                        self.assertGreater(form.min(), 0.1 if inside == "grid" else worst)
                        # New vertices lie on the faces there were.
                        away = 10.0 - np.linalg.norm(result.mesh.points, axis=1)
                        self.assertGreater(away.min(), -1e-9)
                        self.assertLess(away.max(), 0.25)
                        # The outline is what bounds the picked faces.
                        self.assertEqual(
                            len(np.unique(result.picked.edges)), len(result.picked.edges)
                        )
                        self.assertIn("surface-moved", {note.code for note in result.notes})
        corners = result.mesh.points[np.unique(result.picked.edges)]
        for x, y, _ in square:
            self.assertLess(np.linalg.norm(corners[:, :2] - [x, y], axis=1).min(), 1e-9)

    def test_on_flat_ground_it_is_exact_and_textures_stay(self) -> None:
        flat = sheet(10.0, 10.0, 14, 14)
        points = [[x, 5.0, -y] for x, y, _ in ring(24, 2.6, 0.1, 0.2)]
        step = self.outline(points, inside="rings", most_off=0)
        step["along"] = {"direction": [0, -1, 0]}
        result = made(flat, step)
        self.assertTrue((result.mesh.sizes == 4).all())
        self.assertEqual(result.notes, ())
        assert_guarantees(flat, result, flat=True)
        assert result.mesh.uv is not None
        places = result.mesh.points[result.mesh.corners]
        np.testing.assert_allclose(result.mesh.uv[:, 0], (places[:, 0] + 5) / 10, atol=1e-9)

    def test_hard_edges_that_are_laid_anew_are_no_longer_named(self) -> None:
        part = painted(ball(10.0, 12), every=1)
        result = made(part, self.outline(ring(24, 4.0, 1.0, 0.5)))
        self.assertGreater(len(result.mesh.hard), 0)
        for a, b in result.mesh.hard.tolist():
            self.assertGreaterEqual(result.mesh.edges.between(a, b), 0)

    def test_of_nested_outlines_what_lies_between_is_picked(self) -> None:
        flat = sheet(10.0, 10.0, 24, 24)
        curves = [
            {"points": [[x, 5.0, -y] for x, y, _ in ring(16, radius, 0.1, 0.2)]}
            for radius in (3.6, 1.7)
        ]
        step = {
            "tool": "outline",
            "curves": curves,
            "along": {"direction": [0, -1, 0]},
            "weave": {"inside": "rings"},
        }
        result = made(flat, step)
        self.assertTrue((result.mesh.sizes == 4).all())
        assert_guarantees(flat, result, flat=True)
        for face in range(result.mesh.face_count):
            middle = result.mesh.points[result.mesh.face(face)].mean(axis=0)
            away = float(np.linalg.norm(middle[[0, 2]] - [0.1, -0.2]))
            if 1.9 < away < 3.3:
                self.assertIn(face, result.picked.faces)
            elif away < 1.5 or away > 3.7:
                self.assertNotIn(face, result.picked.faces)

    def test_what_stands_in_the_way_is_said(self) -> None:
        part, points = ball(10.0, 12), ring(24, 4.0, 1.0, 0.5)
        for step, words in (
            (self.outline(points, most_off=0.001), "more than is allowed"),
            (self.outline(points) | {"limit": [0, 1]}, "outside the limit"),
            (self.outline(points) | {"reach": "through"}, "from one side"),
            (self.outline(ring(24, 4.0, 9.0)), "all round"),
            (self.outline(ring(24, 30.0)), "all round|one piece|only"),
        ):
            with self.subTest(words), self.assertRaisesRegex(CutError, words):
                made(part, step)
        with self.assertRaisesRegex(CutError, "4 vertices lie round the outline, 6 are needed"):
            made(box(2, 2, 2, (1, 1, 1)), self.outline(ring(24, 0.3)))


class PickedFacesToQuads(SimpleTestCase):
    def test_whole_parts_become_quads_and_triangles_are_joined(self) -> None:
        for name in ("triangulated torus", "star prism", "turned, with poles"):
            with self.subTest(part=name):
                part = CLOSED[name]
                result = made(part, {"tool": "quads"})
                self.assertTrue((result.mesh.sizes == 4).all())
                self.assertEqual(
                    {note.code for note in result.notes} & {"quads-left"}, set(), result.notes
                )
                assert_tables_true(result.mesh)
        # A grid that was cut along its diagonals comes back.
        grid = sheet(4.0, 3.0, 4, 3)
        again = made(Mesh.of(grid.points, grid.triangles.corners), {"tool": "quads"}).mesh
        self.assertEqual(again.face_count, 12)
        self.assertEqual(again.vertex_count, grid.vertex_count)

    def test_ways_and_corners_of_one_face(self) -> None:
        eight = Mesh.of(
            np.array([[np.cos(t), 0, -np.sin(t)] for t in 2 * np.pi * np.arange(8) / 8]),
            [list(range(8))],
        )
        results = [
            made(eight, {"tool": "quads", "faces": [0], "way": way}).mesh for way in range(3)
        ]
        self.assertEqual(
            len({mesh.corners.tobytes() + mesh.points.tobytes() for mesh in results}), 3
        )
        self.assertTrue(all((mesh.sizes == 4).all() for mesh in results))
        chosen = made(eight, {"tool": "quads", "faces": [0], "corners": [[0, 3]]}).mesh
        self.assertGreaterEqual(chosen.edges.between(0, 3), 0)
        self.assertTrue((chosen.sizes == 4).all())
        # Two corners that leave odd pieces stay as they are, with a note.
        odd = made(eight, {"tool": "quads", "faces": [0], "corners": [[0, 2]]})
        self.assertTrue(stays(odd))
        with self.assertRaisesRegex(CutError, "not corners"):
            made(eight, {"tool": "quads", "faces": [0], "corners": [[0, 40]]})

    def test_only_what_lies_flat_is_joined_when_asked(self) -> None:
        part = CLOSED["triangulated torus"]
        exact = made(part, {"tool": "quads", "within": 0}).mesh
        self.assertTrue((exact.sizes == 4).all())
        self.assertAlmostEqual(volume_of(exact) / volume_of(part), 1.0, delta=1e-9)


class Polygons(SimpleTestCase):
    @settings(max_examples=120, deadline=None, derandomize=True)
    @given(st.integers(2, 40), st.integers(0, 10_000))
    def test_any_simple_loop_with_an_even_number_of_corners_falls_into_quads(
        self, half: int, seed: int
    ) -> None:
        source, count = np.random.default_rng(seed), 2 * half
        turn = 2 * np.pi * (np.arange(count) + source.uniform(0, 0.9, count)) / count
        reach = source.uniform(0.2, 1.0, count)
        loop = np.stack([reach * np.cos(turn), reach * np.sin(turn)], axis=1)
        if loop_area(loop) <= 0 or half < 3:
            return
        for way in ways_of(loop, 1e-9, several=True):
            places = np.concatenate([loop, way.inner])
            areas = np.array([loop_area(places[quad]) for quad in way.quads])
            self.assertTrue((areas > 0).all())
            self.assertAlmostEqual(areas.sum() / loop_area(loop), 1.0, places=9)
            sides = np.sort(
                np.stack([way.quads, np.roll(way.quads, -1, axis=1)], axis=2).reshape(-1, 2), axis=1
            )
            edges, times = np.unique(sides, axis=0, return_counts=True)
            outer = {(k, k + 1) for k in range(count - 1)} | {(0, count - 1)}
            once = {tuple(pair) for pair in edges[times == 1].tolist()}
            self.assertEqual(once, outer)

    def test_few_faces_are_touched_on_a_large_part(self) -> None:
        part = ball(10.0, 60)
        faces = np.zeros(part.face_count, dtype=bool)
        plain = made(part, {"tool": "dissolve", "edges": [part.edges.ends[900].tolist()]}).mesh
        faces = plain.sizes != 4
        self.assertEqual(faces.sum(), 1)
        done = mend(plain, Wanted(faces), weld=weld_of(plain))
        self.assertTrue((done.mesh.sizes == 4).all())
        self.assertEqual((done.origin.kept < 0).sum(), 1)
