"""Edge tables carried over and renumbered, and triangles of faces of every form."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, apply_step, parse_step
from cutcore.geometry.polygons import loop_area
from cutcore.mesh.edge_table import EdgeTable
from cutcore.mesh.triangles import triangulate
from cutcore.shapes.box import box
from tests.engine.test_knife import DIRECTIONS
from tests.zoo import ZOO, concave_plate, prism, three_on_an_edge


def same_table(one: EdgeTable, other: EdgeTable) -> bool:
    return (
        bool((one.ends == other.ends).all())
        and bool((one.of_corner == other.of_corner).all())
        and bool((np.sort(one.faces, axis=1) == np.sort(other.faces, axis=1)).all())
        and {e: sorted(f) for e, f in one.crowded.items()}
        == {e: sorted(f) for e, f in other.crowded.items()}
    )


class Tables(SimpleTestCase):
    @settings(max_examples=60)
    @given(st.sampled_from(sorted(ZOO)), st.integers(0, 2**31))
    def test_edges_can_be_numbered_as_any_list_of_them_and_back(self, name, seed) -> None:
        table = ZOO[name].edges
        order = np.random.default_rng(seed).permutation(len(table))
        shuffled = table.numbered_as(table.ends[order])
        self.assertTrue((shuffled.ends == table.ends[order]).all())
        self.assertTrue((shuffled.ends[shuffled.of_corner] == table.ends[table.of_corner]).all())
        self.assertTrue(
            (np.sort(shuffled.faces, axis=1) == np.sort(table.faces[order], axis=1)).all()
        )
        self.assertTrue(same_table(shuffled.numbered_as(table.ends), table))

    @settings(max_examples=60)
    @given(st.sampled_from(sorted(ZOO)), st.integers(0, 2**31), st.integers(0, 12))
    def test_the_faces_beside_edges_are_those_that_name_them(self, name, seed, many) -> None:
        mesh = ZOO[name]
        edges = np.random.default_rng(seed).integers(len(mesh.edges), size=many)
        beside = mesh.edges.beside(edges, mesh.face_count)
        named = [
            bool(np.isin(mesh.edges.of_corner[mesh.starts[f] : mesh.starts[f + 1]], edges).any())
            for f in range(mesh.face_count)
        ]
        self.assertEqual(beside.tolist(), named)

    def test_an_edge_with_more_than_two_faces_keeps_them_under_its_new_number(self) -> None:
        table = three_on_an_edge().edges
        turned = table.numbered_as(table.ends[::-1])
        ((edge, faces),) = turned.crowded.items()
        self.assertEqual((turned.ends[edge].tolist(), sorted(faces)), ([0, 1], [0, 1, 2]))

    @settings(max_examples=60)
    @given(st.sampled_from(sorted(ZOO)), DIRECTIONS)
    def test_what_a_cut_changed_and_added_is_found_and_valences_follow(self, name, normal) -> None:
        mesh = ZOO[name]
        plane = {"point": mesh.box.mean(axis=0).tolist(), "normal": list(normal)}
        try:
            result = apply_step(mesh, parse_step({"tool": "slice", "plane": plane}))
        except CutError:
            assume(False)
        assume(result.mesh is not mesh)
        before, after = mesh.edges, result.mesh.edges
        changed = after.changed_since(before)
        kept = np.setdiff1d(np.arange(len(before)), changed)
        self.assertTrue((after.ends[kept] == before.ends[kept]).all())
        self.assertTrue((after.ends[changed] != before.ends[changed]).any(axis=1).all())
        # A changed edge still begins at one of its ends: the other is a new vertex on it.
        self.assertTrue((after.ends[changed, 1] >= mesh.vertex_count).all())
        numbers = after.among_new(result.picked.edges, len(before))
        self.assertEqual(
            [after.between(int(a), int(b)) for a, b in result.picked.edges], numbers.tolist()
        )
        self.assertEqual(after.among_new(np.array([[0, 0]]), 0).tolist(), [-1])
        before.valence  # noqa: B018 - known, as it is once a part has been looked at
        after.take_valence(before)
        self.assertEqual(after.valence.tolist(), np.bincount(after.ends.ravel()).tolist())


class TrianglesOfFaces(SimpleTestCase):
    @settings(max_examples=80)
    @given(st.lists(st.floats(0.2, 1.0), min_size=5, max_size=12), st.integers(0, 3), DIRECTIONS)
    def test_faces_of_many_sides_are_covered_once_and_never_turned_over(
        self, reach, straight, normal
    ) -> None:
        count = len(reach)
        turn = 2 * np.pi * np.arange(count) / count
        flat = np.stack([np.array(reach) * np.cos(turn), np.array(reach) * np.sin(turn)], axis=1)
        # Corners in the middle of sides, as cuts of the neighbours leave them.
        for k in range(straight):
            at = 2 * k % len(flat)
            flat = np.insert(flat, at + 1, 0.5 * (flat[at] + flat[(at + 1) % len(flat)]), axis=0)
        axis = np.array(normal) / np.linalg.norm(normal)
        first = np.cross(axis, np.eye(3)[int(np.argmin(np.abs(axis)))])
        first /= np.linalg.norm(first)
        points = flat[:, :1] * first + flat[:, 1:] * np.cross(axis, first)
        found = triangulate(points, np.array([0, len(flat)]), np.arange(len(flat)))
        self.assertEqual(len(found.corners), len(flat) - 2)
        a, b, c = (points[found.corners[:, k]] for k in range(3))
        areas = 0.5 * np.cross(b - a, c - a) @ axis
        self.assertTrue((areas > -1e-12).all())
        self.assertAlmostEqual(float(areas.sum()), loop_area(flat), places=9)

    def test_convex_faces_with_a_straight_corner_give_no_triangle_without_area(self) -> None:
        square = np.array([[0, 0, 0], [1, 0, 0], [2, 0, 0], [2, 2, 0], [0, 2, 0]], float)
        for shift in range(5):
            loop = np.roll(np.arange(5), shift)
            found = triangulate(square, np.array([0, 5]), loop)
            a, b, c = (square[found.corners[:, k]] for k in range(3))
            self.assertTrue((np.cross(b - a, c - a)[:, 2] > 0.5).all(), loop)

    def test_concave_faces_keep_to_their_inside(self) -> None:
        comb = concave_plate()
        a, b, c = (comb.points[comb.triangles.corners[:, k]] for k in range(3))
        self.assertAlmostEqual(
            float(0.5 * np.linalg.norm(np.cross(b - a, c - a), axis=1).sum()), 15.0
        )
        star = prism(5)
        self.assertEqual(sorted(set(np.bincount(star.triangles.face).tolist())), [2, 8])

    def test_triangles_come_by_face_whatever_their_sizes(self) -> None:
        cube = box(2, 2, 2)
        mixed = apply_step(
            cube,
            parse_step(
                {
                    "tool": "loop",
                    "edge": cube.edges.ends[0].tolist(),
                    "at": [0.5],
                    "extra_points": 3,
                }
            ),
        ).mesh
        self.assertTrue((np.diff(mixed.triangles.face) >= 0).all())
        for face in range(mixed.face_count):
            own = mixed.triangles.of_face(face)
            self.assertEqual(
                (len(own), set(own.ravel().tolist())),
                (mixed.sizes[face] - 2, set(mixed.face(face).tolist())),
            )
        again = Mesh(mixed.points, mixed.starts, mixed.corners).triangles
        self.assertTrue((again.corners == mixed.triangles.corners).all())
