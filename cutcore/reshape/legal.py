"""What no reshape may bring about: edges at which more than two faces meet, where two met before."""

from __future__ import annotations

from cutcore.arrays import Ints
from cutcore.errors import StepError
from cutcore.mesh import Mesh
from cutcore.notes import position
from cutcore.result import Result

WORDS = "more than two faces would meet at an edge"


def crowded_anew(before: Mesh, result: Result) -> list[int]:
    """The edges of a result, by number, at which more faces meet than at the edge they were, and more than two."""
    after, origin = result.mesh, result.origin.vertex
    found = []
    for edge, faces in after.edges.crowded.items():
        a, b = (int(v) for v in origin[after.edges.ends[edge]])
        was = before.edges.between(a, b) if min(a, b) >= 0 else -1
        if was < 0 or len(before.edges.faces_at(was)) < len(faces):
            found.append(edge)
    return found


def refuse_crowded(before: Mesh, result: Result) -> Result:
    """The same result. Raises StepError, with the place, if an edge has got more than two faces by it."""
    found = crowded_anew(before, result)
    if found:
        ends: Ints = result.mesh.edges.ends[found[0]]
        raise StepError(WORDS, elements=(position(result.mesh.points[ends].mean(axis=0)),))
    return result
