"""Shards: break a part into many, along planes or into cells, each piece closed."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.spatial import cKDTree

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats
from cutcore.geometry.plane import Plane
from cutcore.mesh.last_answer import last_answer
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then, without_vertices
from cutcore.mesh.together import together
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note
from cutcore.params import Real
from cutcore.progress import come_to
from cutcore.queries.bodies import bodies_of, is_closed, volume_of
from cutcore.reshape.building.thicken import thickened
from cutcore.shapes.small import FROM_A_CORNER
from cutcore.tool import Drawn, Example, Extra, Place, Reshape, Reshaping, place_of
from cutcore.tools.shards.piece import Halving, Piece, flat_where_cut
from cutcore.tools.shards.planes import (
    ByCells,
    ByCounts,
    ByLines,
    ByRandomPlanes,
    Way,
    cells_of,
    places_in,
    planes_of,
)
from cutcore.words import count_of

# A part is broken into so many at most.
MOST_SHARDS = 1000
# From so many planes on that is looked at with so many places before anything is broken.
LEAST_MANY = 10
STREWN = 4000
# Of more new edges evenly chosen ones are shown.
MOST_SHOWN = 4000


class ShardsParams(Reshaping):
    """How a part is broken.

    `cap` closes every piece where it was cut; the faces that do so are a patch and have a material
    of the name `inside`, or of none. An open part is given `thickness` first, if that is more than
    0: inwards from its faces. With `as_parts` every piece becomes a part of its own, else all stay
    one part."""

    tool: Literal["shards"] = "shards"
    by: Way = ByCells()
    cap: bool = True
    inside: Annotated[str, Field(max_length=120)] | None = "Inside"
    thickness: Annotated[Real, Field(ge=0)] = 0.0
    as_parts: bool = True


@dataclass(frozen=True, eq=False)
class _Broken:
    """What breaking gives: the pieces, the largest first, and what there is to say."""

    pieces: tuple[Piece, ...]
    notes: tuple[Note, ...]


def apply(mesh: Mesh, params: ShardsParams) -> Result:
    """The volumes of closed pieces add up to that of the part. Raises StepError where there would
    be too many pieces."""
    broken = _broken(mesh, params)
    if len(broken.pieces) < 2:
        words = "The part stays in one piece: nothing goes right through it."
        return Result(mesh, Origin.same(mesh), notes=(Note("nothing-to-break", words),))
    if not params.as_parts:
        return _side_by_side(broken)
    first, *others = broken.pieces
    new = np.flatnonzero(first.origin.face < 0)
    return Result(
        first.mesh,
        first.origin,
        Picked(faces=new),
        broken.notes,
        apart=tuple(piece.mesh for piece in others),
    )


def _side_by_side(broken: _Broken) -> Result:
    """All pieces as one part."""
    pieces = broken.pieces
    faces = np.cumsum([0, *(piece.mesh.face_count for piece in pieces)])
    kept = np.full(len(pieces[0].origin.kept), -1, dtype=np.int64)
    for piece, first in zip(pieces, faces.tolist(), strict=False):
        there = piece.origin.kept >= 0
        kept[there] = piece.origin.kept[there] + first
    origin = Origin(
        np.concatenate([piece.origin.face for piece in pieces]),
        np.concatenate([piece.origin.vertex for piece in pieces]),
        kept,
    )
    picked = Picked(faces=np.flatnonzero(origin.face < 0))
    return Result(together([piece.mesh for piece in pieces]), origin, picked, broken.notes)


def _broken(mesh: Mesh, params: ShardsParams) -> _Broken:
    """The pieces of a part; once for plan and making."""
    question = params.model_copy(update={"as_parts": True})
    return last_answer(mesh, "_shards", question, lambda: _break(mesh, params))


def _break(mesh: Mesh, params: ShardsParams) -> _Broken:
    start = Piece(mesh, Origin.same(mesh))
    if not mesh.used.all():
        start = Piece(*without_vertices(mesh, np.flatnonzero(~mesh.used)))
    if params.thickness > 0 and start.mesh.edges.border.any():
        thick = thickened(start.mesh, -params.thickness)
        start = Piece(thick.mesh, then(start.origin, thick.origin))
    halving = Halving(params.cap, weld_of(mesh))
    if isinstance(params.by, ByCells):
        grown = _in_cells(start, cells_of(start.mesh, params.by), halving)
    else:
        grown = _along(start, planes_of(start.mesh, params.by), halving)
    pieces = [body for piece in grown for body in _bodies(piece)]
    if len(pieces) > MOST_SHARDS:
        raise StepError(
            f"the part would break into {len(pieces)} pieces: {MOST_SHARDS} at most are possible",
            where="by",
        )
    if params.inside is not None:
        pieces = [_with_inside(piece, params.inside) for piece in pieces]
    # Of pieces of one size the one that was made first comes first.
    size = [-abs(volume_of(piece.mesh)) for piece in pieces]
    order = np.argsort(np.round(size, 9 - _digits(mesh)), kind="stable")
    # Every piece has a mesh of its own: the part may not be held by what it holds.
    return _Broken(
        tuple(pieces[k] for k in order.tolist()) if len(pieces) > 1 else (),
        _notes(mesh, params, pieces),
    )


def _digits(mesh: Mesh) -> int:
    """How many digits the part's volume may have before the point."""
    return round(3 * float(np.log10(mesh.diagonal))) if mesh.diagonal > 0 else 0


