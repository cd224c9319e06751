"""Relax: the vertices of a pick move towards even spacing, on the surface or not."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.sparse import csr_matrix

from cutcore.geometry.arrays import Bools, Ints
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.params import Real
from cutcore.progress import come_to
from cutcore.queries.nearest import Surface
from cutcore.reshape.dividing.subdivide import sharp_edges
from cutcore.reshape.picked import OnPick
from cutcore.reshape.placing.moving import moved_to
from cutcore.reshape.placing.symmetric import moved_alike
from cutcore.tool import Example, Reshape
from cutcore.trace.mirror import Mirror
from cutcore.words import share_words

# Borders and hard edges that turn by more than this are corners there.
CORNER_DEGREES = 40.0


class RelaxParams(OnPick):
    """So often every vertex goes by the `strength` of the way to the middle of its neighbours, along
    borders and hard edges to that of its neighbours there; corners stay. On the surface they come
    back to it each time."""

    tool: Literal["relax"] = "relax"
    strength: Annotated[Real, Field(gt=0, le=1)] = 0.5
    rounds: Annotated[int, Field(ge=1, le=200)] = 10
    on_surface: bool = True
    mirror: Mirror | None = None


def apply(mesh: Mesh, params: RelaxParams) -> Result:
    """Connectivity stays as it is. The surface is that which the pick and its neighbours had
    before."""
    chosen = params.chosen(mesh)
    sharp = sharp_edges(mesh)
    links, free, on_line = _links(mesh, chosen, sharp)
    free_at, line_at = chosen[free & ~on_line], chosen[free & on_line]
    points = mesh.points.copy()
    surface = lines = None
    if params.on_surface:
        ends = mesh.edges.ends
        reached = np.zeros(mesh.vertex_count, dtype=bool)
        reached[chosen] = True
        for _ in range(2):
            reached[ends[reached[ends].any(axis=1)].ravel()] = True
        faces = np.unique(mesh.face_of_corner[reached[mesh.corners]])
        surface = Surface.of_faces(mesh, faces)
        if len(line_at):
            near = sharp & reached[ends].any(axis=1)
            lines = Surface.of_lines(mesh.points[ends[near]])
    for k in range(params.rounds):
        come_to(f"round {k + 1} of {params.rounds}", k / params.rounds)
        goal = links @ points
        points[chosen[free]] += params.strength * (goal[free] - points[chosen[free]])
        if surface is not None and len(free_at):
            points[free_at] = surface.nearest(points[free_at])
        if lines is not None:
            points[line_at] = lines.nearest(points[line_at])
    made, notes = moved_alike(mesh, points, params.mirror)
    result = moved_to(mesh, made)
    return replace(result, notes=(*result.notes, *notes))


def _links(mesh: Mesh, chosen: Ints, sharp: Bools) -> tuple[csr_matrix, Bools, Bools]:
    """A table of means (n, V) over the neighbours of the chosen vertices, which of these (n,) may
    move, and which run along a line."""
    ends, count = mesh.edges.ends.astype(np.int64), mesh.vertex_count
    row = np.full(count, -1, dtype=np.int64)
    row[chosen] = np.arange(len(chosen))
    sharps = np.bincount(ends[sharp].ravel(), minlength=count)[chosen]
    on_line = sharps == 2
    both = np.concatenate([ends, ends[:, ::-1]])
    along = np.concatenate([sharp, sharp])
    at = row[both[:, 0]]
    wanted = (at >= 0) & (along | ~on_line[np.maximum(at, 0)])
    at, other = at[wanted], both[wanted, 1]
    number = np.maximum(np.bincount(at, minlength=len(chosen)), 1)
    links = csr_matrix((1.0 / number[at], (at, other)), shape=(len(chosen), count))
    free = (sharps == 0) | (sharps == 1) | on_line
    # Of two edges of a line: how much the one turns against the other.
    lines = np.flatnonzero(on_line)
    away = mesh.points[
        links.indices[np.repeat(links.indptr[lines], 2) + np.tile([0, 1], len(lines))]
    ]
    away = away.reshape(-1, 2, 3) - mesh.points[chosen[lines]][:, None]
    sizes = np.linalg.norm(away, axis=2).prod(axis=1)
    turn = np.einsum("ij,ij->i", away[:, 0], away[:, 1]) / np.where(sizes > 0, sizes, 1.0)
    free[lines[turn > -np.cos(np.radians(CORNER_DEGREES))]] = False
    return links, free, on_line


TOOL = Reshape(
    params=RelaxParams,
    title=lambda params: (
        f"{'The part' if params.whole else 'The pick'} relaxed by {share_words(params.strength)}, "
        f"{params.rounds} rounds"
    ),
    examples=(
        Example("plate", {}),
        Example("cube", {"faces": [9, 12], "on_surface": False, "strength": 0.3, "rounds": 3}),
    ),
    moves=edges_of_moved_vertices,
    apply=apply,
)
