"""Meshes and what is derived from them: tables against plain counting, triangles, rays, sections,
charts, shapes."""

from __future__ import annotations

from collections import defaultdict

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh, apply_step, parse_step, problems
from cutcore.geometry.arrays import cross, distinct, found_in, next_in_row, row_positions, starts_of
from cutcore.geometry.camera import Camera, View
from cutcore.geometry.chart import chart_of
from cutcore.geometry.plane import Plane
from cutcore.geometry.polygons import inside_loop
from cutcore.geometry.predicates import segments_meet, turn
from cutcore.mesh.memory import bytes_held
from cutcore.mesh.tolerance import weld_of
from cutcore.mesh.triangles import ear_clip, places_inside
from cutcore.queries.ray_caster import caster_of
from cutcore.queries.section import section
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from tests.guarantees import area_of, euler_of, volume_of
from tests.zoo import CLOSED, ZOO, concave_plate


class Tables(SimpleTestCase):
    def test_edges_and_their_faces_are_those_of_plain_counting(self) -> None:
        for name, mesh in ZOO.items():
            with self.subTest(name):
                faces: dict[tuple[int, int], list[int]] = defaultdict(list)
                for f in range(mesh.face_count):
                    loop = mesh.face(f).tolist()
                    for a, b in zip(loop, loop[1:] + loop[:1], strict=True):
                        faces[min(a, b), max(a, b)].append(f)
                self.assertEqual({tuple(e) for e in mesh.edges.ends.tolist()}, set(faces))
                for e, ends in enumerate(mesh.edges.ends.tolist()):
                    self.assertEqual(sorted(mesh.edges.faces_at(e)), sorted(faces[tuple(ends)]))
                    self.assertEqual(mesh.edges.between(ends[1], ends[0]), e)
                for v in range(mesh.vertex_count):
                    self.assertEqual(
                        mesh.edges.faces_at_vertex(v).tolist(),
                        [f for f in range(mesh.face_count) if v in mesh.face(f)],
                    )

    def test_arrays_can_not_be_changed_and_the_given_ones_are_left_alone(self) -> None:
        points = np.zeros((3, 3))
        points[1, 0] = points[2, 1] = 1.0
        mesh = Mesh.of(points, [[0, 1, 2]])
        points[0] = 9.0
        self.assertEqual(mesh.points[0].tolist(), [0, 0, 0])
        with self.assertRaises(ValueError):
            mesh.points[0, 0] = 1.0
        with self.assertRaises(ValueError):
            mesh.edges.ends[0, 0] = 1

    @settings(max_examples=50)
    @given(st.lists(st.lists(st.integers(0, 50), min_size=1, max_size=5), min_size=1, max_size=8))
    def test_ragged_rows_are_gathered_and_walked(self, rows) -> None:
        starts = starts_of(np.array([len(r) for r in rows]))
        values = np.array([v for r in rows for v in r])
        chosen = np.arange(len(rows))[::-2]
        at, gathered = row_positions(starts, chosen)
        self.assertEqual(values[at].tolist(), [v for r in chosen.tolist() for v in rows[r]])
        self.assertEqual(np.diff(gathered).tolist(), [len(rows[r]) for r in chosen.tolist()])
        self.assertEqual(
            values[next_in_row(starts)].tolist(), [v for r in rows for v in r[1:] + r[:1]]
        )
        self.assertEqual(distinct(values).tolist(), sorted(set(values.tolist())))
        self.assertEqual(
            found_in(np.arange(51), distinct(values)).tolist(), [v in values for v in range(51)]
        )


class Triangles(SimpleTestCase):
    def test_triangles_cover_each_face_once_in_its_own_direction(self) -> None:
        for name, mesh in ZOO.items():
            with self.subTest(name):
                for f in range(mesh.face_count):
                    corners = mesh.points[mesh.triangles.of_face(f)]
                    self.assertEqual(len(corners), mesh.sizes[f] - 2)
                    normal = mesh.face_normals(np.array([f]))[0]
                    parts = 0.5 * cross(
                        corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
                    )
                    np.testing.assert_allclose(parts.sum(axis=0), normal, atol=1e-12)

    def test_a_place_inside_is_inside_however_concave_the_face(self) -> None:
        comb = concave_plate()
        place = places_inside(
            comb.points, np.array([0, len(comb.points)]), np.arange(len(comb.points))
        )[0]
        chart = chart_of(comb.points)
        self.assertTrue(
            inside_loop(chart.flatten(comb.points), chart.flatten(place[None]), margin=1e-6).all()
        )
        self.assertEqual(len(ear_clip(comb.points)), 14)

    def test_charts_are_seen_from_outside_and_keep_lengths(self) -> None:
        chart = chart_of(box(2, 2, 2).points[box(2, 2, 2).face(1)])
        np.testing.assert_allclose(cross(chart.right, chart.up), chart.normal)
        np.testing.assert_allclose(
            np.ptp(chart.flatten(box(2, 2, 2).points[box(2, 2, 2).face(1)]), axis=0), [2, 2]
        )


