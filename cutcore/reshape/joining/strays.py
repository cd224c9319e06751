"""Strays: vertices that hold nothing are taken out."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.geometry.arrays import Ints, row_positions
from cutcore.geometry.vectors import degrees_turned
from cutcore.mesh.joined_faces import with_rows
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.mesh.submesh import then, without_vertices
from cutcore.notes import Note, vertex
from cutcore.params import Real
from cutcore.queries.named_elements import Vertices, vertex_mask
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of


class StraysParams(Reshaping):
    """Vertices (all, if none are named) with two edges that run on straight within so many degrees;
    and those of no face, if `isolated`. On a border, too, if `borders`."""

    tool: Literal["strays"] = "strays"
    vertices: Vertices | None = None
    within: Annotated[Real, Field(ge=0, le=180)] = 1.0
    isolated: bool = True
    borders: bool = False


def apply(mesh: Mesh, params: StraysParams) -> Result:
    """A vertex stays, with a note, where a face can't spare it."""
    chosen = (
        np.ones(mesh.vertex_count, dtype=bool)
        if params.vertices is None
        else vertex_mask(mesh, params.vertices)
    )
    strays, kept = _strays(mesh, params, chosen)
    loose = np.flatnonzero(chosen & ~mesh.used) if params.isolated else np.zeros(0, np.int64)
    notes: tuple[Note, ...] = ()
    if len(kept):
        words = (
            f"{count_of(len(kept), 'vertex', 'vertices')} stay: a triangle has no corner to spare."
        )
        notes = (Note("strays-left", words, tuple(vertex(v) for v in kept[:50])),)
    if len(strays) + len(loose) == 0:
        nothing = Note("nothing-to-do", "No vertex is stray.")
        return Result(mesh, Origin.same(mesh), notes=notes or (nothing,))
    made, origin = mesh, Origin.same(mesh)
    if len(strays):
        gone = np.zeros(mesh.vertex_count, dtype=bool)
        gone[strays] = True
        faces = np.unique(mesh.face_of_corner[gone[mesh.corners]])
        at, starts = row_positions(mesh.starts, faces)
        rows = {
            f: row[~gone[mesh.corners[row]]]
            for f, row in zip(faces.tolist(), np.split(at, starts[1:-1]), strict=True)
        }
        made, origin = with_rows(mesh, rows)
    if len(loose):
        number = np.full(mesh.vertex_count, -1, dtype=np.int64)
        number[origin.vertex] = np.arange(made.vertex_count)
        left, after = without_vertices(made, number[loose])
        made, origin = left, then(origin, after)
    return replace(Result(made, origin), notes=notes)


def _strays(mesh: Mesh, params: StraysParams, chosen: np.ndarray) -> tuple[Ints, Ints]:
    """The vertices with two edges that run on straight, and those of them that have to stay."""
    valence = np.zeros(mesh.vertex_count, dtype=np.int64)
    known = mesh.edges.valence
    valence[: len(known)] = known
    on_border = np.zeros(mesh.vertex_count, dtype=bool)
    on_border[mesh.edges.ends[mesh.edges.border].ravel()] = True
    two = np.flatnonzero(chosen & (valence == 2) & (params.borders | ~on_border))
    straight, stuck = [], []
    spare = mesh.sizes.astype(np.int64) - 3
    for v in two.tolist():
        one, other = mesh.edges.at_vertex(v)
        a, b = (int(mesh.edges.ends[e][mesh.edges.ends[e] != v][0]) for e in (one, other))
        if degrees_turned(*mesh.points[[a, v, b]]) > params.within:
            continue
        faces = mesh.edges.faces_at_vertex(v)
        if (spare[faces] > 0).all() and mesh.edges.between(a, b) < 0:
            spare[faces] -= 1
            straight.append(v)
        else:
            stuck.append(v)
    return np.array(straight, dtype=np.int64), np.array(stuck, dtype=np.int64)


TOOL = Reshape(
    params=StraysParams,
    title=lambda params: "Stray vertices taken out",
    examples=(Example("worn", {}),),
    apply=apply,
)
