"""What no reshape may bring about: edges at which more than two faces meet where two met before, or
at which two faces meet that run against each other; and faces that cross themselves, or name a
vertex twice."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints, row_positions
from cutcore.kernels import crossed_rows, repeating_rows
from cutcore.mesh.edge_descent import old_ends
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Element, Note, position
from cutcore.queries.problems import clashing_edges, flat_among
from cutcore.words import count_of

WORDS = "more than two faces would meet at an edge"
AGAINST = "two faces would meet at an edge that run against each other"


def crowded_anew(before: Mesh, result: Result) -> list[int]:
    """The edges of a result, by number, at which more faces meet than at the edge they were, and
    more than two."""
    after, table = result.mesh, before.edges
    edges = list(after.edges.crowded)
    found = []
    for edge, (a, b) in zip(edges, _were(result, edges), strict=True):
        was = table.between(a, b) if min(a, b) >= 0 else -1
        if was < 0 or len(table.faces_at(was)) < len(after.edges.crowded[edge]):
            found.append(edge)
    return found


def clashing_anew(before: Mesh, result: Result) -> list[int]:
    """The edges of a result, by number, at which two faces meet that run against each other, and
    did not before."""
    clashed = {(int(a), int(b)) for a, b in before.edges.ends[clashing_edges(before)].tolist()}
    edges = clashing_edges(result.mesh).tolist()
    return [e for e, ends in zip(edges, _were(result, edges), strict=True) if ends not in clashed]


def _were(result: Result, edges: list[int]) -> list[tuple[int, int]]:
    """The old edges that some edges of a result are pieces of, as vertices, -1 where they are of
    none."""
    pairs = [(int(a), int(b)) for a, b in result.mesh.edges.ends[edges].tolist()]
    return old_ends(pairs, result.origin.vertex)


def refuse_illegal(before: Mesh, result: Result, *, turns: bool = False) -> None:
    """Raise StepError, with the place, if an edge has got more than two faces by a reshape, or two
    that run against each other; or if a face crosses itself or has no area.

    That faces run against each other is what a reshape that `turns` faces is asked for; and of three
    faces at an edge the two that are left may never have agreed."""
    _refuse_edges(before, result, turns=turns)
    _refuse_ill_faces(before, result)


def _refuse_edges(before: Mesh, result: Result, *, turns: bool = False) -> None:
    if result.mesh.edges is before.edges:
        # What only moved has the edges it had.
        return
    found, words = crowded_anew(before, result), WORDS
    if not found and not turns and not before.edges.crowded:
        found, words = clashing_anew(before, result), AGAINST
    if found:
        ends: Ints = result.mesh.edges.ends[found[0]]
        raise StepError(words, elements=(position(result.mesh.points[ends].mean(axis=0)),))


def _refuse_ill_faces(before: Mesh, result: Result) -> None:
    crossed = crossed_anew(before, result)
    if len(crossed):
        words = count_of(len(crossed), "face would cross itself", "faces would cross themselves")
        raise StepError(words, elements=_middles(result.mesh, crossed))
    flat = flat_anew(before, result)
    if len(flat):
        words = count_of(len(flat), "face would have no area", "faces would have no area")
        raise StepError(words, elements=_middles(result.mesh, flat))


def flat_anew(before: Mesh, result: Result) -> Ints:
    """The faces of a result, ascending, that have no area and came of none without."""
    after, parent, weld = result.mesh, result.origin.face, weld_of(before)
    faces = _changed(result)
    flat = faces[flat_among(after, faces, weld=weld)]
    came = parent[flat]
    was = np.zeros(len(flat), dtype=bool)
    was[came >= 0] = flat_among(before, came[came >= 0], weld=weld)
    return flat[~was]


def noted_ill(before: Mesh, result: Result, *, pieces: bool = False) -> Result:
    """A result with notes of the faces that cross themselves or have no area by it, where what was
    asked for makes them so: vertices moved, or what was cut moved on; `pieces` as for
    `crossed_anew`."""
    notes = list(result.notes)
    crossed = crossed_anew(before, result, pieces=pieces)
    if len(crossed):
        words = f"{count_of(len(crossed), 'face crosses itself', 'faces cross themselves')} then."
        notes.append(Note("crossing", words, _middles(result.mesh, crossed)))
    flat = flat_anew(before, result)
    if len(flat) and "move-flattens" not in {note.code for note in notes}:
        words = f"{count_of(len(flat), 'face has', 'faces have')} no area then."
        notes.append(Note("no-area", words, _middles(result.mesh, flat)))
    return replace(result, notes=tuple(notes)) if len(notes) > len(result.notes) else result


def crossed_anew(before: Mesh, result: Result, *, pieces: bool = False) -> Ints:
    """The faces of a result, ascending, that cross themselves as they are seen from in front, or
    name a vertex twice, and came of none that did. Those that are `pieces` of others may be simple
    only as seen square to these: slivers of bent ones."""
    after, parent = result.mesh, result.origin.face
    faces = _changed(result)
    wrong = faces[_crossed(after, faces, after.face_normals(faces))]
    came = parent[wrong]
    old = came >= 0
    normals = before.face_normals(came[old])
    passes = np.zeros(len(wrong), dtype=bool)
    passes[old] = _crossed(before, came[old], normals)
    if pieces:
        passes[old] |= ~_crossed(after, wrong[old], normals)
    return wrong[~passes]


def _changed(result: Result) -> Ints:
    """The faces of a result, ascending, that were touched or are new."""
    changed = np.ones(result.mesh.face_count, dtype=bool)
    changed[result.origin.kept[result.origin.kept >= 0]] = False
    return np.flatnonzero(changed)


def _crossed(mesh: Mesh, faces: Ints, normals: Floats) -> Bools:
    """Which of some faces (n,) cross themselves, seen against normals (n, 3), or name a vertex
    twice."""
    if len(faces) == 0:
        return np.zeros(0, dtype=bool)
    at, starts = row_positions(mesh.starts, faces)
    loops = mesh.corners[at].astype(np.int64)
    found: Bools = crossed_rows(mesh.points[loops], starts, normals)
    found |= repeating_rows(loops, starts)
    return found


def _middles(mesh: Mesh, faces: Ints) -> tuple[Element, ...]:
    return tuple(position(mesh.points[mesh.face(f)].mean(axis=0)) for f in faces[:20].tolist())


def folded_anew(before: Mesh, result: Result) -> Ints:
    """The faces of a result, ascending, that look the other way than the face they were."""
    after, parent = result.mesh, result.origin.face
    faces = _changed(result)
    faces = faces[parent[faces] >= 0]
    then, now = before.face_normals(parent[faces]), after.face_normals(faces)
    return faces[np.einsum("ij,ij->i", then, now) < 0]


def refuse_folded(before: Mesh, result: Result) -> Result:
    """Raise StepError, with the places, if a reshape folds faces over."""
    folded = folded_anew(before, result)
    if len(folded):
        raise StepError(
            f"{count_of(len(folded), 'face')} would fold over",
            elements=_middles(result.mesh, folded),
        )
    return result


def refuse_broken(before: Mesh, result: Result, *, anyway: bool) -> Result:
    """Raise StepError, with the place, if a reshape folds faces over, or makes an edge have more
    than two faces or two that run against each other; wanted `anyway`, a note says so."""
    if not anyway:
        _refuse_edges(before, result)
        refuse_folded(before, result)
        _refuse_ill_faces(before, result)
        return result
    folded = folded_anew(before, result)
    edges = crowded_anew(before, result) + clashing_anew(before, result)
    after = result.mesh
    notes = []
    if len(folded):
        places = (after.points[after.face(f)].mean(axis=0) for f in folded[:50].tolist())
        words = f"{count_of(len(folded), 'face')} folded over."
        notes.append(Note("folded", words, tuple(map(position, places))))
    crossed = crossed_anew(before, result)
    if len(crossed):
        words = f"{count_of(len(crossed), 'face crosses itself', 'faces cross themselves')} then."
        notes.append(Note("crossing", words, _middles(after, crossed)))
    flat = flat_anew(before, result)
    if len(flat):
        words = f"{count_of(len(flat), 'face has', 'faces have')} no area then."
        notes.append(Note("no-area", words, _middles(after, flat)))
    if edges:
        places = (after.points[after.edges.ends[e]].mean(axis=0) for e in edges[:50])
        words = f"At {count_of(len(edges), 'edge')} more than two faces meet, or two that run against each other."
        notes.append(Note("crowded", words, tuple(map(position, places))))
    return replace(result, notes=(*result.notes, *notes))
