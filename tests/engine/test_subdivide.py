"""Subdivision: the cited rules, against closed forms and against another way to reckon them."""

from __future__ import annotations

import random
from dataclasses import replace
from unittest import mock

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.sparse import lil_matrix

from cutcore import CutError, Mesh, apply_step, parse_step, problems
from cutcore.previews.shaded import shaded
from cutcore.previews.smooth_form import limit_normals, limit_places, moves_of, remade, smooth_form
from cutcore.queries.bodies import is_closed
from cutcore.queries.normals import fan_normals, fans_apart
from cutcore.reshape.dividing.subdivide import sharp_edges, subdivided
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from tests.guarantees import area_of, euler_of
from tests.random_steps import TOOLS, random_walk
from tests.zoo import ZOO, painted

# The rows of the cubic spline: what a vertex, and what the middle of an edge, is of its neighbours.
VERTEX, EDGE = np.array([1, 6, 1]) / 8, np.array([0, 1, 1]) / 2


def by_table(mesh: Mesh) -> np.ndarray:
    """The new places by one sparse matrix, filled in by hand, entry by entry."""
    vertices, edges = mesh.vertex_count, len(mesh.edges)
    rows = lil_matrix((vertices + edges + mesh.face_count, vertices))
    strengths = mesh.edge_data.strength
    # For how many rounds an edge is sharp; of one that is not whole the rest counts as a share.
    hard = {
        (a, b): min(1.0, s / (1 - s)) if s < 1 else 1.0
        for (a, b), s in zip(mesh.hard.tolist(), strengths.tolist(), strict=True)
    }
    for f in range(mesh.face_count):
        for v in mesh.face(f):
            rows[vertices + edges + f, v] = 1 / len(mesh.face(f))
    sharp_at: dict[int, list[tuple[int, float]]] = {}
    for e, (a, b) in enumerate(mesh.edges.ends.tolist()):
        beside = mesh.edges.faces_at(e)
        weight = 1.0 if len(beside) != 2 else hard.get((a, b), 0.0)
        if weight:
            sharp_at.setdefault(a, []).append((b, weight))
            sharp_at.setdefault(b, []).append((a, weight))
        for v in (a, b):
            rows[vertices + e, v] += 0.5 * weight + 0.25 * (1 - weight)
        for f in beside if weight < 1 else ():
            for v in mesh.face(f):
                rows[vertices + e, v] += (1 - weight) * 0.25 / len(mesh.face(f))
    for v in range(vertices):
        faces = [f for f in range(mesh.face_count) if v in mesh.face(f)]
        others = sharp_at.get(v, [])
        mean = sum(weight for _, weight in others) / max(1, len(others))
        corner = len(others) > 2 or (len(others) == 2 and len(faces) == 1)
        share = 1.0 if not faces else mean if corner or len(others) == 2 else 0.0
        if corner or not faces:
            rows[v, v] += share
        elif share:
            rows[v, v] += 0.75 * share
            for other, _ in others:
                rows[v, other] += 0.125 * share
        if share < 1:
            around = [int(e.sum()) - v for e in mesh.edges.ends[mesh.edges.at_vertex(v)]]
            n = len(around)
            rows[v, v] += (1 - share) * ((n - 3) / n + 1 / n)
            for other in around:
                rows[v, other] += (1 - share) / n / n
            for f in faces:
                for c in mesh.face(f):
                    rows[v, c] += (1 - share) / len(mesh.face(f)) / len(faces) / n
    return np.asarray(rows.tocsr() @ mesh.points)


