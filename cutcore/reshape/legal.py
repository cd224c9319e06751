"""What no reshape may bring about: edges at which more than two faces meet where two met before, or
at which two faces meet that run against each other."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Ints
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.notes import Note, position
from cutcore.queries.problems import clashing_edges
from cutcore.words import count_of

WORDS = "more than two faces would meet at an edge"
AGAINST = "two faces would meet at an edge that run against each other"


def crowded_anew(before: Mesh, result: Result) -> list[int]:
    """The edges of a result, by number, at which more faces meet than at the edge they were, and
    more than two."""
    after, origin = result.mesh, result.origin.vertex
    found = []
    for edge, faces in after.edges.crowded.items():
        a, b = (int(v) for v in origin[after.edges.ends[edge]])
        was = before.edges.between(a, b) if min(a, b) >= 0 else -1
        if was < 0 or len(before.edges.faces_at(was)) < len(faces):
            found.append(edge)
    return found


def clashing_anew(before: Mesh, result: Result) -> list[int]:
    """The edges of a result, by number, at which two faces meet that run against each other, and
    did not before."""
    origin, ends = result.origin.vertex, result.mesh.edges.ends
    clashed = {tuple(sorted(pair)) for pair in before.edges.ends[clashing_edges(before)].tolist()}
    return [
        e
        for e in clashing_edges(result.mesh).tolist()
        if tuple(sorted(origin[ends[e]].tolist())) not in clashed
    ]


def refuse_illegal(before: Mesh, result: Result, *, turns: bool = False) -> None:
    """Raise StepError, with the place, if an edge has got more than two faces by a reshape, or two
    that run against each other.

    The latter is what a reshape that `turns` faces is asked for; and of three faces at an edge the
    two that are left may never have agreed."""
    if result.mesh.edges is before.edges:
        # What only moved has the edges it had.
        return
    found, words = crowded_anew(before, result), WORDS
    if not found and not turns and not before.edges.crowded:
        found, words = clashing_anew(before, result), AGAINST
    if found:
        ends: Ints = result.mesh.edges.ends[found[0]]
        raise StepError(words, elements=(position(result.mesh.points[ends].mean(axis=0)),))


def folded_anew(before: Mesh, result: Result) -> Ints:
    """The faces of a result, ascending, that look the other way than the face they were."""
    after, parent = result.mesh, result.origin.face
    changed = np.ones(after.face_count, dtype=bool)
    changed[result.origin.kept[result.origin.kept >= 0]] = False
    faces = np.flatnonzero(changed & (parent >= 0))
    then, now = before.face_normals(parent[faces]), after.face_normals(faces)
    return faces[np.einsum("ij,ij->i", then, now) < 0]


def refuse_folded(before: Mesh, result: Result) -> Result:
    """Raise StepError, with the places, if a reshape folds faces over."""
    folded = folded_anew(before, result)
    if len(folded):
        after = result.mesh
        raise StepError(
            f"{count_of(len(folded), 'face')} would fold over",
            elements=tuple(
                position(after.points[after.face(f)].mean(axis=0)) for f in folded[:20].tolist()
            ),
        )
    return result


def refuse_broken(before: Mesh, result: Result, *, anyway: bool) -> Result:
    """Raise StepError, with the place, if a reshape folds faces over, or makes an edge have more
    than two faces or two that run against each other; wanted `anyway`, a note says so."""
    if not anyway:
        refuse_illegal(before, result)
        return refuse_folded(before, result)
    folded = folded_anew(before, result)
    edges = crowded_anew(before, result) + clashing_anew(before, result)
    after = result.mesh
    notes = []
    if len(folded):
        places = (after.points[after.face(f)].mean(axis=0) for f in folded[:50].tolist())
        words = f"{count_of(len(folded), 'face')} folded over."
        notes.append(Note("folded", words, tuple(map(position, places))))
    if edges:
        places = (after.points[after.edges.ends[e]].mean(axis=0) for e in edges[:50])
        words = f"At {count_of(len(edges), 'edge')} more than two faces meet, or two that run against each other."
        notes.append(Note("crowded", words, tuple(map(position, places))))
    return replace(result, notes=(*result.notes, *notes))
