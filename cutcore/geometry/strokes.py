"""Lines drawn by hand, as pixels: joined where they meet, smoothed, and told with few points."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.ndimage import gaussian_filter1d
from shapely import LineString

from cutcore.geometry.arrays import Floats

# Smoothed strokes are looked at this often along their way, in pixels.
STEP_PX = 2.0

# The reach of the strongest smoothing along the stroke, in pixels.
SMOOTHEST_PX = 40.0


@dataclass(frozen=True, eq=False)
class Drawn:
    """A line of pixels (n, 2); `first` and `last` are the numbers of the strokes it begins and ends
    with."""

    pixels: Floats
    closed: bool
    first: int
    last: int


def joined(strokes: list[Floats], within: float) -> list[Drawn]:
    """Strokes (n, 2) joined into lines where one ends within so many pixels of an end of another;
    a line that ends near its own start, and leads further away in between, is closed.

    >>> [(line.pixels.tolist(), line.closed) for line in joined([np.array([[0, 0], [9.0, 0]]), np.array([[10, 0], [10.0, 9]])], 2)]
    [([[0.0, 0.0], [9.0, 0.0], [10.0, 9.0]], False)]
    """
    lines: list[Drawn] = []
    for k, pixels in enumerate(strokes):
        line = Drawn(_without_repeats(pixels), False, k, k)
        while True:
            met = next((other for other in lines if _meet(other, line, within)), None)
            if met is None:
                break
            lines.remove(met)
            line = _meet(met, line, within) or line
        lines.append(line)
    return [_closed(line, within) for line in lines]


def _meet(one: Drawn, other: Drawn, within: float) -> Drawn | None:
    """Two lines as one, if an end of the one lies near an end of the other; the first keeps its
    end."""
    for a in (one, _turned(one)):
        for b in (other, _turned(other)):
            if np.linalg.norm(a.pixels[-1] - b.pixels[0]) <= within:
                whole = np.concatenate([a.pixels, b.pixels[1:]])
                made = Drawn(whole, False, a.first, b.last)
                # Drawn onwards from the start of a line, it still runs the way the first was drawn.
                return made if a is one else _turned(made)
    return None


def _turned(line: Drawn) -> Drawn:
    return Drawn(line.pixels[::-1], line.closed, line.last, line.first)


def _closed(line: Drawn, within: float) -> Drawn:
    """The line closed, if its ends are near each other and it is more than a dot."""
    pixels = line.pixels
    ends_near = np.linalg.norm(pixels[-1] - pixels[0]) <= within
    leads_away = np.linalg.norm(pixels - pixels[0], axis=1).max() > 2.0 * within
    if len(pixels) < 4 or within <= 0 or not (ends_near and leads_away):
        return line
    return replace(line, pixels=pixels[:-1], closed=True)


def _without_repeats(pixels: Floats) -> Floats:
    moved = np.ones(len(pixels), dtype=bool)
    moved[1:] = (pixels[1:] != pixels[:-1]).any(axis=1)
    return pixels[moved]


def smoothed(pixels: Floats, strength: float, *, closed: bool) -> Floats:
    """A line (n, 2) with the trembling taken out of it, by strength 0..1; its ends stay.

    A Gaussian of `strength` times `SMOOTHEST_PX` along the way, over points at even distances,
    mirrored through the ends."""
    if strength <= 0 or len(pixels) < 3:
        return pixels
    whole = np.concatenate([pixels, pixels[:1]]) if closed else pixels
    way = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(whole, axis=0), axis=1))])
    count = max(int(np.ceil(way[-1] / STEP_PX)), 3)
    even = np.linspace(0.0, way[-1], count + 1)
    line = np.stack([np.interp(even, way, whole[:, k]) for k in (0, 1)], axis=1)
    reach = strength * SMOOTHEST_PX * count / max(way[-1], STEP_PX)
    if closed:
        return np.asarray(gaussian_filter1d(line[:-1], reach, axis=0, mode="wrap"))
    beyond = min(int(np.ceil(4 * reach)), len(line) - 1)
    padded = np.pad(line, ((beyond, beyond), (0, 0)), mode="reflect", reflect_type="odd")
    found = gaussian_filter1d(padded, reach, axis=0)[beyond : beyond + len(line)]
    found[[0, -1]] = line[[0, -1]]
    return np.asarray(found)


def simplified(pixels: Floats, within: float, *, closed: bool) -> Floats:
    """A line (n, 2) of as few of its points as stay within so many pixels of it (Douglas and
    Peucker)."""
    if len(pixels) < 3:
        return pixels
    whole = np.concatenate([pixels, pixels[:1]]) if closed else pixels
    kept = np.array(LineString(whole).simplify(within, preserve_topology=False).coords)
    if not closed:
        return kept
    return kept[:-1] if len(kept) > 3 else pixels
