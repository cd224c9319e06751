"""Small parts and steps that once went wrong, one pair of files each."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np
from django.test import SimpleTestCase

from cutcore import (
    CutError,
    ImprintError,
    Mesh,
    Result,
    apply_step,
    parse_step,
    problems,
    read_part,
    trace_step,
    write_part,
)
from cutcore.imprint.arrangement import arrange
from cutcore.mesh.creases import with_hard
from cutcore.queries.bodies import volume_of
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from tests.awkward import fins
from tests.guarantees import assert_guarantees, assert_origin_true, assert_tables_true, shells_of
from tests.square import assert_pieces_lie_within, crossed_anew

DATA = Path(__file__).parents[1] / "once_wrong"


def part(name: str) -> Mesh:
    return read_part("part.obj", (DATA / f"{name}.obj").read_bytes())[0]


def steps(name: str) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = json.loads((DATA / f"{name}.json").read_text())["steps"]
    return found


def made(mesh: Mesh, **step: Any) -> Result:
    return apply_step(mesh, parse_step(step))


def carried_out(name: str) -> tuple[Mesh, Result]:
    """The mesh before the last step of a pair, and what came of it."""
    mesh = part(name)
    *before, last = steps(name)
    for step in before:
        mesh = made(mesh, **step).mesh
    return mesh, made(mesh, **last)


def codes(result: Result) -> list[str]:
    return [note.code for note in result.notes]


class Pairs(SimpleTestCase):
    def test_every_pair_is_tested_here(self) -> None:
        named = {path.stem for path in DATA.glob("*.json")}
        source = Path(__file__).read_text()
        self.assertEqual({name for name in named if f'"{name}"' not in source}, set())

    def assert_sound(self, before: Mesh, result: Result) -> None:
        result.mesh.check()
        assert_tables_true(result.mesh)
        found = {note.code for note in problems(result.mesh)}
        self.assertEqual(found - {note.code for note in problems(before)}, set())
        self.assertEqual(list(crossed_anew(before, result)), [])

    def test_corners_stay_where_edges_are_thinned_out_or_patches_joined(self) -> None:
        for name in ("thin-brick", "join-brick"):
            with self.subTest(name):
                before, result = carried_out(name)
                self.assert_sound(before, result)
                self.assertEqual((result.mesh.face_count, result.mesh.vertex_count), (5, 8))
                np.testing.assert_array_equal(result.mesh.points, before.points)
                self.assertEqual(codes(result), ["vertices-stay"])
                self.assertIn("90°", result.notes[0].words)

    def test_a_bevel_that_ends_at_an_inward_corner_takes_what_a_chamfer_takes(self) -> None:
        before, result = carried_out("bevel-L")
        self.assert_sound(before, result)
        self.assertAlmostEqual(volume_of(before) - volume_of(result.mesh), 0.1125, delta=1e-12)
        self.assertEqual(codes(result), [])

    def test_rounds_on_a_star_cross_nothing(self) -> None:
        before, result = carried_out("bevel-star3")
        self.assert_sound(before, result)

    def test_widths_that_an_edge_leaves_uneven_are_told_as_they_are(self) -> None:
        before, result = carried_out("bevel-house-width")
        self.assert_sound(before, result)
        self.assertEqual(codes(result), ["bevel-uneven"])
        corner = before.points[4]
        moved = result.mesh.points[result.origin.vertex == 4]
        on_edge = moved[np.abs(moved[:, :2]).max(axis=1) < 1e-12][0]
        # How far it lies from the lines of both bevelled edges.
        away = [
            float(np.linalg.norm(np.cross(on_edge - corner, way)) / np.linalg.norm(way))
            for way in (before.points[5] - corner, before.points[8] - corner)
        ]
        self.assertIn(f"{min(away):.4g} to {max(away):.4g}", result.notes[0].words)

    def test_creases_beside_a_bevel_keep_their_strength(self) -> None:
        before, result = carried_out("crease-bevel")
        self.assert_sound(before, result)
        self.assertEqual(set(result.mesh.edge_data.strength.tolist()), {0.4})
        self.assertEqual(len(result.mesh.hard), len(before.hard))

    def test_cleaning_leaves_what_stands_on_an_edge_of_three_faces(self) -> None:
        before, result = carried_out("clean-under-fin")
        self.assert_sound(before, result)
        self.assertEqual((shells_of(before), shells_of(result.mesh)), (1, 1))
        self.assertEqual(before.edges.crowded.keys(), result.mesh.edges.crowded.keys())

    def test_lines_that_follow_cross_nothing(self) -> None:
        before, result = carried_out("ruled-follow")
        self.assert_sound(before, result)
        # The vertex in a face where lines cross goes along with those on its border.
        lifted = trace_step(before, parse_step(steps("ruled-follow")[0])).lift
        assert lifted is not None
        self.assertGreater(np.abs(lifted).max(), 0.01)

    def test_thinning_where_counterparts_keep_all_edges_of_a_face_leaves_it(self) -> None:
        before, result = carried_out("thin-counterparts")
        self.assert_sound(before, result)

    def test_a_score_goes_on_into_a_third_face_at_an_edge(self) -> None:
        before, result = carried_out("score-three-faces")
        self.assert_sound(before, result)
        self.assertGreater(result.mesh.face_count, before.face_count)

    def test_lines_that_end_in_quads_cross_nothing(self) -> None:
        before, result = carried_out("ruled-quads")
        self.assert_sound(before, result)
        self.assertTrue((result.mesh.sizes == 4).all())

    def test_the_seam_from_corner_to_corner_is_the_shortest(self) -> None:
        before, result = carried_out("seam-brick")
        assert_guarantees(before, result, flat=True)
        ends = result.mesh.points[result.picked.edges]
        length = float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())
        self.assertAlmostEqual(length, np.sqrt(18.0), delta=1e-12)
        self.assertEqual(codes(result), [])

    def test_a_slice_of_a_bent_face_leaves_its_pieces_within_it_and_on_the_plane(self) -> None:
        before, result = carried_out("bent-slice")
        assert_pieces_lie_within(before, result)
        assert_origin_true(before, result)
        plane = steps("bent-slice")[0]["plane"]
        new = result.mesh.points[result.origin.vertex < 0]
        heights = new[:, 2] - plane["point"][2]
        self.assertLessEqual(np.abs(heights).max(), 1e-9 * before.diagonal)
        height = result.mesh.points[:, 2] - plane["point"][2]
        for face in range(result.mesh.face_count):
            here = height[result.mesh.face(face)]
            self.assertLess(min(here.max(), -here.min()), 1e-7 * before.diagonal)

    def test_edges_of_three_faces_are_sharp_when_a_part_is_subdivided(self) -> None:
        before, result = carried_out("subdivide-fin")
        self.assertTrue((result.mesh.sizes == 4).all())
        self.assertEqual(len(result.mesh.edges.crowded), 2 * len(before.edges.crowded))
        middle = before.points[before.edges.ends[list(before.edges.crowded)]].mean(axis=1)
        now = result.mesh.points[np.unique(result.mesh.edges.ends[list(result.mesh.edges.crowded)])]
        for place in middle:
            self.assertLess(np.linalg.norm(now - place, axis=1).min(), 1e-12)

    def test_all_that_hangs_together_over_an_edge_of_three_faces_is_one_patch(self) -> None:
        before, result = carried_out("patch-fins")
        self.assertEqual(result.mesh.patches, ("Bit 1",))
        self.assertTrue((result.mesh.patch == 0).all())
        by_angle = made(before, tool="patch", up_to="angle", degrees=180, each=True, name="Fin")
        self.assertEqual(len(by_angle.mesh.patches), 3, "no two fins go on into each other")

    def test_a_name_is_written_as_one_name(self) -> None:
        before, result = carried_out("name-break")
        text = write_part("part.obj", result.mesh).decode()
        self.assertEqual([line for line in text.splitlines() if line[:2] == "g "], ["g a f 1 2 3"])
        again, notes = read_part("part.obj", text.encode())
        self.assertEqual((again.patches, notes), (("a f 1 2 3",), ()))
        self.assertEqual(again.face_count, before.face_count)
        for bad in ("a\r\nf 1 2 3", "\u2028v 1 2 3", "\x85f 1 1 1", "\n", "x\x00y"):
            named = made(before, tool="patch", faces=[0], name=bad).mesh
            other = made(named, tool="patch", faces=[1], name=bad + " ").mesh
            back = read_part("part.obj", write_part("part.obj", other))[0]
            self.assertEqual((back.face_count, len(back.patches)), (6, 2), repr(bad))


class Relatives(SimpleTestCase):
    def test_only_vertices_left_straight_go_when_edges_are_dissolved(self) -> None:
        ring = torus(3.0, 1.0, 12, 8)
        loop = [[k * 8, (k + 1) % 12 * 8] for k in range(12)]
        stays = made(ring, tool="dissolve", edges=loop)
        self.assertEqual(stays.mesh.vertex_count, 96)
        self.assertEqual(codes(stays), ["vertices-stay"])
        # Asked for, the whole loop goes, and quads are left.
        gone = made(ring, tool="dissolve", edges=loop, straight_within=60)
        self.assertEqual((gone.mesh.vertex_count, codes(gone)), (84, []))
        self.assertTrue((gone.mesh.sizes == 4).all())
        flat = sheet(4, 4, 4, 4)
        line = [[k, k + 1] for k in range(10, 14)]
        self.assertEqual(made(flat, tool="dissolve", edges=line).mesh.vertex_count, 20)

    def test_mirrored_thinning_is_symmetric(self) -> None:
        ground = ball(1.0, 4)
        view = {
            "eye": [0.0, 5.0, 0.0],
            "target": [0.0, 0.0, 0.0],
            "up": [0.0, 0.0, -1.0],
            "projection": "parallel",
            "size": [800, 600],
            "height": 3.0,
        }
        source = np.random.default_rng(4)
        for then in ("dissolve", "collapse"):
            for _ in range(8):
                stroke = source.uniform([250, 150], [600, 450], (4, 2)).tolist()
                result = made(
                    ground,
                    tool="thin",
                    strokes=[{"points": stroke}],
                    view=view,
                    then=then,
                    straight_within=float(source.choice([1, 60])),
                    mirror={"axis": "x"},
                )
                here = {tuple(p) for p in result.mesh.points.round(9).tolist()}
                there = {(-x + 0.0, y, z) for x, y, z in here}
                self.assertEqual({(x + 0.0, y, z) for x, y, z in here}, there)
                self.assertEqual(list(crossed_anew(ground, result)), [])

    def test_creases_keep_their_strength_through_every_kind_of_step(self) -> None:
        ground = torus(3.0, 1.0, 12, 8)
        ring = np.zeros(len(ground.edges), dtype=bool)
        ring[
            ground.edges.joining(np.array([sorted([k * 8, (k + 1) % 12 * 8]) for k in range(12)]))
        ] = True
        creased = with_hard(ground, ring, np.full(len(ring), 0.5))
        for step in (
            {"tool": "loop", "edge": [0, 8], "at": [0.5], "follow": 1.0, "hard_above": 170},
            {"tool": "extrude", "faces": [0, 1], "distance": 0.2},
            {"tool": "inset", "faces": [0, 8], "distance": 0.05},
            {"tool": "thicken", "distance": -0.1},
            {"tool": "split apart", "edges": [[0, 8], [8, 16]]},
            {"tool": "collapse", "vertices": [0, 8]},
            {"tool": "slice", "plane": {"point": [0, 0, 0.1], "normal": [0, 0, 1]}, "then": "part",
             "gap": [0, 0, 1]},
            {"tool": "slice", "plane": {"point": [0, 0, 0.1], "normal": [0, 0, 1]}, "then": "halve"},
            {"tool": "shards", "by": {"way": "counts", "x": 2, "y": 1, "z": 2}, "as_parts": False},
            {"tool": "bevel", "vertices": [8], "width": 0.1},
        ):  # fmt: skip
            with self.subTest(step["tool"]):
                after = made(creased, **step).mesh
                self.assertEqual(set(after.edge_data.strength.tolist()), {0.5})
                self.assertGreater(len(after.hard), 5)

    def test_lines_that_follow_on_round_ground_cross_nothing(self) -> None:
        source = np.random.default_rng(11)
        for ground in (torus(1.0, 0.4, 12, 8), ball(1.0, 4), torus(1.0, 0.5, 7, 5)):
            for _ in range(12):
                edge = ground.edges.ends[int(source.integers(len(ground.edges)))].tolist()
                step = {
                    "tool": "ruled",
                    "bases": [{"edges": [edge]}],
                    "spread": {"count": int(source.integers(1, 4))},
                    "degrees": float(source.uniform(20, 160)),
                    "leaning": str(source.choice(["one way", "both ways"])),
                    "ends": str(source.choice(["border", "first edge"])),
                    "follow": 1.0,
                }
                try:
                    result = made(ground, **step)
                except CutError:
                    continue
                assert_tables_true(result.mesh)
                self.assertEqual(list(crossed_anew(ground, result)), [], step)

    def test_lines_that_follow_less_are_laid_once(self) -> None:
        source = np.random.default_rng(3)
        halved = 0
        for _ in range(20):
            ground = torus(1.0, 0.5, 9, 6)
            ground = replace(
                ground, points=ground.points + 0.08 * source.normal(size=ground.points.shape)
            )
            ends = ground.edges.ends[source.integers(len(ground.edges), size=2)].tolist()
            step = parse_step(
                {
                    "tool": "ruled",
                    "bases": [{"edges": [edge]} for edge in ends],
                    "spread": {"count": 2},
                    "degrees": 70,
                    "leaning": "both ways",
                    "follow": 1.0,
                }
            )
            with patch("cutcore.imprint.subdivision.arrange", wraps=arrange) as laid:
                trace = trace_step(ground, step)
            halved += "follows-less" in [note.code for note in trace.notes]
            faces = [call.args[0].face for call in laid.call_args_list]
            self.assertEqual(len(faces), len(set(faces)))
        self.assertGreater(halved, 2)

    def test_many_crowded_ruled_lines_give_one_note(self) -> None:
        for ratio in (50, 100):
            result = made(
                sheet(4, 4, 2, 2),
                tool="ruled",
                bases=[{"edges": [[0, 1]]}],
                spread={"count": 300, "ratio": ratio},
            )
            self.assertEqual(len(codes(result)), len(set(codes(result))))
            self.assertGreater(result.mesh.face_count, 4, "those that are apart are drawn")
        # Along the base itself they run nowhere.
        nowhere = made(
            sheet(4, 4, 2, 2),
            tool="ruled",
            bases=[{"edges": [[0, 1]]}],
            spread={"count": 60},
            degrees=1e-9,
        )
        told = [note for note in nowhere.notes if note.code == "ruled-no-way"]
        self.assertEqual((len(told), len(told[0].elements)), (1, 50))

    def test_many_points_inside_one_face_are_laid_and_too_many_crossings_refused(self) -> None:
        plate = sheet(10.0, 10.0, 1, 1)
        turn = np.arange(3000) / 3000 * 2 * np.pi
        reach = 3 + 0.5 * np.sin(7 * turn)
        places = np.stack([reach * np.cos(turn), 5 + 0 * turn, reach * np.sin(turn)], axis=1)
        for how in ("near", "through"):
            outline = {
                "curves": [{"points": places[:: 1 if how == "near" else 5].tolist()}],
                "along": {"direction": [0, -1, 0]},
                "reach": how,
            }
            result = made(plate, tool="outline", **outline)
            self.assertEqual(result.mesh.face_count, 3)
            assert_pieces_lie_within(plate, result)
        stroke = np.random.default_rng(1).uniform(100, 500, (1000, 2)).tolist()
        with self.assertRaisesRegex(ImprintError, "10,000 crossings at most") as refused:
            made(
                plate,
                tool="freehand",
                strokes=[{"points": stroke}],
                keeps="shape",
                view={
                    "eye": [0, 20, 0],
                    "target": [0, 0, 0],
                    "up": [0, 0, -1],
                    "projection": "parallel",
                    "height": 12,
                    "size": [800, 600],
                },
            )
        self.assertEqual([e.kind for e in refused.exception.elements], ["face"])

    def test_what_lies_inside_a_cut_off_outline_is_told_by_its_larger_part(self) -> None:
        """A bar lies before part of a plate: what of the outline falls behind it is not cut."""
        plate, bar = box(4, 1, 4), box(6, 0.4, 0.5)
        both = Mesh.of(
            np.concatenate([plate.points, bar.points + [0.0, 2.0, 0.9]]),
            [
                *(plate.face(f) for f in range(6)),
                *(bar.face(f) + plate.vertex_count for f in range(6)),
            ],
        )
        square = [[-1.0, 5.0, -1.0], [1.0, 5.0, -1.0], [1.0, 5.0, 1.0], [-1.0, 5.0, 1.0]]
        result = made(
            both, tool="outline", curves=[{"points": square}], along={"direction": [0, -1, 0]}
        )
        inside = np.zeros(result.mesh.face_count, dtype=bool)
        inside[result.picked.faces] = True
        for face in range(result.mesh.face_count):
            corners = result.mesh.points[result.mesh.face(face)]
            if (np.abs(corners[:, [0, 2]]) > 1.0 + 1e-9).any() and inside[face]:
                # Of what goes on outside the larger part lies inside.
                low, high = corners.min(axis=0), corners.max(axis=0)
                within = np.minimum(high, 1.0) - np.maximum(low, -1.0)
                self.assertGreater(within[0] * within[2], 0.5 * np.prod((high - low)[[0, 2]]))

    def test_edges_of_three_faces_are_divided_and_crossed_like_others(self) -> None:
        import random

        for seed in range(6):
            fan = fins(random.Random(seed))
            divided = made(fan, tool="divide", faces=[0, fan.face_count - 1], columns=2, rows=2)
            assert_tables_true(divided.mesh)
            ends = [int(v) for v in (fan.face(0)[2], fan.face(fan.face_count - 1)[2])]
            seam = made(fan, tool="seam", points=[{"vertex": v} for v in ends])
            self.assertEqual(codes(seam), [])
            assert_tables_true(seam.mesh)
