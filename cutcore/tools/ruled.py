"""Ruled lines: evenly divided lines from a base edge over the picked faces."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import cos, radians, sin
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import BaseModel, Field, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, cross
from cutcore.geometry.vectors import PARALLEL, unit
from cutcore.imprint.followed import eased, followed
from cutcore.mesh.last_answer import last_answer
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Element, Note, edge, position
from cutcore.params import Index, Length, Params, Real
from cutcore.queries.edge_runs import straight_run
from cutcore.queries.limits import limit_mask
from cutcore.queries.section import section
from cutcore.tool import Cut, Drawn, Example, Extra, Following, Place, place_of
from cutcore.trace.bent_faces import through_bent_faces
from cutcore.trace.merged import merged_on_edges
from cutcore.trace.plane_walk import Straight, Walker, trace_of_straights
from cutcore.trace.section_trace import trace_of_section
from cutcore.trace.spread import Spread
from cutcore.trace.surface_points import SurfacePoint, surface_point_on_edge
from cutcore.trace.symmetry import with_mirror
from cutcore.trace.trace import Trace, TraceBuilder
from cutcore.words import count_of, share_words

# More lines than this from one base are a slip of the hand.
MOST_LINES = 1000

# A chain of edges is one side if it bends nowhere by more than this, in degrees.
STRAIGHT_WITHIN = 1.0


class Base(Params):
    """What lines leave from: an edge, or a chain of edges that runs straight; shares run from the
    first vertex named. `lines` are those wanted of its places, by number; null for all."""

    edges: Annotated[tuple[tuple[Index, Index], ...], Field(min_length=1, max_length=10_000)]
    lines: tuple[Index, ...] | None = None


class RuledParams(Following):
    """Lines from the places of one or more bases: at shares or distances typed (`at`), `spread`
    over the base, or one `every` so far.

    With `side: whole` a base is carried on at both ends as far as edges run on straight beside faces
    that may be cut.

    A line leaves its base at an angle in degrees, from the direction the base runs in, turned
    towards the face beside it that may be cut: the one on its left, if both may. Or it leaves
    `along` another edge. It runs over the faces of the limit to the `ends`: the border of what may
    be cut, or the first edge it meets; or right round the whole part. Where the faces on both sides
    of a base may be cut it runs to both. `leaning` both ways sets a second set beside it that leans
    the other way, from the places mirrored about the base's half."""

    tool: Literal["ruled"] = "ruled"
    bases: Annotated[tuple[Base, ...], Field(min_length=1, max_length=1000)]
    side: Literal["edge", "whole"] = "edge"
    at: (
        Annotated[
            tuple[Annotated[Real, Field(ge=0)], ...], Field(min_length=1, max_length=MOST_LINES)
        ]
        | None
    ) = None
    measure: Literal["share", "distance"] = "share"
    spread: Spread | None = None
    every: Length | None = None
    degrees: Annotated[Real, Field(gt=0, lt=180)] = 90.0
    along: tuple[Index, Index] | None = None
    ends: Literal["border", "first edge", "whole part"] = "border"
    leaning: Literal["one way", "both ways"] = "one way"

    @model_validator(mode="after")
    def _has_places(self) -> Self:
        if sum(given is not None for given in (self.at, self.spread, self.every)) != 1:
            raise ValueError("ruled lines need one of places (at), a spread, or a spacing (every)")
        if self.measure == "distance" and self.at is None:
            raise ValueError("only typed places are measured by distance")
        return self


@dataclass(frozen=True, eq=False)
class _Line:
    """A line that could be drawn: of which base, its number there, where it leaves from, and the
    ways it takes on the sides of the base, each with the face it begins in and its direction."""

    base: int
    number: int
    share: float
    start: SurfacePoint
    ways: tuple[tuple[int, Floats], ...]
    wanted: bool


