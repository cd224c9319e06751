"""Equal rows of numbers, found by hashing: sorting millions of them takes ten times as long."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Ints
from cutcore.kernels.compiled import compiled


@compiled
def name_equal_rows(bits: Ints, table: Ints, kind: Ints, first: Ints) -> int:
    """Number the different rows of `bits (n, 3)` by first use: `kind (n,)` is each row's number,
    `first (n,)` begins with the first row of each kind. `table` is filled with -1, its length a
    power of two above n. Gives how many kinds there are."""
    mask = np.uint64(len(table) - 1)
    kinds = 0
    for row in range(len(bits)):
        a, b, c = np.uint64(bits[row, 0]), np.uint64(bits[row, 1]), np.uint64(bits[row, 2])
        # Odd numbers without a pattern in their bits; the high half of a product is the well mixed
        # one.
        mixed = (
            a * np.uint64(0x9E3779B97F4A7C15)
            ^ b * np.uint64(0xC2B2AE3D27D4EB4F)
            ^ c * np.uint64(0x165667B19E3779F9)
        )
        slot = (mixed ^ (mixed >> np.uint64(32))) & mask
        while True:
            known = table[slot]
            if known < 0:
                table[slot] = kinds
                first[kinds] = row
                kind[row] = kinds
                kinds += 1
                break
            other = first[known]
            if (
                bits[other, 0] == bits[row, 0]
                and bits[other, 1] == bits[row, 1]
                and bits[other, 2] == bits[row, 2]
            ):
                kind[row] = known
                break
            slot = (slot + np.uint64(1)) & mask
    return kinds
