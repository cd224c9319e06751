"""Put the children of touched faces into a new mesh; everything else is copied in runs.

The edge table is carried over, not sorted anew: an edge keeps its number, the pieces of a split
edge and the edges inside faces come after, and only edges of touched faces get their faces looked
at."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from cutcore.geometry.arrays import INDEX, Ints, found_in, sealed
from cutcore.imprint.subdivision import Subdivision
from cutcore.kernels import faces_of_edges, spliced_rows, split_ends
from cutcore.mesh.edge_data import EdgeData
from cutcore.mesh.edge_table import EdgeTable
from cutcore.mesh.mesh import Mesh, box_of


def assemble(mesh: Mesh, cut: Subdivision) -> Mesh:
    """The mesh that a subdivision of some faces makes."""
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
    made = mesh.rebuilt(
        sealed(np.concatenate([mesh.points, cut.places])),
        sealed(starts),
        _spliced(mesh, cut, mesh.corners, cut.loops),
        edge_data=_edge_data(mesh, cut),
        further_from=cut.extra_parents,
        uv=uv,
    )
    if "box" in mesh.__dict__ and len(cut.places):
        # Every old vertex that faces used is used still.
        low, high = box_of(cut.places)
        made.__dict__["box"] = np.stack(
            [np.minimum(mesh.box[0], low), np.maximum(mesh.box[1], high)]
        )
    return made.with_edges(
        _edge_table(mesh, cut, _spliced(mesh, cut, mesh.edges.of_corner, cut.loop_edges))
    )


def _spliced(mesh: Mesh, cut: Subdivision, old: NDArray[Any], new: NDArray[Any]) -> NDArray[Any]:
    """A corner array with the rows of touched faces replaced and further rows put at the end."""
    made: NDArray[Any] = spliced_rows(old, mesh.starts, cut.faces, new, cut.loop_starts)
    return made


def _pieces(mesh: Mesh, cut: Subdivision) -> tuple[Ints, Ints]:
    """The pieces of split edges: vertex pairs (n, 2), not sorted within a pair, and the edge each
    was part of."""
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


def _edge_table(mesh: Mesh, cut: Subdivision, of_corner: Ints) -> EdgeTable:
    """The new edge table: only edges of touched faces get their ends and faces worked out anew."""
    before, pieces = len(mesh.edges), int(cut.split_starts[-1])
    ends = np.empty((before + pieces + len(cut.new_edges), 2), dtype=INDEX)
    ends[:before] = mesh.edges.ends
    ends[before + pieces :] = cut.new_edges
    split_ends(ends, before, cut.split_edges, cut.split_starts, mesh.vertex_count)

    faces = np.empty((len(ends), 2), dtype=INDEX)
    faces[:before] = mesh.edges.faces
    faces[before:] = -1
    loop_face = np.concatenate([cut.faces, mesh.face_count + np.arange(len(cut.extra_parents))])
    parents = np.concatenate([cut.faces, cut.extra_parents])
    over = faces_of_edges(faces, before, cut.loop_starts, cut.loop_edges, loop_face, parents)
    crowded = dict(mesh.edges.crowded)
    again = (
        np.union1d(np.flatnonzero(over), np.array(sorted(crowded), dtype=np.int64))
        if crowded or over.any()
        else ()
    )
    for e in again:
        then = mesh.edges.faces_at(int(e)) if e < before else ()
        stays = [f for f in then if not found_in(np.array([f]), cut.faces)[0]]
        comes = loop_face[
            np.searchsorted(cut.loop_starts, np.flatnonzero(cut.loop_edges == e), side="right") - 1
        ].tolist()
        there = sorted(stays + comes)
        faces[e] = (*there[:2], -1, -1)[:2]
        crowded.pop(int(e), None)
        if len(there) > 2:
            crowded[int(e)] = tuple(there)
    return EdgeTable(sealed(ends), of_corner, sealed(faces), crowded)


def _edge_data(mesh: Mesh, cut: Subdivision) -> EdgeData:
    """What the edges carry, split ones replaced by their pieces."""
    data = mesh.edge_data
    if len(data.ends) == 0 or len(cut.split_edges) == 0:
        return data
    rows = data.rows_of(mesh.edges.ends[cut.split_edges], mesh.vertex_count)
    pieces, part_of = _pieces(mesh, cut)
    return data.without(rows).with_more(data.taken(rows[part_of], pieces))