class Shapes(SimpleTestCase):
    def test_closed_shapes_are_closed_and_turned_outward(self) -> None:
        shapes = {
            "box": (box(2, 3, 4, (2, 1, 3)), 24.0, 2),
            "torus": (torus(2.0, 0.5, 64, 48), 2 * np.pi**2 * 2.0 * 0.25, 0),
            "cylinder": (turned([(1.0, 0.0), (1.0, 2.0)], 200), 2 * np.pi, 2),
            "cone": (turned([(1.0, 0.0), (0.0, 3.0)], 200), np.pi, 2),
        }
        for name, (mesh, volume, euler) in shapes.items():
            with self.subTest(name):
                self.assertEqual(
                    (problems(mesh), euler_of(mesh), bool(mesh.edges.border.any())),
                    ([], euler, False),
                )
                self.assertAlmostEqual(volume_of(mesh) / volume, 1.0, places=2)

    def test_the_zoo_is_sound_but_for_what_it_is_there_for(self) -> None:
        for name, mesh in ZOO.items():
            with self.subTest(name):
                self.assertEqual(problems(mesh), [])
        for mesh in CLOSED.values():
            self.assertGreater(volume_of(mesh), 0)


class Orientation(SimpleTestCase):
    @settings(max_examples=80)
    @given(
        st.tuples(*[st.floats(-1, 1, width=32)] * 4),
        st.floats(0, 1),
        st.sampled_from([0.0, 1e-17, -1e-17, 1e-300]),
    )
    def test_signs_are_exact_for_places_all_but_in_line(self, ends, share, off) -> None:
        from fractions import Fraction

        a, b = np.array(ends[:2]), np.array(ends[2:])
        c = a + share * (b - a) + np.array([0.0, off])
        ax, ay, bx, by, cx, cy = (Fraction(float(x)) for x in (*a, *b, *c))
        exact = (ax - cx) * (by - cy) - (ay - cy) * (bx - cx)
        self.assertEqual(int(np.sign(turn(a, b, c))), (exact > 0) - (exact < 0))
        self.assertEqual(np.sign(turn(a, b, c)), -np.sign(turn(b, a, c)))

    def test_segments_meet_at_ends_and_when_they_overlap(self) -> None:
        p, q = np.array([0.0, 0.0]), np.array([2.0, 0.0])
        others = np.array(
            [
                [[1, -1], [1, 1]],
                [[2, 0], [3, 1]],
                [[1, 0], [3, 0]],
                [[3, 0], [4, 0]],
                [[0, 1], [2, 1]],
            ],
            dtype=float,
        )
        self.assertEqual(
            segments_meet(p, q, others[:, 0], others[:, 1]).tolist(),
            [True, True, True, False, False],
        )


class Sections(SimpleTestCase):
    @settings(max_examples=80)
    @given(
        st.sampled_from(sorted(ZOO)),
        st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda n: sum(x * x for x in n) > 0.1),
        st.floats(0.1, 0.9),
    )
    def test_a_section_in_some_faces_is_that_part_of_the_whole_one(
        self, name, normal, where
    ) -> None:
        mesh = ZOO[name]
        plane = Plane.through(mesh.box[0] + where * (mesh.box[1] - mesh.box[0]), np.array(normal))
        whole = section(mesh, plane, weld=weld_of(mesh))
        some = section(mesh, plane, weld=weld_of(mesh), faces=np.arange(mesh.face_count))
        self.assertEqual(self.named(mesh, whole), self.named(mesh, some))
        heights = plane.heights(whole.place)
        self.assertTrue((np.abs(heights[whole.edge >= 0]) <= 1e-12 * mesh.diagonal).all())
        for name_of_side, sign in (("above", 1), ("below", -1)):
            self.assertTrue(
                (sign * plane.heights(mesh.points[whole.side == sign]) > 0).all(), name_of_side
            )

    def named(self, mesh: Mesh, found) -> set[tuple[object, ...]]:
        def node(n: int) -> tuple[str, int]:
            return (
                ("v", int(found.vertex[n])) if found.vertex[n] >= 0 else ("e", int(found.edge[n]))
            )

        return {
            (frozenset((node(int(a)), node(int(b)))), int(f))
            for (a, b), f in zip(found.ends, found.face, strict=True)
        }


