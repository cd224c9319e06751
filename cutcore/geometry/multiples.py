"""Numbers that settle on the multiples of a step."""

from __future__ import annotations

import math

# Beyond so many steps one more is lost in rounding: there is nothing to settle on.
MOST_STEPS = 2.0**52


def nearest_multiple(value: float, step: float) -> float:
    """The multiple of a step above 0 that lies nearest to a value; the value as it is where the step
    is too small to be told from none.

    >>> nearest_multiple(7.4, 5.0), nearest_multiple(7.4, 5e-324)
    (5.0, 7.4)
    """
    if step <= 0.0:
        return value
    count = value / step
    return round(count) * step if math.isfinite(count) and abs(count) < MOST_STEPS else value
