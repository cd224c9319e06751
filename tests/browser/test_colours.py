"""The thread's colours: read on every ground, and told from what is picked whatever eyes one has."""

from __future__ import annotations

import itertools
import re
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase

STYLES = (Path(__file__).parents[2] / "web" / "src" / "styles.css").read_text()
# What people see who lack one kind of cone: Machado, Oliveira and Fernandes, "A physiologically-based
# model for simulation of color vision deficiency", 2009, at full severity, for linear RGB.
EYES = {
    "all cones": np.eye(3),
    "no red": np.array(
        [
            [0.152286, 1.052583, -0.204868],
            [0.114503, 0.786281, 0.099216],
            [-0.003882, -0.048116, 1.051998],
        ]
    ),
    "no green": np.array(
        [
            [0.367322, 0.860646, -0.227968],
            [0.280085, 0.672501, 0.047413],
            [-0.01182, 0.04294, 0.968881],
        ]
    ),
    "no blue": np.array(
        [
            [1.255528, -0.076749, -0.178779],
            [-0.078411, 0.930809, 0.147602],
            [0.004733, 0.691367, 0.3039],
        ]
    ),
}
TO_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
WHITE = np.array([0.9505, 1.0, 1.089])
# Two colours this far apart in CIELAB are told apart side by side without looking for it.
TOLD_APART = 12.0


def linear(colour: str) -> np.ndarray:
    parts = np.array([int(colour[k : k + 2], 16) for k in (1, 3, 5)]) / 255
    return np.where(parts <= 0.04045, parts / 12.92, ((parts + 0.055) / 1.055) ** 2.4)


def lab(light: np.ndarray) -> np.ndarray:
    x, y, z = TO_XYZ @ np.clip(light, 0, 1) / WHITE
    f = [np.cbrt(v) if v > 0.008856 else 7.787 * v + 16 / 116 for v in (x, y, z)]
    return np.array([116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])])


def contrast(a: str, b: str) -> float:
    low, high = sorted(float(TO_XYZ[1] @ linear(colour)) for colour in (a, b))
    return (high + 0.05) / (low + 0.05)


def roles(selector: str) -> dict[str, str]:
    """The colours that a rule of the style sheet sets."""
    block = STYLES[STYLES.index(selector) :]
    block = block[: block.index("}")]
    return dict(re.findall(r"--color-([\w-]+): (#[0-9a-f]{6})", block))


class Threads(SimpleTestCase):
    def test_each_is_read_on_its_grounds_and_told_from_what_is_picked(self) -> None:
        day = roles("@theme static")
        night = day | roles(':root[data-theme="night"] {')
        for name, theme, prefix in (
            ("day", day, ":root"),
            ("night", night, ':root[data-theme="night"]'),
        ):
            threads = {"brick": theme["thread"]}
            for thread in ("plum", "indigo", "amber"):
                threads[thread] = roles(f'{prefix}[data-thread="{thread}"] {{')["thread"]
            self.assertEqual(len(set(threads.values())), 4)
            for (thread, colour), (eyes, seen) in itertools.product(threads.items(), EYES.items()):
                with self.subTest(theme=name, thread=thread, eyes=eyes):
                    away = np.linalg.norm(
                        lab(seen @ linear(colour)) - lab(seen @ linear(theme["tide"]))
                    )
                    self.assertGreater(float(away), TOLD_APART)
                    for ground in ("card", "paper"):
                        self.assertGreaterEqual(contrast(colour, theme[ground]), 4.5)
