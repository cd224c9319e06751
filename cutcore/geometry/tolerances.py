"""Shares that count as none. Lengths are judged by the weld tolerance of a part, never by these."""

from __future__ import annotations

# What rounding leaves of nothing, as a share of what was reckoned with in one step.
ROUNDING = 1e-12

# The same after several steps: of angles, areas and shares that were worked out from one another.
NEGLIGIBLE = 1e-9