def trace(mesh: Mesh, params: RuledParams) -> Trace:
    """The spans of all wanted lines. Raises StepError, naming the value, for a base that is not
    there, bends, or has no face beside it that may be cut."""
    tolerance = weld_of(mesh)
    limit = limit_mask(mesh, params.limit)
    walker = Walker(mesh, limit, tolerance)
    wanted = [(n, line) for n, line in enumerate(_lines(mesh, params, tolerance)) if line.wanted]
    nowhere: list[Element] = []
    ways: list[Straight] = []
    numbers: list[int] = []
    for number, line in wanted:
        found = [walker.straight(line.start, face, along) for face, along in line.ways]
        if all(len(way.faces) == 0 for way in found):
            nowhere.append(position(line.start.place))
        ways += found
        numbers += [number] * len(found)
    notes = _nowhere(nowhere)
    if not ways:
        return replace(TraceBuilder(mesh, tolerance).build(), notes=notes)
    if params.ends != "border":
        most = 1 if params.ends == "first edge" else 0
        together = trace_of_straights(mesh, [way.shortened(most) for way in ways], numbers)
    else:
        together = trace_of_straights(mesh, ways, numbers)
    if params.ends == "whole part":
        sections = [section(mesh, way.plane, weld=tolerance) for way in ways]
        runs = [
            through_bent_faces(mesh, trace_of_section(mesh, one, None), [way.plane], tolerance)
            for way, one in zip(ways, sections, strict=True)
        ]
        numbered = [
            replace(run, line=np.full_like(run.line, number))
            for run, number in zip(runs, numbers, strict=True)
        ]
        together = Trace.together([together, *numbered], numbered=True)
    made = replace(merged_on_edges(mesh, together, tolerance), notes=notes)
    made = followed(mesh, made, params.follow)
    if params.mirror is not None:
        made = with_mirror(mesh, made, params.mirror, limit=limit, weld=tolerance)
    return eased(mesh, made, tolerance)


def _nowhere(places: list[Element]) -> tuple[Note, ...]:
    """A note of the lines that find no way, by where they begin."""
    if not places:
        return ()
    lines = count_of(len(places), "line has", "lines have")
    words = f"{lines} nowhere to run: no face lies ahead that may be cut."
    return (Note("ruled-no-way", words, tuple(places[:50])),)


def _lines(mesh: Mesh, params: RuledParams, weld: float) -> list[_Line]:
    """All lines that could be drawn, base by base, once for trace and plan."""
    return last_answer(mesh, "_ruled", (params, weld), lambda: _found(mesh, params, weld))


def _found(mesh: Mesh, params: RuledParams, weld: float) -> list[_Line]:
    limit = limit_mask(mesh, params.limit)
    allowed = np.ones(mesh.face_count, dtype=bool) if limit is None else limit
    along = None if params.along is None else _direction_of(mesh, params.along)
    found: list[_Line] = []
    for k, base in enumerate(params.bases):
        side = _Side.of(mesh, base.edges, where=f"bases[{k}]")
        if params.side == "whole":
            pairs = mesh.edges.faces
            among = np.logical_or.reduce((pairs >= 0) & allowed[np.maximum(pairs, 0)], axis=1)
            run = straight_run(mesh, base.edges, cos(radians(STRAIGHT_WITHIN)), among)
            side = _Side.of(mesh, run, where=f"bases[{k}]")
        places = side.places(params, where=f"bases[{k}]")
        sets = [(places, params.degrees)]
        if params.leaning == "both ways":
            sets.append(([1.0 - share for share in places], 180.0 - params.degrees))
        beginnings = [(share, degrees) for shares, degrees in sets for share in shares]
        if base.lines is not None and max(base.lines, default=-1) >= len(beginnings):
            words = f"there are {len(beginnings)} places, got line {max(base.lines)}"
            raise StepError(words, where=f"bases[{k}].lines")
        for number, (share, degrees) in enumerate(beginnings):
            at, start = side.at(mesh, share, weld)
            ways = _ways(mesh, at, allowed, degrees, along)
            if not ways:
                raise StepError(
                    "no face beside the base may be cut",
                    where=f"bases[{k}].edges",
                    elements=(edge(mesh.edges.ends[at.edge]),),
                )
            wanted = base.lines is None or number in base.lines
            found.append(_Line(k, number, share, start, ways, wanted))
    return found


