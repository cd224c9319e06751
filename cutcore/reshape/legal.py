"""What no reshape may bring about: edges at which more than two faces meet where two met before, or
at which two faces meet that run against each other."""

from __future__ import annotations

from cutcore.errors import StepError
from cutcore.geometry.arrays import Ints
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.notes import position
from cutcore.queries.problems import clashing_edges

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
    found, words = crowded_anew(before, result), WORDS
    if not found and not turns and not before.edges.crowded:
        found, words = clashing_anew(before, result), AGAINST
    if found:
        ends: Ints = result.mesh.edges.ends[found[0]]
        raise StepError(words, elements=(position(result.mesh.points[ends].mean(axis=0)),))
