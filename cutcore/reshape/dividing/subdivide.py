"""Subdivide: every face into a quad at each of its corners, and vertices moved onto the form that the
part holds when it is smooth."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints, next_in_row
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.creases import strengths_of
from cutcore.mesh.edge_data import EdgeData
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
    strength = strengths_of(mesh)
    weight = np.minimum(rounds_of(strength), 1.0)
    pairs = np.maximum(table.faces, 0)
    smooth = 0.5 * middle + 0.25 * centre[pairs].sum(axis=1)
    on_edge = smooth + weight[:, None] * (middle - smooth)
    points = np.concatenate([_moved(mesh, centre, middle, weight), on_edge, centre])
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
        edge_data=_halved(mesh, strength),
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
    return np.asarray(strengths_of(mesh) == 1.0)


def rounds_of(strength: Floats) -> Floats:
    """For how many rounds edges of a strength (n,) are sharp: s / (1 - s), so that 1 is for ever and
    a half is once. What is left of a round that is not whole is shared between both rules."""
    with np.errstate(divide="ignore"):
        return np.asarray(strength / (1.0 - strength))


def shares_of_rules(mesh: Mesh, weight: Floats) -> tuple[Floats, Floats, Floats]:
    """How much of the crease's and of the corner's rule each vertex (V,) gets, the rest being that of
    the smooth surface, by the sharpness of its edges (E,); and the sums of its neighbours along its
    sharp edges (V, 3)."""
    ends, count, points = mesh.edges.ends, mesh.vertex_count, mesh.points
    line = ends[weight > 0]
    sharps = np.bincount(line.ravel(), minlength=count)
    total = np.bincount(line.ravel(), np.repeat(weight[weight > 0], 2), count)
    mean = total / np.maximum(sharps, 1)
    faces = np.bincount(mesh.corners, minlength=count)
    corner = (sharps > 2) | ((sharps == 2) & (faces <= 1)) | (faces == 0)
    mean[faces == 0] = 1.0
    along = np.column_stack(
        [
            np.bincount(line[:, 0], points[line[:, 1], k], count)
            + np.bincount(line[:, 1], points[line[:, 0], k], count)
            for k in range(3)
        ]
    )
    crease = (sharps == 2) & ~corner
    return np.where(crease, mean, 0.0), np.where(corner, mean, 0.0), along


def _moved(mesh: Mesh, centre: Floats, middle: Floats, weight: Floats) -> Floats:
    """Where the old vertices (V, 3) go: on a smooth surface of n edges to (F + 2R + (n - 3)P) / n,
    F being the mean of the faces' middles, R of the edges'; along two sharp edges to 3/4 of
    themselves and 1/8 of either neighbour; at corners they stay."""
    ends, count = mesh.edges.ends, mesh.vertex_count

    def sums(at: Ints, values: Floats) -> Floats:
        return np.column_stack([np.bincount(at, values[:, k], count) for k in range(3)])

    points = mesh.points
    valence = np.bincount(ends.ravel(), minlength=count)
    faces = np.bincount(mesh.corners, minlength=count)
    n, m = (np.maximum(of, 1)[:, None] for of in (valence, faces))
    around = sums(mesh.corners, centre[mesh.face_of_corner]) / m
    beside = sums(ends.ravel(), np.repeat(middle, 2, axis=0)) / n
    smooth = (around + 2 * beside + (n - 3) * points) / n
    crease, corner, along = (of.reshape(count, -1) for of in shares_of_rules(mesh, weight))
    on_line = 0.75 * points + 0.125 * along
    return np.where(
        corner + crease > 0,
        smooth + crease * (on_line - smooth) + corner * (points - smooth),
        smooth,
    )


def _halved(mesh: Mesh, strength: Floats) -> EdgeData:
    """The hard edges, each as the two it is now, as long as they are sharp for rounds to come."""
    if len(mesh.hard) == 0:
        return mesh.edge_data
    left = rounds_of(strength) - 1.0
    numbers = np.flatnonzero(mesh.edges.joining(mesh.hard) & (left > 0))
    # Of s / (1 - s) - 1 rounds: the strength whose rounds these are.
    after = 2.0 - 1.0 / strength[numbers]
    made = np.repeat(mesh.vertex_count + numbers, 2)
    pairs = np.column_stack([mesh.edges.ends[numbers].ravel(), made])
    return EdgeData.of(pairs, np.repeat(after, 2))


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
