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
from cutcore.queries.edge_rings import edge_ring
from cutcore.queries.flow import flow_counts, flow_counts_after, warped_faces
from cutcore.queries.flow_lines import loop_line, ring_line
from cutcore.queries.problems import t_junctions
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.steps.replay import trace_step
from tests.zoo import ZOO, bow_tie, prism, three_on_an_edge


def ring_faces_twice(mesh: Mesh) -> list[int]:
    """The quads that the ring of one of their sides crosses both ways, found by walking."""
    found = []
    for face in np.flatnonzero(mesh.sizes == 4).tolist():
        one, other = mesh.edges.of_corner[mesh.starts[face] : mesh.starts[face] + 2].tolist()
        edges = edge_ring(mesh, one, int(mesh.edges.ends[one, 0]), None).edges
        if other in edges.tolist():
            found.append(face)
    return found


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

    def test_bad_corners_folds_and_spirals_are_told_with_their_places(self) -> None:
        clean = torus(1.0, 0.3, 12, 8)
        for name in ("faces_blunt", "faces_sharp", "faces_folded", "faces_spirals"):
            self.assertEqual(len(getattr(flow(clean), name)), 0, name)
        points = sheet(4.0, 3.0, 4, 3).points.copy()
        flat = sheet(4.0, 3.0, 4, 3)
        # A vertex on the line between its neighbours across, one beyond it, and one drawn far out.
        points[5] = points[[4, 9]].mean(axis=0)
        report = flow(Mesh(points, flat.starts, flat.corners))
        self.assertEqual(report.faces_blunt.tolist(), [3])
        points[5] = points[4] + 0.8 * (points[9] - points[4]) + [0.3, 0.0, 0.3]
        folded = flow(Mesh(points, flat.starts, flat.corners))
        self.assertGreater(len(folded.faces_folded), 0)
        thin = sheet(40.0, 1.0, 1, 1)
        bent = thin.points.copy()
        bent[0] = bent[2] + [-0.01, 0, 0.2]
        self.assertGreater(len(flow(Mesh(bent, thin.starts, thin.corners)).faces_sharp), 0)
        # A cut from one corner of a ball's quads to another winds rings about themselves.
        wound = apply_step(
            ball(10.0, 6),
            parse_step(
                {
                    "tool": "slice",
                    "plane": {"point": [0.3, 0.2, 0.1], "normal": [1, 0.7, 0.3]},
                    "finish": "quads",
                }
            ),
        ).mesh
        for part in (wound, ball(10.0, 3), clean):
            self.assertEqual(flow(part).faces_spirals.tolist(), ring_faces_twice(part))
        self.assertGreater(len(flow(wound).faces_spirals), 0)

    def test_the_loop_and_the_ring_of_an_edge_are_told_whole(self) -> None:
        part = torus(1.0, 0.3, 12, 8)
        for edge in range(0, len(part.edges), 17):
            loop, ring = loop_line(part, edge), ring_line(part, edge)
            self.assertTrue(loop.closed and ring.closed)
            self.assertEqual(
                {loop.count, ring.count}, {12, 8} if loop.count != ring.count else {loop.count}
            )
            self.assertEqual((loop.ends, ring.ends), ((), ()))
        flat = sheet(4.0, 3.0, 4, 3)
        inner = flat.edges.between(5, 6)
        loop, ring = loop_line(flat, inner), ring_line(flat, inner)
        self.assertEqual(
            (loop.count, loop.closed, loop.ends), (3, False, ("at the boundary of the part",))
        )
        self.assertAlmostEqual(loop.length, 3.0)
        self.assertEqual((ring.count, ring.closed), (5, False))
        self.assertAlmostEqual(ring.length, 4.0)
        self.assertEqual(ring.ends, ("at the boundary of the part",))
        poles = ZOO["box"]
        ends = {end for e in range(len(poles.edges)) for end in loop_line(poles, e).ends}
        self.assertEqual(ends, {"at a pole of 3"})
        fan = ZOO["triangulated torus"]
        self.assertIn("triangle", ring_line(fan, 0).ends[0])

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
