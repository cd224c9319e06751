"""Units of length. Coordinates are numbers in a part's own unit; these are only for saying and
reading them."""

from __future__ import annotations

from typing import Literal

Unit = Literal["mm", "cm", "m", "in"]
MILLIMETRES: dict[Unit, float] = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4}


def factor(of: Unit, to: Unit) -> float:
    """How many `to` one `of` is.

    >>> factor("cm", "mm"), factor("in", "cm"), factor("mm", "m")
    (10.0, 2.54, 0.001)
    """
    return MILLIMETRES[of] / MILLIMETRES[to]
