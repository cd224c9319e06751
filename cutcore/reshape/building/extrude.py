"""Extrude: push picked faces out or in, with walls along their border."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats
from cutcore.geometry.axes import AXES, axis_vector
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.params import Real
from cutcore.queries.named_elements import Faces, face_mask
from cutcore.reshape.building.walls import Region, walled
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of, length_words

# Faces round a corner whose normals span less than this share of a direction leave it free.
FLAT_CORNER = 1e-4


class ExtrudeParams(Reshaping):
    """How far the faces go, inwards if negative: each by that distance along its own `normal`, or
    all of them along their `mean` normal or an axis."""

    tool: Literal["extrude"] = "extrude"
    faces: Faces
    distance: Real = Field(description="in the part's units")
    along: Literal["normal", "mean", "x", "y", "z"] = "normal"


def apply(mesh: Mesh, params: ExtrudeParams) -> Result:
    """Euler's characteristic and closedness are kept where the region has a border that passes no
    vertex twice; a region without a border only moves.

    Along the normal, a vertex goes by the shortest vector v with v · n = distance for the normals n
    of the picked faces round it, in the least squares sense where they are too many. Raises
    StepError for a distance of 0 and for faces whose normals cancel out."""
    if params.distance == 0.0:
        raise StepError("a distance of 0 moves nothing", where="distance")
    chosen = face_mask(mesh, params.faces)
    region = Region.of(mesh, chosen)
    shift = np.zeros((mesh.vertex_count, 3))
    vertices = np.unique(region.vertex)
    if params.along == "normal":
        shift[vertices] = params.distance * by_normals(region)
    else:
        shift[vertices] = params.distance * _direction(mesh, chosen, params.along)
    return walled(region, shift, same_surface=False)


def _direction(mesh: Mesh, chosen: Bools, along: str) -> Floats:
    if along in AXES:
        return axis_vector(along)
    normals = mesh.face_normals(np.flatnonzero(chosen))
    total = normals.sum(axis=0)
    size = float(np.linalg.norm(total))
    if size <= NEGLIGIBLE * float(np.linalg.norm(normals, axis=1).sum()):
        raise StepError("the picked faces have no mean normal: they look every way", where="along")
    return np.asarray(total / size)


def by_normals(region: Region) -> Floats:
    """For each vertex of the region, ascending: the shortest vector that lies one unit along the
    normals round it (n, 3)."""
    normal = region.corner_normals()
    vertices, row = np.unique(region.vertex, return_inverse=True)
    order = np.argsort(row, kind="stable")
    bounds = np.searchsorted(row[order], np.arange(len(vertices) + 1))
    found = np.empty((len(vertices), 3))
    for k in range(len(vertices)):
        round_it = normal[order[bounds[k] : bounds[k + 1]]]
        found[k], *_ = np.linalg.lstsq(round_it, np.ones(len(round_it)), rcond=FLAT_CORNER)
    return found


TOOL = Reshape(
    params=ExtrudeParams,
    title=lambda params: (
        f"{count_of(len(params.faces), 'face')} extruded by {length_words(params.distance)}"
    ),
    examples=(
        Example("cube", {"faces": [12, 13], "distance": 0.4}),
        Example("cube", {"faces": [31], "distance": -0.2, "along": "y"}),
    ),
    moves=edges_of_moved_vertices,
    apply=apply,
)
