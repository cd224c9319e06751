"""Numbers in words, as titles of steps say them."""

from __future__ import annotations

# Stands in a title for the unit of its lengths: what a length of 1 means is settled for all parts of a project, and may change.
UNIT = "{unit}"


def count_of(count: int, one: str, many: str | None = None) -> str:
    """How many there are of something.

    >>> count_of(1, "face"), count_of(1200, "face"), count_of(2, "new vertex", "new vertices")
    ('1 face', '1 200 faces', '2 new vertices')
    """
    return f"{count:,}".replace(",", " ") + f" {one if count == 1 else many or f'{one}s'}"


def share_words(share: float) -> str:
    """A share as a percentage, with two decimals where it is no whole one.

    >>> share_words(0.25), share_words(1 / 3)
    ('25 %', '33.33 %')
    """
    percent = round(100 * share, 6)
    return f"{percent:.0f} %" if percent == round(percent) else f"{percent:.2f} %"


def length_words(length: float) -> str:
    """A length of at most six digits, with its unit.

    >>> length_words(12.5), length_words(1 / 3)
    ('12.5 {unit}', '0.333333 {unit}')
    """
    return f"{length:.6g} {UNIT}"
