"""The Skerry Light, a made-up harbour beacon: the sample project. All sizes in millimetres."""

from __future__ import annotations

import numpy as np

from cutcore import Mesh
from cutcore.geometry.placement import Placement
from cutcore.shapes.turned import turned

NAME = "Skerry Light"

HOUSING_SIDES = 28
# (radius, height) from the foot to the tip of the roof
HOUSING_PROFILE = (
    (0.0, 0.0),
    (46.0, 0.0),
    (46.0, 9.0),
    (38.0, 12.0),
    (36.5, 28.0),
    (36.5, 44.0),
    (46.0, 47.0),
    (46.0, 56.0),
    (36.0, 59.0),
    (34.0, 75.0),
    (33.0, 92.0),
    (32.5, 104.0),
    (44.0, 107.0),
    (44.0, 116.0),
    (38.0, 124.0),
    (27.0, 133.0),
    (14.0, 139.0),
    (0.0, 141.0),
)

# (half length position, half breadth, height of the deck, depth of the keel)
HULL_STATIONS = (
    (-160.0, 40.0, 52.0, 14.0),
    (-148.0, 50.0, 52.0, 8.0),
    (-120.0, 58.0, 52.0, 3.0),
    (-80.0, 63.0, 52.0, 0.0),
    (-40.0, 65.0, 52.5, 0.0),
    (0.0, 65.0, 53.0, 0.0),
    (40.0, 63.0, 54.0, 0.0),
    (80.0, 56.0, 56.0, 2.0),
    (115.0, 43.0, 58.5, 6.0),
    (140.0, 28.0, 61.0, 13.0),
    (156.0, 13.0, 63.0, 24.0),
)


def skerry_light() -> list[tuple[str, Mesh]]:
    """The parts of the sample project by name."""
    return [
        ("Lantern housing", lantern_housing()),
        ("Deck plate", deck_plate()),
        ("Float hull", float_hull()),
    ]


# Where they stand: the plate on the deck of the hull, the housing on the plate.
STANDING = {
    "Lantern housing": Placement(move=(0.0, 61.0, 0.0)),
    "Deck plate": Placement(move=(0.0, 53.0, 0.0)),
    "Float hull": Placement(),
}


def lantern_housing() -> Mesh:
    """A turned housing of quads, closed by two fans."""
    return turned(HOUSING_PROFILE, HOUSING_SIDES)


def deck_plate() -> Mesh:
    """A bevelled octagon: its upper side is one eight-sided face."""
    turn = np.pi / 8 + 2 * np.pi * np.arange(8) / 8
    circle = np.stack([np.cos(turn), np.zeros(8), -np.sin(turn)], axis=1)

    def ring(radius: float, height: float) -> np.ndarray:
        return circle * radius + np.array([0.0, height, 0.0])

    points = np.concatenate([ring(84, 8), ring(90, 5), ring(90, 0), ring(45, 0), [[0.0, 0.0, 0.0]]])
    faces: list[list[int]] = [list(range(8))]
    for upper in (0, 8, 16):
        faces += [
            [upper + 8 + k, upper + 8 + (k + 1) % 8, upper + (k + 1) % 8, upper + k]
            for k in range(8)
        ]
    faces += [[32, 24 + (k + 2) % 8, 24 + k + 1, 24 + k] for k in (0, 2, 4, 6)]
    flat = points[[v for face in faces for v in face]][:, [0, 2]]
    return Mesh.of(points, faces, uv=0.5 + flat / 200.0)


def float_hull() -> Mesh:
    """A closed hull, mirror-symmetric to the last bit across x = 0."""
    sections = [_hull_section(*station) for station in HULL_STATIONS]
    around = len(sections[0])
    faces: list[list[int]] = []
    for s in range(len(sections) - 1):
        here, there = s * around, (s + 1) * around
        faces += [
            [here + k, there + k, there + (k + 1) % around, here + (k + 1) % around]
            for k in range(around)
        ]
    last = (len(sections) - 1) * around
    faces += _strip(around) + [[last + v for v in face[::-1]] for face in _strip(around)]
    return Mesh.of(np.concatenate(sections), faces)


def _hull_section(along: float, breadth: float, deck: float, keel: float) -> np.ndarray:
    """One closed section: half of it down the right side, the other half mirrored."""
    across = np.array([0.0, 0.5, 0.92, 1.0, 0.97, 0.88, 0.68, 0.36, 0.0])
    down = np.array([0.0, 0.012, 0.03, 0.13, 0.36, 0.62, 0.84, 0.96, 1.0])
    half = np.stack(
        [breadth * across, deck - (deck - keel) * down, np.full(len(across), along)], axis=1
    )
    mirrored = half[-2:0:-1] * np.array([-1.0, 1.0, 1.0])
    return np.concatenate([half, mirrored])


def _strip(around: int) -> list[list[int]]:
    """A closed section filled across: a triangle at deck and keel, quads between."""
    half = around // 2
    faces = [[0, 1, around - 1]]
    faces += [[k, k + 1, around - k - 1, around - k] for k in range(1, half - 1)]
    return [*faces, [half - 1, half, half + 1]]
