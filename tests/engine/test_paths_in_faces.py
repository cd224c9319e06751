"""Faces split by a path over places inside them: all at once or one by one, the same faces come of
it."""

from __future__ import annotations

from typing import Any
from unittest import mock

import numpy as np
from django.test import SimpleTestCase
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, Result, apply_step, parse_step
from cutcore.imprint import subdivision
from cutcore.kernels import (
    border_gaps,
    chain_slots,
    convex_normal,
    face_boxes,
    order_paths,
    thin_corners,
)
from cutcore.mesh.mesh import newell
from cutcore.shapes.sheet import sheet
from tests.engine.test_attributes import assert_painted, painted
from tests.guarantees import assert_guarantees, assert_tables_true
from tests.zoo import ZOO, concave_plate

TOP = {
    "eye": [0, 10, 0],
    "target": [0, 0, 0],
    "up": [0, 0, -1],
    "projection": "parallel",
    "height": 8,
    "size": [800, 800],
}
PIXELS = st.lists(
    st.tuples(st.integers(120, 680), st.integers(180, 620)), min_size=2, max_size=7, unique=True
)


def shapes(mesh: Mesh) -> set[frozenset[tuple[float, ...]]]:
    """The faces of a mesh by their places, whatever their order."""
    return {
        frozenset(map(tuple, (np.round(mesh.points[mesh.face(f)], 9) + 0.0).tolist()))
        for f in range(mesh.face_count)
    }


def none_of_them(starts: Any, ends: Any, inner: Any) -> Any:
    """No path is taken: every face is worked out on its own."""
    path, whole = order_paths(starts, ends, inner)
    return path, np.zeros_like(whole)


class AllAtOnce(SimpleTestCase):
    def cut(self, mesh: Mesh, step: dict[str, Any]) -> tuple[Result, Result]:
        """The same step by paths and one face after the other."""
        asked = parse_step(step)
        fast = apply_step(mesh, asked)
        with mock.patch.object(subdivision, "order_paths", none_of_them):
            slow = apply_step(mesh, asked)
        return fast, slow

    def same(self, mesh: Mesh, fast: Result, slow: Result) -> None:
        self.assertEqual(shapes(fast.mesh), shapes(slow.mesh))
        self.assertEqual(
            (fast.mesh.vertex_count, len(fast.mesh.edges)),
            (slow.mesh.vertex_count, len(slow.mesh.edges)),
        )
        self.assertEqual(len(fast.picked.edges), len(slow.picked.edges))
        for result in (fast, slow):
            assert_tables_true(result.mesh)
        # Children that keep their parent's number hold its first corner, both ways.
        for f in range(mesh.face_count):
            self.assertEqual(fast.mesh.face(f)[0], slow.mesh.face(f)[0])

    @settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.filter_too_much])
    @given(PIXELS, st.booleans(), st.sampled_from(["trim", "extend", "join"]))
    def test_knife_lines_over_places_in_faces(self, pixels, closed, ends) -> None:
        mesh = painted()
        lines = [
            {"points": [{"screen": list(p)} for p in pixels], "closed": closed and len(pixels) > 2}
        ]
        try:
            fast, slow = self.cut(
                mesh, {"tool": "knife", "lines": lines, "view": TOP, "open_ends": ends}
            )
        except CutError:
            assume(False)
        self.same(mesh, fast, slow)
        assert_guarantees(mesh, fast, flat=True)
        assert_painted(fast.mesh)

    @settings(max_examples=40)
    @given(
        st.sampled_from(["box", "torus", "star prism", "comb", "sheet"]),
        st.integers(3, 17),
        st.floats(0.2, 1.1),
        st.floats(0, 6),
        st.booleans(),
    )
    def test_outlines_of_many_points(self, name, sides, radius, turn, nested) -> None:
        mesh = ZOO[name]
        angle = turn + 2 * np.pi * np.arange(sides) / sides
        middle, height = mesh.box.mean(axis=0), float(mesh.box[1, 1]) + 1
        ring = np.stack(
            [
                middle[0] + radius * np.cos(angle),
                np.full(sides, height),
                middle[2] + radius * np.sin(angle),
            ],
            axis=1,
        )
        curves = [{"points": ring.tolist()}]
        if nested:
            inner = (ring - [middle[0], 0, middle[2]]) * [0.4, 1, 0.4] + [middle[0], 0, middle[2]]
            curves.append({"points": inner.tolist()})
        fast, slow = self.cut(
            mesh, {"tool": "outline", "curves": curves, "along": {"direction": [0, -1, 0]}}
        )
        self.same(mesh, fast, slow)
        self.assertEqual(len(fast.picked.faces), len(slow.picked.faces))
        assert_guarantees(mesh, fast, flat=True)

    def test_a_path_that_touches_itself_or_the_border_is_left_to_the_careful_way(self) -> None:
        # Places far inside, on a chain that crosses itself: split where it does.
        plate = sheet(4, 4, 1, 1)
        line = [[-2, -1], [1, 1], [1, -1], [-1, 1], [2, 1.5]]
        pixels = [{"screen": [400 + 100 * x, 400 + 100 * y]} for x, y in line]
        step = {"tool": "knife", "lines": [{"points": pixels}], "view": TOP}
        fast, slow = self.cut(plate, step)
        self.same(plate, fast, slow)
        self.assertEqual(fast.mesh.face_count, 4)
        comb = concave_plate()
        across = {"tool": "slice", "plane": {"point": [0, 0, -2], "normal": [0, 0, 1]}}
        fast, slow = self.cut(comb, across)
        self.same(comb, fast, slow)
        self.assertEqual(fast.mesh.face_count, 5)


