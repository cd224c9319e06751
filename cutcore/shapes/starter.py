"""Starter shapes: what a person can begin with, as parameters in millimetres or whatever the part's
unit is."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.mesh.mesh import Mesh
from cutcore.params import Params, Real
from cutcore.shapes.ball import ball
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned

Size = Annotated[Real, Field(gt=0, le=1e6)]
Divisions = Annotated[int, Field(ge=1, le=500)]
Sides = Annotated[int, Field(ge=3, le=1000)]


class BoxShape(Params):
    """A closed box about the origin."""

    shape: Literal["box"]
    width: Size = 60.0
    height: Size = 40.0
    depth: Size = 40.0
    along_width: Divisions = 3
    along_height: Divisions = 2
    along_depth: Divisions = 2


class CylinderShape(Params):
    """Upright on y = 0; its ends are fans of triangles about a pole, or one n-gon each."""

    shape: Literal["cylinder"]
    diameter: Size = 50.0
    height: Size = 60.0
    sides: Sides = 24
    along_height: Divisions = 4
    ends: Literal["n-gon", "fan"] = "n-gon"


class ConeShape(Params):
    """Upright on y = 0; a top diameter of 0 makes a point."""

    shape: Literal["cone"]
    diameter: Size = 50.0
    top_diameter: Annotated[Real, Field(ge=0, le=1e6)] = 0.0
    height: Size = 60.0
    sides: Sides = 24
    along_height: Divisions = 4


class PrismShape(Params):
    """Upright on y = 0, with an n-gon at either end; the diameter is that across its corners."""

    shape: Literal["prism"]
    diameter: Size = 50.0
    height: Size = 60.0
    sides: Annotated[int, Field(ge=3, le=64)] = 6
    along_height: Divisions = 1


class SphereShape(Params):
    """About the origin, by rings between two poles of triangles."""

    shape: Literal["sphere"]
    diameter: Size = 50.0
    sides: Sides = 24
    rings: Annotated[int, Field(ge=2, le=500)] = 12


class BallShape(Params):
    """A sphere about the origin from a divided box: quads throughout."""

    shape: Literal["ball"]
    diameter: Size = 50.0
    divisions: Annotated[int, Field(ge=1, le=200)] = 6


class TorusShape(Params):
    """About the origin round the y axis; the outer diameter is over all."""

    shape: Literal["torus"]
    diameter: Size = 80.0
    thickness: Size = 20.0
    around: Sides = 32
    across: Sides = 12

    @model_validator(mode="after")
    def _has_a_hole(self) -> Self:
        if 2 * self.thickness >= self.diameter:
            raise ValueError("a torus needs a diameter of more than twice its thickness")
        return self


class SheetShape(Params):
    """Flat and open, about the origin at y = 0, seen from above."""

    shape: Literal["sheet"]
    width: Size = 80.0
    depth: Size = 60.0
    along_width: Divisions = 8
    along_depth: Divisions = 6


StarterShape = Annotated[
    BoxShape
    | CylinderShape
    | ConeShape
    | PrismShape
    | SphereShape
    | BallShape
    | TorusShape
    | SheetShape,
    Field(discriminator="shape"),
]

KINDS: dict[str, type[Any]] = {
    "box": BoxShape,
    "cylinder": CylinderShape,
    "cone": ConeShape,
    "prism": PrismShape,
    "sphere": SphereShape,
    "ball": BallShape,
    "torus": TorusShape,
    "sheet": SheetShape,
}


def limits_of(kind: type[Any]) -> dict[str, tuple[float, float]]:
    """The least and the greatest value of each number of a shape."""
    found = {}
    for name, told in kind.model_json_schema()["properties"].items():
        least = [told[bound] for bound in ("minimum", "exclusiveMinimum") if bound in told]
        if least and "maximum" in told:
            found[name] = (float(max(least)), float(told["maximum"]))
    return found


NAMES = {
    "sheet": "Sheet",
    "box": "Box",
    "cylinder": "Cylinder",
    "cone": "Cone",
    "prism": "Prism",
    "sphere": "Sphere",
    "ball": "Ball",
    "torus": "Torus",
}


def make_shape(shape: StarterShape) -> Mesh:
    """The mesh of a starter shape."""
    match shape:
        case BoxShape():
            return box(
                shape.width,
                shape.height,
                shape.depth,
                (shape.along_width, shape.along_height, shape.along_depth),
            )
        case CylinderShape():
            wall = _straight(
                0.5 * shape.diameter, 0.5 * shape.diameter, shape.height, shape.along_height
            )
            return turned(
                [(0.0, 0.0), *wall, (0.0, shape.height)] if shape.ends == "fan" else wall,
                shape.sides,
            )
        case ConeShape():
            return turned(
                _straight(
                    0.5 * shape.diameter, 0.5 * shape.top_diameter, shape.height, shape.along_height
                ),
                shape.sides,
            )
        case PrismShape():
            return turned(
                _straight(
                    0.5 * shape.diameter, 0.5 * shape.diameter, shape.height, shape.along_height
                ),
                shape.sides,
            )
        case SphereShape():
            angle = np.pi * np.arange(shape.rings + 1) / shape.rings
            profile = [
                (0.5 * shape.diameter * float(np.sin(a)), -0.5 * shape.diameter * float(np.cos(a)))
                for a in angle
            ]
            profile[0], profile[-1] = (0.0, profile[0][1]), (0.0, profile[-1][1])
            return turned(profile, shape.sides)
        case BallShape():
            return ball(0.5 * shape.diameter, shape.divisions)
        case TorusShape():
            tube = 0.5 * shape.thickness
            return torus(0.5 * shape.diameter - tube, tube, shape.around, shape.across)
        case SheetShape():
            return sheet(shape.width, shape.depth, shape.along_width, shape.along_depth)


def _straight(low: float, high: float, height: float, rows: int) -> list[tuple[float, float]]:
    """A profile of (radius, height) pairs that runs straight from a radius to another."""
    return [(low + (high - low) * k / rows, height * k / rows) for k in range(rows + 1)]