class Views(SimpleTestCase):
    @settings(max_examples=80)
    @given(
        st.tuples(*[st.floats(-5, 5)] * 3), st.tuples(*[st.floats(-0.9, 0.9)] * 3), st.booleans()
    )
    def test_the_sight_through_the_pixel_of_a_place_meets_the_place(
        self, eye, place, parallel
    ) -> None:
        away = np.array(eye)
        if np.hypot(away[0], away[2]) < 0.3 or np.linalg.norm(away) < 2.0:
            return
        lens = {"projection": "parallel", "height": 4.0} if parallel else {"fov": 50.0}
        camera = Camera.of(View(eye=eye, target=(0, 0, 0), size=(800, 600), **lens))
        there = np.array([place])
        origins, directions = camera.rays(camera.project(there), reach=3.0)
        gap = there[0] - origins[0]
        self.assertLess(np.linalg.norm(cross(gap, directions[0])), 1e-9)
        self.assertAlmostEqual(float(np.linalg.norm(directions[0])), 1.0)

    def test_rays_meet_the_nearest_triangle_first(self) -> None:
        mesh = ZOO["torus"]
        chance = np.random.default_rng(4)
        origins = chance.normal(size=(60, 3)) * 4
        directions = (
            -origins / np.linalg.norm(origins, axis=1, keepdims=True)
            + chance.normal(size=(60, 3)) * 0.1
        )
        directions /= np.linalg.norm(directions, axis=1, keepdims=True)
        hits = caster_of(mesh).first(origins, directions)
        a, b, c = np.moveaxis(mesh.points[mesh.triangles.corners], 1, 0)
        normal = cross(b - a, c - a)
        for k in range(60):
            with np.errstate(divide="ignore", invalid="ignore"):
                reach = np.einsum("ij,ij->i", a - origins[k], normal) / (normal @ directions[k])
            place = origins[k] + reach[:, None] * directions[k]
            inside = reach > 0
            for p, q in ((a, b), (b, c), (c, a)):
                inside &= np.einsum("ij,ij->i", cross(q - p, place - p), normal) >= 0
            nearest = reach[inside].min() if inside.any() else np.inf
            if np.isfinite(nearest) or np.isfinite(hits.distance[k]):
                self.assertAlmostEqual(float(hits.distance[k]), float(nearest), places=4)


class Kept(SimpleTestCase):
    def test_area_and_texture_places_through_many_cuts(self) -> None:
        plate = sheet(4.0, 3.0, 4, 3)
        mesh = plate
        for k in range(6):
            plane = {"point": [0.1 * k, 0, 0.05 * k], "normal": [np.cos(k), 0.0, np.sin(k)]}
            mesh = apply_step(mesh, parse_step({"tool": "slice", "plane": plane})).mesh
        self.assertAlmostEqual(area_of(mesh), 12.0)
        assert mesh.uv is not None
        places = mesh.points[mesh.corners]
        np.testing.assert_allclose(
            mesh.uv, np.stack([places[:, 0] / 4 + 0.5, 0.5 - places[:, 2] / 3], axis=1), atol=1e-12
        )


class Derives:
    """Counted while something more is derived from what it belongs to, as another thread does."""

    def __init__(self, mesh: Mesh) -> None:
        self.mesh = mesh

    @property
    def bytes_aside(self) -> int:
        self.mesh.__dict__.setdefault("derived meanwhile", np.zeros(10))
        return 7


class Memory(SimpleTestCase):
    def test_it_is_counted_while_more_is_derived(self) -> None:
        mesh = box(2, 2, 2)
        before = bytes_held(mesh)
        mesh.__dict__["aside"] = Derives(mesh)
        self.assertEqual(bytes_held(mesh) - before, 7)
        self.assertEqual(bytes_held(mesh) - before, 87)
