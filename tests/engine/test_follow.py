"""Follow: new vertices on the curve that the crossed edges suggest, for every tool that cuts."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh, Result, apply_step, parse_step
from cutcore.geometry.arrays import Floats
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from tests.guarantees import assert_guarantees
from tests.zoo import ZOO

WITHIN = 0.01


def tube(sides: int) -> Mesh:
    return turned([(1.0, 0.0), (1.0, 1.0), (1.0, 2.0), (1.0, 3.0)], sides)


def globe(sides: int) -> Mesh:
    angle = np.linspace(0, np.pi, sides // 2 + 1)
    rings = [(float(np.sin(a)), -float(np.cos(a))) for a in angle[1:-1]]
    return turned([(0.0, -1.0), *rings, (0.0, 1.0)], sides)


def off_tube(places: Floats) -> Floats:
    return np.asarray(np.abs(np.hypot(places[:, 0], places[:, 2]) - 1.0))


def off_globe(places: Floats) -> Floats:
    return np.asarray(np.abs(np.linalg.norm(places, axis=1) - 1.0))


def off_torus(places: Floats) -> Floats:
    return np.asarray(
        np.abs(np.hypot(np.hypot(places[:, 0], places[:, 2]) - 3.0, places[:, 1]) - 1.0)
    )


ROUND = {
    "tube": (tube, off_tube),
    "globe": (globe, off_globe),
    "ring": (lambda n: torus(3.0, 1.0, n, n), off_torus),
}


def cut(mesh: Mesh, tool: str, **params: Any) -> Result:
    return apply_step(mesh, parse_step({"tool": tool, **params}))


def new(mesh: Mesh, result: Result) -> Floats:
    return np.asarray(result.mesh.points[result.origin.vertex < 0])


class Follow(SimpleTestCase):
    @settings(max_examples=30)
    @given(
        st.sampled_from(sorted(ROUND)),
        st.integers(6, 24),
        st.integers(0, 10_000),
        st.floats(0.1, 0.9),
    )
    def test_loops_meet_the_true_radius_from_six_sides_on(self, form, sides, pick, share) -> None:
        make, off = ROUND[form]
        mesh = make(sides)
        quads = np.flatnonzero(mesh.sizes == 4)
        corner = int(mesh.starts[quads[pick % len(quads)]]) + pick % 4
        edge = mesh.edges.ends[mesh.edges.of_corner[corner]].tolist()
        made = cut(mesh, "loop", edge=edge, at=[share], follow=1.0)
        self.assertLess(off(new(mesh, made)).max(), WITHIN)
        flat = cut(mesh, "loop", edge=edge, at=[share])
        assert_guarantees(mesh, flat, flat=False)

    @settings(max_examples=30)
    @given(
        st.sampled_from(["tube", "ring"]),
        st.integers(6, 20),
        st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: max(map(abs, v)) > 0.2),
        st.sampled_from(["keep", "part", "discard"]),
    )
    def test_slices_stay_in_their_plane_and_meet_the_true_radius(
        self, form, sides, normal, then
    ) -> None:
        make, off = ROUND[form]
        mesh = make(sides)
        plane = {"point": [0.013, 1.37 if form == "tube" else 0.021, 0.007], "normal": list(normal)}
        made = cut(mesh, "slice", plane=plane, then=then, follow=1.0)
        places = new(mesh, made)
        unit = np.array(normal) / np.linalg.norm(normal)
        if then != "part":
            self.assertLess(np.abs((places - plane["point"]) @ unit).max(initial=0.0), 1e-12)
        left = {
            tuple(place)
            for note in made.notes
            if note.code == "not-lifted"
            for place in [e.value for e in note.elements]
        }
        round_ones = (
            places if form == "ring" else places[np.hypot(places[:, 0], places[:, 2]) > 0.5]
        )
        if not left:
            self.assertLess(off(round_ones).max(initial=0.0), WITHIN)

    def test_every_tool_that_draws_lines_follows(self) -> None:
        mesh = tube(8)
        view = {
            "eye": [0.3, 1.4, 9.0],
            "target": [0.0, 1.5, 0.0],
            "up": [0, 1, 0],
            "fov": 40,
            "size": [800, 600],
        }
        stroke = [[150, 430], [300, 433], [450, 436]]
        # Lines that run up the tube cross its rings of edges, which are round.
        ways: dict[str, dict[str, Any]] = {
            "knife": {
                "lines": [{"points": [{"screen": [430, 150]}, {"screen": [436, 450]}]}],
                "view": view,
            },
            "freehand": {
                "strokes": [{"points": [[x, y] for y, x in stroke]}],
                "view": view,
                "keeps": "edges",
            },
            "gauge": {"axis": "x", "widths": [0.4, 0.5]},
            "slice": {"line": {"from": [430, 100], "to": [436, 500]}, "view": view},
        }
        for tool, params in ways.items():
            with self.subTest(tool):
                flat, whole = (cut(mesh, tool, **params, follow=f) for f in (0.0, 1.0))
                half = cut(mesh, tool, **params, follow=0.5)
                self.assertEqual(flat.mesh.corners.tolist(), whole.mesh.corners.tolist())
                self.assertGreater(off_tube(new(mesh, flat)).max(), 0.02)
                crossed = new(mesh, whole)
                self.assertLess(off_tube(crossed).max(), 1e-9)
                if tool in ("knife", "freehand"):
                    middle = 0.5 * (new(mesh, flat) + crossed)
                    np.testing.assert_allclose(new(mesh, half), middle, atol=1e-12)

    def test_ruled_lines_follow(self) -> None:
        mesh = tube(8)
        ring = np.flatnonzero(mesh.points[:, 1] == 0.0)
        base = next(e for e in mesh.edges.ends.tolist() if set(e) <= set(ring.tolist()))
        walls = np.flatnonzero(mesh.sizes == 4).tolist()
        params: dict[str, Any] = {"bases": [{"edges": [base]}], "at": [0.3], "limit": walls}
        self.assertGreater(off_tube(new(mesh, cut(mesh, "ruled", **params))).min(), 0.02)
        self.assertLess(off_tube(new(mesh, cut(mesh, "ruled", **params, follow=1.0))).max(), 1e-9)

    @settings(max_examples=25)
    @given(st.integers(0, 10_000), st.floats(0.05, 1.0))
    def test_flat_ground_stays_flat(self, seed, follow) -> None:
        flat = sheet(4.0, 3.0, 5, 4)
        source = np.random.default_rng(seed)
        shift = source.uniform(-0.15, 0.15, flat.points.shape) * [1, 0, 1]
        mesh = Mesh.of(flat.points + shift, [flat.face(f) for f in range(flat.face_count)])
        edge = mesh.edges.ends[seed % len(mesh.edges)].tolist()
        made = cut(mesh, "loop", edge=edge, at=[0.4], follow=follow)
        self.assertEqual(np.abs(new(mesh, made)[:, 1]).max(), 0.0)
        # The walls of a box are flat, and its corners are no curve.
        cube = box(2, 2, 2, (2, 2, 2))
        sawn = cut(cube, "gauge", axis="x", widths=[0.3], follow=1.0)
        flat = cut(cube, "gauge", axis="x", widths=[0.3])
        np.testing.assert_array_equal(sawn.mesh.points, flat.mesh.points)

    def test_a_hard_edge_and_a_sharp_bend_are_no_curve(self) -> None:
        sawn = {"axis": "y", "widths": [0.5], "follow": 1.0}
        barrel = turned([(1.0, 0.0), (1.2, 1.0), (1.2, 2.0), (1.0, 3.0)], 16)
        self.assertGreater(
            float(np.abs(np.diff(barrel.points[barrel.edges.ends], axis=1)).max()), 0.1
        )
        bent = new(barrel, cut(barrel, "gauge", **sawn))
        straight = new(barrel, cut(barrel, "gauge", **{**sawn, "follow": 0.0}))
        self.assertGreater(np.linalg.norm(bent - straight, axis=1).min(), 1e-3)
        ring = np.flatnonzero(barrel.points[:, 1] == 1.0)
        level = [e for e in barrel.edges.ends.tolist() if set(e) <= set(ring.tolist())]
        marked = cut(barrel, "hard edges", edges=level).mesh
        np.testing.assert_array_equal(new(marked, cut(marked, "gauge", **sawn)), straight)
        # A step of a right angle is one without a mark.
        stair = turned([(1.0, 0.0), (1.0, 1.0), (1.4, 1.0), (1.4, 2.0)], 16)
        made = [new(stair, cut(stair, "gauge", **{**sawn, "follow": f})) for f in (0.0, 1.0)]
        np.testing.assert_allclose(made[0], made[1], atol=1e-15)

    def test_a_symmetric_form_stays_symmetric(self) -> None:
        mesh = tube(12)
        made = cut(mesh, "gauge", axis="x", widths=[0.3], follow=1.0, mirror={"axis": "x"})
        places = {tuple(np.round(p, 12) + 0.0) for p in new(mesh, made).tolist()}
        self.assertEqual(places, {(-x + 0.0, y, z) for x, y, z in places})

    def test_what_follows_on_any_mesh_is_whole_or_refused(self) -> None:
        for name, mesh in ZOO.items():
            middle = mesh.box.mean(axis=0) + 0.0137 * mesh.diagonal
            for follow in (0.5, 1.0):
                with self.subTest(name, follow=follow):
                    plane = {"point": middle.tolist(), "normal": [0.3, 1.0, 0.2]}
                    plain, made = (cut(mesh, "slice", plane=plane, follow=f) for f in (0.0, follow))
                    self.assertEqual(made.mesh.corners.tolist(), plain.mesh.corners.tolist())
                    self.assertTrue(np.isfinite(made.mesh.points).all())
                    lifted = np.linalg.norm(made.mesh.points - plain.mesh.points, axis=1)
                    self.assertLessEqual(lifted.max(), 0.5 * mesh.diagonal)
