"""Vertices that are left with two edges when faces are joined: what is said of those that stay."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from cutcore.mesh.joined_faces import Joined
from cutcore.notes import Note, vertex
from cutcore.params import Real
from cutcore.words import count_of

StraightWithin = Annotated[
    Real,
    Field(
        ge=0,
        le=180,
        description="degrees: vertices left with two edges go where these turn by no more",
    ),
]


def vertices_stay(joined: Joined) -> tuple[Note, ...]:
    """A note of the vertices that are left with two edges and stay, because these turn there."""
    if len(joined.turning) == 0:
        return ()
    stay = count_of(len(joined.turning), "vertex stays", "vertices stay")
    words = (
        f"{stay} with two edges, which turn there by up to {joined.turn:.3g}°: without them the "
        "form would change. Straight within more than that, they go too."
    )
    return (Note("vertices-stay", words, tuple(vertex(int(v)) for v in joined.turning[:50])),)
