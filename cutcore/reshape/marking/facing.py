"""Facing: faces turned so that neighbours agree, and closed shells look outwards."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np

from cutcore.geometry.arrays import Bools, Ints
from cutcore.geometry.components import components
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Result
from cutcore.notes import Note, edge
from cutcore.queries.bodies import shell_volumes
from cutcore.reshape.marking.flip import turned_round
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of


class FacingParams(Reshaping):
    """The whole part: of every group of faces joined by edges, the fewest are turned that make them
    agree; a closed group looks outwards."""

    tool: Literal["facing"] = "facing"


def apply(mesh: Mesh, params: FacingParams) -> Result:
    """A group on which no two sides can be told (as a one-sided strip) keeps the edges where its
    faces disagree, with a note."""
    links, against = _links(mesh)
    turned, torn = _turns(mesh, links, against)
    notes: tuple[Note, ...] = ()
    if len(torn):
        words = f"At {count_of(len(torn), 'edge')} faces disagree still: their surface has one side only."
        notes = (Note("one-sided", words, tuple(edge(mesh.edges.ends[e]) for e in torn[:50])),)
    if not turned.any():
        nothing = Note("nothing-to-do", "All faces agree and look outwards already.")
        return Result(mesh, Origin.same(mesh), notes=notes or (nothing,))
    return replace(turned_round(mesh, turned), notes=notes)


def _links(mesh: Mesh) -> tuple[Ints, Bools]:
    """Edges between two faces, and whether (n,) the two run the same way along each."""
    two = mesh.edges.faces[:, 1] >= 0
    two[list(mesh.edges.crowded)] = False
    forward = mesh.edges.ends[mesh.edges.of_corner, 0] == mesh.corners
    ways = np.zeros(len(mesh.edges), dtype=np.int64)
    np.add.at(ways, mesh.edges.of_corner, np.where(forward, 1, -1))
    edges = np.flatnonzero(two)
    return edges, ways[edges] != 0


def _turns(mesh: Mesh, links: Ints, against: Bools) -> tuple[Bools, Ints]:
    """Which faces (F,) to turn, and the edges at which no turning helps.

    A face and its double stand for its two ways round; two faces agree by way of the links between
    their doubles, so that a group falls in two, one for each way."""
    count = mesh.face_count
    a, b = mesh.edges.faces[links].T
    crossing = np.where(against, count, 0)
    pairs = np.concatenate(
        [
            np.stack([a, b + crossing], axis=1),
            np.stack([a + count, (b + count + crossing) % (2 * count)], axis=1),
        ]
    )
    group = components(pairs.astype(np.int64), 2 * count)[1]
    one_sided = group[:count] == group[count:]
    shell = components(mesh.edges.faces[links].astype(np.int64), count)[1]
    # Of the two ways of each group the one that turns its first face not at all.
    first = np.full(int(shell.max(initial=0)) + 1, count, dtype=np.int64)
    np.minimum.at(first, shell, np.arange(count))
    turned = (group[:count] != group[first[shell]]) & ~one_sided
    number = len(first)
    closed = np.ones(number, dtype=bool)
    loose = mesh.edges.border.copy()
    loose[list(mesh.edges.crowded)] = True
    closed[shell[mesh.edges.face_pairs(np.flatnonzero(loose))[1]]] = False
    volume = shell_volumes(mesh, shell, number, turned)
    many = 2 * np.bincount(shell[turned], minlength=number) > np.bincount(shell, minlength=number)
    whole = np.where(closed, volume < 0, many)
    turned = np.where(one_sided, False, turned ^ whole[shell])
    torn = links[one_sided[a] & against]
    return turned, torn


TOOL = Reshape(
    params=FacingParams,
    title=lambda params: "Faces made to agree",
    examples=(Example("worn", {}),),
    apply=apply,
    turns=True,
)
