"""The tests. Property tests share one profile: they take their time, and in a checked run they repeat themselves.

Fresh ground is walked by the short campaign (tests/engine/test_awkward_ground.py), with a seed of its own in every run.
"""

import os

from hypothesis import HealthCheck, settings

settings.register_profile(
    "wertome",
    deadline=None,
    derandomize="CI" in os.environ,
    suppress_health_check=[HealthCheck.too_slow],
)
settings.load_profile("wertome")
