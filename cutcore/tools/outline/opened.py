"""Where a pocket reaches an edge of the part, its wall would lie on the side there, back to back: the
side is opened instead."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import cKDTree

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.polygons import distance_to_segments
from cutcore.geometry.vectors import NOT_ZERO, units
from cutcore.imprint import imprinted
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then, without_faces
from cutcore.notes import position
from cutcore.queries.bodies import is_closed
from cutcore.reshape.joining.merge_vertices import merge_vertices
from cutcore.trace.trace import ON_EDGE, TraceBuilder

# Cosines of normals that point against each other are below this.
AGAINST = -1 + 1e-9

# How a polygon (n, 3) is cut into some faces (F,) that it lies in, seen along a direction (3,): the
# cut, and which faces (F,) lie inside.
Cutting = Callable[[Mesh, Floats, Floats, Ints], tuple[Result, Bools]]


@dataclass(frozen=True, eq=False)
class _Flush:
    """Walls that lie on one flat side, in a chain: their numbers, the polygon (n, 3) they cover, the
    side's unit normal and its faces."""

    walls: Ints
    polygon: Floats
    normal: Floats
    side: Ints


def opened(pocket: Result, walls: Ints, cutting: Cutting, *, weld: float) -> Result:
    """A pocket with the sides open that some of its walls lie on. `walls` are quads that begin with
    their edge on the border of what was pushed in.

    Raises StepError, with the place, where that leaves the part open."""
    mesh = pocket.mesh
    chains = _flush(mesh, walls, weld)
    if not chains:
        return pocket
    whole = Result(mesh, Origin.same(mesh))
    gone = np.zeros(mesh.face_count, dtype=bool)
    for chain in chains:
        # Cutting leaves faces that were there their numbers, with one of what they fall into.
        now = whole.mesh
        side = np.flatnonzero(np.isin(whole.origin.face, chain.side) & ~_padded(gone, now))
        if len(side) == 0:
            continue  # another wall has opened all of it
        cut, inside = cutting(now, chain.polygon, -chain.normal, side)
        gone = _padded(gone, cut.mesh)
        gone |= inside & np.isin(cut.origin.face, side)
        gone[chain.walls] = True
        whole = Result(cut.mesh, then(whole.origin, cut.origin))
    left, origin = without_faces(whole.mesh, gone)
    whole = Result(left, then(whole.origin, origin))
    whole = _sewn(whole, weld)
    if is_closed(mesh) and not is_closed(whole.mesh):
        edge = int(np.argmax(whole.mesh.edges.border))
        at = whole.mesh.points[whole.mesh.edges.ends[edge]].mean(axis=0)
        words = "the pocket reaches an edge there, and the side can't be opened"
        raise StepError(words, where="takes", elements=(position(at),))
    return replace(
        pocket,
        mesh=whole.mesh,
        origin=then(pocket.origin, whole.origin),
        picked=_carried(pocket.picked, mesh, whole.origin),
    )


def _padded(mask: Bools, mesh: Mesh) -> Bools:
    """A mask of faces with no more of those that came after."""
    return np.concatenate([mask, np.zeros(mesh.face_count - len(mask), dtype=bool)])


