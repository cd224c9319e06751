"""What a view sees of the edges of a part, and the drawing in lines that is made of it."""

from __future__ import annotations

import re
from xml.etree.ElementTree import fromstring

import numpy as np
from django.test import SimpleTestCase

from cutcore import Mesh
from cutcore.formats.scene_part import ScenePart
from cutcore.geometry.camera import Camera, View
from cutcore.geometry.placement import Placement
from cutcore.previews.line_picture import LinePicture, line_picture
from cutcore.queries.seen_lines import seen_lines
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.torus import torus
from workshop.sample.skerry_light import lantern_housing

SIZE = (640.0, 480.0)


def view(eye: object, *, parallel: bool = False, reach: float = 1.0) -> View:
    measure = {"height": 3.2 * reach} if parallel else {"fov": 35.0}
    kind = "parallel" if parallel else "perspective"
    return View.model_validate(
        {"eye": list(np.asarray(eye, dtype=float)), "target": [0, 0, 0], "projection": kind}
        | {"size": SIZE}
        | measure
    )


def facing(mesh: Mesh, camera: Camera) -> np.ndarray:
    starts = mesh.points[mesh.corners[mesh.starts[:-1]]]
    return np.einsum("ij,ij->i", mesh.face_normals(), camera.sights(starts)) < 0


def hidden_by(mesh: Mesh, eye: np.ndarray, place: np.ndarray, slack: float) -> bool:
    """Whether a triangle lies between, by the plain test of Möller and Trumbore in double
    precision."""
    corners = mesh.points[mesh.triangles.corners]
    way = place - eye
    one, two = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    across = np.cross(way, two)
    size = np.einsum("ij,ij->i", one, across)
    with np.errstate(divide="ignore", invalid="ignore"):
        off = eye - corners[:, 0]
        u = np.einsum("ij,ij->i", off, across) / size
        turned = np.cross(off, one)
        v = turned @ way / size
        t = np.einsum("ij,ij->i", two, turned) / size
    met = (u > 1e-9) & (v > 1e-9) & (u + v < 1 - 1e-9) & (t > 0)
    return bool((t[met] < 1 - slack).any())


