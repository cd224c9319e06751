"""Extrude, inset, round and bridge: what they keep, where they put things, what they refuse."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, Result, StepError, apply_step, parse_step, problems
from cutcore.queries.measure import fitted_ring
from cutcore.reshape.building.walls import Region
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.turned import turned
from tests.guarantees import area_of, assert_tables_true, borders_of, euler_of, volume_of
from tests.zoo import ZOO

CUBE = box(3, 3, 3, (3, 3, 3))


def step(mesh: Mesh, tool: str, **params: Any) -> Result:
    return apply_step(mesh, parse_step({"tool": tool, **params}))


def grown(mesh: Mesh, seed: int, count: int) -> list[int]:
    """Some faces that hang together by edges, grown from one."""
    chance = np.random.default_rng(seed)
    found = [int(chance.integers(mesh.face_count))]
    for _ in range(count - 1):
        edges = mesh.edges.of_corner[np.isin(mesh.face_of_corner, found)]
        beside = np.setdiff1d(mesh.edges.face_pairs(np.unique(edges))[1], found)
        if len(beside):
            found.append(int(chance.choice(beside)))
    return sorted(found)


def simple_border(mesh: Mesh, faces: list[int]) -> bool:
    """Whether the border of some faces is one that passes no vertex twice, and there are faces
    left."""
    chosen = np.zeros(mesh.face_count, dtype=bool)
    chosen[faces] = True
    region = Region.of(mesh, chosen)
    leaving = region.vertex[region.rim]
    return 0 < len(leaving) == len(np.unique(leaving)) and len(faces) < mesh.face_count


class Extrude(SimpleTestCase):
    @settings(max_examples=60)
    @given(
        st.sampled_from(sorted(ZOO)),
        st.integers(0, 2**31),
        st.integers(1, 12),
        st.floats(-0.2, 0.2),
        st.sampled_from("xyz"),
    )
    def test_walls_join_what_went_to_what_stayed(self, name, seed, count, distance, axis) -> None:
        mesh = ZOO[name]
        faces = grown(mesh, seed, count)
        assume(not mesh.edges.crowded and simple_border(mesh, faces) and abs(distance) > 1e-3)
        try:
            result = step(mesh, "extrude", faces=faces, distance=distance, along=axis)
        except StepError as refused:
            # Along an edge of the border the wall over it would have no area.
            ends = mesh.points[mesh.edges.ends]
            along = np.abs(ends[:, 1] - ends[:, 0])
            along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-300)
            self.assertIn("no area", str(refused))
            self.assertGreater(along[:, "xyz".index(axis)].max(), 1 - 1e-6)
            return
        made = result.mesh
        assert_tables_true(made)
        self.assertEqual((euler_of(made), borders_of(made)), (euler_of(mesh), borders_of(mesh)))
        self.assertEqual(result.picked.faces.tolist(), faces)
        for f in faces:
            np.testing.assert_array_equal(
                made.points[made.face(f)],
                mesh.points[mesh.face(f)] + distance * np.eye(3)["xyz".index(axis)],
            )
        rest = np.setdiff1d(np.arange(mesh.face_count), faces)
        self.assertEqual(result.origin.kept[faces].tolist(), [-1] * len(faces))
        for f in rest.tolist():
            np.testing.assert_array_equal(made.face(f), mesh.face(f))
        # Every wall is a quad with one edge of the old border and one of the new.
        self.assertTrue((made.sizes[mesh.face_count :] == 4).all())
        self.assertEqual(made.uv is None, mesh.uv is None)

    def test_along_the_normal_every_face_goes_by_the_distance_round_corners_too(self) -> None:
        side = [
            f
            for f in range(CUBE.face_count)
            if np.isclose(CUBE.points[CUBE.face(f)][:, [1, 2]], 1.5).all(axis=0).any()
        ]
        made = step(CUBE, "extrude", faces=side, distance=0.25).mesh
        for f in side:
            flat = CUBE.points[CUBE.face(f)]
            normal = CUBE.face_normals(np.array([f]))[0]
            np.testing.assert_allclose(
                (made.points[made.face(f)] - flat) @ normal,
                0.25 * np.linalg.norm(normal),
                rtol=1e-12,
            )
        top = [
            f
            for f in range(CUBE.face_count)
            if np.isclose(CUBE.points[CUBE.face(f)][:, 1], 1.5).all()
        ]
        raised = step(CUBE, "extrude", faces=top, distance=0.5, along="mean").mesh
        self.assertAlmostEqual(volume_of(raised), 27 + 9 * 0.5, places=12)
        self.assertEqual([n.code for n in problems(raised)], [n.code for n in problems(CUBE)])

    def test_what_cannot_be_extruded_says_why(self) -> None:
        with self.assertRaisesRegex(StepError, "distance: a distance of 0 moves nothing"):
            step(CUBE, "extrude", faces=[0], distance=0)
        with self.assertRaisesRegex(StepError, "along: the picked faces have no mean normal"):
            step(CUBE, "extrude", faces=list(range(CUBE.face_count)), distance=1, along="mean")
        whole = step(CUBE, "extrude", faces=list(range(CUBE.face_count)), distance=0.5)
        self.assertEqual(
            (whole.mesh.face_count, round(volume_of(whole.mesh), 9)), (CUBE.face_count, 64)
        )


class Inset(SimpleTestCase):
    @settings(max_examples=60)
    @given(st.integers(0, 2**31), st.integers(1, 20), st.floats(0.01, 0.6))
    def test_the_strip_is_even_and_lies_on_the_surface(self, seed, count, width) -> None:
        mesh = sheet(8, 6, 8, 6)
        faces = grown(mesh, seed, count)
        assume(simple_border(mesh, faces))
        try:
            result = step(mesh, "inset", faces=faces, distance=width)
        except CutError as refusal:
            self.assertRegex(
                str(refusal),
                r"^distance: (there is room for a strip of less than|a picked face is too narrow)",
            )
            self.assertGreaterEqual(width, 0.5 - 1e-9)
            return
        made = result.mesh
        assert_tables_true(made)
        self.assertEqual((euler_of(made), borders_of(made)), (euler_of(mesh), borders_of(mesh)))
        np.testing.assert_allclose(area_of(made), area_of(mesh), rtol=1e-12)
        for f in range(mesh.face_count, made.face_count):
            low, high, inner_high, inner_low = made.points[made.face(f)]
            along = (high - low) / np.linalg.norm(high - low)
            for inner in (inner_low, inner_high):
                away = inner - low
                self.assertAlmostEqual(
                    float(np.linalg.norm(away - (away @ along) * along)), width, places=12
                )
        # Texture places on a sheet follow places: so do those of the strip.
        if made.uv is not None and mesh.uv is not None:
            fit, *_ = np.linalg.lstsq(
                np.column_stack([mesh.points[mesh.corners], np.ones(len(mesh.corners))]),
                mesh.uv,
                rcond=None,
            )
            np.testing.assert_allclose(
                np.column_stack([made.points[made.corners], np.ones(len(made.corners))]) @ fit,
                made.uv,
                atol=1e-9,
            )

    def test_the_widest_strip_is_named_where_one_is_too_wide(self) -> None:
        with self.assertRaisesRegex(
            StepError, "distance: there is room for a strip of less than 0.5 only"
        ) as refused:
            step(CUBE, "inset", faces=[0], distance=0.75)
        self.assertEqual(refused.exception.elements[0].kind, "edge")
        with self.assertRaisesRegex(StepError, "faces: the picked faces have no boundary"):
            step(CUBE, "inset", faces=list(range(CUBE.face_count)), distance=0.1)
        corner = [
            f
            for f in range(CUBE.face_count)
            if np.isclose(CUBE.points[CUBE.face(f)][:, 1], 1.5).all()
        ]
        with self.assertRaisesRegex(
            StepError, "faces: the boundary of the picked faces touches itself"
        ):
            step(CUBE, "inset", faces=self.two_that_touch(corner), distance=0.1)

    def two_that_touch(self, faces: list[int]) -> list[int]:
        """Two of some faces that share one vertex and no edge."""
        for a in faces:
            for b in faces:
                if len(np.intersect1d(CUBE.face(a), CUBE.face(b))) == 1:
                    return [a, b]
        raise AssertionError("no two faces touch")


class Round(SimpleTestCase):
    @settings(max_examples=60)
    @given(st.integers(0, 2**31), st.booleans(), st.one_of(st.none(), st.floats(0.5, 4)))
    def test_a_ring_becomes_a_true_circle(self, seed, even, diameter) -> None:
        chance = np.random.default_rng(seed)
        tube = turned([(1.0, 0.0), (1.0, 1.0), (1.0, 2.0)], 12)
        ring = np.flatnonzero(np.isclose(tube.points[:, 1], 1.0))
        bent = tube.points.copy()
        bent[ring] += chance.uniform(-0.1, 0.1, (len(ring), 3))
        mesh = Mesh(bent, tube.starts, tube.corners)
        made = step(mesh, "round", vertices=ring.tolist(), even=even, diameter=diameter).mesh
        found = fitted_ring(made.points[ring])
        assert found is not None
        self.assertLess(max(found.roundness, found.flatness), 1e-12)
        if diameter is not None:
            self.assertAlmostEqual(found.diameter, diameter, places=12)
        others = np.setdiff1d(np.arange(mesh.vertex_count), ring)
        np.testing.assert_array_equal(made.points[others], mesh.points[others])
        if even:
            places = made.points[ring] - found.centre
            gaps = np.linalg.norm(places[:, None] - places[None], axis=2)
            np.testing.assert_allclose(
                np.sort(gaps, axis=1)[:, 1],
                2 * 0.5 * found.diameter * np.sin(np.pi / 12),
                rtol=1e-9,
            )

    def test_a_centre_and_a_normal_can_be_given_and_bad_rings_are_refused(self) -> None:
        top = np.flatnonzero(
            np.isclose(CUBE.points[:, 1], 1.5) & (np.abs(CUBE.points[:, [0, 2]]).max(axis=1) > 1.4)
        ).tolist()
        made = step(
            CUBE, "round", vertices=top, centre=[0, 2, 0], normal=[0, 3, 0], diameter=5
        ).mesh
        np.testing.assert_allclose(np.hypot(*made.points[top][:, [0, 2]].T), 2.5, rtol=1e-12)
        np.testing.assert_allclose(made.points[top][:, 1], 2.0, rtol=1e-12)
        for wrong, words in (
            ({}, "needs vertices or edges"),
            ({"vertices": [0, 1]}, "no circle"),
            ({"vertices": top, "normal": [0, 0, 0]}, "zero"),
        ):
            with self.assertRaisesRegex(StepError, words):
                step(CUBE, "round", **wrong)


class Bridge(SimpleTestCase):
    @settings(max_examples=50)
    @given(st.integers(3, 14), st.integers(3, 14), st.integers(0, 2**31))
    def test_two_openings_are_joined_and_the_difference_is_spread(self, one, other, seed) -> None:
        chance = np.random.default_rng(seed)
        low, high = turned([(1.0, 0.0), (1.0, 1.0)], one), turned([(1.2, 3.0), (1.2, 4.0)], other)
        turn = chance.uniform(0, 2 * np.pi)
        spin = np.array(
            [[np.cos(turn), 0, np.sin(turn)], [0, 1, 0], [-np.sin(turn), 0, np.cos(turn)]]
        )
        mesh = Mesh.of(
            np.concatenate([low.points, high.points @ spin]),
            [
                *(low.face(f) for f in range(low.face_count)),
                *(high.face(f) + low.vertex_count for f in range(high.face_count)),
            ],
        )
        caps = [
            f
            for f in range(mesh.face_count)
            if np.isclose(mesh.points[mesh.face(f)][:, 1], 1).all()
            or np.isclose(mesh.points[mesh.face(f)][:, 1], 3).all()
        ]
        result = step(mesh, "bridge", faces=caps)
        made = result.mesh
        assert_tables_true(made)
        self.assertEqual((euler_of(made), borders_of(made)), (2, 0))
        added = made.sizes[result.picked.faces]
        self.assertEqual(
            ((added == 3).sum(), (added == 4).sum()), (abs(one - other), min(one, other))
        )
        self.assertEqual(
            [n.code for n in result.notes], ["bridge-triangles"] if one != other else []
        )
        self.assertGreater(volume_of(made), volume_of(mesh))
        if one == other:
            # The strip turns by half a side at most.
            for f in result.picked.faces.tolist():
                a, _, _, d = made.points[made.face(f)][:, [0, 2]]
                between = np.arccos(np.clip(a @ d / (np.linalg.norm(a) * np.linalg.norm(d)), -1, 1))
                self.assertLessEqual(between, np.pi / one + 1e-9)

    def test_open_borders_are_joined_by_their_edges_and_a_twist_turns_on(self) -> None:
        tube = turned([(1.0, 0.0), (1.0, 1.0)], 8)
        open_tube = step(
            tube, "delete", faces=[f for f in range(tube.face_count) if tube.sizes[f] == 8]
        ).mesh
        inner = Mesh(open_tube.points * [0.5, 1, 0.5], open_tube.starts, open_tube.corners)
        flipped = step(inner, "flip").mesh
        both = Mesh.of(
            np.concatenate([open_tube.points, flipped.points]),
            [
                *(open_tube.face(f) for f in range(8)),
                *(flipped.face(f) + open_tube.vertex_count for f in range(8)),
            ],
        )
        top = [
            pair.tolist()
            for pair in both.edges.ends[both.edges.border]
            if np.isclose(both.points[pair][:, 1], 1).all()
        ]
        made = step(both, "bridge", edges=top)
        self.assertEqual(
            (len(made.picked.faces), borders_of(made.mesh), made.mesh.vertex_count),
            (8, 2, both.vertex_count),
        )
        turned_on = step(both, "bridge", edges=top, twist=1)
        self.assertNotEqual(made.mesh.corners.tolist(), turned_on.mesh.corners.tolist())
        for wrong, words in (
            ({"edges": top[:8]}, "two openings are joined by a bridge"),
            ({"edges": [both.edges.ends[~both.edges.border][0].tolist()]}, "only open boundaries"),
            ({"faces": [0]}, "two groups of faces"),
            ({}, "either edges or faces"),
        ):
            with self.assertRaisesRegex(StepError, words):
                step(both, "bridge", **wrong)
