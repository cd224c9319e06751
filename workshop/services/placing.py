"""Where parts stand on the table, as they keep it."""

from __future__ import annotations

from typing import Any

from cutcore.geometry.placement import Placement
from workshop.models import Part


def placement_of(part: Part) -> Placement:
    """Where a part stands on the table."""
    return Placement.model_validate(part.placement)


def stored_placement(placement: Placement | None) -> dict[str, Any]:
    """A placement as a part keeps it."""
    return {} if placement is None else placement.model_dump(mode="json", exclude_defaults=True)
