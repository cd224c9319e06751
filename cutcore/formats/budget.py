"""What reading one file may take: one account for all readers, asked wherever a file says how much
is to come.

A reader that meets its end says so in words; what was read so far is let go of."""

from __future__ import annotations

import time
from dataclasses import dataclass, field

from cutcore.errors import FormatError

SECONDS = 8.0
MOST_BYTES = 96 << 20
# A part of a million quads has a million vertices and four million corners.
MOST_VERTICES = 5_000_000
MOST_CORNERS = 12_000_000
# Nodes of a scene, elements of a drawing, rows of a header: whatever a file is made of besides its
# vertices and faces.
MOST_NODES = 100_000
# Data in JSON takes up to fifty times its length in memory.
MOST_JSON_BYTES = 32 << 20
MOST_JSON_VALUES = 500_000


@dataclass
class Budget:
    """What is left to one reading."""

    seconds: float = SECONDS
    vertices: int = MOST_VERTICES
    corners: int = MOST_CORNERS
    nodes: int = MOST_NODES
    began: float = field(default_factory=time.monotonic)

    def check_bytes(self, data: bytes) -> None:
        """Raise FormatError if a file is longer than any that is read."""
        if len(data) > MOST_BYTES:
            raise FormatError(f"the file is over the limit of {MOST_BYTES >> 20} MB")

    def foresee(self, *, vertices: int, corners: int) -> None:
        """Raise FormatError if so much is to come that it can't be there in the end; nothing is
        taken."""
        foreseen = Budget(self.seconds, self.vertices, self.corners, began=self.began)
        foreseen.spend(vertices=vertices, corners=corners)

    def spend(
        self, *, vertices: int = 0, corners: int = 0, nodes: int = 0, where: str = ""
    ) -> None:
        """Take something from the account, before it is set aside in memory. Raises FormatError if
        it isn't there."""
        self.vertices -= vertices
        self.corners -= corners
        self.nodes -= nodes
        if self.vertices < 0 or self.corners < 0:
            limits = f"{MOST_VERTICES:,} vertices or {MOST_CORNERS:,} corners of faces"
            raise FormatError(
                f"the part is too large: more than {limits} are not read", where=where
            )
        if self.nodes < 0:
            raise FormatError(f"the file is made of more than {MOST_NODES:,} pieces", where=where)
        self.go_on(where=where)

    def go_on(self, *, where: str = "") -> None:
        """Raise FormatError if the time is over; asked every few thousand lines."""
        if time.monotonic() - self.began > self.seconds:
            raise FormatError(
                f"reading it takes more than {self.seconds:g} seconds: it is too large or too intricate",
                where=where,
            )


def check_json(data: bytes, *, values: int = MOST_JSON_VALUES, where: str = "") -> None:
    """Raise FormatError if data would take far more memory than its length: by its length, and by
    how many values it has."""
    if (
        len(data) > MOST_JSON_BYTES
        or data.count(b",") + data.count(b"[") + data.count(b"{") > values
    ):
        words = f"the data is too long: over {MOST_JSON_BYTES >> 20} MB or {values:,} values"
        raise FormatError(words, where=where)
