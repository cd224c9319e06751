"""What closed curves of an outline bound, by one rule: where curves cross or touch they are one
piece; a curve that lies in another is a hole of it, and one in that a piece again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import Geometry, LineString, Polygon

from cutcore.geometry.arrays import Floats

# What has a smaller share of the area of the box round it is a line gone there and back.
LEAST_AREA = 1e-12


@dataclass(frozen=True, eq=False)
class Region:
    """The borders of what some curves bound, each a simple loop (n, 2), none crossing another; how
    many curves were told apart from others they cross or touch, and how many bound nothing."""

    loops: list[Floats]
    crossing: int
    empty: int


def region_of(loops: Sequence[Floats]) -> Region:
    """What closed curves (n, 2) bound. Where none of them crosses or touches another, or itself,
    they are given back as they are."""
    filled = [(loop, _filled(loop)) for loop in loops]
    there = [(loop, area) for loop, area in filled if not area.is_empty]
    if all(Polygon(loop).is_valid for loop, _ in there) and not any(
        one.boundary.intersects(other.boundary)
        for k, (_, one) in enumerate(there)
        for _, other in there[:k]
    ):
        return Region([loop for loop, _ in there], 0, len(loops) - len(there))
    areas: list[Geometry] = []
    for _, area in there:
        if not any(area.equals(other) for other in areas):
            areas.append(area)
    depth = [
        sum(k != j and other.contains(area) for j, other in enumerate(areas))
        for k, area in enumerate(areas)
    ]
    whole: Geometry = Polygon()
    for level in range(max(depth, default=0) + 1):
        here = shapely.union_all(
            [area for area, at in zip(areas, depth, strict=True) if at == level]
        )
        whole = whole.union(here) if level % 2 == 0 else whole.difference(here)
    borders = [
        np.asarray(ring.coords)[:-1]
        for piece in shapely.get_parts(whole)
        if isinstance(piece, Polygon) and not piece.is_empty
        for ring in (piece.exterior, *piece.interiors)
    ]
    return Region(borders, len(there), len(loops) - len(there))


def _filled(loop: Floats) -> Geometry:
    """What a curve goes round at least once, whichever way; nothing if that has no area."""
    area: Geometry = Polygon(loop)
    if not area.is_valid:
        ring = LineString(np.concatenate([loop, loop[:1]]))
        cells = shapely.get_parts(shapely.polygonize([shapely.union_all([ring])]))
        inside = shapely.get_coordinates(shapely.point_on_surface(cells))
        turned = [_turns(loop, place) != 0 for place in inside]
        area = shapely.union_all(cells[np.array(turned, dtype=bool)])
    low, high = loop.min(axis=0), loop.max(axis=0)
    return area if area.area > LEAST_AREA * float(np.prod(high - low)) else Polygon()


def _turns(loop: Floats, place: Floats) -> int:
    """How often a curve (n, 2) goes round a place (2,), to the left (D. Sunday, Inclusion of a point
    in a polygon, 2001)."""
    x, y = place.tolist()
    after = np.roll(loop, -1, axis=0)
    left = (after[:, 0] - loop[:, 0]) * (y - loop[:, 1]) - (x - loop[:, 0]) * (
        after[:, 1] - loop[:, 1]
    )
    up = (loop[:, 1] <= y) & (after[:, 1] > y) & (left > 0)
    down = (loop[:, 1] > y) & (after[:, 1] <= y) & (left < 0)
    return int(up.sum()) - int(down.sum())
