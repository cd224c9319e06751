"""Texture places, materials, patches and hard edges through every tool: nothing a modeller painted
is lost."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import Mesh, apply_step, parse_step
from cutcore.imprint.weights import interpolate_inside
from cutcore.shapes.sheet import sheet
from cutcore.steps.registry import TOOLS, title_of
from cutcore.tool import Cut
from cutcore.tools.loop import LoopParams
from tests.guarantees import assert_guarantees
from tests.zoo import concave_plate

# A flat plate whose texture places are a linear map of its places: whatever is cut, they must stay
# that map.
MAP = np.array([[0.25, 0.1], [-0.05, 0.3]])


def painted(columns: int = 4, rows: int = 3) -> Mesh:
    """A plate with a linear map, two materials, two patches, and every third inner edge hard."""
    plate = sheet(4.0, 3.0, columns, rows)
    inner = np.flatnonzero(~plate.edges.border)[::3]
    return Mesh(
        plate.points,
        plate.starts,
        plate.corners,
        plate.points[plate.corners][:, [0, 2]] @ MAP,
        np.arange(plate.face_count) % 2,
        np.arange(plate.face_count) // (plate.face_count // 2 + 1),
        ("tin", "glass"),
        ("left", "right"),
        plate.edges.ends[inner],
    )


def assert_painted(mesh: Mesh) -> None:
    """The map holds at every corner, and every face is where its material and patch were."""
    assert mesh.uv is not None
    np.testing.assert_allclose(mesh.uv, mesh.points[mesh.corners][:, [0, 2]] @ MAP, atol=1e-12)


def hard_length(mesh: Mesh) -> float:
    return float(np.linalg.norm(np.diff(mesh.points[mesh.hard], axis=1)[:, 0], axis=1).sum())


# What can be done on a plate without moving or joining vertices: all cuts, and some reshapes.
ON_A_PLATE = [
    (tool, parse_step({"tool": tool.name, **example.params}))
    for tool in TOOLS.values()
    for example in tool.examples
    if example.on == "plate"
    and tool.moves is None
    and tool.name != "weld"
    and "patch" not in example.params
    # What it closes has no parent.
    and tool.name != "shards"
]
CUTS = [step for tool, step in ON_A_PLATE if isinstance(tool, Cut) and not tool.done_to_know(step)]


class EveryTool(SimpleTestCase):
    def test_texture_places_stay_the_map_they_were(self) -> None:
        for _, step in ON_A_PLATE:
            with self.subTest(title_of(step)):
                result = apply_step(painted(), step)
                assert_painted(result.mesh)
                for taken_off in result.apart:
                    assert_painted(taken_off)

    def test_every_child_has_the_material_and_patch_of_its_parent(self) -> None:
        plate = painted()
        for _, step in ON_A_PLATE:
            with self.subTest(title_of(step)):
                result = apply_step(plate, step)
                parent = result.origin.face
                self.assertTrue((parent >= 0).all())
                np.testing.assert_array_equal(result.mesh.material, plate.material[parent])
                np.testing.assert_array_equal(result.mesh.patch, plate.patch[parent])
                self.assertEqual(
                    (result.mesh.materials, result.mesh.patches), (plate.materials, plate.patches)
                )

    def test_hard_edges_keep_their_length_where_nothing_is_taken_away(self) -> None:
        plate = painted()
        for step in CUTS:
            with self.subTest(title_of(step)):
                after = apply_step(plate, step).mesh
                self.assertAlmostEqual(hard_length(after), hard_length(plate))
                for a, b in after.hard.tolist():
                    self.assertGreaterEqual(after.edges.between(a, b), 0)

    def test_parting_doubles_the_hard_edges_along_the_cut_and_nothing_else(self) -> None:
        plate = painted()
        parted = apply_step(
            plate,
            parse_step(
                {
                    "tool": "slice",
                    "plane": {"point": [0, 0, 0], "normal": [1, 0, 0]},
                    "then": "part",
                }
            ),
        ).mesh
        on_cut = np.abs(plate.points[plate.hard][..., 0]).max(axis=1) == 0
        doubled = float(
            np.linalg.norm(np.diff(plate.points[plate.hard[on_cut]], axis=1)[:, 0], axis=1).sum()
        )
        self.assertAlmostEqual(hard_length(parted), hard_length(plate) + doubled)

    @settings(max_examples=60)
    @given(st.lists(st.sampled_from(CUTS), min_size=2, max_size=4))
    def test_one_cut_after_another(self, steps: list[Any]) -> None:
        mesh = painted()
        for step in steps:
            if isinstance(step, LoopParams):
                step = step.model_copy(
                    update={
                        "edge": tuple(mesh.edges.ends[mesh.edges.of_corner[0]].tolist()),
                        "extra_points": 0,
                    }
                )
            try:
                result = apply_step(mesh, step)
            except Exception as refusal:
                self.assertRegex(str(refusal), "no quad beside|there is no edge")
                continue
            assert_guarantees(mesh, result, flat=True)
            mesh = result.mesh
            assert_painted(mesh)


class Inside(SimpleTestCase):
    @settings(max_examples=60)
    @given(
        st.tuples(st.floats(0.01, 0.99), st.floats(0.01, 0.3)), st.tuples(*[st.floats(-3, 3)] * 3)
    )
    def test_values_inside_a_concave_face_follow_any_linear_map(self, where, weights) -> None:
        comb = concave_plate()
        place = np.array([[7 * where[0], 0.0, -3 * where[1]]])
        values = (comb.points @ np.array(weights))[:, None]
        found = interpolate_inside(comb.points, values, place)
        np.testing.assert_allclose(found[0, 0], place[0] @ np.array(weights), atol=1e-9)
