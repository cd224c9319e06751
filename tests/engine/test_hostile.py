# ruff: noqa: E501 - steps are written here as a file has them
"""Hostile input: whatever a step says and whatever a mesh is like, there is an answer in words and
nothing else."""

from __future__ import annotations

import copy
import json
import random
import warnings
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from cutcore import CutError, Mesh, MeshError, apply_step, flow, parse_step, parse_steps, problems
from cutcore.queries.flow import flow_counts
from cutcore.shapes.sheet import sheet
from cutcore.steps.registry import TOOLS, Step
from tests.campaign import SECONDS, limited
from tests.guarantees import assert_same_mesh
from tests.zoo import ZOO

EXAMPLE = """
{"wertome": 1, "steps": [
  {"tool": "knife", "lines": [{"points": [{"vertex": 3}, {"edge": [4, 9], "t": 0.25}, {"face": 17, "at": [0.1, 0.2, 1.0]}], "closed": false}],
   "view": null, "reach": "near", "open_ends": "trim"},
  {"tool": "loop", "edge": [4, 9], "at": [0.25, 0.75], "measure": "share", "follow": 0.0, "extra_points": 0, "limit": null},
  {"tool": "slice", "plane": {"point": [0, 0, 0], "normal": [0, 1, 0]}, "then": "keep", "gap": [0, 0, 0], "cap": false, "limit": null},
  {"tool": "outline", "curves": [{"points": [[0, 0, 5], [1, 0, 5], [1, 1, 5]], "closed": true}], "along": {"direction": [0, 0, -1]}, "reach": "near"},
  {"tool": "gauge", "axis": "y", "start": "low", "widths": [2.0, 4.0], "tilt": {"about": "x", "degrees": 0}, "limit": null}
]}
"""
# Every example of every tool.
STEPS: list[dict[str, Any]] = [
    {"tool": tool.name, **example.params} for tool in TOOLS.values() for example in tool.examples
]
EVIL = [
    float("nan"),
    float("inf"),
    -1,
    0,
    1e308,
    -1e308,
    1e-320,
    2**40,
    None,
    "",
    "x",
    [],
    {},
    True,
    [0, 0, 0],
    [1e200, -1e200, 1e200],
]


def needles() -> list[Mesh]:
    """Meshes that are allowed but ill: no area, no extent, far away, doubled, folded onto
    themselves."""
    flat = sheet(1, 1, 2, 2)
    line = Mesh(flat.points * [1, 0, 0], flat.starts, flat.corners)
    dot = Mesh(flat.points * 0.0, flat.starts, flat.corners)
    far = Mesh(flat.points + 1e12, flat.starts, flat.corners)
    tiny = Mesh(flat.points * 1e-200, flat.starts, flat.corners)
    huge = Mesh(flat.points * 1e150, flat.starts, flat.corners)
    doubled = Mesh.of(
        np.concatenate([flat.points, flat.points]),
        [*[flat.face(f) for f in range(4)], *[flat.face(f) + 9 for f in range(4)]],
    )
    folded = Mesh.of(
        np.array([[0, 0, 0], [1, 0, 0], [1, 0, 1], [0, 0, 1], [0.5, 0, 0.5]], float),
        [[0, 1, 2, 3], [3, 2, 1, 0], [0, 1, 4]],
    )
    crossed = Mesh.of(np.array([[0, 0, 0], [1, 0, 1], [1, 0, 0], [0, 0, 1]], float), [[0, 1, 2, 3]])
    return [line, dot, far, tiny, huge, doubled, folded, crossed]


class Hostile(SimpleTestCase):
    def answer(self, mesh: Mesh, step: Step) -> None:
        """Carry a step out; it must end in a mesh or in a refusal with words, soon, and leave the
        mesh as it was."""
        before = Mesh(mesh.points.copy(), mesh.starts, mesh.corners)
        try:
            with limited(SECONDS), warnings.catch_warnings():
                warnings.simplefilter("ignore")
                made = apply_step(mesh, step).mesh
                made.check()
        except CutError as refusal:
            self.assertTrue(refusal.words)
        np.testing.assert_array_equal(before.points, mesh.points)

    def test_the_example_of_a_steps_file_is_understood(self) -> None:
        steps = parse_steps(EXAMPLE).steps
        self.assertEqual([s.tool for s in steps], ["knife", "loop", "slice", "outline", "gauge"])
        for step in steps:
            self.assertEqual(parse_step(json.loads(step.model_dump_json(by_alias=True))), step)

    def test_spoilt_steps_are_refused_in_words(self) -> None:
        chance = random.Random(3)
        meshes = [ZOO["box"], ZOO["warped sheet"], ZOO["three on an edge"]]
        for _ in range(900):
            data = copy.deepcopy(chance.choice(STEPS))
            for _ in range(chance.randint(1, 2)):
                self._spoil(data, chance)
            try:
                step = parse_step(data)
            except CutError as refusal:
                self.assertTrue(refusal.words)
                continue
            self.answer(chance.choice(meshes), step)

    def test_ill_meshes_are_cut_or_refused_but_never_crash(self) -> None:
        for mesh in needles():
            problems(mesh)
            flow(mesh)
            flow_counts(mesh)
            for data in STEPS:
                self.answer(mesh, parse_step(data))

    def test_arrays_that_are_no_mesh_are_refused_by_place(self) -> None:
        square = [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]]
        cases = [
            (square, [[0, 1]], "three corners"),
            (square, [[0, 1, 7]], "not there"),
            (square, [[0, 1, 1]], "twice"),
            ([[0, 0, 0], [1, float("nan"), 0], [1, 1, 0]], [[0, 1, 2]], "no number"),
            ([[0, 0, 0], [1e308, 0, 0], [-1e308, 1e308, 0]], [[0, 1, 2]], "too large"),
            (square, [], "no face"),
        ]
        for points, faces, words in cases:
            with self.subTest(words), self.assertRaisesRegex(MeshError, words):
                Mesh.of(np.array(points, float), faces)

    def test_the_same_steps_give_the_same_bytes(self) -> None:
        for data in STEPS:
            step = parse_step(data)
            try:
                assert_same_mesh(
                    apply_step(ZOO["box"], step).mesh, apply_step(ZOO["box"], step).mesh
                )
            except CutError:
                continue

    def _spoil(self, data: Any, chance: random.Random) -> None:
        """Put something evil in place of one value, however deep."""
        while True:
            key = (
                chance.choice(list(data.keys()) if isinstance(data, dict) else range(len(data)))
                if data
                else None
            )
            if key is None:
                return
            if isinstance(data[key], dict | list) and data[key] and chance.random() < 0.75:
                data = data[key]
                continue
            if key != "tool":
                data[key] = chance.choice(EVIL)
            return
