"""Outline: project shapes onto the part, along a direction or a view."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.camera import Camera, Vector, View
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.imprint import imprinted
from cutcore.mesh.last_answer import last_answer
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, position
from cutcore.params import Params, Real
from cutcore.queries.bodies import is_closed, volume_of
from cutcore.queries.limits import limit_mask
from cutcore.queries.named_elements import middle_of
from cutcore.queries.problems import problems
from cutcore.queries.ray_caster import caster_of
from cutcore.queries.visibility import reach_of
from cutcore.shapes.small import FROM_A_CORNER
from cutcore.tool import Cut, Cutting, Drawn, Example, Extra, laid, place_of
from cutcore.tools.outline.forms import collars, with_count
from cutcore.tools.outline.hole import holed
from cutcore.tools.outline.inside import faces_inside
from cutcore.tools.outline.opened import opened
from cutcore.tools.outline.pocket import Floor, pocketed
from cutcore.tools.outline.rims import Loops
from cutcore.tools.outline.weave import Weave, woven
from cutcore.trace.as_seen import Polyline, Seen, lay_as_seen
from cutcore.trace.mirror import Mirror
from cutcore.trace.open_ends import OpenEnds, settle_open_ends
from cutcore.trace.spokes import spokes_of
from cutcore.trace.trace import SpanOf, Trace, TraceBuilder
from cutcore.words import count_of, length_words

# A shape whose projection is thinner than this share of its size is seen edge-on.
EDGE_ON = 1e-6


class Curve(Params):
    """A polyline in space; closed ones return to their first point."""

    points: Annotated[tuple[Vector, ...], Field(min_length=2, max_length=100_000)]
    closed: bool = True
    direction: Vector | None = Field(
        default=None, description="its own way onto the part, in place of the common direction"
    )


class AlongDirection(Params):
    """Every point travels along one direction, from where it lies."""

    direction: Vector


class AlongView(Params):
    """Every point travels along its line of sight."""

    view: View


class Hole(Params):
    """What lies inside is taken off right through, and the rims are joined by walls."""

    what: Literal["hole"] = "hole"


class Pocket(Params):
    """What lies inside is pushed in along the projection: all of it by the `depth`, or to a flat
    floor that deep behind its foremost vertex."""

    what: Literal["pocket"] = "pocket"
    depth: Annotated[Real, Field(gt=0)]
    floor: Floor = "as the surface"


class OutlineParams(Cutting):
    """Shapes projected onto the part; the faces inside closed ones are picked afterwards.

    `settle` is how far a point may go to lie on a vertex or edge of the part; `count` how many
    points each closed curve is to have; `collar` the distance of a loop round each, tied to it
    point by point. A closed curve inside one face is tied to its border by two `links`, or by
    `spokes` from every corner. `patch` names the faces inside. With `weave` the faces a closed
    curve crosses, and those inside, are laid anew in quads."""

    tool: Literal["outline"] = "outline"
    curves: Annotated[tuple[Curve, ...], Field(min_length=1)]
    along: AlongDirection | AlongView
    reach: Literal["near", "through"] = "near"
    open_ends: OpenEnds = "trim"
    settle: Annotated[Real, Field(ge=0)] = 0.0
    count: Annotated[int, Field(ge=3, le=2000)] | None = None
    collar: Annotated[Real, Field(ge=0)] = 0.0
    tie: Literal["links", "spokes"] = "links"
    patch: Annotated[str, Field(max_length=120)] | None = None
    weave: Weave | None = None
    takes: Hole | Pocket | None = Field(default=None, discriminator="what")

    @model_validator(mode="after")
    def _takes_what_it_can(self) -> Self:
        if self.weave is not None and self.finish == "woven":
            raise ValueError("an outline is woven in by `weave` or by `finish`, not by both")
        if self.takes is None:
            return self
        through = self.takes.what == "hole"
        if through != (self.reach == "through"):
            raise ValueError(
                "a hole goes right through" if through else "a pocket is taken out of the near side"
            )
        if self.weave is not None:
            raise ValueError("what is woven in can't be taken out in the same step")
        if through and self.settle > 0:
            raise ValueError("the walls of a hole are straight: its points can't settle")
        return self


@dataclass(frozen=True, eq=False)
class Projection:
    """Curves and the camera they are seen by: `flat` are their points in the camera's pixels,
    `misses` says which of them fall beside the part, wherever along their way. Curves that are only
    `beside` a shape, as its collar, bound nothing."""

    camera: Camera
    curves: list[Floats]
    closed: list[bool]
    beside: list[bool]
    flat: list[Floats]
    misses: list[Bools]

    def closed_loops(self) -> list[Floats]:
        """The pixels of each closed curve that bounds something."""
        every = zip(self.flat, self.closed, self.beside, strict=True)
        return [flat for flat, closed, beside in every if closed and not beside]


def trace(mesh: Mesh, params: OutlineParams) -> Trace:
    """The spans of all curves, with notes where one misses, is cut off, lies behind the part or is
    seen edge-on."""
    tolerance = weld_of(mesh)
    limit = limit_mask(mesh, params.limit)
    builder = TraceBuilder(mesh, tolerance)
    line = 0
    for projection in projected(mesh, params):
        seen = Seen(mesh, projection.camera)
        for k, flat in enumerate(projection.flat):
            if projection.closed[k] and _edge_on(flat, projection.curves[k], projection.camera):
                words = "The outline is seen edge-on: turn it or the view."
                builder.note(Note("outline-edge-on", words, (position(projection.curves[k][0]),)))
            else:
                _lay(builder, projection, k, seen, params, limit, line)
            line += 1
    settle_open_ends(builder, params.open_ends)
    return builder.build()


def apply(mesh: Mesh, params: OutlineParams) -> Result:
    """Cut, or weave in, and pick the faces inside."""
    tolerance = weld_of(mesh)
    if params.weave is not None:
        return _woven(mesh, params, params.weave)
    cut = laid(mesh, trace(mesh, params), params)
    seen = projected(mesh, params)
    through = params.reach == "through"
    inside = [
        faces_inside(mesh, cut, projection.camera, projection.closed_loops(), through=through)
        for projection in seen
    ]
    every = np.any(inside, axis=0)
    if params.takes is not None:
        return _taken_out(mesh, cut, params, inside, tolerance)
    named = (
        cut if params.patch is None or not every.any() else _with_patch(cut, every, params.patch)
    )
    return replace(named, picked=replace(cut.picked, faces=np.flatnonzero(every)))


def _taken_out(
    mesh: Mesh, cut: Result, params: OutlineParams, inside: list[Bools], weld: float
) -> Result:
    """What was cut without what lies inside: right through, or to a depth."""
    seen = projected(mesh, params)
    if isinstance(params.takes, Hole):
        loops = [(p, Loops.of(p.camera, p.closed_loops())) for p in seen if p.closed_loops()]
        result = holed(mesh, cut, inside, [loop for _, loop in loops], weld=weld)
    else:
        assert isinstance(params.takes, Pocket)  # it is one of the two
        result = cut
        first = cut.mesh.face_count
        pushed = _pushed_alike([projection.camera for projection in seen], inside)
        for camera, faces in pushed:
            if faces.any() or len(pushed) == 1:
                # Pushing faces in leaves those there were their numbers.
                more = np.zeros(result.mesh.face_count, dtype=bool)
                more[: len(faces)] = faces
                made = pocketed(result, more, camera, params.takes.depth, params.takes.floor)
                picked = np.union1d(result.picked.faces, made.picked.faces)
                result = replace(made, picked=replace(made.picked, faces=picked))
        walls = np.arange(first, result.mesh.face_count)
        result = opened(result, walls, partial(_cut_into, weld=weld), weld=weld)
    _refuse_unsound(mesh, result.mesh, weld)
    if params.patch is not None:
        chosen = np.zeros(result.mesh.face_count, dtype=bool)
        chosen[result.picked.faces] = True
        result = _with_patch(result, chosen, params.patch)
    if is_closed(mesh) and is_closed(result.mesh):
        taken = volume_of(mesh) - volume_of(result.mesh)
        last_answer(mesh, "_taken", params, lambda: taken)
    return result


def _pushed_alike(cameras: list[Camera], inside: list[Bools]) -> list[tuple[Camera, Bools]]:
    """The faces (F,) inside outlines, those together that go the same way: an outline and its mirror
    image may lie over each other."""
    found: list[tuple[Camera, Bools]] = []
    for camera, faces in zip(cameras, inside, strict=True):
        same = camera.parallel and found and found[-1][0].parallel
        if same and np.allclose(found[-1][0].forward, camera.forward, rtol=0, atol=1e-12):
            found[-1] = (found[-1][0], found[-1][1] | faces)
        else:
            found.append((camera, faces))
    return found


def _cut_into(
    mesh: Mesh, polygon: Floats, direction: Floats, faces: Ints, *, weld: float
) -> tuple[Result, Bools]:
    """A polygon (n, 3) cut into some faces, projected along a direction (3,), and which faces of the
    result lie inside."""
    params = OutlineParams(
        curves=(Curve(points=tuple(map(tuple, polygon.tolist()))),),
        along=AlongDirection(direction=place_of(direction)),
        reach="through",
        limit=tuple(faces.tolist()),
    )
    cut = imprinted(mesh, trace(mesh, params), weld=weld)
    (seen,) = projected(mesh, params)
    return cut, faces_inside(mesh, cut, seen.camera, seen.closed_loops(), through=True)


def _refuse_unsound(before: Mesh, after: Mesh, weld: float) -> None:
    """Raise StepError, with the place, if what was taken out leaves the surface in a state it was
    not in."""
    known = {note.code for note in problems(before, weld=weld)}
    for note in problems(after, weld=weld):
        if note.code not in known:
            words = f"it can't be taken out here: {note.words}"
            at = middle_of(after, note.elements[0])
            raise StepError(words, where="takes", elements=(position(at),))


def _woven(mesh: Mesh, params: OutlineParams, weave: Weave) -> Result:
    """All curves woven in, one after the other."""
    if params.reach == "through" or params.mirror is not None or params.collar > 0:
        raise StepError(
            "an outline is woven in from one side, without mirror or collar", where="weave"
        )
    limit = limit_mask(mesh, params.limit)
    result = Result(mesh, Origin.same(mesh))
    for curve in params.curves:
        one = params.model_copy(
            update={"curves": (curve,), "weave": None, "limit": None, "finish": "as cut"}
        )
        now = result.mesh
        drawn = trace(now, one)
        (projection,) = projected(now, one)
        if not projection.closed[0]:
            raise StepError("only a closed outline can be woven in", where="curves")
        # Of faces that are crossed it does not matter: they are laid anew, too.
        before, loops = Result(now, Origin.same(now)), projection.closed_loops()
        inside = faces_inside(now, before, projection.camera, loops, through=False)
        allowed = None if limit is None else limit[np.maximum(result.origin.face, 0)]
        made = woven(now, drawn, np.flatnonzero(inside), projection.camera, weave, allowed)
        result = _one_after_the_other(result, made)
    if params.patch is None or len(result.picked.faces) == 0:
        return result
    inside = np.zeros(result.mesh.face_count, dtype=bool)
    inside[result.picked.faces] = True
    return _with_patch(result, inside, params.patch)


def _one_after_the_other(first: Result, second: Result) -> Result:
    """Two results in a row as one, with what both picked and added; what lies in both outlines is
    a hole."""
    faces = np.isin(second.origin.face, first.picked.faces)
    faces[second.picked.faces] ^= True
    number = np.full(first.mesh.vertex_count, -1, dtype=np.int64)
    old = second.origin.vertex >= 0
    number[second.origin.vertex[old]] = np.flatnonzero(old)

    def both(one: Ints, other: Ints) -> Ints:
        renamed = np.sort(number[one.reshape(-1, 2)], axis=1)
        return np.concatenate([renamed[(renamed >= 0).all(axis=1)], other])

    return Result(
        second.mesh,
        then(first.origin, second.origin),
        Picked(np.flatnonzero(faces), both(first.picked.edges, second.picked.edges)),
        (*first.notes, *second.notes),
        mended=both(first.mended, second.mended),
    )


def _with_patch(cut: Result, inside: Bools, name: str) -> Result:
    """The result with its faces inside (F,) made a patch of that name, joined to one that has it
    already."""
    mesh = cut.mesh
    patches = mesh.patches if name in mesh.patches else (*mesh.patches, name)
    patch = np.where(inside, patches.index(name), mesh.patch)
    made = replace(mesh, patch=patch, patches=patches).with_edges(mesh.edges)
    changed = np.flatnonzero(inside & (mesh.patch != patch))
    kept = cut.origin.kept.copy()
    kept[np.isin(kept, changed)] = -1
    return replace(cut, mesh=made, origin=replace(cut.origin, kept=kept))


def landed(mesh: Mesh, params: OutlineParams) -> tuple[int, int]:
    """How many points of the outlines fall on the part, of how many."""
    on = count = 0
    for projection in projected(mesh, params):
        for misses, beside in zip(projection.misses, projection.beside, strict=True):
            if not beside:
                on += int((~misses).sum())
                count += len(misses)
    return on, count


def projected(mesh: Mesh, params: OutlineParams) -> list[Projection]:
    """The curves of an outline as they are seen, once for trace, plan and made cut of the same
    part."""
    return last_answer(mesh, "_outline", params, lambda: _projections(mesh, params))


def _projections(mesh: Mesh, params: OutlineParams) -> list[Projection]:
    """The curves with their collars, one projection for each way they are seen by, mirrored ones
    last."""
    shapes: list[_Shape] = []
    for curve in params.curves:
        closed = curve.closed and len(curve.points) > 2
        places = np.array(curve.points, dtype=np.float64)
        if closed and params.count is not None:
            places = with_count(places, params.count)
        shapes.append(_Shape(places, closed, False, curve.direction))
    if params.collar > 0:
        shapes += _collars(shapes, params.collar)
    if isinstance(params.along, AlongView):
        camera = Camera.of(params.along.view)
        made = [_projection(mesh, camera, shapes)]
        if params.mirror is not None:
            seen = replace(
                camera,
                eye=params.mirror.places(camera.eye),
                right=params.mirror.directions(camera.right),
                up=params.mirror.directions(camera.up),
                forward=params.mirror.directions(camera.forward),
            )
            made.append(
                _projection(mesh, seen, [shape.mirrored(params.mirror) for shape in shapes])
            )
        return made
    by_direction: dict[tuple[float, float, float], list[_Shape]] = {}
    for shape in shapes:
        by_direction.setdefault(
            params.along.direction if shape.direction is None else shape.direction, []
        ).append(shape)
    pairs = []
    for direction, group in by_direction.items():
        size = float(np.linalg.norm(direction))
        if size == 0.0:
            raise StepError("a direction can't be zero", where="along.direction")
        pairs.append((np.array(direction) / size, group))
    if params.mirror is not None:
        pairs += [
            (params.mirror.directions(along), [shape.mirrored(params.mirror) for shape in group])
            for along, group in pairs
        ]
    made = []
    for along, group in pairs:
        # The sheet begins where its rearmost point lies; near side means what is before it.
        points = np.concatenate([shape.places for shape in group])
        eye = points[int(np.argmin(points @ along))]
        made.append(
            _projection(mesh, Camera.along(along, eye, from_eye=params.reach == "near"), group)
        )
    return made


@dataclass(frozen=True, eq=False)
class _Shape:
    """A curve on its way to the part."""

    places: Floats
    closed: bool
    beside: bool
    direction: Vector | None

    def mirrored(self, mirror: Mirror) -> _Shape:
        return replace(self, places=mirror.places(self.places))


def _collars(shapes: list[_Shape], distance: float) -> list[_Shape]:
    """A loop at a distance round each closed shape (inside a hole), and a line from each of its
    points to the loop."""
    found = []
    closed = [shape for shape in shapes if shape.closed]
    for shape, loop in zip(
        closed, collars([shape.places for shape in closed], distance), strict=True
    ):
        found.append(_Shape(loop, True, True, shape.direction))
        found += [
            _Shape(np.stack(pair), False, True, shape.direction)
            for pair in zip(shape.places, loop, strict=True)
        ]
    return found


def _projection(mesh: Mesh, camera: Camera, shapes: list[_Shape]) -> Projection:
    curves = [shape.places for shape in shapes]
    flat = [camera.project(curve) for curve in curves]
    if not all(np.isfinite(f).all() for f in flat):
        raise StepError("a point of the outline lies behind the eye", where="curves")
    return Projection(
        camera,
        curves,
        [shape.closed for shape in shapes],
        [shape.beside for shape in shapes],
        flat,
        _misses(mesh, camera, flat),
    )


def _misses(mesh: Mesh, camera: Camera, flat: list[Floats]) -> list[Bools]:
    """Which pixels of each curve (n,) meet no face, found with one cast of rays."""
    wide = replace(camera, from_eye=False)
    hits = caster_of(mesh).first(*wide.rays(np.concatenate(flat), reach=reach_of(mesh, wide)))
    return np.split(hits.face < 0, np.cumsum([len(pixels) for pixels in flat])[:-1])


def _edge_on(flat: Floats, curve: Floats, camera: Camera) -> bool:
    """Whether a closed curve shows no area: its projection is all but a line."""
    spread = flat - flat.mean(axis=0)
    narrow = float(np.linalg.svd(spread, compute_uv=False)[-1])
    size = float(np.linalg.norm(curve - curve.mean(axis=0)))
    scale = (
        camera.scale
        if camera.parallel
        else camera.scale / max(float(camera.depth(curve).mean()), NOT_ZERO)
    )
    return narrow <= EDGE_ON * size * scale


def _lay(
    builder: TraceBuilder,
    projection: Projection,
    k: int,
    seen: Seen,
    params: OutlineParams,
    limit: Bools | None,
    line: int,
) -> None:
    """Lay one curve, and note what became of it."""
    curve = Polyline(projection.curves[k], projection.flat[k], projection.closed[k])
    laid = lay_as_seen(
        builder,
        seen,
        curve,
        number=line,
        through=params.reach == "through",
        limit=limit,
        settle=params.settle,
    )
    if not projection.beside[k]:
        _note(builder, projection, k, int(laid.sum()), len(laid))
        if params.tie == "spokes" and projection.closed[k]:
            for corner, anchor, face in spokes_of(builder, line):
                builder.span(builder.vertex(corner), anchor, face, SpanOf(line))


def _note(builder: TraceBuilder, projection: Projection, k: int, laid: int, count: int) -> None:
    camera, curve = projection.camera, projection.curves[k]
    off = projection.misses[k]
    if laid == 0:
        if not off.all() and camera.from_eye:
            words = "The outline lies behind the part, as it is aimed: move it forward or turn it round."
            builder.note(Note("outline-behind", words, (position(curve[0]),)))
        else:
            builder.note(
                Note("outline-misses", "The outline misses the part.", (position(curve[0]),))
            )
    elif off.any():
        words = f"{int(off.sum())} of {len(curve)} points of the outline lie off the part: it is cut where it falls on it."
        builder.note(
            Note("outline-off-the-part", words, tuple(position(p) for p in curve[off][:20]))
        )
    elif laid < count or _broken(builder, projection, k):
        words = "The outline is cut off where the surface turns away or something lies before it."
        builder.note(Note("outline-cut-off", words, (position(curve[0]),)))


def _broken(builder: TraceBuilder, projection: Projection, k: int) -> bool:
    """Whether the spans of a closed curve fail to make closed lines."""
    if not projection.closed[k]:
        return False
    degree: dict[int, int] = {}
    last = max(of.line for of in builder.spans.values())
    for key, of in builder.spans.items():
        if of.line == last:
            for anchor in key[:2]:
                degree[anchor] = degree.get(anchor, 0) + 1
    return any(d % 2 for d in degree.values())


class OutlineExtra(Extra):
    """How many points of the outlines fall on the part, and of how many; the shortest new edge and
    the smallest new face; of a closed part the volume that is taken out."""

    of: Literal["outline"] = "outline"
    landed: tuple[int, int] | None
    smallest: tuple[float, float] | None
    taken: float | None = None


def extra_of(mesh: Mesh, params: OutlineParams, drawn: Drawn) -> OutlineExtra:
    """What the plan of an outline shows; of one that can't be cut no numbers."""
    if params.takes is not None:
        taken = last_answer(mesh, "_taken", params, lambda: None)
        return OutlineExtra(landed=landed(mesh, params), smallest=None, taken=taken)
    if drawn.cut is None:
        return OutlineExtra(landed=None, smallest=None)
    return OutlineExtra(
        landed=landed(mesh, params),
        smallest=None if drawn.cut.adds_nothing else drawn.cut.smallest(mesh),
    )