def _direction_of(mesh: Mesh, named: tuple[int, int]) -> Floats:
    if mesh.edges.between(*named) < 0:
        words = f"there is no edge between the vertices {named[0]} and {named[1]}"
        raise StepError(words, where="along")
    return unit(mesh.points[named[1]] - mesh.points[named[0]])


def _ways(
    mesh: Mesh, at: _OnSide, allowed: np.ndarray, degrees: float, along: Floats | None
) -> tuple[tuple[int, Floats], ...]:
    """The faces beside an edge of a base that may be cut, each with the direction of the line in
    it."""
    found = []
    base = unit(mesh.points[at.second] - mesh.points[at.first])
    beside = []
    for face in mesh.edges.faces_at(at.edge):
        loop = mesh.face(face).tolist()
        leftward = loop[(loop.index(at.first) + 1) % len(loop)] == at.second
        if allowed[face]:
            beside.append((face, leftward))
    leading = any(leftward for _, leftward in beside)
    for face, leftward in beside:
        normal = unit(mesh.face_normals(np.array([face]))[0])
        inward = cross(normal, base if leftward else -base)
        if along is not None:
            flat = unit(along - (along @ normal) * normal)
            into = float(flat @ inward)
            if abs(into) <= PARALLEL:
                raise StepError("the lines would run along their base", where="along")
            found.append((face, flat if into > 0 else -flat))
        elif degrees == 90.0:
            found.append((face, inward))
        else:
            turn = radians(degrees)
            # What runs to the other side, too, runs straight on there.
            ahead = cos(turn) * (base if leftward or not leading else -base)
            found.append((face, ahead + sin(turn) * inward))
    return tuple(found)


@dataclass(frozen=True)
class _OnSide:
    """An edge of a base, as it is run along."""

    edge: int
    first: int
    second: int


@dataclass(frozen=True, eq=False)
class _Side:
    """A base as one straight side: its edges in order, and how far along it each begins; the last
    number is its length."""

    edges: list[_OnSide]
    begins: Floats

    @staticmethod
    def of(mesh: Mesh, named: tuple[tuple[int, int], ...], *, where: str) -> _Side:
        edges = []
        for k, (a, b) in enumerate(named):
            found = mesh.edges.between(a, b)
            if found < 0:
                words = f"there is no edge between the vertices {a} and {b}"
                raise StepError(words, where=f"{where}.edges[{k}]")
            if k and a != named[k - 1][1]:
                words = "the edges of a base run on from each other: each begins where the one before ends"
                raise StepError(words, where=f"{where}.edges[{k}]")
            edges.append(_OnSide(found, a, b))
        ways = np.array([mesh.points[e.second] - mesh.points[e.first] for e in edges])
        lengths = np.linalg.norm(ways, axis=1)
        if (lengths == 0).any():
            raise StepError("an edge of the base has no length", where=f"{where}.edges")
        straight = ways / lengths[:, None]
        bends = np.flatnonzero(
            np.einsum("ij,ij->i", straight[1:], straight[:-1]) < cos(radians(STRAIGHT_WITHIN))
        )
        if len(bends):
            raise StepError(
                "the base bends there: give its straight sides one by one",
                where=f"{where}.edges[{bends[0] + 1}]",
                elements=(edge(named[bends[0] + 1]),),
            )
        return _Side(edges, np.concatenate([[0.0], np.cumsum(lengths)]))

    def places(self, params: RuledParams, *, where: str) -> list[float]:
        """The shares of the side that lines leave from."""
        length = float(self.begins[-1])
        if params.spread is not None:
            return list(params.spread.shares())
        if params.every is not None:
            count = int(np.ceil(length / params.every)) - 1
            if count > MOST_LINES:
                words = (
                    f"{count} lines would fit: no more than {MOST_LINES} are drawn from one base"
                )
                raise StepError(words, where="every")
            return [k * params.every / length for k in range(1, count + 1)]
        most = 1.0 if params.measure == "share" else length
        given = params.at or ()
        for k, at in enumerate(given):
            if at > most:
                words = (
                    f"a share from 0 to 1, got {at:g}"
                    if params.measure == "share"
                    else f"the base is {length:g} long, got a distance of {at:g}"
                )
                raise StepError(words, where=f"at[{k}]")
        return [at if params.measure == "share" else at / length for at in given]

    def at(self, mesh: Mesh, share: float, weld: float) -> tuple[_OnSide, SurfacePoint]:
        """The edge that a share of the side lies on, and the place; of one edge just at the
        share."""
        if len(self.edges) == 1:
            at, of_edge = self.edges[0], share
        else:
            far = share * float(self.begins[-1])
            k = int(
                np.clip(np.searchsorted(self.begins, far, side="right") - 1, 0, len(self.edges) - 1)
            )
            at = self.edges[k]
            of_edge = float(
                np.clip((far - self.begins[k]) / (self.begins[k + 1] - self.begins[k]), 0.0, 1.0)
            )
        low = at.first == mesh.edges.ends[at.edge, 0]
        return at, surface_point_on_edge(
            mesh, at.edge, of_edge if low else 1.0 - of_edge, weld=weld
        )


