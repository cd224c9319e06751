"""What is compiled by cuts although set-up has called it all: `python -m tests.engine.compiled_anew`
prints the loops by name, in a process of its own, since other tests compile what they need."""

from __future__ import annotations

import random
from typing import Any

from numba.core.dispatcher import Dispatcher

from cutcore import CutError, apply_step, kernels, parse_step
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.steps.warm import warm
from tests.random_steps import random_step
from tests.zoo import painted

STEPS = 80


def _called() -> dict[str, set[Any]]:
    """The kinds of values that each loop has been called with."""
    loops = {name: loop for name, loop in vars(kernels).items() if isinstance(loop, Dispatcher)}
    return {name: set(loop.signatures) for name, loop in loops.items()}


def compiled_anew() -> list[str]:
    warm()
    ready = _called()
    source = random.Random(5)
    grounds = [ball(1.0, 8), painted(box(2, 2, 2, (6, 6, 6)), every=5), sheet(9, 9, 9, 9)]
    for k in range(STEPS):
        ground = grounds[k % len(grounds)]
        try:
            apply_step(ground, parse_step(random_step(ground, source)))
        except CutError:
            continue
    return [name for name, kinds in _called().items() if kinds - ready[name]]


if __name__ == "__main__":
    print(*compiled_anew())
