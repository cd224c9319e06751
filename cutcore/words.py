"""Numbers in words, as titles of steps say them."""

from __future__ import annotations

import re

from cutcore.geometry.units import Unit


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
    """A length, to be said by `with_unit`: what a length of 1 means is settled for all parts of a
    project, and may change.

    >>> length_words(12.5)
    '{12.5}'
    """
    return f"{{{float(length)!r}}}"


def with_unit(words: str, unit: Unit) -> str:
    """Words with their lengths said in a unit, to a hundredth or a thousandth, of metres to a
    hundredth of a millimetre.

    >>> with_unit("Weld within {0.5}", "mm"), with_unit("2 faces inset by {-12.5}", "cm"), with_unit("Weld within {2.0}", "m")
    ('Weld within 0.500 mm', '2 faces inset by -12.50 cm', 'Weld within 2.00000 m')
    """

    def said(found: re.Match[str]) -> str:
        length = float(found[1])
        digits = 5 if unit == "m" else 3 if abs(length) < 10 else 2
        return f"{length:.{digits}f} {unit}"

    return re.sub(r"\{([-+.\de]+)\}", said, words)
