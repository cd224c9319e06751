"""The tests. What they draw by chance is new in every run, and in a checked run (CI) always the same:
that one tells what a change broke. What takes long is tagged `drill` and left to `make drills`."""

import os
import random

from hypothesis import HealthCheck, settings

settings.register_profile(
    "wertome",
    deadline=None,
    derandomize="CI" in os.environ,
    suppress_health_check=[HealthCheck.too_slow],
)
settings.load_profile("wertome")


def fresh_seed(kept: int) -> int:
    """A seed that nobody has tried; `kept` in a checked run."""
    return kept if "CI" in os.environ else 1000 * random.SystemRandom().randrange(10**6)
