"""Caps over openings of every kind, and the counterparts that a mirror finds."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh, Result, apply_step, parse_step, problems
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.border_loops import border_loops
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.trace.mirror import Mirror
from cutcore.trace.symmetry import Counterparts
from tests.guarantees import assert_guarantees, euler_of, shells_of, volume_of
from workshop.sample.skerry_light import float_hull, lantern_housing


def discard(mesh: Mesh, point: Any, normal: Any, **more: Any) -> Result:
    plane = {"point": list(point), "normal": list(normal)}
    return apply_step(
        mesh, parse_step({"tool": "slice", "plane": plane, "then": "discard", "cap": True, **more})
    )


def nested_boxes() -> Mesh:
    """A box with a hollow: a smaller box inside it, turned inside out."""
    outer, inner = box(4, 4, 4, (2, 2, 2)), box(2, 2, 2, (2, 2, 2))
    faces = [outer.face(f).tolist() for f in range(24)] + [
        (inner.face(f)[::-1] + outer.vertex_count).tolist() for f in range(24)
    ]
    return Mesh.of(np.concatenate([outer.points, inner.points]), faces)


class Caps(SimpleTestCase):
    def test_every_opening_gets_a_cap_of_its_own(self) -> None:
        ring = torus(2.0, 0.5, 24, 12)
        half = discard(ring, (0.1, 0, 0.03), (1, 0, 0.1))
        self.assertEqual(
            (len(half.picked.faces), shells_of(half.mesh), euler_of(half.mesh)), (2, 1, 2)
        )
        self.assertFalse(half.mesh.edges.border.any())
        self.assertTrue((half.mesh.face_normals(half.picked.faces) @ [1, 0, 0.1] > 0).all())

    def test_a_hollow_leaves_a_ring_tied_by_two_links(self) -> None:
        hollow = nested_boxes()
        half = discard(hollow, (0, 0.3, 0), (0, 1, 0))
        self.assertEqual((len(half.picked.faces), problems(half.mesh)), (2, []))
        self.assertFalse(half.mesh.edges.border.any())
        self.assertAlmostEqual(volume_of(half.mesh), 4 * 4 * 2.3 - 2 * 2 * 1.3)
        self.assertAlmostEqual(
            float(np.linalg.norm(half.mesh.face_normals(half.picked.faces), axis=1).sum()), 16 - 4
        )

    def test_openings_that_were_there_before_stay_open(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        low = next(f for f in range(24) if (cube.points[cube.face(f), 1] == -1).all())
        holed = apply_step(cube, parse_step({"tool": "delete", "faces": [low]})).mesh
        half = discard(holed, (0, 0.3, 0), (0, 1, 0))
        self.assertEqual((len(half.picked.faces), int(half.mesh.edges.border.sum())), (1, 4))

    def test_loops_part_where_they_touch(self) -> None:
        grid = sheet(2, 2, 2, 2)
        corners = Mesh.of(grid.points, [grid.face(0), grid.face(3)])
        loops = border_loops(corners, corners.edges.ends[corners.edges.border])
        self.assertEqual(sorted(len(loop) for loop in loops), [4, 4])

    def test_a_capped_part_can_be_cut_again(self) -> None:
        mesh = lantern_housing()
        for k in range(4):
            angle = 0.4 + 1.3 * k
            normal = np.array([np.cos(angle), 0.35 * (-1) ** k, np.sin(angle)])
            mesh = discard(mesh, [0, 70, 0] + 15 * normal, normal).mesh
            self.assertEqual(problems(mesh), [])
            self.assertFalse(mesh.edges.border.any())

    @settings(max_examples=40)
    @given(
        st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda n: sum(x * x for x in n) > 0.1),
        st.floats(-0.9, 0.9),
    )
    def test_the_hollow_box_is_capped_whatever_the_plane(self, normal, where) -> None:
        hollow = nested_boxes()
        parts = [
            discard(hollow, (where, where, where), sign * np.array(normal)) for sign in (1, -1)
        ]
        for part in parts:
            self.assertFalse(part.mesh.edges.border.any())
            self.assertEqual(problems(part.mesh), [])
        self.assertAlmostEqual(sum(volume_of(part.mesh) for part in parts), 64 - 8, places=4)


class Mirrors(SimpleTestCase):
    def test_a_symmetric_part_has_a_counterpart_for_everything(self) -> None:
        hull = float_hull()
        counterparts = Counterparts(hull, Mirror(axis="x"), weld=weld_of(hull))
        there = counterparts.vertices(np.arange(hull.vertex_count))
        self.assertTrue((counterparts.vertices(there) == np.arange(hull.vertex_count)).all())
        for f in range(hull.face_count):
            self.assertEqual(counterparts.face(counterparts.face(f)), f)
        for e in range(0, len(hull.edges), 7):
            self.assertEqual(counterparts.edge(counterparts.edge(e)), e)

    def test_the_mirrored_part_stays_symmetric_to_the_last_bit(self) -> None:
        hull = float_hull()
        e = int(hull.edges.of_corner[hull.starts[40]])
        first, second = hull.edges.ends[e].tolist()
        line = {"points": [{"edge": [first, second], "t": 0.3}, {"vertex": int(hull.face(40)[3])}]}
        made = apply_step(
            hull, parse_step({"tool": "knife", "lines": [line], "mirror": {"axis": "x"}})
        )
        assert_guarantees(hull, made, flat=False)
        new = made.mesh.points[hull.vertex_count :]
        self.assertGreater(len(new), 0)
        mirrored = new * [-1, 1, 1]
        self.assertEqual(
            {tuple(p) for p in new.tolist()}, {tuple(p) for p in (mirrored + 0.0).tolist()}
        )

    def test_what_has_no_counterpart_is_noted_with_its_place(self) -> None:
        cube = box(2, 2, 2, (3, 2, 2))
        lopsided = Mesh(
            cube.points + np.where(cube.points[:, :1] > 0.9, [[0.2, 0, 0]], 0.0),
            cube.starts,
            cube.corners,
        )
        side = next(f for f in range(cube.face_count) if (cube.points[cube.face(f), 0] == 1).all())
        a, b, c, d = cube.face(side).tolist()
        line = {"points": [{"edge": [a, b], "t": 0.5}, {"edge": [d, c], "t": 0.5}]}
        step = parse_step({"tool": "knife", "lines": [line], "mirror": {"axis": "x"}})
        self.assertEqual(apply_step(cube, step).notes, ())
        made = apply_step(lopsided, step)
        self.assertEqual(
            [(n.code, n.elements[0].as_json()) for n in made.notes],
            [("no-counterpart", {"face": side})],
        )

    def test_a_mirror_off_the_middle_and_one_along_the_line_itself(self) -> None:
        grid = sheet(4, 4, 4, 4)
        middle = [{"edge": [12, 7], "t": 0.5}, {"edge": [13, 8], "t": 0.5}]
        names = {frozenset(e) for e in map(tuple, grid.edges.ends.tolist())}
        points = [p for p in middle if frozenset(p["edge"]) in names]
        self.assertEqual(len(points), 2)
        once = apply_step(grid, parse_step({"tool": "knife", "lines": [{"points": points}]}))
        both = apply_step(
            grid,
            parse_step(
                {
                    "tool": "knife",
                    "lines": [{"points": points}],
                    "mirror": {"axis": "x", "offset": -0.5},
                }
            ),
        )
        assert_guarantees(grid, both, flat=True)
        self.assertEqual(both.mesh.face_count, once.mesh.face_count)
        plane = {"point": [0.5, 0, 0], "normal": [1, 0, 0]}
        sliced = apply_step(
            grid,
            parse_step({"tool": "slice", "plane": plane, "mirror": {"axis": "x", "offset": 0.5}}),
        )
        self.assertEqual(sliced.mesh.face_count, 20)
