"""Subdivide: every face into a quad at each of its corners, and vertices moved onto the form that the
part holds when it is smooth."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints, next_in_row
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then
from cutcore.progress import come_to
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of

# A part gets so many faces by it at most.
MOST_FACES = 4_000_000


class SubdivideParams(Reshaping):
    """How often: each round makes four quads of a quad. Hard edges and borders keep their line,
    corners where three or more of them meet their place."""

    tool: Literal["subdivide"] = "subdivide"
    rounds: Annotated[int, Field(ge=1, le=4)] = 1


def apply(mesh: Mesh, params: SubdivideParams) -> Result:
    """Raises StepError where there would be too many faces."""
    faces = int(mesh.sizes.sum()) * 4 ** (params.rounds - 1)
    if faces > MOST_FACES:
        words = f"the part would have {faces:,} faces: {MOST_FACES:,} at most are possible"
        raise StepError(words, where="rounds")
    result = Result(mesh, Origin.same(mesh))
    for k in range(params.rounds):
        come_to(f"round {k + 1} of {params.rounds}", k / params.rounds)
        made = subdivided(result.mesh)
        result = Result(made.mesh, then(result.origin, made.origin))
    return Result(result.mesh, result.origin, Picked(faces=np.arange(result.mesh.face_count)))


def subdivided(mesh: Mesh) -> Result:
    """One round (E. Catmull, J. Clark, Recursively generated B-spline surfaces on arbitrary
    topological meshes, Computer-Aided Design 10, 1978), with creases (T. DeRose, M. Kass, T. Truong,
    Subdivision surfaces in character animation, SIGGRAPH 1998).

    Old vertices keep their numbers, then come those of the edges, then those of the faces; the quad
    at corner c is face c. Texture places stay the map they were within each face."""
    table, corners = mesh.edges, mesh.corners
    vertices, edges = mesh.vertex_count, len(mesh.edges)
    owner = mesh.face_of_corner
    centre = np.add.reduceat(mesh.points[corners], mesh.starts[:-1]) / mesh.sizes[:, None]
    ends = mesh.points[table.ends]
    middle = ends.mean(axis=1)
    sharp = sharp_edges(mesh)
    pairs = np.maximum(table.faces, 0)
    smooth = 0.5 * middle + 0.25 * centre[pairs].sum(axis=1)
    on_edge = np.where(sharp[:, None], middle, smooth)
    points = np.concatenate([_moved(mesh, centre, middle, sharp), on_edge, centre])
    following = next_in_row(mesh.starts)
    before = np.empty_like(following)
    before[following] = np.arange(len(corners))
    quads = np.stack(
        [
            corners,
            vertices + table.of_corner,
            vertices + edges + owner,
            vertices + table.of_corner[before],
        ],
        axis=1,
    )
    uv = None
    if mesh.uv is not None:
        inside = np.add.reduceat(mesh.uv, mesh.starts[:-1]) / mesh.sizes[:, None]
        ahead, back = (0.5 * (mesh.uv + mesh.uv[beside]) for beside in (following, before))
        uv = np.stack([mesh.uv, ahead, inside[owner], back], axis=1).reshape(-1, 2)
    made = mesh.rebuilt(
        points,
        4 * np.arange(len(corners) + 1),
        quads.ravel(),
        hard=_halved(mesh),
        faces_from=owner,
        uv=uv,
    )
    fresh = np.full(edges + mesh.face_count, -1)
    origin = Origin(
        owner, np.concatenate([np.arange(vertices), fresh]), np.full(mesh.face_count, -1)
    )
    return Result(made, origin)


def sharp_edges(mesh: Mesh) -> Bools:
    """The edges (E,) that keep their line: borders, hard ones, and those of more than two faces."""
    sharp = mesh.edges.border | mesh.edges.joining(mesh.hard)
    sharp[list(mesh.edges.crowded)] = True
    return sharp


def _moved(mesh: Mesh, centre: Floats, middle: Floats, sharp: Bools) -> Floats:
    """Where the old vertices (V, 3) go: on a smooth surface of n edges to (F + 2R + (n - 3)P) / n,
    F being the mean of the faces' middles, R of the edges'; along two sharp edges to 3/4 of
    themselves and 1/8 of either neighbour; else they stay."""
    ends, count = mesh.edges.ends, mesh.vertex_count

    def sums(at: Ints, values: Floats) -> Floats:
        return np.column_stack([np.bincount(at, values[:, k], count) for k in range(3)])

    points = mesh.points
    valence = np.bincount(ends.ravel(), minlength=count)
    faces = np.bincount(mesh.corners, minlength=count)
    n, m = (np.maximum(of, 1)[:, None] for of in (valence, faces))
    around = sums(mesh.corners, centre[mesh.face_of_corner]) / m
    beside = sums(ends.ravel(), np.repeat(middle, 2, axis=0)) / n
    moved = (around + 2 * beside + (n - 3) * points) / n
    line = ends[sharp]
    sharps = np.bincount(line.ravel(), minlength=count)
    along = sums(line[:, 0], points[line[:, 1]]) + sums(line[:, 1], points[line[:, 0]])
    crease = (sharps == 2) & (faces > 1)
    moved[crease] = 0.75 * points[crease] + 0.125 * along[crease]
    stays = (sharps > 2) | ((sharps == 2) & (faces <= 1)) | (faces == 0)
    moved[stays] = points[stays]
    return moved


def _halved(mesh: Mesh) -> Ints:
    """The hard edges, each as the two it is now."""
    if len(mesh.hard) == 0:
        return mesh.hard
    numbers = np.flatnonzero(mesh.edges.joining(mesh.hard))
    made = np.repeat(mesh.vertex_count + numbers, 2)
    return np.unique(np.column_stack([mesh.edges.ends[numbers].ravel(), made]), axis=0)


TOOL = Reshape(
    params=SubdivideParams,
    title=lambda params: f"Subdivided, {count_of(params.rounds, 'round')}",
    examples=(
        Example("cube", {}),
        Example("patched", {"rounds": 2}),
        Example("drum", {}),
    ),
    moves=edges_of_moved_vertices,
    apply=apply,
)
