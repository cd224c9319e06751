"""Slide: vertices and loops run along the edges they sit on, and never leave the surface."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.camera import Vector
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.texture_map import texture_shift
from cutcore.notes import Note, vertex
from cutcore.params import Real
from cutcore.queries.named_elements import Edges, Vertices, edges_named, vertex_mask
from cutcore.queries.rails import Rails, rails_along, rails_of_chains
from cutcore.reshape.placing.moving import moved_to
from cutcore.reshape.placing.symmetric import moved_alike
from cutcore.tool import Drawn, Example, Extra, Place, Reshape, Reshaping, one_kind, place_of
from cutcore.trace.mirror import Mirror
from cutcore.words import count_of, length_words, share_words

# Of more rails evenly chosen ones are shown.
MOST_SHOWN = 200


class SlideParams(Reshaping):
    """Chains of `edges` slide to their left by an amount above 0, to their right by one below; single
    `vertices` along or against a direction (`towards`).

    The amount is a share of the edge each vertex runs along, or a distance, of which no edge gives
    more than it has. `even` sets every vertex to the same share of its whole way from the right to
    the left: 0 is the middle then."""

    tool: Literal["slide"] = "slide"
    edges: Edges | None = None
    vertices: Vertices | None = None
    towards: Vector = (1.0, 0.0, 0.0)
    by: Real
    measure: Literal["share", "distance"] = "share"
    even: bool = False
    mirror: Mirror | None = None

    @model_validator(mode="after")
    def _goes_together(self) -> Self:
        one_kind("name either edges or vertices", self.edges, self.vertices)
        if self.measure == "share" and not -1 <= self.by <= 1:
            raise ValueError("a share from -1 to 1")
        if self.even and self.measure == "distance":
            raise ValueError("an even loop goes by share")
        return self


def apply(mesh: Mesh, params: SlideParams) -> Result:
    """Every vertex stays on the line of the edge it runs along, and texture places with it; by 0 all
    stays as it is. What has no edge to run along stays, and is noted.

    Raises StepError where picked edges fork."""
    rails = _rails(mesh, params)
    here = mesh.points[rails.vertices]
    goal, share = _goals(mesh, rails, params)
    points = mesh.points.copy()
    moves = (goal >= 0) & (share != 0.0)
    far = mesh.points[np.maximum(goal, 0)]
    points[rails.vertices] = np.where(moves[:, None], here + share[:, None] * (far - here), here)
    made, notes = moved_alike(mesh, points, params.mirror)
    stuck = rails.vertices[goal < 0]
    if len(stuck) and params.by != 0.0:
        words = f"{count_of(len(stuck), 'vertex', 'vertices')} stay: no edge leaves to that side."
        notes = (*notes, Note("slide-stuck", words, tuple(vertex(v) for v in stuck[:50])))
    uv = (
        None
        if mesh.uv is None
        else _texture(mesh, rails.vertices[moves], goal[moves], share[moves])
    )
    result = moved_to(mesh, made, uv)
    return replace(result, notes=(*result.notes, *notes))


def _rails(mesh: Mesh, params: SlideParams) -> Rails:
    if params.edges is not None:
        return rails_of_chains(mesh, edges_named(mesh, params.edges))
    if not any(params.towards):
        raise StepError("a direction can't be zero", where="towards")
    chosen = np.flatnonzero(vertex_mask(mesh, params.vertices or ()))
    return rails_along(mesh, chosen, np.array(params.towards))


def _goals(mesh: Mesh, rails: Rails, params: SlideParams) -> tuple[Ints, Floats]:
    """Towards which vertex (n,) each goes, -1 for none, and by which share (n,) of the way there."""
    lengths = [
        np.where(
            end >= 0,
            np.linalg.norm(mesh.points[np.maximum(end, 0)] - mesh.points[rails.vertices], axis=1),
            0.0,
        )
        for end in (rails.left, rails.right)
    ]
    if params.even:
        # From the vertex, along the way from the right end to the left.
        run = (0.5 + 0.5 * params.by) * (lengths[0] + lengths[1]) - lengths[1]
        to_left = run >= 0
        length = np.where(to_left, *lengths)
        share = np.abs(run) / np.where(length > 0, length, 1.0)
    else:
        to_left = np.full(len(rails.vertices), params.by >= 0)
        share = np.full(len(rails.vertices), abs(params.by))
        if params.measure == "distance":
            length = np.where(to_left, *lengths)
            share = share / np.where(length > 0, length, 1.0)
    return np.where(to_left, rails.left, rails.right), np.minimum(share, 1.0)


def _texture(mesh: Mesh, moved: Ints, goal: Ints, share: Floats) -> Floats:
    """Texture places (C, 2): in the faces beside an edge they run along it; where others have the
    same at the vertex these go along, else each face keeps its map."""
    assert mesh.uv is not None
    uv = mesh.uv.copy()
    for v, end, t in zip(moved.tolist(), goal.tolist(), share.tolist(), strict=True):
        faces = mesh.edges.faces_at_vertex(v)
        beside = set(mesh.edges.faces_at(mesh.edges.between(v, end)))
        shift = t * (mesh.points[end] - mesh.points[v])
        known: dict[tuple[float, ...], Floats] = {}
        for face in sorted(faces.tolist(), key=lambda f: f not in beside):
            begin, loop = int(mesh.starts[face]), mesh.face(face).tolist()
            corner = begin + loop.index(v)
            was = mesh.uv[corner]
            if not np.isfinite(was).all():
                continue
            ahead = mesh.uv[begin + loop.index(end)] if face in beside else np.full(2, np.nan)
            if np.isfinite(ahead).all():
                known[tuple(was)] = t * (ahead - was)
            elif tuple(was) not in known:
                shifts = np.zeros((len(loop), 3))
                shifts[corner - begin] = shift
                known[tuple(was)] = texture_shift(mesh, np.array([face]), shifts)[corner - begin]
            uv[corner] = was + known[tuple(was)]
    return uv


class SlideExtra(Extra):
    """The rails: where each vertex is, and the ends of its edges to the left and right, null for
    none."""

    of: Literal["slide"] = "slide"
    rails: Annotated[list[tuple[Place, Place | None, Place | None]], Field(max_length=MOST_SHOWN)]


def extra_of(mesh: Mesh, params: SlideParams, drawn: Drawn) -> SlideExtra | None:
    """What the plan of a slide shows; of one that can't be laid nothing."""
    try:
        rails = _rails(mesh, params)
    except StepError:
        return None

    def end(at: int) -> Place | None:
        return place_of(mesh.points[at]) if at >= 0 else None

    every = slice(None, None, 1 + (len(rails.vertices) - 1) // MOST_SHOWN)
    rows = zip(rails.vertices[every], rails.left[every], rails.right[every], strict=True)
    return SlideExtra(rails=[(place_of(mesh.points[v]), end(a), end(b)) for v, a, b in rows])


def _title(params: SlideParams) -> str:
    what = (
        count_of(len(params.edges), "edge")
        if params.edges is not None
        else count_of(len(params.vertices or ()), "vertex", "vertices")
    )
    if params.even:
        return f"{what} slid, evenly placed"
    by = share_words(params.by) if params.measure == "share" else length_words(params.by)
    return f"{what} slid by {by}"


TOOL = Reshape(
    params=SlideParams,
    title=_title,
    examples=(
        Example("plate", {"edges": [[5, 6]], "by": 0.3}),
        Example(
            "plate", {"vertices": [5], "towards": [1, 0, 0.1], "by": -0.2, "measure": "distance"}
        ),
        Example("cube", {"edges": [[1, 8]], "by": 0.5, "even": True}),
    ),
    moves=edges_of_moved_vertices,
    extra=extra_of,
    apply=apply,
)
