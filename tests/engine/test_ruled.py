"""Ruled lines: exact places, angles and ends, over faces in one plane or not."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase

from cutcore import CutError, Mesh, Result, apply_step, parse_step
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.steps.registry import TOOLS
from cutcore.tool import Drawn
from tests.guarantees import assert_guarantees
from tests.zoo import prism

PLATE = sheet(4.0, 3.0, 4, 3)
CUBE = box(2.0, 2.0, 2.0, (3, 3, 3))


def made(mesh: Mesh, **params: Any) -> Result:
    step = {"tool": "ruled", **params}
    return apply_step(mesh, parse_step(step))


def fresh(result: Result) -> np.ndarray:
    return result.mesh.points[result.origin.vertex < 0]


def bend_of_three(angle: float) -> Mesh:
    """Three faces of 2 by 1 in a row, each bent from the one before by an angle."""
    rows = [np.array([0.0, 0.0])]
    for k in range(3):
        rows.append(rows[-1] + [np.cos(k * angle), np.sin(k * angle)])
    points = [[x, up, ahead] for ahead, up in rows for x in (0.0, 2.0)]
    return Mesh.of(points, [[2 * k, 2 * k + 1, 2 * k + 3, 2 * k + 2] for k in range(3)])


class Ruled(SimpleTestCase):
    def test_lines_leave_their_base_just_at_their_shares(self) -> None:
        base = [{"edges": [[0, 4]]}]
        for more, shares in (
            ({"spread": {"count": 3}}, [0.25, 0.5, 0.75]),
            ({"at": [0.1, 1 / 3]}, [0.1, 1 / 3]),
            ({"at": [0.2], "measure": "distance"}, [0.2]),
            ({"every": 0.3}, [0.3, 0.6, 0.9]),
        ):
            result = made(PLATE, bases=base, **more)
            assert_guarantees(PLATE, result, flat=True)
            a, b = PLATE.points[0], PLATE.points[4]
            on_base = [p for p in fresh(result) if p[2] == a[2]]
            wanted = [a + share * (b - a) for share in shares]
            np.testing.assert_array_equal(sorted(np.array(on_base)[:, 0]), np.array(wanted)[:, 0])
            self.assertEqual(len(fresh(result)), 4 * len(shares), "square, over all three faces")

    def test_lines_at_an_angle_bend_over_three_faces_that_are_not_in_one_plane(self) -> None:
        solid = bend_of_three(0.5)
        result = made(solid, bases=[{"edges": [[0, 1]]}], at=[0.25], degrees=60)
        assert_guarantees(solid, result, flat=True)
        line = fresh(result)
        self.assertEqual(len(line), 4)
        line = line[np.argsort(line[:, 2])]
        # In the first face just 60 degrees, and all of it in one plane with the mean normal.
        along = line[1] - line[0]
        np.testing.assert_allclose(
            along / np.linalg.norm(along), [0.5, 0, np.sqrt(0.75)], atol=1e-12
        )
        normals = solid.face_normals(np.arange(3))
        mean = (normals / np.linalg.norm(normals, axis=1, keepdims=True)).mean(axis=0)
        off = (line - line[0]) @ np.cross(along, mean)
        self.assertLess(np.abs(off).max(), 1e-12)

    def test_forty_five_degrees_off_a_corner(self) -> None:
        for edge, corner in (([0, 4], 0), ([4, 0], 4), ([19, 15], 19)):
            result = made(
                PLATE, bases=[{"edges": [edge]}], at=[0], degrees=45, limit=[0, 1, 3, 4, 8, 11]
            )
            assert_guarantees(PLATE, result, flat=True)
            at = PLATE.points[corner]
            ends = result.mesh.points[result.mesh.edges.ends]
            there = (np.abs(ends - at).max(axis=2) < 1e-12).any(axis=1)
            slope = np.abs(ends[there][:, 1] - ends[there][:, 0])
            self.assertTrue((np.abs(slope[:, 0] - slope[:, 2]) < 1e-12).any(), edge)

    def test_a_set_leaning_both_ways_shares_the_vertices_where_it_crosses(self) -> None:
        result = made(
            PLATE, bases=[{"edges": [[0, 4], [4, 8], [8, 12], [12, 16]]}],
            spread={"count": 5}, degrees=60, leaning="both ways",
        )  # fmt: skip
        assert_guarantees(PLATE, result, flat=True)
        low = fresh(result)[np.abs(fresh(result)[:, 2] - 1.5) < 1e-12]
        np.testing.assert_allclose(
            np.unique(low[:, 0].round(9)), np.setdiff1d((np.arange(1, 6) * 4 / 6 - 2).round(9), [0])
        )

    def test_the_whole_side_is_found_from_one_of_its_edges(self) -> None:
        chain = made(
            PLATE, bases=[{"edges": [[0, 4], [4, 8], [8, 12], [12, 16]]}], spread={"count": 4}
        )
        found = made(PLATE, bases=[{"edges": [[8, 12]]}], side="whole", spread={"count": 4})
        np.testing.assert_array_equal(
            np.unique(fresh(chain), axis=0), np.unique(fresh(found), axis=0)
        )

    def test_lines_stop_at_the_pick_at_the_first_edge_or_run_round_the_part(self) -> None:
        base = {"bases": [{"edges": [[0, 4]]}], "at": [0.3]}
        self.assertEqual(len(fresh(made(PLATE, **base, limit=[0, 1]))), 3)
        self.assertEqual(len(fresh(made(PLATE, **base, ends="first edge"))), 2)
        a, b = CUBE.edges.ends[int(CUBE.edges.of_corner[0])].tolist()
        whole = made(CUBE, bases=[{"edges": [[a, b]]}], at=[0.3], ends="whole part", limit=[0])
        assert_guarantees(CUBE, whole, flat=True)
        self.assertEqual(len(fresh(whole)), 12)
        self.assertEqual(int((whole.mesh.sizes == 4).sum()), whole.mesh.face_count)

    def test_only_the_lines_wanted_are_drawn_and_all_places_are_told(self) -> None:
        step = parse_step(
            {"tool": "ruled", "bases": [{"edges": [[0, 4]], "lines": [1]}], "spread": {"count": 3}}
        )
        extra = TOOLS["ruled"].extra(PLATE, step, Drawn(None, ()))  # type: ignore[misc]
        self.assertEqual([stop.wanted for stop in extra.stops], [False, True, False])  # type: ignore[union-attr]
        self.assertEqual(len(fresh(apply_step(PLATE, step))), 4)
        none = made(PLATE, bases=[{"edges": [[0, 4]], "lines": []}], at=[0.5])
        self.assertIs(none.mesh, PLATE)

    def test_along_another_edge(self) -> None:
        solid = prism(6, concave=False)
        face = int(np.argmax(solid.sizes))
        loop = solid.face(face).tolist()
        a, b, c, d = (solid.points[v] for v in loop[:4])
        result = made(
            solid, bases=[{"edges": [loop[:2]]}], at=[0.5], along=loop[2:4], limit=[face]
        )  # fmt: skip
        new = fresh(result)
        start = np.argmin(np.abs(new - (a + b) / 2).max(axis=1))
        way = new[1 - start] - new[start]
        self.assertLess(np.linalg.norm(np.cross(way, d - c)), 1e-9)

    def test_refusals_name_the_value(self) -> None:
        for more, where in (
            ({"bases": [{"edges": [[0, 5]]}], "at": [0.5]}, r"bases\[0\]\.edges\[0\]"),
            ({"bases": [{"edges": [[0, 4], [8, 12]]}], "at": [0.5]}, r"bases\[0\]\.edges\[1\]"),
            ({"bases": [{"edges": [[0, 4], [4, 5]]}], "at": [0.5]}, "bends"),
            ({"bases": [{"edges": [[0, 4]]}], "at": [1.5]}, r"at\[0\]"),
            ({"bases": [{"edges": [[0, 4]]}], "at": [0.5], "along": [0, 9]}, "along"),
            ({"bases": [{"edges": [[0, 4]]}], "at": [0.5], "along": [8, 12]}, "along their base"),
            ({"bases": [{"edges": [[0, 4]]}], "at": [0.5], "limit": [9]}, "may be cut"),
            ({"bases": [{"edges": [[0, 4]], "lines": [7]}], "at": [0.5]}, r"bases\[0\]\.lines"),
            ({"bases": [{"edges": [[0, 4]]}], "at": [0.5], "every": 1}, "one of"),
            ({"bases": [{"edges": [[0, 4]]}], "every": 1e-4}, "every"),
        ):
            with self.assertRaisesRegex(CutError, where):
                made(PLATE, **more)

    def test_lines_over_a_closed_form_come_back_to_their_base(self) -> None:
        solid = ball(1.0, 6)
        a, b = solid.edges.ends[len(solid.edges) // 2].tolist()
        result = made(solid, bases=[{"edges": [[a, b]]}], at=[0.37])
        assert_guarantees(solid, result, flat=False)
        self.assertEqual([n.code for n in result.notes], [])
        self.assertFalse(result.mesh.edges.border.any())