class RuledStop(BaseModel):
    """A place of a base that a line could leave from, and whether it is wanted."""

    base: int
    number: int
    share: float
    at: Place
    wanted: bool


class RuledExtra(Extra):
    """All places of the bases, and how many lines are drawn."""

    of: Literal["ruled"] = "ruled"
    stops: list[RuledStop]
    drawn: int


def extra_of(mesh: Mesh, params: RuledParams, drawn: Drawn) -> RuledExtra:
    """The places that lines could leave from; of bases that can't be used none."""
    try:
        lines = _lines(mesh, params, weld_of(mesh))
    except StepError:
        lines = []
    return RuledExtra(
        stops=[
            RuledStop(
                base=line.base,
                number=line.number,
                share=line.share,
                at=place_of(line.start.place),
                wanted=line.wanted,
            )
            for line in lines
        ],
        drawn=sum(line.wanted for line in lines),
    )


def _title(params: RuledParams) -> str:
    if params.along is not None:
        how = f"along {params.along[0]}–{params.along[1]}"
    else:
        how = "square" if params.degrees == 90.0 else f"at {params.degrees:g}°"
    if params.spread is not None:
        count = f"{count_of(params.spread.count, 'line')} "
    elif params.at is not None and len(params.at) == 1 and params.measure == "share":
        count = f"at {share_words(params.at[0])} "
    else:
        count = f"{count_of(len(params.at), 'line')} " if params.at is not None else ""
    return f"Ruled lines, {count}{how}"


TOOL = Cut(
    params=RuledParams,
    title=_title,
    examples=(
        Example("plate", {"bases": [{"edges": [[0, 4]]}], "spread": {"count": 3}}),
        Example(
            "plate",
            {
                "bases": [{"edges": [[0, 4], [4, 8], [8, 12]]}],
                "spread": {"count": 4, "ratio": 1.5},
                "degrees": 60,
                "leaning": "both ways",
            },
        ),
        Example("plate", {"bases": [{"edges": [[0, 4]]}], "at": [0], "degrees": 45}),
        Example(
            "plate",
            {"bases": [{"edges": [[4, 8]]}], "side": "whole", "at": [1.5], "measure": "distance"},
        ),
        Example(
            "cube",
            {
                "bases": [{"edges": [[18, 20]], "lines": [0, 2]}],
                "at": [0.2, 0.4, 0.6],
                "degrees": 75,
                "ends": "whole part",
            },
        ),
        Example(
            "plate",
            {
                "bases": [{"edges": [[0, 4]]}],
                "every": 0.3,
                "along": [0, 1],
                "ends": "first edge",
                "mirror": {"axis": "x"},
            },
        ),
    ),
    trace=trace,
    extra=extra_of,
)
