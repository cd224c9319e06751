"""The flow report: what it counts and where, and that a dry run says what a cut will do."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from cutcore import CutError, Mesh, apply_step, flow, parse_step, problems
from cutcore.imprint import subdivide
from cutcore.imprint.dry_run import flow_after
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.flow import flow_counts, flow_counts_after, warped_faces
from cutcore.queries.problems import t_junctions
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.steps.replay import trace_step
from tests.zoo import ZOO, bow_tie, prism, three_on_an_edge


class Report(SimpleTestCase):
    def test_a_torus_of_quads_runs_clean(self) -> None:
        report = flow(torus(1.0, 0.3, 12, 8))
        self.assertEqual((report.counts.quads, report.share_of_quads, report.poles), (96, 1.0, {}))
        for name in (
            "faces_triangles",
            "faces_ngons",
            "faces_zero_area",
            "vertices_two_valence",
            "edges_borders",
            "edges_crowded",
        ):
            self.assertEqual(len(getattr(report, name)), 0, name)

    def test_poles_are_told_by_valence_with_their_places(self) -> None:
        report = flow(ZOO["turned, with poles"])
        self.assertEqual(
            {valence: len(vertices) for valence, vertices in report.poles.items()}, {9: 2}
        )
        self.assertEqual(report.counts.poles6, 2)
        cube = flow(box(2, 2, 2, (2, 2, 2)))
        corners = box(2, 2, 2, (2, 2, 2)).points[cube.poles[3]]
        self.assertTrue((np.abs(corners) == 1).all())

    def test_ngons_triangles_and_the_share_of_quads(self) -> None:
        star = flow(prism(5))
        self.assertEqual((star.counts.ngons, star.counts.quads, star.counts.triangles), (2, 10, 0))
        self.assertAlmostEqual(star.share_of_quads, 10 / 12)
        self.assertEqual(star.faces_ngons.tolist(), [0, 1])
        tie = flow(bow_tie())
        self.assertEqual(
            (tie.counts.triangles, tie.faces_triangles.tolist(), len(tie.edges_borders)),
            (2, [0, 1], 6),
        )

    def test_crowded_edges_and_borders_are_named_by_their_vertices(self) -> None:
        report = flow(three_on_an_edge())
        self.assertEqual(report.edges_crowded.tolist(), [[0, 1]])
        self.assertEqual(len(report.edges_borders), 9)

    def test_stray_vertices_are_those_with_two_edges_or_none(self) -> None:
        grid = sheet(2, 2, 2, 2)
        lonely = Mesh(np.concatenate([grid.points, [[9, 9, 9]]]), grid.starts, grid.corners)
        self.assertEqual(flow(lonely).vertices_isolated.tolist(), [9])
        cube = box(1, 1, 1)
        a, b = cube.edges.ends[0].tolist()
        middle = 0.5 * (cube.points[a] + cube.points[b])
        faces = [_with_vertex(cube.face(f).tolist(), a, b, 8) for f in range(6)]
        report = flow(Mesh.of(np.concatenate([cube.points, [middle]]), faces))
        self.assertEqual((report.vertices_two_valence.tolist(), report.counts.stray), ([8], 1))

    def test_a_vertex_inside_an_edge_it_does_not_belong_to_is_a_t_junction(self) -> None:
        points = [[0, 0, 0], [2, 0, 0], [2, 0, 1], [0, 0, 1], [1, 0, 0], [1, 0, -1], [0, 0, -1]]
        mesh = Mesh.of(np.array(points, float), [[0, 1, 2, 3], [0, 6, 5, 4]])
        self.assertEqual(t_junctions(mesh, weld=1e-7).tolist(), [4])
        self.assertIn("t-junction", [note.code for note in problems(mesh)])

    def test_bent_and_flat_faces_are_told_apart(self) -> None:
        flat = sheet(1, 1, 1, 1)
        self.assertEqual(len(warped_faces(flat)), 0)
        bent = Mesh(
            flat.points + np.array([[0, 0, 0], [0, 0.5, 0], [0, 0, 0], [0, 0, 0]]),
            flat.starts,
            flat.corners,
        )
        self.assertEqual(warped_faces(bent).tolist(), [0])
        needle = Mesh.of(
            np.array([[0, 0, 0], [1, 0, 0], [2, 0, 0], [0, 1, 0]], float), [[0, 1, 2], [0, 2, 3]]
        )
        self.assertEqual(flow(needle).faces_zero_area.tolist(), [0])

    def test_the_report_is_plain_data(self) -> None:
        data = flow(prism(4)).as_json()
        self.assertEqual(data["counts"]["ngons"], 2)
        self.assertEqual(data["faces_ngons"], [0, 1])
        self.assertEqual(sorted(data["poles"]), ["3"])


def _with_vertex(loop: list[int], a: int, b: int, new: int) -> list[int]:
    """A loop with a vertex put between two neighbours."""
    for k, vertex in enumerate(loop):
        if {vertex, loop[(k + 1) % len(loop)]} == {a, b}:
            return [*loop[: k + 1], new, *loop[k + 1 :]]
    return loop


class DryRun(SimpleTestCase):
    def agrees(self, mesh: Mesh, data: dict[str, Any]) -> None:
        step = parse_step(data)
        try:
            made = apply_step(mesh, step)
        except CutError:
            assume(False)
        planned = flow_after(
            mesh, flow_counts(mesh), subdivide(mesh, trace_step(mesh, step), weld=weld_of(mesh))
        )
        afterwards = flow_counts_after(mesh, made)
        twin = Mesh(made.mesh.points, made.mesh.starts, made.mesh.corners)
        self.assertEqual(planned, flow_counts(twin))
        self.assertEqual(afterwards, flow_counts(twin))

    @settings(max_examples=80)
    @given(
        st.sampled_from(sorted(ZOO)),
        st.integers(0, 9999),
        st.sampled_from([[0.5], [0.25, 0.6]]),
        st.integers(0, 2),
    )
    def test_for_loops(self, name, number, at, extra) -> None:
        mesh = ZOO[name]
        edge = mesh.edges.ends[number % len(mesh.edges)].tolist()
        self.agrees(mesh, {"tool": "loop", "edge": edge, "at": at, "extra_points": extra})

    @settings(max_examples=80)
    @given(
        st.sampled_from(sorted(ZOO)),
        st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda n: sum(x * x for x in n) > 0.1),
    )
    def test_for_slices(self, name, normal) -> None:
        mesh = ZOO[name]
        plane = {"point": mesh.box.mean(axis=0).tolist(), "normal": normal}
        self.agrees(mesh, {"tool": "slice", "plane": plane})

    @settings(max_examples=60)
    @given(
        st.sampled_from(sorted(ZOO)),
        st.integers(3, 9),
        st.floats(0.1, 0.7),
        st.sampled_from(["near", "through"]),
    )
    def test_for_outlines(self, name, sides, size, reach) -> None:
        mesh = ZOO[name]
        middle, span = mesh.box.mean(axis=0), 0.5 * size * mesh.diagonal
        angle = 0.2 + 2 * np.pi * np.arange(sides) / sides
        points = middle + np.stack(
            [span * np.cos(angle), np.full(sides, 2 * mesh.diagonal), span * np.sin(angle)], axis=1
        )
        curve = {"points": points.tolist(), "closed": True}
        self.agrees(
            mesh,
            {
                "tool": "outline",
                "curves": [curve],
                "along": {"direction": [0, -1, 0]},
                "reach": reach,
            },
        )