def _along(start: Piece, planes: list[Plane], halving: Halving) -> list[Piece]:
    """The pieces that planes leave, each going through all there is."""
    mesh = start.mesh
    crossed = np.zeros(mesh.face_count, dtype=bool)
    for plane in planes:
        height = plane.heights(mesh.points)[mesh.corners]
        low, high = (f.reduceat(height, mesh.starts[:-1]) for f in (np.minimum, np.maximum))
        crossed |= (low < 0) & (high > 0)
    _refuse_very_many(mesh, planes)
    pieces = [flat_where_cut(start, crossed)]
    for k, plane in enumerate(planes):
        come_to(f"plane {k + 1} of {len(planes)}", k / len(planes))
        pieces = [half for piece in pieces for half in halving.both(piece, plane)]
        if len(pieces) > MOST_SHARDS:
            raise StepError(f"{MOST_SHARDS} pieces at most are possible", where="by")
    return pieces


def _refuse_very_many(mesh: Mesh, planes: list[Plane]) -> None:
    """Raise StepError at once where planes surely leave too many pieces: no two of some places in
    the part that any of them parts lie in one piece."""
    if len(planes) < LEAST_MANY:
        return
    try:
        places = places_in(mesh, STREWN, np.random.default_rng(0))
    except StepError:
        # Nothing can be said before: too thin, or without area.
        return
    sides = np.array([plane.heights(places) > 0 for plane in planes]).T
    if len(np.unique(np.packbits(sides, axis=1), axis=0)) > MOST_SHARDS:
        raise StepError(f"{MOST_SHARDS} pieces at most are possible", where="by")


def _in_cells(start: Piece, places: Floats, halving: Halving) -> list[Piece]:
    """Of each place the piece that lies nearest to it (Voronoi's cells): the part below the planes
    half way to the others."""
    # A face whose corners all lie in one cell lies in it whole.
    mesh = start.mesh
    nearest = cKDTree(places).query(mesh.points)[1][mesh.corners]
    low, high = (f.reduceat(nearest, mesh.starts[:-1]) for f in (np.minimum, np.maximum))
    start = flat_where_cut(start, low < high)
    found = []
    for k in range(len(places)):
        come_to(f"cell {k + 1} of {len(places)}", k / len(places))
        piece = _below_all(start, _half_way(places, k), halving)
        if piece is not None:
            found.append(piece)
    return found


def _half_way(places: Floats, k: int) -> list[Plane]:
    """The planes half way from a place to each of the others, their normals towards these."""
    planes = []
    for other in range(len(places)):
        # From the lower to the higher number, so that both neighbours have the same bits.
        low, high = sorted((k, other))
        away = places[high] - places[low]
        size = float(np.linalg.norm(away))
        if size > 0:
            normal = away / size
            planes.append(
                Plane(0.5 * (places[low] + places[high]), normal if k == low else -normal)
            )
    return planes


def _below_all(piece: Piece | None, planes: list[Plane], halving: Halving) -> Piece | None:
    """What of a piece lies below some planes. Whichever takes the most away goes first: the work is
    in what is left."""
    while piece is not None and planes:
        points = piece.mesh.points
        normals = np.array([plane.normal for plane in planes])
        height = points @ normals.T - [float(plane.point @ plane.normal) for plane in planes]
        above = (height > halving.weld).sum(axis=0)
        first = int(np.argmax(above))
        if above[first] == 0:
            break
        if height[:, first].min() >= -halving.weld:
            return None
        piece = halving.below(piece, planes[first])
        # What no corner lies above now, none of what is left does.
        planes = [plane for j, plane in enumerate(planes) if above[j] > 0 and j != first]
    return piece