def _title(params: OutlineParams) -> str:
    if isinstance(params.takes, Pocket):
        return f"Pocket {length_words(params.takes.depth)} deep, {count_of(len(params.curves), 'curve')}"
    what = "Outline" if params.takes is None else "Hole"
    woven_in = ", woven in" if params.weave is not None else ""
    return f"{what}, {count_of(len(params.curves), 'curve')}{woven_in}"


# A circle above the middle of a plate.
CIRCLE = [
    [round(float(np.cos(t)), 9), 2.0, round(float(-0.8 * np.sin(t)), 9)]
    for t in 2 * np.pi * np.arange(12) / 12
]

TOOL = Cut(
    params=OutlineParams,
    title=_title,
    examples=(
        Example(
            "plate",
            {
                "curves": [
                    {"points": [[-1.2, 2, -0.9], [1.1, 2, -0.7], [0.9, 2, 0.8], [-0.8, 2, 1.0]]}
                ],
                "along": {"direction": [0, -1, 0]},
            },
        ),
        Example(
            "cube",
            {
                "curves": [{"points": [[-0.5, 3, -0.5], [0.5, 3, -0.5], [0, 3, 0.5]]}],
                "along": {"direction": [0, -1, 0]},
                "reach": "through",
            },
        ),
        Example(
            "cube",
            {
                "curves": [{"points": [[0.1, 0.2, 1.5], [0.4, 0.2, 1.5], [0.2, 0.5, 1.5]]}],
                "along": {"view": FROM_A_CORNER},
            },
        ),
        Example(
            "plate",
            {
                "curves": [
                    {
                        "points": [[0.1, 3, 0.1], [0.4, 3, 0.1], [0.2, 3, 0.4]],
                        "direction": [0, -1, 0.1],
                    }
                ],
                "along": {"direction": [0, -1, 0]},
                "collar": 0.05,
                "count": 5,
                "tie": "spokes",
                "settle": 0.01,
                "patch": "Mark",
            },
        ),
        Example(
            "cube",
            {
                "curves": [
                    {"points": [[-0.8, 3, -0.7], [0.7, 3, -0.5], [0.1, 3, 0.8]]},
                    {"points": [[-0.2, 3, -0.3], [0.2, 3, -0.3], [0.1, 3, 0.1]]},
                ],
                "along": {"direction": [0.1, -1, 0]},
                "reach": "through",
                "takes": {"what": "hole"},
            },
        ),
        Example(
            "cube",
            {
                "curves": [{"points": [[0.1, 0.2, 1.5], [0.4, 0.2, 1.5], [0.2, 0.5, 1.5]]}],
                "along": {"view": FROM_A_CORNER},
                "takes": {"what": "pocket", "depth": 0.1},
            },
        ),
        *(
            Example(
                "plate",
                {
                    "curves": [{"points": CIRCLE}],
                    "along": {"direction": [0, -1, 0]},
                    "weave": {"inside": inside},
                },
            )
            for inside in ("grid", "rings", "one face")
        ),
    ),
    done_to_know=lambda params: params.weave is not None or params.takes is not None,
    trace=trace,
    apply=apply,
    extra=extra_of,
)