class SeenLines(SimpleTestCase):
    def test_of_what_is_convex_an_edge_is_in_sight_whole_where_one_of_its_faces_is(self) -> None:
        rng = np.random.default_rng(11)
        for mesh in (box(1, 1, 1), ball(1.0, 6)):
            for _ in range(6):
                way = rng.normal(size=3)
                eye = 4.0 * way / np.linalg.norm(way)
                for parallel in (False, True):
                    camera = Camera.of(view(eye, parallel=parallel))
                    lines = seen_lines(mesh, camera, SIZE)
                    towards = facing(mesh, camera)[mesh.edges.faces]
                    # Faces seen all but edge-on are neither.
                    starts = mesh.points[mesh.corners[mesh.starts[:-1]]]
                    slant = np.einsum("ij,ij->i", mesh.face_normals(), camera.sights(starts))
                    clear = (np.abs(slant)[mesh.edges.faces] > 0.05).all(axis=1)
                    chosen = clear[lines.edge]
                    self.assertGreater(chosen.sum(), 0)
                    np.testing.assert_array_equal(
                        lines.seen[chosen], towards.any(axis=1)[lines.edge[chosen]]
                    )
                    self.assertEqual(len(np.unique(lines.edge[chosen])), chosen.sum())

    def test_of_what_hides_itself_every_stretch_is_as_a_plain_test_of_all_triangles_says(
        self,
    ) -> None:
        for mesh, reach in ((lantern_housing(), 140.0), (torus(1.0, 0.35, 24, 12), 1.4)):
            eye = np.array([1.1, 1.5, 2.4]) * reach
            camera = Camera.of(view(eye))
            lines = seen_lines(mesh, camera, SIZE)
            length = np.linalg.norm(lines.ends[:, 1] - lines.ends[:, 0], axis=1)
            self.assertGreater((~lines.seen).sum(), 50)
            agreed = told = 0
            for k in np.flatnonzero(length > 4.0):
                pixel = lines.ends[k].mean(axis=0)
                # The place of the edge at that pixel: where the line of sight comes nearest to it.
                a, b = mesh.points[mesh.edges.ends[lines.edge[k]]]
                origin, way = camera.ray(tuple(pixel), reach=0.0)
                along = b - a
                normal = np.cross(way, np.cross(along, way))
                place = a + along * float((origin - a) @ normal / (along @ normal))
                told += 1
                agreed += lines.seen[k] != hidden_by(mesh, eye, place, 2e-3)
            self.assertGreater(told, 100)
            self.assertGreaterEqual(agreed / told, 0.995)

    def test_stretches_lie_in_the_window_and_part_edges_only_where_sight_changes(self) -> None:
        mesh = lantern_housing()
        near = View.model_validate(
            {"eye": [30, 90, 60], "target": [0, 80, 0], "fov": 50, "size": SIZE}
        )
        inside = View.model_validate(
            {"eye": [0, 70, 0], "target": [1, 70, 0.2], "fov": 90, "size": SIZE}
        )
        for seen_from in (near, inside):
            lines = seen_lines(mesh, Camera.of(seen_from), SIZE)
            self.assertGreater(len(lines.edge), 20)
            self.assertGreaterEqual(lines.ends.min(), -1e-6)
            self.assertTrue((lines.ends.max(axis=(0, 1)) <= np.array(SIZE) + 1e-6).all())
            same = lines.edge[1:] == lines.edge[:-1]
            self.assertTrue((lines.seen[1:] != lines.seen[:-1])[same].all())

    def test_the_form_alone_is_the_outline_hard_edges_and_bends(self) -> None:
        smooth = torus(1.0, 0.35, 60, 30)
        camera = Camera.of(view([2, 2, 3]))
        form = seen_lines(smooth, camera, SIZE, every=False)
        sides = facing(smooth, camera)[smooth.edges.faces]
        self.assertTrue((sides[form.edge, 0] != sides[form.edge, 1]).all())
        self.assertLess(len(np.unique(form.edge)), 0.15 * len(smooth.edges))
        cube = seen_lines(box(1, 1, 1), camera, SIZE, every=False)
        self.assertEqual(len(np.unique(cube.edge)), 12)

    def test_a_drawing_has_a_group_a_part_dashes_on_demand_and_names_that_do_no_harm(self) -> None:
        one = ScenePart('<b>"cube" & \x01co', box(1, 1, 1), Placement(move=(5.0, 0.0, 0.0)))
        behind = ScenePart("behind", box(1, 1, 1), Placement(move=(5.0, 0.0, -3.0)))
        for hidden, kinds in ((False, {"form"}), (True, {"form", "behind"})):
            picture = LinePicture(view=view([0.2, 0.1, 5], parallel=True), hidden=hidden)
            drawn = fromstring(
                line_picture(one, [behind], picture, colour="#22313a", ground="#ffffff")
            )
            groups = [g for g in drawn.iter() if g.get("data-part") is not None]
            self.assertEqual([g.get("data-part") for g in groups], ['<b>"cube" & co', "behind"])
            self.assertEqual({p.get("data-lines") for g in groups for p in g}, kinds)
        # Seen from its front, the one behind is hidden but for what looks past.
        numbers = [len(re.findall("M", "".join(p.get("d", "") for p in g))) for g in groups]
        self.assertGreater(numbers[1], 0)

    def test_faces_that_are_hidden_hide_nothing(self) -> None:
        cube = ScenePart("cube", box(1, 1, 1), Placement())
        seen_from = view([2, 2.5, 4])
        towards = np.flatnonzero(~facing(cube.mesh, Camera.of(seen_from)))
        picture = LinePicture(view=seen_from, hidden=True, shown=(*towards.tolist(), 99))
        drawn = line_picture(cube, [], picture, colour="#22313a", ground=None)
        self.assertNotIn(b'data-lines="behind"', drawn)
