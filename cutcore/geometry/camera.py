"""Where a person looks from: between places in space and pixels on the screen.

Pixels count from the top left, y down, fractions allowed.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import radians, tan
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.tolerances import ROUNDING
from cutcore.geometry.vectors import least_axis
from cutcore.params import Length, Params, Real

Vector = tuple[Real, Real, Real]
Pixel = tuple[Real, Real]
Pixels = Annotated[float, Field(gt=1e-3, le=1e6)]


class View(Params):
    """A view as steps files and the interface give it."""

    eye: Vector
    target: Vector
    up: Vector = (0.0, 1.0, 0.0)
    projection: Literal["perspective", "parallel"] = "perspective"
    fov: float | None = Field(
        default=None, ge=1e-3, le=179.9, description="vertical angle in degrees, in perspective"
    )
    height: Length | None = Field(
        default=None, description="height of the view in the part's units, if parallel"
    )
    size: tuple[Pixels, Pixels] = Field(description="width and height in pixels")

    @model_validator(mode="after")
    def _has_its_measure(self) -> Self:
        if self.projection == "perspective" and self.fov is None:
            raise ValueError("a perspective view needs fov")
        if self.projection == "parallel" and self.height is None:
            raise ValueError("a parallel view needs height")
        return self


@dataclass(frozen=True)
class Camera:
    """A view ready for arithmetic: unit axes `right`, `up`, `forward` and pixels per unit of slope
    or length.

    A parallel view sees what lies behind its eye too, unless `from_eye` says otherwise.
    """

    eye: Floats
    right: Floats
    up: Floats
    forward: Floats
    parallel: bool
    scale: float
    centre: Floats
    from_eye: bool = False

    @staticmethod
    def of(view: View) -> Camera:
        """Raises StepError if the view looks at its own eye or along its own up."""
        eye = np.array(view.eye, dtype=np.float64)
        forward = np.array(view.target, dtype=np.float64) - eye
        right = cross(forward, np.array(view.up, dtype=np.float64))
        if np.linalg.norm(forward) == 0 or np.linalg.norm(right) <= ROUNDING * np.linalg.norm(
            forward
        ):
            raise StepError(
                "a view needs a target away from its eye and an up that is not along the sight",
                where="view",
            )
        forward /= np.linalg.norm(forward)
        right /= np.linalg.norm(right)
        width, height = view.size
        parallel = view.projection == "parallel"
        scale = height / view.height if parallel else height / (2 * tan(radians(view.fov or 0) / 2))  # type: ignore[operator]
        return Camera(
            eye,
            right,
            cross(right, forward),
            forward,
            parallel,
            float(scale),
            np.array([width / 2, height / 2]),
        )

    @staticmethod
    def along(direction: Floats, eye: Floats, *, from_eye: bool) -> Camera:
        """A parallel view along a unit direction (3,), one pixel a unit."""
        helper = least_axis(direction)
        right = cross(direction, helper)
        right /= np.linalg.norm(right)
        return Camera(
            eye, right, cross(right, direction), direction, True, 1.0, np.zeros(2), from_eye
        )

    def depth(self, points: Floats) -> Floats:
        """How far in front of the eye (N,) the points (N, 3) lie, along the sight."""
        return (points - self.eye) @ self.forward

    def project(self, points: Floats) -> Floats:
        """Pixels (N, 2) of points (N, 3); NaN for points not in front of a perspective eye."""
        return self.project_deep(points)[0]

    def project_deep(self, points: Floats) -> tuple[Floats, Floats | None]:
        """Pixels (N, 2) as `project` gives them, and how deep (N,) the points lie, if that
        matters."""
        local = points - self.eye
        x, y = local @ self.right, local @ self.up
        z = None
        if not self.parallel:
            z = local @ self.forward
            with np.errstate(divide="ignore", invalid="ignore"):
                x /= z
                y /= z
            behind = ~(z > 0)
            if behind.any():
                x[behind] = y[behind] = np.nan
        pixels = np.empty((len(points), 2))
        np.add(self.centre[0], self.scale * x, out=pixels[:, 0])
        np.subtract(self.centre[1], self.scale * y, out=pixels[:, 1])
        return pixels, z

    def rays(self, pixels: Floats, *, reach: float) -> tuple[Floats, Floats]:
        """Origins (N, 3) and unit directions (N, 3) of the lines of sight through pixels (N, 2).

        A parallel view sees what lies behind its eye too: there the lines begin `reach` further
        back."""
        x = (pixels[:, 0] - self.centre[0]) / self.scale
        y = (self.centre[1] - pixels[:, 1]) / self.scale
        across = x[:, None] * self.right + y[:, None] * self.up
        if self.parallel:
            return self.eye + across - reach * self.forward, np.broadcast_to(
                self.forward, across.shape
            )
        directions = self.forward + across
        return np.broadcast_to(self.eye, across.shape), directions / np.sqrt(
            np.einsum("ij,ij->i", directions, directions)
        )[:, None]

    def ray(self, pixel: Pixel | Floats, *, reach: float) -> tuple[Floats, Floats]:
        """Origin (3,) and unit direction (3,) of the line of sight through one pixel."""
        origins, directions = self.rays(np.array([pixel], dtype=np.float64), reach=reach)
        return origins[0], directions[0]

    def sights(self, points: Floats) -> Floats:
        """Unit directions (N, 3) from the eye through points (N, 3)."""
        if self.parallel:
            return np.broadcast_to(self.forward, points.shape)
        away = points - self.eye
        return away / np.linalg.norm(away, axis=1, keepdims=True)
