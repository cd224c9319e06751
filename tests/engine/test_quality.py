"""How well faces are formed: measures, their bins, what the command line says of them."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh
from cutcore.errors import StepError
from cutcore.queries.corner_forms import scaled_jacobians
from cutcore.queries.quality import BINS, MEASURES, faces_in_bin, quality
from cutcore.shapes.ball import ball
from cutcore.shapes.sheet import sheet
from tests.zoo import ZOO


class Measures(SimpleTestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.sampled_from(sorted(ZOO)), st.sampled_from(MEASURES))
    def test_every_face_is_in_just_the_bin_its_value_lies_in(self, name: str, measure: str) -> None:
        mesh = ZOO[name]
        found = quality(mesh, measure)  # type: ignore[arg-type]
        self.assertEqual(found.counts.sum(), mesh.face_count)
        ends = np.array(BINS[found.measure])
        for number, (best, worst) in enumerate(pairwise(ends)):
            faces = faces_in_bin(mesh, found.measure, number)
            self.assertEqual(len(faces), found.counts[number])
            low, high = sorted((best, worst))
            first, last = number == 0, number == len(ends) - 2
            values = found.values[faces]
            self.assertTrue(((values >= low - 1e-9) | first | last).all())
            self.assertTrue(((values <= high + 1e-9) | first | last).all())
        level = found.level()
        self.assertTrue((np.diff(level[np.argsort(found.bin)]) >= 0).all())

    def test_squares_are_as_good_as_can_be_and_the_jacobian_is_that_of_quads(self) -> None:
        for measure, best in (("jacobian", 1.0), ("angle", 90.0), ("sides", 1.0), ("warp", 0.0)):
            np.testing.assert_allclose(quality(sheet(3, 3, 3, 3), measure).values, best, atol=1e-12)  # type: ignore[arg-type]
        mesh = ball(1.0, 5)
        every = np.arange(mesh.face_count)
        np.testing.assert_allclose(quality(mesh, "jacobian").values, scaled_jacobians(mesh, every))

    def test_a_regular_triangle_is_fine_and_a_dart_is_bad(self) -> None:
        third = np.array([[np.cos(t), np.sin(t), 0] for t in 2 * np.pi * np.arange(3) / 3])
        self.assertAlmostEqual(float(quality(Mesh.of(third, [[0, 1, 2]]), "jacobian").values[0]), 1)
        dart = Mesh.of([[0, 0, 0], [2, -1, 0], [0.5, 0, 0], [2, 1, 0]], [[0, 1, 2, 3]])
        self.assertEqual(quality(dart, "jacobian").level().tolist(), [3])
        self.assertEqual(quality(dart, "angle").level().tolist(), [3])

    def test_a_bin_that_is_not_there_is_refused(self) -> None:
        with self.assertRaises(StepError) as caught:
            faces_in_bin(sheet(1, 1, 1, 1), "warp", 99)
        self.assertEqual(caught.exception.where, "bin")
