"""Knife lines: known cuts with exact counts and places, and the guarantees over random ones."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import HealthCheck, assume, example, given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, Result, StepError, apply_step, parse_step
from cutcore.imprint import subdivide
from cutcore.imprint.dry_run import flow_after
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.flow import flow_counts
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.steps.replay import trace_step
from tests.guarantees import assert_guarantees, assert_same_mesh
from tests.zoo import ZOO, concave_plate, prism

FLAT = {"box", "sheet", "comb", "star prism", "triangulated torus", "three on an edge", "bow tie"}
TOP_DOWN = {
    "eye": [0, 10, 0],
    "target": [0, 0, 0],
    "up": [0, 0, -1],
    "projection": "parallel",
    "height": 8,
    "size": [800, 800],
}


def pixel(x: float, z: float) -> dict[str, Any]:
    """The point of the top-down view above a place."""
    return {"screen": [400 + 100 * x, 400 + 100 * z]}


def cut(mesh: Mesh, *points: dict[str, Any], **more: Any) -> Result:
    """Cut one line into a mesh and check everything that must hold after it."""
    closed = more.pop("closed", False)
    result = apply_step(
        mesh,
        parse_step(
            {"tool": "knife", "lines": [{"points": list(points), "closed": closed}], **more}
        ),
    )
    assert_guarantees(mesh, result, flat=True)
    return result


def counts(mesh: Mesh) -> tuple[int, int, int]:
    return mesh.vertex_count, len(mesh.edges), mesh.face_count


class KnownCuts(SimpleTestCase):
    def test_a_line_across_one_face_of_a_cube_splits_it_at_exact_shares(self) -> None:
        cube = box(2, 2, 2)
        top = next(f for f in range(6) if (cube.points[cube.face(f), 1] == 1).all())
        a, b, c, d = cube.face(top).tolist()
        result = cut(cube, {"edge": [a, b], "t": 0.25}, {"edge": [c, d], "t": 0.5})
        self.assertEqual(counts(result.mesh), (10, 15, 7))
        np.testing.assert_array_equal(
            result.mesh.points[8], cube.points[a] + 0.25 * (cube.points[b] - cube.points[a])
        )
        np.testing.assert_array_equal(
            result.mesh.points[9], 0.5 * (cube.points[c] + cube.points[d])
        )
        self.assertEqual(sorted(result.mesh.sizes.tolist()), [4, 4, 4, 4, 4, 5, 5])

    def test_a_line_over_a_grid_adds_a_vertex_on_every_edge_it_crosses_and_exact_texture_places(
        self,
    ) -> None:
        grid = sheet(4, 4, 4, 4)
        result = cut(grid, pixel(-1.9, -0.4), pixel(1.9, 0.3), view=TOP_DOWN, open_ends="trim")
        self.assertEqual({note.code for note in result.notes}, {"open-end-trim"})
        self.assertEqual(counts(result.mesh), (25 + 4, 40 + 4 + 3, 16 + 3))
        assert result.mesh.uv is not None
        places = result.mesh.points[result.mesh.corners]
        np.testing.assert_allclose(
            result.mesh.uv,
            np.stack([places[:, 0] / 4 + 0.5, 0.5 - places[:, 2] / 4], axis=1),
            atol=1e-12,
        )

    def test_a_straight_line_crosses_a_concave_face_many_times(self) -> None:
        comb = concave_plate()
        view = {**TOP_DOWN, "eye": [3.5, 10, -1.5], "target": [3.5, 0, -1.5]}
        result = cut(comb, {"screen": [0, 350]}, {"screen": [800, 350]}, view=view)
        self.assertEqual(counts(result.mesh), (16 + 8, 16 + 8 + 4, 5))

    def test_a_closed_line_inside_one_face_makes_two_faces_more(self) -> None:
        plate = sheet(4, 4, 1, 1)
        square = [pixel(-1, -1), pixel(1, -1), pixel(1, 1), pixel(-1, 1)]
        result = cut(plate, *square, view=TOP_DOWN, closed=True)
        self.assertEqual(counts(result.mesh), (8, 4 + 4 + 2, 3))

    def test_lines_that_cross_in_one_face_share_the_vertex_where_they_meet(self) -> None:
        plate = sheet(4, 4, 1, 1)
        lines = [
            {"points": [pixel(-3, 0), pixel(3, 0.5)]},
            {"points": [pixel(0, -3), pixel(0.5, 3)]},
        ]
        result = apply_step(plate, parse_step({"tool": "knife", "lines": lines, "view": TOP_DOWN}))
        assert_guarantees(plate, result, flat=True)
        self.assertEqual(counts(result.mesh), (4 + 4 + 1, 12, 4))

    def test_open_ends_are_extended_to_the_border_or_joined_to_a_corner_on_request(self) -> None:
        plate = sheet(4, 4, 1, 1)
        ends = (pixel(-3, 0), pixel(1, 0.5))
        extended = cut(plate, *ends, view=TOP_DOWN, open_ends="extend")
        self.assertEqual(counts(extended.mesh), (4 + 3, 4 + 2 + 2, 2))
        joined = cut(plate, *ends, view=TOP_DOWN, open_ends="join")
        self.assertEqual(counts(joined.mesh), (4 + 2, 4 + 1 + 2, 2))

    def test_right_through_cuts_the_far_side_too(self) -> None:
        cube = box(2, 2, 2)
        near = cut(cube, pixel(-3, 0), pixel(3, 0.5), view=TOP_DOWN)
        self.assertEqual(counts(near.mesh), (10, 15, 7))
        through = cut(cube, pixel(-3, 0), pixel(3, 0.5), view=TOP_DOWN, reach="through")
        self.assertEqual(counts(through.mesh), (12, 20, 10))

    def test_the_same_two_vertices_give_another_cut_from_another_view(self) -> None:
        ring = torus(1.0, 0.4, 16, 8)
        ends = ({"vertex": 2}, {"vertex": 8 * 3 + 3})
        above = cut(ring, *ends, view=TOP_DOWN)
        tilted = cut(ring, *ends, view={**TOP_DOWN, "eye": [2, 10, 5]})
        self.assertEqual(
            above.mesh.face_count - ring.face_count, tilted.mesh.face_count - ring.face_count
        )
        self.assertFalse(
            np.allclose(
                above.mesh.points[ring.vertex_count :], tilted.mesh.points[ring.vertex_count :]
            )
        )

    def test_a_line_along_existing_edges_adds_nothing_and_says_so(self) -> None:
        grid = sheet(4, 4, 4, 4)
        result = cut(grid, {"vertex": 5}, {"vertex": 6}, {"vertex": 7})
        self.assertIs(result.mesh, grid)
        self.assertEqual([note.code for note in result.notes], ["nothing-to-do"])

    def test_two_points_with_no_surface_between_are_refused_by_name(self) -> None:
        shells = ZOO["two shells"]
        with self.assertRaisesRegex(
            StepError, r"lines\[0\]\.points\[0\] to points\[1\]: no surface lies between"
        ) as caught:
            cut(shells, {"vertex": 0}, {"vertex": shells.vertex_count - 1})
        self.assertEqual([e.kind for e in caught.exception.elements], ["vertex", "vertex"])

    def test_a_wrong_value_is_refused_under_its_own_path(self) -> None:
        cases = [
            ([{"edge": [0, 1], "t": 1.25}, {"vertex": 1}], r"lines\[0\]\.points\[0\]\.t: .* 1\.25"),
            (
                [{"vertex": 999}, {"vertex": 1}],
                r"lines\[0\]\.points\[0\]\.vertex: there are 8 vertices, got vertex 999",
            ),
            (
                [{"edge": [0, 6], "t": 0.5}, {"vertex": 1}],
                r"points\[0\]\.edge: there is no edge between the vertices 0 and 6",
            ),
            ([{"screen": [1, 2]}, {"vertex": 1}], "needs a view"),
        ]
        for points, complaint in cases:
            with self.subTest(complaint), self.assertRaisesRegex(StepError, complaint):
                cut(box(1, 1, 1), *points)

    def test_materials_patches_and_hard_edges_are_carried(self) -> None:
        cube = box(2, 2, 2)
        top = next(f for f in range(6) if (cube.points[cube.face(f), 1] == 1).all())
        a, b, c, d = cube.face(top).tolist()
        painted = Mesh(
            cube.points,
            cube.starts,
            cube.corners,
            None,
            np.arange(6) % 2,
            np.full(6, -1),
            ("tin", "glass"),
            (),
            np.sort(np.array([[a, b], [b, c]]), axis=1),
        )
        result = cut(painted, {"edge": [a, b], "t": 0.25}, {"edge": [c, d], "t": 0.5})
        self.assertEqual(result.mesh.materials, ("tin", "glass"))
        self.assertEqual(
            sorted(map(tuple, result.mesh.hard.tolist())),
            sorted([(a, 8), (b, 8), (min(b, c), max(b, c))]),
        )


# A point of a random step: a vertex, or a share of an edge, by position in the mesh's own tables.
POINTS = st.lists(
    st.tuples(st.integers(0, 10_000), st.sampled_from([None, 0.1, 0.25, 0.5, 1 / 3, 0.9, 1e-8])),
    min_size=2,
    max_size=5,
)
DIRECTIONS = st.tuples(*[st.floats(-1, 1, width=32)] * 3).filter(
    lambda d: sum(x * x for x in d) > 0.05
)


def step_from(
    mesh: Mesh,
    points: list[tuple[int, float | None]],
    view: dict[str, Any] | None,
    reach: str,
    ends: str,
) -> Any:
    named: list[dict[str, Any]] = []
    for number, share in points:
        if share is None:
            named.append({"vertex": int(mesh.corners[number % len(mesh.corners)])})
        else:
            named.append({"edge": mesh.edges.ends[number % len(mesh.edges)].tolist(), "t": share})
    return parse_step(
        {
            "tool": "knife",
            "lines": [{"points": named}],
            "view": view,
            "reach": reach,
            "open_ends": ends,
        }
    )


def view_along(
    mesh: Mesh, direction: tuple[float, float, float], projection: str
) -> dict[str, Any]:
    middle = mesh.box.mean(axis=0)
    away = np.array(direction) / np.linalg.norm(direction)
    up = [0.0, 1.0, 0.0] if abs(away[1]) < 0.9 else [1.0, 0.0, 0.0]
    lens = {"fov": 35.0} if projection == "perspective" else {"height": 1.3 * mesh.diagonal}
    eye = middle + 3 * mesh.diagonal * away
    return {
        "eye": eye.tolist(),
        "target": middle.tolist(),
        "up": up,
        "projection": projection,
        "size": [900, 700],
        **lens,
    }


class Laws(SimpleTestCase):
    @settings(
        max_examples=70,
        deadline=None,
        suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much],
    )
    @given(
        st.sampled_from(sorted(ZOO)),
        POINTS,
        st.none() | DIRECTIONS,
        st.sampled_from(["perspective", "parallel"]),
        st.sampled_from(["near", "through"]),
        st.sampled_from(["trim", "extend", "join"]),
    )
    @example(
        "turned, with poles",
        [(1, None), (262, 0.1)],
        (0.0, 1e-9, -1.0),
        "parallel",
        "near",
        "extend",
    )  # all but edge-on
    @example(
        "box", [(20, 0.1), (10, None), (0, None)], (0.5, 1e-7, 0.5), "parallel", "near", "trim"
    )  # two lines a tolerance apart
    @example(
        "star prism",
        [(392, None), (699, None)],
        (1.1920928955078125e-07, 0.0, 0.375),
        "parallel",
        "through",
        "trim",
    )  # a thin corner
    def test_every_guarantee_holds_for_random_lines_on_every_mesh(
        self, name, points, direction, projection, reach, ends
    ) -> None:
        mesh = ZOO[name]
        view = None if direction is None else view_along(mesh, direction, projection)
        step = step_from(mesh, points, view, reach, ends)
        try:
            result = apply_step(mesh, step)
        except CutError:
            assume(False)
        assert_guarantees(mesh, result, flat=name in FLAT)
        assert_same_mesh(result.mesh, apply_step(mesh, step).mesh)
        self._assert_plan_tells_the_truth(mesh, step, result)

    def _assert_plan_tells_the_truth(self, mesh: Mesh, step: Any, result: Result) -> None:
        planned = flow_after(
            mesh, flow_counts(mesh), subdivide(mesh, trace_step(mesh, step), weld=weld_of(mesh))
        )
        self.assertEqual(planned, flow_counts(result.mesh))

    @settings(max_examples=80, deadline=None, suppress_health_check=[HealthCheck.filter_too_much])
    @given(
        st.sampled_from(sorted(FLAT)),
        DIRECTIONS,
        st.tuples(*[st.floats(80, 620)] * 4),
        st.booleans(),
    )
    def test_the_same_line_cut_again_adds_nothing(self, name, direction, ends, seen) -> None:
        mesh = ZOO[name]
        view = view_along(mesh, direction, "perspective" if seen else "parallel")
        line = {"points": [{"screen": list(ends[:2])}, {"screen": list(ends[2:])}]}
        step = parse_step({"tool": "knife", "lines": [line], "view": view, "reach": "through"})
        try:
            once = apply_step(mesh, step)
        except CutError:
            assume(False)
        self.assertIs(apply_step(once.mesh, step).mesh, once.mesh)

    @settings(max_examples=60)
    @given(st.integers(3, 9), st.floats(0.02, 0.98), st.floats(0.02, 0.98), DIRECTIONS)
    def test_shares_are_exact_and_neighbours_agree(self, sides, one, other, direction) -> None:
        mesh = prism(sides, concave=sides % 2 == 0)
        count = 2 * sides
        step = {"points": [{"edge": [0, count], "t": one}, {"edge": [1, count + 1], "t": other}]}
        result = apply_step(mesh, parse_step({"tool": "knife", "lines": [step]}))
        for vertex, (low, share) in zip(
            (2 * count, 2 * count + 1), ((0, one), (1, other)), strict=True
        ):
            a, b = mesh.points[low], mesh.points[low + count]
            np.testing.assert_array_equal(result.mesh.points[vertex], a + share * (b - a))
            self.assertEqual(len(result.mesh.edges.faces_at_vertex(vertex)), 3)
