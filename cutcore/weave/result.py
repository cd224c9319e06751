"""What was woven as a mesh: the ground put back, with its edges, what they carry, and texture
places."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats, Ints, row_positions
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.edge_data import EdgeData
from cutcore.mesh.edge_table import EdgeTable
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.notes import Note
from cutcore.weave.even import Evened
from cutcore.weave.ground import Ground
from cutcore.weave.rows import Line, Rows
from cutcore.weave.texture import textured


def result_of(
    ground: Ground, rows: Rows, line: Line, even: Evened, notes: tuple[Note, ...]
) -> Result:
    """The mesh with the ground as it was opened and evened out; what else there is to say are
    `notes`."""
    mesh = ground.mesh
    first = mesh.vertex_count
    count = len(ground.vertices)
    number = np.concatenate([ground.vertices, first + np.arange(len(even.places) - count)])
    points = np.concatenate([mesh.points, even.places[count:]])
    points[ground.vertices] = even.places[:count]
    corners = mesh.corners.copy()
    at = row_positions(mesh.starts, ground.faces)[0]
    corners[at] = number[rows.corners]
    quads = number[rows.quads]
    starts = np.concatenate([mesh.starts, mesh.starts[-1] + 4 * (1 + np.arange(len(quads)))])
    parents = ground.faces[rows.parents]
    uv = None
    texture = textured(ground, rows, line, even)
    if mesh.uv is not None and texture is not None:
        old = mesh.uv.copy()
        old[at] = texture[0]
        uv = np.concatenate([old, texture[1]])
    corners = np.concatenate([corners, quads.ravel()])
    sides = _sides_beyond(ground, rows, line)
    if sides:
        starts, corners, uv = _with_sides(ground, sides, number, even.places, starts, corners, uv)
    made = mesh.rebuilt(
        points,
        starts,
        corners,
        edge_data=_edge_data(ground, rows, line, number),
        further_from=parents,
        uv=uv,
    )
    if not sides:
        made = made.with_edges(_edge_table(ground, rows, number, at))
    kept = np.arange(mesh.face_count)
    moved = np.zeros(len(points), dtype=bool)
    moved[:first] = (points[:first] != mesh.points).any(axis=1)
    moved[first:] = True
    touched = np.logical_or.reduceat(moved[number[rows.corners]], ground.starts[:-1])
    touched |= np.logical_or.reduceat(number[rows.corners] != mesh.corners[at], ground.starts[:-1])
    touched[[face for face, _ in sides]] = True
    kept[ground.faces[touched]] = -1
    origin = Origin(
        np.concatenate([np.arange(mesh.face_count), parents]),
        np.concatenate([np.arange(first), np.full(len(points) - first, -1)]),
        kept,
    )
    on_line = np.sort(number[rows.line[line.edges[line.drawn]]], axis=1)
    ends = np.concatenate([rows.ends, rows.further])
    bent = np.zeros(len(ends), dtype=bool)
    bent[len(rows.ends) :] = True
    bent[: len(rows.ends)] = moved[number[rows.ends]].any(axis=1)
    # The line itself is shown as that.
    bent[rows.lines[line.drawn]] = False
    mended = np.sort(number[ends[bent]], axis=1)
    return Result(made, origin, Picked(edges=on_line), notes, mended=mended)


def _sides_beyond(ground: Ground, rows: Rows, line: Line) -> dict[tuple[int, int], list[int]]:
    """The vertices that come to lie on sides of faces beyond the limit, from the start of the side
    on: by (face, corner), numbers of the ground."""
    found: dict[tuple[int, int], list[int]] = {}
    for s in np.flatnonzero((rows.locked >= 0) & ~rows.stays).tolist():
        edge, k = int(rows.locked[s]), int(rows.of_copy[s])
        for corner in ground.halves[edge].tolist():
            if corner < 0 or not ground.outside[ground.face_of_corner[corner]]:
                continue
            face = int(ground.face_of_corner[corner])
            on_line = [] if line.kept[k] else [int(rows.line[k])]
            fresh = [*on_line, int(rows.copies[s])]
            side = found.setdefault((face, corner), [])
            if ground.corners[corner] == line.vertex[k]:
                side[:0] = fresh
            else:
                side += fresh[::-1]
    return found


def _with_sides(
    ground: Ground,
    sides: dict[tuple[int, int], list[int]],
    number: Ints,
    places: Floats,
    starts: Ints,
    corners: Ints,
    uv: Floats | None,
) -> tuple[Ints, Ints, Floats | None]:
    """Rows of corners, and their texture places, with further vertices on the sides of faces."""
    mesh = ground.mesh
    at, values, textures = [], [], []
    more = np.zeros(len(starts) - 1, dtype=np.int64)
    for (face, corner), fresh in sides.items():
        whole = int(ground.faces[face])
        own = int(mesh.starts[whole] + corner - ground.starts[face])
        more[whole] += len(fresh)
        at += [own + 1] * len(fresh)
        values += fresh
        if uv is not None and mesh.uv is not None:
            last = int(mesh.starts[whole] + ground.following[corner] - ground.starts[face])
            low, high = mesh.points[mesh.corners[[own, last]]]
            along = high - low
            share = (places[fresh] - low) @ along / max(float(along @ along), NOT_ZERO)
            textures.append(mesh.uv[own] + share[:, None] * (mesh.uv[last] - mesh.uv[own]))
    return (
        starts + np.concatenate([[0], np.cumsum(more)]),
        np.insert(corners, at, number[values]),
        None if uv is None else np.insert(uv, at, np.concatenate(textures), axis=0),
    )


def _edge_data(ground: Ground, rows: Rows, line: Line, number: Ints) -> EdgeData:
    """What the edges carry: those of the ground under their new ends, and on a locked edge the
    pieces that a line parts it into."""
    mesh = ground.mesh
    data = mesh.edge_data
    if len(data.ends) == 0:
        return data
    own = data.rows_of(mesh.edges.ends[ground.edges], mesh.vertex_count)
    there = np.flatnonzero(own >= 0)
    again = data.taken(own[there], number[rows.ends[there]])
    # What runs from a line to the copies beside it on an edge is part of that.
    pairs, of = [], []
    for s, edge in enumerate(rows.rungs.tolist()):
        if edge >= 0 and own[edge] >= 0:
            pairs.append((number[rows.copies[s]], number[rows.line[rows.of_copy[s]]]))
            of.append(own[edge])
    pieces = data.taken(
        np.array(of, dtype=np.int64), np.array(pairs, dtype=np.int64).reshape(-1, 2)
    )
    return data.without(own).with_more(again, pieces)


def _edge_table(ground: Ground, rows: Rows, number: Ints, at: Ints) -> EdgeTable:
    """The edges of what is made: those there were under their numbers, new ones after them."""
    mesh = ground.mesh
    edges = mesh.edges
    known, m = len(edges), len(ground.edges)
    name = np.concatenate([ground.edges, known + np.arange(len(rows.further))])
    ends = np.concatenate([edges.ends, np.zeros((len(rows.further), 2), dtype=edges.ends.dtype)])
    ends[name] = np.sort(number[np.concatenate([rows.ends, rows.further])], axis=1)
    of_corner = edges.of_corner.copy()
    # The second side of an edge that was opened is an edge of its own.
    own = ground.of_corner.copy()
    own[rows.second_corners] = rows.second_edges
    of_corner[at] = name[own]
    faces = np.concatenate([edges.faces, np.full((len(rows.further), 2), -1, edges.faces.dtype)])
    fresh = mesh.face_count + np.arange(len(rows.quads))
    pairs = np.concatenate(
        [
            np.stack([own, ground.faces[ground.face_of_corner]], axis=1),
            np.stack([rows.quad_edges.ravel(), np.repeat(fresh, 4)], axis=1),
        ]
    )
    changed = np.zeros(m + len(rows.further), dtype=bool)
    changed[rows.quad_edges.ravel()] = changed[rows.second_edges] = True
    pairs = pairs[changed[pairs[:, 0]]]
    pairs = pairs[np.lexsort((pairs[:, 1], pairs[:, 0]))]
    first = np.flatnonzero(np.append(True, pairs[1:, 0] != pairs[:-1, 0]))
    faces[name[pairs[first, 0]], 0] = pairs[first, 1]
    faces[name[pairs[first, 0]], 1] = -1
    double = first[:-1][np.diff(first) > 1] if len(first) else first
    if len(first) and first[-1] < len(pairs) - 1:
        double = np.append(double, first[-1])
    faces[name[pairs[double, 0]], 1] = pairs[double + 1, 1]
    return EdgeTable(
        ends, np.concatenate([of_corner, name[rows.quad_edges.ravel()]]), faces, dict(edges.crowded)
    )
