"""Join patches: they become one, and the line between them is dissolved."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.mesh.mesh import Mesh
from cutcore.mesh.patched import with_patches
from cutcore.mesh.result import Result
from cutcore.mesh.submesh import then
from cutcore.notes import Note
from cutcore.queries.patches import patch_named
from cutcore.queries.uv_seams import uv_seams
from cutcore.reshape.opening.dissolve import DissolveParams
from cutcore.reshape.opening.dissolve import apply as dissolve
from cutcore.tool import Example, Reshape, Reshaping
from cutcore.words import count_of


class JoinPatchesParams(Reshaping):
    """The patches to join, the first of which gives its name, and whether the edges between them
    stay."""

    tool: Literal["join patches"] = "join patches"
    patches: Annotated[tuple[str, ...], Field(min_length=2, max_length=1000)]
    keep_line: bool = False


def apply(mesh: Mesh, params: JoinPatchesParams) -> Result:
    """Edges at which UVs part stay. Raises StepError if there is no such patch."""
    numbers = [
        patch_named(mesh, name, where=f"patches[{k}]") for k, name in enumerate(params.patches)
    ]
    pairs = mesh.edges.faces
    of = mesh.patch[np.maximum(pairs, 0)]
    between = (pairs >= 0).all(axis=1) & np.isin(of, numbers).all(axis=1) & (of[:, 0] != of[:, 1])
    patch = np.where(np.isin(mesh.patch, numbers), numbers[0], mesh.patch)
    named = with_patches(mesh, patch, mesh.patches)
    seams = between & uv_seams(mesh)
    gone = np.flatnonzero(between & ~seams)
    if params.keep_line or len(gone) == 0:
        return replace(named, notes=_notes(int(seams.sum())))
    pairs_gone = tuple((int(a), int(b)) for a, b in mesh.edges.ends[gone].tolist())
    done = dissolve(named.mesh, DissolveParams(edges=pairs_gone))
    notes = (*done.notes, *_notes(int(seams.sum())))
    return replace(done, origin=then(named.origin, done.origin), notes=notes)


def _notes(seams: int) -> tuple[Note, ...]:
    if seams == 0:
        return ()
    words = f"{count_of(seams, 'edge')} between the patches stay: their UVs part there."
    return (Note("uv-seam-stays", words),)


TOOL = Reshape(
    params=JoinPatchesParams,
    title=lambda params: f"Join {count_of(len(params.patches), 'patch', 'patches')}",
    examples=(
        Example("patched", {"patches": ["skin", "lid"]}),
        Example("patched", {"patches": ["lid", "skin"], "keep_line": True}),
    ),
    apply=apply,
)
