"""The command line: a steps file carried out on a file, and refusals that leave nothing behind."""

from __future__ import annotations

import contextlib
import io
import json
import tempfile
from pathlib import Path
from typing import Any

from django.test import SimpleTestCase

from cutcore import read_part, write_part
from cutcore.__main__ import main
from cutcore.shapes.box import box


class CommandLine(SimpleTestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.part = self.folder / "cube.obj"
        self.part.write_bytes(write_part("cube.obj", box(2, 2, 2)))

    def run_line(self, *arguments: str | Path) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            status = main([str(a) for a in arguments])
        return status, out.getvalue(), err.getvalue()

    def apply(self, steps: Any) -> tuple[int, str, str]:
        file = self.folder / "steps.json"
        file.write_text(json.dumps(steps) if not isinstance(steps, str) else steps)
        return self.run_line("apply", file, "--in", self.part, "--out", self.folder / "out.obj")

    def test_steps_are_carried_out_and_reported(self) -> None:
        cube = box(2, 2, 2)
        a, b, c, d = cube.face(1).tolist()
        line = {"points": [{"edge": [a, b], "t": 0.25}, {"edge": [d, c], "t": 0.25}]}
        status, out, err = self.apply({"wertome": 1, "steps": [{"tool": "knife", "lines": [line]}]})
        self.assertEqual((status, err), (0, ""))
        report = json.loads(out)
        self.assertEqual(report["notes"], [])
        step = report["steps"][0]
        self.assertEqual((step["tool"], step["faces"]), ("knife", {"before": 6, "after": 7}))
        self.assertEqual((step["new_vertices"], step["new_edges"]), (2, 1))
        mesh, _ = read_part("out.obj", (self.folder / "out.obj").read_bytes())
        self.assertEqual((mesh.vertex_count, mesh.face_count), (10, 7))

    def test_a_step_that_adds_nothing_is_no_error(self) -> None:
        status, out, _ = self.apply(
            {
                "wertome": 1,
                "steps": [{"tool": "knife", "lines": [{"points": [{"vertex": 0}, {"vertex": 1}]}]}],
            }
        )
        self.assertEqual(status, 0)
        self.assertEqual(json.loads(out)["steps"][0]["notes"][0]["code"], "nothing-to-do")
        self.assertEqual((self.folder / "out.obj").read_bytes(), self.part.read_bytes())

    def test_a_wrong_step_ends_with_one_line_and_no_file(self) -> None:
        lines = [{"points": [{"vertex": 0}, {"vertex": 99}]}]
        cases = {
            "steps[0].lines[0].points[1].vertex": {
                "wertome": 1,
                "steps": [{"tool": "knife", "lines": lines}],
            },
            "steps[0].extra": {
                "wertome": 1,
                "steps": [{"tool": "knife", "lines": lines, "extra": 1}],
            },
            "steps[1].tool: one of bevel, bridge, circle, clean patch, collapse, ": {
                "wertome": 1,
                "steps": [{"tool": "knife", "lines": lines}, {"tool": "saw"}],
            },
            "steps[0].at[1]: ": {
                "wertome": 1,
                "steps": [{"tool": "loop", "edge": [0, 1], "at": [0.5, -1]}],
            },
            "steps[0].at[0]: a share from 0 to 1, got 1.25": {
                "wertome": 1,
                "steps": [{"tool": "loop", "edge": [0, 1], "at": [1.25]}],
            },
            "wertome": {"wertome": 2, "steps": []},
            "JSON": "{",
        }
        for where, steps in cases.items():
            with self.subTest(where):
                status, out, err = self.apply(steps)
                self.assertEqual((status, out, err.count("\n")), (2, "", 1))
                self.assertIn(where, err)
                self.assertFalse((self.folder / "out.obj").exists())

    def test_flow_prints_counts_and_places(self) -> None:
        status, out, _ = self.run_line("flow", self.part)
        report = json.loads(out)
        self.assertEqual((status, report["counts"]["quads"], report["counts"]["poles3"]), (0, 6, 8))
        self.assertEqual(report["poles"], {"3": list(range(8))})
        self.assertEqual((report["share_of_quads"], report["edges_borders"]), (1.0, []))

    def test_a_file_that_is_not_there_is_named(self) -> None:
        status, _, err = self.run_line("flow", self.folder / "none.obj")
        self.assertEqual(status, 2)
        self.assertIn("none.obj", err)

    def test_faults_are_one_line_whatever_is_in_the_files(self) -> None:
        bad = self.folder / "part.obj"
        bad.write_text("f 1 2 3\n")
        status, _, err = self.run_line("flow", bad)
        self.assertEqual((status, err[:25]), (2, "cutcore: part.obj: line 1"))
        bad.write_text("v 0 0 0\nf " + " ".join(["9" * 4000] * 5) + "\n")
        steps = {"wertome": 1, "steps": [{"tool": "delete", "faces": ["x" * 5000]}]}
        huge = {
            "wertome": 1,
            "steps": [
                {"tool": "slice", "plane": {"point": [0, 0, 0], "normal": [1e300, 1e300, 0]}}
            ],
        }
        runs = [
            self.run_line("flow", bad),
            self.apply(steps),
            self.apply(huge),
            self.apply(json.dumps(steps) + "[" * 3_000_000),
        ]
        for status, _, err in runs:
            self.assertEqual((status, err.count("\n")), (2, 1), err[:500])
            self.assertLessEqual(len(err), 310)
        for line in (
            ("apply",),
            ("sing",),
            ("apply", bad, "--in", bad, "--out", bad, "--weld", "y" * 4000),
        ):
            said = io.StringIO()
            with self.assertRaises(SystemExit) as ended, contextlib.redirect_stderr(said):
                main([str(word) for word in line])
            self.assertEqual(
                (ended.exception.code, said.getvalue().count("\n")), (2, 1), said.getvalue()
            )
            self.assertLessEqual(len(said.getvalue()), 310)

    def test_parts_go_from_one_format_to_another(self) -> None:
        for ending in (".ply", ".stl", ".glb", ".obj"):
            out = self.folder / f"out{ending}"
            file = self.folder / "none.json"
            file.write_text('{"wertome": 1, "steps": []}')
            status, _, err = self.run_line("apply", file, "--in", self.part, "--out", out)
            self.assertEqual((status, err), (0, ""))
            mesh, _ = read_part(out.name, out.read_bytes())
            self.assertEqual(
                (mesh.vertex_count, mesh.face_count), (8, 12 if ending == ".stl" else 6)
            )
            status, text, _ = self.run_line("flow", out)
            self.assertEqual((status, json.loads(text)["edges_borders"]), (0, []))

    def test_what_is_separated_goes_into_a_file_of_its_own(self) -> None:
        steps = [{"tool": "separate", "faces": [0]}, {"tool": "separate", "faces": [0, 1]}]
        status, out, _ = self.apply({"wertome": 1, "steps": steps})
        self.assertEqual((status, len(json.loads(out)["steps"])), (0, 2))
        counts = [
            read_part("x.obj", (self.folder / name).read_bytes())[0].face_count
            for name in ("out.obj", "out-2.obj", "out-3.obj")
        ]
        self.assertEqual(counts, [3, 1, 2])

    def test_the_report_goes_into_a_file_if_one_is_named(self) -> None:
        file = self.folder / "steps.json"
        file.write_text(
            '{"wertome": 1, "steps": [{"tool": "gauge", "axis": "y", "widths": [0.5, 1.5]}]}'
        )
        report = self.folder / "report.json"
        status, out, _ = self.run_line(
            "apply", file, "--in", self.part, "--out", self.folder / "out.obj", "--report", report
        )
        self.assertEqual((status, out), (0, ""))
        step = json.loads(report.read_text())["steps"][0]
        self.assertEqual([note["code"] for note in step["notes"]], ["gauge-on-the-end"])
        self.assertEqual(
            (step["tool"], step["faces"], step["new_vertices"]),
            ("gauge", {"before": 6, "after": 10}, 4),
        )

    def test_what_reading_had_to_say_is_in_the_report(self) -> None:
        self.part.write_bytes(self.part.read_bytes() + b"f 1 2 99\n")
        status, out, _ = self.apply({"wertome": 1, "steps": []})
        self.assertEqual((status, json.loads(out)["notes"][0]["code"]), (0, "line-left-out"))

    def test_the_weld_tolerance_can_be_given(self) -> None:
        file = self.folder / "steps.json"
        file.write_text(
            '{"wertome": 1, "steps": [{"tool": "slice", "plane": {"point": [0, 0.999, 0], "normal": [0, 1, 0]}}]}'
        )
        for weld, faces in (("1e-7", 10), ("0.001", 6)):
            status, out, _ = self.run_line(
                "apply", file, "--in", self.part, "--out", self.folder / "out.obj", "--weld", weld
            )
            self.assertEqual((status, json.loads(out)["steps"][0]["faces"]["after"]), (0, faces))
        # So it can to what reshapes: a circle that all but meets the sides of its face.
        file.write_text(
            '{"wertome": 1, "steps": [{"tool": "circle", "face": 0, "diameter": 1.999}]}'
        )
        for weld, wanted in (("1e-7", 0), ("0.001", 2)):
            status, _, _ = self.run_line(
                "apply", file, "--in", self.part, "--out", self.folder / "out.obj", "--weld", weld
            )
            self.assertEqual(status, wanted)
        with self.assertRaises(SystemExit), contextlib.redirect_stderr(io.StringIO()):
            self.run_line(
                "apply", file, "--in", self.part, "--out", self.folder / "out.obj", "--weld", "7"
            )

    def test_the_schema_names_every_tool(self) -> None:
        status, out, _ = self.run_line("schema")
        self.assertEqual(status, 0)
        for tool in (
            "knife",
            "loop",
            "slice",
            "outline",
            "gauge",
            "freehand",
            "ruled",
            "seam",
            "thin",
            "dissolve",
            "collapse",
            "weld",
            "delete",
            "separate",
            "flip",
        ):
            self.assertIn(f'"const": "{tool}"', out)

    def test_a_refusal_names_the_step_among_many_and_leaves_no_file(self) -> None:
        a, b = box(2, 2, 2).points[[0, 1]]
        across = "xyz"[(int(abs(b - a).argmax()) + 1) % 3]
        steps = [
            {"tool": "gauge", "axis": across, "widths": [0.5]},
            {"tool": "loop", "edge": [0, 1], "at": [5.0], "measure": "distance"},
        ]
        status, _, err = self.apply({"wertome": 1, "steps": steps})
        self.assertEqual(status, 2)
        self.assertIn("steps[1].at[0]: the edge", err)
        self.assertEqual(sorted(p.name for p in self.folder.iterdir()), ["cube.obj", "steps.json"])

    def test_shards_go_beside_the_result_numbered_on(self) -> None:
        plane = {"point": [0, -0.5, 0], "normal": [0, 1, 0]}
        step = {
            "tool": "slice",
            "plane": plane,
            "repeat": {"count": 2, "spacing": 1.0},
            "then": "part",
            "as_parts": True,
            "cap": True,
        }
        status, out, err = self.apply({"wertome": 1, "steps": [step]})
        self.assertEqual((status, err), (0, ""))
        heights = []
        for name in ("out.obj", "out-2.obj", "out-3.obj"):
            shard, notes = read_part(name, (self.folder / name).read_bytes())
            self.assertEqual((notes, int(shard.edges.border.sum())), ((), 0))
            heights.append((float(shard.points[:, 1].min()), float(shard.points[:, 1].max())))
        self.assertEqual(heights, [(-1.0, -0.5), (-0.5, 0.5), (0.5, 1.0)])
        self.assertEqual(json.loads(out)["steps"][0]["tool"], "slice")

    def test_a_part_is_rebuilt_from_its_drawing_in_three_steps(self) -> None:
        steps = [
            {"tool": "size", "extent": {"y": 6.0}, "about": "low"},
            {
                "tool": "profile",
                "axis": "y",
                "rows": [{"height": 1.5, "diameter": 4.0}, {"height": 4.5}],
            },
            {"tool": "gauge", "axis": "x", "widths": [0.25], "measure": "positions"},
        ]
        status, out, err = self.apply({"wertome": 1, "steps": steps})
        self.assertEqual((status, err), (0, ""))
        mesh, _ = read_part("out.obj", (self.folder / "out.obj").read_bytes())
        self.assertEqual(
            (float(mesh.points[:, 1].min()), float(mesh.points[:, 1].max())), (-1.0, 5.0)
        )
        ring = mesh.points[abs(mesh.points[:, 1] - 0.5) < 1e-9]
        self.assertAlmostEqual(float((ring[:, [0, 2]] ** 2).sum(axis=1).max()), 4.0)
        self.assertEqual(
            [step["tool"] for step in json.loads(out)["steps"]], ["size", "profile", "gauge"]
        )

    def test_wrong_values_of_every_newer_step_are_named_by_their_path(self) -> None:
        plane = {"point": [0, 0, 0], "normal": [0, 1, 0]}
        cases: dict[str, dict[str, Any]] = {
            "steps[0].spread.ratio": {
                "tool": "loop",
                "edge": [0, 1],
                "spread": {"count": 2, "ratio": 0},
            },
            "steps[0].through[0]": {"tool": "loop", "edge": [0, 1], "at": [0.5], "through": [99]},
            "steps[0].repeat.count": {
                "tool": "slice",
                "plane": plane,
                "repeat": {"count": 1, "spacing": 2},
            },
            "steps[0].then": {"tool": "slice", "plane": plane, "then": "vanish"},
            "steps[0].direction": {"tool": "gauge", "widths": [1], "direction": [0, 0, 0]},
            "steps[0].rows[1].height": {"tool": "profile", "rows": [{"height": 1}, {"height": -1}]},
            "steps[0].extent.y": {"tool": "size", "extent": {"y": 0}},
            "steps[0].extent.w": {"tool": "size", "extent": {"w": 1}},
            "steps[0].about.vertex": {"tool": "size", "extent": {"x": 1}, "about": {"vertex": 99}},
        }
        for where, step in cases.items():
            status, out, err = self.apply({"wertome": 1, "steps": [step]})
            self.assertEqual(
                (status, out, (self.folder / "out.obj").exists()), (2, "", False), where
            )
            self.assertEqual(err.count("\n"), 1, err)
            self.assertIn(where, err)
