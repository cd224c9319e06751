"""Quads: picked faces, or the whole part, turned into quads."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field

from cutcore.errors import StepError
from cutcore.geometry.chart import chart_of
from cutcore.kernels import form_of
from cutcore.mesh.changed_edges import edges_of_picked_faces
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Picked, Result
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note
from cutcore.params import Index, Real
from cutcore.quads.mend import CLEAR, Wanted, mend
from cutcore.quads.polygon import ways_of
from cutcore.queries.named_elements import Faces, chosen_faces
from cutcore.tool import Drawn, Example, Extra, Reshape, Reshaping
from cutcore.words import count_of


class QuadsParams(Reshaping):
    """The faces to turn into quads; all of them if none are named.

    Odd faces side by side are joined where they lean against each other by no more than `within`
    degrees; else the surface stays where it was. Of one face, `corners` are pairs of its vertices
    that are joined whatever else is, and `way` says which of the ways to cut it is taken, 0 being
    the best."""

    tool: Literal["quads"] = "quads"
    faces: Faces | None = None
    within: Annotated[Real, Field(ge=0, le=90)] = 25.0
    corners: tuple[tuple[Index, Index], ...] = ()
    way: Annotated[int, Field(ge=0, le=2)] = 0


def apply(mesh: Mesh, params: QuadsParams) -> Result:
    """Raises StepError for corners that are not joined inside one of the faces into pieces with
    even numbers of sides."""
    faces = chosen_faces(mesh, params.faces)
    for k, pair in enumerate(params.corners):
        within = [f for f in np.flatnonzero(faces).tolist() if np.isin(pair, mesh.face(f)).all()]
        if pair[0] == pair[1] or not within:
            words = f"the vertices {pair[0]} and {pair[1]} are not corners of one of the faces"
            raise StepError(words, where=f"corners[{k}]")
    wanted = Wanted(faces, degrees=params.within, chords=params.corners, way=params.way)
    done = mend(mesh, wanted, weld=weld_of(mesh))
    if done.mesh is mesh:
        nothing = Note("nothing-to-do", "All of these faces are quads already.")
        return replace(done, notes=done.notes or (nothing,))
    changed = np.ones(done.mesh.face_count, dtype=bool)
    changed[done.origin.kept[done.origin.kept >= 0]] = False
    return replace(done, picked=Picked(np.flatnonzero(changed), done.picked.edges))


class Way(BaseModel):
    """One way to cut a face into quads: how many, and the worst corner of them, as in a flat
    face."""

    quads: int
    jacobian: float


class QuadsExtra(Extra):
    """The ways to cut a single face into quads, the best first."""

    of: Literal["quads"] = "quads"
    ways: list[Way]


def extra_of(mesh: Mesh, params: QuadsParams, drawn: Drawn) -> QuadsExtra:
    """What the plan of a single face shows; of several, or an odd one, no ways."""
    if params.faces is None or len(params.faces) != 1 or params.faces[0] >= mesh.face_count:
        return QuadsExtra(ways=[])
    loop = mesh.face(params.faces[0])
    if len(loop) % 2 or len(loop) == 4:
        return QuadsExtra(ways=[])
    places = mesh.points[loop]
    flat = chart_of(places).flatten(places)
    number = {int(v): k for k, v in enumerate(loop)}
    chords = [(number[a], number[b]) for a, b in params.corners if a in number and b in number]
    found = ways_of(flat, CLEAR * weld_of(mesh), chords, several=True)[:MOST_WAYS]
    ways = []
    for way in found:
        corners = np.concatenate([flat, way.inner])
        ways.append(
            Way(
                quads=len(way.quads),
                jacobian=min(float(form_of(corners[quad])) for quad in way.quads),
            )
        )
    return QuadsExtra(ways=ways)


# So many ways of one face are offered.
MOST_WAYS = 3


def _title(params: QuadsParams) -> str:
    which = "All faces" if params.faces is None else count_of(len(params.faces), "face")
    return f"{which} turned into quads"


TOOL = Reshape(
    params=QuadsParams,
    title=_title,
    examples=(
        Example("drum", {}),
        Example("drum", {"faces": [0], "way": 1}),
    ),
    moves=edges_of_picked_faces,
    extra=extra_of,
    apply=apply,
)
