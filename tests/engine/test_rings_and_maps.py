"""Edge rings, origin maps of operations in a row, and vertices made one: the parts that tools are
put together from."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh, StepError, apply_step, parse_step, problems
from cutcore.mesh.edge_data import EdgeData
from cutcore.mesh.result import Origin
from cutcore.mesh.submesh import then, without_faces
from cutcore.queries.edge_rings import edge_ring
from cutcore.queries.flow_lines import loop_edges
from cutcore.queries.follow import EdgeCurves, continued
from cutcore.reshape.joining.merge_vertices import merge_vertices
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from tests.guarantees import assert_origin_true, assert_same_mesh, euler_of
from tests.zoo import CLOSED, ZOO, prism


class Rings(SimpleTestCase):
    def ring_from(self, mesh: Mesh, edge: int, limit: np.ndarray | None = None):
        """A ring, with everything checked that must hold of any."""
        found = edge_ring(mesh, edge, int(mesh.edges.ends[edge, 0]), limit)
        count = len(found.edges)
        self.assertEqual(len(set(found.edges.tolist())), count)
        self.assertEqual(len(found.faces), count if found.closed else count - 1)
        self.assertEqual(len(found.stops), 0 if found.closed else 2)
        for k, face in enumerate(found.faces.tolist()):
            self.assertEqual(mesh.sizes[face], 4)
            row = mesh.edges.of_corner[mesh.starts[face] : mesh.starts[face + 1]].tolist()
            here, there = row.index(found.edges[k]), row.index(found.edges[(k + 1) % count])
            self.assertEqual((here - there) % 4, 2)
        for edge_number, side in zip(found.edges.tolist(), found.first.tolist(), strict=True):
            self.assertIn(side, mesh.edges.ends[edge_number])
        # The vertices on the first side are joined one to the next by edges of the quads between.
        if not found.swapped:
            for k in range(len(found.faces)):
                a, b = int(found.first[k]), int(found.first[(k + 1) % count])
                self.assertTrue(a == b or mesh.edges.between(a, b) >= 0)
        return found

    def test_every_edge_of_every_closed_mesh_has_a_ring_or_a_reason(self) -> None:
        for name, mesh in CLOSED.items():
            for edge in range(0, len(mesh.edges), 5):
                with self.subTest(name, edge=edge):
                    try:
                        self.ring_from(mesh, edge)
                    except StepError as refusal:
                        self.assertIn("no quad beside this edge", refusal.words)
                        self.assertTrue(all(mesh.sizes[f] != 4 for f in mesh.edges.faces_at(edge)))

    def test_a_ring_is_the_same_from_any_of_its_edges(self) -> None:
        donut = torus(1.0, 0.3, 10, 6)
        start = self.ring_from(donut, 0)
        for edge in start.edges.tolist():
            self.assertEqual(
                set(self.ring_from(donut, edge).edges.tolist()), set(start.edges.tolist())
            )

    def test_a_limit_ends_it_on_both_sides(self) -> None:
        grid = sheet(5, 1, 5, 1)
        middle = grid.edges.between(4, 5)
        limit = np.zeros(5, dtype=bool)
        limit[[1, 2]] = True
        found = self.ring_from(grid, middle, limit)
        self.assertEqual(
            (sorted(found.faces.tolist()), {note.code for note in found.stops}),
            ([1, 2], {"loop-limit"}),
        )

    def test_lines_go_on_only_through_vertices_with_four_edges(self) -> None:
        grid = sheet(4, 4, 4, 4)
        through = continued(grid, grid.edges.between(11, 12), 12)
        self.assertEqual(through, 13)
        self.assertEqual(continued(grid, grid.edges.between(1, 0), 0), -1)
        cube = box(2, 2, 2, (2, 2, 2))
        corner = int(np.flatnonzero((np.abs(cube.points) == 1).all(axis=1))[0])
        self.assertEqual(continued(cube, int(cube.edges.at_vertex(corner)[0]), corner), -1)

    def test_a_line_that_goes_on_goes_back_the_same_way(self) -> None:
        # Split apart, faces touch at vertices of four edges, where a walk once went round for ever.
        grid = sheet(4, 4, 4, 4)
        around = [[6, 7], [7, 12], [11, 12], [6, 11]]
        torn = apply_step(grid, parse_step({"tool": "split apart", "edges": around})).mesh
        for mesh in (*ZOO.values(), torn):
            for edge, ends in enumerate(mesh.edges.ends.tolist()):
                for here, there in (ends, ends[::-1]):
                    goal = continued(mesh, edge, here)
                    if goal >= 0:
                        back = continued(mesh, mesh.edges.between(here, goal), here)
                        self.assertEqual(back, there)
                loop_edges(mesh, edge)

    @settings(max_examples=50)
    @given(st.integers(6, 60), st.floats(0.05, 0.95), st.floats(0.1, 1.0))
    def test_the_curve_of_a_regular_polygon_is_its_circle(self, sides, share, follow) -> None:
        tube = torus(3.0, 1.0, 8, sides)
        a, b = 0, 1
        curves = EdgeCurves.of(tube, np.array([tube.edges.between(a, b)]))
        lift = curves.lifts(np.array([share]), follow)[0]
        straight = (1 - share) * tube.points[a] + share * tube.points[b]
        whole = straight + lift / follow
        self.assertAlmostEqual(float(np.linalg.norm(whole - [3.0, 0, 0])), 1.0, places=9)
        self.assertEqual(curves.lifts(np.array([share]), 0.0).tolist(), [[0.0, 0.0, 0.0]])


class Maps(SimpleTestCase):
    @settings(max_examples=60)
    @given(
        st.sampled_from(sorted(CLOSED)),
        st.sets(st.integers(0, 9999), min_size=1, max_size=5),
        st.sets(st.integers(0, 9999), min_size=1, max_size=5),
    )
    def test_two_operations_in_a_row_have_the_map_of_both(self, name, first, second) -> None:
        mesh = CLOSED[name]
        gone = np.zeros(mesh.face_count, dtype=bool)
        gone[[n % mesh.face_count for n in first]] = True
        one, origin = without_faces(mesh, gone)
        more = np.zeros(one.face_count, dtype=bool)
        more[[n % one.face_count for n in second]] = True
        two, later = without_faces(one, more)
        both = then(origin, later)
        again = gone.copy()
        again[origin.face[more]] = True
        at_once, straight = without_faces(mesh, again)
        assert_same_mesh(two, at_once)
        for part in ("face", "vertex", "kept"):
            np.testing.assert_array_equal(getattr(both, part), getattr(straight, part))

    def test_taking_all_away_is_refused_and_taking_none_changes_nothing(self) -> None:
        mesh = ZOO["box"]
        with self.assertRaisesRegex(StepError, "nothing of the part would be left"):
            without_faces(mesh, np.ones(mesh.face_count, dtype=bool))
        same, origin = without_faces(mesh, np.zeros(mesh.face_count, dtype=bool))
        assert_same_mesh(same, mesh)
        for part in ("face", "vertex", "kept"):
            np.testing.assert_array_equal(getattr(origin, part), getattr(Origin.same(mesh), part))

    def test_pairs_follow_their_vertices(self) -> None:
        number = np.array([3, -1, 0, 1, 1])
        pairs = np.array([[0, 1], [0, 2], [2, 3], [3, 4]])
        data = EdgeData(pairs, np.ones(len(pairs))).renumbered(number)
        self.assertEqual(data.ends.tolist(), [[0, 1], [0, 3]])

    def test_a_slice_after_a_loop_keeps_maps_true_to_the_first_mesh(self) -> None:
        mesh = ZOO["torus"]
        edge = mesh.face(0)[:2].tolist()
        first = apply_step(mesh, parse_step({"tool": "loop", "edge": edge, "at": [0.4]}))
        second = apply_step(
            first.mesh,
            parse_step(
                {
                    "tool": "slice",
                    "plane": {"point": [0, 0.02, 0], "normal": [0, 1, 0.1]},
                    "then": "discard",
                }
            ),
        )
        both = then(first.origin, second.origin)
        kept = np.flatnonzero(both.kept >= 0)
        for face in kept.tolist():
            new = second.mesh.face(int(both.kept[face]))
            self.assertEqual(both.vertex[new].tolist(), mesh.face(face).tolist())


class Merging(SimpleTestCase):
    def merged(self, mesh: Mesh, *groups: list[int]):
        goal = np.arange(mesh.vertex_count)
        for group in groups:
            goal[group] = min(group)
        result = merge_vertices(mesh, goal, mesh.points)
        result.mesh.check()
        return result

    def test_a_face_that_would_touch_itself_is_parted(self) -> None:
        star = prism(4)
        # Two inner corners of the upper star become one: the star falls into two faces there.
        inner = [8 + 1, 8 + 5]
        result = self.merged(star, inner)
        upper = [f for f in range(result.mesh.face_count) if result.origin.face[f] == 1]
        self.assertEqual(len(upper), 2)
        self.assertEqual(sorted(result.mesh.sizes[upper].tolist()), [4, 4])

    def test_faces_without_corners_vanish_with_a_note_and_the_rest_keep_their_order(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        face = cube.face(5).tolist()
        result = self.merged(cube, face)
        self.assertEqual([n.code for n in result.notes], ["faces-vanished"])
        self.assertEqual(
            (result.mesh.face_count, euler_of(result.mesh), problems(result.mesh)), (23, 2, [])
        )
        self.assertEqual(result.origin.face.tolist(), [f for f in range(24) if f != 5])

    def test_merging_nothing_changes_nothing(self) -> None:
        for mesh in ZOO.values():
            result = self.merged(mesh)
            assert_same_mesh(result.mesh, mesh)
            assert_origin_true(mesh, result)
