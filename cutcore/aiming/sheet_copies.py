"""Copies of a placed sheet: round an axis of the part, or along a path of edges."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.aiming.placed_sheet import PlacedSheet
from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints, cross
from cutcore.geometry.axes import Axis, axis_vector
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.geometry.vectors import unit, units
from cutcore.mesh.mesh import Mesh
from cutcore.outlines.sheet_axes import sheet_axes
from cutcore.params import Index, Params
from cutcore.queries.edge_runs import edge_runs


class RoundAxis(Params):
    """So many at even angles round an axis through the middle of the part's box, the placed one
    among them."""

    by: Literal["axis"] = "axis"
    axis: Axis = "y"
    count: Annotated[int, Field(ge=2, le=200)] = 4


class AlongPath(Params):
    """One on every vertex of a path of edges, numbered as the mesh numbers them, looking along the
    surface normal there."""

    by: Literal["path"] = "path"
    edges: Annotated[tuple[Index, ...], Field(min_length=1, max_length=5000)]


SheetCopies = Annotated[RoundAxis | AlongPath, Field(discriminator="by")]


def copies_of(mesh: Mesh, placed: PlacedSheet, copies: SheetCopies | None) -> list[PlacedSheet]:
    """All the sheets, one if there are no copies. Raises StepError for an edge that is not
    there."""
    match copies:
        case None:
            return [placed]
        case RoundAxis():
            return [
                _turned(mesh, placed, axis_vector(copies.axis), 2 * np.pi * k / copies.count)
                for k in range(copies.count)
            ]
        case AlongPath():
            edges = np.array(copies.edges)
            if edges.max() >= len(mesh.edges):
                raise StepError(
                    f"there are {len(mesh.edges)} edges, got edge {edges.max()}",
                    where="copies.edges",
                )
            return [
                sheet
                for run, closed in edge_runs(mesh, edges)
                for sheet in _along(mesh, placed, run, closed)
            ]


def _turned(mesh: Mesh, placed: PlacedSheet, axis: Floats, angle: float) -> PlacedSheet:
    """The sheet turned about an axis through the middle of the part's box (Rodrigues' formula)."""
    middle = mesh.box.mean(axis=0)
    right, _, normal = placed.axes()
    cos, sin = np.cos(angle), np.sin(angle)

    def turn(vector: Floats) -> Floats:
        return np.asarray(
            cos * vector + sin * cross(axis, vector) + (1 - cos) * float(axis @ vector) * axis
        )

    return _standing(
        placed, middle + turn(np.array(placed.centre) - middle), turn(normal), turn(right)
    )


def _along(mesh: Mesh, placed: PlacedSheet, run: Ints, closed: bool) -> list[PlacedSheet]:
    found = []
    for k, vertex in enumerate(run.tolist()):
        normals = mesh.face_normals(mesh.edges.faces_at_vertex(vertex))
        normal = units(normals).sum(axis=0)
        before = run[k - 1] if k or closed else run[k]
        after = run[(k + 1) % len(run)] if k + 1 < len(run) or closed else run[k]
        along = mesh.points[after] - mesh.points[before]
        size = float(np.linalg.norm(normal))
        if size > NEGLIGIBLE:
            normal = normal / size
            along = along - float(along @ normal) * normal
            found.append(_standing(placed, mesh.points[vertex], normal, unit(along)))
    return found


def _standing(placed: PlacedSheet, centre: Floats, normal: Floats, right: Floats) -> PlacedSheet:
    """The sheet elsewhere, turned so that its right is a given direction."""
    level, up = sheet_axes(normal)
    turn = float(np.degrees(np.arctan2(float(right @ up), float(right @ level))))
    return placed.model_copy(
        update={"centre": tuple(centre.tolist()), "normal": tuple(normal.tolist()), "turn": turn}
    )
