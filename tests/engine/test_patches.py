"""Patches: groups of faces with names, what bounds them, and what becomes of them."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from cutcore import CutError, Mesh, Result, apply_step, parse_step, problems, read_part, write_part
from cutcore.geometry.polygons import loop_area
from cutcore.queries.patches import patches_of
from cutcore.queries.uv_seams import uv_seams
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from tests.guarantees import area_of, assert_origin_true, assert_tables_true, volume_of

CUBE = box(2.0, 2.0, 2.0, (3, 3, 3))
PLATE = sheet(4.0, 3.0, 4, 3)


def made(mesh: Mesh, tool: str, **more: Any) -> Result:
    result = apply_step(mesh, parse_step({"tool": tool, **more}))
    result.mesh.check()
    assert_tables_true(result.mesh)
    return result


def names(mesh: Mesh) -> dict[str, int]:
    return {patch.name: patch.faces for patch in patches_of(mesh)}


def with_uv(mesh: Mesh) -> Mesh:
    """UVs as seen from above, another island to the right of the middle."""
    uv = mesh.points[mesh.corners][:, [0, 2]]
    middle = np.add.reduceat(mesh.points[mesh.corners, 0], mesh.starts[:-1]) / mesh.sizes
    return replace(mesh, uv=uv + np.where(middle > 0, 10.0, 0.0)[mesh.face_of_corner][:, None])


class Naming(SimpleTestCase):
    def test_a_pick_is_named_and_grows_to_what_bounds_it(self) -> None:
        one = made(CUBE, "patch", faces=[0, 1], name="Lid").mesh
        self.assertEqual(names(one), {"Lid": 2})
        self.assertEqual(names(made(one, "patch", faces=[0], name="").mesh), {"Lid": 1})
        self.assertEqual(names(made(one, "patch", faces=[0, 1], name="").mesh), {})
        side = made(CUBE, "patch", faces=[0], up_to="angle", name="Lid").mesh
        self.assertEqual(names(side), {"Lid": 9})
        self.assertEqual(
            names(made(CUBE, "patch", faces=[0], up_to="connected", name="All").mesh), {"All": 54}
        )
        hard = CUBE.edges.ends[np.flatnonzero(_bends(CUBE))]
        marked = replace(CUBE, hard=hard)
        self.assertEqual(
            names(made(marked, "patch", faces=[0], up_to="hard edges", name="Lid").mesh), {"Lid": 9}
        )

    def test_every_group_becomes_a_patch_of_its_own(self) -> None:
        sides = made(CUBE, "patch", up_to="angle", name="Side", each=True).mesh
        self.assertEqual(names(sides), {f"Side {k}": 9 for k in range(1, 7)})
        again = made(sides, "patch", faces=[0, 1], name="Side", up_to="connected", each=True).mesh
        self.assertEqual(names(again)["Side 7"], 2)
        for patch in patches_of(sides):
            self.assertAlmostEqual(patch.area, 4.0)
            self.assertAlmostEqual(max(abs(x) for x in patch.at), 1.0)

    def test_a_patch_for_every_face_of_a_fine_ball_is_refused(self) -> None:
        with self.assertRaisesRegex(CutError, "864 patches, more than 500"):
            made(ball(1.0, 12), "patch", up_to="angle", degrees=1, name="Side", each=True)

    def test_renamed_joined_and_taken_in_and_out_of_files(self) -> None:
        sides = made(CUBE, "patch", up_to="angle", name="Side", each=True).mesh
        one = made(sides, "rename patch", patch="Side 1", name="Lid").mesh
        self.assertEqual(next(iter(names(one))), "Lid")
        merged = made(one, "rename patch", patch="Lid", name="Side 2").mesh
        self.assertEqual(names(merged)["Side 2"], 18)
        for file in ("part.obj", "part.glb"):
            back, _ = read_part(file, write_part(file, one))
            self.assertEqual(names(back), names(one), file)
        for bad in (
            {"tool": "rename patch", "patch": "None", "name": "x"},
            {"tool": "join patches", "patches": ["Lid", "None"]},
            {"tool": "clean patch", "patch": "None"},
        ):
            with self.assertRaisesRegex(CutError, "there is no patch"):
                apply_step(one, parse_step(bad))

    def test_cuts_carry_patches_to_both_halves(self) -> None:
        sides = made(CUBE, "patch", up_to="angle", name="Side", each=True).mesh
        cut = made(sides, "slice", plane={"point": [0, 0.1, 0], "normal": [0.3, 1, 0.2]}).mesh
        for patch in patches_of(cut):
            self.assertAlmostEqual(patch.area, 4.0)
        self.assertGreater(sum(names(cut).values()), 54)


class Joining(SimpleTestCase):
    def test_the_line_between_two_patches_is_dissolved_and_uv_seams_stay(self) -> None:
        patch = (np.arange(PLATE.face_count) * 2 >= PLATE.face_count).astype(np.int64)
        two = replace(PLATE, patch=patch, patches=("skin", "lid"))
        result = made(two, "join patches", patches=["skin", "lid"])
        self.assertEqual(names(result.mesh), {"skin": 9})
        self.assertAlmostEqual(area_of(result.mesh), area_of(PLATE))
        kept = made(two, "join patches", patches=["lid", "skin"], keep_line=True).mesh
        self.assertEqual(names(kept), {"lid": 12})
        parted = made(with_uv(two), "join patches", patches=["skin", "lid"])
        self.assertEqual(names(parted.mesh), {"skin": 12})
        self.assertIn("uv-seam-stays", {note.code for note in parted.notes})


class Cleaning(SimpleTestCase):
    def test_a_flat_side_becomes_one_face_quads_or_triangles_with_its_border_kept(self) -> None:
        side = list(range(9))
        border = {v for f in side for v in CUBE.face(f).tolist()} - _inner(CUBE, side)
        for to, most in (("one face", 1), ("quads", 9), ("triangles", 10)):
            result = made(CUBE, "clean patch", faces=side, to=to)
            self.assertEqual(problems(result.mesh), [], to)
            self.assertAlmostEqual(volume_of(result.mesh), 8.0)
            assert_origin_true(CUBE, result)
            new = np.flatnonzero(np.isin(result.origin.face, side))
            self.assertLessEqual(len(new), most, to)
            here = {int(v) for f in new for v in result.origin.vertex[result.mesh.face(int(f))]}
            self.assertLessEqual(border, here)
            if to == "quads":
                self.assertTrue((result.mesh.sizes[new] == 4).all())

    def test_what_is_not_flat_is_refused_with_the_distance_or_keeps_its_heights(self) -> None:
        bump = PLATE.points.copy()
        bump[9, 1] = 0.25
        bent = replace(PLATE, points=bump)
        every = list(range(PLATE.face_count))
        with self.assertRaisesRegex(CutError, "not flat.*0.2.* off its plane") as refusal:
            made(bent, "clean patch", faces=every)
        self.assertTrue(refusal.exception.elements)
        kept = made(bent, "clean patch", faces=every, heights="keep")
        self.assertTrue((np.abs(kept.mesh.points - bump[9]).max(axis=1) == 0).any())
        self.assertLess(kept.mesh.face_count, PLATE.face_count)
        self.assertAlmostEqual(area_of(kept.mesh), area_of(bent), places=9)
        wide = made(bent, "clean patch", faces=every, within=0.2)
        self.assertEqual(wide.mesh.face_count, 1)

    def test_uvs_are_kept_and_their_seams_stay(self) -> None:
        plate = with_uv(PLATE)
        self.assertEqual(int(uv_seams(plate).sum()), 3)
        for to in ("one face", "quads", "triangles"):
            result = made(plate, "clean patch", faces=list(range(12)), to=to)
            mesh = result.mesh
            self.assertIn("parting-stays", {note.code for note in result.notes})
            assert mesh.uv is not None
            right = np.add.reduceat(mesh.points[mesh.corners, 0], mesh.starts[:-1]) > 0
            wanted = (
                mesh.points[mesh.corners][:, [0, 2]]
                + np.where(right, 10.0, 0.0)[mesh.face_of_corner][:, None]
            )
            np.testing.assert_allclose(mesh.uv, wanted, atol=1e-9)
            islands = [
                sum(
                    loop_area(mesh.uv[mesh.starts[f] : mesh.starts[f + 1]])
                    for f in range(mesh.face_count)
                )
            ]
            self.assertAlmostEqual(abs(islands[0]), 12.0)

    def test_a_ring_round_a_hole_stays_and_is_said(self) -> None:
        ring = [0, 1, 2, 3, 5, 6, 7, 8]
        result = made(CUBE, "clean patch", faces=ring)
        self.assertIn("not-one-face", {note.code for note in result.notes})
        self.assertEqual(problems(result.mesh), [])
        round_one = ball(1.0, 4)
        result = made(round_one, "clean patch", faces=list(range(20)), heights="keep", to="quads")
        self.assertEqual(problems(result.mesh), [])


def _bends(mesh: Mesh) -> np.ndarray:
    normals = mesh.face_normals()
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    pairs = mesh.edges.faces
    return np.einsum("ij,ij->i", normals[pairs[:, 0]], normals[pairs[:, 1]]) < 0.5


def _inner(mesh: Mesh, faces: list[int]) -> set[int]:
    """The vertices of some faces that no other face uses."""
    others = set(
        np.concatenate([mesh.face(f) for f in range(mesh.face_count) if f not in faces]).tolist()
    )
    return {v for f in faces for v in mesh.face(f).tolist()} - others
