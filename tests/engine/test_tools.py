"""What every tool says about itself is true: its examples do something, its title names it, its
steps read back."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any, get_args

from django.test import SimpleTestCase

from cutcore import Mesh, Result, apply_step, parse_step
from cutcore.previews.plan import plan_of
from cutcore.queries.flow import flow_counts
from cutcore.shapes.small import SMALL
from cutcore.steps.registry import (
    TOOLS,
    AnyTool,
    CuttingStep,
    PlanExtra,
    ReshapingStep,
    Step,
    title_of,
)
from cutcore.tool import Cut
from cutcore.words import with_unit
from tests.guarantees import assert_origin_true, assert_tables_true


def examples() -> Iterator[tuple[AnyTool, Mesh, Step]]:
    """Every example of every tool, with its mesh."""
    for tool in TOOLS.values():
        for example in tool.examples:
            yield tool, SMALL[example.on](), parse_step({"tool": tool.name, **example.params})


class EveryTool(SimpleTestCase):
    def test_the_steps_there_can_be_are_those_of_the_tools(self) -> None:
        self.assertEqual(
            {tool.params for tool in TOOLS.values()},
            {*get_args(CuttingStep), *get_args(ReshapingStep)},
        )
        self.assertEqual(
            {tool.params for tool in TOOLS.values() if isinstance(tool, Cut)},
            {*get_args(CuttingStep)},
        )
        for tool in TOOLS.values():
            self.assertTrue(tool.examples, tool.name)

    def test_examples_change_their_mesh_and_say_where_everything_comes_from(self) -> None:
        for tool, mesh, step in examples():
            with self.subTest(step.tool, **step.model_dump(exclude_defaults=True)):
                result: Result = apply_step(mesh, step)
                self.assertIsNot(result.mesh, mesh)
                result.mesh.check()
                assert_tables_true(result.mesh)
                if (
                    isinstance(tool, Cut)
                    and not tool.done_to_know(step)
                    and getattr(step, "patch", None) is None
                ):
                    assert_origin_true(mesh, result)

    def test_plans_foretell_what_examples_do_and_carry_their_own_extra(self) -> None:
        kinds = {kind.__name__ for kind in get_args(get_args(PlanExtra)[0])}
        seen = set()
        for tool, mesh, step in examples():
            plan, made = plan_of(mesh, step), apply_step(mesh, step)
            self.assertEqual(
                (plan.after, plan.refusal, plan.changes), (flow_counts(made.mesh), None, True), step
            )
            self.assertEqual(plan.extra is not None, tool.extra is not None)
            self.assertEqual(len(plan.moved) > 0, tool.moves is not None, step.tool)
            if plan.extra is not None:
                seen.add(type(plan.extra).__name__)
        self.assertEqual(seen, kinds)

    def test_titles_are_short_and_steps_read_back(self) -> None:
        titles = []
        for _, _, step in examples():
            title = with_unit(title_of(step), "mm")
            titles.append(title)
            self.assertTrue(3 < len(title) < 60, title)
            told: Any = json.loads(step.model_dump_json(by_alias=True))
            self.assertEqual(parse_step(told), step)
        for words in (
            "Edge loop at 0.250 mm",
            "Weld within 1.010 mm",
            "Slice, parted into parts",
            "2 faces extruded by 0.400 mm",
        ):
            self.assertIn(words, titles)
