"""One line of the table."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Row:
    """One measurement: a ratio, what it is a ratio to, and the bar with the size it is for."""

    work: str
    ratio: float
    to: str
    bar: float
    at: str = "256 k"

    def line(self, part: str, size: str) -> str:
        """The row as it is printed, measured on a part of a size."""
        verdict = "" if size != self.at else "ok" if self.ratio <= self.bar else "MISSED"
        named = f"{part}, {size}"
        return f"{named:<22}{self.work:<52}{self.ratio:>8.3f}  {self.bar:>5} {self.to:<8} {verdict}"