class Loops(SimpleTestCase):
    """The compiled loops by themselves."""

    def test_spans_are_put_in_order_from_border_to_border(self) -> None:
        inner = np.array([False, True, True, False, False, True, True, True, False])
        groups = [
            ([(2, 3), (0, 1), (1, 2)], [0, 1, 2, 3]),
            ([(0, 3)], [0, 3]),
            ([(0, 1), (1, 2)], None),  # it ends inside
            ([(0, 1), (1, 3), (1, 4)], None),  # it forks
            ([(5, 6), (6, 7), (7, 5)], None),  # it closes
            ([(0, 1), (1, 3), (4, 8)], None),  # there are two
            ([(0, 1), (1, 0)], None),  # it comes home
        ]
        starts = np.concatenate([[0], np.cumsum([len(spans) for spans, _ in groups])])
        ends = np.array([pair for spans, _ in groups for pair in spans])
        path, whole = order_paths(starts, ends, inner)
        for g, (spans, wanted) in enumerate(groups):
            self.assertEqual(bool(whole[g]), wanted is not None, spans)
            if wanted is not None:
                found = path[starts[g] + g : starts[g + 1] + g + 1].tolist()
                self.assertIn(found, (wanted, wanted[::-1]))

    def slots(
        self, inside: list[list[float]], ends: tuple[int, int] = (10, 12), weld: float = 1e-6
    ) -> tuple[int, int]:
        """Where a path over places inside a unit square meets its border, whose slots are the
        vertices 10 to 13."""
        square = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], float)
        count = len(inside)
        names = np.array([ends[0], *[-1] * count, ends[1]])
        places = np.array([square[ends[0] - 10], *inside, square[ends[1] - 10]])
        low, high = chain_slots(
            np.array([0, 4]),
            np.arange(10, 14, dtype=np.int32),
            np.concatenate([np.zeros((10, 3)), square]),
            np.zeros((0, 3)),
            np.array([0]),
            np.array([0, count + 1]),
            np.arange(count + 2),
            np.array([True]),
            names,
            places,
            weld,
        )
        return int(low[0]), int(high[0])

    def test_a_path_must_part_its_face_into_two_that_are_wider_than_the_tolerance(self) -> None:
        self.assertEqual(self.slots([]), (0, 2))
        self.assertEqual(self.slots([], (12, 10)), (0, 2))
        self.assertEqual(self.slots([], (10, 11)), (-1, -1))
        self.assertEqual(self.slots([[0.3, 0.6, 0], [0.7, 0.4, 0]]), (0, 2))
        self.assertEqual(self.slots([[0.5, 0.4, 0]], (10, 11)), (0, 1))
        for wrong in (
            [[0.5, 1e-9, 0], [0.5, 0.5, 0]],  # on the border
            [[0.5, -0.2, 0], [0.5, 0.5, 0]],  # outside
            [[0.8, 0.6, 0], [0.2, 0.6, 0], [0.6, 0.2, 0], [0.6, 0.8, 0]],  # across itself
            [[0.5, 0.5, 0], [0.25, 0.25, 0], [0.6, 0.7, 0]],  # back along itself
        ):
            self.assertEqual(self.slots(wrong), (-1, -1), wrong)
        self.assertEqual(self.slots([[0.5, 0.501, 0]], weld=0.01), (0, 2))
        self.assertEqual(self.slots([[0.5, 0.005, 0]], weld=0.01), (-1, -1))

    def test_a_face_is_convex_only_if_every_corner_plainly_turns_the_same_way(self) -> None:
        square = np.array([[0, 0, 0], [2, 0, 0], [2, 2, 0], [0, 2, 0]], float)
        for loop, wanted in (
            (square, True),
            (square[::-1], True),
            (np.insert(square, 1, [1, 0, 0], axis=0), False),  # a corner on a side
            (np.insert(square, 1, [1, 0.5, 0], axis=0), False),  # a dent
            (np.insert(square, 1, [1, -0.5, 0], axis=0), True),
            (square + [[0, 0, 0.1], [0, 0, 0], [0, 0, 0.1], [0, 0, 0]], True),  # a little warped
            (np.zeros((3, 3)), False),
        ):
            x, y, z, convex = convex_normal(np.ascontiguousarray(loop) + 5.0)
            self.assertEqual(convex, wanted, loop)
            np.testing.assert_allclose(
                [x, y, z], newell(loop, np.array([0, len(loop)]))[0], atol=1e-12
            )

    @settings(max_examples=40)
    @given(st.sampled_from(sorted(ZOO)), st.integers(0, 2**31))
    def test_gaps_and_boxes_are_what_plain_arrays_say(self, name, seed) -> None:
        mesh = ZOO[name]
        chance = np.random.default_rng(seed)
        face = chance.integers(mesh.face_count, size=5)
        place = chance.normal(size=(5, 3))
        gaps = border_gaps(mesh.points, mesh.starts, mesh.corners, face, place)
        for f, p, gap in zip(face.tolist(), place, gaps, strict=True):
            loop = mesh.points[mesh.face(f)]
            side = np.roll(loop, -1, axis=0) - loop
            share = np.clip(
                ((p - loop) * side).sum(axis=1) / np.maximum((side**2).sum(axis=1), 1e-300), 0, 1
            )
            self.assertAlmostEqual(
                gap, float(np.linalg.norm(loop + share[:, None] * side - p, axis=1).min())
            )
        pixels = mesh.points[:, :2] @ chance.normal(size=(2, 2))
        boxes = face_boxes(pixels, mesh.starts, mesh.corners)
        for f in range(mesh.face_count):
            mine = pixels[mesh.face(f)]
            np.testing.assert_array_equal(boxes[:, f], [*mine.min(axis=0), *mine.max(axis=0)])
        pairs = np.stack([np.arange(12), 12 + np.arange(12)], axis=1)
        edge = chance.integers(len(mesh.edges), size=24)
        edge[0] = -1
        ends = mesh.edges.ends[edge]
        places = mesh.points[ends[:, 0]] + chance.uniform(0.001, 0.999, (24, 1)) * (
            mesh.points[ends[:, 1]] - mesh.points[ends[:, 0]]
        )
        weld, reach = 0.1 * mesh.diagonal, 0.2 * mesh.diagonal
        segment, apex = thin_corners(pairs, edge, places, mesh.edges.ends, mesh.points, weld, reach)
        wanted = []
        for s, (a, b) in enumerate(pairs.tolist()):
            shared = np.intersect1d(ends[a], ends[b])
            if edge[a] < 0 or edge[a] == edge[b] or len(shared) == 0:
                continue
            corner = np.array([mesh.points[shared[0]], places[a], places[b]])
            longest = np.linalg.norm(corner - np.roll(corner, 1, axis=0), axis=1).max()
            twice_area = np.linalg.norm(np.cross(corner[1] - corner[0], corner[2] - corner[0]))
            if longest <= reach and twice_area <= longest * weld:
                wanted.append((s, int(shared[0])))
        on_one = [s for s, (a, b) in enumerate(pairs.tolist()) if edge[a] == edge[b]]
        self.assertEqual(
            [
                pair
                for pair in zip(segment.tolist(), apex.tolist(), strict=True)
                if pair[0] not in on_one
            ],
            wanted,
        )
