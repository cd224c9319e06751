"""What hangs together."""

from __future__ import annotations

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from cutcore.geometry.arrays import Ints


def components(pairs: Ints, count: int) -> tuple[int, Ints]:
    """How many groups of things 0..count-1 pairs (n, 2) of them make, and the group (count,) of
    each.

    >>> components(np.array([[0, 1], [3, 1]]), 5)[1].tolist()
    [0, 0, 1, 0, 2]
    """
    table = coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(count, count))
    number, group = connected_components(table, directed=False)
    return int(number), group
