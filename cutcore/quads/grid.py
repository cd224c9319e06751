"""A loop filled with an even grid of quads."""

from __future__ import annotations

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints

# What sides of which one is much longer cost against straight corners, each of which costs one.
UNEVEN = 0.5


def grid_in(loop: Floats, corners: list[int] | None) -> tuple[Floats, Ints]:
    """The inner vertices (k, 3) of a grid in a loop of places (n, 3), and its quads (m, 4), in which
    they are numbered from n on. The sides across from each other have as many edges; corners that
    are not named are chosen where the loop turns most.

    Inner vertices lie where the four sides have them: a Coons patch (S. A. Coons, Surfaces for
    computer-aided design of space forms, MIT Project MAC TR-41, 1967). Raises StepError for an odd
    loop, or corners that leave uneven sides."""
    size = len(loop)
    if size % 2:
        raise StepError(f"a grid needs an even boundary: this one has {size} edges", where="by")
    corner = corners_of(loop) if corners is None else _even(corners)
    wide, high = corner[1] - corner[0], corner[2] - corner[1]
    number = np.roll(np.arange(size), -corner[0])
    name = np.full((high + 1, wide + 1), -1, dtype=np.int64)
    name[0, :] = number[: wide + 1]
    name[:, wide] = number[wide : wide + high + 1]
    name[high, ::-1] = number[wide + high : 2 * wide + high + 1]
    name[::-1, 0] = np.append(number[2 * wide + high :], number[0])
    inner = name[1:high, 1:wide]
    inner[...] = size + np.arange(inner.size).reshape(inner.shape)
    u, v = np.linspace(0, 1, wide + 1), np.linspace(0, 1, high + 1)
    low, top, left, right = loop[name[0]], loop[name[high]], loop[name[:, 0]], loop[name[:, wide]]
    across = (1 - v)[:, None, None] * low[None] + v[:, None, None] * top[None]
    along = (1 - u)[None, :, None] * left[:, None] + u[None, :, None] * right[:, None]
    both = (
        ((1 - v)[:, None] * (1 - u)[None])[..., None] * low[0]
        + ((1 - v)[:, None] * u[None])[..., None] * low[-1]
        + (v[:, None] * (1 - u)[None])[..., None] * top[0]
        + (v[:, None] * u[None])[..., None] * top[-1]
    )
    places = (across + along - both)[1:high, 1:wide].reshape(-1, 3)
    quads = np.stack([name[:-1, :-1], name[:-1, 1:], name[1:, 1:], name[1:, :-1]], axis=2)
    return places, quads.reshape(-1, 4)


def _even(corners: list[int]) -> list[int]:
    a, b, c, d = corners
    if b - a != d - c:
        words = f"sides across from each other must have as many edges: {b - a} and {d - c}"
        raise StepError(words, where="corners")
    return corners


def corners_of(loop: Floats) -> list[int]:
    """Where a loop of places (n, 3), n even, has the four corners of a grid: where it turns most in
    all, and the sides are not too uneven, of those with as many edges on sides across from each
    other."""
    size = len(loop)
    back, ahead = loop - np.roll(loop, 1, axis=0), np.roll(loop, -1, axis=0) - loop
    long = np.linalg.norm(back, axis=1) * np.linalg.norm(ahead, axis=1)
    straight = np.einsum("ij,ij->i", back, ahead) / np.maximum(long, np.finfo(float).tiny)
    half = size // 2
    wide, start = np.meshgrid(np.arange(1, half), np.arange(half), indexing="ij")
    turns = (
        straight[start]
        + straight[start + wide]
        + straight[start + half]
        + straight[(start + half + wide) % size]
    )
    cost = turns + UNEVEN * np.abs(2 * wide - half) / half
    best = int(np.argmin(cost.round(9)))
    a, w = int(start.ravel()[best]), int(wide.ravel()[best])
    return [a, a + w, a + half, a + half + w]
