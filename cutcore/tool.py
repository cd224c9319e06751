"""What a tool or a reshape says about itself."""

from __future__ import annotations

from cutcore.params import Index, Params
from cutcore.trace.mirror import Mirror


class Cutting(Params):
    """Any step that draws lines on the part."""

    limit: tuple[Index, ...] | None = None
    mirror: Mirror | None = None


class Reshaping(Params):
    """Any step that removes or moves."""
