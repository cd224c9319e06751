"""Creases: hard edges of less than full strength, carried through whatever is done to a mesh."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.mesh.edge_descent import old_ends
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result


def strengths_of(mesh: Mesh) -> Floats:
    """How sharp each edge (E,) is: 1 for hard ones, borders and those of more than two faces, less
    for creases, 0 for soft ones."""
    found = np.where(mesh.edges.border, 1.0, 0.0)
    found[list(mesh.edges.crowded)] = 1.0
    at = np.flatnonzero(mesh.edges.joining(mesh.hard))
    found[at] = np.maximum(found[at], strengths_of_pairs(mesh, mesh.edges.ends[at]))
    return found


def strengths_of_pairs(mesh: Mesh, pairs: Ints) -> Floats:
    """How sharp some hard edges (n,) are, given as vertex pairs (n, 2), lower vertex first."""
    if mesh.strength is None:
        return np.ones(len(pairs))
    weights = np.array([np.int64(mesh.vertex_count), 1])
    keys = mesh.hard.astype(np.int64) @ weights
    order = np.argsort(keys)
    at = np.searchsorted(keys[order], pairs.astype(np.int64) @ weights)
    return np.asarray(mesh.strength[order[at]])


def with_hard(mesh: Mesh, hard: Bools, strength: Floats | None = None) -> Mesh:
    """The mesh with just some edges (E,) hard, each as sharp as is said (E,)."""
    at = np.flatnonzero(hard)
    ends = mesh.edges.ends[at]
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    sharp = None if strength is None or (strength[at] == 1.0).all() else strength[at][order]
    edges = mesh.edges
    return replace(mesh, hard=ends[order], strength=sharp).with_edges(edges)


def with_strengths(before: Mesh, result: Result) -> Result:
    """A result whose hard edges have the strength of those they were.

    One that was split hands it to its parts: these are followed over new vertices to the old ones at
    their ends. What comes of none is hard."""
    made = result.mesh
    if made.strength is None and before.strength is not None and made is not before:
        made = _with(made, _carried(before, result))
    elif made.strength is not None and (made.strength == 1.0).all():
        made = _with(made, None)
    return result if made is result.mesh else replace(result, mesh=made)


def _with(mesh: Mesh, strength: Floats | None) -> Mesh:
    if strength is not None and (strength == 1.0).all():
        strength = None
    edges = mesh.edges
    return replace(mesh, strength=strength).with_edges(edges)


def _carried(before: Mesh, result: Result) -> Floats:
    assert before.strength is not None
    known = {
        (int(a), int(b)): float(s)
        for (a, b), s in zip(before.hard.tolist(), before.strength.tolist(), strict=True)
    }
    pairs = [(int(a), int(b)) for a, b in result.mesh.hard.tolist()]
    return np.array([known.get(ends, 1.0) for ends in old_ends(pairs, result.origin.vertex)])
