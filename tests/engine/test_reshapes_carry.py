"""What reshapes carry along: texture places, materials, patches, hard edges; through the command
line; and what they do one after another."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, apply_step, parse_step, read_part, write_part
from cutcore.__main__ import main
from cutcore.queries.measure import measured
from cutcore.shapes.box import box
from cutcore.shapes.turned import turned
from tests.engine.test_attributes import assert_painted, painted
from tests.engine.test_walls import grown, simple_border, step
from tests.guarantees import assert_tables_true, borders_of, euler_of, volume_of

NONE = np.zeros(0, dtype=np.int64)
TUBE = turned([(1.0, 0.0), (1.2, 1.0), (0.8, 2.0), (1.0, 3.0)], 8)


class Carry(SimpleTestCase):
    @settings(max_examples=40)
    @given(st.integers(0, 2**31), st.integers(1, 8), st.floats(0.02, 0.3))
    def test_an_inset_keeps_what_was_painted(self, seed, count, width) -> None:
        plate = painted(6, 5)
        faces = grown(plate, seed, count)
        assume(simple_border(plate, faces))
        try:
            made = step(plate, "inset", faces=faces, distance=width)
        except CutError:
            return
        assert_painted(made.mesh)
        came = made.origin.face >= 0
        self.assertTrue(came.all())
        np.testing.assert_array_equal(made.mesh.material, plate.material[made.origin.face])
        np.testing.assert_array_equal(made.mesh.patch, plate.patch[made.origin.face])
        self.assertTrue(
            set(map(tuple, made.mesh.hard.tolist()))
            <= set(map(tuple, made.mesh.edges.ends.tolist()))
        )

    @settings(max_examples=40)
    @given(st.integers(0, 2**31), st.integers(1, 8), st.floats(-1, 1))
    def test_an_extrusion_keeps_the_map_and_the_walls_take_the_material(
        self, seed, count, distance
    ) -> None:
        plate = painted(6, 5)
        faces = grown(plate, seed, count)
        assume(simple_border(plate, faces) and abs(distance) > 1e-3)
        made = step(plate, "extrude", faces=faces, distance=distance)
        assert_painted(made.mesh)
        walls = np.arange(plate.face_count, made.mesh.face_count)
        self.assertEqual(
            set(made.mesh.material[walls].tolist()) - set(plate.material[faces].tolist()), set()
        )
        self.assertTrue((made.mesh.patch[walls] == -1).all())
        self.assertTrue((made.mesh.patch[: plate.face_count] == plate.patch).all())
        ends = set(map(tuple, made.mesh.edges.ends.tolist()))
        self.assertTrue(set(map(tuple, made.mesh.hard.tolist())) <= ends)
        # A hard edge of the border is hard at both ends of its wall.
        chosen = np.zeros(plate.face_count, dtype=bool)
        chosen[faces] = True
        pairs = plate.edges.faces
        rim = np.flatnonzero((chosen[np.maximum(pairs, 0)] & (pairs >= 0)).sum(axis=1) == 1)
        hard = set(map(tuple, plate.hard.tolist()))
        doubled = sum(tuple(plate.edges.ends[e].tolist()) in hard for e in rim.tolist())
        self.assertEqual(len(made.mesh.hard), len(plate.hard) + doubled)

    def test_pushed_in_and_out_again_the_volume_is_what_it_was(self) -> None:
        cube = box(3, 3, 3, (3, 3, 3))
        top = [
            f
            for f in range(cube.face_count)
            if np.isclose(cube.points[cube.face(f)][:, 1], 1.5).all()
        ][4:5]
        out = step(cube, "extrude", faces=top, distance=0.75)
        self.assertAlmostEqual(volume_of(out.mesh), 27.75)
        back = step(out.mesh, "extrude", faces=out.picked.faces.tolist(), distance=-0.75, along="y")
        self.assertAlmostEqual(volume_of(back.mesh), 27.0)
        self.assertEqual((euler_of(back.mesh), borders_of(back.mesh)), (2, 0))
        inset = step(cube, "inset", faces=top, distance=0.2)
        self.assertAlmostEqual(volume_of(inset.mesh), 27.0)
        joined = step(
            inset.mesh, "dissolve", faces=[*top, *range(cube.face_count, inset.mesh.face_count)]
        )
        self.assertEqual(
            (joined.mesh.face_count, joined.mesh.vertex_count), (cube.face_count, cube.vertex_count)
        )

    def test_a_hole_is_bridged_through_a_part_and_its_rim_made_round(self) -> None:
        block = box(4, 2, 4, (4, 1, 4))
        middle = [
            f
            for f in range(block.face_count)
            if np.abs(block.points[block.face(f)].mean(axis=0)[[0, 2]]).max() < 1.1
        ]
        ends = [f for f in middle if np.isclose(np.abs(block.points[block.face(f)][:, 1]), 1).all()]
        bridged = step(block, "bridge", faces=ends)
        self.assertEqual((euler_of(bridged.mesh), borders_of(bridged.mesh)), (0, 0))
        self.assertAlmostEqual(volume_of(bridged.mesh), 4 * 2 * 4 - 2 * 2 * 2)
        rim = np.unique(
            bridged.mesh.corners[np.isin(bridged.mesh.face_of_corner, bridged.picked.faces)]
        )
        top = rim[np.isclose(bridged.mesh.points[rim][:, 1], 1)].tolist()
        self.assertEqual(len(top), 8)
        round_it = step(bridged.mesh, "round", vertices=top, diameter=2.4, even=True)
        ring = measured(round_it.mesh, np.array(top), NONE, NONE).ring
        assert ring is not None
        self.assertAlmostEqual(ring.diameter, 2.4)
        self.assertLess(ring.roundness, 1e-12)
        assert_tables_true(round_it.mesh)

    def test_a_bridge_carries_what_the_rest_was_painted_with(self) -> None:
        caps = [f for f in range(TUBE.face_count) if TUBE.sizes[f] == 8]
        mesh = Mesh(
            TUBE.points,
            TUBE.starts,
            TUBE.corners,
            TUBE.uv,
            np.arange(TUBE.face_count) % 2,
            materials=("a", "b"),
        )
        made = step(mesh, "bridge", faces=caps)
        kept = made.origin.face >= 0
        np.testing.assert_array_equal(
            made.mesh.material[kept], mesh.material[made.origin.face[kept]]
        )
        self.assertTrue((made.mesh.material[~kept] == -1).all())
        self.assertEqual((~kept).sum(), 8)
        assert made.mesh.uv is not None and mesh.uv is not None
        self.assertEqual(len(made.mesh.uv), len(made.mesh.corners))
        self.assertEqual((euler_of(made.mesh), borders_of(made.mesh)), (0, 0))


class Measured(SimpleTestCase):
    @settings(max_examples=40)
    @given(
        st.integers(0, TUBE.face_count - 1),
        st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1)),
    )
    def test_normals_are_unit_and_extents_along_a_direction_scale_with_nothing(
        self, face, direction
    ) -> None:
        assume(np.linalg.norm(direction) > 1e-3)
        found = measured(TUBE, NONE, NONE, np.array([face]), direction=np.array(direction))
        assert found.normal is not None and found.along is not None
        self.assertAlmostEqual(float(np.linalg.norm(found.normal)), 1.0)
        unit = np.array(direction) / np.linalg.norm(direction)
        heights = TUBE.points[TUBE.face(face)] @ unit
        np.testing.assert_allclose(found.along, [heights.min(), heights.max()], atol=1e-12)
        twice = measured(TUBE, NONE, NONE, np.array([face]), direction=7 * np.array(direction))
        np.testing.assert_allclose(twice.along, found.along, atol=1e-12)

    def test_a_whole_closed_part_has_no_mean_normal(self) -> None:
        self.assertIsNone(measured(TUBE, NONE, NONE, np.arange(TUBE.face_count)).normal)
        self.assertIsNone(measured(TUBE, NONE, NONE, NONE).normal)


class FromAShell(SimpleTestCase):
    def run_steps(self, mesh: Mesh, steps: list[dict[str, Any]]) -> tuple[int, Mesh | None]:
        with tempfile.TemporaryDirectory() as folder:
            part, out, file, report = (
                Path(folder) / name for name in ("a.obj", "b.obj", "steps.json", "report.json")
            )
            part.write_bytes(write_part("a.obj", mesh))
            file.write_text(json.dumps({"wertome": 1, "steps": steps}))
            status = main(
                ["apply", str(file), "--in", str(part), "--out", str(out), "--report", str(report)]
            )
            if status:
                return status, None
            self.assertEqual(
                [s["tool"] for s in json.loads(report.read_text())["steps"]],
                [s["tool"] for s in steps],
            )
            return status, read_part("b.obj", out.read_bytes())[0]

    def test_reshapes_are_steps_like_any_other(self) -> None:
        cube = box(2, 2, 2)
        ring = [[-0.5, 3, -0.5], [0.5, 3, -0.5], [0.5, 3, 0.5], [-0.5, 3, 0.5]]
        outline = {
            "tool": "outline",
            "curves": [{"points": ring}],
            "along": {"direction": [0, -1, 0]},
            "patch": "Hatch",
            "tie": "spokes",
        }
        cut = apply_step(cube, parse_step(outline))
        status, made = self.run_steps(
            cube,
            [
                outline,
                {"tool": "inset", "faces": cut.picked.faces.tolist(), "distance": 0.1},
                {
                    "tool": "extrude",
                    "faces": cut.picked.faces.tolist(),
                    "distance": -0.5,
                    "along": "mean",
                },
            ],
        )
        assert made is not None
        self.assertEqual((status, made.patches), (0, ("Hatch",)))
        self.assertAlmostEqual(volume_of(made), 8 - 0.5 * 0.8 * 0.8)
        self.assertEqual((euler_of(made), borders_of(made)), (2, 0))

    def test_a_reshape_that_can_not_be_made_names_its_place(self) -> None:
        cube = box(2, 2, 2)
        for wrong in (
            {"tool": "inset", "faces": [0], "distance": 5},
            {"tool": "extrude", "faces": [17], "distance": 1},
            {"tool": "bridge", "faces": [0, 1, 2, 3, 4, 5]},
            {"tool": "round", "vertices": [0, 1]},
        ):
            self.assertEqual(self.run_steps(cube, [wrong])[0], 2, wrong)
