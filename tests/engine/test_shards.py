"""Shards: closed pieces whose volumes add up, by cells, planes, counts and lines."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, apply_step, parse_step, problems
from cutcore.mesh.submesh import with_points
from cutcore.mesh.together import together
from cutcore.queries.bodies import bodies_of, inside, is_closed
from cutcore.reshape.marking.flip import turned_round
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.small import FROM_A_CORNER
from cutcore.shapes.torus import torus
from tests.guarantees import area_of, assert_origin_true, volume_of
from workshop.sample.skerry_light import skerry_light

BOX = box(2, 2, 2, (3, 3, 3))


def broken(mesh: Mesh, **params: Any) -> list[Mesh]:
    """The pieces of a part, all sound."""
    step = parse_step({"tool": "shards", **params})
    result = apply_step(mesh, step)
    pieces = [result.mesh, *result.apart]
    for piece in pieces:
        piece.check()
        assert problems(piece) == [], problems(piece)
    return pieces


def hollow() -> Mesh:
    """A box with a smaller one taken out of its middle."""
    within = box(1, 1, 1, (1, 1, 1))
    return together([BOX, turned_round(within, np.ones(within.face_count, dtype=bool)).mesh])


class Shards(SimpleTestCase):
    def test_closed_pieces_add_up_to_the_part_whatever_breaks_it(self) -> None:
        parts = {"ball": ball(25.0, 9), "torus": torus(2.0, 0.5, 24, 8), "hollow": hollow()}
        parts |= {name: mesh for name, mesh in skerry_light() if is_closed(mesh)}
        ways: list[dict[str, Any]] = [
            {"way": "cells", "count": 9, "seed": 4},
            {"way": "random planes", "count": 3, "seed": 8},
            {"way": "counts", "x": 3, "y": 2, "z": 2},
        ]
        for name, mesh in parts.items():
            for way in ways:
                with self.subTest(name, way=way["way"]):
                    pieces = broken(mesh, by=way)
                    self.assertGreater(len(pieces), 3)
                    self.assertTrue(all(is_closed(piece) for piece in pieces))
                    whole = sum(volume_of(piece) for piece in pieces)
                    self.assertAlmostEqual(whole / volume_of(mesh), 1.0, delta=1e-9)
                    sizes = np.array([volume_of(piece) for piece in pieces])
                    self.assertTrue((np.diff(sizes) <= 1e-9 * sizes[0]).all(), sizes)

    @settings(max_examples=12, deadline=None)
    @given(st.integers(2, 12), st.integers(0, 10_000), st.floats(1e-3, 1e5), st.floats(-1e4, 1e4))
    def test_any_seed_on_any_size_and_far_away(
        self, count: int, seed: int, size: float, away: float
    ) -> None:
        mesh = Mesh.of(
            BOX.points * size + away * size, [BOX.face(f) for f in range(BOX.face_count)]
        )
        pieces = broken(mesh, by={"way": "cells", "count": count, "seed": seed})
        self.assertEqual(len(pieces), count)
        whole = sum(volume_of(piece) for piece in pieces)
        self.assertAlmostEqual(
            whole / volume_of(mesh), 1.0, delta=1e-9 * max(1.0, abs(away) ** 0.5)
        )

    def test_every_cell_holds_what_lies_nearest_to_its_own_place(self) -> None:
        pieces = broken(BOX, by={"way": "cells", "count": 7, "seed": 11})
        places = np.random.default_rng(5).uniform(-0.95, 0.95, (400, 3))
        within = np.array([inside(piece, places) for piece in pieces])
        np.testing.assert_array_equal(within.sum(axis=0), 1)

    def test_planes_along_faces_and_edges_cut_nothing_twice(self) -> None:
        pieces = broken(BOX, by={"way": "counts", "x": 3, "y": 3, "z": 3})
        self.assertEqual([piece.face_count for piece in pieces], [6] * 27)
        flush = {"point": [0, 1, 0], "normal": [0, 1, 0]}
        same = parse_step({"tool": "shards", "by": {"way": "planes", "planes": [flush]}})
        result = apply_step(BOX, same)
        self.assertIs(result.mesh, BOX)
        self.assertEqual([note.code for note in result.notes], ["nothing-to-break"])

    def test_a_step_in_the_part_lies_on_the_side_that_it_closes(self) -> None:
        stairs = together([box(2, 1, 2, (1, 1, 1)), box(1, 1, 1, (1, 1, 1))])
        low = stairs.points.copy()
        low[8:] += [0.0, 1.0, 0.0]
        # One body: the upper box stands on the lower one, with its foot left out.
        foot = int(np.argmin(stairs.face_normals()[6:, 1])) + 6
        faces = [stairs.face(f).tolist() for f in range(stairs.face_count) if f != foot]
        top = int(np.argmax(stairs.face_normals()[:6, 1]))
        rim = stairs.face(foot).tolist()[::-1]
        outer = faces.pop(top)
        start = int(np.argmin([np.linalg.norm(low[v] - low[outer[0]]) for v in rim]))
        rim = rim[start:] + rim[:start]
        faces += [[outer[k], outer[(k + 1) % 4], rim[(k + 1) % 4], rim[k]] for k in range(4)]
        mesh = Mesh.of(low, faces)
        mesh = apply_step(mesh, parse_step({"tool": "facing"})).mesh
        self.assertTrue(is_closed(mesh))
        plane = {"point": [0, 0.5, 0], "normal": [0, 1, 0]}
        pieces = broken(mesh, by={"way": "planes", "planes": [plane]})
        self.assertEqual(sorted(round(volume_of(piece), 9) for piece in pieces), [1.0, 4.0])

    def test_inner_faces_are_a_patch_of_a_material_and_picked(self) -> None:
        mesh = replace(BOX, material=np.zeros(BOX.face_count), materials=("paint",))
        step = {"tool": "shards", "by": {"way": "cells", "count": 4}, "as_parts": False}
        result = apply_step(mesh, parse_step(step))
        made = result.mesh
        assert_origin_true(mesh, result)
        new = result.origin.face < 0
        np.testing.assert_array_equal(np.flatnonzero(new), result.picked.faces)
        self.assertEqual((made.patches, made.materials), (("Inside",), ("paint", "Inside")))
        np.testing.assert_array_equal(made.patch == 0, new)
        np.testing.assert_array_equal(made.material, np.where(new, 1, 0))
        self.assertEqual(int(bodies_of(made).max()), 3)
        # Those that met at a cut are each other's image: as much area looks either way.
        np.testing.assert_allclose(made.face_normals(np.flatnonzero(new)).sum(axis=0), 0, atol=1e-9)

    def test_open_skins_break_into_plates_that_can_be_thick(self) -> None:
        plate = sheet(4, 3, 4, 3)
        thin = broken(plate, by={"way": "cells", "count": 6}, cap=True)
        self.assertEqual(len(thin), 6)
        self.assertAlmostEqual(sum(area_of(piece) for piece in thin), 12.0, places=9)
        thick = broken(plate, by={"way": "cells", "count": 6}, thickness=0.25)
        self.assertTrue(all(is_closed(piece) for piece in thick))
        self.assertAlmostEqual(sum(volume_of(piece) for piece in thick), 3.0, places=9)

    def test_lines_cut_along_the_plane_of_sight(self) -> None:
        lines = [{"from": [0, 300], "to": [800, 310]}, {"from": [400, 0], "to": [390, 800]}]
        pieces = broken(BOX, by={"way": "lines", "lines": lines, "view": FROM_A_CORNER})
        self.assertEqual(len(pieces), 4)

    def test_a_hollow_stays_with_its_body(self) -> None:
        mesh = hollow()
        self.assertEqual(int(bodies_of(mesh).max()), 0)
        plane = {"point": [0.8, 0, 0], "normal": [1, 0, 0]}
        pieces = broken(mesh, by={"way": "planes", "planes": [plane]})
        self.assertEqual([round(volume_of(piece), 9) for piece in pieces], [6.2, 0.8])
        apart = apply_step(
            together([mesh, box(0.2, 0.2, 0.2, (1, 1, 1))]),
            parse_step({"tool": "separate", "each": True}),
        )
        self.assertEqual([piece.face_count for piece in apart.apart], [6])

    def test_the_same_seed_gives_the_same_bytes_and_another_one_others(self) -> None:
        first, again, other = (
            broken(BOX, by={"way": "cells", "count": 5, "seed": seed}) for seed in (3, 3, 4)
        )
        for a, b in zip(first, again, strict=True):
            self.assertEqual(a.points.tobytes(), b.points.tobytes())
            self.assertEqual(a.corners.tobytes(), b.corners.tobytes())
        self.assertNotEqual(first[0].points.tobytes(), other[0].points.tobytes())

    def test_refusals_leave_the_part_and_say_where(self) -> None:
        loose = with_points(BOX, np.array([[99.0, 0.0, 0.0]]))
        self.assertEqual(len(broken(loose, by={"way": "cells", "count": 3})), 3)
        for by in (
            {"way": "counts", "x": 50, "y": 50, "z": 50},
            {"way": "planes", "planes": [{"point": [0, 0, 0], "normal": [0, 0, 0]}]},
            {"way": "lines", "lines": [{"from": [1, 1], "to": [1, 1]}], "view": FROM_A_CORNER},
        ):
            with self.assertRaises(CutError) as caught:
                apply_step(BOX, parse_step({"tool": "shards", "by": by}))
            self.assertTrue(caught.exception.words)


class Thickened(SimpleTestCase):
    def test_a_skin_becomes_a_body_either_way(self) -> None:
        plate = sheet(4, 3, 4, 3)
        for distance in (0.25, -0.25):
            made = apply_step(plate, parse_step({"tool": "thicken", "distance": distance})).mesh
            self.assertEqual(problems(made), [])
            self.assertTrue(is_closed(made))
            self.assertAlmostEqual(volume_of(made), 3.0, places=12)
            height = made.points[:, 1]
            self.assertEqual({float(height.min()), float(height.max())}, {0.0, distance})

    def test_a_closed_part_gets_a_shell_at_the_same_distance_everywhere(self) -> None:
        made = apply_step(BOX, parse_step({"tool": "thicken", "distance": -0.1})).mesh
        self.assertEqual(problems(made), [])
        self.assertAlmostEqual(volume_of(made), 8.0 - 1.8**3, places=12)
