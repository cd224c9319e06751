"""Many parallel planes in one pass: each costs its own crossings, and all together one look at every vertex and face."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.arrays import Bools, Floats, Ints
from cutcore.kernels import crossings_between, ranks_of, segments_between
from cutcore.mesh import Mesh
from cutcore.plane import Plane
from cutcore.section import section, segments_across
from cutcore.section_trace import trace_of_section
from cutcore.trace import ON_EDGE, Trace


def trace_of_planes(mesh: Mesh, planes: list[Plane], limit: Bools | None, weld: float) -> Trace:
    """The sections by some parallel planes within a limit (F,), as lines numbered like the planes.

    A plane that meets a vertex, or comes as near to one as the weld tolerance, goes the way of a single section.
    """
    normal = planes[0].normal
    height = mesh.points @ normal
    level = np.array([float(plane.point @ normal) for plane in planes])
    order = np.argsort(level, kind="stable")
    _, met = ranks_of(height, level[order], weld)
    clear = order[~met]
    while True:
        made, short = _of_clear_planes(mesh, height, level[clear], clear, limit, weld)
        if len(short) == 0:
            break
        clear = np.delete(clear, short)
    lines = [made]
    for k in np.setdiff1d(np.arange(len(planes)), clear).tolist():
        found = section(mesh, planes[k], weld=weld, faces=_faces_at(mesh, height, level[k], weld))
        alone = trace_of_section(mesh, found, limit)
        lines.append(replace(alone, line=np.full(len(alone.face), k)))
    return made if len(lines) == 1 else Trace.together(lines, numbered=True)


def _of_clear_planes(mesh: Mesh, height: Floats, level: Floats, number: Ints, limit: Bools | None, weld: float) -> tuple[Trace, Ints]:
    """The sections by planes at ascending levels that meet no vertex, or else which of them would make an edge within the tolerance."""
    above, _ = ranks_of(height, level, 0.0)
    table = mesh.edges
    first, edge, share = crossings_between(height, above, level, table.ends)
    low = mesh.points[table.ends[edge, 0]]
    place = low + share[:, None] * (mesh.points[table.ends[edge, 1]] - low)
    nodes, face, plane = segments_between(mesh.starts, mesh.corners, table.of_corner, table.ends, above, first)
    often = nodes[:, 1] < 0
    if often.any():
        parts = [_many_times(mesh, above, first, place, int(f), int(k)) for f, k in zip(face[often], plane[often], strict=True)]
        sizes = [len(part) for part in parts]
        nodes = np.concatenate([nodes[~often], *parts])
        face = np.concatenate([face[~often], np.repeat(face[often], sizes)])
        plane = np.concatenate([plane[~often], np.repeat(plane[often], sizes)])
    gap = place[nodes[:, 0]] - place[nodes[:, 1]]
    short = np.einsum("ij,ij->i", gap, gap) <= weld**2
    tight = np.unique(plane[short])
    if limit is not None:
        nodes, face, plane = nodes[limit[face]], face[limit[face]], plane[limit[face]]
    by_plane = np.argsort(plane.astype(np.uint16), kind="stable")
    nodes, face, line = nodes[by_plane], face[by_plane], number[plane[by_plane]]
    made = Trace.of(np.full(len(edge), ON_EDGE), edge, share, place, nodes, face, line=line)
    return made, tight


def _many_times(mesh: Mesh, above: Ints, first: Ints, place: Floats, face: int, k: int) -> Ints:
    """The segments (n, 2) of a plane in a face whose border it crosses more than twice."""
    corners = mesh.face(face)
    rank = above[corners]
    crossed = np.flatnonzero((rank <= k) != (np.roll(rank, -1) <= k))
    edge = mesh.edges.of_corner[mesh.starts[face] + crossed]
    lower = above[mesh.edges.ends[edge, 0]]
    nodes = first[edge] + np.where(lower <= k, k - lower, lower - 1 - k)
    return segments_across(mesh.points[corners], nodes, place)


def _faces_at(mesh: Mesh, height: Floats, level: float, weld: float) -> Ints:
    """The faces (n,) that reach a level, ascending."""
    side = (height > level + 2 * weld).astype(np.int8) - (height < level - 2 * weld)
    corner = side[mesh.corners]
    mixed = np.minimum.reduceat(corner, mesh.starts[:-1]) != np.maximum.reduceat(corner, mesh.starts[:-1])
    return np.flatnonzero(mixed | (corner[mesh.starts[:-1]] == 0))
