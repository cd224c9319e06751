"""Profiles: the curve across a bevelled edge, and the patch where several of them meet."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.vectors import unit, units

Sides = Callable[[int, Floats], Floats]

# Sides that lie closer to one line than this sine have no round between them.
STRAIGHT = 1e-6


@dataclass(frozen=True, eq=False)
class Profile:
    """The way from `start` to `end (3,)` round an edge at `ridge (3,)`: straight, or by the arc that
    leaves either side along it.

    The arc is that of the circle which touches both sides there if they are as long as each other,
    else its affine image."""

    start: Floats
    end: Floats
    ridge: Floats

    @property
    def bends(self) -> bool:
        """Whether there is an arc beside the straight way."""
        return self._sine > STRAIGHT

    @cached_property
    def _angle(self) -> float:
        one, other = unit(self.start - self.ridge), unit(self.end - self.ridge)
        return float(np.arctan2(np.linalg.norm(cross(one, other)), one @ other))

    @cached_property
    def _sine(self) -> float:
        return float(np.sin(self._angle))

    @cached_property
    def centre(self) -> Floats:
        """The middle (3,) of the arc's circle."""
        sides = self.start + self.end - 2 * self.ridge
        return np.asarray(self.ridge + sides / (1.0 + np.cos(self._angle)))

    def straight(self, shares: Floats) -> Floats:
        """The places (n, 3) at shares (n,) of the straight way."""
        t = shares[:, None]
        return np.asarray((1.0 - t) * self.start + t * self.end)

    def round(self, shares: Floats) -> Floats:
        """The places (n, 3) at shares (n,) of the arc's angle; of the straight way where nothing
        bends."""
        if not self.bends:
            return self.straight(shares)
        sweep, middle = np.pi - self._angle, self.centre
        one = np.sin((1.0 - shares) * sweep)[:, None] * (self.start - middle)
        other = np.sin(shares * sweep)[:, None] * (self.end - middle)
        return np.asarray(middle + (one + other) / np.sin(sweep))

    def bulged(self, shares: Floats, bulge: float) -> Floats:
        """The places (n, 3) at shares (n,): straight for a `bulge` of 0, round for 1, hollow for
        -1."""
        straight = self.straight(shares)
        return np.asarray(straight + bulge * (self.round(shares) - straight))


@dataclass(frozen=True, eq=False)
class CornerPatch:
    """Where profiles that follow one another meet in a loop: one patch at each of their ends, from
    there to the halves of its two sides and to the middle.

    Each is a bilinearly blended one (S. A. Coons, Surfaces for computer-aided design of space forms,
    1967); round ones are blended as directions and distances from the middle of the circles, so that
    arcs of one ball give that ball."""

    sides: tuple[Profile, ...]
    bulge: float

    def places(self, corner: int, u: Floats, v: Floats) -> Floats:
        """The places (n, 3) in the patch of a corner, at u (n,) from 0 to 1 of the half of the side
        that begins there and v (n,) of that which ends there."""
        if not all(side.bends for side in self.sides):
            return self._blended(corner, u, v, lambda k, t: self.sides[k].bulged(t, self.bulge))
        flat = self._blended(corner, u, v, lambda k, t: self.sides[k].straight(t))
        middle = np.mean([side.centre for side in self.sides], axis=0)

        def seen(k: int, t: Floats) -> Floats:
            away = self.sides[k].round(t) - middle
            size = np.linalg.norm(away, axis=1, keepdims=True)
            return np.concatenate([away / size, size], axis=1)

        blended = self._blended(corner, u, v, seen)
        ball = middle + blended[:, 3:] * units(blended[:, :3])
        return np.asarray(flat + self.bulge * (ball - flat))

    def _blended(self, corner: int, u: Floats, v: Floats, at: Sides) -> Floats:
        count, half, ends = len(self.sides), np.array([0.5]), np.array([0.0])
        halves = [at(k, half)[0] for k in range(count)]
        middle = np.mean(halves, axis=0)
        if len(middle) == 4:
            middle[:3] = unit(middle[:3])
        before = (corner - 1) % count
        here, ahead, back = at(corner, ends)[0], halves[corner], halves[before]
        a, b = u[:, None], v[:, None]
        along = (1 - b) * at(corner, 0.5 * u) + b * ((1 - a) * back + a * middle)
        across = (1 - a) * at(before, 1.0 - 0.5 * v) + a * ((1 - b) * ahead + b * middle)
        corners = (1 - a) * ((1 - b) * here + b * back) + a * ((1 - b) * ahead + b * middle)
        return np.asarray(along + across - corners)