class HardEdges(SimpleTestCase):
    def test_by_angle_and_by_pick_hard_and_soft_again(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        hard = apply_step(cube, parse_step({"tool": "hard edges", "degrees": 40}))
        self.assertEqual(len(hard.mesh.hard), 24)
        self.assertEqual(len(hard.picked.edges), 24)
        np.testing.assert_array_equal(hard.mesh.points, cube.points)
        soft = {"tool": "hard edges", "edges": hard.mesh.hard[:2].tolist(), "to": "soft"}
        left = apply_step(hard.mesh, parse_step(soft)).mesh
        self.assertEqual(len(left.hard), 22)
        again = apply_step(hard.mesh, parse_step({"tool": "hard edges", "degrees": 40}))
        self.assertIs(again.mesh, hard.mesh)
        for wrong in ({}, {"degrees": 40, "edges": [[0, 1]]}, {"edges": [[0, 25]]}):
            with self.assertRaises(CutError):
                apply_step(cube, parse_step({"tool": "hard edges", **wrong}))

    def test_a_split_hard_edge_stays_hard(self) -> None:
        hard = apply_step(box(2, 2, 2), parse_step({"tool": "hard edges", "degrees": 40})).mesh
        cut = {"tool": "slice", "plane": {"point": [0.1, 0, 0], "normal": [1, 0, 0]}}
        self.assertEqual(len(apply_step(hard, parse_step(cut)).mesh.hard), len(hard.hard) + 4)


class Looks(SimpleTestCase):
    def test_normals_change_at_hard_edges_and_borders_only(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        soft = shaded(cube)
        self.assertEqual(len(soft.places), cube.vertex_count)
        hard = shaded(apply_step(cube, parse_step({"tool": "hard edges", "degrees": 40})).mesh)
        # Every corner of the box is there three times, every vertex on an edge of it twice.
        self.assertEqual(len(hard.places), 6 * 9)
        self.assertEqual(len(np.unique(hard.normals.round(9), axis=0)), 6)
        for seen in (soft, hard):
            self.assertEqual(len(seen.triangles), len(cube.triangles.corners))
            corners = seen.places[seen.triangles]
            ahead = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
            facing = np.einsum("ij,ikj->ik", ahead, seen.normals[seen.triangles])
            self.assertTrue((facing > 0).all())

    def test_limit_places_are_those_of_every_later_round(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        rims = apply_step(cube, parse_step({"tool": "hard edges", "degrees": 40})).mesh
        for mesh in (ball(1, 3), rims, torus(2, 0.5, 8, 5), sheet(4, 3, 4, 3)):
            once = subdivided(mesh).mesh
            later = limit_places(subdivided(once).mesh)[: once.vertex_count]
            np.testing.assert_allclose(later, limit_places(once), atol=1e-12)

    def test_the_limit_of_a_regular_grid_in_closed_form(self) -> None:
        grid = np.random.default_rng(7).normal(size=(7, 7, 3))
        bent = replace(sheet(6, 6, 6, 6), points=grid.reshape(-1, 3))
        found = limit_places(bent).reshape(7, 7, 3)
        spline = np.array([1, 4, 1]) / 6
        for i in range(1, 6):
            for j in range(1, 6):
                block = grid[i - 1 : i + 2, j - 1 : j + 2]
                wanted = np.einsum("i,j,ijk->k", spline, spline, block)
                np.testing.assert_allclose(found[i, j], wanted, atol=1e-12)

    def test_normals_of_a_regular_grid_and_of_poles(self) -> None:
        grid = np.random.default_rng(7).normal(size=(7, 7, 3))
        bent = replace(sheet(6, 6, 6, 6), points=grid.reshape(-1, 3))
        normals, known = limit_normals(bent)
        self.assertEqual(known.sum(), 25)
        spline, slope = np.array([1, 4, 1]) / 6, np.array([-1, 0, 1]) / 2
        for i in range(1, 6):
            for j in range(1, 6):
                block = grid[i - 1 : i + 2, j - 1 : j + 2]
                ways = [
                    np.einsum("i,j,ijk->k", a, b, block)
                    for a, b in ((slope, spline), (spline, slope))
                ]
                wanted = np.cross(*ways) / np.linalg.norm(np.cross(*ways))
                side = np.sign(normals[7 * i + j] @ wanted)
                np.testing.assert_allclose(side * normals[7 * i + j], wanted, atol=1e-12)
        # At poles: those of ever later rounds.
        source = np.random.default_rng(3)
        for mesh in (ball(1, 3), torus(2, 0.5, 8, 5), box(2, 2, 2)):
            shaken = replace(
                mesh, points=mesh.points + source.uniform(-0.05, 0.05, mesh.points.shape)
            )
            later = shaken
            for _ in range(4):
                later = subdivided(later).mesh
            placed = Mesh(limit_places(later), later.starts, later.corners)
            means = fan_normals(placed, fans_apart(later, sharp_edges(later)))
            corner = {int(v): c for c, v in enumerate(later.corners.tolist())}
            fan = fans_apart(later, sharp_edges(later))
            normals, known = limit_normals(shaken)
            self.assertTrue(known.all())
            for v in range(mesh.vertex_count):
                self.assertGreater(float(normals[v] @ means[fan[corner[v]]]), 0.999)

    def test_smooth_shows_the_edges_of_the_part_as_curves_and_refuses_what_is_too_large(
        self,
    ) -> None:
        globe = ball(1, 4)
        seen = smooth_form(globe)
        self.assertEqual(seen.places.shape, (len(globe.corners), 9, 3))
        np.testing.assert_allclose(np.linalg.norm(seen.normals, axis=2), 1, atol=1e-6)
        # Grids meet: along an edge both faces have the same places and normals.
        rounded = {tuple(p) for p in seen.places.reshape(-1, 3).round(5).tolist()}
        self.assertEqual(len(rounded), globe.vertex_count * 16 - 30)
        with mock.patch("cutcore.previews.smooth_form.MOST_QUADS", 100):
            with self.assertRaises(CutError):
                smooth_form(ball(1, 6))
            self.assertEqual(smooth_form(box(2, 2, 2)).rounds, 2)
            self.assertEqual(smooth_form(box(2, 2, 2, (2, 2, 1))).rounds, 1)

    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 100_000))
    def test_after_a_change_only_what_it_touched_is_worked_out_and_right(self, seed) -> None:
        source = random.Random(seed)
        kinds = (
            torus(3.0, 1.0, 30, 20),
            painted(sheet(6, 5, 24, 20), every=7),
            ball(1.0, 9),
            *ZOO.values(),
        )
        first = source.choice(kinds)
        form = smooth_form(first)
        for step, before, result in random_walk(first, source, 3, TOOLS):
            made = remade(form, before, result.mesh, result.origin.kept)
            whole = smooth_form(result.mesh, origin=made.form.origin)
            told = f"seed {seed}: {step}"
            near = 1e-6 * result.mesh.diagonal
            np.testing.assert_allclose(made.form.places, whole.places, atol=near, err_msg=told)
            np.testing.assert_allclose(made.form.normals, whole.normals, atol=1e-4, err_msg=told)
            taken = sum(int(count) for _, _, count in made.runs.tolist())
            self.assertEqual(taken + len(made.fresh), len(result.mesh.corners), told)
            moves = moves_of(form, before, made)
            self.assertEqual(moves.shape, (len(made.fresh), made.form.places.shape[1]))
            form = made.form

    def test_how_far_the_form_moves_is_told_and_nothing_of_it_where_it_stays(self) -> None:
        grid = sheet(20, 20, 20, 20)
        form = smooth_form(grid)
        flat = apply_step(grid, parse_step({"tool": "loop", "edge": [200, 201], "at": [0.3]}))
        made = remade(form, grid, flat.mesh, flat.origin.kept)
        self.assertLess(moves_of(form, grid, made).max(), 1e-5)
        shift = {"way": "shift", "by": [0, 1.0, 0]}
        up = apply_step(grid, parse_step({"tool": "move", "vertices": [220], "move": shift}))
        made = remade(form, grid, up.mesh, up.origin.kept)
        # The limit of a vertex lifted alone from a regular grid: (4/6)².
        self.assertAlmostEqual(float(moves_of(form, grid, made).max()), 4 / 9, places=4)
        self.assertLess(len(made.fresh), 4 * 120)


class Subdivision(SimpleTestCase):
    def test_a_regular_grid_becomes_the_tensor_product_of_cubic_splines(self) -> None:
        source = np.random.default_rng(4)
        plate = sheet(6, 6, 6, 6)
        # Column by column, seven vertices each.
        grid = source.normal(size=(7, 7, 3))
        bent = replace(plate, points=grid.reshape(-1, 3))
        made = subdivided(bent).mesh
        for i in range(1, 6):
            for j in range(1, 6):
                block = grid[i - 1 : i + 2, j - 1 : j + 2]
                wanted = np.einsum("i,j,ijk->k", VERTEX, VERTEX, block)
                np.testing.assert_allclose(made.points[7 * i + j], wanted, atol=1e-12)
                along = bent.edges.between(7 * i + j, 7 * i + j + 1)
                if 1 <= j < 5:
                    wanted = np.einsum("i,j,ijk->k", VERTEX, EDGE, block)
                    np.testing.assert_allclose(
                        made.points[bent.vertex_count + along], wanted, atol=1e-12
                    )

    def test_it_agrees_with_a_table_filled_in_by_hand_creases_and_poles_too(self) -> None:
        drum = turned([(0.0, 0.0), (1.0, 0.2), (1.2, 1.0), (0.0, 1.4)], 7)
        for mesh in (
            ball(1, 3),
            drum,
            torus(2, 0.5, 8, 5),
            sheet(4, 3, 4, 3),
            painted(box(2, 2, 2, (2, 2, 2)), every=5),
        ):
            np.testing.assert_allclose(subdivided(mesh).mesh.points, by_table(mesh), atol=1e-12)
            # Creases of all strengths, for a round and for what is left of them in the next.
            hard = painted(mesh, every=2)
            creased = replace(hard, strength=np.linspace(0.1, 1.0, len(hard.hard)))
            once = subdivided(creased).mesh
            np.testing.assert_allclose(once.points, by_table(creased), atol=1e-12)
            np.testing.assert_allclose(subdivided(once).mesh.points, by_table(once), atol=1e-12)

    def test_a_crease_is_between_smooth_and_hard(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        rims = apply_step(cube, parse_step({"tool": "hard edges", "degrees": 40})).mesh
        reach = []
        for strength in (0.01, 0.3, 0.5, 0.8, 0.95, 1.0):
            mesh = replace(rims, strength=np.full(len(rims.hard), strength))
            reach.append(float(np.abs(smooth_form(mesh).places).max()))
            made = apply_step(mesh, parse_step({"tool": "subdivide", "rounds": 3})).mesh
            # What is sharp for ever stays so; what was so for some rounds wears off.
            left = 1.0 if made.strength is None and len(made.hard) else 0.0
            self.assertEqual(left, float(strength == 1.0) if strength != 0.8 else left)
        self.assertEqual(reach, sorted(reach))
        self.assertAlmostEqual(reach[-1], 1.0, places=12)
        # A half is sharp once: the second round sees it soft.
        half = subdivided(replace(rims, strength=np.full(len(rims.hard), 0.5))).mesh
        self.assertEqual(len(half.hard), 0)

    def test_closed_stays_closed_quads_throughout_and_flat_stays_where_it_is(self) -> None:
        result = apply_step(ball(1, 3), parse_step({"tool": "subdivide", "rounds": 3}))
        self.assertTrue(is_closed(result.mesh))
        self.assertEqual(set(result.mesh.sizes.tolist()), {4})
        self.assertEqual(result.mesh.face_count, 54 * 64)
        self.assertEqual(euler_of(result.mesh), 2)
        self.assertEqual(problems(result.mesh), [])
        plate = sheet(4, 3, 4, 3)
        flat = apply_step(plate, parse_step({"tool": "subdivide", "rounds": 2})).mesh
        self.assertAlmostEqual(area_of(flat), 12.0, places=12)

    def test_what_faces_and_edges_carry_goes_on(self) -> None:
        mesh = painted(sheet(4, 3, 4, 3), every=3)
        result = subdivided(mesh)
        made = result.mesh
        np.testing.assert_array_equal(made.patch, mesh.patch[result.origin.face])
        np.testing.assert_array_equal(made.material, mesh.material[result.origin.face])
        self.assertEqual(len(made.hard), 2 * len(mesh.hard))
        assert made.uv is not None and mesh.uv is not None
        for f in (0, 5):
            np.testing.assert_allclose(
                made.uv[4 * mesh.starts[f] : 4 * mesh.starts[f + 1]].mean(axis=0),
                mesh.uv[mesh.starts[f] : mesh.starts[f + 1]].mean(axis=0),
            )

    def test_hard_all_round_keeps_a_box(self) -> None:
        cube = box(2, 2, 2, (1, 1, 1))
        hard = replace(cube, hard=cube.edges.ends)
        made = apply_step(hard, parse_step({"tool": "subdivide", "rounds": 2})).mesh
        self.assertEqual(made.box.tolist(), [[-1, -1, -1], [1, 1, 1]])
        self.assertAlmostEqual(area_of(made), 24.0, places=12)

    def test_too_many_faces_are_refused(self) -> None:
        with self.assertRaises(CutError) as caught:
            apply_step(ball(1, 130), parse_step({"tool": "subdivide", "rounds": 4}))
        self.assertEqual(caught.exception.where, "rounds")