def _flush(mesh: Mesh, walls: Ints, weld: float) -> list[_Flush]:
    """The walls that lie on a flat side that they share their border edge with, chain by chain."""
    normals = units(mesh.face_normals())
    found: dict[int, tuple[int, int, int]] = {}
    for wall in walls.tolist():
        low, high, ahead, behind = mesh.face(wall).tolist()
        beside = [f for f in mesh.edges.faces[mesh.edges.between(low, high)].tolist() if f != wall]
        for side in beside:
            away = (mesh.points[[ahead, behind]] - mesh.points[low]) @ normals[side]
            if normals[wall] @ normals[side] < AGAINST and np.abs(away).max() <= weld:
                found[low] = (wall, side, high)
    chains = []
    while found:
        heads = found.keys() - {high for _, _, high in found.values()}
        at = min(heads or found.keys())
        normal = normals[found[at][1]]
        chain = []
        while at in found and normals[found[at][1]] @ normal > -AGAINST:
            chain.append(found.pop(at))
            at = chain[-1][2]
        numbers = np.array([wall for wall, _, _ in chain])
        corners = [mesh.face(wall).tolist() for wall in numbers.tolist()]
        near = [corners[0][0], *(row[1] for row in corners)]
        far = [corners[0][3], *(row[2] for row in corners)]
        plane = mesh.points[near[0]] @ normal
        level = np.abs(mesh.points[mesh.corners] @ normal - plane) <= weld
        flat = np.logical_and.reduceat(level, mesh.starts[:-1]) & (normals @ normal > -AGAINST)
        polygon = _corners_of(mesh.points[[*near, *far[::-1]]], weld)
        chains.append(_Flush(numbers, polygon, normal, np.flatnonzero(flat)))
    return chains


def _corners_of(polygon: Floats, weld: float) -> Floats:
    """A polygon (n, 3) without the points at which it runs straight on."""
    kept = [0]
    for k in range(1, len(polygon)):
        ahead = polygon[(k + 1) % len(polygon)]
        # All that were passed over, not the last alone: a fine curve would be taken for straight.
        passed = polygon[kept[-1] + 1 : k + 1]
        if distance_to_segments(passed, polygon[kept[-1]][None], ahead[None]).max() > weld:
            kept.append(k)
    return polygon[kept]


def _sewn(whole: Result, weld: float) -> Result:
    """Open borders that lie on each other made one: edges get the vertices that lie on them, and
    vertices in one place become one."""
    mesh = whole.mesh
    edges = np.flatnonzero(mesh.edges.border)
    vertices = np.unique(mesh.edges.ends[edges])
    builder, some = TraceBuilder(mesh, weld), False
    tree = cKDTree(mesh.points[vertices])
    for edge in edges.tolist():
        a, b = mesh.points[mesh.edges.ends[edge]]
        reach = 0.5 * float(np.linalg.norm(b - a)) + weld
        near = mesh.points[vertices[tree.query_ball_point(0.5 * (a + b), reach)]]
        share = (near - a) @ (b - a) / max(float((b - a) @ (b - a)), NOT_ZERO)
        gap = distance_to_segments(near, a[None], b[None])[:, 0]
        apart = np.minimum(np.linalg.norm(near - a, axis=1), np.linalg.norm(near - b, axis=1))
        for at in np.unique(share[(gap <= weld) & (apart > weld)]).tolist():
            builder.on_edge(edge, at)
            some = True
    if some:
        trace = builder.build()
        split = imprinted(mesh, replace(trace, stands=trace.kind == ON_EDGE), weld=weld)
        whole = Result(split.mesh, then(whole.origin, split.origin))
        mesh = whole.mesh
    vertices = np.unique(mesh.edges.ends[mesh.edges.border])
    goal = np.arange(mesh.vertex_count)
    pairs = cKDTree(mesh.points[vertices]).query_pairs(2 * weld, output_type="ndarray")
    for low, high in np.sort(vertices[pairs], axis=1).tolist():
        goal[high] = goal[low]
    merged = merge_vertices(mesh, goal, mesh.points)
    return Result(merged.mesh, then(whole.origin, merged.origin))


def _carried(picked: Picked, before: Mesh, origin: Origin) -> Picked:
    """What has become of what was picked."""
    number = np.full(before.vertex_count, -1, dtype=np.int64)
    old = np.flatnonzero(origin.vertex >= 0)
    number[origin.vertex[old]] = old
    edges = np.sort(number[picked.edges.reshape(-1, 2)], axis=1)
    return Picked(
        faces=np.flatnonzero(np.isin(origin.face, picked.faces)),
        edges=edges[(edges >= 0).all(axis=1)],
    )