def _bodies(piece: Piece) -> list[Piece]:
    """The bodies that a piece is made of, each a piece."""
    body = bodies_of(piece.mesh)
    return [piece.part_of(body == k) for k in range(int(body.max()) + 1)]


def _with_inside(piece: Piece, name: str) -> Piece:
    """The piece with the faces that closed it in a patch and of a material of that name."""
    new = piece.origin.face < 0
    if not new.any():
        return piece
    mesh = piece.mesh
    patches = mesh.patches if name in mesh.patches else (*mesh.patches, name)
    materials = mesh.materials if name in mesh.materials else (*mesh.materials, name)
    made = replace(
        mesh,
        patch=np.where(new, patches.index(name), mesh.patch),
        material=np.where(new, materials.index(name), mesh.material),
        patches=patches,
        materials=materials,
    )
    return replace(piece, mesh=made.with_edges(mesh.edges))


def _notes(mesh: Mesh, params: ShardsParams, pieces: list[Piece]) -> tuple[Note, ...]:
    found = list(dict.fromkeys(note for piece in pieces for note in piece.notes))
    if not params.cap or not pieces:
        return tuple(found)
    open_ones = sum(not is_closed(piece.mesh) for piece in pieces)
    if open_ones and (is_closed(mesh) or params.thickness > 0):
        words = f"{count_of(open_ones, 'piece')} could not be closed."
        found.append(Note("shards-open", words))
    return tuple(found)


class ShardsExtra(Extra):
    """How many pieces there are, how many of them are closed, the smallest and the largest volume
    of these and what all of them add up to, and the new edges."""

    of: Literal["shards"] = "shards"
    count: int
    closed: int
    smallest: float | None
    largest: float | None
    volume: float | None
    edges: list[tuple[Place, Place]]


def extra_of(mesh: Mesh, params: ShardsParams, drawn: Drawn) -> ShardsExtra | None:
    """What the plan of shards shows; nothing of one that can't be made."""
    try:
        pieces = _broken(mesh, params).pieces
    except StepError:
        return None
    volumes = [volume_of(piece.mesh) for piece in pieces if is_closed(piece.mesh)]
    rims = [_new_edges(piece) for piece in pieces]
    places = np.concatenate([np.zeros((0, 2, 3)), *rims])
    shown = places[:: 1 + len(places) // MOST_SHOWN]
    return ShardsExtra(
        count=max(len(pieces), 1),
        closed=len(volumes),
        smallest=min(volumes, default=None),
        largest=max(volumes, default=None),
        volume=sum(volumes) if volumes else None,
        edges=[(place_of(a), place_of(b)) for a, b in shown],
    )


def _new_edges(piece: Piece) -> Floats:
    """The ends (n, 2, 3) of a piece's edges between two new vertices."""
    ends = piece.mesh.edges.ends
    return piece.mesh.points[ends[(piece.origin.vertex[ends] < 0).all(axis=1)]]


def _title(params: ShardsParams) -> str:
    by = params.by
    if isinstance(by, ByCells):
        return f"Broken into {by.count} cells"
    if isinstance(by, ByCounts):
        return f"Broken into {by.x} by {by.y} by {by.z}"
    if isinstance(by, ByLines):
        return f"Broken along {count_of(len(by.lines), 'line')}"
    many = by.count if isinstance(by, ByRandomPlanes) else len(by.planes)
    return f"Broken along {count_of(many, 'plane')}"


TOOL = Reshape(
    params=ShardsParams,
    title=_title,
    examples=(
        Example("cube", {"by": {"way": "cells", "count": 5, "seed": 3}, "as_parts": False}),
        Example("cube", {"by": {"way": "random planes", "count": 2}, "inside": None}),
        Example("drum", {"by": {"way": "counts", "x": 2, "y": 1, "z": 3}, "cap": False}),
        Example("plate", {"by": {"way": "cells", "count": 4}, "thickness": 0.2}),
        Example(
            "cube",
            {
                "by": {
                    "way": "planes",
                    "planes": [{"point": [0, -0.3, 0], "normal": [0.1, 1, 0]}],
                    "repeat": {"count": 2, "spacing": 0.5},
                }
            },
        ),
        Example(
            "cube",
            {
                "by": {
                    "way": "lines",
                    "lines": [{"from": [0, 300], "to": [800, 310]}],
                    "view": FROM_A_CORNER,
                },
                "as_parts": False,
            },
        ),
    ),
    extra=extra_of,
    piece="shard",
    apply=apply,
)
