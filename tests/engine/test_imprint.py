"""Imprint at its core: lines laid into one face, whatever they do there."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import ImprintError, Mesh, imprinted
from cutcore.imprint.arrangement import Arrangement, FaceLines, arrange
from cutcore.shapes.sheet import sheet
from cutcore.trace.trace import SpanOf, TraceBuilder
from tests.guarantees import assert_guarantees

WELD = 1e-7


def flat(points: object) -> np.ndarray:
    """Places (n, 3) from plane coordinates (n, 2)."""
    plane = np.asarray(points, dtype=float)
    return np.column_stack([plane, np.zeros(len(plane))])


def area(loop: np.ndarray) -> float:
    x, y = loop[:, 0], loop[:, 1]
    return float(0.5 * (x * np.roll(y, -1) - y * np.roll(x, -1)).sum())


def ring(
    sides: int, radius: float, x: float = 0.0, y: float = 0.0, turn: float = 0.3
) -> np.ndarray:
    angle = turn + 2 * np.pi * np.arange(sides) / sides
    return np.stack([x + radius * np.cos(angle), y + radius * np.sin(angle)], axis=1)


SQUARE = np.array([[-2.0, -2.0], [2.0, -2.0], [2.0, 2.0], [-2.0, 2.0]])


class OneFace(SimpleTestCase):
    def arranged(self, border: np.ndarray, *rings: np.ndarray) -> Arrangement:
        """Closed lines laid into a face; every child is a simple loop, and together they are the
        face."""
        places, segments = list(border), []
        for one in rings:
            nodes = []
            for place in one:
                gaps = np.linalg.norm(np.array(places) - place, axis=1)
                if gaps.min() > WELD:
                    places.append(place)
                    gaps = np.append(gaps, 0.0)
                nodes.append(int(np.argmin(gaps)))
            segments += [[a, b] for a, b in zip(nodes, np.roll(nodes, -1), strict=True) if a != b]
        made = arrange(FaceLines(0, flat(places), len(border), np.array(segments)), weld=WELD)
        self.check(border, made)
        return made

    def check(self, border: np.ndarray, made: Arrangement) -> None:
        areas = [area(made.places[child]) for child in made.children]
        self.assertTrue(all(a > 0 for a in areas))
        self.assertAlmostEqual(sum(areas), area(border), places=9)
        for child in made.children:
            self.assertEqual(len(set(child.tolist())), len(child))
            self.assertGreaterEqual(len(child), 3)
        self.assertEqual(made.children[0][0], 0)
        # Every inner edge lies between two children, once in each direction.
        sides = [
            (int(a), int(b))
            for child in made.children
            for a, b in zip(child, np.roll(child, -1), strict=True)
        ]
        self.assertEqual(len(sides), len(set(sides)))
        for a, b in made.edges.tolist():
            self.assertIn((a, b), sides)
            self.assertIn((b, a), sides)

    def test_a_closed_line_is_tied_by_two_links_that_add_no_vertex(self) -> None:
        made = self.arranged(SQUARE, ring(6, 1.0))
        self.assertEqual((len(made.children), len(made.places), len(made.edges)), (3, 10, 8))

    def test_the_two_links_share_the_ring_out_evenly(self) -> None:
        made = self.arranged(SQUARE, ring(4, 1.0, turn=np.pi / 4))
        rest = sorted(area(made.places[child]) for child in made.children)[-2:]
        self.assertLess(rest[1] / rest[0], 1.6)

    def test_several_outlines_in_one_face(self) -> None:
        for count in (2, 3, 4):
            places = [(-1, -1), (1, 1), (1, -1), (-1, 1)][:count]
            made = self.arranged(SQUARE, *(ring(5, 0.5, x, y) for x, y in places))
            self.assertGreaterEqual(len(made.children), 2 * count)

    def test_nested_outlines(self) -> None:
        made = self.arranged(SQUARE, ring(8, 1.5), ring(6, 1.0), ring(3, 0.5))
        self.assertEqual(len(made.children), 7)

    def test_one_that_touches_the_border_at_a_corner_or_lies_along_it(self) -> None:
        at_corner = np.array([[-2.0, -2.0], [0.5, -1.0], [-1.0, 0.5]])
        made = self.arranged(SQUARE, at_corner)
        self.assertGreaterEqual(len(made.children), 2)
        along = np.array([[-2.0, -2.0], [2.0, -2.0], [0.0, 0.0]])
        self.assertEqual(len(self.arranged(SQUARE, along).children), 2)

    def test_two_that_share_a_vertex_or_a_side(self) -> None:
        left, right = (
            np.array([[0, 0], [-1, 0.5], [-1, -0.5]]),
            np.array([[0, 0], [1, -0.5], [1, 0.5]]),
        )
        self.arranged(SQUARE, left, right)
        below = np.array([[-1.0, 0.0], [0.0, -1.0], [1.0, 0.0]])
        above = np.array([[-1.0, 0.0], [1.0, 0.0], [0.0, 1.0]])
        self.arranged(SQUARE, below, above)

    def test_outlines_that_cross_share_the_places_where_they_do(self) -> None:
        made = self.arranged(SQUARE, ring(4, 1.0, -0.4, turn=0.0), ring(4, 1.0, 0.4, turn=0.0))
        self.assertEqual(len(made.places), 4 + 8 + 2)

    def test_a_figure_of_eight_crosses_itself(self) -> None:
        made = self.arranged(SQUARE, np.array([[-1.0, -1.0], [1.0, 1.0], [1.0, -1.0], [-1.0, 1.0]]))
        self.assertEqual(len(made.places), 4 + 4 + 1)

    @settings(max_examples=70)
    @given(
        st.integers(3, 9),
        st.lists(
            st.tuples(
                st.integers(3, 7), st.floats(0.05, 0.6), st.floats(-0.6, 0.6), st.floats(-0.6, 0.6)
            ),
            min_size=1,
            max_size=4,
        ),
    )
    def test_any_shapes_in_any_convex_face(self, corners, shapes) -> None:
        border = ring(corners, 2.4, turn=0.0)
        rings = [ring(sides, radius, x, y) for sides, radius, x, y in shapes]
        try:
            self.arranged(border, *rings)
        except ImprintError as refusal:
            self.fail(f"refused: {refusal}")

    @settings(max_examples=60)
    @given(st.integers(3, 7), st.integers(3, 8), st.floats(0.05, 0.3), st.floats(0, 6.2))
    def test_a_shape_in_the_middle_of_a_star(self, points, sides, radius, turn) -> None:
        angle = 2 * np.pi * np.arange(2 * points) / (2 * points)
        reach = np.where(np.arange(2 * points) % 2 == 1, 0.5, 2.0)
        star = np.stack([reach * np.cos(angle), reach * np.sin(angle)], axis=1)
        made = self.arranged(star, ring(sides, radius, turn=turn))
        self.assertEqual(len(made.children), 3)


class Spans(SimpleTestCase):
    """Traces built by hand: what imprint makes of spans that no tool would draw so neatly."""

    def setUp(self) -> None:
        self.plate = sheet(2.0, 2.0, 2, 2)
        self.builder = TraceBuilder(self.plate, WELD)

    def made(self) -> Mesh:
        result = imprinted(self.plate, self.builder.build())
        assert_guarantees(self.plate, result, flat=True)
        return result.mesh

    def test_spans_given_twice_and_backwards_are_one(self) -> None:
        face = self.plate.face(0).tolist()
        a, c = self.builder.vertex(face[0]), self.builder.vertex(face[2])
        for pair in ((a, c), (c, a), (a, c)):
            self.builder.span(*pair, 0, SpanOf(0))
        self.assertEqual(self.made().face_count, 5)

    def test_a_span_along_an_edge_of_its_face_adds_nothing(self) -> None:
        face = self.plate.face(0).tolist()
        self.builder.span(self.builder.vertex(face[0]), self.builder.vertex(face[1]), 0, SpanOf(0))
        edge = self.plate.edges.between(face[1], face[2])
        self.builder.span(
            self.builder.on_edge(edge, 0.25), self.builder.on_edge(edge, 0.75), 0, SpanOf(0)
        )
        self.assertIs(self.made(), self.plate)

    def test_places_within_the_tolerance_of_the_border_are_on_it(self) -> None:
        face = self.plate.face(0).tolist()
        corner = self.plate.points[face[0]]
        self.assertEqual(
            self.builder.in_face(0, corner + [1e-9, 0, 1e-9]), self.builder.vertex(face[0])
        )
        edge = self.plate.edges.between(face[0], face[1])
        low, high = self.plate.points[self.plate.edges.ends[edge]]
        self.assertEqual(
            self.builder.in_face(0, 0.5 * (low + high)), self.builder.on_edge(edge, 0.5)
        )

    def test_anchors_at_one_place_of_an_edge_are_one_vertex_for_both_faces(self) -> None:
        inner = int(np.flatnonzero(~self.plate.edges.border)[0])
        one, other = self.plate.edges.faces_at(inner)
        for face in (one, other):
            far = next(
                v for v in self.plate.face(face).tolist() if v not in self.plate.edges.ends[inner]
            )
            self.builder.span(
                self.builder.on_edge(inner, 0.3 + 1e-10 * face),
                self.builder.vertex(far),
                face,
                SpanOf(face),
            )
        mesh = self.made()
        self.assertEqual(mesh.vertex_count, self.plate.vertex_count + 1)
