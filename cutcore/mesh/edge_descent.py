"""Which old edges the edges of a result are pieces of, found along runs of them over new vertices."""

from __future__ import annotations

from collections.abc import Sequence

from cutcore.geometry.arrays import Ints


def old_ends(pairs: Sequence[tuple[int, int]], origin: Ints) -> list[tuple[int, int]]:
    """For edges of a result, as vertex pairs, the old vertices at both ends of the run over new
    vertices that each is in, lower one first; -1 where a run ends in a new one or goes on in more
    than one way. `origin (V,)` says which old vertex each is, -1 for new ones."""
    beside: dict[int, list[int]] = {}
    for a, b in pairs:
        for one, other in ((a, b), (b, a)):
            if origin[one] < 0:
                beside.setdefault(one, []).append(other)

    def old_end(start: int, goes: int) -> int:
        seen = {start}
        while origin[goes] < 0:
            seen.add(goes)
            ahead = [v for v in beside[goes] if v not in seen]
            if len(ahead) != 1:
                return -1
            goes = ahead[0]
        return int(origin[goes])

    found = []
    for a, b in pairs:
        one, other = old_end(b, a), old_end(a, b)
        found.append((min(one, other), max(one, other)))
    return found
