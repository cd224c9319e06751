"""Put the children of touched faces into a new mesh; everything else is copied in runs.

The edge table is carried over, not sorted anew: an edge keeps its number, the pieces of a split edge
and the edges inside faces come after, and only edges of touched faces get their faces looked at.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from cutcore.arrays import INDEX, Ints, distinct, found_in, next_in_row, owner_of, row_positions, sealed
from cutcore.edges import EdgeTable
from cutcore.imprint.subdivision import Subdivision
from cutcore.kernels import splice_rows
from cutcore.mesh import Mesh


def assemble(mesh: Mesh, cut: Subdivision) -> Mesh:
    """The mesh that a subdivision of some faces makes."""
    edge_of_loop, edges_ends = _edges_of_loops(mesh, cut)
    touched = len(cut.faces)
    kept = cut.loop_starts[: touched + 1]
    starts = np.empty(mesh.face_count + len(cut.extra_parents) + 1, dtype=INDEX)
    starts[0] = 0
    sizes = starts[1:]
    sizes[: mesh.face_count] = mesh.sizes
    sizes[mesh.face_count :] = np.diff(cut.loop_starts[touched:])
    sizes[cut.faces] = np.diff(kept)
    np.cumsum(sizes, out=sizes)

    uv = None
    if mesh.uv is not None and cut.loop_uv is not None:
        uv = _spliced(mesh, cut, mesh.uv, cut.loop_uv)
    parents = cut.extra_parents
    made = Mesh(
        sealed(np.concatenate([mesh.points, cut.places])),
        sealed(starts),
        _spliced(mesh, cut, mesh.corners, cut.loops),
        uv,
        sealed(np.concatenate([mesh.material, mesh.material[parents]])),
        sealed(np.concatenate([mesh.patch, mesh.patch[parents]])),
        mesh.materials,
        mesh.patches,
        _hard_edges(mesh, cut),
    )
    if "box" in mesh.__dict__ and len(cut.places):
        # Every old vertex that faces used is used still.
        low, high = np.minimum(mesh.box[0], cut.places.min(axis=0)), np.maximum(mesh.box[1], cut.places.max(axis=0))
        made.__dict__["box"] = np.stack([low, high])
    of_corner = _spliced(mesh, cut, mesh.edges.of_corner, edge_of_loop)
    return made.with_edges(_edge_table(mesh, cut, edges_ends, edge_of_loop, of_corner))


def _spliced(mesh: Mesh, cut: Subdivision, old: NDArray[Any], new: NDArray[Any]) -> NDArray[Any]:
    """A corner array with the rows of touched faces replaced and further rows put at the end."""
    gone = int(mesh.sizes[cut.faces].sum())
    made = np.empty((len(old) - gone + len(new), *old.shape[1:]), dtype=old.dtype)
    width = old.shape[1] if old.ndim > 1 else 1
    for column in range(width):
        into, values, fresh = (a if a.ndim == 1 else a[:, column] for a in (made, old, new))
        splice_rows(values, mesh.starts, cut.faces, fresh.astype(old.dtype), cut.loop_starts, into)
    return sealed(made)


def _pieces(mesh: Mesh, cut: Subdivision) -> tuple[Ints, Ints]:
    """The pieces of split edges: vertex pairs (n, 2), not sorted within a pair, and the edge each was part of."""
    counts = np.diff(cut.split_starts)
    ends = mesh.edges.ends[cut.split_edges].astype(np.int64)
    new = mesh.vertex_count + np.arange(cut.split_starts[-1])
    rows = np.repeat(np.arange(len(counts)), counts)
    first = np.zeros(len(new), dtype=bool)
    first[cut.split_starts[:-1]] = True
    before = np.where(first, ends[rows, 0], new - 1)
    last = new[cut.split_starts[1:] - 1] if len(counts) else new
    pairs = np.concatenate([np.stack([before, new], axis=1), np.stack([last, ends[:, 1]], axis=1)])
    return pairs, np.concatenate([rows, np.arange(len(counts))])


def _edges_of_loops(mesh: Mesh, cut: Subdivision) -> tuple[Ints, Ints]:
    """The edge of every loop corner, and the ends of the whole new edge table."""
    count = np.int64(mesh.vertex_count + len(cut.places))
    old_count = len(mesh.edges)

    def key(pairs: Ints) -> Ints:
        pairs = np.asarray(pairs, dtype=np.int64)
        a, b = pairs[:, 0], pairs[:, 1]
        return np.minimum(a, b) * count + np.maximum(a, b)

    border = distinct(mesh.edges.of_corner[row_positions(mesh.starts, cut.faces)[0]].astype(np.int64))
    border = border[~found_in(border, cut.split_edges)]
    pieces, part_of = _pieces(mesh, cut)
    heads = len(cut.split_edges)
    # The piece at the lower vertex keeps the edge's number.
    keeps = np.zeros(len(pieces), dtype=bool)
    keeps[cut.split_starts[:-1]] = heads > 0
    piece_edge = np.where(keeps, cut.split_edges[part_of] if heads else 0, 0)
    piece_edge[~keeps] = old_count + np.arange(int((~keeps).sum()))
    inner_edge = old_count + int((~keeps).sum()) + np.arange(len(cut.new_edges))

    keys = np.concatenate([key(mesh.edges.ends[border]), key(pieces), key(cut.new_edges)])
    numbers = np.concatenate([border, piece_edge, inner_edge])
    order = np.argsort(keys, kind="stable")
    child = cut.loops.astype(np.int64)
    wanted = key(np.stack([child, child[next_in_row(cut.loop_starts)]], axis=1))
    of_loop = numbers[order[np.searchsorted(keys[order], wanted)]]

    ends = np.concatenate([mesh.edges.ends, np.sort(pieces[~keeps], axis=1).astype(INDEX), cut.new_edges.astype(INDEX)])
    ends[piece_edge[keeps]] = np.sort(pieces[keeps], axis=1)
    return of_loop, ends


def _edge_table(mesh: Mesh, cut: Subdivision, ends: Ints, edge_of_loop: Ints, of_corner: Ints) -> EdgeTable:
    """The new edge table: faces are worked out anew for the edges of touched faces only."""
    affected = distinct(edge_of_loop)
    face_of_loop = np.concatenate([cut.faces, mesh.face_count + np.arange(len(cut.extra_parents))])[owner_of(cut.loop_starts)]
    old = affected[affected < len(mesh.edges)]
    old_edge, old_face = mesh.edges.face_pairs(old[~found_in(old, cut.split_edges)])
    stays = ~found_in(old_face, cut.faces)
    edge = np.concatenate([old_edge[stays], edge_of_loop])
    face = np.concatenate([old_face[stays], face_of_loop])
    order = np.lexsort((face, edge))
    edge, face = edge[order], face[order]
    first = np.searchsorted(edge, affected)
    count = np.diff(np.append(first, len(edge)))

    faces = np.concatenate([mesh.edges.faces, np.full((len(ends) - len(mesh.edges), 2), -1, dtype=INDEX)])
    faces[affected, 0] = face[first]
    faces[affected, 1] = np.where(count > 1, face[np.minimum(first + 1, len(face) - 1)], -1)
    crowded = {e: f for e, f in mesh.edges.crowded.items() if e not in set(affected.tolist())} if mesh.edges.crowded else {}
    for k in np.flatnonzero(count > 2).tolist():
        crowded[int(affected[k])] = tuple(int(f) for f in face[first[k] : first[k] + count[k]])
    return EdgeTable(sealed(ends), of_corner, sealed(faces), crowded)


def _hard_edges(mesh: Mesh, cut: Subdivision) -> Ints:
    """Hard edges with split ones replaced by their pieces; sorted."""
    if len(mesh.hard) == 0 or len(cut.split_edges) == 0:
        return mesh.hard
    count = np.int64(mesh.vertex_count + len(cut.places))
    hard = mesh.hard[:, 0] * count + mesh.hard[:, 1]
    split = mesh.edges.ends[cut.split_edges].astype(np.int64)
    was_hard = np.isin(split[:, 0] * count + split[:, 1], hard)
    pieces, part_of = _pieces(mesh, cut)
    new = np.sort(pieces[was_hard[part_of]], axis=1)
    left = mesh.hard[~np.isin(hard, split[was_hard] @ np.array([count, 1]))]
    both = np.concatenate([left, new])
    return both[np.lexsort((both[:, 1], both[:, 0]))]
