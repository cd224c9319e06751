"""Parts together: placements, joining, copies, stencils, parts of outlines, files of several parts."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from cutcore import CutError, Mesh, problems
from cutcore.aiming.placed_sheet import PlacedSheet
from cutcore.formats.files import read_part, read_parts, write_parts
from cutcore.formats.scene_part import ScenePart, moved_to
from cutcore.geometry.camera import View
from cutcore.geometry.placement import Placement, placed_by
from cutcore.outlines.drawn import SheetCurve, flattened
from cutcore.outlines.flat_part import FlatPart, flat_part
from cutcore.outlines.stencils import (
    OfBorder,
    OfEdges,
    OfSection,
    OfSilhouette,
    stencil_of,
)
from cutcore.queries.bodies import is_closed
from cutcore.reshape.marking.flip import turned_round
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.small import SMALL
from cutcore.shapes.torus import torus
from cutcore.table.copies import InARow, Mirrored, RoundAnAxis, mirrored_copy, placements_of
from cutcore.table.falling import fall
from cutcore.table.joined import bridged, joined
from tests.guarantees import area_of, assert_same_mesh, shells_of, volume_of

HOME = Placement()
CUBE = box(2, 2, 2, (2, 2, 2))
angles = st.floats(-400, 400)


def at(mesh: Mesh, *move: float, turn: tuple[float, float, float] = (0, 0, 0)) -> ScenePart:
    return ScenePart("part", mesh, Placement(move=tuple(move) or (0, 0, 0), turn=turn))  # type: ignore[arg-type]


class Placements(SimpleTestCase):
    @settings(max_examples=30, deadline=None)
    @given(st.tuples(angles, angles, angles), st.tuples(angles, angles, angles))
    def test_turns_are_found_again_and_undone(
        self, turn: tuple[float, float, float], move: tuple[float, float, float]
    ) -> None:
        placement = Placement(turn=turn, move=move)
        again = placed_by(placement.rotation, np.array(move))
        np.testing.assert_allclose(again.rotation, placement.rotation, atol=1e-9)
        points = np.arange(12.0).reshape(4, 3)
        np.testing.assert_allclose(placement.local(placement.places(points)), points, atol=1e-9)

    def test_quarter_turns_are_exact_and_home_leaves_the_bytes(self) -> None:
        turned = Placement(turn=(0, 90, -180)).places(CUBE.points)
        self.assertEqual(set(np.abs(turned).ravel().tolist()), {0.0, 1.0})
        self.assertIs(HOME.places(CUBE.points), CUBE.points)
        for tilt in (90.0, -90.0):
            steep = Placement(turn=(30, tilt, 20))
            np.testing.assert_allclose(
                placed_by(steep.rotation, np.zeros(3)).rotation, steep.rotation, atol=1e-9
            )

    @settings(max_examples=20, deadline=None)
    @given(st.tuples(angles, angles, angles), st.tuples(angles, angles, angles))
    def test_placements_one_after_the_other_and_sheets_on_the_table(
        self, turn: tuple[float, float, float], lean: tuple[float, float, float]
    ) -> None:
        one, other = Placement(turn=turn, move=lean), Placement(turn=lean, move=turn)
        points = np.arange(12.0).reshape(4, 3)
        both = other.after(one).places(points)
        np.testing.assert_allclose(both, other.places(one.places(points)), atol=1e-5)
        np.testing.assert_allclose(one.undone.places(one.places(points)), points, atol=1e-5)
        # Where an outline lies is the same, told before a part or on the table.
        sheet = PlacedSheet(centre=(1, 2, 3), normal=(0.2, -0.5, 0.8), turn=25, lift=2, scale=1.5)
        on_table = sheet.on_table(one)
        np.testing.assert_allclose(
            on_table.places(points), one.places(sheet.places(points)), atol=1e-5
        )
        again = on_table.before(one)
        np.testing.assert_allclose(again.places(points), sheet.places(points), atol=1e-5)


class Joining(SimpleTestCase):
    def test_parts_that_touch_become_one_body(self) -> None:
        row = [at(CUBE), at(CUBE, 2, 0, 0), at(CUBE, 2, 2, 0, turn=(0, 90, 0))]
        plain = joined(row)
        self.assertEqual((plain.mesh.face_count, plain.welded), (72, 0))
        done = joined(row, weld=1e-6)
        self.assertEqual((done.welded, done.faces_gone), (15, 16))
        self.assertTrue(is_closed(done.mesh))
        self.assertEqual(problems(done.mesh), [])
        self.assertAlmostEqual(volume_of(done.mesh), 24.0, places=9)

    def test_what_they_carry_is_kept_and_names_are_shared(self) -> None:
        one = replace(SMALL["patched"](), materials=("tin",), material=np.zeros(12))
        other = replace(
            CUBE,
            uv=np.random.default_rng(2).random((len(CUBE.corners), 2)),
            patches=("lid",),
            patch=np.zeros(CUBE.face_count),
            hard=CUBE.edges.ends[:3],
        )
        whole = joined([at(one), at(other, 9, 0, 0), at(CUBE, 0, 9, 0)]).mesh
        self.assertEqual((whole.patches, whole.materials), (("skin", "lid"), ("tin",)))
        self.assertEqual(
            np.bincount(whole.patch[whole.patch >= 0]).tolist(), [6, 6 + CUBE.face_count]
        )
        assert whole.uv is not None and other.uv is not None
        np.testing.assert_array_equal(whole.uv[len(one.corners) : -len(CUBE.corners)], other.uv)
        self.assertTrue(np.isnan(whole.uv[-len(CUBE.corners) :]).all())
        np.testing.assert_array_equal(whole.hard, other.hard + one.vertex_count)

    def test_what_does_not_touch_is_told_and_too_near_stays_legal(self) -> None:
        far = joined([at(CUBE), at(CUBE, 5, 0, 0)], weld=1e-3)
        self.assertEqual([note.code for note in far.notes], ["nothing-to-weld"])
        three = joined([at(CUBE), at(CUBE, 2, 2, 0)], weld=1e-6)
        # They share an edge: more than two faces would meet there.
        self.assertIn("not-welded", [note.code for note in three.notes])
        self.assertEqual(dict(three.mesh.edges.crowded), {})

    def test_a_bridge_joins_the_nearest_openings(self) -> None:
        plate = sheet(4, 3, 4, 3)
        back = turned_round(plate, np.ones(plate.face_count, dtype=bool)).mesh
        border = np.flatnonzero(plate.edges.border)
        done = bridged(at(plate, 0, 2, 0), at(back), border)
        self.assertTrue(is_closed(done.mesh))
        self.assertAlmostEqual(volume_of(done.mesh), 24.0, places=9)
        with self.assertRaises(CutError):
            bridged(at(plate), at(CUBE), border)
        with self.assertRaises(CutError):
            bridged(at(CUBE), at(plate), np.array([0, 1]))


class Copied(SimpleTestCase):
    def test_rows_and_rings(self) -> None:
        row = placements_of(InARow(count=3, step=(1, 0, 2)), Placement(move=(5, 0, 0)))
        self.assertEqual([p.move for p in row], [(6, 0, 2), (7, 0, 4), (8, 0, 6)])
        ring = placements_of(
            RoundAnAxis(count=3, axis="y", degrees=90, through=(1, 0, 0), rise=0.5),
            Placement(move=(2, 0, 0)),
        )
        self.assertEqual([p.move for p in ring], [(1, 0.5, -1), (0, 1, 0), (1, 1.5, 1)])
        for nothing in (InARow(step=(0, 0, 0)), RoundAnAxis(degrees=720)):
            with self.assertRaises(CutError):
                placements_of(nothing, HOME)

    @settings(max_examples=15, deadline=None)
    @given(st.tuples(angles, angles, angles), st.sampled_from("xyz"), st.floats(-9, 9))
    def test_a_mirrored_copy_is_the_image_of_what_stands_there(
        self, turn: tuple[float, float, float], axis: str, offset: float
    ) -> None:
        mesh, placement = ball(1, 2), Placement(move=(3, 1, 2), turn=turn)
        copies = Mirrored.model_validate({"axis": axis, "offset": offset})
        image = moved_to(ScenePart("", *mirrored_copy(mesh, placement, copies)))
        wanted = placement.places(mesh.points).copy()
        k = "xyz".index(axis)
        wanted[:, k] = 2 * offset - wanted[:, k]
        np.testing.assert_allclose(image.points, wanted, atol=1e-9)
        self.assertGreater(volume_of(image), 0)


def flat_view(size: float = 8.0) -> View:
    return View(
        eye=(0, 0, 10), target=(0, 0, 0), projection="parallel", height=size, size=(800, 600)
    )


class Falling(SimpleTestCase):
    def test_parts_come_to_lie_on_the_ground_and_always_alike(self) -> None:
        tilted = at(CUBE, 0, 3, 0, turn=(30, 20, 40))
        parts = [moved_to(part) for part in (tilted, at(ball(1, 4), 0.2, 6, 0), at(CUBE, 4, 1, 0))]
        seen, again = fall(parts, ground=0.0), fall(parts, ground=0.0)
        self.assertEqual(seen.move.tobytes(), again.move.tobytes())
        for k, part in enumerate(parts):
            for frame in range(len(seen.seconds)):
                turn = Rotation.from_quat(seen.turn[frame, k]).as_matrix()
                places = part.points @ turn.T + seen.move[frame, k]
                self.assertGreaterEqual(float(places[:, 1].min()), -1e-9)
            self.assertLess(float(places[:, 1].min()), 1e-6)
        # Boxes do not move any more; a ball may roll.
        still = np.abs(seen.move[-1] - seen.move[-4])[[0, 2]].max()
        self.assertLess(still, 0.05)
        # A box comes to lie on a side of it.
        self.assertAlmostEqual(float(places[:, 1].max()), 2.0, places=3)

    def test_flat_single_and_too_many(self) -> None:
        flat = fall([sheet(4, 3, 4, 3)], ground=-3.0)
        self.assertTrue(np.isfinite(flat.move).all())
        for parts in ([], [CUBE] * 301):
            with self.assertRaises(CutError):
                fall(parts)


class Stencils(SimpleTestCase):
    def test_the_silhouette_of_a_box_and_of_a_ring_with_its_hole(self) -> None:
        lifted = stencil_of(CUBE, OfSilhouette(view=flat_view()))
        (square,) = flattened(lifted.outline)
        self.assertEqual(
            sorted(map(tuple, np.round(np.abs(square.points), 6).tolist())), [(1, 1, 0)] * 4
        )
        ring = torus(2, 0.5, 48, 16)
        standing = Mesh.of(
            Placement(turn=(90, 0, 0)).places(ring.points),
            [ring.face(f) for f in range(ring.face_count)],
        )
        view = View(
            eye=(1, 0.5, 9), target=(0, 0, 0), projection="perspective", fov=40, size=(800, 600)
        )
        curves = flattened(stencil_of(standing, OfSilhouette(view=view)).outline)
        self.assertEqual(len(curves), 2)

    def test_sections_borders_and_edges(self) -> None:
        lifted = stencil_of(torus(2, 0.5, 32, 12), OfSection(point=(0, 0, 0), normal=(1, 0, 0)))
        self.assertEqual([c.closed for c in flattened(lifted.outline)], [True, True])
        plate = sheet(4, 3, 4, 3)
        (border,) = flattened(stencil_of(plate, OfBorder()).outline)
        np.testing.assert_allclose(np.ptp(border.points, axis=0)[:2], [4, 3], atol=1e-12)
        (line,) = flattened(stencil_of(plate, OfEdges(edges=(0,))).outline)
        self.assertFalse(line.closed)

    def test_where_there_is_nothing_of_the_kind_it_says_so(self) -> None:
        behind = flat_view().model_copy(
            update={"projection": "perspective", "fov": 40.0, "eye": (0.0, 0.0, 0.5)}
        )
        for mesh, stencil in (
            (CUBE, OfBorder()),
            (CUBE, OfSection(point=(9, 0, 0), normal=(1, 0, 0))),
            (CUBE, OfEdges(edges=())),
            (CUBE, OfEdges(edges=(10_000,))),
            (CUBE, OfSilhouette(view=behind)),
            (sheet(4, 3, 4, 3), OfSilhouette(view=flat_view())),
        ):
            with self.assertRaises(CutError):
                stencil_of(mesh, stencil)


def square(half: float, x: float = 0.0, y: float = 0.0, *, back: bool = False) -> SheetCurve:
    loop = half * np.array([[-1, -1, 0], [1, -1, 0], [1, 1, 0], [-1, 1, 0.0]]) + [x, y, 0]
    return SheetCurve(loop[::-1] if back else loop, True)


class PartsOfOutlines(SimpleTestCase):
    def test_holes_islands_quads_and_thickness(self) -> None:
        nested = [square(3), square(2, back=True), square(1)]
        two_holes = [square(3), square(0.5, -1, -1), square(0.5, 1, 1, back=True)]
        for curves, area in ((nested, 24.0), (two_holes, 34.0), ([square(1, back=True)], 4.0)):
            for faces in ("one face", "quads"):
                flat, _ = flat_part(curves, FlatPart(faces=faces))
                self.assertAlmostEqual(area_of(flat), area, places=9)
                self.assertEqual(problems(flat), [])
                self.assertTrue((flat.face_normals()[:, 2] > 0).all())
                if faces == "quads":
                    self.assertEqual(set(flat.sizes.tolist()), {4})
                thick, _ = flat_part(curves, FlatPart(faces=faces, thickness=0.5))
                self.assertTrue(is_closed(thick))
                self.assertAlmostEqual(volume_of(thick), 0.5 * area, places=9)

    def test_what_is_open_or_without_area_bounds_nothing(self) -> None:
        line = SheetCurve(np.array([[0.0, 0, 0], [1, 1, 0]]), False)
        there_and_back = SheetCurve(np.array([[0.0, 0, 0], [1, 1, 0], [2, 2, 0]]), True)
        _, notes = flat_part([square(2), line, there_and_back], FlatPart())
        self.assertEqual([note.code for note in notes], ["open-curves", "empty-curves"])
        for curves in ([line], [there_and_back]):
            with self.assertRaises(CutError):
                flat_part(curves, FlatPart())

    def test_curves_that_cross_or_touch_are_one_piece_and_those_inside_are_holes(self) -> None:
        def block(x: float, y: float, wide: float, tall: float) -> SheetCurve:
            corners = [[x, y], [x + wide, y], [x + wide, y + tall], [x, y + tall]]
            return SheetCurve(np.array([[*at, 0.0] for at in corners]), True)

        def turned(*corners: tuple[float, float]) -> SheetCurve:
            return SheetCurve(np.array([[*at, 0.0] for at in corners]), True)

        once = [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)]
        upright, level = block(-1, -3, 2, 6), block(-3, -1, 6, 2)
        back = SheetCurve(level.points[::-1], True)
        for area, bodies, curves in (
            (20.0, 1, [upright, level]),
            (20.0, 1, [upright, back]),
            (2.0, 1, [block(0, 0, 1, 1), block(1, 0, 1, 1)]),
            (1.0, 1, [turned(*once, *once)]),
            (1.0, 1, [turned(*once), turned(*once[::-1])]),
            (2.0, 2, [turned((0, 0), (2, 2), (2, 0), (0, 2))]),
            (53.0, 1, [block(0, 0, 9, 9), block(1, 1, 4, 4), block(3, 3, 4, 4)]),
            (15.0, 1, [block(0, 0, 4, 4), block(0, 1, 1, 1)]),
        ):
            for faces in ("one face", "quads"):
                flat, notes = flat_part(curves, FlatPart(faces=faces))
                self.assertAlmostEqual(area_of(flat), area, places=9)
                self.assertEqual(problems(flat), [])
                self.assertIn("crossing-curves", [note.code for note in notes])
            thick, _ = flat_part(curves, FlatPart(thickness=0.5))
            self.assertTrue(is_closed(thick))
            self.assertAlmostEqual(volume_of(thick), 0.5 * area, places=9)
            self.assertEqual(shells_of(thick), bodies)

    @settings(max_examples=40, deadline=None)
    @given(
        st.lists(
            st.tuples(*[st.integers(0, 12)] * 2, *[st.integers(1, 8)] * 2), min_size=1, max_size=5
        )
    )
    def test_any_blocks_cover_what_the_rule_says(self, blocks) -> None:
        curves = [
            SheetCurve(
                np.array([[x, y, 0], [x + w, y, 0], [x + w, y + h, 0], [x, y + h, 0.0]]), True
            )
            for x, y, w, h in dict.fromkeys(blocks)
        ]
        there = sorted({(x, y, x + w, y + h) for x, y, w, h in blocks})
        within = [
            sum(
                a != b and b[0] <= a[0] and b[1] <= a[1] and a[2] <= b[2] and a[3] <= b[3]
                for b in there
            )
            for a in there
        ]
        covered = 0
        for x in range(20):
            for y in range(20):
                inside = False
                for level in range(max(within) + 1):
                    here = any(
                        at == level and a[0] <= x < a[2] and a[1] <= y < a[3]
                        for a, at in zip(there, within, strict=True)
                    )
                    inside = (inside or here) if level % 2 == 0 else (inside and not here)
                covered += inside
        if covered == 0:
            with self.assertRaises(CutError):
                flat_part(curves, FlatPart())
            return
        flat, _ = flat_part(curves, FlatPart())
        self.assertAlmostEqual(area_of(flat), covered, places=9)


class Together(SimpleTestCase):
    def test_parts_go_out_and_come_in_as_they_were(self) -> None:
        textured = replace(
            CUBE,
            uv=np.random.default_rng(0).random((len(CUBE.corners), 2)),
            material=np.arange(CUBE.face_count) % 2,
            materials=("red", "blue"),
        )
        parts = [
            ScenePart("First", SMALL["patched"](), HOME),
            ScenePart("Second one", textured, Placement(move=(1, 2, 3), turn=(0, 90, 45))),
            ScenePart("Third", CUBE, Placement(move=(0, 0, 1))),
        ]
        for name in ("scene.glb", "scene.obj"):
            found, notes = read_parts(name, write_parts(name, parts))
            self.assertEqual([part.name for part in found], [part.name for part in parts])
            self.assertEqual(notes, ())
            for before, after in zip(parts, found, strict=True):
                if name.endswith("glb"):
                    self.assertEqual(after.placement, before.placement)
                    assert_same_mesh(before.mesh, after.mesh)
                else:
                    assert_same_mesh(moved_to(before), moved_to(after))
                self.assertEqual(after.mesh.patches, before.mesh.patches)
                self.assertEqual(after.mesh.materials, before.mesh.materials)
            one, _ = read_part(name, write_parts(name, parts))
            self.assertEqual(one.face_count, sum(part.mesh.face_count for part in parts))
        for name in ("scene.ply", "scene.stl"):
            found, _ = read_parts(name, write_parts(name, parts))
            self.assertEqual(len(found), 1)

    def test_other_people_s_objects_become_parts(self) -> None:
        text = b"""v 0 0 0\nv 1 0 0\nv 0 1 0\nv 9 9 9\nv 0 0 1
f 1 2 3\no lid\nf 1 2 5\ng inner\nf 2 3 5\no\nf 3 1 5\no lid\nf 1 3 5\n"""
        found, _ = read_parts("x.obj", text)
        self.assertEqual([part.name for part in found], ["", "lid"])
        self.assertEqual([part.mesh.face_count for part in found], [2, 3])
        self.assertEqual(found[1].mesh.patches, ("inner",))
        self.assertEqual(found[0].mesh.vertex_count, 4)
