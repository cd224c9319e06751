"""Outlines: what falls inside is picked, nested ones leave rings, and every miss is told."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from cutcore import Mesh, Result, apply_step, parse_step
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from tests.engine.test_knife import FLAT, view_along
from tests.guarantees import assert_guarantees
from tests.zoo import ZOO

DOWN = {"direction": [0, -1, 0]}
CUBE = box(2, 2, 2)


def ring(
    sides: int,
    radius: float,
    x: float = 0.0,
    z: float = 0.0,
    height: float = 3.0,
    turn: float = 0.1,
) -> list[list[float]]:
    """A regular polygon on a level sheet."""
    angle = turn + 2 * np.pi * np.arange(sides) / sides
    return np.stack(
        [x + radius * np.cos(angle), np.full(sides, height), z + radius * np.sin(angle)], axis=1
    ).tolist()


def project(
    mesh: Mesh,
    *curves: list[list[float]],
    along: Any = None,
    closed: bool = True,
    flat: bool = True,
    **more: Any,
) -> Result:
    named = [{"points": points, "closed": closed} for points in curves]
    result = apply_step(
        mesh, parse_step({"tool": "outline", "curves": named, "along": along or DOWN, **more})
    )
    assert_guarantees(mesh, result, flat=flat)
    return result


def picked_area(result: Result) -> float:
    return (
        float(np.linalg.norm(result.mesh.face_normals(result.picked.faces), axis=1).sum())
        if len(result.picked.faces)
        else 0.0
    )


def area_of_ring(sides: int, radius: float) -> float:
    return 0.5 * sides * radius**2 * float(np.sin(2 * np.pi / sides))


def codes(result: Result) -> list[str]:
    return [note.code for note in result.notes]


class Outlines(SimpleTestCase):
    def test_a_shape_inside_one_face_gives_two_faces_more_and_its_inside_is_picked(self) -> None:
        result = project(CUBE, ring(12, 0.5))
        self.assertEqual(
            (result.mesh.vertex_count, result.mesh.face_count, codes(result)), (20, 8, [])
        )
        self.assertAlmostEqual(picked_area(result), area_of_ring(12, 0.5))

    def test_a_shape_over_many_faces_picks_all_of_its_inside(self) -> None:
        grid = sheet(4, 4, 7, 5)
        result = project(grid, ring(30, 1.3, 0.2, -0.1))
        self.assertAlmostEqual(picked_area(result), area_of_ring(30, 1.3))
        self.assertEqual(codes(result), [])

    def test_nested_shapes_pick_what_lies_between_them(self) -> None:
        result = project(CUBE, ring(8, 0.7), ring(5, 0.3))
        self.assertAlmostEqual(picked_area(result), area_of_ring(8, 0.7) - area_of_ring(5, 0.3))
        apart = project(CUBE, ring(6, 0.3, -0.5), ring(6, 0.3, 0.5), ring(4, 0.1, -0.5))
        self.assertAlmostEqual(picked_area(apart), 2 * area_of_ring(6, 0.3) - area_of_ring(4, 0.1))

    def test_shapes_that_touch_the_border_or_share_a_corner_or_lie_on_edges_are_sound(self) -> None:
        square = [[-0.5, 3, -1.0], [-0.5, 3, 0.0], [0.5, 3, 0.0], [0.5, 3, -1.0]]
        self.assertAlmostEqual(picked_area(project(CUBE, square)), 1.0)
        pair = (
            [[0, 3, 0], [-0.6, 3, 0.3], [-0.6, 3, -0.3]],
            [[0, 3, 0], [0.6, 3, -0.3], [0.6, 3, 0.3]],
        )
        self.assertAlmostEqual(picked_area(project(CUBE, *pair)), 0.36)
        corner = [[-1, 3, -1], [0.5, 3, -1], [0, 3, 0.5]]
        self.assertAlmostEqual(picked_area(project(CUBE, corner)), 0.5 * 1.5 * 1.5)

    def test_right_through_cuts_and_picks_every_side(self) -> None:
        near = project(torus(1.0, 0.3, 24, 12), ring(16, 0.25, 1.0), flat=False)
        through = project(torus(1.0, 0.3, 24, 12), ring(16, 0.25, 1.0), flat=False, reach="through")
        self.assertEqual((codes(near), codes(through)), ([], []))
        self.assertAlmostEqual(picked_area(through) / picked_area(near), 2.0, places=6)

    def test_an_open_line_is_cut_and_picks_nothing(self) -> None:
        result = project(sheet(4, 4, 4, 4), [[-3, 1, 0.3], [0, 1, 0.5], [3, 1, 0.2]], closed=False)
        self.assertEqual((len(result.picked.faces), codes(result)), (0, ["outline-off-the-part"]))
        self.assertEqual(result.mesh.face_count, 16 + 4)

    def test_a_mirror_projects_a_second_time(self) -> None:
        result = project(CUBE, ring(7, 0.3, 0.5), mirror={"axis": "x"})
        self.assertAlmostEqual(picked_area(result), 2 * area_of_ring(7, 0.3))

    def test_a_view_in_perspective_counts(self) -> None:
        view = {
            "eye": [0, 6, 0],
            "target": [0, 0, 0],
            "up": [0, 0, -1],
            "fov": 40,
            "size": [500, 500],
        }
        result = project(CUBE, ring(9, 0.2, height=3.5), along={"view": view})
        # From 2.5 before the eye to 5 before it: twice the size.
        self.assertAlmostEqual(picked_area(result), area_of_ring(9, 0.4))

    def test_every_miss_is_told(self) -> None:
        cases = [
            (ring(9, 0.3, 5.0), {}, "outline-misses"),
            (ring(9, 0.3), {"along": {"direction": [0, 1, 0]}}, "outline-behind"),
            (ring(9, 0.3), {"along": {"direction": [1, 0, 0]}}, "outline-edge-on"),
            (ring(9, 0.3, 0.95), {}, "outline-off-the-part"),
        ]
        for curve, more, code in cases:
            with self.subTest(code):
                self.assertEqual(codes(project(CUBE, curve, **more))[0], code)
        steps = Mesh.of(
            np.array(
                [[x, y, z] for x, y in ((-2, 0), (0, 0), (0.2, 1), (2, 1)) for z in (-1, 1)], float
            ),
            [[0, 1, 3, 2], [2, 3, 5, 4], [4, 5, 7, 6]],
        )
        aside = {"direction": [0.5, -1, 0]}
        cut_off = project(steps, ring(12, 0.6, -1.6, height=4.0), along=aside)
        self.assertEqual(codes(cut_off)[:1], ["outline-cut-off"] if codes(cut_off) else [])

    @settings(max_examples=80, deadline=None, suppress_health_check=[HealthCheck.too_slow])
    @given(
        st.sampled_from(sorted(ZOO)),
        st.integers(3, 14),
        st.floats(0.05, 0.8),
        st.tuples(st.floats(-1, 1), st.floats(-1, 1)),
        st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda d: sum(x * x for x in d) > 0.05),
        st.sampled_from(["near", "through"]),
        st.booleans(),
        st.booleans(),
    )
    def test_every_guarantee_holds_for_random_outlines(
        self, name, sides, size, off, direction, reach, nested, seen
    ) -> None:
        mesh = ZOO[name]
        view = parse_view(mesh, direction)
        middle = np.array(view["target"])
        away = (np.array(view["eye"]) - middle) / np.linalg.norm(np.array(view["eye"]) - middle)
        right = np.cross(away, view["up"])
        right /= np.linalg.norm(right)
        up = np.cross(right, away)
        angle = 0.3 + 2 * np.pi * np.arange(sides) / sides
        flat = np.stack([np.cos(angle), np.sin(angle)], axis=1) * size * 0.5 * mesh.diagonal
        spread = 0.3 * mesh.diagonal
        curves = []
        for scale in (1.0, 0.5)[: 1 + nested]:
            local = scale * flat + np.array(off) * spread
            curves.append(
                (
                    middle + away * 1.5 * mesh.diagonal + local[:, :1] * right + local[:, 1:] * up
                ).tolist()
            )
        along = {"view": view} if seen else {"direction": (-away).tolist()}
        step = {
            "tool": "outline",
            "curves": [{"points": c} for c in curves],
            "along": along,
            "reach": reach,
        }
        result = apply_step(mesh, parse_step(step))
        assert_guarantees(mesh, result, flat=name in FLAT)
        if not result.notes and name in FLAT:
            self.assertIs(apply_step(result.mesh, parse_step(step)).mesh, result.mesh)


def parse_view(mesh: Mesh, direction: tuple[float, float, float]) -> dict[str, Any]:
    return view_along(mesh, direction, "perspective")
