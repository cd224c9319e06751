"""Reshapes: what they remove or move, what they leave alone, and what they refuse."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh, Result, StepError, apply_step, parse_step, problems
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from tests.guarantees import (
    area_of,
    assert_origin_true,
    assert_same_mesh,
    euler_of,
    shells_of,
    volume_of,
)
from tests.zoo import CLOSED, ZOO

CUBE = box(2, 2, 2, (2, 2, 2))


def reshape(mesh: Mesh, tool: str, **more: Any) -> Result:
    return apply_step(mesh, parse_step({"tool": tool, **more}))


def _corner_sets(mesh: Mesh) -> set[frozenset[int]]:
    return {frozenset(mesh.face(f).tolist()) for f in range(mesh.face_count)}


class Reshapes(SimpleTestCase):
    def test_dissolving_what_a_cut_added_gives_the_part_back(self) -> None:
        for name in ("box", "torus", "sheet"):
            mesh = ZOO[name]
            edge = mesh.face(1)[:2].tolist()
            cut = apply_step(mesh, parse_step({"tool": "loop", "edge": edge, "at": [0.3]}))
            back = reshape(cut.mesh, "dissolve", edges=cut.picked.edges.tolist())
            self.assertEqual(
                (back.mesh.vertex_count, back.mesh.face_count, back.notes),
                (mesh.vertex_count, mesh.face_count, ()),
            )
            self.assertEqual(_corner_sets(mesh), _corner_sets(back.mesh))

    def test_faces_are_joined_into_one_and_inner_vertices_go(self) -> None:
        grid = sheet(3, 3, 3, 3)
        result = reshape(grid, "dissolve", faces=[0, 1, 3, 4])
        self.assertEqual((result.mesh.face_count, len(result.picked.faces)), (6, 1))
        self.assertEqual(problems(result.mesh), [])
        assert_origin_true(grid, result)
        self.assertAlmostEqual(area_of(result.mesh), 9.0)

    def test_what_can_not_be_dissolved_stays_and_is_noted(self) -> None:
        grid = sheet(3, 3, 3, 3)
        border = grid.edges.ends[grid.edges.border][0].tolist()
        result = reshape(grid, "dissolve", edges=[border])
        self.assertEqual([n.code for n in result.notes], ["not-dissolved", "nothing-to-do"])
        ring = reshape(grid, "dissolve", faces=[0, 1, 2, 3, 5, 6, 7, 8])
        self.assertEqual([n.code for n in ring.notes], ["not-dissolved", "nothing-to-do"])

    def test_collapse_puts_the_pick_at_its_middle_at_a_place_or_where_edges_were_crossed(
        self,
    ) -> None:
        face = CUBE.face(0).tolist()
        middle = reshape(CUBE, "collapse", vertices=face)
        self.assertEqual(
            (middle.mesh.vertex_count, middle.mesh.face_count),
            (CUBE.vertex_count - 3, CUBE.face_count - 1),
        )
        self.assertTrue((middle.mesh.points == CUBE.points[face].mean(axis=0)).all(axis=1).any())
        self.assertEqual((problems(middle.mesh), euler_of(middle.mesh)), ([], 2))
        placed = reshape(CUBE, "collapse", vertices=face, at=[9, 0, 0], anyway=True)
        self.assertTrue((placed.mesh.points == [9, 0, 0]).all(axis=1).any())
        a, b = face[:2]
        crossed = reshape(CUBE, "collapse", edges=[{"edge": [b, a], "t": 0.25}])
        self.assertTrue(
            (crossed.mesh.points == CUBE.points[b] + 0.25 * (CUBE.points[a] - CUBE.points[b]))
            .all(axis=1)
            .any()
        )
        self.assertEqual((problems(crossed.mesh), euler_of(crossed.mesh)), ([], 2))

    def test_weld_closes_what_parting_opened_and_leaves_far_vertices_alone(self) -> None:
        plane = {"point": [0, 0.3, 0], "normal": [0, 1, 0.2]}
        parted = apply_step(
            CUBE, parse_step({"tool": "slice", "plane": plane, "then": "part", "gap": [0, 0, 0]})
        )
        self.assertEqual(shells_of(parted.mesh), 2)
        welded = reshape(parted.mesh, "weld", distance=1e-9)
        self.assertEqual(
            (shells_of(welded.mesh), int(welded.mesh.edges.border.sum()), problems(welded.mesh)),
            (1, 0, []),
        )
        self.assertEqual(
            [n.code for n in reshape(CUBE, "weld", distance=0.1).notes], ["nothing-to-weld"]
        )

    def test_delete_and_separate_share_the_part_out(self) -> None:
        faces = [0, 1, 5]
        holed = reshape(CUBE, "delete", faces=faces)
        assert_origin_true(CUBE, holed)
        separated = reshape(CUBE, "separate", faces=faces)
        (apart,) = separated.apart
        assert_same_mesh(holed.mesh, separated.mesh)
        self.assertEqual((apart.face_count, separated.mesh.face_count), (3, 21))
        self.assertAlmostEqual(area_of(apart) + area_of(separated.mesh), area_of(CUBE))

    def test_flipping_twice_gives_the_same_bytes(self) -> None:
        for mesh in ZOO.values():
            once = reshape(mesh, "flip")
            self.assertAlmostEqual(volume_of(once.mesh), -volume_of(mesh))
            assert_same_mesh(reshape(once.mesh, "flip").mesh, mesh)

    def test_elements_that_are_not_there_are_named(self) -> None:
        cases = [
            ("delete", {"faces": [0, 99]}, r"faces\[1\]: there are 24 faces, got face 99"),
            (
                "collapse",
                {"vertices": [99]},
                r"vertices\[0\]: there are 26 vertices, got vertex 99",
            ),
            (
                "dissolve",
                {"edges": [[0, 25]]},
                r"edges\[0\]: there is no edge between the vertices 0 and 25",
            ),
            ("delete", {"faces": list(range(24))}, "nothing of the part would be left"),
            ("collapse", {"vertices": list(range(26))}, "nothing of the part would be left"),
            ("collapse", {}, "needs either vertices or edges"),
        ]
        for tool, more, words in cases:
            with self.subTest(tool, **more), self.assertRaisesRegex(StepError, words):
                reshape(CUBE, tool, **more)

    @settings(max_examples=70)
    @given(
        st.sampled_from(sorted(CLOSED)),
        st.sets(st.integers(0, 10_000), min_size=1, max_size=12),
        st.sampled_from(["dissolve", "collapse", "weld", "delete"]),
    )
    def test_what_comes_out_is_always_a_mesh_with_true_maps(self, name, numbers, tool) -> None:
        mesh = ZOO[name]
        faces = sorted({n % mesh.face_count for n in numbers})
        edges = [mesh.edges.ends[n % len(mesh.edges)].tolist() for n in sorted(numbers)]
        more: dict[str, Any] = {
            "dissolve": {"edges": edges},
            "collapse": {"edges": [{"edge": e, "t": 0.5} for e in edges]},
            "weld": {
                "distance": float(
                    min(np.linalg.norm(mesh.points[e[0]] - mesh.points[e[1]]) for e in edges)
                )
            },
            "delete": {"faces": faces},
        }[tool]
        try:
            result = reshape(mesh, tool, **more)
        except StepError as refusal:
            self.assertRegex(
                str(refusal),
                "nothing of the part would be left|more than two faces would meet|would fold over"
                "|would cross itself|would have no area",
            )
            return
        result.mesh.check()
        self.assertEqual(len(result.origin.face), result.mesh.face_count)
        self.assertEqual(len(result.origin.vertex), result.mesh.vertex_count)
        kept = np.flatnonzero(result.origin.kept >= 0)
        self.assertTrue((result.origin.face[result.origin.kept[kept]] == kept).all())
        if tool in ("dissolve", "delete"):
            assert_origin_true(mesh, result)
            self.assertNotIn("repeated-vertex", {n.code for n in problems(result.mesh)})


class Torus(SimpleTestCase):
    def test_a_ring_of_faces_is_not_joined_into_a_face_with_a_hole(self) -> None:
        ring = torus(1.0, 0.3, 8, 6)
        around = [f for f in range(ring.face_count) if f % 6 == 0]
        result = reshape(ring, "dissolve", faces=around)
        self.assertEqual([n.code for n in result.notes], ["not-dissolved", "nothing-to-do"])
