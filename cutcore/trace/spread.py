"""Places evenly spread over a width, or crowding to one side of it."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import Field

from cutcore.params import Params, Real

# Doubles go to a little over ten to this power.
MOST_POWERS = 300


class Spread(Params):
    """So many places over a width: each gap between them `ratio` times as wide as the one
    before."""

    count: Annotated[int, Field(ge=1, le=1000)]
    ratio: Annotated[Real, Field(ge=0.01, le=100)] = 1.0

    def shares(self) -> tuple[float, ...]:
        """Where they lie; evenly spread ones at the closest doubles to their fractions.

        >>> Spread(count=3).shares(), Spread(count=2, ratio=2).shares() == (1 / 7, 3 / 7)
        ((0.25, 0.5, 0.75), True)
        """
        if self.ratio == 1.0:
            return tuple(k / (self.count + 1) for k in range(1, self.count + 1))
        powers = np.arange(self.count + 1.0)
        if self.count * np.log10(self.ratio) > MOST_POWERS:
            # Told from the widest gap down: the narrowest are nothing beside it.
            powers -= self.count
        edges = np.cumsum(self.ratio**powers)
        return tuple((edges[:-1] / edges[-1]).tolist())
