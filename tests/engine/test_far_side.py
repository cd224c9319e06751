"""What a view does not see of a cut, and what tearing a part leaves of its attributes."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import parse_step, trace_step
from cutcore.geometry.camera import Camera, View
from cutcore.queries.ray_caster import caster_of
from cutcore.shapes.box import box
from cutcore.shapes.torus import torus
from cutcore.trace.far_side import with_far_side
from tests.engine.test_slice import cut
from tests.zoo import painted
from workshop.sample.skerry_light import lantern_housing


def camera(eye: tuple[float, float, float], *, parallel: bool = False) -> Camera:
    more = {"projection": "parallel", "height": 6.0} if parallel else {"fov": 40.0}
    return Camera.of(
        View.model_validate({"eye": eye, "target": (0, 0, 0), "size": (400, 400), **more})
    )


class FarSide(SimpleTestCase):
    def test_a_loop_round_a_box_is_near_before_the_eye_and_far_behind(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        edge = next(e for e in cube.edges.ends.tolist() if abs(np.diff(cube.points[e, 1])[0]) > 0.5)
        trace = trace_step(cube, parse_step({"tool": "loop", "edge": edge, "at": [0.5]}))
        for parallel in (False, True):
            seen = with_far_side(cube, trace, camera((4, 3, 9), parallel=parallel))
            middle = seen.place[seen.ends].mean(axis=1)
            front, back = np.isclose(middle[:, 2], 1), np.isclose(middle[:, 2], -1)
            self.assertEqual(
                (set(seen.far[front].tolist()), set(seen.far[back].tolist())), ({False}, {True})
            )
            right, left = np.isclose(middle[:, 0], 1), np.isclose(middle[:, 0], -1)
            self.assertEqual(
                (set(seen.far[right].tolist()), set(seen.far[left].tolist())), ({False}, {True})
            )
        self.assertFalse(trace.far.any(), "the trace given stays as it is")

    @settings(max_examples=40)
    @given(st.floats(0, 6.28), st.floats(-1.2, 1.2), st.floats(-0.2, 0.2))
    def test_what_is_near_can_be_seen_and_what_is_far_cannot(self, turn, rise, height) -> None:
        ring = torus(1.0, 0.35, 20, 10)
        eye = 8 * np.array([np.cos(turn) * np.cos(rise), np.sin(rise), np.sin(turn) * np.cos(rise)])
        plane = {"point": [0, height, 0], "normal": [0.1, 1, 0.05]}
        trace = trace_step(ring, parse_step({"tool": "slice", "plane": plane}))
        seen = with_far_side(ring, trace, camera((float(eye[0]), float(eye[1]), float(eye[2]))))
        inside = np.flatnonzero(seen.face >= 0)
        middle = seen.place[seen.ends[inside]].mean(axis=1)
        sights = (middle - eye) / np.linalg.norm(middle - eye, axis=1, keepdims=True)
        hits = caster_of(ring).first(np.broadcast_to(eye, middle.shape), sights)
        first = hits.face == seen.face[inside]
        facing = np.einsum("ij,ij->i", ring.face_normals(seen.face[inside]), sights) < -1e-3
        # Where the eye meets the very face first the span is near; where it looks at the face's
        # back it is far.
        self.assertFalse(seen.far[inside][first & facing].any())
        self.assertTrue(
            seen.far[inside][
                np.einsum("ij,ij->i", ring.face_normals(seen.face[inside]), sights) > 1e-3
            ].all()
        )


class Torn(SimpleTestCase):
    def test_shards_keep_materials_patches_texture_places_and_hard_edges(self) -> None:
        housing = painted(lantern_housing(), every=3)
        plain = cut(housing, (0, 20, 0), (0, 1, 0.03), repeat={"count": 3, "spacing": 30})
        torn = cut(
            housing,
            (0, 20, 0),
            (0, 1, 0.03),
            repeat={"count": 3, "spacing": 30},
            then="part",
            gap=[0, 5, 0],
        )
        for name in ("material", "patch", "uv"):
            np.testing.assert_array_equal(getattr(torn.mesh, name), getattr(plain.mesh, name))
        self.assertEqual(
            (torn.mesh.materials, torn.mesh.patches), (housing.materials, housing.patches)
        )
        # Every hard edge of the cut part is there in each slab that has it, and no other edge is
        # hard.
        was = {tuple(pair) for pair in plain.mesh.hard.tolist()}
        old = np.concatenate([np.arange(plain.mesh.vertex_count), np.zeros(0, int)])
        back = np.full(torn.mesh.vertex_count, -1)
        back[torn.mesh.corners] = plain.mesh.corners
        self.assertTrue((back[: len(old)] == old).all())
        for a, b in np.sort(back[torn.mesh.edges.ends], axis=1).tolist():
            self.assertGreaterEqual(a, 0)
            self.assertEqual(
                (a, b) in was,
                (a, b) in {tuple(p) for p in np.sort(back[torn.mesh.hard], axis=1).tolist()},
            )

    def test_parts_of_their_own_carry_theirs_and_slabs_are_spread_about_the_middle(self) -> None:
        housing = painted(lantern_housing(), every=3)
        step = {
            "repeat": {"count": 2, "spacing": 40},
            "then": "part",
            "gap": [3, 0, 0],
            "as_parts": True,
        }
        done = cut(housing, (0, 50, 0), (0, 1, 0), **step)
        shards = [done.mesh, *done.apart]
        self.assertEqual([round(float(s.box[:, 0].mean()), 9) for s in shards], [-3.0, 0.0, 3.0])
        for shard in shards:
            self.assertIsNotNone(shard.uv)
            self.assertEqual((shard.materials, shard.patches), (housing.materials, housing.patches))
            self.assertTrue(set(shard.material.tolist()) <= {0, 1})
            ends = shard.edges.ends.astype(np.int64) @ np.array([shard.vertex_count, 1])
            self.assertTrue(
                np.isin(shard.hard.astype(np.int64) @ np.array([shard.vertex_count, 1]), ends).all()
            )
        self.assertEqual(sum(len(s.hard) > 0 for s in shards), 3)

    def test_a_plane_that_misses_parts_nothing(self) -> None:
        housing = lantern_housing()
        missed = cut(housing, (0, 500, 0), (0, 1, 0), then="part", as_parts=True)
        self.assertEqual((missed.apart, [n.code for n in missed.notes][:1]), ((), ["slice-misses"]))
