"""The nearest place of a surface: never farther than what looking at every triangle finds."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import apply_step, parse_step
from cutcore.kernels.nearest import nearest_of_triangle
from cutcore.previews.smooth_form import moves_of, remade, smooth_form
from cutcore.queries.nearest import Surface
from workshop.sample.skerry_light import deck_plate


class Nearest(SimpleTestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.integers(0, 10**9), st.integers(1, 200), st.sampled_from([1.0, 30.0, 3000.0]))
    def test_of_fat_thin_and_flattened_triangles(self, seed: int, count: int, thin: float) -> None:
        source = np.random.default_rng(seed)
        middles = source.normal(size=(count, 1, 3))
        triangles = middles + source.normal(size=(count, 3, 3)) * [0.05 * thin, 0.05, 0.05]
        triangles[::7, 2] = triangles[::7, 1]
        triangles[::11] = triangles[::11, :1]
        places = source.normal(size=(20, 3)) * 2
        found = Surface(triangles).nearest(places)
        away = np.linalg.norm(found - places, axis=1)
        each = [[nearest_of_triangle(one, *place) for one in triangles] for place in places]
        least = np.linalg.norm(np.array(each) - places[:, None], axis=2).min(axis=1)
        np.testing.assert_allclose(away, least, rtol=1e-12)

    @settings(max_examples=40)
    @given(st.integers(0, 100_000))
    def test_the_nearest_place_of_a_triangle_is_that_of_a_search(self, seed) -> None:
        source = np.random.default_rng(seed)
        corners, place = source.uniform(-1, 1, (1, 3, 3)), source.uniform(-2, 2, (1, 3))
        found = np.array(nearest_of_triangle(corners[0], *place[0]))
        weights = source.dirichlet([0.5] * 3, 4000)
        near = np.linalg.norm(weights @ corners[0] - place, axis=1).min()
        self.assertLessEqual(np.linalg.norm(found - place[0]), near + 1e-12)
        # It is a place of the triangle.
        u, v = corners[0, 1:] - corners[0, 0]
        share, *_ = np.linalg.lstsq(np.stack([u, v], axis=1), found - corners[0, 0], rcond=None)
        self.assertTrue((share >= -1e-9).all() and share.sum() <= 1 + 1e-9)
        np.testing.assert_allclose(share @ [u, v] + corners[0, 0], found, atol=1e-9)

    def test_how_far_the_smooth_form_moves_on_long_faces(self) -> None:
        plate = deck_plate()
        form = smooth_form(plate)
        result = apply_step(plate, parse_step({"tool": "loop", "edge": [16, 24], "at": [0.5]}))
        made = remade(form, plate, result.mesh, result.origin.kept)
        self.assertAlmostEqual(float(moves_of(form, plate, made).max()), 0.65, places=3)
