"""Clean a patch: its inner vertices go, and it is laid anew with the fewest faces that keep its
border."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.mesh.joined_faces import join_over
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Element, Note, face, vertex
from cutcore.params import Real
from cutcore.quads.mend import Wanted, mend
from cutcore.queries.named_elements import Faces, face_mask
from cutcore.queries.patches import patch_named
from cutcore.queries.uv_seams import uv_seams
from cutcore.reshape.dividing.triangulate import TriangulateParams
from cutcore.reshape.dividing.triangulate import apply as triangulate
from cutcore.tool import Example, Reshape, Reshaping, one_kind
from cutcore.words import count_of

# A patch is flat if nothing of it lies further off its plane than this share of its size.
FLAT_WITHIN = 1e-4


class CleanPatchParams(Reshaping):
    """A patch by name, or some faces, laid anew as one face, as quads or as triangles.

    What lies further off the plane of it than `within`, a share of its size, is a height: such a
    patch is refused, unless its heights are to be kept; then only what is flat about them goes."""

    tool: Literal["clean patch"] = "clean patch"
    patch: str | None = None
    faces: Faces | None = None
    to: Literal["one face", "quads", "triangles"] = "one face"
    heights: Literal["refuse", "keep"] = "refuse"
    within: Annotated[Real, Field(gt=0, le=1)] = FLAT_WITHIN

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        one_kind("a clean needs either a patch or faces", self.patch, self.faces)
        return self


def apply(mesh: Mesh, params: CleanPatchParams) -> Result:
    """UVs, materials and hard edges are kept: edges at which they part stay.

    Raises StepError, with the distance and the places, for a patch that is not flat."""
    inside = (
        face_mask(mesh, params.faces)
        if params.faces is not None
        else mesh.patch == patch_named(mesh, params.patch or "", where="patch")
    )
    gap, slack, off = _heights(mesh, inside, params.within)
    if params.heights == "refuse" and len(off):
        lie = f"{count_of(len(off), 'vertex lies', 'vertices lie')} up to {gap:.4g} off its plane"
        raise StepError(
            f"the patch is not flat: {lie}, and no more than {slack:.4g} is taken as flat",
            elements=tuple(vertex(int(v)) for v in off[:50]),
        )
    pairs = mesh.edges.faces
    inner: Bools = np.logical_and.reduce((pairs >= 0) & inside[pairs], axis=1)
    # What stands on such an edge would be left hanging.
    inner[list(mesh.edges.crowded)] = False
    parting = inner & (uv_seams(mesh) | mesh.edges.joining(mesh.hard))
    parting |= inner & (mesh.material[pairs[:, 0]] != mesh.material[pairs[:, 1]])
    flat = inner & ~parting
    if params.heights == "keep":
        flat &= _in_one_plane(mesh, flat, slack)
    joined = join_over(mesh, np.flatnonzero(flat), straight_within=None)
    result = Result(joined.mesh, joined.origin, Picked(faces=joined.faces))
    notes = _said(int(parting.sum()), joined.stuck)
    faces = np.flatnonzero(inside[joined.origin.face])
    if params.to == "quads":
        result = _then(result, _in_quads(joined.mesh, faces))
    elif params.to == "triangles":
        named = tuple(int(f) for f in faces)
        result = _then(result, triangulate(joined.mesh, TriangulateParams(faces=named)))
    if result.mesh is mesh:
        notes = (*notes, Note("nothing-to-do", "There is nothing to clean: it is laid so already."))
        return Result(mesh, Origin.same(mesh), notes=notes)
    return replace(result, notes=(*notes, *result.notes))


def _heights(mesh: Mesh, inside: Bools, within: float) -> tuple[float, float, Ints]:
    """How far off its plane a patch lies, how far it may, and its vertices (n,) that lie
    further."""
    vertices = np.unique(mesh.corners[np.repeat(inside, mesh.sizes)])
    if len(vertices) == 0:
        return 0.0, 0.0, vertices
    off = _off_plane(mesh.points[vertices])
    slack = within * float(np.linalg.norm(np.ptp(mesh.points[vertices], axis=0)))
    return float(off.max()), slack, vertices[off > slack]


def _off_plane(places: Floats) -> Floats:
    """How far places (n, 3) lie off the plane that fits them best."""
    middle = places - places.mean(axis=0)
    normal = np.linalg.svd(middle, full_matrices=len(places) < 3)[2][-1]
    return np.asarray(np.abs(middle @ normal))


def _in_one_plane(mesh: Mesh, edges: Bools, slack: float) -> Bools:
    """Which of some edges (E,) have two faces that lie in one plane, to within a distance."""
    found = np.zeros(len(edges), dtype=bool)
    for e in np.flatnonzero(edges).tolist():
        two = mesh.edges.faces[e]
        corners = np.concatenate([mesh.face(int(f)) for f in two])
        found[e] = float(_off_plane(mesh.points[corners]).max()) <= slack
    return found


def _in_quads(mesh: Mesh, faces: Ints) -> Result:
    wanted = np.zeros(mesh.face_count, dtype=bool)
    wanted[faces] = True
    done = mend(mesh, Wanted(wanted, allowed=wanted), weld=weld_of(mesh))
    changed = np.ones(done.mesh.face_count, dtype=bool)
    changed[done.origin.kept[done.origin.kept >= 0]] = False
    return replace(done, picked=Picked(np.flatnonzero(changed), done.picked.edges))


def _then(first: Result, second: Result) -> Result:
    if second.mesh is first.mesh:
        return replace(first, notes=(*first.notes, *second.notes))
    return replace(second, origin=then(first.origin, second.origin))


def _said(parting: int, stuck: Ints) -> tuple[Note, ...]:
    notes = []
    if parting:
        words = f"{count_of(parting, 'edge')} inside stay: UVs or materials part there, or they are hard."
        notes.append(Note("parting-stays", words))
    if len(stuck):
        where: tuple[Element, ...] = tuple(face(int(f)) for f in stuck[:50])
        words = "Some faces stay as they are: round a hole, or in pieces, they are no one face."
        notes.append(Note("not-one-face", words, where))
    return tuple(notes)


def _title(params: CleanPatchParams) -> str:
    of = f"patch {params.patch!r}" if params.patch is not None else "faces"
    return f"Clean {of} to {params.to}"


TOOL = Reshape(
    params=CleanPatchParams,
    title=_title,
    examples=(
        Example("cube", {"faces": [0, 1, 2, 3, 4, 5, 6, 7, 8]}),
        Example("plate", {"faces": [0, 1, 3, 4, 6, 7], "to": "quads"}),
        Example("plate", {"faces": [0, 1, 3, 4], "to": "triangles"}),
        Example("cube", {"faces": [0, 1, 3, 9, 10], "heights": "keep"}),
    ),
    apply=apply,
)
