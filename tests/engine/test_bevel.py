"""Bevel: exact on boxes, closed and symmetric, told where there is no room, refused where it folds."""

from __future__ import annotations

from itertools import permutations, product
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh, Result, StepError, apply_step, parse_step, problems
from cutcore.queries.bodies import is_closed
from cutcore.reshape.legal import folded_anew
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from tests.guarantees import (
    assert_tables_true,
    euler_of,
    problems_anew,
    volume_of,
)
from tests.zoo import ZOO, painted, three_on_an_edge


def bevel(mesh: Mesh, **params: Any) -> Result:
    return apply_step(mesh, parse_step({"tool": "bevel", **params}))


def all_edges(mesh: Mesh) -> list[list[int]]:
    return mesh.edges.ends.tolist()


CUBE = box(2, 2, 2, (1, 1, 1))


class Bevel(SimpleTestCase):
    def test_the_twelve_edges_of_a_box(self) -> None:
        for rounds in range(1, 9):
            for profile in (-1.0, 0.0, 0.4, 1.0):
                with self.subTest(rounds=rounds, profile=profile):
                    result = bevel(
                        CUBE, edges=all_edges(CUBE), width=0.3, rounds=rounds, profile=profile
                    )
                    made = result.mesh
                    self.assertEqual(
                        (is_closed(made), problems(made), result.notes), (True, [], ())
                    )
                    self.assertEqual(euler_of(made), 2)
                    self.assertTrue((made.sizes <= 4).all(), "no n-gons")
                    self.assertEqual((made.sizes == 3).sum(), 8 * (rounds % 2))
                    self.assert_symmetric(made.points)
                    if rounds == 1 or profile == 0.0:
                        # Twelve prisms go, each as long as a side less the corners; and eight corners.
                        left = 8 - 12 * 1.4 * 0.3**2 / 2 - 8 * (0.3**3 - 0.3**3 / 6)
                        self.assertAlmostEqual(volume_of(made), left, delta=1e-12)

    def assert_symmetric(self, points: Any) -> None:
        """Raise AssertionError unless points lie alike along and against all axes, to 1e-12."""
        ordered = points[np.lexsort(points.round(9).T)]
        for order, signs in product(permutations(range(3)), product((1, -1), repeat=3)):
            image = points[:, list(order)] * signs
            image = image[np.lexsort(image.round(9).T)]
            np.testing.assert_allclose(image, ordered, rtol=0, atol=1e-12)

    def test_a_round_box_is_made_of_balls_and_cylinders(self) -> None:
        for rounds in (2, 3, 6, 7):
            made = bevel(CUBE, edges=all_edges(CUBE), width=0.3, rounds=rounds).mesh
            beyond = np.maximum(np.abs(made.points) - 0.7, 0.0)
            np.testing.assert_allclose(np.linalg.norm(beyond, axis=1), 0.3, rtol=0, atol=1e-12)

    def test_new_edges_run_at_the_width_and_loops_stay_quads(self) -> None:
        ring = torus(3.0, 1.0, 12, 8)
        loop = [[k * 8, (k + 1) % 12 * 8] for k in range(12)]
        for rounds in (1, 4):
            made = bevel(ring, edges=loop, width=0.1, rounds=rounds)
            self.assertEqual((made.mesh.sizes == 4).all(), True)
            self.assertEqual(made.mesh.face_count, ring.face_count + 12 * rounds)
            self.assertEqual(made.picked.faces.tolist(), list(range(96, 96 + 12 * rounds)))
        grid = sheet(6, 6, 6, 6)
        chain = [[10, 17], [17, 24], [24, 31]]
        flat = bevel(grid, edges=chain, width=0.2)
        self.assertEqual(problems(flat.mesh), problems(grid))
        strip = flat.mesh.points[np.unique(flat.mesh.corners[flat.mesh.starts[36] :])]
        line = grid.points[10]
        across = np.ptp(grid.points[[10, 17]], axis=0) == 0
        away = np.abs(strip - line)[:, across][:, [0, 1]].max(axis=1)
        np.testing.assert_allclose(sorted(set(away.round(9))), [0.0, 0.2], atol=1e-9)

    def test_one_edge_ends_in_the_faces_across(self) -> None:
        made = bevel(CUBE, edges=[all_edges(CUBE)[0]], width=0.5, rounds=4).mesh
        self.assertEqual(sorted(made.sizes.tolist()), [4, 4, 4, 4, 4, 4, 4, 4, 8, 8])
        self.assertEqual((is_closed(made), problems(made)), (True, []))
        quarter = np.pi * 0.25 / 4
        self.assertLess(abs(volume_of(made) - (8 - 2 * (0.25 - quarter))), 0.02)

    def test_a_vertex_is_cut_off_flat(self) -> None:
        made = bevel(CUBE, vertices=[0], width=0.4)
        self.assertEqual((is_closed(made.mesh), problems(made.mesh)), (True, []))
        self.assertAlmostEqual(volume_of(made.mesh), 8 - 0.4**3 / 6, delta=1e-12)
        self.assertEqual(len(made.picked.faces), 1)
        whole = bevel(CUBE, vertices=list(range(8)), width=0.4).mesh
        self.assertAlmostEqual(volume_of(whole), 8 - 8 * 0.4**3 / 6, delta=1e-12)
        # The corner of a sheet is cut off without a face.
        plate = sheet(2, 2, 2, 2)
        cut = bevel(plate, vertices=[0], width=0.25).mesh
        self.assertEqual((cut.face_count, cut.vertex_count), (4, 10))

    def test_the_width_is_clamped_to_the_room_there_is_and_told_where(self) -> None:
        made = bevel(CUBE, edges=all_edges(CUBE), width=5.0)
        self.assertEqual([note.code for note in made.notes], ["bevel-clamped"])
        self.assertIn("0.99", made.notes[0].words)
        self.assertEqual(made.notes[0].elements[0].kind, "edge")
        self.assertEqual((is_closed(made.mesh), problems(made.mesh)), (True, []))

    def test_borders_and_crowded_edges_are_refused_with_the_place(self) -> None:
        plate = sheet(2, 2, 2, 2)
        border = plate.edges.ends[np.flatnonzero(plate.edges.border)[0]].tolist()
        fin = three_on_an_edge()
        crowded = fin.edges.ends[next(iter(fin.edges.crowded))].tolist()
        for mesh, edge in ((plate, border), (fin, crowded)):
            with self.assertRaises(StepError) as refused:
                bevel(mesh, edges=[edge], width=0.1)
            self.assertTrue(refused.exception.elements)

    @settings(max_examples=150, deadline=None)
    @given(
        st.sampled_from([*sorted(ZOO), "ball"]),
        st.integers(0, 10_000),
        st.integers(1, 8),
        st.sampled_from([0.003, 0.05, 1.0]),
        st.integers(1, 8),
        st.sampled_from([-1.0, 0.0, 1.0]),
        st.booleans(),
    )
    def test_any_mesh_is_bevelled_whole_or_refused(
        self, name, seed, count, share, rounds, profile, corners
    ) -> None:
        mesh = painted(ZOO[name] if name in ZOO else ball(1.0, 3), every=5)
        source = np.random.default_rng(seed)
        params: dict[str, Any] = {
            "width": share * mesh.diagonal,
            "rounds": rounds,
            "profile": profile,
        }
        if corners:
            params["vertices"] = source.choice(
                mesh.vertex_count, min(count, 3), replace=False
            ).tolist()
        else:
            picked = source.choice(len(mesh.edges), min(count, len(mesh.edges)), replace=False)
            params["edges"] = mesh.edges.ends[picked].tolist()
        try:
            result = bevel(mesh, **params)
        except StepError as refusal:
            self.assertTrue(refusal.elements or refusal.where, str(refusal))
            return
        made = result.mesh
        made.check()
        assert_tables_true(made)
        for old in np.flatnonzero(result.origin.kept >= 0).tolist():
            self.assertEqual(made.face(old).tolist(), mesh.face(old).tolist())
        came = result.origin.face >= 0
        self.assertEqual(made.material[came].tolist(), mesh.material.tolist())
        self.assertEqual(problems_anew(mesh, result), set())
        self.assertEqual(is_closed(made), is_closed(mesh))
        if name != "bow tie":
            # Where faces only touch at a vertex that is cut off they come apart.
            self.assertEqual(euler_of(made), euler_of(mesh), name)
        self.assertEqual(len(folded_anew(mesh, result)), 0)
        self.assertEqual(len(made.edges.crowded), len(mesh.edges.crowded))
        # What is hard lies on edges that are there.
        self.assertEqual(made.edges.joining(made.hard).sum(), len(made.hard))

    def test_texture_places_stay_the_map_they_were(self) -> None:
        grid = sheet(4, 4, 4, 4)
        made = bevel(grid, edges=[[6, 7], [7, 12], [12, 13]], width=0.2, rounds=3).mesh
        assert grid.uv is not None and made.uv is not None
        # Over a flat sheet texture places are a linear map of places.
        gradient, *_ = np.linalg.lstsq(
            np.column_stack([grid.points[grid.corners], np.ones(len(grid.corners))]),
            grid.uv,
            rcond=None,
        )
        mapped = np.column_stack([made.points[made.corners], np.ones(len(made.corners))]) @ gradient
        np.testing.assert_allclose(made.uv, mapped, atol=1e-9)
