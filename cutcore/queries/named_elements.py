"""Elements that parameters name: whether they are there, and where they lie."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.mesh.mesh import Mesh
from cutcore.notes import Element
from cutcore.params import Index

Faces = Annotated[tuple[Index, ...], Field(min_length=1)]
Vertices = Annotated[tuple[Index, ...], Field(min_length=1)]
Edges = Annotated[tuple[tuple[Index, Index], ...], Field(min_length=1)]


def face_mask(mesh: Mesh, faces: Sequence[int], *, where: str = "faces") -> Bools:
    """Which faces (F,) are named. Raises StepError for one that is not there."""
    return _mask(faces, mesh.face_count, "face", where)


def chosen_faces(mesh: Mesh, faces: Sequence[int] | None) -> Bools:
    """Which faces (F,) are named; all where no list is given."""
    return np.ones(mesh.face_count, dtype=bool) if faces is None else face_mask(mesh, faces)


def vertex_mask(mesh: Mesh, vertices: Sequence[int], *, where: str = "vertices") -> Bools:
    return _mask(vertices, mesh.vertex_count, "vertex", where)


def _mask(chosen: Sequence[int], count: int, what: str, where: str) -> Bools:
    mask = np.zeros(count, dtype=bool)
    for k, index in enumerate(chosen):
        if index >= count:
            many = {"face": "faces", "vertex": "vertices"}[what]
            raise StepError(f"there are {count} {many}, got {what} {index}", where=f"{where}[{k}]")
        mask[index] = True
    return mask


def edges_named(mesh: Mesh, pairs: Sequence[tuple[int, int]], *, where: str = "edges") -> Ints:
    """Edge numbers (n,) of vertex pairs. Raises StepError for a pair without an edge."""
    found = []
    for k, (a, b) in enumerate(pairs):
        edge = mesh.edges.between(a, b)
        if edge < 0:
            raise StepError(
                f"there is no edge between the vertices {a} and {b}", where=f"{where}[{k}]"
            )
        found.append(edge)
    return np.unique(np.array(found, dtype=np.int64))


def middle_of(mesh: Mesh, element: Element) -> Floats:
    """Where an element lies, for showing it: the mean (3,) of its vertices."""
    value: Any = element.value
    if element.kind == "at":
        return np.array(value, dtype=np.float64)
    vertices = mesh.face(value) if element.kind == "face" else np.atleast_1d(value)
    return np.asarray(mesh.points[vertices].mean(axis=0))
