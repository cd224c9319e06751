"""What a tool or a reshape says about itself: everything that is not its own geometry is told by
one object, `TOOL`.

The steps file, replay, plans, the list of steps, warm-up, tests and measurements read from these,
and from nowhere else."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Generic, Literal, Protocol, TypeVar, get_args

from pydantic import BaseModel, Field

from cutcore.geometry.arrays import Ints
from cutcore.imprint import Subdivision, imprinted
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note
from cutcore.params import Index, Params, Real
from cutcore.progress import come_to
from cutcore.quads.finish import finished
from cutcore.queries.bends import hardened
from cutcore.queries.limits import limit_mask
from cutcore.shapes.small import SmallMesh
from cutcore.trace.mirror import Mirror
from cutcore.trace.trace import Trace
from cutcore.weave.weave import Woven, woven


class Finished(Params):
    """Any step whose faces may end in quads."""

    finish: Literal["as cut", "quads"] = Field(
        default="as cut", description="with `quads` the faces a cut touches end in quads"
    )


class Cutting(Params):
    """Any step that draws lines on the part.

    With `finish` woven the lines become edges of the grid, which bends to them, with a row of quads
    on either side, as `woven` says."""

    finish: Literal["as cut", "quads", "woven"] = Field(
        default="as cut",
        description="with `quads` the faces a cut touches end in quads; with `woven` the grid bends "
        "to the line",
    )
    woven: Woven | None = None
    limit: tuple[Index, ...] | None = None
    # Whether its lines go through points that a person placed.
    placed: ClassVar[bool] = False
    hard_above: Annotated[Real, Field(ge=0, le=180)] | None = Field(
        default=None, description="degrees: new edges at which the surface bends by more are hard"
    )
    mirror: Mirror | None = None


class Following(Cutting):
    """A cut whose new vertices on edges may `follow` the curve of the row that each crossed edge is
    in: 0 leaves them on the surface, 1 sets them onto the curve."""

    follow: Annotated[Real, Field(ge=0, le=1)] = 0.0


class Reshaping(Params):
    """Any step that removes or moves."""


class Breaking(Reshaping):
    """Any step that may break the surface: fold faces over, or make more than two meet at an edge.
    It is refused then, unless it is wanted `anyway`."""

    anyway: bool = False


def one_kind(what: str, *kinds: object) -> None:
    """Raise ValueError unless just one kind of elements is given for what is done."""
    if sum(kind is not None for kind in kinds) != 1:
        raise ValueError(what)


@dataclass(frozen=True)
class Example:
    """Parameters as a steps file has them, without the tool's name, that do something on a small
    mesh."""

    on: SmallMesh
    params: dict[str, Any]


Place = tuple[float, float, float]


def place_of(values: Any) -> Place:
    """A place as a plan tells it."""
    return float(values[0]), float(values[1]), float(values[2])


class Extra(BaseModel):
    """What the plan of one tool shows beyond the common part; each kind has a field `of` that tells
    it from the others."""


@dataclass(frozen=True, eq=False)
class Drawn:
    """A plan as far as it could be worked out: what it draws, what there is to say, what it makes
    of the faces."""

    trace: Trace | None
    notes: tuple[Note, ...]
    cut: Subdivision | None = None


def ends_in_quads(params: Params) -> bool:
    """Whether the faces that a step touches are to end in quads, the surface where it was."""
    return isinstance(params, Finished | Cutting) and params.finish == "quads"


def ends_as_cut(params: Params) -> bool:
    """Whether nothing is done to the faces that a step leaves."""
    return not isinstance(params, Finished | Cutting) or params.finish == "as cut"


def finishes_of(params: Params) -> tuple[str, ...]:
    """The ways in which the faces that a step touches may end."""
    field = type(params).model_fields.get("finish")
    return () if field is None else get_args(field.annotation)


def is_woven(params: Params) -> bool:
    """Whether the grid bends to the lines of a step."""
    return isinstance(params, Cutting) and params.finish == "woven"


def laid(mesh: Mesh, trace: Trace, params: Params) -> Result:
    """The mesh with a trace cut into it, or woven in, as the step has it. Raises CutError."""
    weld = weld_of(mesh)
    if is_woven(params):
        assert isinstance(params, Cutting)  # no other is
        settings = Woven() if params.woven is None else params.woven
        limit = limit_mask(mesh, params.limit)
        return woven(mesh, trace, settings, limit, params.mirror, weld=weld, placed=params.placed)
    return imprinted(mesh, trace, weld=weld)


P = TypeVar("P", bound=Params)
P_in = TypeVar("P_in", bound=Params, contravariant=True)


class Traces(Protocol[P_in]):
    def __call__(self, mesh: Mesh, params: P_in) -> Trace: ...


class Applies(Protocol[P_in]):
    def __call__(self, mesh: Mesh, params: P_in) -> Result: ...


def _never(params: Any) -> bool:
    return False


@dataclass(frozen=True, kw_only=True)
class Tool(Generic[P]):
    """What tools and reshapes have in common.

    params    the parameter model; its field `tool` has the name as its default
    title     a step in a few words; lengths are said by `words.with_unit`
    examples  at least one, and one for every way the tool works
    moves     the edges (n,) to draw in a plan where vertices move, if they do
    extra     what its plan shows beyond the common part
    piece     what all parts that it leaves are called, with a number; else those it takes off are
              said to be taken off
    """

    params: type[P]
    title: Callable[[P], str]
    examples: tuple[Example, ...]
    moves: Callable[[Mesh, Result], Ints] | None = None
    extra: Callable[[Mesh, P, Drawn], Extra | None] | None = None
    piece: str | None = None

    @property
    def name(self) -> str:
        return str(self.params.model_fields["tool"].default)


@dataclass(frozen=True, kw_only=True)
class Cut(Tool[P]):
    """A tool that draws lines: `trace` says which, `apply` what comes of them where that is more
    than cutting along them; `done_to_know` which parameters do so much more that their plan is
    known only once it is carried out."""

    trace: Traces[P]
    apply: Applies[P] | None = None
    done_to_know: Callable[[P], bool] = _never

    def made(self, mesh: Mesh, params: P) -> Result:
        """What the tool makes of a mesh. Raises CutError."""
        come_to("finding where it runs")
        apply = self._cut if self.apply is None else self.apply
        result = apply(mesh, params)
        chosen, hard_above = None, None
        if isinstance(params, Cutting):
            chosen, hard_above = params.limit, params.hard_above
        result = hardened(result, hard_above)
        if not ends_in_quads(params) or result.mesh is mesh:
            return result
        limit = limit_mask(mesh, chosen)
        along = self.trace(mesh, params).along_edges(mesh)
        return finished(result, along, limit, weld=weld_of(mesh))

    def _cut(self, mesh: Mesh, params: P) -> Result:
        return laid(mesh, self.trace(mesh, params), params)


@dataclass(frozen=True, kw_only=True)
class Reshape(Tool[P]):
    """An operation that removes or moves; `turns` says whether it may turn faces against their
    neighbours."""

    apply: Callable[[Mesh, P], Result]
    turns: bool = False
